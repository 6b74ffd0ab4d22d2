"""Two loggers of one ride brought onto one clock by the correlation of their speeds."""

from __future__ import annotations

import numpy as np

from ninebolt.core.limits import Limit
from ninebolt.core.logs.ride import Floats, Ride, speed_column
from ninebolt.errors import FormatError

TOGETHER = Limit(0.95, "ratio", "correlation of two speeds from which on they are one ride")
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
    a0, a = _on(first, COARSE_HZ)
    b0, b = _on(second, COARSE_HZ)
    least = int(LEAST_OVERLAP_S * COARSE_HZ)
    if min(len(a), len(b)) < least:
        raise FormatError(
            "A log is too short to be brought onto another's clock.",
            expected=f"{LEAST_OVERLAP_S:.0f} s or more",
        )
    n = 1 << (len(a) + len(b)).bit_length()
    ca, cb = a - a.mean(), b - b.mean()
    cross = np.fft.irfft(np.fft.rfft(ca, n) * np.conj(np.fft.rfft(cb, n)), n)
    lags = np.concatenate((np.arange(0, len(a) - least), np.arange(-(len(b) - least), 0)))
    lag = int(lags[int(np.argmax(cross[lags]))])
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
