"""A pack as a whole: volts, energy, limits, resistance. Plain sums over cells."""

from __future__ import annotations

import math
from collections.abc import Callable
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


# Exponent of Peukert's law (1897) by chemistry, for flooded and gel blocks alike; what is not here gives all it holds
# at any current. Common practice, no source for the number. The label's amp hours are those of PEUKERT_H hours.
PEUKERT = {"lead_acid": 1.2}
PEUKERT_H = 20.0


def given_ah(label_ah: float, amps: float, exponent: float) -> float:
    """Amp hours that a pack gives at a current: C (C / (h I))^(k-1), never more than its label."""
    if exponent == 1.0 or amps * PEUKERT_H <= label_ah:
        return label_ah
    return float(label_ah * (label_ah / (PEUKERT_H * amps)) ** (exponent - 1.0))


def usable_wh(
    curve: Curve,
    series: int,
    pack_ah: float,
    r_ohm: float,
    power_w: float,
    floor_v: float,
    start_soc: float = 1.0,
    peukert: float = 1.0,
) -> float:
    """Energy at the terminals at constant power, from the start charge to the floor or empty (Wh). peukert: the
    exponent by which it gives less at a high current.

    Between two points of the table the open voltage is linear in charge, so the charge at which the
    floor is met is exact, and the terminal voltage is integrated by Gauss and Legendre's rule of
    five points on each stretch.
    """
    volts = interpolator(curve)
    if peukert != 1.0 and power_w > 0.0:
        open_v = series * volts(0.5 * start_soc)
        loaded_v = max(open_v - r_ohm * power_w / open_v, 0.5 * open_v)
        pack_ah = given_ah(pack_ah, power_w / loaded_v, peukert)
    # Least open voltage: V² - E V + R P = 0 at V = floor, and no real root below 2 sqrt(R P).
    least = 2.0 * math.sqrt(max(r_ohm * power_w, 0.0))
    if floor_v > 0.5 * least:
        least = floor_v + r_ohm * power_w / floor_v
    marks = sorted({0.0, start_soc, *(x for x, _ in curve if 0.0 < x < start_soc)}, reverse=True)
    total = 0.0
    for high, low in zip(marks, marks[1:], strict=False):
        e1, e0 = series * volts(high), series * volts(low)
        if e1 < least:
            break
        end = low if e0 >= least else high - (high - low) * (e1 - least) / (e1 - e0)
        total += pack_ah * _mean_v(series, volts, end, high, r_ohm, power_w) * (high - end)
        if e0 < least:
            break
    return total


_GAUSS = (
    (0.0, 128 / 225),
    (math.sqrt(5 - 2 * math.sqrt(10 / 7)) / 3, (322 + 13 * math.sqrt(70)) / 900),
    (math.sqrt(5 + 2 * math.sqrt(10 / 7)) / 3, (322 - 13 * math.sqrt(70)) / 900),
)


def _mean_v(
    series: int,
    volts: Callable[[float], float],
    low: float,
    high: float,
    r_ohm: float,
    power_w: float,
) -> float:
    """Mean terminal voltage over a stretch of charge at constant power."""
    middle, half = 0.5 * (low + high), 0.5 * (high - low)
    total = 0.0
    for x, weight in _GAUSS:
        for at in {middle - half * x, middle + half * x}:
            e = series * volts(at)
            total += weight * (volts_at_power(e, r_ohm, power_w) or 0.5 * e)
    return 0.5 * total
