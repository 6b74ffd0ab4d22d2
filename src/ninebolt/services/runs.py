"""One straight-line run, as the shell answers it."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass

from ninebolt.core.bike.case import assemble
from ninebolt.core.bike.opening import first_on
from ninebolt.core.build import Build
from ninebolt.core.simulate.run import Energy, Series, Stop, run
from ninebolt.core.simulate.steady import top_speed
from ninebolt.core.vehicle.splits import MILE_4_M, Split, reached, splits_of
from ninebolt.errors import InputError

LONGEST_S = 120.0


@dataclass(frozen=True, slots=True)
class RunResult:
    """A finished run. opens: the protection that opens on it, at opens_s; splits behind that point are
    not reached, and the other figures are those of the run with it held
    closed. books_close: whether the energy that left the cells is found again."""

    ended: str
    time_s: float
    distance_m: float
    speed_m_s: float
    max_speed_m_s: float
    top_speed_m_s: float
    top_speed_choke: str
    rollout: bool
    opens: str
    opens_s: float | None
    splits: list[Split]
    energy: Energy
    imbalance: float
    books_close: bool
    peak_line_a: float
    lowest_bus_v: float
    series: Series | None = None


def straight_run(
    build: Build, stop: Stop | None = None, grade_pct: float | None = None, series: bool = False
) -> RunResult:
    """Ride a build from rest at full throttle. Raises InputError naming what is missing."""
    made = assemble(build)
    if made.case is None:
        raise InputError(
            "The run cannot be computed yet.",
            where=build.name,
            got="missing " + ", ".join(made.missing),
        )
    case = made.case
    if grade_pct is not None:
        case = dataclasses.replace(case, body=dataclasses.replace(case.body, grade_pct=grade_pct))
    done = run(case, stop or Stop(distance_m=MILE_4_M, seconds=LONGEST_S))
    s = done.series
    rollout = bool(build.prove.rollout)
    top = top_speed(case)
    opens = first_on(build, done)
    found = splits_of(s.t_s, s.distance_m, s.speed_m_s, s.accel_m_s2, rollout)
    return RunResult(
        done.ended,
        s.t_s[-1],
        s.distance_m[-1],
        s.speed_m_s[-1],
        done.top_speed_m_s,
        top.speed_m_s,
        top.choke,
        rollout,
        opens[1] if opens else "",
        opens[0] if opens else None,
        reached(found, opens[0] if opens else None),
        done.energy,
        done.energy.imbalance,
        done.books_close,
        max(s.line_a),
        min(s.bus_v),
        s if series else None,
    )
