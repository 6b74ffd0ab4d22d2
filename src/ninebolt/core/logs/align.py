"""Two loggers of one ride brought onto one clock by the correlation of their speeds."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np

from ninebolt.core.limits import Limit
from ninebolt.core.logs.clock import usual_step
from ninebolt.core.logs.ride import Floats, Ride, speed_column, speed_noise
from ninebolt.errors import FormatError

TOGETHER = Limit(0.95, "ratio", "correlation of two speeds from which on they are one ride")
ALIKE_SHARE = Limit(0.8, "ratio", "of the shorter log that lies in the other, for one ride")
ALIKE_NOISE = Limit(1.5, "ratio", "of both logs' noise within which two speeds are one")
SAME_M_S = 0.002  # what rounding in a file leaves between a log and its copy
SUREST = 0.9999  # more than rounding and noise leave of a correlation
COARSE_HZ, FINE_HZ = 5.0, 50.0
LEAST_OVERLAP_S = 8.0
MOST_POINTS = 4000


def _moves(ride: Ride) -> Floats:
    """Speed, or turns where there is no speed: a scale does not matter here."""
    turns = next((k for k in ("rpm", "erpm") if k in ride.columns), None)
    alone = "speed_m_s" not in ride.columns and "lat_deg" not in ride.columns
    return ride.columns[turns] if alone and turns else speed_column(ride)


def _on(ride: Ride, hz: float) -> tuple[float, Floats]:
    t, (own, v) = ride.columns["t_s"], _seen(ride)
    grid = np.arange(t[0], t[-1], 1.0 / hz)
    return float(t[0]), np.interp(grid, own, v)


def aligned(first: Ride, second: Ride) -> Ride:
    """The first with the second's other columns, on the first's clock; by how much and how surely stands in its issues.
    Raises FormatError where they are not one ride."""
    offset, r = _offset(first, second)
    if r < TOGETHER:
        raise FormatError(
            "These two logs are not one ride, or their speeds do not go together.",
            where=second.name,
            got=f"a correlation of {r:.2f} at best",
            expected=f"{float(TOGETHER):.2f} or more",
            todo="Choose logs of the same ride, both with a launch in it.",
        )
    t = first.columns["t_s"]
    own = second.columns["t_s"] + offset
    more = {}
    for key, y in second.columns.items():
        ok = np.isfinite(y)
        if key not in first.columns and key != "t_s" and ok.sum() > 1:
            more[key] = np.interp(t, own[ok], y[ok], left=np.nan, right=np.nan)
    words = f"{second.name} set {offset:+.2f} s onto {first.name}'s clock, correlation {r:.3f}"
    name = f"{first.name} + {second.name}"
    return Ride(name, {**first.columns, **more}, (*first.issues, words))


def one_ride(first: Ride, second: Ride) -> Literal["the same", "perhaps", "no"]:
    """Whether two logs may be of one ride: the same samples; as near to each other as their noise, so that nothing in
    them tells two loggers from two rides that were alike; or two rides."""
    try:
        offset, r = _offset(first, second)
    except FormatError:
        return "no"
    if r < TOGETHER:
        return "no"
    a, b = _seen(first), _seen(second)
    if _same_samples(a, b, offset):
        return "the same"
    tries = offset + np.array((-1.0, 0.0, 1.0)) / FINE_HZ
    low, mid, high = (_apart(a, b, float(x)) ** 2 for x in tries)
    bend = low - 2 * mid + high
    best = offset + (0.5 * (low - high) / bend / FINE_HZ if bend > 0 else 0.0)
    noise = float(np.hypot(speed_noise(a[1]), speed_noise(b[1])))
    return "perhaps" if _apart(a, b, best) <= ALIKE_NOISE * max(noise, SAME_M_S) else "no"


def _same_samples(first: Seen, second: Seen, offset: float) -> bool:
    (ta, va), (tb, vb) = first, second
    start = max(ta[0], tb[0] + offset)
    i, k = int(np.searchsorted(ta, start)), int(np.searchsorted(tb + offset, start))
    near = (x for x in range(i - 3, i + 4) if x >= 0)
    n = min(len(va) - i, len(vb) - k) - 3
    return any(
        n >= ALIKE_SHARE * min(len(va), len(vb))
        and bool(np.all(np.abs(va[x : x + n] - vb[k : k + n]) < SAME_M_S))
        for x in near
    )


def _apart(first: Seen, second: Seen, offset: float) -> float:
    """Root mean square of what is between the two speeds, the second on the first's clock and circumference; inf where
    too little of them was logged by both."""
    (ta, va), (tb, vb) = first, second
    inside = (tb + offset >= ta[0]) & (tb + offset <= ta[-1])
    shorter = min(tb[-1] - tb[0], ta[-1] - ta[0])
    if inside.sum() * usual_step(tb) < ALIKE_SHARE * shorter:
        return float("inf")
    a, b = np.interp(tb[inside] + offset, ta, va), vb[inside]
    scale = float(a @ b) / max(float(b @ b), 1e-9)
    return float(np.sqrt(np.mean((a - scale * b) ** 2)))


def _offset(first: Ride, second: Ride) -> tuple[float, float]:
    """(seconds to add to the second's clock, correlation there). Raises FormatError for a log that is too short."""
    a0, a = _on(first, COARSE_HZ)
    b0, b = _on(second, COARSE_HZ)
    least = int(LEAST_OVERLAP_S * COARSE_HZ)
    if min(len(a), len(b)) < least:
        raise FormatError(
            "A log is too short to be brought onto another's clock.",
            expected=f"{LEAST_OVERLAP_S:.0f} s or more",
        )
    lag = _likeliest(a, b, least)
    coarse = a0 - b0 + lag / COARSE_HZ
    tries = coarse + np.arange(-1.0, 1.0, 1.0 / FINE_HZ)
    both = _seen(first), _seen(second)
    rs = _all_together(*both, tries)
    k = int(np.argmax(rs))
    offset, r = float(tries[k]), float(rs[k])
    if 0 < k < len(rs) - 1:
        bend = rs[k - 1] - 2 * rs[k] + rs[k + 1]
        if bend < 0:
            offset += float(0.5 * (rs[k - 1] - rs[k + 1]) / bend) / FINE_HZ
    return offset, r


def _likeliest(a: Floats, b: Floats, least: int) -> int:
    """The lag of b at which it follows a most surely: the likelihood of a straight line between them, by Pearson's r
    over what both logged there. A bare cross-correlation is drawn to where the two cover each other most."""
    n = 1 << (len(a) + len(b)).bit_length()
    lags = np.concatenate((np.arange(0, len(a) - least + 1), np.arange(-(len(b) - least), 0)))
    products = np.fft.irfft(np.fft.rfft(a, n) * np.conj(np.fft.rfft(b, n)), n)[lags]
    low, high = np.maximum(lags, 0), np.minimum(len(a), len(b) + lags)
    count = high - low

    def sums(y: Floats, first: Any, last: Any) -> Any:
        up_to = np.concatenate(([0.0], np.cumsum(y)))
        return up_to[last] - up_to[first]

    mean_a, mean_b = sums(a, low, high) / count, sums(b, low - lags, high - lags) / count
    var_a = np.maximum(sums(a * a, low, high) / count - mean_a**2, 0.0)
    var_b = np.maximum(sums(b * b, low - lags, high - lags) / count - mean_b**2, 0.0)
    size = np.sqrt(var_a * var_b)
    told = size > 1e-9
    r = np.where(told, (products / count - mean_a * mean_b) / np.where(told, size, 1.0), -1.0)
    return int(lags[int(np.argmax(-count * np.log1p(-(np.clip(r, 0.0, SUREST) ** 2))))])


Seen = tuple[Floats, Floats]  # times and speeds where there is a speed


def _seen(ride: Ride) -> Seen:
    v = _moves(ride)
    ok = np.isfinite(v)
    return ride.columns["t_s"][ok], v[ok]


def _all_together(first: Seen, second: Seen, offsets: Floats) -> Floats:
    """Pearson's r at each offset, on one grid that both cover at all of them; each by itself where that is short."""
    (ta, va), (tb, vb) = first, second
    low, high = max(ta[0], tb[0] + offsets[-1]), min(ta[-1], tb[-1] + offsets[0])
    if high - low < LEAST_OVERLAP_S:
        return np.array([_together(first, second, float(x)) for x in offsets])
    grid = np.linspace(low, high, min(int((high - low) * FINE_HZ), MOST_POINTS))
    own = np.arange(tb[0], tb[-1] + 1.0 / FINE_HZ, 1.0 / FINE_HZ)
    even = np.interp(own, tb, vb)
    at = (grid[None, :] - offsets[:, None] - tb[0]) * FINE_HZ
    k = np.clip(at.astype(np.intp), 0, len(even) - 2)
    b = even[k] + (at - k) * (even[k + 1] - even[k])
    a = np.interp(grid, ta, va)
    a, b = a - a.mean(), b - b.mean(axis=1, keepdims=True)
    size = np.sqrt((a @ a) * np.einsum("ij,ij->i", b, b))
    flat = size < 1e-9 * len(grid)
    return np.where(flat, -1.0, b @ a / np.where(flat, 1.0, size))


def _together(first: Seen, second: Seen, offset: float) -> float:
    """Pearson's r of the speeds where both logged."""
    (ta, va), (tb, vb) = first, (second[0] + offset, second[1])
    low, high = max(ta[0], tb[0]), min(ta[-1], tb[-1])
    if high - low < LEAST_OVERLAP_S:
        return -1.0
    grid = np.linspace(low, high, min(int((high - low) * FINE_HZ), MOST_POINTS))
    a, b = np.interp(grid, ta, va), np.interp(grid, tb, vb)
    if float(np.std(a)) < 1e-9 or float(np.std(b)) < 1e-9:
        return -1.0
    return float(np.corrcoef(a, b)[0, 1])
