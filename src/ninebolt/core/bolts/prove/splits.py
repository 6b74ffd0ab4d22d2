"""Prove: predicted splits with the logged ones beside them, and what wind and slope of the log do to it."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.limits import Limit
from ninebolt.core.logs.ride import RideReport
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.headline import RIDDEN
from ninebolt.core.simulate.run import Run, run
from ninebolt.core.simulate.steady import top_speed
from ninebolt.core.vehicle.splits import reached, splits_of

QUARTER = "1/4 mile"
COARSE_S = 0.5  # between rows of a run, where only how much its times move is wanted
WIND_SURE = Limit(
    0.5, "m_s", "how surely a wind that was written down is known at best: it comes in gusts"
)
SLOPE_SURE = Limit(0.1, "pct", "how surely a slope that was written down is known at best")
WIND, SLOPE = (1.0, 0.0), (0.0, 1.0)  # directions: m/s from ahead, per cent uphill


@dataclass(frozen=True, slots=True)
class SplitRow:
    """Predicted and logged time to the same mark.

    fair_s: the logged one with the log's wind and slope taken off by the model, None where neither is given;
    fair_u95_s: its half-width, with how surely wind and slope are known. diff: (logged - predicted) / predicted, of the
    fair one where wind or slope is given.
    """

    name: str
    kind: str
    predicted_s: float | None
    logged_s: float | None
    u95_s: float | None
    fair_s: float | None
    fair_u95_s: float | None
    trap_predicted_m_s: float | None
    trap_logged_m_s: float | None
    diff: float | None


def chosen_ride(bike: Bike) -> RideReport | None:
    """The log that stands for this build."""
    return bike.ride if bike.build.prove.log_id else None


@fact
def held_closed(bike: Bike) -> str:
    """What is computed to open on a run, where the logged run rode on past that; '' where it agrees
    or there is no log. Predictions beside such a log are those of the bike that does not cut out."""
    perf, ride = performance_of(bike), chosen_ride(bike)
    if perf is None or ride is None or perf.headline.opens_s is None:
        return ""
    times = [m.split.time_s for m in ride.splits if m.split.time_s is not None]
    return perf.headline.opens if max(times, default=0.0) > perf.headline.opens_s else ""


@dataclass(frozen=True, slots=True)
class Weather:
    """What the log's wind and slope do to this bike, by the model.

    base: split name -> its time on the build's own road (s). factors: what its logged time is multiplied with to be
    that of the build's own road; top: the same of the top speed. per_m_s, per_pct: seconds of the quarter mile that a
    metre a second from ahead and a per cent uphill cost, where it is not said.
    """

    given: bool
    base: dict[str, float]
    factors: dict[str, float]
    top: float | None
    per_m_s: float | None
    per_pct: float | None


@fact
def weather(bike: Bike) -> Weather | None:
    """None while there is no log, or the bike does not compute."""
    perf, prove = bare_performance(bike), bike.build.prove
    if perf is None or chosen_ride(bike) is None:
        return None
    here, own = perf.case, perf.case.body
    base = _times(bike, perf.run)
    quarter = base.get(QUARTER)

    def costs(wind: float, grade: float) -> float | None:
        there = _times(bike, run(_under(here, own.wind_m_s + wind, own.grade_pct + grade), RIDDEN))
        return there[QUARTER] - quarter if quarter is not None and QUARTER in there else None

    wind, slope = prove.wind_m_s.amount, prove.slope_pct.amount
    given = wind is not None or slope is not None
    factors: dict[str, float] = {}
    top = None
    if given:
        there = _under(
            here, own.wind_m_s if wind is None else wind, own.grade_pct if slope is None else slope
        )
        moved = base if there == here else _times(bike, run(there, RIDDEN))
        factors = {k: base[k] / moved[k] for k in base if moved.get(k)}
        fast = perf.top.speed_m_s if there == here else top_speed(there).speed_m_s
        top = perf.top.speed_m_s / fast if fast > 0.0 else None
    return Weather(
        given,
        base,
        factors,
        top,
        costs(1.0, 0.0) if wind is None else None,
        costs(0.0, 1.0) if slope is None else None,
    )


@fact
def softness(bike: Bike) -> tuple[dict[str, float], float]:
    """(split name -> half-width in s, half-width of the top speed in m/s) from how surely the log's wind and slope are
    known. Asked for where it decides or is shown: it takes runs of its own."""
    perf, sky, prove = bare_performance(bike), weather(bike), bike.build.prove
    if perf is None or sky is None or not sky.given:
        return {}, 0.0
    body = perf.case.body
    wind, slope = prove.wind_m_s.amount, prove.slope_pct.amount
    there = _under(
        perf.case,
        body.wind_m_s if wind is None else wind,
        body.grade_pct if slope is None else slope,
    )
    halves = [
        (max(abs(said.amount) * said.spread, least), more)
        for said, least, more in (
            (prove.wind_m_s, WIND_SURE, WIND),
            (prove.slope_pct, SLOPE_SURE, SLOPE),
        )
        if said.amount is not None
    ]
    return _shaken(bike, there, halves, sky.base, sky.factors, sky.top or 0.0)


@fact
def unsaid(bike: Bike) -> tuple[dict[str, float], float]:
    """(split name -> s, m/s of the top speed) that a metre a second of wind and a per cent of slope do, of those that
    nobody said of the log; nothing where both are said."""
    perf, sky, prove = bare_performance(bike), weather(bike), bike.build.prove
    if perf is None or sky is None:
        return {}, 0.0
    halves = [
        (1.0, more)
        for said, more in ((prove.wind_m_s, WIND), (prove.slope_pct, SLOPE))
        if said.amount is None
    ]
    return _shaken(bike, perf.case, halves, sky.base, dict.fromkeys(sky.base, 1.0), 1.0)


def _shaken(
    bike: Bike,
    there: RunCase,
    halves: Sequence[tuple[float, tuple[float, float]]],
    base: Mapping[str, float],
    factors: Mapping[str, float],
    top_factor: float,
) -> tuple[dict[str, float], float]:
    """(split name -> s, m/s of the top speed) by which wind and slope off by these halves, each in its direction, move
    what is brought to the build's own road by factors; added as independent."""
    soft: dict[str, float] = {}
    top = 0.0
    for half, (wind, slope) in halves:
        off = _under(there, there.body.wind_m_s + half * wind, there.body.grade_pct + half * slope)
        times = _times(bike, run(off, RIDDEN), COARSE_S)
        for k, factor in factors.items():
            if k in times:
                soft[k] = math.hypot(soft.get(k, 0.0), factor * times[k] - base[k])
        moved = top_speed(off).speed_m_s - top_speed(there).speed_m_s
        top = math.hypot(top, top_factor * moved)
    return soft, top


def fair_half(bike: Bike, row: SplitRow) -> float | None:
    """Half-width of a split's time with wind and slope taken off (s); None where there is none."""
    if row.fair_s is None or not row.logged_s:
        return None
    own = row.fair_s / row.logged_s * (row.u95_s or 0.0)
    return math.hypot(own, softness(bike)[0].get(row.name, 0.0))


@fact
def shown_rows(bike: Bike) -> tuple[SplitRow, ...]:
    """The splits as they are shown: with the half-width of what wind and slope were taken off."""
    rows = split_rows(bike)
    return tuple(dataclasses.replace(r, fair_u95_s=fair_half(bike, r)) for r in rows)


def _under(case: RunCase, wind_m_s: float, grade_pct: float) -> RunCase:
    body = dataclasses.replace(case.body, wind_m_s=wind_m_s, grade_pct=grade_pct)
    return dataclasses.replace(case, body=body)


def _times(bike: Bike, done: Run, each_s: float | None = None) -> dict[str, float]:
    extra = bike.build.goal.to_speed_m_s.taken
    s = done.series if each_s is None else None
    rows = (s.t_s, s.distance_m, s.speed_m_s, s.accel_m_s2) if s else done.moved(each_s or COARSE_S)
    found = splits_of(*rows, bool(bike.build.prove.rollout), extra)
    return {x.name: x.time_s for x in found if x.time_s is not None}


@fact
def split_rows(bike: Bike) -> tuple[SplitRow, ...]:
    """Predicted splits, with the logged ones beside them by name, fair_u95_s left open; none behind where the bike cuts
    out, unless the log did not. What was logged stands alone where nothing computes."""
    perf, ride, prove = performance_of(bike), chosen_ride(bike), bike.build.prove
    if perf is None:
        return tuple(_logged_only(ride))
    rollout, extra = bool(prove.rollout), bike.build.goal.to_speed_m_s.taken
    s = perf.run.series
    found = splits_of(s.t_s, s.distance_m, s.speed_m_s, s.accel_m_s2, rollout, extra)
    made = reached(found, None if held_closed(bike) else perf.headline.opens_s)
    logged = {m.split.name: m for m in ride.splits} if ride else {}
    sky = weather(bike)
    rows = []
    for p in made:
        m = logged.get(p.name)
        seen = m.split.time_s if m else None
        factor = sky.factors.get(p.name, math.nan) if sky is not None and sky.given else math.nan
        fair = seen * factor if seen is not None and math.isfinite(factor) else None
        told = fair if sky is not None and sky.given else seen
        diff = (told - p.time_s) / p.time_s if told is not None and p.time_s else None
        rows.append(
            SplitRow(
                p.name,
                p.kind,
                p.time_s,
                seen,
                m.u95_s if m else None,
                fair,
                None,
                p.trap_line_m_s,
                m.split.trap_line_m_s if m else None,
                diff,
            )
        )
    return tuple(rows)


def _logged_only(ride: RideReport | None) -> Iterator[SplitRow]:
    for m in ride.splits if ride else ():
        s = m.split
        yield SplitRow(
            s.name, s.kind, None, s.time_s, m.u95_s, None, None, None, s.trap_line_m_s, None
        )
