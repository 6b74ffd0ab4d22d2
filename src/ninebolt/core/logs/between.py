"""Times inside a ride that need no standing start: roll-on from one speed to another, and between two marks of the
way, each time they are passed."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ninebolt.core.logs.clock import usual_step
from ninebolt.core.logs.geodesy import Floats
from ninebolt.core.logs.places import Track
from ninebolt.core.logs.ride import hole_s

REACH_M = 12.0  # how near a pass comes to a mark: half a road and a receiver's error. Common practice, no source.
SAME_WAY = 0.5  # cosine to the way on which the marks were set: under it, the mark is passed in the other direction
MOST = 200  # sections of one log


@dataclass(frozen=True, slots=True)
class Section:
    """One of them. u95_s: half of its 95 % interval, None where nothing tells it. in_m_s, out_m_s: speeds at its
    ends."""

    start_s: float
    seconds: float
    u95_s: float | None
    in_m_s: float
    out_m_s: float


def roll_ons(t: Floats, v: Floats, noise: float, low: float, high: float) -> tuple[Section, ...]:
    """Every time that the speed rises from low to high without falling below low between: from the last crossing of
    low to the first of high, each straight between its two samples; over a hole in the
    log nobody knows how well. t, v: equal length; v smooth. noise: of v (m/s)."""
    out = []
    hole = hole_s(usual_step(t))
    above = v >= low
    ups = np.flatnonzero(~above[:-1] & above[1:]) + 1
    downs = np.append(np.flatnonzero(above[:-1] & ~above[1:]) + 1, len(v))
    for up in ups[:MOST]:
        end = int(downs[np.searchsorted(downs, up, "right")])
        past = np.flatnonzero(v[up:end] >= high)
        if not len(past):
            continue
        at = up + int(past[0])
        first, slope_first = _crossing(t, v, int(up), low)
        last, slope_last = _crossing(t, v, at, high)
        whole = float(np.diff(t[up - 1 : at + 1]).max()) <= hole
        known = slope_first > 0.0 and slope_last > 0.0 and whole
        u95 = 2.0 * math.hypot(noise / slope_first, noise / slope_last) if known else None
        out.append(Section(first, last - first, u95, low, high))
    return tuple(out)


def _crossing(t: Floats, v: Floats, i: int, mark: float) -> tuple[float, float]:
    """(when the speed passes a mark between rows i-1 and i, slope over the rows around)."""
    rise = float(v[i] - v[i - 1])
    share = float(mark - v[i - 1]) / rise if rise > 0.0 else 1.0
    a, b = max(i - 3, 0), min(i + 2, len(v) - 1)
    slope = float(v[b] - v[a]) / float(t[b] - t[a])
    return float(t[i - 1] + share * (t[i] - t[i - 1])), slope


def passes(way: Track, first: int, last: int) -> tuple[Section, ...]:
    """Every time that the way goes by the place of row first and then by that of row last, in the direction in which
    those rows were ridden. first < last."""
    marks = [(_passings(way, row), row) for row in (first, last)]
    starts, ends = marks[0][0], marks[1][0]
    out = []
    for k, (when, speed) in enumerate(starts[:MOST]):
        until = starts[k + 1][0] if k + 1 < len(starts) else math.inf
        done = next(((w, s) for w, s in ends if when < w <= until), None)
        if done is None:
            continue
        white = way.noise.white
        u95 = 2.0 * math.hypot(white / max(speed, 0.3), white / max(done[1], 0.3))
        out.append(Section(when, done[0] - when, u95, speed, done[1]))
    return tuple(out)


def _passings(way: Track, row: int) -> list[tuple[float, float]]:
    """(when, speed) of each passing of a row's place: where the way crosses the line square to it there."""
    ux, uy = _heading(way, row)
    dx, dy = way.east - way.east[row], way.north - way.north[row]
    along, aside = dx * ux + dy * uy, dx * -uy + dy * ux
    cross = np.flatnonzero((along[:-1] < 0.0) & (along[1:] >= 0.0)) + 1
    out = []
    for i in cross:
        hx, hy = _heading(way, int(i))
        if abs(float(aside[i])) > REACH_M or hx * ux + hy * uy < SAME_WAY:
            continue
        step = float(along[i] - along[i - 1])
        share = float(-along[i - 1]) / step if step > 0.0 else 1.0
        if abs(step) > 4.0 * REACH_M:
            continue  # a gap in the log: nobody knows when
        out.append((float(way.t[i - 1] + share * (way.t[i] - way.t[i - 1])), float(way.speed[i])))
    return out


def _heading(way: Track, row: int) -> tuple[float, float]:
    a, b = max(row - 2, 0), min(row + 2, len(way.t) - 1)
    dx, dy = float(way.east[b] - way.east[a]), float(way.north[b] - way.north[a])
    size = math.hypot(dx, dy) or 1.0
    return dx / size, dy / size
