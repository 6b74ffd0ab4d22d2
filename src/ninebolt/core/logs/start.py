"""When did it leave the line? A standing start fitted as v = a s + b s² from s = 0 on, in speeds or in positions, with
the covariance of the fit as its uncertainty."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from ninebolt.core.logs.clock import usual_step

Floats = npt.NDArray[np.float64]
GRID = 48
GOLDEN = 0.5 * (math.sqrt(5.0) - 1.0)
SHARPER = 16  # a ten-thousandth of a second
FINER = (16, 16, 16)  # the same
LEAST = 1e-12  # a sum of squares of seconds below that is one of rounding
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
    if kind == "speed":
        t0 = _by_grids(t, y, low, high)
    else:
        a, b = _around(np.linspace(low, high, GRID), lambda g: [fits(float(x))[0] for x in g])
        t0 = _least(lambda x: fits(x)[0], a, b)
    cost, p, columns = fits(t0)
    dt = usual_step(t)
    sd = _sd(t, t0, p, columns, kind, noise, cost)
    u95 = (2.0 if kind == "speed" else PLACE_K) * math.hypot(min(sd, high - low), 0.1 * dt)
    return Start(t0, u95, float(p[0]) if kind == "place" else 0.0)


def _around(
    grid: Floats, costs: Callable[[Floats], Sequence[float] | Floats]
) -> tuple[float, float]:
    """The neighbours of the cheapest point of a grid."""
    k = int(np.argmin(costs(grid)))
    return float(grid[max(k - 1, 0)]), float(grid[min(k + 1, len(grid) - 1)])


def _by_grids(t: Floats, y: Floats, low: float, high: float) -> float:
    """The cheapest start of speeds by grids one in the other, each looked at in one go."""
    costs = _speed_costs(t, y)
    for points in (GRID, *FINER):
        low, high = _around(np.linspace(low, high, points), costs)
    return 0.5 * (low + high)


def _least(cost: Callable[[float], float], a: float, b: float) -> float:
    """Where cost is least between a and b, by golden section: one new look a step."""
    c, d = b - GOLDEN * (b - a), a + GOLDEN * (b - a)
    at_c, at_d = cost(c), cost(d)
    for _ in range(SHARPER):
        if at_c < at_d:
            b, d, at_d = d, c, at_c
            c = b - GOLDEN * (b - a)
            at_c = cost(c)
        else:
            a, c, at_c = c, d, at_d
            d = a + GOLDEN * (b - a)
            at_d = cost(d)
    return 0.5 * (a + b)


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


def _speed_costs(t: Floats, y: Floats) -> Callable[[Floats], Floats]:
    """Sum of squares of each start of a grid, as _fits makes them of speeds, all at once: from the normal equations,
    whose sums over what follows a start are those of the powers of time, added up once from the end."""
    u, all_of = t - t[-1], float(y @ y)  # counted from the end: what follows a late start is small
    square = u * u
    terms = np.stack(
        [np.ones_like(u), u, square, square * u, square * square, y, u * y, square * y]
    )
    after = np.zeros((len(terms), len(t) + 1))
    after[:, :-1] = np.cumsum(terms[:, ::-1], axis=1)[:, ::-1]

    def of(grid: Floats) -> Floats:
        g, at = grid - t[-1], np.searchsorted(t, grid, side="right")
        n, s1, s2, s3, s4, y0, y1, y2 = after[:, at]
        ss = s2 - g * (2.0 * s1 - g * n)
        sq = s3 - g * (3.0 * s2 - g * (3.0 * s1 - g * n))
        qq = s4 - g * (4.0 * s3 - g * (6.0 * s2 - g * (4.0 * s1 - g * n)))
        return all_of + _least_squares(ss, sq, qq, y1 - g * y0, y2 - g * (2.0 * y1 - g * y0), n < 3)

    return of


def _least_squares(
    ss: Floats, sq: Floats, qq: Floats, sy: Floats, qy: Floats, few: npt.NDArray[np.bool_]
) -> Floats:
    """What a rise a s + b s² that starts at rest takes off the sum of squares, at best."""
    with np.errstate(divide="ignore", invalid="ignore"):
        det = ss * qq - sq**2
        a, b = (qq * sy - sq * qy) / det, (ss * qy - sq * sy) / det
        line, bend = np.where(ss > LEAST, sy / ss, 0.0), np.where(qq > LEAST, qy / qq, 0.0)
    plain = few | ~np.isfinite(a)  # a straight rise, where there is no more to see
    back = ~plain & (a < 0.0)  # no bike starts backwards
    a = np.where(plain, line, np.where(back, 0.0, a))
    b = np.where(plain, 0.0, np.where(back, bend, b))
    return np.asarray(a * (a * ss + 2.0 * (b * sq - sy)) + b * (b * qq - 2.0 * qy))


def _solve(columns: list[Floats], y: Floats) -> Fit:
    """Least squares; one and two columns in closed form, which are the many."""
    m = np.stack(columns, axis=1)
    rest = y - m @ (p := _one_or_two(m, y) if m.shape[1] < 3 else _many(m, y))
    return float(rest @ rest), p, m


def _many(m: Floats, y: Floats) -> Floats:
    return np.asarray(np.linalg.lstsq(m, y, rcond=None)[0], dtype=np.float64)


def _one_or_two(m: Floats, y: Floats) -> Floats:
    g, r = m.T @ m, m.T @ y
    if len(r) == 1:
        return np.array([r[0] / g[0, 0] if g[0, 0] > 0.0 else 0.0])
    det = float(g[0, 0] * g[1, 1] - g[0, 1] ** 2)
    if det <= 1e-12 * float(g[0, 0] * g[1, 1]):  # as good as one column
        return _many(m, y)
    return np.array([g[1, 1] * r[0] - g[0, 1] * r[1], g[0, 0] * r[1] - g[0, 1] * r[0]]) / det


def _sd(t: Floats, t0: float, p: Floats, m: Floats, kind: str, noise: Noise, cost: float) -> float:
    """Standard deviation of t0."""
    s = np.maximum(t - t0, 0.0)
    own = m @ p - (p[0] if kind == "place" else 0.0)
    slope = np.where(s > 0.0, np.gradient(own, t) if len(t) > 2 else 0.0, 0.0)
    j = np.column_stack([-slope, m])
    spare = len(t) - j.shape[1]
    white = max(noise.white, math.sqrt(cost / spare) if spare > 0 and noise.walk == 0.0 else 0.0)
    square = j.T @ j
    spread = white**2 * square  # J' C J
    if noise.walk > 0.0:
        since = t - t[0]
        spread = spread + noise.walk * (j.T @ np.minimum.outer(since, since) @ j)
    inner = np.linalg.pinv(square)
    return math.sqrt(max(float((inner @ spread @ inner)[0, 0]), 0.0))
