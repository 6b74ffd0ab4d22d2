"""What a source with inner resistance gives: V = E - R I. Scalars in volts, ohms, amps, watts."""

from __future__ import annotations

import math


def volts_at_power(e_v: float, r_ohm: float, power_w: float) -> float | None:
    """Terminal voltage while a constant power is drawn; None where the source cannot give it.

    Larger root of V² - E V + R P = 0. Source: Kirchhoff's voltage law.
    """
    inside = e_v * e_v - 4.0 * r_ohm * power_w
    return None if inside < 0.0 else 0.5 * (e_v + math.sqrt(inside))


def current_limit(e_v: float, r_ohm: float, floor_v: float) -> float:
    """Largest useful current: to the floor, or to maximum power transfer E/2R; inf if R = 0."""
    if e_v <= floor_v:
        return 0.0
    if r_ohm <= 0.0:
        return math.inf
    return (e_v - max(floor_v, 0.5 * e_v)) / r_ohm


def max_power(e_v: float, r_ohm: float, limit_a: float, floor_v: float) -> float:
    """Most power at the terminals under a current limit and a voltage floor."""
    i = min(limit_a, current_limit(e_v, r_ohm, floor_v))
    return (e_v - r_ohm * i) * i
