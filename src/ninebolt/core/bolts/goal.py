"""Goal: what would it take? Needed power, thrust and energy against what the build has."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

from ninebolt.core.bolts.common import Context, Notes, Result, figure, term
from ninebolt.core.build import Build
from ninebolt.core.finding import Figure, Source, q
from ninebolt.core.simulate.assemble import (
    cell_nominal_v,
    moved_kg,
    take,
    total_kg,
)
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.simulate.steady import envelope
from ninebolt.core.vehicle.road import Body, road_load

PACK_TO_WHEEL = 0.84  # pack to tyre under load: motor 90 %, controller 97 %, chain 96 %. Practice.
SAG_SHARE = 0.90  # volts under load over nominal volts. Common practice, no source.
USABLE_SHARE = 0.90  # energy used before the cut-off. Common practice, no source.
CLASSES_V = (60.0, 72.0, 84.0, 96.0)
ROWS = 61


@dataclass(frozen=True, slots=True)
class VoltageRow:
    """What a pack of one voltage class would have to give."""

    nominal_v: float
    series: int | None
    line_a: float | None
    need_wh: float | None
    need_ah: float | None


@dataclass(frozen=True, slots=True)
class Check:
    """One wish against what the build does. met: yes, close, no or unknown."""

    label: str
    want: float | None
    have: float | None
    quantity: str
    met: str


@dataclass(frozen=True, slots=True)
class GoalDrawing:
    """Power over speed (W): what the road takes on the flat and on the hill, what the wheel has."""

    speed_m_s: list[float]
    flat_w: list[float]
    hill_w: list[float] | None
    have_w: list[float] | None
    target_m_s: float | None
    target_w: float | None
    hill_m_s: float | None
    hill_need_w: float | None
    volts: tuple[VoltageRow, ...]
    checks: tuple[Check, ...]


def body_of(build: Build) -> Body | None:
    """The bike on the road while motor and pack may still be unknown; None without a mass."""
    mass = total_kg(build)
    if math.isnan(mass):
        return None
    road = build.road
    height = take(road, "cg_height_m")
    return Body(
        mass,
        0.0,
        take(road, "cda_m2"),
        take(road, "crr"),
        take(road, "air_kg_m3"),
        take(road, "grade_pct"),
        height,
        take(road, "wheelbase_m"),
        take(road, "front_share"),
        take(build.gear.tyre, "grip_mu"),
        road.drag_height_m.or_else(height),
    )


def _power(body: Body, speed: float, grade_pct: float | None = None) -> float:
    if grade_pct is not None:
        body = dataclasses.replace(body, grade_pct=grade_pct)
    return road_load(body, speed).total_n * speed


def assess(build: Build, context: Context) -> Result:
    goal, notes = build.goal, Notes("goal")
    body = body_of(build)
    made, perf = context.look(build)
    if body is None:
        return Result((), (), ("donor.mass_kg",), None)
    target, hill, hill_v = goal.top_speed_m_s.amount, goal.hill_pct.amount, goal.hill_speed_m_s
    target_w = _power(body, target) if target else None
    hill_w = _power(body, hill_v.amount, hill) if hill is not None and hill_v.amount else None
    need_w = max([w for w in (target_w, hill_w) if w is not None], default=None)
    ride_wh = _ride_wh(build, body)
    checks = _checks(build, perf, body, hill_w)
    for check in checks:
        _say(notes, check)
    _money(build, notes)
    reach = 1.15 * max(target or 0.0, perf.top.speed_m_s if perf else 0.0, 15.0)
    speeds = [reach * i / (ROWS - 1) for i in range(ROWS)]
    drawing = GoalDrawing(
        speeds,
        [_power(body, v) for v in speeds],
        [_power(body, v, hill) for v in speeds] if hill is not None else None,
        envelope(perf.case, reach, ROWS).power_w if perf else None,
        target,
        target_w,
        hill_v.amount,
        hill_w,
        tuple(_row(build, v, need_w, ride_wh) for v in CLASSES_V),
        checks,
    )
    missing = () if target or goal.to_time_s.known or goal.ride_m.known else ("goal.top_speed_m_s",)
    return Result(
        _figures(build, body, target, target_w, hill_w, ride_wh),
        notes.done(),
        missing + (made.missing if not perf else ()),
        drawing,
    )


def _ride_wh(build: Build, body: Body) -> float | None:
    """Energy out of the pack for the wished ride at its speed."""
    distance = build.goal.ride_m.amount
    if distance is None:
        return None
    speed = take(build.goal, "cruise_m_s")
    extra = build.guard.dcdc.load_w.or_else(0.0) / speed
    return (road_load(body, speed).total_n / PACK_TO_WHEEL + extra) * distance / 3600.0


def _row(build: Build, volts: float, need_w: float | None, ride_wh: float | None) -> VoltageRow:
    cell_v = cell_nominal_v(build.pack.cell)
    amps = need_w / PACK_TO_WHEEL / (volts * SAG_SHARE) if need_w else None
    wh = ride_wh / USABLE_SHARE if ride_wh else None
    series = None if math.isnan(cell_v) else round(volts / cell_v)
    return VoltageRow(volts, series, amps, wh, wh / volts if wh else None)


def _met(want: float | None, have: float | None, larger: bool) -> str:
    if want is None or have is None:
        return "unknown"
    ratio = have / want if larger else want / have
    return "yes" if ratio >= 1.0 else "close" if ratio >= 0.95 else "no"


def _checks(
    build: Build, perf: Performance | None, body: Body, hill_w: float | None
) -> tuple[Check, ...]:
    goal = build.goal
    head = perf.headline if perf else None
    rows: list[tuple[str, float | None, float | None, str, bool]] = [
        ("Top speed", goal.top_speed_m_s.amount, head.top_speed_m_s if head else None, "m_s", True),
        ("Time to speed", goal.to_time_s.amount, head.to_time_s if head else None, "s", False),
        ("Range", goal.ride_m.amount, head.range_m if head else None, "m", True),
        ("Mass", goal.mass_max_kg.amount, _mass(build), "kg", False),
    ]
    if hill_w is not None and goal.hill_speed_m_s.amount:
        have = _power_at(perf, goal.hill_speed_m_s.amount) if perf else None
        rows.append(("Power on the hill", hill_w, have, "w", True))
    return tuple(
        Check(label, want, have, kind, _met(want, have, larger))
        for label, want, have, kind, larger in rows
        if want is not None
    )


def _mass(build: Build) -> float | None:
    kg = moved_kg(build)
    return None if math.isnan(kg) else kg


def _power_at(perf: Performance, speed: float) -> float:
    shown = perf.envelope
    if speed > shown.speed_m_s[-1]:
        return 0.0
    i = min(int(speed / shown.speed_m_s[-1] * (len(shown.speed_m_s) - 1)), len(shown.power_w) - 2)
    u = (speed - shown.speed_m_s[i]) / (shown.speed_m_s[i + 1] - shown.speed_m_s[i])
    return shown.power_w[i] * (1 - u) + shown.power_w[i + 1] * u


def _say(notes: Notes, check: Check) -> None:
    source = Source("build", "the goal of this build")
    if check.met in ("no", "close") and check.have is not None and check.want is not None:
        gap = check.have - check.want
        notes.add(
            "caution" if check.met == "no" else "note",
            f"short_{check.label.lower()}",
            f"{check.label}: {'short of the goal' if check.met == 'no' else 'nearly there'}",
            f"{check.label} comes to {q(check.have, check.quantity)}, the goal is "
            f"{q(check.want, check.quantity)} ({gap / check.want:+.0%} of the goal).",
            source,
            measured=check.have,
            limit=check.want,
            quantity=check.quantity,
        )
    elif check.met == "unknown" and check.want is not None and check.label == "Time to speed":
        notes.add(
            "note",
            "time_open",
            "The speed of the standing start is not reached",
            "The run never gets to that speed, or the build does not compute yet.",
            source,
            limit=check.want,
            quantity="s",
        )


def spent(build: Build) -> float:
    """Prices of the parts that carry one."""
    g, d, p = build.guard, build.drive, build.pack
    cells = (p.series or 0) * (p.parallel or 0) / (p.cell.body_series * p.cell.body_parallel)
    total = cells * p.cell.price_money.or_else(0.0)
    for part in (
        g.bms,
        g.fuse,
        g.isolator,
        g.plug,
        g.cable,
        g.dcdc,
        g.charger,
        d.controller,
        d.motor,
        build.donor,
        build.gear,
    ):
        total += part.price_money.or_else(0.0)
    return total


def _money(build: Build, notes: Notes) -> None:
    budget, cost = build.goal.budget_money.amount, spent(build)
    if budget is not None and cost > budget:
        notes.add(
            "caution",
            "budget",
            "Over the budget",
            f"The priced parts come to {cost:,.0f}, {cost - budget:,.0f} over the budget of "
            f"{budget:,.0f}.",
            Source("build", "prices in this build"),
            measured=cost,
            limit=budget,
            quantity="money",
        )


def _figures(
    build: Build,
    body: Body,
    target: float | None,
    target_w: float | None,
    hill_w: float | None,
    ride_wh: float | None,
) -> tuple[Figure, ...]:
    load = road_load(body, target) if target else None
    speed = take(build.goal, "cruise_m_s")
    return (
        figure(
            "need_top",
            "Wheel power for the top speed",
            target_w,
            "w",
            "(½ ρ CdA v² + Crr m g cosθ + m g sinθ) v",
            term("v", "Top speed wanted", target, "m_s", "goal.top_speed_m_s"),
            term("ρ", "Air density", body.air_kg_m3, "kg_m3", "road.air_kg_m3"),
            term("CdA", "Drag area", body.cda_m2, "m2", "road.cda_m2"),
            term("Crr", "Rolling resistance", body.crr, "ratio", "road.crr"),
            term("m", "Bike and rider", body.mass_kg, "kg"),
            term("F", "Road load", load.total_n if load else None, "n"),
        ),
        figure(
            "need_hill",
            "Wheel power on the hill",
            hill_w,
            "w",
            "road load on the grade x v",
            term("grade", "Hill", build.goal.hill_pct.amount, "pct", "goal.hill_pct"),
        ),
        figure(
            "need_wh",
            "Energy for the ride",
            ride_wh,
            "wh",
            "(F / η + lights / v) x distance",
            term("v", "Speed of the ride", speed, "m_s", "goal.cruise_m_s"),
            term("η", "Pack to tyre", PACK_TO_WHEEL, "ratio"),
        ),
        figure("spent", "Priced parts", spent(build), "money", "sum of the prices given"),
    )
