"""When did it leave the line? A standing start fitted as v = a s + b s² from s = 0 on, in speeds or in positions, with
the covariance of the fit as its uncertainty."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
GRID = 48
GOLDEN = 0.5 * (math.sqrt(5.0) - 1.0)
SHARPER = 24
PLACE_K = (
    2.6  # the slow error of positions is itself only estimated: found by trial on made-up runs
)


@dataclass(frozen=True, slots=True)
class Noise:
    """white: standard deviation of each sample (m or m/s). walk: growth of a slow error's variance per second, of
    positions (m²/s); 0 for speeds."""

    white: float
    walk: float = 0.0


@dataclass(frozen=True, slots=True)
class Start:
    """t0_s and its 95 % half-width; zero: where the positions were at rest (m), 0 for speeds."""

    t0_s: float
    u95_s: float
    zero: float


def start_of(
    t: Floats, y: Floats, kind: Literal["speed", "place"], noise: Noise, low: float, high: float
) -> Start:
    """The start between two times, from samples around it. t (s), y (m/s, or m along the way), same length.

    Least squares in a, b (and the place at rest) for each candidate t0, the least by golden section. Half-width: twice
    the standard deviation by J C Jᵀ with white noise and a random walk in C, and a tenth of the sampling
    interval for what a polynomial misses.
    """
    fits = _fits(t, y, kind)
    grid = np.linspace(low, high, GRID)
    costs = [fits(float(x))[0] for x in grid]
    k = int(np.argmin(costs))
    a, b = float(grid[max(k - 1, 0)]), float(grid[min(k + 1, GRID - 1)])
    for _ in range(SHARPER):
        c, d = b - GOLDEN * (b - a), a + GOLDEN * (b - a)
        if fits(c)[0] < fits(d)[0]:
            b = d
        else:
            a = c
    t0 = 0.5 * (a + b)
    cost, p, columns = fits(t0)
    dt = float(np.median(np.diff(t)))
    sd = _sd(t, t0, p, columns, kind, noise, cost)
    u95 = (2.0 if kind == "speed" else PLACE_K) * math.hypot(min(sd, high - low), 0.1 * dt)
    return Start(t0, u95, float(p[0]) if kind == "place" else 0.0)


Fit = tuple[float, Floats, Floats]  # sum of squares, parameters, their columns


def _fits(t: Floats, y: Floats, kind: str) -> Callable[[float], Fit]:
    def at(t0: float) -> Fit:
        s = np.maximum(t - t0, 0.0)
        columns = [s, s * s] if kind == "speed" else [np.ones_like(s), s * s / 2.0, s**3 / 3.0]
        first = len(columns) - 2
        if (s > 0.0).sum() < 3:  # a straight rise, where there is no more to see
            columns = columns[:-1]
        made = _solve(columns, y)
        if made[1][first] < 0.0 and len(columns) > first + 1:  # no bike starts backwards
            columns = columns[:first] + columns[first + 1 :]
            made = _solve(columns, y)
        return made

    return at


def _solve(columns: list[Floats], y: Floats) -> Fit:
    m = np.stack(columns, axis=1)
    p: Floats = np.asarray(np.linalg.lstsq(m, y, rcond=None)[0], dtype=np.float64)
    rest = y - m @ p
    return float(rest @ rest), p, m


def _sd(t: Floats, t0: float, p: Floats, m: Floats, kind: str, noise: Noise, cost: float) -> float:
    """Standard deviation of t0."""
    s = np.maximum(t - t0, 0.0)
    own = m @ p - (p[0] if kind == "place" else 0.0)
    slope = np.where(s > 0.0, np.gradient(own, t) if len(t) > 2 else 0.0, 0.0)
    j = np.column_stack([-slope, m])
    spare = len(t) - j.shape[1]
    white = max(noise.white, math.sqrt(cost / spare) if spare > 0 and noise.walk == 0.0 else 0.0)
    c = white**2 * np.eye(len(t))
    if noise.walk > 0.0:
        since = t - t[0]
        c += noise.walk * np.minimum.outer(since, since)
    inner = np.linalg.pinv(j.T @ j)
    return math.sqrt(max(float((inner @ j.T @ c @ j @ inner)[0, 0]), 0.0))
