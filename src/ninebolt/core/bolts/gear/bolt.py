"""Gear: what ratio, and will the chassis bear it?"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.gearing import gear_ratio, wheel_radius_m
from ninebolt.core.bike.ride import assembled, bare_performance
from ninebolt.core.bike.running import (
    Braking,
    TopMode,
    brakes,
    fastest,
    made_for,
    ridden_body,
    top_mode,
)
from ninebolt.core.bolts.common import Result, figure, term
from ninebolt.core.bolts.gear import checks
from ninebolt.core.bolts.gear.chassis import (
    AxleLoad,
    ChainPull,
    HubHold,
    Seat,
    Springs,
    Standing,
    axle_loads,
    chain_pull,
    hub_hold,
    seat,
    springs,
    standing,
)
from ninebolt.core.bolts.gear.checks.ratio import current, wheelie_n
from ninebolt.core.bolts.gear.ladder import Rung, WheelRow, ladder, wheels
from ninebolt.core.bolts.register import judge
from ninebolt.core.finding import PRACTICE, Figure
from ninebolt.core.parts.goal import ride_speed
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.simulate.thrust import instant
from ninebolt.core.vehicle.chain import PITCH_M
from ninebolt.core.vehicle.road import wheelie_accel
from ninebolt.core.vehicle.tyre import free_radius, grown_m, symbol_speed

__all__ = ["GearDrawing", "assess", "checks"]


@dataclass(frozen=True, slots=True)
class Chassis:
    """What the chassis comes to. lifts_m_s2: where the front wheel leaves the ground. roll_kg_m: ridden
    mass x height, which every turn has to lift; was_roll_kg_m: the donor's at the same height."""

    axles: tuple[AxleLoad, ...]
    braking: Braking | None
    top_mode: TopMode | None
    springs: tuple[Springs, ...]
    standing: Standing | None
    hub: HubHold | None
    chain: ChainPull | None
    seat: Seat | None
    lifts_m_s2: float | None
    roll_kg_m: float | None
    was_roll_kg_m: float | None


@dataclass(frozen=True, slots=True)
class GearDrawing:
    """The ladder, longest ratio first, empty while nothing computes; the two lines that the chassis draws across it."""

    rungs: tuple[Rung, ...]
    wheels: tuple[WheelRow, ...]
    wheelie_n: float | None
    target_m_s: float | None
    to_speed_m_s: float
    tyre_m_s: float | None
    radius_m: float | None
    ratio: float | None
    chassis: Chassis


def assess(bike: Bike) -> Result:
    perf = bare_performance(bike)
    if perf is None:
        return Result(_figures(bike, None), judge("gear", bike), assembled(bike).missing, drawing)
    return Result(_figures(bike, perf), judge("gear", bike), (), drawing)


@fact
def drawing(bike: Bike) -> GearDrawing:
    """The chassis is there while nothing computes as well."""
    build, perf = bike.build, bare_performance(bike)
    radius, ratio = wheel_radius_m(build), gear_ratio(build)
    return GearDrawing(
        ladder(bike) if perf else (),
        wheels(bike) if perf else (),
        wheelie_n(bike) if perf else None,
        build.goal.top_speed_m_s.amount,
        build.goal.to_speed_m_s.taken,
        symbol_speed(build.gear.tyre.speed_symbol),
        radius if math.isfinite(radius) else None,
        ratio if math.isfinite(ratio) else None,
        _chassis(bike),
    )


def _chassis(bike: Bike) -> Chassis:
    body, was = ridden_body(bike), made_for(bike).kg
    return Chassis(
        axle_loads(bike),
        brakes(bike),
        top_mode(bike),
        springs(bike),
        standing(bike),
        hub_hold(bike),
        chain_pull(bike),
        seat(bike),
        wheelie_accel(body, 0.0) if body else None,
        body.mass_kg * body.cg_height_m if body else None,
        was * bike.build.donor.cg_y_m.taken if was else None,
    )


def _growth_pct(bike: Bike) -> float | None:
    """Of the rear tyre's radius at top speed; None for a size that is not read, or no speed."""
    code, top = bike.build.gear.tyre.code.strip(), fastest(bike)
    grown, free = (None if top is None else grown_m(code, top)), free_radius(code)
    return 100.0 * grown / free if grown is not None and free else None


def _figures(bike: Bike, perf: Performance | None) -> tuple[Figure, ...]:
    build = bike.build
    gear, ratio, radius = build.gear, gear_ratio(build), wheel_radius_m(build)
    push = instant(perf.case, 0.0).free_n if perf else None
    now, found, mode = current(bike), brakes(bike), top_mode(bike)
    top, body = fastest(bike), ridden_body(bike)
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
                "i0", "Reduction inside the motor", gear.reduction.taken, "ratio", "gear.reduction"
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
            "growth",
            "Tyre grows at top speed by",
            _growth_pct(bike),
            "pct",
            "0.5 % radial, 1.5 % cross-ply at 144 km/h, by the square of the speed. Runs stand on the rolling "
            "radius; at speed it goes so much farther a turn, and a display set by a roll reads so much low",
            term("v", "Top speed", top, "m_s"),
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
            "cruise_wh",
            "Energy at the speed of the ride",
            now.wh_m * 1000.0 if now and now.wh_m else None,
            "wh_km",
            "power at the controller / speed, steady on the flat, lights not counted",
            term("v", "Speed of the ride", ride_speed(build.goal), "m_s", "goal.cruise_m_s"),
        ),
        figure(
            "chain_speed",
            "Chain speed at top speed",
            now.chain_m_s if now else None,
            "m_s",
            "teeth x pitch x turns",
            term("p", "Pitch", PITCH_M.get(gear.chain), "m"),
        ),
        figure(
            "stop_energy",
            "A stop from top speed",
            found.stop_j if found else None,
            "j",
            "½ (m + J / r²) v², air and road counted as nothing",
            term("v", "Top speed", top, "m_s"),
            term(
                "m",
                "Ridden mass, rotating parts too",
                body.mass_kg + body.rotating_kg if body else None,
                "kg",
            ),
        ),
        figure(
            "fit_speed",
            "Brakes and tyres fit for",
            None if mode is None else top if mode.speed_m_s is None else mode.speed_m_s,
            "m_s",
            "the least of the tyres' symbols and what the brakes stand; the top speed if nothing is against it",
        ),
    )
