"""Goal: what would it take, does the build give it, and if not, what would have to give?"""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.reach import PACK_TO_WHEEL, estimated_kg, planned_body
from ninebolt.core.bike.ride import assembled
from ninebolt.core.bolts.common import Result, figure, nothing, term
from ninebolt.core.bolts.goal import checks
from ninebolt.core.bolts.goal.need import (
    Answer,
    Need,
    VoltageRow,
    answer,
    need_of,
    powers,
    voltage_rows,
)
from ninebolt.core.bolts.goal.wishes import Check, Give, spent, wishes
from ninebolt.core.bolts.register import judge
from ninebolt.core.build import Build
from ninebolt.core.finding import Figure
from ninebolt.core.parts.goal import ride_speed
from ninebolt.core.simulate.steady import envelope, settled
from ninebolt.core.vehicle.road import Body, road_load

__all__ = ["GoalDrawing", "assess", "checks"]
ROWS = 61


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
    answer: Answer
    checks: tuple[Check, ...]
    verdict: str
    gives: tuple[Give, ...]


def assess(bike: Bike) -> Result:
    build, goal, body, perf = bike.build, bike.build.goal, planned_body(bike), performance_of(bike)
    need = need_of(bike)
    if body is None or need is None:
        return Result((), judge("goal", bike), ("donor.mass_kg",), nothing)
    target, hill = goal.top_speed_m_s.amount, goal.hill_pct.amount
    named = target or goal.to_time_s.known or need.ride_wh is not None
    missing = () if named else ("goal.top_speed_m_s",)
    if goal.duty == "logged" and bike.ride is None:
        missing = (*missing, "prove.log_id")
    if goal.duty == "hill_runs" and hill is None:
        missing = (*missing, "goal.hill_pct")
    return Result(
        _figures(build, body, need),
        judge("goal", bike),
        missing + (assembled(bike).missing if not perf else ()),
        drawing,
    )


@fact
def drawing(bike: Bike) -> GoalDrawing | None:
    goal, body, perf = bike.build.goal, planned_body(bike), performance_of(bike)
    need = need_of(bike)
    if body is None or need is None:
        return None
    found = wishes(bike)
    target, hill = goal.top_speed_m_s.amount, goal.hill_pct.amount
    reach = 1.15 * max(target or 0.0, perf.top.speed_m_s if perf else 0.0, 15.0)
    speeds = [reach * i / (ROWS - 1) for i in range(ROWS)]
    rows = voltage_rows(bike, need)
    return GoalDrawing(
        speeds,
        powers(body, speeds),
        powers(body, speeds, hill) if hill is not None else None,
        envelope(settled(perf.case), reach, ROWS).power_w if perf else None,
        target,
        need.top_w,
        goal.hill_speed_m_s.amount,
        need.hill_w,
        need.time_w,
        goal.to_speed_m_s.taken,
        rows,
        answer(bike, need, rows),
        found.checks,
        found.verdict,
        found.gives,
    )


def _figures(build: Build, body: Body, need: Need) -> tuple[Figure, ...]:
    target = build.goal.top_speed_m_s.amount
    load = road_load(body, target) if target else None
    speed = ride_speed(build.goal)
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
            term("of it", "Drive and pack not chosen yet, estimated", estimated_kg(build), "kg"),
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
