"""Goal: what would it take, does the build give it, and if not, what would have to give?"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.cells import facts_of
from ninebolt.core.bike.layout import Option, fitted
from ninebolt.core.bike.mass import moved_kg
from ninebolt.core.bolts.common import Context, Notes, Result, figure, term
from ninebolt.core.bolts.goal.need import (
    PACK_TO_WHEEL,
    Need,
    VoltageRow,
    body_of,
    need_of,
    power,
    voltage_rows,
    wh_per_m,
)
from ninebolt.core.build import Build
from ninebolt.core.finding import Change, Figure, Fix, Source, q
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.simulate.steady import envelope
from ninebolt.core.vehicle.road import Body, road_load

ROWS = 61
CLOSE = 0.95
SLOWEST_M_S = 3.0


@dataclass(frozen=True, slots=True)
class Check:
    """One wish against what the build does. met: yes, close, no or unknown."""

    label: str
    want: float | None
    have: float | None
    quantity: str
    met: str


@dataclass(frozen=True, slots=True)
class Give:
    """One thing that would have to give for a wish to come true: what, from, to."""

    wish: str
    what: str
    was: float | None
    to: float | None
    quantity: str
    possible: bool


@dataclass(frozen=True, slots=True)
class GoalDrawing:
    """Power over speed (W): what the road takes on the flat and on the hill, what the wheel has.

    verdict: met, close, not with this bay, not met, or open.
    """

    speed_m_s: list[float]
    flat_w: list[float]
    hill_w: list[float] | None
    have_w: list[float] | None
    target_m_s: float | None
    target_w: float | None
    hill_m_s: float | None
    hill_need_w: float | None
    time_need_w: float | None
    to_speed_m_s: float
    volts: tuple[VoltageRow, ...]
    checks: tuple[Check, ...]
    verdict: str
    gives: tuple[Give, ...]


def assess(build: Build, context: Context) -> Result:
    goal, notes = build.goal, Notes("goal")
    body = body_of(build)
    made, perf = context.look(build)
    if body is None:
        return Result((), (), ("donor.mass_kg",), None)
    need = need_of(build, body, context)
    checks = _checks(build, perf, need)
    gives = _gives(build, perf, body, need, context, checks)
    verdict = _verdict(checks, gives)
    _judge(build, notes, need, checks, gives, verdict)
    target, hill = goal.top_speed_m_s.amount, goal.hill_pct.amount
    reach = 1.15 * max(target or 0.0, perf.top.speed_m_s if perf else 0.0, 15.0)
    speeds = [reach * i / (ROWS - 1) for i in range(ROWS)]
    drawing = GoalDrawing(
        speeds,
        [power(body, v) for v in speeds],
        [power(body, v, hill) for v in speeds] if hill is not None else None,
        envelope(perf.case, reach, ROWS).power_w if perf else None,
        target,
        need.top_w,
        goal.hill_speed_m_s.amount,
        need.hill_w,
        need.time_w,
        goal.to_speed_m_s.taken,
        voltage_rows(build, need, context),
        checks,
        verdict,
        gives,
    )
    named = target or goal.to_time_s.known or need.ride_wh is not None
    missing = () if named else ("goal.top_speed_m_s",)
    if goal.duty == "logged" and context.ride is None:
        missing = (*missing, "prove.log_id")
    if goal.duty == "hill_runs" and hill is None:
        missing = (*missing, "goal.hill_pct")
    return Result(
        _figures(build, body, need),
        notes.done(),
        missing + (made.missing if not perf else ()),
        drawing,
    )


def _met(want: float | None, have: float | None, larger: bool) -> str:
    if want is None or have is None:
        return "unknown"
    ratio = have / want if larger else want / have
    return "yes" if ratio >= 1.0 else "close" if ratio >= CLOSE else "no"


def _checks(build: Build, perf: Performance | None, need: Need) -> tuple[Check, ...]:
    goal = build.goal
    head = perf.headline if perf else None
    usable = perf.cruise.usable_wh if perf and perf.cruise else None
    reach = usable / need.wh_per_m if usable and need.wh_per_m else None
    if goal.duty == "steady":
        reach = head.range_m if head else None
    kg = moved_kg(build)
    rows: list[tuple[str, float | None, float | None, str, bool]] = [
        ("Top speed", goal.top_speed_m_s.amount, head.top_speed_m_s if head else None, "m_s", True),
        ("Time to speed", goal.to_time_s.amount, head.to_time_s if head else None, "s", False),
        ("Range", need.ride_m if need.run_wh is None else None, reach, "m", True),
        ("Mass", goal.mass_max_kg.amount, None if math.isnan(kg) else kg, "kg", False),
    ]
    if need.run_wh is not None and goal.runs:
        have = usable / need.run_wh if usable else None
        rows.append(("Hill runs on one charge", float(goal.runs), have, "ratio", True))
    if need.hill_w is not None and goal.hill_speed_m_s.amount:
        power_there = _power_at(perf, goal.hill_speed_m_s.amount) if perf else None
        rows.append(("Power on the hill", need.hill_w, power_there, "w", True))
    budget = goal.budget_money.amount
    if budget is not None:
        rows.append(("Cost of the priced parts", budget, spent(build) or None, "money", False))
    return tuple(
        Check(label, want, have, kind, _met(want, have, larger))
        for label, want, have, kind, larger in rows
        if want is not None
    )


def _power_at(perf: Performance, speed: float) -> float:
    shown = perf.envelope
    if speed > shown.speed_m_s[-1]:
        return 0.0
    i = min(int(speed / shown.speed_m_s[-1] * (len(shown.speed_m_s) - 1)), len(shown.power_w) - 2)
    u = (speed - shown.speed_m_s[i]) / (shown.speed_m_s[i + 1] - shown.speed_m_s[i])
    return shown.power_w[i] * (1 - u) + shown.power_w[i + 1] * u


def _verdict(checks: tuple[Check, ...], gives: tuple[Give, ...]) -> str:
    if any(c.met == "no" for c in checks):
        short = {c.label for c in checks if c.met == "no"}
        tight = any(not g.possible and g.what == "cells in parallel" for g in gives)
        return (
            "not with this bay"
            if tight and short & {"Range", "Hill runs on one charge"}
            else "not met"
        )
    if not checks or any(c.met == "unknown" for c in checks):
        return "open"
    return "close" if any(c.met == "close" for c in checks) else "met"


def _gives(
    build: Build,
    perf: Performance | None,
    body: Body,
    need: Need,
    context: Context,
    checks: tuple[Check, ...],
) -> tuple[Give, ...]:
    """For each wish that falls short: what would have to move, and how far."""
    out: list[Give] = []
    for c in checks:
        if c.met not in ("no", "close") or perf is None or c.have is None or c.want is None:
            continue
        if c.label in ("Range", "Hill runs on one charge"):
            out += _energy_gives(build, perf, body, need, context, c)
        elif c.label == "Time to speed":
            out.append(
                Give(
                    c.label,
                    "power at the wheel",
                    perf.headline.peak_wheel_w,
                    need.time_w,
                    "w",
                    need.time_w is not None,
                )
            )
        elif c.label == "Top speed":
            there = _power_at(perf, c.want)
            out.append(Give(c.label, "power at that speed", there, need.top_w, "w", True))
        elif c.label == "Power on the hill":
            out.append(Give(c.label, "power at the wheel", c.have, c.want, "w", True))
        else:
            out.append(Give(c.label, c.label.lower(), c.have, c.want, c.quantity, True))
    return tuple(out)


def _energy_gives(
    build: Build, perf: Performance, body: Body, need: Need, context: Context, c: Check
) -> list[Give]:
    """A ride that is too long: more cells if the bay has room, a shorter or a slower ride."""
    pack = build.pack
    out = []
    if perf.cruise and perf.cruise.usable_wh > 1.0 and need.ride_wh and pack.parallel:
        step = pack.cell.body_parallel
        wanted = math.ceil(pack.parallel * need.ride_wh / perf.cruise.usable_wh / step) * step
        room = _room(build)
        fits = room is None or room.parallel >= wanted
        out.append(Give(c.label, "cells in parallel", pack.parallel, wanted, "ratio", fits))
    out.append(
        Give(
            c.label,
            "the ride" if c.label == "Range" else "the runs",
            c.want,
            c.have,
            c.quantity,
            True,
        )
    )
    slow = _slower(build, perf, body, need, context) if c.label == "Range" else None
    if slow is not None:
        out.append(
            Give(c.label, "speed of the ride", build.goal.cruise_m_s.taken, slow, "m_s", True)
        )
    return out


def _room(build: Build) -> Option | None:
    fit = fitted(build, facts_of(build.pack))
    return next((o for o in fit.options if o.series == build.pack.series), None) if fit else None


def _slower(
    build: Build, perf: Performance, body: Body, need: Need, context: Context
) -> float | None:
    """Speed at which the pack lasts for the wished ride (m/s); None if even walking pace does
    not."""
    if perf.cruise is None or need.ride_m is None or build.goal.duty == "logged":
        return None
    usable, distance = perf.cruise.usable_wh, need.ride_m

    def lasts(speed: float) -> bool:
        per = wh_per_m(build, body, context, speed)
        return per is not None and per * distance <= usable

    low, high = SLOWEST_M_S, build.goal.cruise_m_s.taken
    if not lasts(low):
        return None
    for _ in range(24):
        mid = 0.5 * (low + high)
        low, high = (mid, high) if lasts(mid) else (low, mid)
    return low


def _judge(
    build: Build,
    notes: Notes,
    need: Need,
    checks: tuple[Check, ...],
    gives: tuple[Give, ...],
    verdict: str,
) -> None:
    for check in checks:
        if check.quantity != "money":
            _say(notes, check, gives)
    _money(build, notes)
    if build.goal.to_time_s.known and need.time_w is None:
        want = build.goal.to_time_s.or_else(0.0)
        notes.add(
            "caution",
            "ground",
            "No power reaches this speed in this time",
            f"The ground takes {q(need.ground_n, 'n')} from rest; {q(need.thrust_n or 0.0, 'n')} "
            f"would be needed for {q(want, 's')}: the front lifts or the rear slips first. A "
            "longer wheelbase, a lower centre of mass or more time.",
            Source("computed", "moments about the rear contact patch"),
            measured=need.thrust_n,
            limit=need.ground_n,
            quantity="n",
            parts=("goal", "road"),
        )
    if verdict == "not with this bay":
        give = next(g for g in gives if not g.possible and g.what == "cells in parallel")
        notes.add(
            "caution",
            "bay",
            "The ride does not fit into this bay",
            f"It wants {give.to:.0f} in parallel and there is room for fewer. A second bay, denser "
            "cells, a shorter or a slower ride.",
            Source("computed", "packed to scale in the bays as measured"),
            measured=give.was,
            limit=give.to,
            parts=("donor", "pack"),
        )


def _say(notes: Notes, check: Check, gives: tuple[Give, ...]) -> None:
    source = Source("build", "the goal of this build")
    if check.met in ("no", "close") and check.have is not None and check.want is not None:
        gap = check.have - check.want
        notes.add(
            "caution" if check.met == "no" else "note",
            f"short_{check.label.lower()}",
            f"{check.label}: {'short of the goal' if check.met == 'no' else 'nearly there'}",
            f"{check.label} comes to {q(check.have, check.quantity)}, the goal is "
            f"{q(check.want, check.quantity)} ({gap / check.want:+.0%} against the goal).",
            source,
            measured=check.have,
            limit=check.want,
            quantity=check.quantity,
            fixes=_fixes(check, gives),
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


def _fixes(check: Check, gives: tuple[Give, ...]) -> tuple[Fix, ...]:
    """Energy can be bought with cells in one press, if the bay has room."""
    for g in gives:
        if g.wish == check.label and g.what == "cells in parallel" and g.possible and g.to:
            return (Fix(f"Go to {g.to:.0f} in parallel", (Change("pack.parallel", int(g.to)),)),)
    return ()


def spent(build: Build) -> float:
    """Prices of the parts that carry one."""
    g, d, p = build.guard, build.drive, build.pack
    cells = (p.series or 0) * (p.parallel or 0) / (p.cell.body_series * p.cell.body_parallel)
    total = cells * p.cell.price_money.or_else(0.0) + p.case_money.or_else(0.0)
    for part in (
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


def _figures(build: Build, body: Body, need: Need) -> tuple[Figure, ...]:
    target = build.goal.top_speed_m_s.amount
    load = road_load(body, target) if target else None
    speed = build.goal.cruise_m_s.taken
    return (
        figure(
            "need_top",
            "Wheel power for the top speed",
            need.top_w,
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
            "need_time",
            "Wheel power, standing start",
            need.time_w,
            "w",
            "least P with ∫ m dv / (min(P/v, ground) - load) = t",
            term("t", "Time wanted", build.goal.to_time_s.amount, "s", "goal.to_time_s"),
            term("F", "Constant thrust that would do it", need.thrust_n, "n"),
            term("ground", "The ground takes from rest", need.ground_n, "n"),
        ),
        figure(
            "need_hill",
            "Wheel power on the hill",
            need.hill_w,
            "w",
            "road load on the grade x v",
            term("grade", "Hill", build.goal.hill_pct.amount, "pct", "goal.hill_pct"),
        ),
        figure(
            "need_wh",
            "Energy for the ride",
            need.ride_wh,
            "wh",
            _duty_formula(build),
            term("v", "Speed of the ride", speed, "m_s", "goal.cruise_m_s"),
            term("x", "Distance", need.ride_m, "m", "goal.ride_m"),
            term("run", "One hill run", need.run_wh, "wh"),
            term("η", "Pack to tyre", PACK_TO_WHEEL, "ratio"),
        ),
        figure("spent", "Priced parts", spent(build), "money", "sum of the prices given"),
    )


def _duty_formula(build: Build) -> str:
    return {
        "steady": "(F / η + lights / v) x distance",
        "stop_and_go": "((F + ½ m v² / way between stops) / η + lights / v) x distance",
        "hill_runs": "runs x (m g h + (½ aero + rolling) way + ½ m v²) / η",
        "logged": "(∫ max(0, (m a + F) v) dt / way of the log / η + lights / v) x distance",
    }[build.goal.duty]
