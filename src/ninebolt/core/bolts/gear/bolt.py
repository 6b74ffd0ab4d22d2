"""Gear: what ratio, and will the chassis bear it?"""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

from ninebolt.core.bike.gearing import gear_ratio, wheel_radius_m
from ninebolt.core.bolts.common import Context, Notes, Result, figure, term
from ninebolt.core.build import Build
from ninebolt.core.finding import PRACTICE, Change, Figure, Fix, Source, q
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.simulate.steady import top_speed
from ninebolt.core.simulate.thrust import instant
from ninebolt.core.vehicle.road import road_load, wheelie_accel
from ninebolt.core.vehicle.tyre import free_radius, symbol_speed

# Pitch in metres. ISO 606: 08B is 1/2 in, 10B is 5/8 in; motorcycle sizes from memory.
PITCH_M = {"415": 0.0127, "420": 0.0127, "428": 0.0127, "520": 0.015875, "530": 0.015875}
CHAIN_MAX_M_S = 35.0  # roller chain on open drives. Common practice, no source.


@dataclass(frozen=True, slots=True)
class Rung:
    """One sprocket pair. launch_n: what the drive could push from rest, before grip and wheelie."""

    front: int
    rear: int
    ratio: float
    top_speed_m_s: float
    top_choke: str
    launch_n: float
    accel_m_s2: float
    current: bool


@dataclass(frozen=True, slots=True)
class GearDrawing:
    """The ladder, longest ratio first; the two lines that the chassis draws across it."""

    rungs: tuple[Rung, ...]
    wheelie_n: float
    target_m_s: float | None
    tyre_m_s: float | None
    radius_m: float
    ratio: float


def rung_of(case: RunCase, front: int, rear: int, ratio: float, current: bool) -> Rung:
    """Top speed and launch with another ratio."""
    own = dataclasses.replace(case, ratio=ratio)
    top = top_speed(own)
    now = instant(own, 0.0)
    return Rung(front, rear, ratio, top.speed_m_s, top.choke, now.free_n, now.accel, current)


def _rungs(build: Build, case: RunCase) -> tuple[Rung, ...]:
    gear = build.gear
    f, r = gear.front_teeth, gear.rear_teeth
    if f is None or r is None or gear.ratio.known:
        return (rung_of(case, f or 0, r or 0, case.ratio, True),)
    reduction = gear.reduction.taken
    step = max(1, round(r / 24))
    pairs = {(f, r), (f - 1, r), (f + 1, r)} | {(f, r + k * step) for k in (-3, -2, -1, 1, 2, 3)}
    rungs = [
        rung_of(case, a, b, reduction * b / a, (a, b) == (f, r))
        for a, b in pairs
        if a >= 5 and b >= 10
    ]
    return tuple(sorted(rungs, key=lambda x: x.ratio))


def assess(build: Build, context: Context) -> Result:
    notes = Notes("gear")
    made, perf = context.look(build)
    if perf is None:
        return Result(_figures(build, None), notes.done(), made.missing, None)
    rungs = _rungs(build, perf.case)
    body = perf.case.body
    still = road_load(body, 0.0)
    wheelie = wheelie_accel(body, 0.0) * perf.case.effective_kg + still.total_n
    tyre = symbol_speed(build.gear.tyre.speed_symbol)
    target = build.goal.top_speed_m_s.amount
    _judge(build, notes, perf, rungs, tyre, wheelie)
    drawing = GearDrawing(rungs, wheelie, target, tyre, perf.case.radius_m, perf.case.ratio)
    return Result(_figures(build, perf), notes.done(), (), drawing)


def _figures(build: Build, perf: Performance | None) -> tuple[Figure, ...]:
    gear, ratio, radius = build.gear, gear_ratio(build), wheel_radius_m(build)
    pitch = PITCH_M.get(gear.chain)
    chain = None
    if perf and pitch and gear.rear_teeth:
        turns = perf.top.speed_m_s / (2 * math.pi * radius)
        chain = turns * gear.rear_teeth * pitch
    motor = perf.case.machine if perf else None
    torque = None
    if perf and motor:
        torque = 1.5 * motor.pole_pairs * motor.flux_vs * perf.case.phase_a
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
            "Torque at the wheel",
            torque * ratio if torque else None,
            "nm",
            "motor torque x ratio",
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


def _judge(
    build: Build,
    notes: Notes,
    perf: Performance,
    rungs: tuple[Rung, ...],
    tyre: float | None,
    wheelie: float,
) -> None:
    top = perf.top.speed_m_s
    if tyre is not None and top > tyre:
        notes.add(
            "stop",
            "tyre",
            "The tyre is not made for this speed",
            f"Symbol {build.gear.tyre.speed_symbol.upper()} stands {q(tyre, 'm_s')}, the bike "
            f"reaches {q(top, 'm_s')}. Fit a faster tyre, or gear it down.",
            Source("memory", "speed symbols of UN R75, from memory"),
            measured=top,
            limit=tyre,
            quantity="m_s",
            parts=("gear.tyre",),
        )
    elif tyre is None:
        notes.add(
            "caution",
            "tyre_unknown",
            "The tyre's speed symbol is not known",
            f"The bike reaches {q(top, 'm_s')}. Read the letter after the size on the wall.",
            PRACTICE,
            measured=top,
            quantity="m_s",
            parts=("gear.tyre",),
        )
    now = next((r for r in rungs if r.current), None)
    if now and now.launch_n > wheelie * 1.05:
        notes.add(
            "note",
            "wheelie",
            "More thrust from rest than the chassis can use",
            f"{q(now.launch_n, 'n')} against {q(wheelie, 'n')} where the front wheel lifts: a "
            "taller gear costs nothing at the start, or soften the first of the throttle.",
            Source("computed", "moments about the rear contact patch"),
            measured=now.launch_n,
            limit=wheelie,
            quantity="n",
            fixes=_taller(rungs, now, wheelie),
        )
    target = build.goal.top_speed_m_s.amount
    if now and target and top < target:
        better = [r for r in rungs if r.top_speed_m_s > max(top * 1.01, target)]
        if better:
            pick = min(better, key=lambda r: abs(r.ratio - now.ratio))
            notes.add(
                "note",
                "taller",
                "Another sprocket pair reaches the wanted speed",
                f"{pick.front}/{pick.rear} comes to {q(pick.top_speed_m_s, 'm_s')} and gives "
                f"{pick.launch_n / now.launch_n - 1:+.0%} thrust from rest.",
                Source("computed", "steady balance on each ratio"),
                measured=top,
                limit=target,
                quantity="m_s",
                fixes=(_pair(pick),),
            )
    chain = build.gear.chain
    if chain in PITCH_M and build.gear.rear_teeth:
        turns = top / (2 * math.pi * perf.case.radius_m)
        speed = turns * build.gear.rear_teeth * PITCH_M[chain]
        if speed > CHAIN_MAX_M_S:
            notes.add(
                "caution",
                "chain",
                "The chain runs very fast",
                f"{q(speed, 'm_s')} at top speed.",
                PRACTICE,
                measured=speed,
                limit=CHAIN_MAX_M_S,
                quantity="m_s",
                parts=("gear",),
            )


def _pair(rung: Rung) -> Fix:
    return Fix(
        f"Fit {rung.front}/{rung.rear}",
        (Change("gear.front_teeth", rung.front), Change("gear.rear_teeth", rung.rear)),
    )


def _taller(rungs: tuple[Rung, ...], now: Rung, wheelie: float) -> tuple[Fix, ...]:
    usable = [r for r in rungs if r.ratio < now.ratio and r.launch_n >= wheelie]
    return (_pair(min(usable, key=lambda r: r.ratio)),) if usable else ()
