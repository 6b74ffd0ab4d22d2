"""Long logs looked at: a window of every channel, what held the bike, runs over one another."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.gearing import gear_ratio
from ninebolt.core.bike.held import Held, held_by
from ninebolt.core.bike.ribbon import RibbonPart, ribbon_of
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.build import Build
from ninebolt.core.logs.between import Section, passes, roll_ons
from ninebolt.core.logs.clock import usual_step
from ninebolt.core.logs.ride import (
    SMOOTH_S,
    Floats,
    Ride,
    RideReport,
    analyse,
    smooth,
    speed_column,
    speed_noise,
    the_launch,
    track,
)
from ninebolt.core.logs.traces import (
    CHANNELS,
    Launched,
    Loss,
    TraceWindow,
    axis_of,
    columns,
    loss,
    window,
)
from ninebolt.errors import InputError, NotFoundError
from ninebolt.services import workshop
from ninebolt.services.house import House, wheel_of
from ninebolt.store import rides
from ninebolt.store.database import session

AXES = ("time", "distance")
MOST_RUNS = 6
SHOWN = 240


@dataclass(frozen=True, slots=True)
class HeldView:
    """What held the bike along one launch: two ribbons over its time, and what explains where they part. None where the
    build does not compute."""

    name: str
    launch: int
    seconds: float
    logged: tuple[RibbonPart, ...]
    predicted: tuple[RibbonPart, ...]
    held: Held | None
    problem: str


@dataclass(frozen=True, slots=True)
class RunChannel:
    """A column of a run at the run's own times; None where nothing was measured."""

    key: str
    label: str
    quantity: str
    y: list[float | None]


@dataclass(frozen=True, slots=True)
class OverRun:
    """One launch from its own start."""

    log_id: str
    name: str
    launch: int
    t_s: list[float]
    distance_m: list[float]
    channels: tuple[RunChannel, ...]


@dataclass(frozen=True, slots=True)
class Over:
    """Runs over one another. losses: each later one against the first; missing: what a run does not show."""

    runs: tuple[OverRun, ...]
    losses: tuple[Loss, ...]
    missing: tuple[str, ...]


def own_ride(house: House, build_id: str, log_id: str) -> tuple[Build, Ride]:
    """A build and one of its logs. Raises NotFoundError where it has no such log."""
    build = workshop.shown_build(house, build_id)
    with session(house.path) as db:
        if not rides.has_log(db, build_id, log_id):
            raise NotFoundError(f"This build has no log '{log_id[:40]}'.")
    return build, house.rolled(build, log_id)


def _columns(house: House, build: Build, log_id: str, ride: Ride) -> dict[str, Floats]:
    """Kept by the wheel too, which the speed of a log of rpm alone hangs on."""
    made: dict[str, Floats] = house.keep(
        f"columns:{log_id}:{wheel_of(build)}", lambda: columns(ride)
    )
    return made


def trace(
    house: House,
    build_id: str,
    log_id: str,
    axis: str = "time",
    start: float | None = None,
    end: float | None = None,
    points: int = 600,
) -> TraceWindow:
    """Every channel between two places of an axis. Raises NotFoundError, InputError."""
    if axis not in AXES:
        raise InputError(
            "There is no such axis.", where="axis", got=axis[:20], expected=", ".join(AXES)
        )
    build, ride = own_ride(house, build_id, log_id)
    cols = _columns(house, build, log_id, ride)
    speed = cols.get("speed_m_s", np.zeros(len(ride.columns["t_s"])))
    x: Floats = house.keep(
        f"axis:{axis}:{log_id}:{wheel_of(build)}", lambda: axis_of(ride, speed, axis)
    )
    low = float(x[0]) if start is None else start
    high = float(x[-1]) if end is None else end
    if not high > low:
        raise InputError("The window ends where it begins.", got=f"{low:g} to {high:g}")
    return window(ride, cols, x, axis, low, high, points)


def roll_on(
    house: House, build_id: str, log_id: str, low: float, high: float
) -> tuple[Section, ...]:
    """Each roll-on of a log from one speed to another. Raises NotFoundError, InputError."""
    if not 0.0 < low < high:
        raise InputError(
            "A roll-on goes from a speed above nothing to a higher one.",
            got=f"{low:g} to {high:g} m/s",
            todo="From rest it is a split of a standing start.",
        )
    _, ride = own_ride(house, build_id, log_id)
    t, raw = ride.columns["t_s"], speed_column(ride)
    v = smooth(t, raw, SMOOTH_S)
    dt = usual_step(t)
    return roll_ons(t, v, speed_noise(raw) / max(SMOOTH_S / dt, 1.0) ** 0.5, low, high)


def between(
    house: House, build_id: str, log_id: str, axis: str, start: float, end: float
) -> tuple[Section, ...]:
    """Each pass of the way between two places of a log's axis. Raises NotFoundError, InputError."""
    build, ride = own_ride(house, build_id, log_id)
    if not {"lat_deg", "lon_deg"} <= set(ride.columns):
        raise InputError(
            "This log holds no positions: its way cannot be told.",
            where=ride.name,
            todo="Take a log of a satellite receiver; a roll-on needs the speed only.",
        )
    speed = _columns(house, build, log_id, ride).get(
        "speed_m_s", np.zeros(len(ride.columns["t_s"]))
    )
    x = axis_of(ride, speed, axis)
    first, last = (int(np.clip(np.searchsorted(x, at), 0, len(x) - 1)) for at in (start, end))
    if last <= first:
        raise InputError("The two marks are one place.", got=f"{start:g} to {end:g}")
    return passes(track(ride), first, last)


def launch_of(build: Build, log_id: str, ride: Ride, wanted: int | None) -> RideReport:
    """The ride analysed; wanted None: the launch that is chosen on Prove, else the fastest."""
    if wanted is None and build.prove.log_id == log_id:
        wanted = build.prove.launch
    return analyse(ride, False, None, wanted)


def held(house: House, build_id: str, log_id: str, launch: int | None = None) -> HeldView:
    """What held the bike along a launch (from 1; the chosen or fastest one where not said)."""
    build, ride = own_ride(house, build_id, log_id)
    report = launch_of(build, log_id, ride, launch)
    if not report.launches:
        words = "No standing start in this log: what held the bike is told along a run from rest."
        return HeldView(report.name, 0, 0.0, (), (), None, words)
    at = the_launch(report)
    perf = bare_performance(Bike(build))
    seconds = at.end_s - at.t0_s
    if perf is None:
        words = "The build does not compute yet, so there is no prediction beside it."
        return HeldView(report.name, report.chosen + 1, seconds, (), (), None, words)
    speed = speed_column(ride)
    found = held_by(ride, perf.case, at.t0_s, at.end_s, speed, gear_ratio(build))
    if not found.t_s:
        words = "The launch is too short to tell what held it."
        return HeldView(report.name, report.chosen + 1, seconds, (), (), None, words)
    return HeldView(
        report.name,
        report.chosen + 1,
        seconds,
        ribbon_of(found.t_s, found.logged),
        ribbon_of(found.t_s, found.predicted),
        found,
        "",
    )


def over(house: House, build_id: str, logs: list[str]) -> Over:
    """Launches over one another, the first against each later one. logs: 'log' of this build, or 'build/log', and
    ':3' behind for its third launch. Raises InputError, NotFoundError, FormatError."""
    if not 2 <= len(logs) <= MOST_RUNS or len(set(logs)) != len(logs):
        raise InputError("Two to six different runs are laid over one another.", got=str(len(logs)))
    made = [_run(house, build_id, x) for x in logs]
    names = [r.name for r, _, _ in made]
    runs = tuple(
        OverRun(r.log_id, _told(names, i), r.launch, r.t_s, r.distance_m, r.channels)
        for i, (r, _, _) in enumerate(made)
    )
    moves = [
        Launched(runs[i].name, u95, r.t_s, r.distance_m, v) for i, (r, v, u95) in enumerate(made)
    ]
    missing = tuple(
        f"{r.name}: no {', '.join(CHANNELS[k][0] for k in WANTED if k not in {c.key for c in r.channels})}"
        for r in runs
        if any(k not in {c.key for c in r.channels} for k in WANTED)
    )
    return Over(runs, tuple(loss(moves[0], m) for m in moves[1:]), missing)


WANTED = ("bus_v", "line_a", "phase_a", "power_w", "rpm")


def _told(names: list[str], i: int) -> str:
    """A name, numbered where another run has the same."""
    return (
        f"{names[i]} #{names[: i + 1].count(names[i])}" if names.count(names[i]) > 1 else names[i]
    )


def _run(house: House, build_id: str, said: str) -> tuple[OverRun, list[float], float]:
    where, _, number = said.partition(":")
    own, _, log_id = where.rpartition("/")
    if number and not (number.isascii() and number.isdigit() and len(number) < 5):
        raise InputError("This is no launch.", got=said[:60], expected="log:2 for the second")
    build, ride = own_ride(house, own or build_id, log_id)
    report = launch_of(build, log_id, ride, int(number) if number else None)
    at = the_launch(report)
    cols = _columns(house, build, log_id, ride)
    t = ride.columns["t_s"]
    grid = np.linspace(0.0, report.t_s[-1], SHOWN)
    way = np.interp(grid, report.t_s, report.distance_m)
    v = np.interp(grid, report.t_s, report.speed_m_s)
    channels = []
    for key, y in cols.items():
        ok = np.isfinite(y)
        if ok.sum() < 2:
            continue
        here = v if key == "speed_m_s" else np.interp(grid + at.t0_s, t[ok], y[ok])
        channels.append(RunChannel(key, *CHANNELS[key], [float(f"{x:.6g}") for x in here]))
    name = f"{report.name}, start {report.chosen + 1}" if len(report.launches) > 1 else report.name
    run = OverRun(log_id, name, report.chosen + 1, grid.tolist(), way.tolist(), tuple(channels))
    return run, v.tolist(), at.u95_s
