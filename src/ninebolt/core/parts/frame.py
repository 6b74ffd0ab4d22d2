"""The donor's frame: what comes off and goes on, the room for the pack, what is done to it."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.value import Value, choice, flag, many, num, outline, reading, text

Outline = tuple[tuple[float, float], ...]
KEEP_OUTS = ("shock", "foot pegs", "chain line", "frame tube", "hose or cable", "other")
FRAME_RULES = ("unknown", "frame stays as it left the maker", "changes need approval", "free")


UPGRADES = (
    "brakes",
    "tyres",
    "fork and shock",
    "chain and sprockets",
    "wheels and spokes",
    "motor mounts and swing-arm pivot",
    "torque arms",
)


@dataclass(frozen=True, slots=True)
class Upgrade:
    """Running gear that was changed for more."""

    what: str = choice("What", UPGRADES)
    fitted: bool | None = flag("Fitted")
    note: str = text("What went on")


@dataclass(frozen=True, slots=True)
class MassItem:
    """One line of the mass ledger. x from the rear axle forward, y from the ground up."""

    name: str = text("Name")
    action: str = choice("Action", ("added", "removed"))
    mass_kg: Value = num("Mass", lo=0, hi=500)
    x_m: Value = reading("Forward of the rear axle", lo=-1, hi=3)
    y_m: Value = reading("Above the ground", lo=-0.5, hi=3)
    note: str = text("Note", detail=True)


@dataclass(frozen=True, slots=True)
class KeepOut:
    """Room inside a bay that must stay free, a box; its middle is measured from the bay's
    middle."""

    name: str = text("Name")
    kind: str = choice("What it is", KEEP_OUTS)
    x_m: Value = reading("Forward of the bay's middle", lo=-2, hi=2, assume=0.0, spread=0.0)
    y_m: Value = reading("Above the bay's middle", lo=-2, hi=2, assume=0.0, spread=0.0)
    length_m: Value = reading("Length along the bike", above=0, hi=2)
    height_m: Value = reading("Height", above=0, hi=2)
    width_m: Value = reading("Width across", above=0, hi=1, help="unknown = the whole width")
    z_m: Value = reading(
        "Right of the centre line", lo=-1, hi=1, assume=0.0, spread=0.0, detail=True
    )


@dataclass(frozen=True, slots=True)
class Bay:
    """Room for the pack. A box of length along the bike, height up and width across (inside sizes),
    or an outline in the side view, corners measured from the bay's middle, with a width."""

    name: str = text("Name")
    length_m: Value = reading("Length", above=0, hi=2)
    height_m: Value = reading("Height", above=0, hi=2)
    width_m: Value = reading("Width", above=0, hi=1)
    padding_m: Value = reading("Padding on each side", lo=0, hi=0.1, assume=0.005, spread=0.4)
    wall_m: Value = num(
        "Wall of a case inside it", lo=0, hi=0.05, assume=0.0, spread=0.0, help="0 = cells sit bare"
    )
    seat_gap_m: Value = reading(
        "Height a seat extender would add", lo=0, hi=0.3, assume=0.0, spread=0.0, detail=True
    )
    outline: Outline = outline(
        "Outline in the side view", "corners in metres from the bay's middle; empty = a box"
    )
    keep_outs: tuple[KeepOut, ...] = many("Keep free", KeepOut)
    x_m: Value = reading("Its middle, forward of the rear axle", lo=-1, hi=3, detail=True)
    y_m: Value = reading("Its middle, above the ground", lo=-0.5, hi=3, detail=True)


@dataclass(frozen=True, slots=True)
class FrameChange:
    """A cut, weld or hole, kept on record for registration."""

    name: str = text("What was done")
    kind: str = choice("Kind", ("bolt_on", "hole", "cut", "weld"))
    place: str = text("Where on the frame")
    bears_load: bool | None = flag("The place carries load")
    inspected: bool | None = flag("Inspected by someone licensed to", False)
    done_on: str = text("Date", detail=True)
    note: str = text("Note", detail=True)


@dataclass(frozen=True, slots=True)
class Legal:
    """What the builder has found out about the rules where it will be ridden. Their words, not a
    verdict: the authority decides."""

    region: str = text("Region")
    checked_on: str = text("Looked up on", help="a date; rules change")
    vehicle_class: str = text("Vehicle class aimed at")
    speed_max_m_s: Value = num("Highest design speed of that class", above=0, hi=150)
    power_max_w: Value = num("Highest power of that class", above=0, hi=1e6)
    mass_max_kg: Value = num("Highest mass of that class", above=0, hi=1000)
    frame_rule: str = choice("Rule for the frame", FRAME_RULES)
    note: str = text("Note")
