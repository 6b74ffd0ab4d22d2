"""A window of a long log, thinned so that no peak is lost; two launches over one another."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ninebolt.core.logs.places import track_of
from ninebolt.core.logs.ride import Floats, Ride, speed_column, summed
from ninebolt.core.words import q

TOLD_PULL = 0.06  # share by which one must pull harder than the other to be told apart

# Column -> (label, quantity), in the order in which they are drawn.
CHANNELS = {
    "speed_m_s": ("speed", "m_s"),
    "bus_v": ("pack volts", "v"),
    "line_a": ("line amps", "a"),
    "phase_a": ("phase amps", "a"),
    "power_w": ("pack power", "w"),
    "rpm": ("motor rpm", "rpm"),
    "erpm": ("electrical rpm", "rpm"),
    "throttle": ("throttle", "ratio"),
    "motor_c": ("motor", "c"),
    "controller_c": ("controller", "c"),
    "cells_c": ("cells", "c"),
    "altitude_m": ("height", "m"),
}


@dataclass(frozen=True, slots=True)
class Channel:
    """A column over a window: for each bucket of x its least and greatest value; None where there is none."""

    key: str
    label: str
    quantity: str
    lo: list[float | None]
    hi: list[float | None]
    least: float
    greatest: float


@dataclass(frozen=True, slots=True)
class TraceWindow:
    """axis: time (s) or distance (m). whole: of the log; x: the middle of each bucket. east, north: of the way there
    (m), [] without positions."""

    axis: str
    whole: tuple[float, float]
    x: list[float]
    channels: tuple[Channel, ...]
    east_m: list[float]
    north_m: list[float]


def columns(ride: Ride) -> dict[str, Floats]:
    """Every channel of a ride, with speed and pack power made where they can be."""
    out = {k: v for k, v in ride.columns.items() if k in CHANNELS}
    if "speed_m_s" not in out and {"lat_deg", "lon_deg"} <= set(ride.columns):
        out["speed_m_s"] = speed_column(ride)
    if {"bus_v", "line_a"} <= set(out):
        out["power_w"] = out["bus_v"] * out["line_a"]
    return {k: out[k] for k in CHANNELS if k in out}


def axis_of(ride: Ride, speed: Floats, axis: str) -> Floats:
    """Time, or the way by the speed; rising."""
    t = ride.columns["t_s"]
    if axis == "time":
        return t
    v = np.maximum(np.nan_to_num(speed), 0.0)
    return summed(t, v)


def window(
    ride: Ride, cols: dict[str, Floats], x: Floats, axis: str, start: float, end: float, points: int
) -> TraceWindow:
    """The rows from start to end in so many buckets at most."""
    i, j = np.searchsorted(x, [start, end], side="left")
    i, j = max(int(i) - 1, 0), min(int(j) + 1, len(x))
    if j - i < 2:
        i, j = max(0, min(i, len(x) - 2)), min(len(x), max(j, i + 2))
    n = j - i
    cuts = np.unique(np.linspace(0, n, min(points, n) + 1).astype(np.int64)[:-1])
    middle = x[i:j][np.minimum(cuts + np.diff(np.append(cuts, n)) // 2, n - 1)]
    made = [_channel(k, v[i:j], cuts) for k, v in cols.items()]
    east: list[float] = []
    north: list[float] = []
    if {"lat_deg", "lon_deg"} <= set(ride.columns) and len(x) >= 5:
        c = ride.columns
        step = max(1, n // 800)
        rows = slice(i, j, step)
        if j - i >= 5 * step:
            way = track_of(c["t_s"][rows], c["lat_deg"][rows], c["lon_deg"][rows])
            east, north = way.east.tolist(), way.north.tolist()
    return TraceWindow(axis, (float(x[0]), float(x[-1])), middle.tolist(), tuple(made), east, north)


def _channel(key: str, y: Floats, cuts: npt.NDArray[np.int64]) -> Channel:
    low = np.minimum.reduceat(np.where(np.isfinite(y), y, np.inf), cuts)
    high = np.maximum.reduceat(np.where(np.isfinite(y), y, -np.inf), cuts)
    known = y[np.isfinite(y)]
    label, quantity = CHANNELS[key]
    least, greatest = (float(known.min()), float(known.max())) if len(known) else (0.0, 0.0)
    return Channel(key, label, quantity, _plain(low), _plain(high), least, greatest)


def _plain(y: Floats) -> list[float | None]:
    return [float(f"{v:.6g}") if np.isfinite(v) else None for v in y]


@dataclass(frozen=True, slots=True)
class Launched:
    """One launch from its own start: columns of equal length. u95_s: how sure its start is."""

    name: str
    u95_s: float
    t_s: list[float]
    distance_m: list[float]
    speed_m_s: list[float]


@dataclass(frozen=True, slots=True)
class Crossed:
    """A speed at which the one begins to pull harder than the other."""

    speed_m_s: float
    below: str
    above: str


@dataclass(frozen=True, slots=True)
class Loss:
    """Two launches over one another. lost_s: how much later the second passes each distance than the first."""

    first: str
    second: str
    distance_m: list[float]
    lost_s: list[float]
    speed_first: list[float]
    speed_second: list[float]
    crossings: tuple[Crossed, ...]
    sentence: str


def loss(a: Launched, b: Launched) -> Loss:
    """Over the way that both cover."""
    end = min(a.distance_m[-1], b.distance_m[-1])
    grid = np.linspace(0.0, end, 161)
    ta, tb = (np.interp(grid, r.distance_m, r.t_s) for r in (a, b))
    va, vb = (np.interp(grid, r.distance_m, r.speed_m_s) for r in (a, b))
    lost = tb - ta
    crossings = _crossings(a, b)
    k = int(np.argmax(np.abs(np.diff(lost)) / np.maximum(np.diff(grid), 1e-9))) if end > 0 else 0
    ahead, sure = (b.name if lost[-1] < 0 else a.name), float(np.hypot(a.u95_s, b.u95_s))
    words = (
        f"After {q(end, 'm')} {ahead} is {abs(lost[-1]):.2f} ± {sure:.2f} s ahead; most of it comes near "
        f"{q(float(grid[k]), 'm')}."
        if abs(lost[-1]) > sure
        else f"After {q(end, 'm')} neither is ahead: {abs(lost[-1]):.2f} s are within the starts' ± {sure:.2f} s."
    )
    for c in crossings[:2]:
        words += f" Below {q(c.speed_m_s, 'm_s')} {c.below} pulls harder, above it {c.above}."
    return Loss(
        a.name, b.name, grid.tolist(), lost.tolist(), va.tolist(), vb.tolist(), crossings, words
    )


def _crossings(a: Launched, b: Launched) -> tuple[Crossed, ...]:
    """Speeds at which the order of acceleration turns about; flickers under a tenth of the greatest are none."""
    top = min(max(a.speed_m_s), max(b.speed_m_s))
    grid = np.linspace(2.0, 0.97 * top, 60) if top > 4.0 else np.array([])
    if not len(grid):
        return ()
    rows = []
    for r in (a, b):
        v = np.maximum.accumulate(np.asarray(r.speed_m_s))
        t = np.asarray(r.t_s)
        keep = np.concatenate(([True], np.diff(v) > 1e-6))
        when = np.interp(grid, v[keep], t[keep])
        wide = 3
        took = np.convolve(np.gradient(when, grid), np.ones(wide) / wide, "same")
        rows.append(1.0 / np.maximum(took, 1e-3))
    gap = (rows[0] - rows[1])[2:-2]
    inner = grid[2:-2]
    pull = 0.5 * (rows[0] + rows[1])[2:-2]
    real = np.abs(gap) > np.maximum(0.1 * float(np.max(np.abs(gap))), TOLD_PULL * pull)
    out: list[Crossed] = []
    last = 0
    for i in np.flatnonzero(real).tolist():
        sign = 1 if gap[i] > 0 else -1
        if last and sign != last:
            near = float(0.5 * (inner[i] + inner[max(i - 1, 0)]))
            first, then = (a.name, b.name) if last > 0 else (b.name, a.name)
            out.append(Crossed(near, first, then))
        last = sign
    return tuple(out)
