"""One or two values of a build swept: a chosen result as a curve or a map, with the choke of each point."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

import numpy as np

from ninebolt.core.bike.case import assemble
from ninebolt.core.bike.path import aux_load_w
from ninebolt.core.build import Build
from ninebolt.core.codec import encode, replaced_all
from ninebolt.core.finding import Finding
from ninebolt.core.kernel import is_compiled
from ninebolt.core.parts.goal import ride_speed
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.run import Stop, held_longest, run
from ninebolt.core.simulate.steady import cruise, envelope, top_speed
from ninebolt.core.simulate.thrust import instant
from ninebolt.core.trace import leaf_at
from ninebolt.core.value import Value
from ninebolt.core.vehicle.splits import MILE_4_M
from ninebolt.errors import FieldError, InputError
from ninebolt.formats.build_json import build_of
from ninebolt.services.docs import with_changes
from ninebolt.services.moved import spec_at

MOST_POINTS = 40_000
AT_ONCE = 250  # points between two looks at progress
BLOCK = 25  # points handed to a thread at a time
WORKERS = 2


@dataclass(frozen=True, slots=True)
class Axis:
    """What is swept: path of a number or a count, from, to, how many; or just these values."""

    path: str
    start: float
    stop: float
    count: int
    values: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True)
class AxisView:
    """An axis with its label, quantity and values; now: what the build has, None unknown."""

    path: str
    label: str
    quantity: str
    values: list[float]
    now: float | None


@dataclass(frozen=True, slots=True)
class SweepView:
    """values: row after row of y, along x; None where it does not compute or is not reached. chokes: of
    each. best: place in values, None if nothing computes. done: how many of them are there. stops: what the best
    brings into the build that does not stand there now; clear: the best found that brings none, None while that is not
    looked at, or where none is."""

    result: str
    label: str
    quantity: str
    better: str
    x: AxisView
    y: AxisView | None
    values: list[float | None]
    chokes: list[str]
    best: int | None
    done: int
    stops: tuple[str, ...] = ()
    clear: int | None = None


Stops = Callable[[Build], Sequence[Finding]]  # of a build
Made = tuple[float | None, str]


@dataclass(frozen=True, slots=True)
class Result:
    """What may be swept for. better: more or less."""

    key: str
    label: str
    quantity: str
    better: str
    make: Callable[[Build, RunCase], Made]


def _top(build: Build, case: RunCase) -> Made:
    top = top_speed(case)
    return top.speed_m_s, top.choke


def _time(build: Build, case: RunCase) -> Made:
    to = build.goal.to_speed_m_s.taken
    done = run(case, Stop(speed_m_s=to, seconds=60.0))
    return (float(done.rows[-1, 0]) if done.ended == "speed" else None), held_longest(done)


def _quarter(build: Build, case: RunCase) -> Made:
    done = run(case, Stop(distance_m=MILE_4_M, seconds=60.0))
    reached = float(done.rows[-1, 0]) if done.ended == "distance" else None
    return reached, held_longest(done)


def _peak(build: Build, case: RunCase) -> Made:
    shown = envelope(case, max(top_speed(case).speed_m_s, 3.0))
    at = max(range(len(shown.power_w)), key=lambda i: shown.power_w[i])
    return shown.power_w[at], shown.choke[at]


def _launch(build: Build, case: RunCase) -> Made:
    now = instant(case, 0.0)
    return now.thrust_n, now.choke


def _range(build: Build, case: RunCase) -> Made:
    found = cruise(case, ride_speed(build.goal), aux_load_w(build))
    return (found.range_m, "") if found else (None, "")


RESULTS = {
    r.key: r
    for r in (
        Result("top_speed", "Top speed", "m_s", "more", _top),
        Result("to_time", "Time to the speed of the standing start", "s", "less", _time),
        Result("quarter", "Quarter mile", "s", "less", _quarter),
        Result("peak_wheel", "Peak power at the wheel", "w", "more", _peak),
        Result("launch", "Thrust from rest", "n", "more", _launch),
        Result("steady_range", "Range, steady at the ride's speed", "m", "more", _range),
    )
}
# What is offered first. Any other number of the build may be given by its path.
OFFERED = (
    "gear.rear_teeth",
    "gear.front_teeth",
    "drive.controller.line_a",
    "drive.controller.phase_a",
    "drive.controller.fw_id_a",
    "pack.series",
    "pack.parallel",
    "drive.motor.kv_rpm_v",
    "road.total_kg",
    "road.cda_m2",
    "road.grade_pct",
    "pack.start_soc",
    "guard.bms.i_peak_a",
)


def _axis(build: Build, axis: Axis) -> tuple[AxisView, bool]:
    """The axis and whether it counts in whole numbers. Raises FieldError, InputError."""
    spec = spec_at(axis.path)
    if spec is None or spec.kind not in ("number", "count"):
        raise FieldError(
            "This cannot be swept.",
            where=axis.path[:80],
            expected="a number or a count of the build",
        )
    if (
        not all(map(math.isfinite, (axis.start, axis.stop, *axis.values)))
        or axis.start == axis.stop
    ):
        raise InputError(
            "A sweep needs two different ends.",
            where=axis.path,
            got=f"{axis.start:g} to {axis.stop:g}",
        )
    whole = spec.kind == "count"
    values = (
        np.array(axis.values)
        if axis.values
        else np.linspace(axis.start, axis.stop, max(2, axis.count))
    )
    if whole:
        values = np.unique(np.round(values))
    step = build.pack.cell.body_series if axis.path == "pack.series" else 1
    if axis.path == "pack.parallel":
        step = build.pack.cell.body_parallel
    if step > 1:
        values = np.unique(np.round(values / step) * step)
    for end in (values[0], values[-1]):  # refused as any typed value would be
        doc = with_changes(encode(build), [{"path": axis.path, "value": _typed(float(end), whole)}])
        build_of(doc, build.name)
    old = leaf_at(build, axis.path)
    now = old.amount if isinstance(old, Value) else None if old is None else float(old)
    name = axis.path.rsplit(".", 1)[-1]
    return AxisView(axis.path, spec.label, spec.quantity(name).key, values.tolist(), now), whole


def _typed(x: float, whole: bool) -> Any:
    return int(x) if whole else {"amount": x, "origin": "guess", "tolerance": 0.0}


def sweep_steps(
    build: Build, x: Axis, y: Axis | None, result: str, stops: Stops | None = None
) -> Callable[[], Iterator[SweepView]]:
    """Checked now, computed as it is read, better and better; at the end the best is judged by its stops, where
    something is given that tells them. Raises FieldError, InputError."""
    if result not in RESULTS:
        raise InputError(
            "This result is not known.",
            where="result",
            got=result[:40],
            expected=", ".join(RESULTS),
        )
    if y is not None and y.path == x.path:
        raise InputError("Two axes of the same value make no map.", where="y", got=y.path)
    (xs, x_whole), second = _axis(build, x), _axis(build, y) if y else None
    ys, y_whole = second if second else (None, False)
    total = len(xs.values) * (len(ys.values) if ys else 1)
    if total > MOST_POINTS:
        raise InputError("Too many points.", got=str(total), expected=f"at most {MOST_POINTS}")

    def at(i: int) -> Build:
        column, row = i % len(xs.values), i // len(xs.values)
        pieces: dict[str, Any] = {x.path: _piece(xs.values[column], x_whole)}
        if ys is not None:
            pieces[ys.path] = _piece(ys.values[row], y_whole)
        return replaced_all(build, pieces)

    def point(i: int) -> Made:
        made = at(i)
        case = assemble(made).case
        return RESULTS[result].make(made, case) if case else (None, "")

    def steps() -> Iterator[SweepView]:
        last = None
        for last in _computed(point, total, result, xs, ys):
            yield last
        if last is not None and last.best is not None and stops is not None:
            yield _judged(build, last, at, stops)

    return steps


def _judged(build: Build, view: SweepView, at: Callable[[int], Build], stops: Stops) -> SweepView:
    """The same, judged. The best that is clear is looked for in the order of worth: by doubling steps until one is
    clear, then by halves between it and the last that was not. The bike as it is brings nothing new, so nothing worse
    is looked at. A dozen looks: a single clear one among others may be passed over; what is named was looked at."""
    before = {f.key for f in stops(build)}

    def new(i: int) -> tuple[str, ...]:
        return tuple(f.title for f in stops(at(i)) if f.key not in before)

    order = [i for i, v in enumerate(view.values) if v is not None]
    order.sort(key=lambda i: view.values[i] or 0.0, reverse=view.better == "more")
    order.sort(key=lambda i: i != view.best)  # of several alike the one that is shown comes first
    found = new(order[0])
    if not found:
        return dataclasses.replace(view, clear=order[0])
    last, known = len(order) - 1, _now_at(view)
    if known in order:
        last = order.index(known)
    low, high = 0, min(1, last)
    while high < last and new(order[high]):
        low, high = high, min(2 * high, last)
    if high == last and order[last] != known and new(order[last]):
        return dataclasses.replace(view, stops=found)
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if new(order[middle]) else (low, middle)
    return dataclasses.replace(view, stops=found, clear=order[high])


def _now_at(view: SweepView) -> int:
    """The place of the bike as it is; -1 where it is none of the points."""
    x, y = view.x, view.y
    if x.now not in x.values or (y is not None and y.now not in y.values):
        return -1
    row = 0 if y is None or y.now is None else y.values.index(y.now)
    return row * len(x.values) + (x.values.index(x.now) if x.now is not None else 0)


def _piece(x: float, whole: bool) -> Any:
    return int(x) if whole else Value(x, "guess", 0.0)


def _computed(
    point: Callable[[int], Made], total: int, result: str, xs: AxisView, ys: AxisView | None
) -> Iterator[SweepView]:
    made: list[Made] = []
    kind = RESULTS[result]
    workers = WORKERS if is_compiled() else 1
    with ThreadPoolExecutor(workers) as pool:
        for start in range(0, total, AT_ONCE):
            part = range(start, min(start + AT_ONCE, total))
            blocks = [part[i : i + BLOCK] for i in range(0, len(part), BLOCK)]
            for rows in pool.map(lambda block: [point(i) for i in block], blocks):
                made += rows
            values = [m[0] for m in made]
            known = [(v, i) for i, v in enumerate(values) if v is not None]
            pick = max if kind.better == "more" else min
            best = pick(known)[1] if known else None
            rest = total - len(made)
            yield SweepView(
                result,
                kind.label,
                kind.quantity,
                kind.better,
                xs,
                ys,
                values + [None] * rest,
                [m[1] for m in made] + [""] * rest,
                best,
                len(made),
            )


def sweep(
    build: Build, x: Axis, y: Axis | None, result: str, stops: Stops | None = None
) -> SweepView:
    """All of it. Raises FieldError, InputError."""
    *_, last = sweep_steps(build, x, y, result, stops)()
    if last.best is None:
        missing = assemble(build).missing
        raise InputError(
            "Nothing computes along this sweep.",
            got="missing " + ", ".join(missing) if missing else "no point reaches a result",
            todo="Fill in what is missing, or take other ends.",
        )
    return last
