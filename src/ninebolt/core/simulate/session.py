"""Several full-throttle runs with rests between: charge, heat and currents carried on."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass
from functools import lru_cache

from ninebolt.core.simulate.case import RunCase, Thermal
from ninebolt.core.simulate.run import Run, State, Stop, run


@dataclass(frozen=True, slots=True)
class Ridden:
    """One run of a session. pack_heat_j: heat made in the pack's resistance."""

    start_s: float
    time_s: float
    end_speed_m_s: float
    soc: float
    winding_c: float
    pack_heat_j: float
    ended: str


@dataclass(frozen=True, slots=True)
class Session:
    """All runs, and their line current and speed over one clock, rests included as standing
    still."""

    runs: tuple[Ridden, ...]
    t_s: tuple[float, ...]
    line_a: tuple[float, ...]
    phase_a: tuple[float, ...]
    speed_m_s: tuple[float, ...]


def cool_down(th: Thermal, winding_c: float, case_c: float, seconds: float) -> tuple[float, float]:
    """Two-node cooling without heat, stepped (°C)."""
    steps = max(1, min(200, int(seconds / 2.0)))
    dt = seconds / steps
    for _ in range(steps):
        flow = (winding_c - case_c) / th.winding_case_k_w
        out = (case_c - th.air_c) / th.case_air_k_w
        w, c = winding_c - flow / th.winding_j_k * dt, case_c + (flow - out) / th.case_j_k * dt
        winding_c, case_c = w, c
    return winding_c, case_c


@lru_cache(maxsize=16)
def session(case: RunCase, count: int, rest_s: float, distance_m: float) -> Session:
    """Ride the distance at full throttle so many times."""
    temp = case.start_temp_c
    state = State(0.0, 0.0, case.start_soc, 0.0, temp, temp)
    clock = 0.0
    runs: list[Ridden] = []
    t: list[float] = []
    line: list[float] = []
    phase: list[float] = []
    speed: list[float] = []
    for _ in range(count):
        done = run(case, Stop(distance_m=distance_m, seconds=90.0), start=state)
        s = done.series
        t += [clock + x for x in s.t_s]
        line += s.line_a
        phase += [math.hypot(a, b) for a, b in zip(s.iq_a, s.id_a, strict=True)]
        speed += s.speed_m_s
        runs.append(_row(clock, done))
        clock += s.t_s[-1]
        t += [clock + 1e-6, clock + max(rest_s, 1e-3)]
        line += [0.0, 0.0]
        phase += [0.0, 0.0]
        speed += [0.0, 0.0]
        clock += max(rest_s, 1e-3)
        state = _rested(case, done, rest_s)
    return Session(tuple(runs), tuple(t), tuple(line), tuple(phase), tuple(speed))


def _row(clock: float, done: Run) -> Ridden:
    s = done.series
    return Ridden(
        clock,
        s.t_s[-1],
        s.speed_m_s[-1],
        s.soc[-1],
        max(s.winding_c),
        done.energy.pack_heat_j,
        done.ended,
    )


def _rested(case: RunCase, done: Run, rest_s: float) -> State:
    s = done.series
    w, c = s.winding_c[-1], s.case_c[-1]
    if case.thermal is not None:
        w, c = cool_down(case.thermal, w, c, rest_s)
    return State(0.0, 0.0, s.soc[-1], 0.0, w, c)


def on_grade(case: RunCase, grade_pct: float) -> RunCase:
    """The same case on another grade."""
    return dataclasses.replace(case, body=dataclasses.replace(case.body, grade_pct=grade_pct))
