"""What holds the bike back: which link, over which speeds and for how long of a standing start, and what
raising it would bring. Each lever is tried on the build and its effect is what the build then does."""

from __future__ import annotations

import dataclasses
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from ninebolt.core.bike.chain import advice
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.ribbon import RibbonPart, ribbon_of
from ninebolt.core.build import Build
from ninebolt.core.codec import encode
from ninebolt.core.finding import CAP_OFF, Change, Fix
from ninebolt.core.logs.ride import RideReport
from ninebolt.core.simulate.headline import Headline
from ninebolt.errors import InputError
from ninebolt.formats.build_json import build_of
from ninebolt.services.docs import with_changes

STEP = 0.10  # by how much a setting or a rating is raised to see what it brings
TEETH = 2


@dataclass(frozen=True, slots=True)
class Lever:
    """One thing that may be raised. after: the headline with it; None where it cannot be tried.
    bound: what stands against it, '' if nothing."""

    fix: Fix
    after: Headline | None
    bound: str


@dataclass(frozen=True, slots=True)
class Held:
    """One choke: how long of the standing start it holds (share of its time), and its levers."""

    choke: str
    share: float
    levers: tuple[Lever, ...]


@dataclass(frozen=True, slots=True)
class ChokeView:
    """spans: over road speed, throttle open. held: longest first. now: the headline as it is."""

    now: Headline
    spans: tuple[RibbonPart, ...]
    held: tuple[Held, ...]


def choke_view(build: Build, ride: RideReport | None = None) -> ChokeView:
    """What holds this build back. ride: the log chosen in it, analysed. Raises InputError while it does not compute."""
    perf = performance_of(Bike(build, ride))
    if perf is None:
        raise InputError(
            "What holds it back is not known: the bike does not compute yet.",
            todo="Fill in what the bolts call missing.",
        )
    s = perf.run.series
    seconds: dict[str, float] = defaultdict(float)
    for i in range(1, len(s.t_s)):
        seconds[s.choke[i]] += s.t_s[i] - s.t_s[i - 1]
    total = sum(seconds.values()) or 1.0
    names = sorted(seconds, key=lambda name: -seconds[name])
    if perf.top.choke and perf.top.choke not in names:
        names.append(perf.top.choke)
    named = perf.headline.choke  # the one that the headline names comes first
    names = [n for n in names if n == named] + [n for n in names if n != named]
    opens = "BMS" if perf.headline.opens == "BMS" else "path" if perf.headline.opens else ""
    if opens:  # what cuts it off comes before what only holds it back
        names = [opens, *(n for n in names if n != opens)]
    held = tuple(
        Held(name, seconds.get(name, 0.0) / total, tuple(_all(build, ride, name, name == opens)))
        for name in names
    )
    shown = perf.envelope
    return ChokeView(perf.headline, ribbon_of(shown.speed_m_s, shown.choke), held)


def _all(build: Build, ride: RideReport | None, choke: str, opens: bool) -> Iterator[Lever]:
    """The levers of a choke; of one that opens the amps at which it stays closed come first."""
    told = advice(Bike(build)) if opens else None
    if told is not None:
        changes: list[tuple[str, Any]] = [(c.path, c.value) for c in told.fix.changes]
        stays = _tried(build, ride, told.fix.label, changes, f"less power: {told.words}")
        still = stays.after.opens if stays.after else ""
        words = f"and still the {still} opens; {stays.bound}" if still else stays.bound
        yield dataclasses.replace(stays, bound=words)
    for lever in _levers(build, choke):
        yield _tried(build, ride, *lever)


def _tried(
    build: Build,
    ride: RideReport | None,
    label: str,
    changes: list[tuple[str, Any]],
    bound: str,
) -> Lever:
    fix = Fix(label, tuple(Change(path, value) for path, value in changes))
    try:
        doc = with_changes(encode(build), [{"path": p, "value": v} for p, v in changes])
        perf = performance_of(Bike(build_of(doc), ride))
    except InputError as error:
        return Lever(fix, None, error.message())
    return Lever(fix, perf.headline if perf else None, bound)


def _set(amount: float) -> dict[str, Any]:
    return {"amount": float(f"{amount:.4g}"), "origin": "guess", "tolerance": 0.0}


def _levers(build: Build, choke: str) -> Iterator[tuple[str, list[tuple[str, Any]], str]]:
    """(label, changes, what stands against it) of what raises a choke, the cheapest first."""
    make = {
        "line": _line,
        "phase": _phase,
        "volts": _volts,
        "cells": _cells,
        "BMS": _bms,
        "path": _path,
        "throttle": _throttle,
    }.get(choke)
    if make is not None:
        yield from make(build)


Levers = Iterator[tuple[str, list[tuple[str, Any]], str]]


def _line(build: Build) -> Levers:
    yield from _raised(build, "Line amps", "line_a", "line_max_a")


def _phase(build: Build) -> Levers:
    yield from _teeth(build, TEETH)
    yield from _raised(build, "Phase amps", "phase_a", "phase_max_a")


def _raised(build: Build, label: str, setting: str, rating: str) -> Levers:
    """A setting of the controller a step up; past its rating it takes another controller."""
    c = build.drive.controller
    most = getattr(c, rating).amount
    now = getattr(c, setting).amount or most
    if now is None:
        return
    to = now * (1 + STEP)
    over = most is not None and to > most
    keys = (setting, rating) if over else (setting,)
    yield (
        f"{label} {now:.0f} → {to:.0f} A",
        [(f"drive.controller.{key}", _set(to)) for key in keys],
        f"its rating is {most:.0f} A: another controller" if over else "",
    )


def _teeth(build: Build, by: int) -> Levers:
    rear = build.gear.rear_teeth
    if rear is not None and rear + by > 8:
        yield f"Rear sprocket {rear} → {rear + by}", [("gear.rear_teeth", rear + by)], ""


def _volts(build: Build) -> Levers:
    yield from _teeth(build, -TEETH)
    c = build.drive.controller
    weak = c.fw_id_a.amount or 0.0
    phase = c.phase_a.amount or c.phase_max_a.amount
    if phase is not None:
        to = weak + STEP * phase
        yield (
            f"Field weakening {weak:.0f} → {to:.0f} A",
            [("drive.controller.fw_id_a", _set(to))],
            "heat, and back-EMF over the controller's ceiling if it lets go: see Drive",
        )
    series, step = build.pack.series, build.pack.cell.body_series
    if series is not None:
        yield (
            f"{series} → {series + step} cells in series",
            [("pack.series", series + step)],
            "charger, BMS and every voltage rating go with it",
        )


def _cells(build: Build) -> Levers:
    parallel, step = build.pack.parallel, build.pack.cell.body_parallel
    if parallel is not None:
        yield (
            f"{parallel} → {parallel + step} cells in parallel",
            [("pack.parallel", parallel + step)],
            "",
        )


def _bms(build: Build) -> Levers:
    bms = build.guard.bms
    changes = [
        (f"guard.bms.{key}", _set(value * (1 + STEP)))
        for key, value in (("i_cont_a", bms.i_cont_a.amount), ("i_peak_a", bms.i_peak_a.amount))
        if value is not None
    ]
    if changes:
        yield "A BMS for a tenth more current", changes, "its trip must still lie under the fuse's"


def _path(build: Build) -> Levers:
    g = build.guard
    changes = [
        (f"guard.{key}", _set(value * (1 + STEP)))
        for key, value in (
            ("plug.i_peak_a", g.plug.i_peak_a.amount),
            ("plug.i_cont_a", g.plug.i_cont_a.amount),
            ("fuse.rated_a", g.fuse.rated_a.amount),
        )
        if value is not None
    ]
    if changes:
        yield "Plug and fuse for a tenth more current", changes, "the cable must carry it too"


def _throttle(build: Build) -> Levers:
    if build.tune.cap_m_s.known:
        brakes = "brakes, tyres and the law: see what it was capped for"
        yield CAP_OFF.label, [(c.path, c.value) for c in CAP_OFF.changes], brakes
    ramp = build.drive.controller.ramp_s.amount
    if ramp:
        yield (
            f"Throttle ramp {ramp:g} → {ramp / 2:g} s",
            [("drive.controller.ramp_s", _set(ramp / 2))],
            "harsher off the line",
        )
