"""Which parts a gate of commissioning was passed on: with another one in its place it is open again.

A part is known by its name, as it comes from the shelf or was given by hand, a pack by its cell and counts, a chain by
its teeth; what is measured or set on a part does not make it another. Common practice, no source.
"""

from __future__ import annotations

from collections.abc import Callable

from ninebolt.core.bike.facts import Bike
from ninebolt.core.build import Build
from ninebolt.core.parts.base import Fitting


def _named(part: Fitting) -> str:
    return "none" if part.there is False else part.name


def _pack(b: Build) -> str:
    return f"{b.pack.cell.name} {b.pack.series or '?'}s {b.pack.parallel or '?'}p".strip()


WHAT: dict[str, Callable[[Build], str]] = {
    "pack": _pack,
    "BMS": lambda b: _named(b.guard.bms),
    "fuse": lambda b: _named(b.guard.fuse),
    "isolator": lambda b: _named(b.guard.isolator),
    "plug": lambda b: _named(b.guard.plug),
    "precharge": lambda b: _named(b.guard.precharge),
    "converter": lambda b: _named(b.guard.dcdc),
    "charger": lambda b: _named(b.guard.charger),
    "controller": lambda b: b.drive.controller.name,
    "motor": lambda b: b.drive.motor.name,
    "front brake": lambda b: _named(b.gear.front_brake),
    "rear brake": lambda b: _named(b.gear.rear_brake),
    "chain": lambda b: f"{b.gear.front_teeth or '?'}/{b.gear.rear_teeth or '?'} {b.gear.chain}",
}
POWER = ("pack", "BMS", "controller", "motor")
# Gate -> the parts that it was passed on.
PARTS: dict[str, tuple[str, ...]] = {
    "marks_cold": ("motor", "front brake", "rear brake"),
    "cell_spread": ("pack",),
    "polarity": ("pack", "plug"),
    "isolation": ("pack",),
    "plugs": ("plug", "controller", "motor", "BMS"),
    "isolation_all": ("pack", "controller", "motor", "converter"),
    "brake_cold": ("front brake", "rear brake"),
    "small_fuse": ("pack", "controller", "isolator", "precharge", "converter"),
    "precharge": ("controller", "isolator", "precharge"),
    "drop_out": ("controller", "isolator"),
    "live_off": ("pack", "plug", "isolator"),
    "live_on": ("pack", "plug", "isolator", "controller"),
    "live_charge": ("charger", "plug"),
    "throttle_rest": ("controller",),
    "throttle_full": ("controller",),
    "brake_cut": ("controller",),
    "stand_tip": ("controller",),
    "identified": ("controller", "motor"),
    "direction": ("controller", "motor"),
    "free_amps": ("controller", "motor"),
    "brakes_bedded": ("front brake", "rear brake"),
    "slow_ride": (*POWER, "front brake", "rear brake"),
    "plug_warm": ("plug",),
    "chain": ("chain",),
    "full_run": (*POWER, "fuse", "isolator", "plug"),
    "retorque": ("motor", "front brake", "rear brake"),
    "spread_after": ("pack", "BMS"),
    "case_after": ("controller", "motor"),
}


def _now(build: Build, what: str) -> str:
    return " ".join(WHAT[what](build).split())


def passed_on(build: Build, gate: str) -> str:
    """The parts of a gate as they are now, a line each: 'controller: its name'. What has no name is left out."""
    rows = ((what, _now(build, what)) for what in PARTS.get(gate, ()))
    return "\n".join(f"{what}: {name}" for what, name in rows if name)


def changed_since(bike: Bike, on: str) -> tuple[str, ...]:
    """The parts that are others now than when a gate was passed on `on`; none where nobody wrote it down."""
    out = []
    for line in on.splitlines():
        what, _, was = line.partition(": ")
        if what in WHAT and _now(bike.build, what) != was:
            out.append(what)
    return tuple(out)
