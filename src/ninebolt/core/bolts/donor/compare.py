"""Donor: what it did as it left the maker, what must change with more power, rules looked up."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.cells import cell_nominal_v, cell_peak_a, warm_share
from ninebolt.core.bike.gearing import wheel_radius_m
from ninebolt.core.bike.mass import rider_kg, total_kg
from ninebolt.core.bike.path import bms_peak_a, line_setting_a
from ninebolt.core.bolts.common import Context
from ninebolt.core.build import Build, Drive
from ninebolt.core.finding import q
from ninebolt.core.parts.donor import Donor
from ninebolt.core.parts.guard import Guard
from ninebolt.core.parts.rolling import Road
from ninebolt.core.simulate.headline import Headline, Performance
from ninebolt.core.value import Value

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


def stock_build(build: Build) -> Build | None:
    """The donor as it left the maker, as a build of its own; None while its mass is unknown."""
    donor, stock, road = build.donor, build.donor.stock, build.road
    if donor.mass_kg.amount is None:
        return None
    ridden = donor.mass_kg.amount + rider_kg(build.goal)
    return Build(
        donor=Donor(mass_kg=donor.mass_kg),
        goal=build.goal,
        pack=stock.pack,
        guard=Guard(bms=stock.bms),
        drive=Drive(controller=stock.controller, motor=stock.motor),
        gear=stock.gear,
        road=Road(
            total_kg=Value(ridden, "measured"),
            cda_m2=road.cda_m2,
            crr=road.crr,
            air_kg_m3=road.air_kg_m3,
            cg_height_m=road.cg_height_m,
            wheelbase_m=road.wheelbase_m,
            front_share=road.front_share,
            drag_height_m=road.drag_height_m,
        ),
    )


def stock_performance(build: Build, context: Context) -> Performance | None:
    """What the electric donor does; None for a gas roller or while too little is known."""
    if build.donor.kind != "electric_moto":
        return None
    stock = stock_build(build)
    return context.look(stock)[1] if stock else None


def stock_limits(build: Build, perf: Performance | None) -> tuple[StockLimit, ...]:
    """The chain of limits of the stock bike, narrowest first (A5)."""
    stock = build.donor.stock
    pack, series = stock.pack, stock.pack.series
    if build.donor.kind != "electric_moto" or series is None:
        return ()
    volts = series * cell_nominal_v(pack.cell)
    cells = cell_peak_a(pack.cell) * (pack.parallel or 1) * warm_share(pack)
    rows = [
        ("Cells, peak", "cells", cells),
        ("BMS, peak", "BMS", bms_peak_a(Guard(bms=stock.bms))),
        ("BMS, continuous", "BMS", stock.bms.i_cont_a.or_else(math.inf)),
        ("Controller, line amps", "line", line_setting_a(stock.controller)),
    ]
    out = [
        StockLimit(label, choke, amps, amps * volts)
        for label, choke, amps in rows
        if math.isfinite(amps) and math.isfinite(volts)
    ]
    out.sort(key=lambda r: r.power_w or 0.0)
    if perf is not None:
        out.append(StockLimit(f"Top speed held by {perf.top.choke}", perf.top.choke, None, None))
    return tuple(out)


def before_after(
    build: Build, stock: Performance | None, now: Performance | None
) -> tuple[BeforeAfter, ...]:
    """Each figure before and now; percentages are (now - base) / base, base measured if there."""
    s = build.donor.stock
    was = stock.headline if stock else Headline()
    then = now.headline if now else Headline()
    rows = (
        ("Top speed", "m_s", was.top_speed_m_s, s.top_m_s.amount, then.top_speed_m_s),
        ("Time to speed", "s", was.to_time_s, s.to_time_s.amount, then.to_time_s),
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


def must_change(build: Build, perf: Performance | None) -> tuple[MustChange, ...]:
    """The running gear against what it was made for, weightiest first (A7). Limits of the ratios:
    common practice, no source."""
    made, hub = build.donor.ratings, build.drive.motor.kind == "hub"
    mass = total_kg(build)
    power = perf.headline.peak_wheel_w if perf else None
    speed = perf.headline.top_speed_m_s if perf else None
    thrust = max(perf.envelope.thrust_n) if perf else None
    gross, was_v, was_w = made.gross_kg.amount, made.speed_m_s.amount, made.power_w.amount
    heavier = mass / gross if gross and not math.isnan(mass) else None
    faster = speed / was_v if speed and was_v else None
    stronger = power / was_w if power and was_w else None
    pulled = thrust / made.thrust_n.amount if thrust and made.thrust_n.amount else stronger
    stop = heavier * faster**2 if heavier and faster else None
    rows = [
        ("Brakes", stop, 1.0, 1.15, "energy of one stop, m v², over the one they were made for"),
        ("Tyres", faster, 0.95, 1.0, "top speed over the speed the bike was made for"),
        ("Fork and shock", heavier, 1.02, 1.08, "ridden mass over the one they were made for"),
        ("Chain and sprockets", pulled, 1.1, 1.3, "pull over the one they were made for"),
        ("Wheels and spokes", pulled, 1.3, 1.8, "pull over the one they were made for"),
        ("Motor mounts and swing-arm pivot", pulled, 1.3, 1.8, "pull over the one they held"),
    ]
    out = [
        MustChange(what, ratio, _verdict(ratio, a, b), reason) for what, ratio, a, b, reason in rows
    ]
    if hub:
        out.append(_torque_arms(build, thrust))
    order = {BEFORE: 0, WATCH: 1, OPEN: 2, KEEP: 3}
    return tuple(sorted(out, key=lambda m: order[m.verdict]))


def _torque_arms(build: Build, thrust: float | None) -> MustChange:
    radius = wheel_radius_m(build)
    known = thrust is not None and not math.isnan(radius)
    torque = (thrust or 0.0) * radius if known else math.nan
    words = f"the hub turns against its dropouts with {q(torque, 'nm')}" if known else "hub motor"
    return MustChange("Torque arms", None, BEFORE, words)


def questions(build: Build, perf: Performance | None) -> tuple[Question, ...]:
    """What to ask the authority (A8): the rules as the builder wrote them against the build."""
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
        asked = not (law.region.strip() and law.checked_on.strip())
        out.insert(0, Question("Vehicle class", law.vehicle_class, f"{where}, {when}", asked))
    touched = [c for c in build.donor.frame_changes if c.kind != "bolt_on"]
    if touched or law.frame_rule != "unknown":
        names = ", ".join(c.name or c.kind for c in touched[:3]) or "bolt-on only"
        clash = bool(touched) and law.frame_rule != "free"
        out.append(Question("Frame", law.frame_rule, names, clash))
    return tuple(out)


def legal_open(build: Build) -> bool:
    """Nothing has been looked up although it is to be ridden on roads."""
    road_use = build.goal.use in ("street", "supermoto", "commute")
    return road_use and not build.donor.legal.region.strip()
