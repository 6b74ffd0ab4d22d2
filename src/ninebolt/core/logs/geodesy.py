"""Short distances on the WGS 84 ellipsoid."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]

WGS84_A_M = 6378137.0
WGS84_F = 1 / 298.257223563


def step_lengths(lat_deg: Floats, lon_deg: Floats) -> Floats:
    """Distance between neighbours (m), shape n-1, from n positions in degrees.

    Radii of curvature at the middle of each step; better than 1 mm per km for steps under 1 km
    away from the poles. Source: WGS 84 ellipsoid, radii of curvature in meridian and prime
    vertical.
    """
    lat, lon = np.radians(lat_deg), np.radians(lon_deg)
    mid = 0.5 * (lat[1:] + lat[:-1])
    e2 = WGS84_F * (2.0 - WGS84_F)
    w2 = 1.0 - e2 * np.sin(mid) ** 2
    meridian = WGS84_A_M * (1.0 - e2) / w2**1.5
    prime = WGS84_A_M / np.sqrt(w2)
    dlon = (np.diff(lon) + np.pi) % (2.0 * np.pi) - np.pi
    return np.hypot(meridian * np.diff(lat), prime * np.cos(mid) * dlon)
