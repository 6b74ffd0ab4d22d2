"""More amps in small steps: what is expected at each, what is read, and where it ends."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Sequence
from dataclasses import dataclass

from ninebolt.core.bike.chain import advice
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.path import line_setting_a
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.finding import listed
from ninebolt.core.limits import Limit
from ninebolt.core.simulate.case import LineLimit, RunCase
from ninebolt.core.simulate.run import Stop, run

STEP = Limit(0.10, "ratio", "most by which amps are raised before the next measurement")
PULL_S = 10.0
MOST_STEPS = 30
LAGS = (
    "its temperature is not read, and the case lags behind it by far. Fit one first; a motor is burnt before it is "
    "felt."
)


@dataclass(frozen=True, slots=True)
class Step:
    """One step: set line and phase amps, then a pull of PULL_S; what is expected at its end. The case lags: what a hand
    feels is held against case_rise_k, a sensor in the winding against winding_rise_k."""

    line_a: float
    phase_a: float
    lowest_v: float
    winding_rise_k: float
    case_rise_k: float
    stop_c: float


@dataclass(frozen=True, slots=True)
class Uprate:
    """steps: until the wish or what ends it. ends: why it ends before the wish, '' if it gets there. unread: what
    nobody can read at a step, '' where a sensor does."""

    from_a: float
    to_a: float
    wanted_a: float
    ends: str
    steps: tuple[Step, ...]
    unread: str = ""


def uprate(bike: Bike, wanted_a: float, stops: Sequence[str] = ()) -> Uprate | None:
    """From the line amps set to the wish, never past what the chain allows for good, and not at all over a stop. Phase
    amps go with them, held to their ratings. None while the bike does not compute. stops: those that stand."""
    perf, told = bare_performance(bike), advice(bike)
    now = line_setting_a(bike.build.drive.controller)
    if perf is None or not math.isfinite(now):
        return None
    ends, to = "", wanted_a
    if told is not None and wanted_a > told.amps:
        ends, to = f"the chain ends it: {told.words}", float(told.amps)
    rating = bike.build.drive.controller.line_max_a.amount
    if rating is not None and to > rating:
        ends, to = f"the controller's rating, {rating:.0f} A", rating
    if stops and to > now:
        ends, to = (
            f"a stop stands, no amps more before it is cleared: {listed(stops, 3, '; ')}",
            now,
        )
    elif to < now and wanted_a > to:
        ends = f"{ends}; the setting of {now:.0f} A is over it already: down to {to:.0f} A first"
    rows: list[Step] = []
    amps = now
    while amps < to - 0.5 and len(rows) < MOST_STEPS:
        amps = min(amps * (1.0 + STEP), to)
        rows.append(_step(bike, perf.case, amps, amps / now))
    said = {
        True: "",
        False: f"No sensor is in the winding: {LAGS}",
        None: f"Nobody says whether a sensor is in the winding. Without one {LAGS}",
    }
    unread = said[bike.build.drive.motor.temp_sensor] if rows else ""
    return Uprate(now, to, wanted_a, ends, tuple(rows), unread)


def _step(bike: Bike, case: RunCase, amps: float, factor: float) -> Step:
    c, m = bike.build.drive.controller, bike.build.drive.motor
    most = min(c.phase_max_a.or_else(math.inf), m.phase_max_a.or_else(math.inf))
    phase = min(case.phase_a * factor, max(most, case.phase_a))
    limits = tuple(LineLimit("line", amps) if x.choke == "line" else x for x in case.limits)
    done = run(dataclasses.replace(case, limits=limits, phase_a=phase), Stop(seconds=PULL_S))
    s = done.series
    limit = m.temp_max_c.taken
    return Step(
        amps,
        phase,
        min(s.bus_v),
        max(s.winding_c) - s.winding_c[0],
        max(s.case_c) - s.case_c[0],
        limit - 0.25 * (limit - 25.0),
    )
