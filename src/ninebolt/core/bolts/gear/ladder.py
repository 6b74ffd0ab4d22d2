"""Gear: the ladder of sprocket pairs, each as it will really run."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.build import Build
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.steady import top_speed
from ninebolt.core.simulate.thrust import instant


@dataclass(frozen=True, slots=True)
class Rung:
    """One sprocket pair. launch_n: what the drive could push from rest, before grip and wheelie."""

    front: int
    rear: int
    ratio: float
    top_speed_m_s: float
    top_choke: str
    launch_n: float
    accel_m_s2: float
    current: bool


def rung_of(case: RunCase, front: int, rear: int, ratio: float, current: bool) -> Rung:
    """Top speed and launch with another ratio."""
    own = dataclasses.replace(case, ratio=ratio)
    top = top_speed(own)
    now = instant(own, 0.0)
    return Rung(front, rear, ratio, top.speed_m_s, top.choke, now.free_n, now.accel, current)


def _rungs(build: Build, case: RunCase) -> tuple[Rung, ...]:
    gear = build.gear
    f, r = gear.front_teeth, gear.rear_teeth
    if f is None or r is None or gear.ratio.known:
        return (rung_of(case, f or 0, r or 0, case.ratio, True),)
    reduction = gear.reduction.taken
    step = max(1, round(r / 24))
    pairs = {(f, r), (f - 1, r), (f + 1, r)} | {(f, r + k * step) for k in (-3, -2, -1, 1, 2, 3)}
    rungs = [
        rung_of(case, a, b, reduction * b / a, (a, b) == (f, r))
        for a, b in pairs
        if a >= 5 and b >= 10
    ]
    return tuple(sorted(rungs, key=lambda x: x.ratio))


@fact
def ladder(bike: Bike) -> tuple[Rung, ...]:
    """The pairs around the one that is fitted; empty while the bike does not compute."""
    perf = bare_performance(bike)
    return _rungs(bike.build, perf.case) if perf else ()
