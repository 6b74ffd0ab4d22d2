"""The Drive picture in other conditions: charge, temperatures, grade, wind. Nothing is kept."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.drive import bolt as drive
from ninebolt.core.bolts.drive.bolt import DriveDrawing
from ninebolt.core.build import Build
from ninebolt.core.codec import replaced
from ninebolt.core.value import Value
from ninebolt.errors import InputError


@dataclass(frozen=True, slots=True)
class Conditions:
    """What a ride starts in; None: as the build says. SI."""

    soc: float | None = None
    cells_c: float | None = None
    motor_c: float | None = None
    grade_pct: float | None = None
    wind_m_s: float | None = None


PATHS = {
    "soc": "pack.start_soc",
    "cells_c": "pack.temp_c",
    "motor_c": "drive.motor.start_c",
    "grade_pct": "road.grade_pct",
    "wind_m_s": "road.wind_m_s",
}


def in_conditions(build: Build, asked: Conditions) -> Build:
    """The build with the conditions in place."""
    for key, path in PATHS.items():
        value = getattr(asked, key)
        if value is not None:
            build = replaced(build, path, Value(float(value), "guess", 0.0))
    return build


def drive_at(build: Build, asked: Conditions) -> DriveDrawing:
    """The picture. Raises InputError while the bike does not compute."""
    drawing = drive.drawing(Bike(in_conditions(build, asked)))
    if drawing is None:
        raise InputError(
            "There is no picture yet: the bike does not compute.",
            todo="Fill in what Drive calls missing.",
        )
    return drawing
