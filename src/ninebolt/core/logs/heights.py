"""The slope of a run by the log's own heights."""

from __future__ import annotations

import math

import numpy as np

from ninebolt.core.limits import Limit
from ninebolt.core.logs.geodesy import Floats

DRIFT_M = Limit(2.0, "m", "how far a logged height drifts within a run, 95 %")
LEAST_WAY_M = Limit(40.0, "m", "a shorter way gives no slope")
AROUND_S = 1.0


def slope_by_height(
    t: Floats, height: Floats, start_s: float, end_s: float, way_m: float
) -> tuple[float | None, float | None]:
    """(slope in per cent from start to end, its 95 % half-width); None without heights there."""
    if way_m < LEAST_WAY_M:
        return None, None
    ends = []
    for at in (start_s, end_s):
        near = height[(np.abs(t - at) <= AROUND_S) & np.isfinite(height)]
        if not len(near):
            return None, None
        ends.append((float(near.mean()), float(near.std()) / math.sqrt(len(near))))
    (low, u_low), (high, u_high) = ends
    half = math.hypot(DRIFT_M, 2.0 * math.hypot(u_low, u_high))
    return 100.0 * (high - low) / way_m, 100.0 * half / way_m
