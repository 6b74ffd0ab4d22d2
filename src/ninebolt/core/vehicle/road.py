"""Forces on the bike along a straight road, and what the ground lets through.

Moments are taken about the rear contact patch; a rising front wheel carries nothing.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, cast

import numpy as np
import numpy.typing as npt

from ninebolt.units import GRAVITY_M_S2, KELVIN_AT_0_C


@dataclass(frozen=True, slots=True)
class Body:
    """Rider and bike. front_share: static load share of the front axle on level ground. wind_m_s: from
    ahead."""

    mass_kg: float
    rotating_kg: float
    cda_m2: float
    crr: float
    air_kg_m3: float
    grade_pct: float
    cg_height_m: float
    wheelbase_m: float
    front_share: float
    grip_mu: float
    drag_height_m: float
    wind_m_s: float = 0.0

    @property
    def slope_rad(self) -> float:
        return math.atan(self.grade_pct / 100.0)


AIR_J_KG_K = 287.05287  # specific gas constant of dry air, ISO 2533 (standard atmosphere)
STANDARD_HPA = 1013.25  # the same, at sea level


def air_density(temp_c: float, pressure_hpa: float = STANDARD_HPA) -> float:
    """Density of dry air (kg/m³), ideal gas."""
    return 100.0 * pressure_hpa / (AIR_J_KG_K * (temp_c + KELVIN_AT_0_C))


@dataclass(frozen=True, slots=True)
class RoadLoad:
    """The parts of the road load in newtons, at one speed."""

    aero_n: float
    rolling_n: float
    grade_n: float

    @property
    def total_n(self) -> float:
        return self.aero_n + self.rolling_n + self.grade_n


def road_load(body: Body, speed_m_s: float) -> RoadLoad:
    """½ rho CdA (v + wind)² + Crr m g cos + m g sin (N)."""
    weight = body.mass_kg * GRAVITY_M_S2
    slope, air = body.slope_rad, speed_m_s + body.wind_m_s
    return RoadLoad(
        0.5 * body.air_kg_m3 * body.cda_m2 * air * abs(air),
        body.crr * weight * math.cos(slope),
        weight * math.sin(slope),
    )


def road_loads(body: Body, speeds_m_s: npt.NDArray[np.float64]) -> Any:
    """road_load of a column of speeds at once: the same sums, each a column or one number."""
    return road_load(body, cast(float, speeds_m_s))


def wheelie_accel(body: Body, aero_n: float) -> float:
    """Acceleration at which the front wheel leaves the ground (m/s²)."""
    slope = body.slope_rad
    weight = body.mass_kg * GRAVITY_M_S2
    restoring = weight * math.cos(slope) * body.front_share * body.wheelbase_m
    lifting = weight * math.sin(slope) * body.cg_height_m + aero_n * body.drag_height_m
    return (restoring - lifting) / (body.mass_kg * body.cg_height_m)


def grip_accel(body: Body, load: RoadLoad) -> float:
    """Acceleration at which the rear tyre slips, load transfer included (m/s²); inf if never.

    The force through the contact patch is m a + road load; the share that spins up wheels and
    rotor does not pass through it. Rear load: static share + (h/L)(m a + grade + aero).
    """
    mu, lever = body.grip_mu, body.cg_height_m / body.wheelbase_m
    room = 1.0 - mu * lever
    if math.isinf(mu) or room <= 0.0:
        return math.inf
    static = body.mass_kg * GRAVITY_M_S2 * math.cos(body.slope_rad) * (1.0 - body.front_share)
    pushed = lever * load.grade_n + body.drag_height_m / body.wheelbase_m * load.aero_n
    return (mu * (static + pushed) - load.total_n) / (body.mass_kg * room)


def rear_load(body: Body, load: RoadLoad, accel_m_s2: float) -> float:
    """Load on the rear tyre (N)."""
    static = body.mass_kg * GRAVITY_M_S2 * math.cos(body.slope_rad) * (1.0 - body.front_share)
    inertia = body.mass_kg * accel_m_s2 + load.grade_n
    return (
        static
        + body.cg_height_m / body.wheelbase_m * inertia
        + body.drag_height_m / body.wheelbase_m * load.aero_n
    )
