"""Coast-downs in a ride: stretches in which the bike slows by itself, throttle shut and brakes off."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ninebolt.core.limits import Limit
from ninebolt.core.logs.clock import usual_step
from ninebolt.core.logs.ride import (
    SMOOTH_S,
    Floats,
    Ride,
    hole_s,
    smooth,
    speed_column,
    speed_noise,
)

Bools = NDArray[np.bool_]
SLOPE_S = (1.5, 6.0)  # over which slowing is looked at: longer where the speed is noisy
SLOPE_SURE_M_S2 = 0.08  # how surely, one standard deviation
LEAST_S = Limit(5.0, "s", "a shorter stretch of slowing says nothing of drag")
LEAST_DROP = Limit(4.0, "m_s", "by how much a stretch slows at least")
LEAST_SPEED = Limit(1.0, "m_s", "slower than this a bike is being stopped, or has stopped")
BRAKED = Limit(1.5, "m_s2", "slowing that neither air nor rolling nor a motor's drag brings about")
SHUT = Limit(0.02, "ratio", "twist under which a throttle is shut")
DRAWN = Limit(3.0, "a", "line current either way over which the motor drives or brakes")
SETTLING_S = 0.5  # after the throttle shut, the controller's ramp runs down


@dataclass(frozen=True, slots=True)
class Coast:
    """Rows first to last (exclusive) of the ride. seen_shut: throttle or line current say so; else only the shape."""

    first: int
    last: int
    from_m_s: float
    to_m_s: float
    seconds: float
    seen_shut: bool


def find_coasts(ride: Ride) -> tuple[Coast, ...]:
    """Each stretch of slowing without brake or drive, longest first. A brake that slows no harder than the air does
    cannot be told from it here: who rode says whether it was one."""
    t, raw = ride.columns["t_s"], speed_column(ride)
    if len(t) < 8:
        return ()
    dt = usual_step(t)
    v = smooth(t, np.nan_to_num(raw), max(SMOOTH_S, 1.0))
    noisy = math.sqrt(2.0) * speed_noise(raw) / SLOPE_SURE_M_S2
    half = max(round(0.5 * min(max(noisy, SLOPE_S[0]), SLOPE_S[1]) / dt), 1)
    slope = _slope(t, v, half)
    free, seen = _shut(ride, len(t))
    gaps = np.diff(t, prepend=t[0]) > hole_s(dt)
    good = (slope < 0.0) & (slope > -BRAKED) & (v > LEAST_SPEED) & np.isfinite(raw) & free & ~gaps
    out = []
    edges = np.flatnonzero(np.diff(np.concatenate(([False], good, [False])).astype(np.int8)))
    settle = round(SETTLING_S / dt)
    for start, end in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
        first = start + settle
        if end - first < 8:
            continue
        seconds, drop = float(t[end - 1] - t[first]), float(v[first] - v[end - 1])
        if seconds >= LEAST_S and drop >= LEAST_DROP:
            out.append(Coast(first, end, float(v[first]), float(v[end - 1]), seconds, seen))
    return tuple(sorted(out, key=lambda c: -c.seconds))


def _slope(t: Floats, v: Floats, half: int) -> Floats:
    """Rise of v over some rows each way (m/s²)."""
    n = len(t)
    low, high = np.maximum(np.arange(n) - half, 0), np.minimum(np.arange(n) + half, n - 1)
    return np.asarray((v[high] - v[low]) / (t[high] - t[low]), dtype=np.float64)


def _shut(ride: Ride, n: int) -> tuple[Bools, bool]:
    """(rows in which nothing drives or brakes electrically as far as it is logged, whether it is logged at all)."""
    t, free, seen = ride.columns["t_s"], np.ones(n, dtype=bool), False
    for key, most in (("throttle", SHUT), ("line_a", DRAWN)):
        values = ride.columns.get(key)
        if values is not None and np.isfinite(values).any():
            steady = smooth(t, np.nan_to_num(values), SMOOTH_S)
            free &= ~(np.abs(steady) > most) & np.isfinite(values)
            seen = True
    return free, seen
