"""When a current-time limit opens along a run.

Time above the continuous current is counted; at peak_s of it the BMS opens. Time below is counted
back as fast. Over the peak current it opens at once. A simple stated rule; common practice, no
source.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Trip:
    """When, at what speed and at what current it opens."""

    t_s: float
    speed_m_s: float
    line_a: float
    cause: str


def first_trip(
    t_s: Sequence[float],
    line_a: Sequence[float],
    speed_m_s: Sequence[float],
    cont_a: float,
    peak_a: float,
    peak_s: float,
) -> Trip | None:
    """The first time it opens, or None. Columns of equal length."""
    used = 0.0
    for i in range(1, len(t_s)):
        amps = line_a[i]
        if amps > peak_a:
            return Trip(t_s[i], speed_m_s[i], amps, "peak")
        if amps > cont_a:
            used += t_s[i] - t_s[i - 1]
        else:
            used = max(0.0, used - (t_s[i] - t_s[i - 1]))
        if used > peak_s and math.isfinite(cont_a):
            return Trip(t_s[i], speed_m_s[i], amps, "time")
    return None
