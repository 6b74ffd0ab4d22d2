"""The runs that the goal plans, one after the other, and how warm they make cells and windings."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.battery.heat import CELL_J_KG_K, repeated
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.ride import assembled, bare_performance
from ninebolt.core.build import Build
from ninebolt.core.simulate.session import Session, on_grade, session
from ninebolt.core.vehicle.splits import MILE_4_M


@dataclass(frozen=True, slots=True)
class SessionRow:
    """One run of the session: its time, end speed, charge left, pack and winding temperature."""

    time_s: float
    end_speed_m_s: float
    soc: float
    pack_c: float
    winding_c: float


def lump_j_k(build: Build) -> float | None:
    """Heat capacity of all bodies; None while neither it nor a mass is known."""
    pack, cell = build.pack, build.pack.cell
    bodies = (pack.series or 0) * (pack.parallel or 0) / (cell.body_series * cell.body_parallel)
    if cell.heat_j_k.amount is not None:
        return bodies * cell.heat_j_k.amount
    return bodies * cell.mass_kg.amount * CELL_J_KG_K if cell.mass_kg.amount is not None else None


@fact
def planned_session(bike: Bike) -> Session | None:
    """The runs that the goal plans, one after the other; None if none are planned."""
    goal, case = bike.build.goal, assembled(bike).case
    if case is None or goal.runs is None or goal.runs < 2:
        return None
    way, grade = MILE_4_M, goal.hill_pct.amount
    if goal.duty == "hill_runs" and grade:
        case = on_grade(case, grade)
        way = goal.climb_m.taken / math.sin(math.atan(grade / 100.0))
    return session(case, goal.runs, goal.rest_s.taken, way)


@fact
def session_rows(bike: Bike) -> tuple[SessionRow, ...]:
    """The session run by run, with the pack's temperature."""
    build, done = bike.build, planned_session(bike)
    lump = lump_j_k(build)
    if done is None or lump is None:
        return ()
    start = build.pack.temp_c.taken
    temps = repeated(
        start,
        start,
        [r.pack_heat_j for r in done.runs],
        build.goal.rest_s.taken,
        lump,
        build.pack.air_k_w.taken,
    )
    return tuple(
        SessionRow(r.time_s, r.end_speed_m_s, r.soc, temp, r.winding_c)
        for r, temp in zip(done.runs, temps, strict=True)
    )


@fact
def one_run_k(bike: Bike) -> float | None:
    """By how much one run warms the cells (K); None while their heat capacity is not known."""
    perf, lump = bare_performance(bike), lump_j_k(bike.build)
    return perf.run.energy.pack_heat_j / lump if perf and lump else None
