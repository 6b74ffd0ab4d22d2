"""Made-up rides whose true splits are known in closed form: v = V (1 - e^(-s/T)) from rest."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq

from ninebolt.core.logs.ride import Floats, Ride


@dataclass(frozen=True)
class Truth:
    """A launch at t0_s towards top_m_s with a first acceleration of push_m_s2."""

    t0_s: float = 5.0
    top_m_s: float = 30.0
    push_m_s2: float = 6.0

    @property
    def tau_s(self) -> float:
        return self.top_m_s / self.push_m_s2

    def speed(self, t: Floats) -> Floats:
        s = np.maximum(t - self.t0_s, 0.0)
        return self.top_m_s * -np.expm1(-s / self.tau_s)

    def way(self, t: Floats) -> Floats:
        s = np.maximum(t - self.t0_s, 0.0)
        return self.top_m_s * (s + self.tau_s * np.expm1(-s / self.tau_s))

    def time_to(self, metres: float) -> float:
        at = self.t0_s
        return float(brentq(lambda s: self.way(np.array([at + s]))[0] - metres, 0.0, 200.0))

    def time_to_speed(self, m_s: float) -> float:
        return -self.tau_s * math.log1p(-m_s / self.top_m_s)


def degrees(east: Floats, north: Floats) -> tuple[Floats, Floats]:
    """(lat, lon) near 50° north, 8° east; radii of WGS 84 at that latitude from the GeographicLib formulas."""
    lat0 = math.radians(50.0)
    e2 = 0.00669437999014
    w2 = 1.0 - e2 * math.sin(lat0) ** 2
    meridian, prime = 6378137.0 * (1 - e2) / w2**1.5, 6378137.0 / math.sqrt(w2)
    lat = 50.0 + np.degrees(north / meridian)
    return lat, 8.0 + np.degrees(east / (prime * math.cos(lat0)))


def slow_noise(rng: np.random.Generator, n: int, dt: float, sd: float, tau: float) -> Floats:
    """First-order Gauss-Markov noise, as receivers' position errors wander."""
    keep = math.exp(-dt / tau)
    out = np.empty(n)
    out[0] = rng.normal(0, sd)
    for i in range(1, n):
        out[i] = keep * out[i - 1] + rng.normal(0, sd * math.sqrt(1 - keep * keep))
    return out


def by_positions(hz: float, seed: int, truth: Truth, seconds: float = 28.0) -> Ride:
    """Positions alone: 0.35 m that wander over 20 s, 5 cm white."""
    rng, dt = np.random.default_rng(seed), 1.0 / hz
    t = np.arange(0.0, seconds, dt) + rng.uniform(0.0, dt)
    wander = [slow_noise(rng, len(t), dt, 0.35, 20.0) + rng.normal(0, 0.05, len(t)) for _ in "ne"]
    way = truth.way(t)
    lat, lon = degrees(0.6 * way + wander[0], 0.8 * way + wander[1])
    return Ride("positions", {"t_s": t, "lat_deg": lat, "lon_deg": lon})


def by_speed(hz: float, seed: int, truth: Truth, seconds: float = 28.0, noise: float = 0.1) -> Ride:
    """Doppler speed with white noise."""
    rng, dt = np.random.default_rng(seed), 1.0 / hz
    t = np.arange(0.0, seconds, dt) + rng.uniform(0.0, dt)
    speed = np.maximum(truth.speed(t) + rng.normal(0, noise, len(t)), 0.0)
    return Ride("speed", {"t_s": t, "speed_m_s": speed})
