"""Runs of several builds over one another: split by split what held each, and where their curves cross."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ribbon import RibbonPart, ribbon_of
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.build import Build
from ninebolt.core.simulate.run import Run
from ninebolt.core.vehicle.splits import MILE_4_M, time_at_distance, time_at_speed
from ninebolt.units import KM_H_PER_M_S

SPEEDS_M_S = tuple(v / KM_H_PER_M_S for v in (0.0, 30.0, 60.0, 90.0, 120.0))


@dataclass(frozen=True, slots=True)
class Part:
    """From one speed to the next: seconds it takes (None: not reached), and what held it longest."""

    start_m_s: float
    end_m_s: float
    seconds: float | None
    held_by: str


@dataclass(frozen=True, slots=True)
class RunOf:
    """One build. spans: its ribbon; parts: its run from speed to speed; quarter_s: as if nothing opened."""

    name: str
    spans: tuple[RibbonPart, ...]
    parts: tuple[Part, ...]
    quarter_s: float | None
    speed_m_s: list[float]
    thrust_n: list[float]


@dataclass(frozen=True, slots=True)
class Crossing:
    """Below speed_m_s one pulls harder, above it the other."""

    below: str
    above: str
    speed_m_s: float
    thrust_n: float


def runs_of(builds: Sequence[Build]) -> tuple[RunOf | None, ...]:
    """None for a build that does not compute."""
    return tuple(_run_of(b) for b in builds)


def _run_of(build: Build) -> RunOf | None:
    perf = bare_performance(Bike(build))
    if perf is None:
        return None
    e, s = perf.envelope, perf.run.series
    marks = [0.0, *(_when(perf.run, v) for v in SPEEDS_M_S[1:])]
    parts = []
    for i in range(1, len(SPEEDS_M_S)):
        a, b = marks[i - 1], marks[i]
        took = b - a if a is not None and b is not None else None
        held = _held(s.t_s, s.choke, a, b if b is not None else s.t_s[-1]) if a is not None else ""
        parts.append(Part(SPEEDS_M_S[i - 1], SPEEDS_M_S[i], took, held))
    quarter = time_at_distance(s.t_s, s.distance_m, s.speed_m_s, MILE_4_M)
    spans = ribbon_of(e.speed_m_s, e.choke)
    return RunOf(build.name, spans, tuple(parts), quarter, e.speed_m_s, e.thrust_n)


def _when(done: Run, speed: float) -> float | None:
    s = done.series
    return time_at_speed(s.t_s, s.speed_m_s, s.accel_m_s2, speed)


def _held(t: Sequence[float], choke: Sequence[str], start: float, end: float) -> str:
    """The choke that holds over most of the time between."""
    seconds: dict[str, float] = defaultdict(float)
    for i in range(1, len(t)):
        inside = min(t[i], end) - max(t[i - 1], start)
        if inside > 0.0:
            seconds[choke[i]] += inside
    return max(seconds, key=lambda c: seconds[c]) if seconds else ""


def crossings_of(runs: Sequence[RunOf | None]) -> tuple[Crossing, ...]:
    """Of the first that computes with each other one."""
    known = [r for r in runs if r is not None]
    return tuple(c for other in known[1:] for c in _crossings(known[0], other))


def _crossings(a: RunOf, b: RunOf) -> list[Crossing]:
    grid = np.linspace(0.5, min(a.speed_m_s[-1], b.speed_m_s[-1]), 400)
    fa, fb = (np.interp(grid, r.speed_m_s, r.thrust_n) for r in (a, b))
    gap = fa - fb
    out = []
    for i in np.nonzero(gap[:-1] * gap[1:] < 0.0)[0]:
        u = gap[i] / (gap[i] - gap[i + 1])
        speed = float(grid[i] + u * (grid[i + 1] - grid[i]))
        first, second = (a.name, b.name) if gap[i] > 0 else (b.name, a.name)
        out.append(Crossing(first, second, speed, float(np.interp(speed, grid, fa))))
    return out
