"""Braking by the motor: force over road speed, and which limit holds it."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ninebolt.core.battery.ocv import interpolator
from ninebolt.core.copper import copper_factor
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.vehicle.road import road_load
from ninebolt.units import GRAVITY_M_S2


@dataclass(frozen=True, slots=True)
class ChargeLimit:
    """What may flow back: amps, volts at which it must end, and which link says so."""

    amps: float
    full_v: float
    link: str


@dataclass(frozen=True, slots=True)
class Braking:
    """Columns over road speed: force at the tyre (N), amps into the pack, limit that holds it."""

    speed_m_s: list[float]
    force_n: list[float]
    back_a: list[float]
    held_by: list[str]


def braking(case: RunCase, share: float, limit: ChargeLimit, speeds: Sequence[float]) -> Braking:
    """Most braking with so much of the phase amps (share 0…1).

    Bisected on the torque current: the power that comes back must go into a pack of open-circuit volts E
    behind its resistance without passing amps or full volts; the rear tyre holds what its load lets it.
    """
    out = Braking([], [], [], [])
    e = case.series * interpolator(case.ocv)(case.start_soc)
    ohm = case.pack_ohm + case.slow_ohm
    room = max(0.0, (limit.full_v - e) / ohm) if ohm > 0 else math.inf
    into = min(limit.amps, room)
    by = limit.link if limit.amps <= room else "full pack"
    for v in speeds:
        force, amps, why = _at(case, v, share * case.phase_a, e, ohm, into, by)
        out.speed_m_s.append(v)
        out.force_n.append(force)
        out.back_a.append(amps)
        out.held_by.append(why)
    return out


def asked_n(case: RunCase, share: float, speed_m_s: float) -> float:
    """Braking at the tyre that so much of the phase amps would make, nothing held back (N)."""
    m, gear = case.machine, case.ratio / case.radius_m
    torque = 1.5 * m.pole_pairs * m.flux_vs * share * case.phase_a
    return (torque + case.drag_nm + case.drag_nm_s_rad * speed_m_s * gear) * gear / case.efficiency


def _at(
    case: RunCase, v: float, amps: float, e: float, ohm: float, into: float, by: str
) -> tuple[float, float, str]:
    m, gear = case.machine, case.ratio / case.radius_m
    omega = v * gear
    k = 1.5 * m.pole_pairs * m.flux_vs
    r = m.r_ohm * copper_factor(case.start_temp_c) + m.r_switch_ohm

    def back(iq: float) -> tuple[float, float]:
        """(force at the tyre, amps into the pack)."""
        watts = k * iq * omega - 1.5 * r * iq * iq - m.fixed_w
        volts = 0.5 * (e + math.sqrt(max(0.0, e * e + 4.0 * ohm * watts)))
        return asked_n(case, iq / case.phase_a, v), watts / volts

    held, why = amps, "setting"
    if back(held)[1] > into:
        held, why = _bisect(lambda i: back(i)[1] <= into, held), by
    grip = _grip_n(case, v)
    if back(held)[0] > grip:
        held, why = _bisect(lambda i: back(i)[0] <= grip, held), "rear grip"
    if v <= 0.0 or amps <= 0.0:
        return 0.0, 0.0, "setting"
    force, flows = back(held)
    return force, max(0.0, flows), why


def _bisect(fits: Callable[[float], bool], high: float) -> float:
    """Most current that still fits; the rising side from zero up."""
    low = 0.0
    for _ in range(40):
        mid = 0.5 * (low + high)
        low, high = (mid, high) if fits(mid) else (low, mid)
    return low


def _grip_n(case: RunCase, v: float) -> float:
    """What the rear tyre holds while it alone brakes: μ (static - h/L F), weight going forward."""
    body = case.body
    load = road_load(body, v)
    static = body.mass_kg * GRAVITY_M_S2 * math.cos(body.slope_rad) * (1.0 - body.front_share)
    lever = body.cg_height_m / body.wheelbase_m
    rear = static + lever * load.grade_n
    return max(0.0, body.grip_mu * rear / (1.0 + body.grip_mu * lever))
