"""Time-current behaviour of a fuse or a breaker, and whether it opens along a run.

Each stretch of time uses up its share of the melting time at that current; below the rating nothing
is used and what was used comes back over COOL_S. A stated simplification; common practice, no
source.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

TimeCurrent = Sequence[tuple[float, float]]  # multiple of the rating, seconds
TEN_MINUTES = 1.35  # times its rating a fuse stands that long
# Multiple of the rating -> seconds, of a bolt-down DC fuse. From memory, typical of its class.
TYPICAL: tuple[tuple[float, float], ...] = (
    (1.10, 1e5),
    (TEN_MINUTES, 600.0),
    (2.00, 10.0),
    (3.50, 0.6),
    (6.00, 0.10),
    (10.0, 0.02),
)
# The same of a thermal-magnetic breaker, the middle of a wide band. IEC 60947-2, from memory: holds
# 1.05 times its rating for two hours, opens within two hours at 1.30 times.
BREAKER_HOLDS = 1.05
BREAKER: tuple[tuple[float, float], ...] = (
    (BREAKER_HOLDS, 1e5),
    (1.30, 1800.0),
    (2.00, 60.0),
    (3.00, 15.0),
    (5.00, 3.0),
    (7.00, 0.02),
)
COOL_S = 60.0


def melt_s(multiple: float, curve: TimeCurrent = ()) -> float:
    """Seconds until it opens at a multiple of its rating; straight between points on logarithmic
    axes, inf below the first point."""
    points = curve or TYPICAL
    if multiple < points[0][0]:
        return math.inf
    for (m0, t0), (m1, t1) in zip(points, points[1:], strict=False):
        if multiple <= m1:
            u = math.log(multiple / m0) / math.log(m1 / m0)
            return math.exp(math.log(t0) + u * math.log(t1 / t0))
    return points[-1][1]


def stands_a(rated_a: float, seconds: float, curve: TimeCurrent = ()) -> float:
    """Amps that it just stands for so many seconds: the same curve read the other way."""
    points = curve or TYPICAL
    if seconds >= points[0][1]:
        return rated_a * points[0][0]
    for (m0, t0), (m1, t1) in zip(points, points[1:], strict=False):
        if seconds >= t1:
            u = math.log(seconds / t0) / math.log(t1 / t0)
            return rated_a * math.exp(math.log(m0) + u * math.log(m1 / m0))
    return rated_a * points[-1][0]


def opens_at(
    t_s: Sequence[float],
    amps: Sequence[float],
    rated_a: float,
    curve: TimeCurrent = (),
) -> int | None:
    """Row of a run at which a fuse (or, with its curve, a breaker) opens, or None."""
    points = np.log(np.asarray(curve or TYPICAL, dtype=float))
    dt = np.diff(np.asarray(t_s, dtype=float))
    size = np.log(np.maximum(np.asarray(amps, dtype=float)[1:] / rated_a, 1e-12))
    time = np.exp(np.interp(size, points[:, 0], points[:, 1]))
    shares = np.where(size < points[0, 0], -dt / COOL_S, dt / time)
    used = 0.0
    for i, share in enumerate(shares.tolist(), 1):
        used += share
        if used >= 1.0:
            return i
        if used < 0.0:
            used = 0.0
    return None


def least_rating(
    t_s: Sequence[float],
    amps: Sequence[float],
    curve: TimeCurrent = (),
    step_a: float = 25.0,
) -> float:
    """The least rating, in steps of step_a (A), that does not open along a run."""
    low, high = 0, math.ceil(max(amps) / (curve or TYPICAL)[0][0] / step_a) + 1
    while high - low > 1:
        mid = (low + high) // 2
        if opens_at(t_s, amps, mid * step_a, curve) is None:
            high = mid
        else:
            low = mid
    return high * step_a
