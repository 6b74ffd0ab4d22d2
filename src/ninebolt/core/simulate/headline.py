"""The six figures of the headline strip, from one case."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.run import Run, Stop, reached_s, run
from ninebolt.core.simulate.steady import (
    Cruise,
    Envelope,
    TopSpeed,
    cruise,
    envelope,
    settled,
    top_speed,
)
from ninebolt.core.vehicle.splits import MILE_4_M


@dataclass(frozen=True, slots=True)
class Headline:
    """None = not computable yet, or not reached. choke: the link that limits most of the speeds, or
    what opens. opens, opens_s: what cuts the first run off and when; '' and None if nothing does."""

    peak_wheel_w: float | None = None
    top_speed_m_s: float | None = None
    to_speed_m_s: float | None = None
    to_time_s: float | None = None
    range_m: float | None = None
    cruise_m_s: float | None = None
    mass_kg: float | None = None
    choke: str = ""
    opens: str = ""
    opens_s: float | None = None


@dataclass(frozen=True, slots=True)
class Performance:
    """Everything of one case that more than one bolt looks at. envelope: as the throttle opens; held:
    once the cells have settled, which is what a hill and the top speed see."""

    case: RunCase
    top: TopSpeed
    envelope: Envelope
    held: Envelope
    run: Run
    cruise: Cruise | None
    headline: Headline


def dominant(chokes: Sequence[str]) -> str:
    """The choke that holds over the most rows."""
    return max(set(chokes), key=lambda c: (chokes.count(c), c)) if chokes else ""


RIDDEN = Stop(distance_m=MILE_4_M, seconds=60.0)  # the run that the splits are of


@lru_cache(maxsize=48)
def performance(
    case: RunCase, to_speed: float, cruise_speed: float, extra_w: float, bike_kg: float
) -> Performance:
    """Top speed, envelope, a quarter-mile run, cruise and the headline of a case."""
    top = top_speed(case)
    reach = max(top.speed_m_s * 1.08, 3.0)
    shown = envelope(case, reach)
    ridden = run(case, RIDDEN)
    steady = cruise(case, cruise_speed, extra_w)
    reached = reached_s(ridden, to_speed)
    if reached is None and top.speed_m_s > to_speed:
        reached = reached_s(run(case, Stop(speed_m_s=to_speed, seconds=90.0)), to_speed)
    below = [c for v, c in zip(shown.speed_m_s, shown.choke, strict=True) if v <= top.speed_m_s]
    return Performance(
        case,
        top,
        shown,
        envelope(settled(case), reach),
        ridden,
        steady,
        Headline(
            peak_wheel_w=max(shown.power_w),
            top_speed_m_s=top.speed_m_s,
            to_speed_m_s=to_speed,
            to_time_s=reached,
            range_m=steady.range_m if steady else None,
            cruise_m_s=cruise_speed,
            mass_kg=bike_kg,
            choke=dominant(below),
        ),
    )
