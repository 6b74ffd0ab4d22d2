"""What a log shows in figures: of the whole ride and of the chosen run in it, and whether power and speed agree."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.plausible import brought
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.build import Build
from ninebolt.core.logs.ride import SMOOTH_S, Launch, Ride, RideReport, smooth, speed_column
from ninebolt.core.logs.shown import Shown, Stretch, stretch
from ninebolt.services.calibrate import spreads
from ninebolt.services.house import House, wheel_of
from ninebolt.services.traces import launch_of, own_ride

NO_STRETCH = Stretch((), (), ())


@dataclass(frozen=True, slots=True)
class LogSplit:
    """What a run can be told by: a time (s) to a mark, the top speed (m/s), or the way of the whole ride (m)."""

    name: str
    quantity: str
    value: float
    u95: float | None


@dataclass(frozen=True, slots=True)
class LogFigures:
    """ride: all of it. run: the chosen launch to the peak of its speed; empty where the ride holds none. launch: its
    number from 1, 0 for none. splits: of the chosen run, then the top speed and the way."""

    name: str
    launch: int
    ride: Stretch
    run: Stretch
    splits: tuple[LogSplit, ...]


def figures(house: House, build_id: str, log_id: str, launch: int | None = None) -> LogFigures:
    """Raises NotFoundError where the build has no such log."""
    build, ride = own_ride(house, build_id, log_id)
    wheel = wheel_of(build)
    t = ride.columns["t_s"]

    def whole() -> Stretch:
        return stretch(ride, float(t[0]), float(t[-1]), wheel)

    made: Stretch = house.keep(f"figures:{log_id}:{wheel}", whole)
    report = launch_of(build, log_id, ride, launch)
    if not report.launches:
        return LogFigures(ride.name, 0, _with_ohm(made, report), NO_STRETCH, _splits(report, made))
    at = report.launches[report.chosen]
    run = _with_ohm(stretch(ride, at.t0_s - 0.5, at.end_s, wheel), report)
    shared = _with_share(build, ride, at, run, build.prove.log_id == log_id)
    return LogFigures(ride.name, report.chosen + 1, made, shared, _splits(report, made))


def _splits(report: RideReport, ride: Stretch) -> tuple[LogSplit, ...]:
    times = [
        LogSplit(m.split.name, "s", m.split.time_s, m.u95_s)
        for m in report.splits
        if m.split.time_s is not None
    ]
    top = LogSplit("top speed, held 1 s", "m_s", report.top_speed_m_s, report.top_u95_m_s)
    way = [LogSplit("way of the ride", "m", x.value, x.u95) for x in ride.figures if x.key == "way"]
    return (*times, top, *way)


def _with_ohm(found: Stretch, report: RideReport) -> Stretch:
    if report.pack_ohm is None:
        return found
    row = Shown("ohm", "pack and path, volts on amps", report.pack_ohm, report.pack_ohm_u95, "ohm")
    return replace(found, figures=(*found.figures, row))


def _with_share(build: Build, ride: Ride, at: Launch, run: Stretch, chosen: bool) -> Stretch:
    """What of the drawn energy is found at the wheel; of the chosen log in the wind and on the slope said of it."""
    perf = bare_performance(Bike(build))
    if perf is None or not {"bus_v", "line_a"} <= set(ride.columns):
        return run
    t, raw = ride.columns["t_s"], speed_column(ride)
    power = ride.columns["bus_v"] * ride.columns["line_a"]
    rows = (t >= at.t0_s) & (t <= at.end_s) & np.isfinite(power) & np.isfinite(raw)
    if rows.sum() < 8:
        return run
    v = smooth(t[rows], raw[rows], SMOOTH_S)
    case, prove = perf.case, build.prove
    if chosen:
        wind, slope = (
            prove.wind_m_s.or_else(case.body.wind_m_s),
            prove.slope_pct.or_else(case.body.grade_pct),
        )
        case = replace(case, body=replace(case.body, wind_m_s=wind, grade_pct=slope))
    found = brought(t[rows], v, power[rows], case, spreads(build))
    if found is None:
        return run
    row = Shown(
        "brought",
        "at the wheel of what was drawn, by mass and road",
        found.share,
        found.u95,
        "ratio",
        found.sentence,
    )
    return replace(run, figures=(*run.figures, row))
