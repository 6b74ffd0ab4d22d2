"""Braking by the motor: force over road speed, and which limit holds it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

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
    e = case.rests_v
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
    if v <= 0.0 or amps <= 0.0:
        return 0.0, 0.0, "setting"
    held, why = amps, "setting"
    if back_a(case, v, held, e, ohm) > into:
        held, why = min(held, iq_for(case, v, into, e, ohm)), by
    grip = iq_at_grip(case, v)
    if held > grip:
        held, why = grip, "rear grip"
    return asked_n(case, held / case.phase_a, v), max(0.0, back_a(case, v, held, e, ohm)), why


def _ohms(case: RunCase) -> float:
    """Of a phase while it is warm, its switch included."""
    m = case.machine
    return m.r_ohm * copper_factor(case.start_temp_c) + m.r_switch_ohm


def back_a(case: RunCase, v: float, iq: float, e: float, ohm: float) -> float:
    """Amps into a pack of e volts behind its resistance at a braking torque current."""
    m, omega = case.machine, v * case.ratio / case.radius_m
    watts = 1.5 * m.pole_pairs * m.flux_vs * iq * omega - 1.5 * _ohms(case) * iq * iq - m.fixed_w
    return watts / (0.5 * (e + math.sqrt(max(0.0, e * e + 4.0 * ohm * watts))))


def iq_for(case: RunCase, v: float, amps: float, e: float, ohm: float) -> float:
    """The smaller torque current that sends so many amps back: 1.5 r iq² - k ω iq + P = 0; inf where none
    sends as many."""
    m, omega = case.machine, v * case.ratio / case.radius_m
    k, r = 1.5 * m.pole_pairs * m.flux_vs * omega, 1.5 * _ohms(case)
    watts = amps * (e + amps * ohm) + m.fixed_w
    inside = k * k - 4.0 * r * watts
    return (k - math.sqrt(inside)) / (2.0 * r) if inside >= 0.0 else math.inf


def iq_at_grip(case: RunCase, v: float) -> float:
    """Torque current at which the rear tyre slides; 0 where the drag alone does."""
    m, gear = case.machine, case.ratio / case.radius_m
    torque = (
        _grip_n(case, v) * case.efficiency / gear - case.drag_nm - case.drag_nm_s_rad * v * gear
    )
    return max(0.0, torque) / (1.5 * m.pole_pairs * m.flux_vs)


def most_share(
    case: RunCase, limit: ChargeLimit, grip_share: float, most: float, speeds: Sequence[float]
) -> tuple[float, str]:
    """Most of the phase amps that braking may use at any of the speeds, and what ends it."""
    e = case.rests_v
    ohm = case.pack_ohm + case.slow_ohm
    back = min(iq_for(case, v, limit.amps, e, ohm) for v in speeds)
    slides = grip_share * min(iq_at_grip(case, v) for v in speeds)
    rows = [(most, "usual; more is harsh with the throttle shut"), (back / case.phase_a, limit.link),
            (slides / case.phase_a, "the rear tyre's grip")]  # fmt: skip
    return min(rows)


def _grip_n(case: RunCase, v: float) -> float:
    """What the rear tyre holds while it alone brakes: μ (static - h/L F), weight going forward."""
    body = case.body
    load = road_load(body, v)
    static = body.mass_kg * GRAVITY_M_S2 * math.cos(body.slope_rad) * (1.0 - body.front_share)
    lever = body.cg_height_m / body.wheelbase_m
    rear = static + lever * load.grade_n
    return max(0.0, body.grip_mu * rear / (1.0 + body.grip_mu * lever))
