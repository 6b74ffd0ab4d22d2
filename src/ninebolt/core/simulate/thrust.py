"""Thrust at the tyre at one instant, and which link of the load path chokes it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from ninebolt.core.kernel import kernel
from ninebolt.core.kernel.point import DERATE_K, ROOT3
from ninebolt.core.simulate.case import CHOKES, RunCase, numbers
from ninebolt.units import RPM_PER_RAD_S


class Instant(NamedTuple):
    """What happens at one state. thrust_n: as held by the rider; free_n: what the drive could push;
    shaft_nm: torque at the motor's shaft, its drag taken off; open_v: of the pack, nothing
    drawn."""

    accel: float
    thrust_n: float
    free_n: float
    choke: str
    iq_a: float
    id_a: float
    bus_v: float
    line_a: float
    torque_nm: float
    copper_w: float
    controller_w: float
    shaft_nm: float
    load_n: float
    aero_n: float
    open_v: float


def instant(case: RunCase, speed_m_s: float, asked_a: float = math.inf) -> Instant:
    """The start charge and temperature at a speed, throttle open for long. asked_a: phase amps that
    the throttle asks, inf for all of them."""
    c, xs, ys = numbers(case)
    now = kernel().instant(
        c,
        xs,
        ys,
        float(speed_m_s),
        float(case.start_soc),
        0.0,
        float(case.start_temp_c),
        math.inf,
        float(asked_a),
    )
    return Instant._make((*now[:3], CHOKES[now[3]], *now[4:]))


def pulls(case: RunCase, speed_m_s: float, asked_a: Sequence[float]) -> list[float]:
    """Thrusts (N) that the drive could push at a speed, as `instant` gives them, for each of the phase amps asked."""
    c, xs, ys = numbers(case)
    soc, temp_c = float(case.start_soc), float(case.start_temp_c)
    out = kernel().pulls(c, xs, ys, soc, temp_c, float(speed_m_s), np.array(asked_a, dtype=float))
    return [float(x) for x in out]


def back_emf_v(case: RunCase, speed_m_s: float) -> float:
    """The motor's own volts at a road speed, line to line, peak (V)."""
    m = case.machine
    return ROOT3 * m.flux_vs * m.pole_pairs * speed_m_s * case.ratio / case.radius_m


def free_emf_v(case: RunCase, bus_v: float, fw_a: float, erpm_max_rpm: float = math.inf) -> float:
    """The most of its own volts that weakening lets an unloaded motor reach, line to line, peak (V): a wheel in the
    air, or a slope that pushes. There the bus can make no more than √3 ω (ψ − Ld id), so √3 ω ψ = m V ψ / (ψ − Ld id);
    drag and copper take a little of it. erpm_max_rpm: where the controller stops it before."""
    m = case.machine
    left = m.flux_vs - m.ld_h * fw_a
    reach = bus_v * m.modulation * m.flux_vs / left if left > 0.0 else math.inf
    return min(reach, ROOT3 * m.flux_vs * erpm_max_rpm / RPM_PER_RAD_S)


def free_rpm(case: RunCase, bus_v: float, fw_a: float, erpm_max_rpm: float = math.inf) -> float:
    """The rpm at which free_emf_v is reached; inf where weakening has no end."""
    m = case.machine
    emf = free_emf_v(case, bus_v, fw_a, erpm_max_rpm)
    return emf / (ROOT3 * m.flux_vs * m.pole_pairs) * RPM_PER_RAD_S


def free_weakening_a(
    case: RunCase, bus_v: float, ceiling_v: float, erpm_max_rpm: float = math.inf
) -> float:
    """Weakening amps at which free_emf_v comes to the ceiling; inf where it never does, 0 where it lies there without
    any."""
    m = case.machine
    if m.ld_h <= 0.0 or free_emf_v(case, bus_v, math.inf, erpm_max_rpm) <= ceiling_v:
        return math.inf
    return max(0.0, m.flux_vs / m.ld_h * (1.0 - bus_v * m.modulation / ceiling_v))


def emf_share(case: RunCase, speed_m_s: float, bus_v: float) -> float:
    """Share of what a bus voltage can make that the motor's own volts take up at a speed; inf without volts."""
    there = bus_v * case.machine.modulation
    return back_emf_v(case, speed_m_s) / there if there > 0.0 else math.inf


def derates_from_c(case: RunCase) -> float:
    """Winding temperature from which on phase amps are taken back; inf where heat is not looked at."""
    return case.thermal.temp_max_c - DERATE_K if case.thermal is not None else math.inf
