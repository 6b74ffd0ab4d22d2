"""Gear's findings: tyre speed, wheelie, a better pair, chain speed."""

from __future__ import annotations

import math

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.bolts.gear.ladder import Rung, ladder
from ninebolt.core.bolts.gear.limits import CHAIN_MAX_M_S, MORE_PUSH, PITCH_M
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Change, Fix, Source, q
from ninebolt.core.vehicle.road import road_load, wheelie_accel
from ninebolt.core.vehicle.tyre import free_radius, is_rim, symbol_speed


def wheelie_n(bike: Bike) -> float:
    """Thrust from rest that lifts the front wheel; nan while the bike does not compute."""
    perf = bare_performance(bike)
    if perf is None:
        return math.nan
    body = perf.case.body
    return wheelie_accel(body, 0.0) * perf.case.effective_kg + road_load(body, 0.0).total_n


@check(
    "gear.tyre",
    "top speed is above the tyre's symbol",
    parts=("gear.tyre",),
    source=Source("memory", "speed symbols of UN R75, from memory"),
)
def tyre(bike: Bike) -> Says | None:
    perf, symbol = bare_performance(bike), bike.build.gear.tyre.speed_symbol
    stands = symbol_speed(symbol)
    if perf is None or stands is None or perf.top.speed_m_s <= stands:
        return None
    top = perf.top.speed_m_s
    return Says(
        "stop",
        "The tyre is not made for this speed",
        f"Symbol {symbol.upper()} stands {q(stands, 'm_s')}, the bike reaches {q(top, 'm_s')}. Fit a "
        "faster tyre, or gear it down.",
        top,
        stands,
        "m_s",
    )


@check(
    "gear.tyre_size",
    "the tyre's size is written in a way that is not understood",
    parts=("gear.tyre",),
)
def tyre_size(bike: Bike) -> Says | None:
    tyre = bike.build.gear.tyre
    code = tyre.code.strip()
    if not code or tyre.rolling_radius_m.known or free_radius(code) is not None:
        return None
    what = (
        "That is a rim: its diameter and its width."
        if is_rim(code)
        else "It is read as 110/90-18, 120/70ZR17, 2.75-17 or 26x4.0."
    )
    return Says(
        "caution",
        "The tyre's size is not understood",
        f"'{code[:30]}' gives no radius, and without one no speed. {what} Copy the size off the tyre's "
        "wall, or roll the wheel one turn with the rider on and give the radius.",
    )


@check("gear.tyre_unknown", "the tyre's speed symbol is not known", parts=("gear.tyre",))
def tyre_unknown(bike: Bike) -> Says | None:
    perf = bare_performance(bike)
    if perf is None or symbol_speed(bike.build.gear.tyre.speed_symbol) is not None:
        return None
    return Says(
        "caution",
        "The tyre's speed symbol is not known",
        f"The bike reaches {q(perf.top.speed_m_s, 'm_s')}. Read the letter after the size on the wall.",
        perf.top.speed_m_s,
        None,
        "m_s",
    )


def _now(bike: Bike) -> Rung | None:
    return next((r for r in ladder(bike) if r.current), None)


@check(
    "gear.wheelie",
    "more thrust from rest than the chassis can use",
    source=Source("computed", "moments about the rear contact patch"),
)
def wheelie(bike: Bike) -> Says | None:
    now, lifts = _now(bike), wheelie_n(bike)
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
    now, target, perf = _now(bike), bike.build.goal.top_speed_m_s.amount, bare_performance(bike)
    if now is None or not target or perf is None or perf.top.speed_m_s >= target:
        return None
    top = perf.top.speed_m_s
    better = [r for r in ladder(bike) if r.top_speed_m_s > max(top * 1.01, target)]
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


@check("gear.chain", "the chain runs very fast", parts=("gear",))
def chain(bike: Bike) -> Says | None:
    perf, gear = bare_performance(bike), bike.build.gear
    if perf is None or gear.chain not in PITCH_M or not gear.rear_teeth:
        return None
    turns = perf.top.speed_m_s / (2 * math.pi * perf.case.radius_m)
    speed = turns * gear.rear_teeth * PITCH_M[gear.chain]
    if speed <= CHAIN_MAX_M_S:
        return None
    return Says(
        "caution",
        "The chain runs very fast",
        f"{q(speed, 'm_s')} at top speed.",
        speed,
        CHAIN_MAX_M_S,
        "m_s",
    )


def _pair(rung: Rung) -> Fix:
    return Fix(
        f"Fit {rung.front}/{rung.rear}",
        (Change("gear.front_teeth", rung.front), Change("gear.rear_teeth", rung.rear)),
    )


def _taller(rungs: tuple[Rung, ...], now: Rung, wheelie: float) -> tuple[Fix, ...]:
    usable = [r for r in rungs if r.ratio < now.ratio and r.launch_n >= wheelie]
    return (_pair(min(usable, key=lambda r: r.ratio)),) if usable else ()
