"""Times to distances and speeds from a series of time, distance and speed.

Between two samples distance is a cubic that fits distance and speed at both ends (Hermite), so a
split does not depend on where the samples fall.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ninebolt.units import FOOT_M, KM_H_PER_M_S

ROLLOUT_M = FOOT_M
TRAP_M = 66 * FOOT_M
MILE_8_M = 660 * FOOT_M
MILE_4_M = 1320 * FOOT_M
DISTANCES: tuple[tuple[str, float], ...] = (
    ("60 ft", 60 * FOOT_M),
    ("100 m", 100.0),
    ("330 ft", 330 * FOOT_M),
    ("200 m", 200.0),
    ("1/8 mile", MILE_8_M),
    ("1000 ft", 1000 * FOOT_M),
    ("400 m", 400.0),
    ("1/4 mile", MILE_4_M),
)
SPEEDS: tuple[tuple[str, float], ...] = (
    ("0–48 km/h (30 mph)", 48.28032 / KM_H_PER_M_S),
    ("0–60 km/h", 60.0 / KM_H_PER_M_S),
    ("0–97 km/h (60 mph)", 96.56064 / KM_H_PER_M_S),
    ("0–100 km/h", 100.0 / KM_H_PER_M_S),
)


Line = Sequence[float] | npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Split:
    """kind: distance or speed. mark: metres or m/s. trap_* only for distances."""

    name: str
    kind: str
    mark: float
    time_s: float | None
    trap_line_m_s: float | None = None
    trap_mean_m_s: float | None = None


def time_at_distance(t: Line, x: Line, v: Line, mark: float) -> float | None:
    """When the mark is crossed; None if the run did not get there."""
    found = _crossing(x, mark)
    if found is None:
        return None
    i = found
    return float(t[i] + (t[i + 1] - t[i]) * _hermite_root(x, v, t, i, mark))


def speed_at(t: Line, x: Line, v: Line, when: float) -> float:
    """Speed at a time inside the series: slope of the same cubic."""
    i = max(0, min(len(t) - 2, _index(t, when)))
    dt = t[i + 1] - t[i]
    u = (when - t[i]) / dt
    slope = (
        (6 * u * u - 6 * u) * (x[i] - x[i + 1]) / dt
        + (3 * u * u - 4 * u + 1) * v[i]
        + (3 * u * u - 2 * u) * v[i + 1]
    )
    return float(slope)


def time_at_speed(t: Line, v: Line, a: Line, mark: float) -> float | None:
    """When a speed is first reached; a is acceleration, same length."""
    found = _crossing(v, mark)
    if found is None:
        return None
    return float(t[found] + (t[found + 1] - t[found]) * _hermite_root(v, a, t, found, mark))


def _crossing(x: Line, mark: float) -> int | None:
    """The first interval that crosses the mark, or ends on it within a millionth."""
    near = 1e-6 * max(1.0, mark)
    least = mark - near
    first = 0
    if isinstance(x, np.ndarray):  # an hour of log, where nothing happens for long
        past = x[1:] >= least
        first = int(past.argmax()) if past.any() else len(past)
    for i in range(first, len(x) - 1):
        end = x[i + 1]
        if end >= least and (x[i] <= mark <= end != x[i] or abs(end - mark) <= near):
            return i
    return None


def _index(t: Line, when: float) -> int:
    low, high = 0, len(t) - 1
    while low < high:
        mid = (low + high + 1) // 2
        low, high = (mid, high) if t[mid] <= when else (low, mid - 1)
    return low


def _hermite_root(x: Line, d: Line, t: Line, i: int, mark: float) -> float:
    """u in 0…1 where the cubic through x with slopes d meets the mark."""
    dt, x0, x1 = t[i + 1] - t[i], x[i], x[i + 1]
    m0, m1 = d[i] * dt, d[i + 1] * dt
    # The cubic by powers of u; Newton's step where it stays inside the bracket, else halved.
    c3, c2 = 2.0 * (x0 - x1) + m0 + m1, 3.0 * (x1 - x0) - 2.0 * m0 - m1
    low, high, near = 0.0, 1.0, 1e-13 * max(abs(mark), 1.0)
    u = min(max((mark - x0) / (x1 - x0), 0.0), 1.0) if x1 > x0 else 0.5
    for _ in range(45):
        miss = ((c3 * u + c2) * u + m0) * u + x0 - mark
        if (
            abs(miss) <= near
        ):  # as near as the numbers are; to halve on from here would lead away again
            break
        low, high = (u, high) if miss < 0.0 else (low, u)
        slope = (3.0 * c3 * u + 2.0 * c2) * u + m0
        step = u - miss / slope if slope > 0.0 else -1.0
        u, last = (step if low < step < high else 0.5 * (low + high)), u
        if abs(u - last) < 1e-14:
            break
    return u


def reached(splits: Sequence[Split], until_s: float | None) -> list[Split]:
    """The splits, without their times where the bike has cut out before; None: it does not."""
    return [
        x
        if until_s is None or x.time_s is None or x.time_s <= until_s
        else dataclasses.replace(x, time_s=None, trap_line_m_s=None, trap_mean_m_s=None)
        for x in splits
    ]


def splits_of(
    t: Line,
    x: Line,
    v: Line,
    a: Line,
    rollout: bool = False,
    extra_speed: float | None = None,
) -> tuple[Split, ...]:
    """All standard splits. With rollout each time is t(mark) - t(0.3048 m)."""
    start = (time_at_distance(t, x, v, ROLLOUT_M) or 0.0) if rollout else 0.0
    out = []
    for name, mark in DISTANCES:
        at = time_at_distance(t, x, v, mark)
        if at is None:
            out.append(Split(name, "distance", mark, None))
            continue
        before = time_at_distance(t, x, v, mark - TRAP_M) if mark > TRAP_M else None
        mean = TRAP_M / (at - before) if before is not None and at > before else None
        out.append(Split(name, "distance", mark, at - start, speed_at(t, x, v, at), mean))
    speeds = list(SPEEDS)
    if extra_speed is not None and all(abs(extra_speed - m) > 0.05 for _, m in speeds):
        speeds.append((f"0–{extra_speed * KM_H_PER_M_S:.0f} km/h", extra_speed))
    for name, mark in sorted(speeds, key=lambda s: s[1]):
        at = time_at_speed(t, v, a, mark)
        out.append(Split(name, "speed", mark, None if at is None else at - start))
    return tuple(out)
