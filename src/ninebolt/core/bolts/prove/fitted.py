"""Which parts a gate of commissioning was passed on: with another one in its place it is open again.

A part is known by its name, as it comes from the shelf or was given by hand, a pack by its cell and counts, a chain by
its teeth; what is measured or set on a part does not make it another. One that has no name is known by what is printed
on it. What was read warm after a pull was read at the line amps set then: much more of them is another pull. Common
practice, no source.
"""

from __future__ import annotations

import re
from collections.abc import Callable

from ninebolt.core.bike.facts import Bike
from ninebolt.core.build import Build
from ninebolt.core.parts.base import Fitting, Part
from ninebolt.core.value import Value

NONE, SEP, UNREAD = "none", " | ", "?"
MORE_AMPS = 1.1  # of those that a gate was passed at. Common practice, no source.
AMPS = "line-amp setting"
COUNTS = re.compile(r"\S+s \S+p(?= \||$)")


def _known(amount: float | None) -> str:
    return UNREAD if amount is None else f"{amount:.6g}"


def _printed(part: Part, *names: str) -> str:
    """The part's name and what is printed on it, in this order."""
    if isinstance(part, Fitting) and part.there is False:
        return NONE
    rows: list[Value] = [getattr(part, n) for n in (names or getattr(part, "TELLING", ()))]
    return f"{part.name}{SEP}{' '.join(_known(x.amount) for x in rows)}"


def _pack(b: Build) -> str:
    cell = _printed(b.pack.cell, "mass_kg", "i_cont_a", "i_peak_a", "full_v")
    name, _, printed = cell.partition(SEP)
    counts = f"{b.pack.series or UNREAD}s {b.pack.parallel or UNREAD}p"
    return f"{name} {counts}{SEP}{printed}"


WHAT: dict[str, Callable[[Build], str]] = {
    "pack": _pack,
    "BMS": lambda b: _printed(b.guard.bms),
    "fuse": lambda b: _printed(b.guard.fuse),
    "isolator": lambda b: _printed(b.guard.isolator),
    "plug": lambda b: _printed(b.guard.plug),
    "precharge": lambda b: _printed(b.guard.precharge),
    "converter": lambda b: _printed(b.guard.dcdc),
    "charger": lambda b: _printed(b.guard.charger),
    "controller": lambda b: _printed(b.drive.controller, "v_max_v", "line_max_a", "phase_max_a"),
    "motor": lambda b: _printed(
        b.drive.motor, "mass_kg", "label_w", "phase_max_a", "phase_cont_a", "rpm_max_rpm"
    ),
    "front brake": lambda b: _printed(b.gear.front_brake),
    "rear brake": lambda b: _printed(b.gear.rear_brake),
    "chain": lambda b: (
        f"{b.gear.front_teeth or UNREAD}/{b.gear.rear_teeth or UNREAD} {b.gear.chain}"
    ),
    AMPS: lambda b: _known(b.drive.controller.line_a.amount),  # what plug, fuse and groups carry
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
    "plug_warm": ("plug", AMPS),
    "chain": ("chain",),
    "full_run": (*POWER, "fuse", "isolator", "plug", AMPS),
    "retorque": ("motor", "front brake", "rear brake"),
    "spread_after": ("pack", "BMS", AMPS),
    "case_after": ("controller", "motor"),
}


def _now(build: Build, what: str) -> str:
    return " ".join(WHAT[what](build).split())


def passed_on(build: Build, gate: str) -> str:
    """The parts of a gate as they are now, a line each: 'controller: its name | what is printed on it'."""
    return "\n".join(f"{what}: {_now(build, what)}" for what in PARTS.get(gate, ()))


def _numbers(text: str) -> list[float | None]:
    return [None if x == UNREAD else float(x) for x in text.split()]


def _pairs(was: str, now: str) -> list[tuple[float, float]]:
    """The numbers that were known both times; none where one of them does not read as numbers."""
    try:
        both = zip(_numbers(was), _numbers(now), strict=True)
        return [(a, b) for a, b in both if a is not None and b is not None]
    except ValueError:
        return []


def _is_another(was: str, now: str) -> bool:
    """Whether a part is another than the one that was there, each as 'name | numbers'."""
    (old, _, old_printed), (new, _, new_printed) = was.partition("|"), now.partition("|")
    old, new = old.strip(), new.strip()
    if old and new:
        return old != new
    pairs = _pairs(old_printed, new_printed)
    differ = sum(a != b for a, b in pairs)
    if old or new:
        return differ > 0 or NONE in (old, new)
    return differ >= min(2, max(len(pairs), 1))  # one of several that is corrected makes no other


def _is_another_pack(was: str, now: str) -> bool:
    """Other counts, or another cell; each as 'name 23s 8p | numbers'."""
    old, new = COUNTS.search(was), COUNTS.search(now)
    if not old or not new or old[0] != new[0]:
        return was != now
    return _is_another(COUNTS.sub("", was, 1), COUNTS.sub("", now, 1))


def _is_more(was: str, now: str) -> bool:
    return any(new > MORE_AMPS * old for old, new in _pairs(was, now))


def changed_since(bike: Bike, on: str) -> tuple[str, ...]:
    """The parts that are others now than when a gate was passed on `on`; none where nobody wrote it down."""
    out = []
    for line in on.splitlines():
        what, _, was = line.partition(":")
        another = {AMPS: _is_more, "pack": _is_another_pack}.get(what, _is_another)
        if what in WHAT and another(was.strip(), _now(bike.build, what)):
            out.append(what)
    return tuple(out)
