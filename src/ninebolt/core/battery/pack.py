"""A pack as a whole: volts, energy, limits, resistance. Plain sums over cells."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.battery.ocv import Curve, interpolator
from ninebolt.core.battery.sag import current_limit, max_power, volts_at_power


@dataclass(frozen=True, slots=True)
class PackFacts:
    """Whole-pack values; resistance is ohmic with interconnects, slow_ohm comes on top in time."""

    full_v: float
    nominal_v: float
    empty_v: float
    capacity_ah: float
    energy_wh: float
    cont_a: float
    peak_a: float
    r_ohm: float
    slow_ohm: float


def energy_between(curve: Curve, capacity_ah: float, low: float = 0.0, high: float = 1.0) -> float:
    """Energy of one cell at vanishing current between two states of charge (Wh)."""
    volts = interpolator(curve)
    marks = sorted({low, high, *(x for x, _ in curve if low < x < high)})
    mean = sum(
        0.5 * (volts(a) + volts(b)) * (b - a) for a, b in zip(marks, marks[1:], strict=False)
    )
    return mean * capacity_ah


def sag_at(facts: PackFacts, ocv_v: float, amps: float, settled: bool = False) -> float:
    """Volts at the pack's terminals under a current."""
    return ocv_v - amps * (facts.r_ohm + (facts.slow_ohm if settled else 0.0))


def power_at(facts: PackFacts, ocv_v: float, floor_v: float) -> float:
    """Most power at the terminals at once: cell peak, floor and maximum power transfer (W)."""
    limit = min(facts.peak_a, current_limit(ocv_v, facts.r_ohm, floor_v))
    return max_power(ocv_v, facts.r_ohm, limit if math.isfinite(limit) else math.inf, floor_v)


def usable_wh(
    curve: Curve,
    series: int,
    pack_ah: float,
    r_ohm: float,
    power_w: float,
    floor_v: float,
    start_soc: float = 1.0,
    rows: int = 100,
) -> float:
    """Energy at the terminals at constant power, from the start charge to the floor or empty."""
    volts = interpolator(curve)
    step = start_soc / rows
    total = 0.0
    for i in range(rows):
        v = volts_at_power(series * volts(start_soc - (i + 0.5) * step), r_ohm, power_w)
        if v is None or v < floor_v:
            break
        total += step * pack_ah * v
    return total
