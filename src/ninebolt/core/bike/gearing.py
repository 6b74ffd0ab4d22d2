"""Motor turns per wheel turn, and the wheel's radius."""

from __future__ import annotations

import math

from ninebolt.core.build import Build
from ninebolt.core.parts.rolling import Tyre
from ninebolt.core.vehicle.tyre import rolling_radius


def gear_ratio(build: Build) -> float:
    """Motor turns per wheel turn; nan if unknown. A hub motor without teeth: its reduction."""
    gear = build.gear
    if gear.ratio.amount is not None:
        return gear.ratio.amount
    if gear.front_teeth is not None and gear.rear_teeth is not None:
        return gear.reduction.taken * gear.rear_teeth / gear.front_teeth
    return gear.reduction.taken if build.drive.motor.kind == "hub" else math.nan


def wheel_radius_m(build: Build) -> float:
    return tyre_radius_m(build.gear.tyre) or math.nan


def tyre_radius_m(tyre: Tyre) -> float | None:
    """As rolled, else by the size on its wall; None if neither says."""
    if tyre.rolling_radius_m.amount is not None:
        return tyre.rolling_radius_m.amount
    return rolling_radius(tyre.code)
