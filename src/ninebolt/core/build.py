"""The Build: everything that is known and chosen about one bike, in the order of the nine bolts."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ninebolt.core.parts.donor import Donor
from ninebolt.core.parts.drive import Controller, Motor
from ninebolt.core.parts.goal import Goal
from ninebolt.core.parts.guard import Guard
from ninebolt.core.parts.pack import Pack
from ninebolt.core.parts.rolling import Gear, Road
from ninebolt.core.value import (
    Value,
    choice,
    count,
    flag,
    many,
    num,
    part,
    reading,
    text,
    texts,
)

# 2: bays as outlines, stock, candidates, placed bodies. 3: parts and numbers may be said not to be
# there. Older documents read as they are: what they do not say, nobody has looked at.
FORMAT_VERSION = 3
PURPOSES = ("pack", "bypass", "road", "strip", "guest", "first ride")
THROTTLES = ("not looked at", "hall twist", "potentiometer", "two-track hall")
BOLTS = ("donor", "goal", "pack", "guard", "drive", "gear", "wire", "tune", "prove")


@dataclass(frozen=True, slots=True)
class Drive:
    """Controller and motor."""

    controller: Controller = part("Controller", Controller)
    motor: Motor = part("Motor", Motor)


@dataclass(frozen=True, slots=True)
class Lead:
    """One lead between controller and motor: marks are letters, colours are only colours."""

    controller_mark: str = text("Mark at the controller")
    controller_colour: str = text("Colour at the controller")
    motor_colour: str = text("Colour at the motor")
    confirmed: bool | None = flag("Confirmed by identification", False)


@dataclass(frozen=True, slots=True)
class Interlock:
    """A safety input of the controller."""

    name: str = text("Input")
    state: str = choice("State", ("open", "fitted", "bypassed"))


@dataclass(frozen=True, slots=True)
class Wire:
    """How it is hooked up."""

    phases: tuple[Lead, ...] = many("Phase leads", Lead)
    halls: tuple[Lead, ...] = many("Hall leads", Lead)
    interlocks: tuple[Interlock, ...] = many("Safety inputs", Interlock)
    done: tuple[str, ...] = texts("Hook-up steps done")
    lowest_live_m: Value = reading("Lowest live point above the ground", lo=0, hi=2)


@dataclass(frozen=True, slots=True)
class ParamChoice:
    """A parameter set by hand instead of the recommended value."""

    name: str = text("Parameter")
    value: float = 0.0


@dataclass(frozen=True, slots=True)
class TuneProfile:
    """A set of its own for one pack or purpose. What it does not say is the build's."""

    name: str = text("Name")
    purpose: str = choice("For", PURPOSES)
    series: int | None = count("Cells in series of its pack", 1, 200)
    parallel: int | None = count("Cells in parallel of its pack", 1, 200)
    bms_a: Value = num("Continuous amps of its pack's BMS", above=0, hi=5000)
    charger_v: Value = num("Its charger ends at", above=0, hi=1000)
    speed_m_s: Value = num("Speed cap", above=0, hi=120, wish=True)


@dataclass(frozen=True, slots=True)
class Tune:
    """Controller settings that differ from the recommendation, and the throttle curve.

    throttle: pairs of twist 0…1 and share of the full torque 0…1.
    """

    chosen: tuple[ParamChoice, ...] = many("Set by hand", ParamChoice)
    throttle: tuple[tuple[float, float], ...] = ((0.0, 0.0), (1.0, 1.0))
    regen_pct: Value = num("Regeneration at closed throttle", lo=0, hi=100, assume=0.0, spread=0.0)
    margin: str = choice(
        "Margins",
        ("normal", "gentle", "everything"),
        help="of what Tune recommends; gentle for a first ride",
    )
    throttle_kind: str = choice("Throttle", THROTTLES)
    throttle_rest_v: Value = reading(
        "Its reading at rest", lo=0, hi=12, help="measured at the controller, hand off"
    )
    throttle_full_v: Value = reading("Its reading at full twist", lo=0, hi=12)
    throttle_supply_v: Value = reading("Its supply", above=0, hi=15, assume=5.0, spread=0.05)
    cap_m_s: Value = num("Speed cap wanted", above=0, hi=120, wish=True, detail=True)
    profiles: tuple[TuneProfile, ...] = many("Profiles", TuneProfile)


MISHAPS = ("incident", "failure")  # want a cause
BOOK_KINDS = (
    "note",
    "charge",
    "re-torque",
    "chain",
    "brakes",
    "tyres",
    "rebuild",
    "cells",
    *MISHAPS,
)


@dataclass(frozen=True, slots=True)
class GateEntry:
    """What was found at a gate of commissioning: a reading, or a yes or no; by whom and when."""

    key: str = text("Gate")
    value: Value = reading("Reading")
    passed: bool | None = flag("Passed")
    note: str = text("Note")
    who: str = text("Who")
    at: str = text("When")
    on: str = text("Passed on", help="the parts that were fitted then, a line each")


@dataclass(frozen=True, slots=True)
class BookEntry:
    """Something that was done to the bike, or that happened to it."""

    kind: str = choice("Kind", BOOK_KINDS)
    at: str = text("When", help="a date, such as 2026-05-01")
    what: str = text("What")
    cause: str = text("Cause", help="of an incident or failure, once it is known")
    odometer_m: Value = reading("Odometer", lo=0, hi=1e9)
    run_s: Value = reading("Running time", lo=0, hi=1e8)
    energy_wh: Value = reading(
        "Energy charged", above=0, hi=1e6, help="by a meter between charger and pack"
    )


@dataclass(frozen=True, slots=True)
class Prove:
    """How runs are read, which log stands for this build, and how far it is commissioned. quarantine: why it may not be
    ridden before it was looked at; '' for none."""

    rollout: bool | None = flag("One-foot rollout", False)
    log_id: str = text("Log shown beside the prediction")
    launch: int | None = count("Standing start of the log", lo=1, help="empty for the fastest")
    wind_m_s: Value = reading(
        "Wind from ahead in the log", lo=-30, hi=30, help="at the course, minus: from behind"
    )
    slope_pct: Value = reading(
        "Slope of the log's course", lo=-30, hi=30, help="per cent, minus: downhill"
    )
    gates: tuple[GateEntry, ...] = many("Gates", GateEntry)
    quarantine: str = text(
        "Not to be ridden because", help="after a fall or a failure, until it was inspected"
    )
    book: tuple[BookEntry, ...] = many("Book", BookEntry, most=3000)


@dataclass(frozen=True, slots=True)
class Mark:
    """A witness mark: the inputs that a bolt's computation used when it was signed off."""

    bolt: str = text("Bolt")
    digest: str = text("Digest")
    signed_at: str = text("Signed at")
    note: str = text("Note")
    inputs: dict[str, Any] | None = None


@dataclass(frozen=True, slots=True)
class Build:
    """One bike."""

    format_version: int = FORMAT_VERSION
    name: str = text("Name")
    note: str = text("Note")
    donor: Donor = part("Donor", Donor)
    goal: Goal = part("Goal", Goal)
    pack: Pack = part("Pack", Pack)
    guard: Guard = part("Guard", Guard)
    drive: Drive = part("Drive", Drive)
    gear: Gear = part("Gear", Gear)
    road: Road = part("Road and body", Road)
    wire: Wire = part("Wiring", Wire)
    tune: Tune = part("Tune", Tune)
    prove: Prove = part("Prove", Prove)
    marks: tuple[Mark, ...] = many("Witness marks", Mark)
