"""Guard: what on the shelf could take a link's place, as fixes of one press."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Any, cast

from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bolts.common import Context
from ninebolt.core.build import Build
from ninebolt.core.codec import encode, fields_of
from ninebolt.core.finding import Change, Fix
from ninebolt.core.guard.conductors import BURST, continuous_amps
from ninebolt.core.guard.fuse import BREAKER_HOLDS, TEN_MINUTES
from ninebolt.core.parts.base import Part
from ninebolt.core.parts.drive import Controller
from ninebolt.core.parts.guard import Bms, Cable, Fuse, Isolator, Plug
from ninebolt.core.value import Value

OFFERS = 3


def swap(build: Build, path: str, part: Part) -> Fix:
    """Put a part of the shelf at a path; what belongs to the build stays."""
    doc = encode(part)
    cls = type(part)
    old = part_at(build, path)
    for name, (spec, _) in fields_of(cast(Hashable, cls)).items():
        if spec is not None and spec.own:
            doc[name] = encode(getattr(old, name))
    return Fix(f"Swap for {part.name}", (Change(path, doc),))


def part_at(build: Build, path: str) -> Any:
    """The part of a build at a path without list places."""
    here: Any = build
    for step in path.split("."):
        here = getattr(here, step)
    return here


@dataclass(frozen=True, slots=True)
class _Want:
    """What a link must stand: volts of the full pack, amps; and the link that is there."""

    build: Build
    full_v: float
    amps: float

    @property
    def ambient_c(self) -> float:
        return self.build.guard.cable.ambient_c.taken


@dataclass(frozen=True, slots=True)
class _Link:
    """A kind of part: which of the shelf fit, and what makes one larger than another."""

    cls: type[Part]
    fits: Callable[[Any, _Want], bool]
    size: Callable[[Any], Value]


LINKS = {
    "guard.bms": _Link(
        Bms,
        lambda x, w: x.series == w.build.pack.series and x.i_cont_a.or_else(0.0) >= w.amps,
        lambda x: x.i_cont_a,
    ),
    "guard.fuse": _Link(
        Fuse,
        lambda x, w: (
            x.dc_v.or_else(0.0) >= w.full_v and x.rated_a.or_else(0.0) * TEN_MINUTES >= w.amps
        ),
        lambda x: x.rated_a,
    ),
    "guard.isolator": _Link(
        Isolator,
        lambda x, w: (
            x.kind == w.build.guard.isolator.kind
            and x.rated_for != "AC only"
            and x.dc_v.or_else(0.0) >= w.full_v
            and x.i_cont_a.or_else(0.0) * (BREAKER_HOLDS if x.kind == "breaker" else BURST)
            >= w.amps
        ),
        lambda x: x.i_cont_a,
    ),
    "guard.plug": _Link(
        Plug,
        lambda x, w: (
            x.keyed is not False
            and x.dc_v.or_else(0.0) >= w.full_v
            and x.i_peak_a.or_else(0.0) >= w.amps
        ),
        lambda x: x.i_cont_a,
    ),
    "guard.cable": _Link(
        Cable,
        lambda x, w: BURST * _carries(x, w.ambient_c) >= w.amps,
        lambda x: x.section_m2,
    ),
    "drive.controller": _Link(
        Controller,
        lambda x, w: x.v_max_v.or_else(0.0) >= w.full_v and x.line_max_a.or_else(0.0) >= w.amps,
        lambda x: x.line_max_a,
    ),
}


def swaps_for(
    build: Build, context: Context, path: str, facts: PackFacts | None, load: float | None
) -> tuple[Fix, ...]:
    """Alternatives for one link that stand the full pack and the line amps, smallest first."""
    link = LINKS.get(path)
    if link is None:
        return ()
    want = _Want(build, facts.full_v if facts else 0.0, load or 0.0)
    now = part_at(build, path).name
    shelf = context.shelf.of(path.rsplit(".", 1)[1], link.cls)
    good = [p for p in shelf if p.name != now and link.fits(p, want)]
    good.sort(key=lambda p: link.size(p).or_else(math.inf))
    return tuple(swap(build, path, p) for p in good[:OFFERS])


def bms_for(build: Build, context: Context, amps: float) -> tuple[Fix, ...]:
    """The smallest BMS of this series count whose continuous current is enough."""
    return swaps_for(build, context, "guard.bms", None, amps)[:1] if amps > 0.0 else ()


def _carries(cable: Cable, ambient: float) -> float:
    section = cable.section_m2.amount
    if section is None:
        return 0.0
    return continuous_amps(section, max(cable.temp_max_c.taken - ambient, 1.0), ambient)
