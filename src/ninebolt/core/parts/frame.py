"""The donor: what comes off, what goes on, and the room for the pack."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.value import Value, choice, num, text


@dataclass(frozen=True, slots=True)
class MassItem:
    """One line of the mass ledger. x from the rear axle forward, y from the ground up."""

    name: str = text("Name")
    action: str = choice("Action", ("added", "removed"))
    mass_kg: Value = num("Mass", lo=0, hi=500)
    x_m: Value = num("Forward of the rear axle", lo=-1, hi=3)
    y_m: Value = num("Above the ground", lo=-0.5, hi=3)
    note: str = text("Note", detail=True)


@dataclass(frozen=True, slots=True)
class Bay:
    """Room for the pack, a box: length along the bike, height up, width across; inside sizes."""

    name: str = text("Name")
    length_m: Value = num("Length", above=0, hi=2)
    height_m: Value = num("Height", above=0, hi=2)
    width_m: Value = num("Width", above=0, hi=1)
    padding_m: Value = num("Padding on each side", lo=0, hi=0.1, assume=0.005, spread=0.4)
    x_m: Value = num("Its middle, forward of the rear axle", lo=-1, hi=3, detail=True)
    y_m: Value = num("Its middle, above the ground", lo=-0.5, hi=3, detail=True)


@dataclass(frozen=True, slots=True)
class FrameChange:
    """A cut, weld or hole, kept on record for registration."""

    name: str = text("What was done")
    kind: str = choice("Kind", ("bolt_on", "hole", "cut", "weld"))
    note: str = text("Note", detail=True)
