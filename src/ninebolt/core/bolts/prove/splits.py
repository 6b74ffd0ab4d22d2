"""Prove: predicted splits with the logged ones beside them."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.logs.ride import RideReport
from ninebolt.core.vehicle.splits import reached, splits_of


@dataclass(frozen=True, slots=True)
class SplitRow:
    """Predicted and logged time to the same mark. diff: (logged - predicted) / predicted."""

    name: str
    kind: str
    predicted_s: float | None
    logged_s: float | None
    u95_s: float | None
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


@fact
def split_rows(bike: Bike) -> tuple[SplitRow, ...]:
    """Predicted splits, with the logged ones beside them by name; none behind where the bike cuts
    out, unless the log did not."""
    perf, ride, prove = performance_of(bike), chosen_ride(bike), bike.build.prove
    if perf is None:
        return ()
    rollout, extra = bool(prove.rollout), bike.build.goal.to_speed_m_s.taken
    s = perf.run.series
    found = splits_of(s.t_s, s.distance_m, s.speed_m_s, s.accel_m_s2, rollout, extra)
    made = reached(found, None if held_closed(bike) else perf.headline.opens_s)
    logged = {m.split.name: m for m in ride.splits} if ride else {}
    rows = []
    for p in made:
        m = logged.get(p.name)
        seen = m.split.time_s if m else None
        diff = (seen - p.time_s) / p.time_s if seen is not None and p.time_s else None
        rows.append(
            SplitRow(
                p.name,
                p.kind,
                p.time_s,
                seen,
                m.u95_s if m else None,
                p.trap_line_m_s,
                m.split.trap_line_m_s if m else None,
                diff,
            )
        )
    return tuple(rows)
