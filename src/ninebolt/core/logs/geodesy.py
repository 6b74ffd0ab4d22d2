"""Short distances on the WGS 84 ellipsoid."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]

WGS84_A_M = 6378137.0
WGS84_F = 1 / 298.257223563


def from_first(lat_deg: Floats, lon_deg: Floats) -> tuple[Floats, Floats]:
    """(east, north) of each position from the first (m), on the plane that touches there: within 1 mm a km for rides
    of a few kilometres. Radii as in step_lengths."""
    lat = np.radians(lat_deg)
    meridian, prime = _radii(0.5 * (lat + lat[0]))
    dlon = (np.radians(lon_deg - lon_deg[0]) + np.pi) % (2.0 * np.pi) - np.pi
    return prime * np.cos(lat[0]) * dlon, meridian * (lat - lat[0])


def _radii(lat: Floats) -> tuple[Floats, Floats]:
    """Radii of curvature in the meridian and across it (m). lat: radians."""
    e2 = WGS84_F * (2.0 - WGS84_F)
    w2 = 1.0 - e2 * np.sin(lat) ** 2
    return WGS84_A_M * (1.0 - e2) / w2**1.5, WGS84_A_M / np.sqrt(w2)


def step_lengths(lat_deg: Floats, lon_deg: Floats) -> Floats:
    """Distance between neighbours (m), shape n-1, from n positions in degrees.

    Radii of curvature at the middle of each step; better than 1 mm per km for steps under 1 km
    away from the poles. Source: WGS 84 ellipsoid, radii of curvature in meridian and prime
    vertical.
    """
    lat, lon = np.radians(lat_deg), np.radians(lon_deg)
    mid = 0.5 * (lat[1:] + lat[:-1])
    meridian, prime = _radii(mid)
    dlon = (np.diff(lon) + np.pi) % (2.0 * np.pi) - np.pi
    return np.hypot(meridian * np.diff(lat), prime * np.cos(mid) * dlon)
