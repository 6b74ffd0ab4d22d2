"""Gear: what ratio, and will the chassis bear it?"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.gearing import gear_ratio, wheel_radius_m
from ninebolt.core.bike.ride import assembled, bare_performance
from ninebolt.core.bolts.common import Result, figure, term
from ninebolt.core.bolts.gear import checks
from ninebolt.core.bolts.gear.checks import wheelie_n
from ninebolt.core.bolts.gear.ladder import Rung, ladder
from ninebolt.core.bolts.gear.limits import PITCH_M
from ninebolt.core.bolts.register import judge
from ninebolt.core.build import Build
from ninebolt.core.finding import PRACTICE, Figure
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.simulate.thrust import instant
from ninebolt.core.vehicle.tyre import free_radius, symbol_speed

__all__ = ["GearDrawing", "assess", "checks"]


@dataclass(frozen=True, slots=True)
class GearDrawing:
    """The ladder, longest ratio first; the two lines that the chassis draws across it."""

    rungs: tuple[Rung, ...]
    wheelie_n: float
    target_m_s: float | None
    tyre_m_s: float | None
    radius_m: float
    ratio: float


def assess(bike: Bike) -> Result:
    build, perf = bike.build, bare_performance(bike)
    if perf is None:
        return Result(_figures(build, None), judge("gear", bike), assembled(bike).missing, None)
    drawing = GearDrawing(
        ladder(bike),
        wheelie_n(bike),
        build.goal.top_speed_m_s.amount,
        symbol_speed(build.gear.tyre.speed_symbol),
        perf.case.radius_m,
        perf.case.ratio,
    )
    return Result(_figures(build, perf), judge("gear", bike), (), drawing)


def _figures(build: Build, perf: Performance | None) -> tuple[Figure, ...]:
    gear, ratio, radius = build.gear, gear_ratio(build), wheel_radius_m(build)
    pitch = PITCH_M.get(gear.chain)
    chain = None
    if perf and pitch and gear.rear_teeth:
        turns = perf.top.speed_m_s / (2 * math.pi * radius)
        chain = turns * gear.rear_teeth * pitch
    push = instant(perf.case, 0.0).free_n if perf else None
    return (
        figure(
            "ratio",
            "Ratio",
            ratio,
            "ratio",
            "reduction x rear / front",
            term("rear", "Rear teeth", gear.rear_teeth, "ratio", "gear.rear_teeth"),
            term("front", "Front teeth", gear.front_teeth, "ratio", "gear.front_teeth"),
            term(
                "i0",
                "Reduction inside the motor",
                gear.reduction.taken,
                "ratio",
                "gear.reduction",
            ),
        ),
        figure(
            "radius",
            "Rolling radius",
            radius,
            "m",
            "measured, or 0.97 x (rim / 2 + section height) from the size on the wall",
            term("free", "Unloaded radius", free_radius(gear.tyre.code), "m"),
            source=PRACTICE,
        ),
        figure(
            "speed_1000",
            "Speed per 1000 rpm",
            1000 / 60 * 2 * math.pi * radius / ratio,
            "m_s",
            "2π r n / ratio",
        ),
        figure(
            "wheel_torque",
            "Torque at the wheel, from rest",
            push * perf.case.radius_m if push is not None and perf else None,
            "nm",
            "thrust from rest x radius, before grip and wheelie hold it",
            term("F", "Thrust from rest", push, "n"),
            term("r", "Rolling radius", perf.case.radius_m if perf else None, "m"),
        ),
        figure(
            "chain_speed",
            "Chain speed at top speed",
            chain,
            "m_s",
            "teeth x pitch x turns",
            term("p", "Pitch", pitch, "m"),
        ),
    )
