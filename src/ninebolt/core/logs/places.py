"""Speed and way from positions alone: local quadratics through both coordinates, so that the noise of positions at rest
does not add up to a way."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ninebolt.core.logs.clock import usual_step
from ninebolt.core.logs.geodesy import Floats, from_first
from ninebolt.core.logs.start import Noise

WINDOW_S = 1.0
WALK_M2_S = 0.015  # of a usual receiver's position error, where none can be seen at rest. From memory, no source.
STANDING_M_S = 0.7
LONGEST_LAG_S = 1.0


@dataclass(frozen=True, slots=True)
class Track:
    """Columns of equal length. speed (m/s); east, north: smoothed (m); raw_east, raw_north: as read; noise: of a
    coordinate; speed_noise: of the speed (m/s)."""

    t: Floats
    speed: Floats
    east: Floats
    north: Floats
    raw_east: Floats
    raw_north: Floats
    noise: Noise
    speed_noise: float

    def along(self, i: int, j: int) -> tuple[Floats, Floats]:
        """(raw, smoothed) positions of rows i…j-1 along the straight from where it stood to where it is at j-1 (m)."""
        still = slice(i, max(i + 2, i + (j - i) // 4))
        x0, y0 = float(self.raw_east[still].mean()), float(self.raw_north[still].mean())
        dx, dy = float(self.east[j - 1]) - x0, float(self.north[j - 1]) - y0
        size = math.hypot(dx, dy) or 1.0
        ux, uy = dx / size, dy / size
        raw = (self.raw_east[i:j] - x0) * ux + (self.raw_north[i:j] - y0) * uy
        return raw, (self.east[i:j] - x0) * ux + (self.north[i:j] - y0) * uy

    def way(self, first: int, start_m: float) -> Floats:
        """Way from row `first` on along the smoothed path, where start_m had been covered there (m)."""
        steps = np.hypot(np.diff(self.east[first:]), np.diff(self.north[first:]))
        return start_m + np.concatenate(([0.0], np.cumsum(steps)))


def track_of(t: Floats, lat_deg: Floats, lon_deg: Floats) -> Track:
    """From positions in degrees; at least 5 rows."""
    east, north = from_first(lat_deg, lon_deg)
    dt = usual_step(t)
    half = max(1, min(round(0.5 * WINDOW_S / dt), (len(t) - 1) // 2))
    se, ve = _quadratic(t, east, half)
    sn, vn = _quadratic(t, north, half)
    speed = np.hypot(ve, vn)
    white = 0.5 * (_white(east) + _white(north))
    k = np.arange(-half, half + 1) * dt
    speed_noise = white / math.sqrt(float(k @ k))
    walk = _walk(t, east, north, speed, white, dt)
    spread = math.hypot(speed_noise, math.sqrt(walk / (2.0 * half * dt)))
    return Track(t, speed, se, sn, east, north, Noise(white, walk), spread)


def _quadratic(t: Floats, y: Floats, half: int) -> tuple[Floats, Floats]:
    """(value, slope) of the local quadratic at each row; windows are cut at the ends."""
    n = len(t)
    even = np.linspace(t[0], t[-1], n)
    uneven = float(np.abs(np.diff(t)).max()) > 1.5 * usual_step(t)
    x = np.interp(even, t, y) if uneven else y
    dt = (t[-1] - t[0]) / (n - 1)
    k = np.arange(-half, half + 1, dtype=np.float64)
    rows = np.linalg.pinv(np.vstack([np.ones_like(k), k, k * k]).T)
    value, slope = x.astype(np.float64), np.gradient(x, dt)
    if n >= 2 * half + 1:
        value[half : n - half] = np.convolve(x, rows[0][::-1], "valid")
        slope[half : n - half] = np.convolve(x, rows[1][::-1], "valid") / dt
        for edge in (slice(0, half), slice(n - half, n)):
            near = slice(0, 2 * half + 1) if edge.start == 0 else slice(n - 2 * half - 1, n)
            fit = np.polynomial.Polynomial.fit(even[near], x[near], 2)
            value[edge], slope[edge] = fit(even[edge]), fit.deriv()(even[edge])
    if uneven:
        return np.interp(t, even, value), np.interp(t, even, slope)
    return value, slope


def _white(y: Floats) -> float:
    """Standard deviation of white noise from third differences (robust)."""
    if len(y) < 8:
        return 0.1
    third = np.diff(y, 3)
    return float(np.median(np.abs(third - np.median(third)))) * 1.4826 / math.sqrt(20.0)


def _walk(t: Floats, east: Floats, north: Floats, speed: Floats, white: float, dt: float) -> float:
    """Growth of a slow error's variance a second, seen while it stands; the usual where it hardly stands."""
    lag = max(1, round(LONGEST_LAG_S / dt))
    still = speed < STANDING_M_S
    pairs = np.flatnonzero(still[:-lag] & still[lag:]) if len(t) > lag else np.array([], dtype=int)
    if len(pairs) * dt < 2.0:
        return WALK_M2_S
    moved = np.concatenate([east[pairs + lag] - east[pairs], north[pairs + lag] - north[pairs]])
    seen = (float(np.mean(moved**2)) - 2.0 * white**2) / (lag * dt)
    return max(seen, 0.25 * WALK_M2_S)
