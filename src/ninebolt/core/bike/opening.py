"""What opens along a run or a planned session, and when: BMS, fuse, breaker; the headline of a bike
that cuts out."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.path import bms_peak_a, line_setting_a
from ninebolt.core.bike.reach import reach
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.bike.session import one_run_k, planned_session, session_rows
from ninebolt.core.build import Build
from ninebolt.core.guard.conductors import rms
from ninebolt.core.guard.fuse import BREAKER, TYPICAL, TimeCurrent, opens_at
from ninebolt.core.guard.trip import Trip, first_trip
from ninebolt.core.simulate.headline import Headline, Performance
from ninebolt.core.simulate.run import Run
from ninebolt.core.simulate.session import Session

HELD_OF_PEAK = 0.999  # a run that is held at the BMS's peak comes to about it


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
    cells after each run, empty while their heat capacity is not known. worked_a: the line amps' root of the mean square
    over all of it, worked_phase_a the same of the phase amps, peak."""

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
    worked_a: float = 0.0
    worked_phase_a: float = 0.0


@fact
def opening(bike: Bike) -> GuardRun | None:
    """The full-throttle run, or the session if one is planned; None while it does not compute."""
    build, perf = bike.build, bare_performance(bike)
    if perf is None:
        return None
    s, done = perf.run.series, planned_session(bike)
    phase = [math.hypot(a, b) for a, b in zip(s.iq_a, s.id_a, strict=True)]
    trip = _trip(build, s.t_s, s.line_a, s.speed_m_s)
    t, line, speed = (
        (s.t_s, s.line_a, s.speed_m_s) if done is None else (done.t_s, done.line_a, done.speed_m_s)
    )
    fuse, breaker = (
        _opens(done, t, line, speed, *what) for what in (_fuse(build), _breaker(build))
    )
    if done is None:
        rise = one_run_k(bike)
        warm = () if rise is None else (build.pack.temp_c.taken + rise,)
        worked = rms(t, line), rms(t, phase)
        return GuardRun(
            False, t, line, phase, "In one run", trip, None, fuse, breaker, warm, *worked
        )
    again = _trip(build, t, line, speed)
    later = (
        None
        if again is None or trip is not None
        else _placed(done, again.t_s, again.speed_m_s, again.line_a)
    )
    words = f"In {len(done.runs)} runs"
    cells = tuple(r.pack_c for r in session_rows(bike))
    worked, amps = (rms(t, line), rms(t, done.phase_a)), done.phase_a
    return GuardRun(True, t, line, amps, words, trip, later, fuse, breaker, cells, *worked)


@fact
def performance_of(bike: Bike) -> Performance | None:
    """What the bike does with its protection in place and for the ride that is wished: where
    something opens on the first run, the headline is that of a bike that cuts out."""
    perf = bare_performance(bike)
    if perf is None:
        return None
    far = reach(bike)
    head = dataclasses.replace(perf.headline, range_m=far.range_m if far else None)
    ridden = opening(bike)
    first = (
        first_on(bike.build, perf.run)
        if ridden is None or ridden.session
        else _first(ridden.trip, (("Fuse", ridden.fuse), ("Breaker", ridden.breaker)))
    )
    return dataclasses.replace(perf, headline=head if first is None else _cut(head, *first))


def first_on(build: Build, done: Run) -> tuple[float, str] | None:
    """(seconds, what opens) of what opens first on a run of this build; None if nothing does."""
    passes = _passes_a(build)
    if done.case.line_limit().amps <= passes:  # no row can have more
        return None
    t, speed, line = done.guarded
    if float(line.max()) <= passes:
        return None
    columns = t.tolist(), line.tolist(), speed.tolist()
    parts = (("Fuse", _fuse(build)), ("Breaker", _breaker(build)))
    return _first(_trip(build, *columns), ((n, _opens(None, *columns, *what)) for n, what in parts))


def _passes_a(build: Build) -> float:
    """Amps that everything in the path lets through for good."""
    bms = build.guard.bms
    least = (
        min(bms.i_cont_a.or_else(math.inf), HELD_OF_PEAK * bms_peak_a(build.guard))
        if bms.there
        else math.inf
    )
    for rated, curve in (_fuse(build), _breaker(build)):
        if rated is not None:
            least = min(least, rated * (curve or TYPICAL)[0][0])
    return least


def _first(
    trip: Trip | None, opens: Iterable[tuple[str, Opens | None]]
) -> tuple[float, str] | None:
    found = [(at.t_s, name) for name, at in opens if at is not None]
    if trip is not None:
        found.append((trip.t_s, "BMS"))
    return min(found) if found else None


def _cut(head: Headline, t: float, name: str) -> Headline:
    """A run that ends where something opens has no time that lies behind it. Top speed stays: it is
    what the part that opens lets through for good, reached with less throttle."""
    late = head.to_time_s is not None and head.to_time_s > t
    return dataclasses.replace(
        head,
        to_time_s=None if late else head.to_time_s,
        choke="BMS" if name == "BMS" else "path",
        opens=name,
        opens_s=t,
    )


def _trip(
    build: Build, t: Sequence[float], line: Sequence[float], speed: Sequence[float]
) -> Trip | None:
    bms = build.guard.bms
    cont = bms.i_cont_a.amount if bms.there else None
    if bms.discharge != "through" or cont is None:
        return None
    load, peak = line_setting_a(build.drive.controller), bms_peak_a(build.guard)
    # The run is held at the BMS's peak; asked for more, the BMS opens when it gets there.
    opens = HELD_OF_PEAK * peak if math.isfinite(load) and load > peak else math.inf
    return first_trip(t, line, speed, cont, opens, bms.peak_s.taken)


def _placed(done: Session | None, t: float, speed: float, amps: float) -> Opens:
    if done is None:
        return Opens(t, speed, amps, 1, "")
    number = max(i for i, r in enumerate(done.runs, 1) if r.start_s <= t + 1e-9)
    start = done.runs[number - 1].start_s
    return Opens(t - start, speed, amps, number, f" in run {number}")


def _fuse(build: Build) -> tuple[float | None, TimeCurrent]:
    fuse = build.guard.fuse
    return fuse.rated_a.amount if fuse.there else None, fuse.melts


def _breaker(build: Build) -> tuple[float | None, TimeCurrent]:
    iso = build.guard.isolator
    fitted = iso.kind == "breaker" and iso.there
    return iso.i_cont_a.amount if fitted else None, iso.opens or BREAKER


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
