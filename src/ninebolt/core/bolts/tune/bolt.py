"""Tune: what do I write into the controller, and why each value?"""

from __future__ import annotations

from dataclasses import dataclass, replace

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.ride import assembled, bare_performance
from ninebolt.core.bolts.common import Result, figure
from ninebolt.core.bolts.register import judge
from ninebolt.core.bolts.tune import checks, pairs, sets, throttle
from ninebolt.core.bolts.tune.derived import throttle_share
from ninebolt.core.bolts.tune.rows import ParamRow, rows_of
from ninebolt.core.finding import Figure
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.simulate.run import Stop, reached_s, run
from ninebolt.core.simulate.thrust import pulls

RAMP_LOOK_S = 60.0
__all__ = ["TuneDrawing", "assess", "checks", "pairs", "sets", "throttle"]


@dataclass(frozen=True, slots=True)
class TuneDrawing:
    """Parameter rows, and thrust over twist at three road speeds."""

    rows: tuple[ParamRow, ...]
    twist: list[float]
    share: list[float]
    thrust_n: tuple[tuple[float, list[float]], ...]
    points: tuple[tuple[float, float], ...]


def assess(bike: Bike) -> Result:
    perf, rows = bare_performance(bike), rows_of(bike)
    tenth = throttle_share(bike.build.tune.throttle, 0.1)
    figures: tuple[Figure, ...] = (
        figure("set", "Parameters", len(rows), "ratio", "derived from this build"),
        figure("by_hand", "Set by hand", sum(r.chosen is not None for r in rows), "ratio"),
        figure(
            "crawl",
            "Thrust at a tenth of twist",
            _thrusts(perf, 0.0, [tenth])[0] if perf else None,
            "n",
            "from rest",
        ),
    )
    figures += (
        figure(
            "ramp_cost", "What this set's throttle ramp costs", ramp_cost(bike), "s",
            "run to the chosen speed, with it and without",
        ),
    )  # fmt: skip
    return Result(figures, judge("tune", bike), assembled(bike).missing, drawing)


@fact
def drawing(bike: Bike) -> TuneDrawing:
    curve, perf = bike.build.tune.throttle, bare_performance(bike)
    twist = [i / 40 for i in range(41)]
    share = [throttle_share(curve, x) for x in twist]
    return TuneDrawing(rows_of(bike), twist, share, _thrust(perf, share) if perf else (), curve)


@dataclass(frozen=True, slots=True)
class ThrustAt:
    """Thrust (N) at one road speed (m/s), by the share of the torque that the throttle asks: 0, 1/40 … 1. top_m_s: how
    fast the bike gets."""

    speed_m_s: float
    top_m_s: float
    thrust_n: list[float]


def thrust_at(bike: Bike, speed_m_s: float) -> ThrustAt | None:
    """What each share of the torque pushes at a speed; None while the bike does not compute."""
    perf = bare_performance(bike)
    if perf is None:
        return None
    thrust = _thrusts(perf, speed_m_s, [i / 40 for i in range(41)])
    return ThrustAt(speed_m_s, perf.top.speed_m_s, thrust)


@fact
def ramp_cost(bike: Bike) -> float | None:
    """Seconds that the recommended throttle ramp adds on the way to the chosen speed; None where it is not reached."""
    perf = bare_performance(bike)
    ramp = next((r.value for r in rows_of(bike) if r.name == "ramp_s"), None)
    if perf is None or ramp is None:
        return None
    goal = bike.build.goal.to_speed_m_s.taken
    both = (
        run(replace(perf.case, ramp_s=s), Stop(speed_m_s=goal, seconds=RAMP_LOOK_S))
        for s in (ramp, 0.0)
    )
    slow, quick = (reached_s(done, goal) for done in both)
    return None if slow is None or quick is None else slow - quick


def _thrust(perf: Performance, share: list[float]) -> tuple[tuple[float, list[float]], ...]:
    """Thrust (N) at each share of torque, at rest, a third and two thirds of top speed."""
    speeds = (0.0, perf.top.speed_m_s / 3, perf.top.speed_m_s * 2 / 3)
    return tuple((v, _thrusts(perf, v, share)) for v in speeds)


def _thrusts(perf: Performance, speed_m_s: float, share: list[float]) -> list[float]:
    asked = [perf.case.phase_a * s for s in share]
    return [max(n, 0.0) for n in pulls(perf.case, speed_m_s, asked)]
