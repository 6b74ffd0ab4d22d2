"""Donor: what it did as it left the maker, what must change with more power, rules looked up."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.cells import cell_nominal_v, cell_peak_a, warm_share
from ninebolt.core.bike.chain import FUSE_SHARE
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.gearing import wheel_radius_m
from ninebolt.core.bike.mass import total_kg
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.path import bms_peak_a, line_setting_a
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.bike.running import (
    STOP_BEFORE,
    STOP_WATCH,
    made_for,
    stock_performance,
    stop_ratio,
)
from ninebolt.core.bolts.common import day_of
from ninebolt.core.bolts.donor.limits import (
    MASS_BEFORE,
    MASS_WATCH,
    POWER_BEFORE,
    POWER_WATCH,
    SPEED_BEFORE,
    SPEED_WATCH,
    WHEEL_BEFORE,
    WHEEL_WATCH,
)
from ninebolt.core.build import Build
from ninebolt.core.finding import listed, q
from ninebolt.core.parts.frame import Upgrade
from ninebolt.core.parts.guard import Guard
from ninebolt.core.simulate.headline import Headline, Performance
from ninebolt.core.simulate.run import Stop, reached_s, run
from ninebolt.core.vehicle.tyre import symbol_speed

BEFORE = "before riding"
WATCH = "watch"
KEEP = "stays"
OPEN = "unknown"


@dataclass(frozen=True, slots=True)
class StockLimit:
    """One limit of the bike as it left the maker, as pack power (W) where it is a current."""

    label: str
    choke: str
    amps: float | None
    power_w: float | None


@dataclass(frozen=True, slots=True)
class BeforeAfter:
    """One number before and now. base: what the percentage is of: measured, else computed."""

    label: str
    quantity: str
    stock: float | None
    measured: float | None
    now: float | None
    change: float | None


@dataclass(frozen=True, slots=True)
class MustChange:
    """One part of the running gear against the planned load: load now over load it was made for."""

    what: str
    ratio: float | None
    verdict: str
    reason: str


@dataclass(frozen=True, slots=True)
class Question:
    """One thing to put to the authority: what was looked up, what the build comes to."""

    about: str
    rule: str
    build: str
    open: bool


@fact
def stock_limits(bike: Bike) -> tuple[StockLimit, ...]:
    """The chain of limits of the stock bike in amps and in power, narrowest first; then what holds
    its top speed, a speed cap and the gearing included (A5)."""
    build, stock = bike.build, bike.build.donor.stock
    pack, series = stock.pack, stock.pack.series
    perf = stock_performance(bike)
    if build.donor.kind != "electric_moto" or series is None:
        return ()
    volts = series * cell_nominal_v(pack.cell)
    cells = cell_peak_a(pack.cell) * (pack.parallel or 1) * warm_share(pack)
    rows = [
        ("Cells, peak", "cells", cells),
        ("BMS, peak", "BMS", bms_peak_a(Guard(bms=stock.bms))),
        ("BMS, continuous", "BMS", stock.bms.i_cont_a.or_else(math.inf)),
        ("Plug, continuous", "path", stock.plug.i_cont_a.or_else(math.inf)),
        ("Fuse, continuous", "path", stock.fuse.rated_a.or_else(math.inf) * FUSE_SHARE),
        ("Controller, line amps", "line", line_setting_a(stock.controller)),
    ]
    out = [
        StockLimit(label, choke, amps, amps * volts)
        for label, choke, amps in rows
        if math.isfinite(amps) and math.isfinite(volts)
    ]
    label = stock.motor.label_w.amount
    if label is not None:
        out.append(StockLimit("Motor, by its label", "phase", label / volts, label))
    out.sort(key=lambda r: r.power_w or 0.0)
    return (*out, *_speed_limits(bike, perf))


def _speed_limits(bike: Bike, perf: Performance | None) -> list[StockLimit]:
    """What holds the stock bike's top speed: a cap, the drive, its gearing."""
    stock, out = bike.build.donor.stock, []
    cap = stock.cap_m_s.amount
    if cap is not None and (perf is None or cap < perf.top.speed_m_s):
        out.append(StockLimit(f"Top speed held by a cap at {q(cap, 'm_s')}", "line", None, None))
    elif perf is not None:
        words = " (its gearing)" if perf.top.choke == "volts" else ""
        out.append(
            StockLimit(f"Top speed held by {perf.top.choke}{words}", perf.top.choke, None, None)
        )
    return out


def _to(perf: Performance | None, speed: float) -> float | None:
    """Time to a speed of its own."""
    if perf is None or perf.top.speed_m_s <= speed:
        return None
    return reached_s(run(perf.case, Stop(speed_m_s=speed, seconds=90.0)), speed)


@fact
def before_after(bike: Bike) -> tuple[BeforeAfter, ...]:
    """Each figure before and now; percentages are (now - base) / base, base measured if there. A
    measured time belongs to the speed that it was measured to."""
    s, stock, now = bike.build.donor.stock, stock_performance(bike), performance_of(bike)
    was = stock.headline if stock else Headline()
    then = now.headline if now else Headline()
    own = s.to_m_s.amount
    label = "Time to speed" if own is None else f"Time to {q(own, 'm_s')}"
    times = (was.to_time_s, then.to_time_s) if own is None else (_to(stock, own), _to(now, own))
    rows = (
        ("Top speed", "m_s", was.top_speed_m_s, s.top_m_s.amount, then.top_speed_m_s),
        (label, "s", times[0], s.to_time_s.amount, times[1]),
        ("Peak power at the wheel", "w", was.peak_wheel_w, None, then.peak_wheel_w),
        ("Range", "m", was.range_m, s.ride_m.amount, then.range_m),
    )
    out = []
    for label, quantity, computed, measured, after in rows:
        base = measured if measured is not None else computed
        change = (after - base) / base if after is not None and base else None
        if computed is not None or measured is not None:
            out.append(BeforeAfter(label, quantity, computed, measured, after, change))
    return tuple(out)


def _verdict(ratio: float | None, watch: float, before: float) -> str:
    if ratio is None:
        return OPEN
    return BEFORE if ratio > before else WATCH if ratio > watch else KEEP


def _over(a: float | None, b: float | None) -> float | None:
    return a / b if a and b else None


@fact
def must_change(bike: Bike) -> tuple[MustChange, ...]:
    """The running gear against what it was made for, weightiest first (A7): by typed ratings, else by
    what the bike was as it left the maker. An upgrade that is written down counts."""
    build, perf, was = bike.build, performance_of(bike), made_for(bike)
    mass = total_kg(build)
    power = perf.headline.peak_wheel_w if perf else None
    speed = perf.top.speed_m_s if perf else None
    thrust = max(perf.envelope.thrust_n) if perf else None
    heavier = _over(None if math.isnan(mass) else mass, was.kg)
    faster, pulled = _over(speed, was.speed_m_s), _over(thrust, was.thrust_n)
    pull_word = "pull over the one they were made for"
    if pulled is None:
        pulled, pull_word = _over(power, was.power_w), "power over the one they were made for"
    stop = stop_ratio(bike)
    rows = [
        (
            "Brakes",
            stop,
            STOP_WATCH,
            STOP_BEFORE,
            "energy of one stop, m v², over the one they were made for",
        ),
        (
            "Fork and shock",
            heavier,
            MASS_WATCH,
            MASS_BEFORE,
            "ridden mass over the one they were made for",
        ),
        ("Chain and sprockets", pulled, POWER_WATCH, POWER_BEFORE, pull_word),
        ("Wheels and spokes", pulled, WHEEL_WATCH, WHEEL_BEFORE, pull_word),
        ("Motor mounts and swing-arm pivot", pulled, WHEEL_WATCH, WHEEL_BEFORE, pull_word),
    ]
    out = [
        MustChange(what, ratio, _verdict(ratio, a, b), reason) for what, ratio, a, b, reason in rows
    ]
    out.append(_tyres(build, speed, faster))
    if build.drive.motor.kind == "hub":
        out.append(_torque_arms(build, thrust))
    done = {u.what: u for u in build.donor.upgrades if u.fitted}
    out = [_upgraded(m, done.get(m.what.lower())) for m in out]
    order = {BEFORE: 0, WATCH: 1, OPEN: 2, KEEP: 3}
    return tuple(sorted(out, key=lambda m: order[m.verdict]))


def _upgraded(m: MustChange, u: Upgrade | None) -> MustChange:
    if u is None:
        return m
    words = f"upgraded{': ' + u.note if u.note else ''}; bed in and inspect before full speed"
    return MustChange(m.what, m.ratio, KEEP, words)


def _tyres(build: Build, speed: float | None, faster: float | None) -> MustChange:
    """Tyres by their own symbol; without one by what the bike was made for."""
    stands = symbol_speed(build.gear.tyre.speed_symbol)
    if stands is not None:
        ratio = _over(speed, stands)
        words = f"top speed over the {q(stands, 'm_s')} of their symbol"
        return MustChange("Tyres", ratio, _verdict(ratio, SPEED_WATCH, SPEED_BEFORE), words)
    words = "top speed over the speed the bike was made for; their own symbol is not read"
    return MustChange("Tyres", faster, _verdict(faster, SPEED_WATCH, SPEED_BEFORE), words)


def _torque_arms(build: Build, thrust: float | None) -> MustChange:
    radius = wheel_radius_m(build)
    known = thrust is not None and not math.isnan(radius)
    torque = (thrust or 0.0) * radius if known else math.nan
    words = f"the hub turns against its dropouts with {q(torque, 'nm')}" if known else "hub motor"
    return MustChange("Torque arms", None, BEFORE, words)


@fact
def questions(bike: Bike) -> tuple[Question, ...]:
    """What to ask the authority (A8): the rules as the builder wrote them against the build."""
    build, perf = bike.build, bare_performance(bike)
    law, head = build.donor.legal, perf.headline if perf else None
    mass = head.mass_kg if head else None
    rows = (
        ("Design speed", law.speed_max_m_s.amount, head.top_speed_m_s if head else None, "m_s"),
        ("Power", law.power_max_w.amount, head.peak_wheel_w if head else None, "w"),
        ("Mass", law.mass_max_kg.amount, mass, "kg"),
    )
    out = [
        Question(
            about,
            q(rule, kind),
            q(has, kind) if has is not None else "not computed yet",
            has is None or has > rule,
        )
        for about, rule, has, kind in rows
        if rule is not None
    ]
    if law.vehicle_class.strip():
        where = law.region.strip() or "no place noted"
        when = f"looked up {law.checked_on.strip()}" if law.checked_on.strip() else "no date noted"
        asked = not law.region.strip() or day_of(law.checked_on) is None
        out.insert(0, Question("Vehicle class", law.vehicle_class, f"{where}, {when}", asked))
    elif out and (not law.region.strip() or day_of(law.checked_on) is None):
        when = law.checked_on.strip() or "none noted"
        where = law.region.strip() or "no place"
        out.insert(0, Question("Place and date", "of one place and day", f"{where}, {when}", True))
    if law.vehicle_class.strip() and not any(r[1] is not None for r in rows):
        out.append(Question("Limits of that class", "none written down", "not compared", True))
    touched = [c for c in build.donor.frame_changes if c.kind != "bolt_on"]
    if touched or law.frame_rule != "unknown":
        names = listed([c.name or c.kind for c in touched]) or "bolt-on only"
        clash = bool(touched) and law.frame_rule != "free"
        out.append(Question("Frame", law.frame_rule, names, clash))
    return tuple(out)


def legal_open(build: Build) -> bool:
    """Nothing has been looked up although it is to be ridden on roads."""
    road_use = build.goal.use in ("street", "supermoto", "commute")
    return road_use and not build.donor.legal.region.strip()
