"""Does what a run took out of the pack go with what it did to the bike? Energy at the wheel by mass, speed and road
load over the energy that was drawn."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ninebolt.core.limits import Limit
from ninebolt.core.logs.ride import Floats
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.vehicle.road import road_load

MUCH_LOST = Limit(
    0.55, "ratio", "of the drawn energy at the wheel; less than a sound drive brings there"
)
MASS_SPREAD = Limit(0.02, "ratio", "of a weighed bike and rider: clothes, tools, water")


@dataclass(frozen=True, slots=True)
class Brought:
    """share: of the energy out of the pack that is found at the wheel; u95: from mass, drag and rolling as far as they
    are known. sentence: '' where it goes together."""

    share: float
    u95: float
    wheel_j: float
    drawn_j: float
    sentence: str


def brought(
    t: Floats, v: Floats, power: Floats, case: RunCase, spreads: dict[str, float]
) -> Brought | None:
    """t (s), v (m/s), power out of the pack (W) of one run, same length. spreads: relative, of cda_m2 and crr. None
    where nothing was drawn."""
    drawn = float(np.trapezoid(power, t))
    if not drawn > 0.0:
        return None
    kinetic = 0.5 * case.effective_kg * float(v[-1] ** 2 - v[0] ** 2)
    loads = [road_load(case.body, float(x)) for x in v]
    air, rolling, grade = (
        float(np.trapezoid(np.array([getattr(x, k) for x in loads]) * v, t))
        for k in ("aero_n", "rolling_n", "grade_n")
    )
    wheel = kinetic + air + rolling + grade
    off = math.sqrt(
        (MASS_SPREAD * kinetic) ** 2
        + (spreads.get("cda_m2", 0.0) * air) ** 2
        + (spreads.get("crr", 0.0) * rolling) ** 2
    )
    share, u95 = wheel / drawn, off / drawn
    said = ""
    if share - u95 > 1.0:
        said = "More comes out at the wheel than went in: mass, slope, wind, or a sensor's scale is not as written."
    elif share + u95 < MUCH_LOST:
        said = (
            "Little of what was drawn is found at the wheel: a brake drags, the ammeter reads high, or the bike is "
            "heavier than written."
        )
    return Brought(share, u95, wheel, drawn, said)
