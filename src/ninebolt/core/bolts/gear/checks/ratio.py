"""Findings on the ratio: wheelie, a better pair, the motor's highest speed."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.bolts.gear.ladder import Rung, ladder
from ninebolt.core.bolts.gear.limits import MORE_PUSH
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Change, Fix, Source, q
from ninebolt.core.vehicle.chain import TEETH
from ninebolt.core.vehicle.road import road_load, wheelie_accel


def wheelie_n(bike: Bike) -> float:
    """Thrust from rest that lifts the front wheel; nan while the bike does not compute."""
    perf = bare_performance(bike)
    if perf is None:
        return math.nan
    body = perf.case.body
    return wheelie_accel(body, 0.0) * perf.case.effective_kg + road_load(body, 0.0).total_n


def current(bike: Bike) -> Rung | None:
    """The rung of the pair that is fitted."""
    return next((r for r in ladder(bike) if r.current), None)


@check(
    "gear.wheelie",
    "more thrust from rest than the chassis can use",
    source=Source("computed", "moments about the rear contact patch"),
)
def wheelie(bike: Bike) -> Says | None:
    now, lifts = current(bike), wheelie_n(bike)
    if now is None or now.launch_n <= lifts * MORE_PUSH:
        return None
    return Says(
        "note",
        "More thrust from rest than the chassis can use",
        f"{q(now.launch_n, 'n')} against {q(lifts, 'n')} where the front wheel lifts: a taller gear costs "
        "nothing at the start, or soften the first of the throttle.",
        now.launch_n,
        lifts,
        "n",
        fixes=_taller(ladder(bike), now, lifts),
    )


@check(
    "gear.taller",
    "another sprocket pair reaches the wanted speed",
    source=Source("computed", "steady balance on each ratio"),
)
def taller(bike: Bike) -> Says | None:
    now, target, perf = current(bike), bike.build.goal.top_speed_m_s.amount, bare_performance(bike)
    if now is None or not target or perf is None or perf.top.speed_m_s >= target:
        return None
    top = perf.top.speed_m_s
    better = [r for r in ladder(bike) if r.top_speed_m_s > max(top * 1.01, target) and not r.why]
    if not better:
        return None
    pick = min(better, key=lambda r: abs(r.ratio - now.ratio))
    return Says(
        "note",
        "Another sprocket pair reaches the wanted speed",
        f"{pick.front}/{pick.rear} comes to {q(pick.top_speed_m_s, 'm_s')} and gives "
        f"{pick.launch_n / now.launch_n - 1:+.0%} thrust from rest.",
        top,
        target,
        "m_s",
        fixes=(_pair(pick),),
    )


@check("gear.rpm", "the motor turns faster than it may", parts=("gear", "drive.motor"))
def rpm(bike: Bike) -> Says | None:
    now, most = current(bike), bike.build.drive.motor.rpm_max_rpm.amount
    if now is None or most is None or now.motor_rpm <= most:
        return None
    slower = [r for r in ladder(bike) if r.motor_rpm <= most and not r.why]
    pick = max(slower, key=lambda r: r.top_speed_m_s, default=None)
    return Says(
        "stop",
        "The motor turns faster than it may",
        f"{q(now.motor_rpm, 'rpm')} at top speed against {q(most, 'rpm')}: magnets come off the rotor. Gear "
        "it taller, or cap the speed in Tune.",
        now.motor_rpm,
        most,
        "rpm",
        fixes=(_pair(pick),) if pick and pick.front else (),
    )


def _pair(rung: Rung) -> Fix:
    return Fix(
        f"Fit {rung.front}/{rung.rear}",
        (Change("gear.front_teeth", rung.front), Change("gear.rear_teeth", rung.rear)),
    )


def _taller(rungs: tuple[Rung, ...], now: Rung, wheelie: float) -> tuple[Fix, ...]:
    usable = [r for r in rungs if r.ratio < now.ratio and r.launch_n >= wheelie and not r.why]
    return (_pair(min(usable, key=lambda r: r.ratio)),) if usable else ()


@check("gear.hub_sprockets", "a motor in the wheel, and sprockets", parts=("drive.motor",))
def hub_sprockets(bike: Bike) -> Says | None:
    gear = bike.build.gear
    if bike.build.drive.motor.kind != "hub" or not (gear.front_teeth and gear.rear_teeth):
        return None
    by = gear.rear_teeth / gear.front_teeth
    return Says(
        "caution",
        "A motor in the wheel, and sprockets",
        f"Thrust is counted {by:.3g} times and speed divided by as much, as if it sat in the frame and drove by a "
        "chain. In the wheel there is none: take the teeth out, or say that it is a mid-drive.",
        by,
        1.0,
        "ratio",
        fixes=(
            Fix(
                "It turns the wheel itself",
                (Change("gear.front_teeth", None), Change("gear.rear_teeth", None)),
            ),
            Fix("It drives by the chain", (Change("drive.motor.kind", "mid_drive"),)),
        ),
    )


@check(
    "gear.teeth",
    "a sprocket is fitted that is not made for this chain",
    source=Source("practice", "teeth that are made for a chain's size"),
)
def teeth(bike: Bike) -> Iterator[Says]:
    gear = bike.build.gear
    made = TEETH.get(gear.chain)
    if made is None:
        return
    for where, have, least, most, clears in (
        ("front", gear.front_teeth, made[0], made[1], gear.run.front_most),
        ("rear", gear.rear_teeth, made[2], made[3], gear.run.rear_most),
    ):
        if have is None or least <= have <= most:
            continue
        small = have < least
        to = least if small else most
        fits = clears is None or to <= clears
        yield Says(
            "caution",
            f"{have} teeth at the {where} are not made for {gear.chain}",
            f"{least} to {most} are. "
            + (
                "On fewer it bends hard over each link, wears fast and can climb."
                if small
                else "One would have to be cut, and the swing-arm and the ground must leave room for it."
            )
            + ("" if fits else f" {to} do not clear the frame, which leaves room for {clears}."),
            have,
            to,
            "count",
            at=where,
            fixes=(Fix(f"Fit {to}", (Change(f"gear.{where}_teeth", to),)),) if fits else (),
        )
