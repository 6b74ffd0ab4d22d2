"""Goal: each wish against what the build does, and what would have to give."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.layout import Option, fitted
from ninebolt.core.bike.mass import moved_kg
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.path import floor_v
from ninebolt.core.bike.reach import reach, unused_wh, wh_per_m
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.goal.need import Need, need_of
from ninebolt.core.build import Build
from ninebolt.core.parts.goal import ride_speed
from ninebolt.core.simulate.headline import Performance

CLOSE = 0.95
SLOWEST_M_S = 3.0
WISHES = {
    "top": "Top speed",
    "time": "Time to speed",
    "range": "Range",
    "power": "Power",
    "mass": "Mass",
    "runs": "Hill runs on one charge",
    "hill": "Power on the hill",
    "cost": "Cost of the priced parts",
}
ENERGY = ("range", "runs")  # wishes that more cells help


@dataclass(frozen=True, slots=True)
class Check:
    """One wish against what the build does. key: of WISHES. met: yes, close, no or unknown."""

    key: str
    label: str
    want: float | None
    have: float | None
    quantity: str
    met: str


@dataclass(frozen=True, slots=True)
class Give:
    """One thing that would have to give for a wish to come true: what, from, to. key: of the wish; cells: it is cells
    in parallel, which the bay decides, and not the ground."""

    key: str
    wish: str
    what: str
    cells: bool
    was: float | None
    to: float | None
    quantity: str
    possible: bool


@dataclass(frozen=True, slots=True)
class Wishes:
    """All checks, what would have to give, and the verdict."""

    checks: tuple[Check, ...]
    gives: tuple[Give, ...]
    verdict: str


@fact
def wishes(bike: Bike) -> Wishes:
    """Every wish against the build as it stands."""
    need, perf = need_of(bike), performance_of(bike)
    if need is None:
        return Wishes((), (), "open")
    checks = _checks(bike, perf, need)
    gives = _gives(bike, perf, need, checks)
    return Wishes(checks, gives, _verdict(checks, gives))


def _met(want: float | None, have: float | None, larger: bool) -> str:
    if want is None or have is None:
        return "unknown"
    ratio = have / want if larger else want / have
    return "yes" if ratio >= 1.0 else "close" if ratio >= CLOSE else "no"


def _checks(bike: Bike, perf: Performance | None, need: Need) -> tuple[Check, ...]:
    build, goal, far = bike.build, bike.build.goal, reach(bike)
    head = perf.headline if perf else None
    usable = far.usable_wh if far else perf.cruise.usable_wh if perf and perf.cruise else None
    kg = moved_kg(build)
    rows: list[tuple[str, float | None, float | None, str, bool]] = [
        ("top", goal.top_speed_m_s.amount, head.top_speed_m_s if head else None, "m_s", True),
        ("time", goal.to_time_s.amount, head.to_time_s if head else None, "s", False),
        (
            "range",
            need.ride_m if need.run_wh is None else None,
            head.range_m if head else None,
            "m",
            True,
        ),
        ("power", goal.power_w.amount, head.peak_wheel_w if head else None, "w", True),
        ("mass", goal.mass_max_kg.amount, kg if kg > 0 else None, "kg", False),
    ]
    if need.run_wh is not None and goal.runs:
        have = usable / need.run_wh if usable else None
        rows.append(("runs", float(goal.runs), have, "ratio", True))
    if need.hill_w is not None and goal.hill_speed_m_s.amount:
        power_there = max(0.0, _power_at(perf, goal.hill_speed_m_s.amount)) if perf else None
        rows.append(("hill", need.hill_w, power_there, "w", True))
    budget = goal.budget_money.amount
    if budget is not None:
        rows.append(("cost", budget, spent(build) or None, "money", False))
    missing = unpriced(build)
    label = WISHES | ({"cost": f"{WISHES['cost']}, {missing} without a price"} if missing else {})
    return tuple(
        Check(key, label[key], want, have, kind, _met(want, have, larger))
        for key, want, have, kind, larger in rows
        if want is not None
    )


def _power_at(perf: Performance, speed: float) -> float:
    shown = perf.held  # a hill and a top speed are ridden for long
    if speed > shown.speed_m_s[-1]:
        return 0.0
    i = min(int(speed / shown.speed_m_s[-1] * (len(shown.speed_m_s) - 1)), len(shown.power_w) - 2)
    u = (speed - shown.speed_m_s[i]) / (shown.speed_m_s[i + 1] - shown.speed_m_s[i])
    return shown.power_w[i] * (1 - u) + shown.power_w[i + 1] * u


def _verdict(checks: tuple[Check, ...], gives: tuple[Give, ...]) -> str:
    if any(c.met == "no" for c in checks):
        short = {c.key for c in checks if c.met == "no"}
        tight = any(not g.possible and g.cells for g in gives)
        return "not with this bay" if tight and short & set(ENERGY) else "not met"
    if not checks or any(c.met == "unknown" for c in checks):
        return "open"
    return "close" if any(c.met == "close" for c in checks) else "met"


def _gives(
    bike: Bike, perf: Performance | None, need: Need, checks: tuple[Check, ...]
) -> tuple[Give, ...]:
    """For each wish that falls short: what would have to move, and how far."""
    out: list[Give] = []
    for c in checks:
        if c.met not in ("no", "close") or perf is None or c.have is None or c.want is None:
            continue
        if c.key in ENERGY:
            out += _energy_gives(bike, perf, need, c)
        elif c.key == "time":
            out.append(_time_give(c, perf, need))
        elif c.key == "top":
            there = _power_at(perf, c.want)
            out.append(_give(c, "power at that speed", there, need.top_w, "w", True))
        elif c.key == "hill":
            out.append(_give(c, "power at the wheel", c.have, c.want, "w", True))
        else:
            out.append(_give(c, c.label.lower(), c.have, c.want, c.quantity, True))
    return tuple(out)


def _give(
    c: Check,
    what: str,
    was: float | None,
    to: float | None,
    quantity: str,
    possible: bool,
    cells: bool = False,
) -> Give:
    return Give(c.key, c.label, what, cells, was, to, quantity, possible)


def _time_give(c: Check, perf: Performance, need: Need) -> Give:
    """A time that is missed: more power, unless there is enough and it is the thrust from rest that
    is short (phase amps, gearing, grip)."""
    have = perf.headline.peak_wheel_w or 0.0
    if need.time_w is not None and need.time_w <= have and need.thrust_n is not None:
        now = max(perf.envelope.thrust_n)
        more = max(need.thrust_n, now * (c.have or 1.0) / (c.want or 1.0))
        return _give(c, "thrust from rest", now, more, "n", more <= need.ground_n)
    return _give(c, "power at the wheel", have, need.time_w, "w", need.time_w is not None)


def _energy_gives(bike: Bike, perf: Performance, need: Need, c: Check) -> list[Give]:
    """A ride that is too long: what a setting leaves in this pack, more cells if the bay has room, a shorter or a
    slower ride."""
    pack, far, facts = bike.build.pack, reach(bike), pack_facts(bike)
    usable = far.usable_wh if far else perf.cruise.usable_wh if perf.cruise else 0.0
    out, whole = [], usable
    if facts is not None and not math.isnan(facts.empty_v):
        ends, starts = floor_v(bike.build), pack.start_soc.taken
        left, to_empty = unused_wh(bike, facts, ends)
        whole = max(usable, to_empty)
        if left > (1.0 - CLOSE) * whole:
            what = "volts at which the pack is let go"
            out.append(_give(c, what, ends, facts.empty_v, "v", True))
        if starts < 1.0:
            out.append(_give(c, "charge at the start", 100.0 * starts, 100.0, "pct", True))
    step, wanted = pack.cell.body_parallel, 0
    if whole > 1.0 and need.ride_wh and pack.parallel:
        wanted = math.ceil(pack.parallel * need.ride_wh / whole / step) * step
    if wanted > (pack.parallel or 0):
        room = _room(bike)
        fits = room is None or room.parallel >= wanted
        out.append(_give(c, "cells in parallel", pack.parallel, wanted, "ratio", fits, cells=True))
    what = "the ride" if c.key == "range" else "the runs"
    out.append(_give(c, what, c.want, c.have, c.quantity, True))
    slow = _slower(bike, usable, need) if c.key == "range" else None
    if slow is not None:
        fast = ride_speed(bike.build.goal)
        out.append(_give(c, "speed of the ride", fast, slow, "m_s", True))
    return out


def _room(bike: Bike) -> Option | None:
    fit = fitted(bike)
    series = bike.build.pack.series
    return next((o for o in fit.options if o.series == series), None) if fit else None


def _slower(bike: Bike, usable: float, need: Need) -> float | None:
    """Speed at which the pack lasts for the wished ride (m/s); None if even walking pace does
    not."""
    if need.ride_m is None or bike.build.goal.duty == "logged":
        return None
    distance = need.ride_m

    def lasts(speed: float) -> bool:
        per = wh_per_m(bike, speed)
        return per is not None and per * distance <= usable

    low, high = SLOWEST_M_S, ride_speed(bike.build.goal)
    if not lasts(low):
        return None
    for _ in range(24):
        mid = 0.5 * (low + high)
        low, high = (mid, high) if lasts(mid) else (low, mid)
    return low


def _bought(build: Build) -> tuple[Any, ...]:
    g, d = build.guard, build.drive
    return (
        g.bms,
        g.fuse,
        g.isolator,
        g.plug,
        g.cable,
        g.phase_cable,
        g.precharge,
        g.dcdc,
        g.charger,
        d.controller,
        d.motor,
        build.donor,
        build.gear,
        build.gear.tyre,
    )


def spent(build: Build) -> float:
    """Prices of the parts that carry one."""
    p = build.pack
    cells = (p.series or 0) * (p.parallel or 0) / (p.cell.body_series * p.cell.body_parallel)
    total = cells * p.cell.price_money.or_else(0.0) + p.case_money.or_else(0.0)
    gear = build.gear
    often_kept = (gear.front_tyre, gear.front_brake, gear.rear_brake, gear.fork, gear.shock)
    parts = (*_bought(build), *often_kept)
    prices: list[float] = [part.price_money.or_else(0.0) for part in parts]
    return total + sum(prices)


def unpriced(build: Build) -> int:
    """How many parts carry no price; what a donor often keeps is not missed."""
    return sum(not part.price_money.known for part in (build.pack.cell, *_bought(build)))
