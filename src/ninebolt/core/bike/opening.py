"""Guard: the current along a run or a planned session, and when BMS and fuse open on it."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from ninebolt.core.bike.path import line_setting_a
from ninebolt.core.bike.session import one_run_k, planned_session, session_rows
from ninebolt.core.bolts.common import Context
from ninebolt.core.build import Build
from ninebolt.core.guard.fuse import BREAKER, TimeCurrent, opens_at
from ninebolt.core.guard.trip import Trip, first_trip
from ninebolt.core.simulate.case import LineLimit, RunCase
from ninebolt.core.simulate.run import Stop, run
from ninebolt.core.simulate.session import Session

WAY_M = 402.336
STEP_A = 5.0


@dataclass(frozen=True, slots=True)
class Opens:
    """When something opens: seconds into the run, speed, current, which run of the session (1
    …)."""

    t_s: float
    speed_m_s: float
    line_a: float
    run: int
    words: str


@dataclass(frozen=True, slots=True)
class GuardRun:
    """Columns of the run or session that the path is judged on, and what opens on it. cells_c: the
    cells after each run, empty while their heat capacity is not known."""

    session: bool
    t_s: Sequence[float]
    line_a: Sequence[float]
    phase_a: Sequence[float]
    words: str
    trip: Trip | None
    session_trip: Opens | None
    fuse: Opens | None
    breaker: Opens | None
    cells_c: tuple[float, ...] = ()


def guard_run(build: Build, context: Context) -> GuardRun | None:
    """The full-throttle run, or the session if one is planned; None while it does not compute."""
    made, perf = context.look(build)
    if perf is None or made.case is None:
        return None
    s = perf.run.series
    done = planned_session(build, made.case)
    phase = [math.hypot(a, b) for a, b in zip(s.iq_a, s.id_a, strict=True)]
    trip = _trip(build, s.t_s, s.line_a, s.speed_m_s)
    t, line, speed = (
        (s.t_s, s.line_a, s.speed_m_s) if done is None else (done.t_s, done.line_a, done.speed_m_s)
    )
    fuse, breaker = (
        _opens(done, t, line, speed, *what) for what in (_fuse(build), _breaker(build))
    )
    if done is None:
        rise = one_run_k(build, context)
        warm = () if rise is None else (build.pack.temp_c.taken + rise,)
        return GuardRun(False, t, line, phase, "In one run", trip, None, fuse, breaker, warm)
    again = _trip(build, t, line, speed)
    later = (
        None
        if again is None or trip is not None
        else _placed(done, again.t_s, again.speed_m_s, again.line_a)
    )
    words = f"In {len(done.runs)} runs"
    cells = tuple(r.pack_c for r in session_rows(build, done))
    return GuardRun(True, t, line, done.phase_a, words, trip, later, fuse, breaker, cells)


def _trip(
    build: Build, t: Sequence[float], line: Sequence[float], speed: Sequence[float]
) -> Trip | None:
    bms = build.guard.bms
    cont = bms.i_cont_a.amount
    if bms.discharge != "through" or cont is None:
        return None
    load, peak = line_setting_a(build.drive.controller), bms.i_peak_a.or_else(math.inf)
    # The run is held at the BMS's peak; asked for more, the BMS opens when it gets there.
    opens = 0.999 * peak if math.isfinite(load) and load > peak else math.inf
    return first_trip(t, line, speed, cont, opens, bms.peak_s.taken)


def _placed(done: Session | None, t: float, speed: float, amps: float) -> Opens:
    if done is None:
        return Opens(t, speed, amps, 1, "")
    number = max(i for i, r in enumerate(done.runs, 1) if r.start_s <= t + 1e-9)
    start = done.runs[number - 1].start_s
    return Opens(t - start, speed, amps, number, f" in run {number}")


def _fuse(build: Build) -> tuple[float | None, TimeCurrent]:
    return build.guard.fuse.rated_a.amount, build.guard.fuse.melts


def _breaker(build: Build) -> tuple[float | None, TimeCurrent]:
    iso = build.guard.isolator
    return iso.i_cont_a.amount if iso.kind == "breaker" else None, iso.opens or BREAKER


def _opens(
    done: Session | None,
    t: Sequence[float],
    line: Sequence[float],
    speed: Sequence[float],
    rated: float | None,
    curve: TimeCurrent,
) -> Opens | None:
    if rated is None:
        return None
    row = opens_at(t, line, rated, curve)
    return None if row is None else _placed(done, t[row], speed[row], line[row])


@lru_cache(maxsize=32)
def highest_without_trip(case: RunCase, cont_a: float, peak_a: float, peak_s: float) -> float:
    """Largest line-amp setting, in steps of 5 A, with which a full-throttle run does not trip."""
    low, high = cont_a, min(case.line_limit().amps, peak_a)
    if not math.isfinite(high):
        return cont_a
    others = tuple(x for x in case.limits if x.choke != "BMS")
    while high - low > STEP_A:
        mid = 0.5 * (low + high)
        held = dataclasses.replace(case, limits=(*others, LineLimit("line", mid)))
        s = run(held, Stop(distance_m=WAY_M, seconds=60.0), 2.0).series
        trips = first_trip(s.t_s, s.line_a, s.speed_m_s, cont_a, math.inf, peak_s)
        low, high = (low, mid) if trips else (mid, high)
    return math.floor(low / STEP_A) * STEP_A if low > cont_a else cont_a
