"""Guard: what on the shelf could take a link's place, as fixes of one press."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable
from typing import Any, cast

from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bolts.common import Context
from ninebolt.core.build import Build
from ninebolt.core.codec import encode, fields_of
from ninebolt.core.finding import Change, Fix
from ninebolt.core.guard.conductors import BURST, continuous_amps
from ninebolt.core.parts.base import Part
from ninebolt.core.parts.drive import Controller
from ninebolt.core.parts.guard import Bms, Cable, Fuse, Isolator, Plug
from ninebolt.core.simulate.assemble import take

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


def _ranked(
    build: Build,
    path: str,
    parts: tuple[Part, ...],
    fits: Callable[[Any], bool],
    size: Callable[[Any], float],
) -> tuple[Fix, ...]:
    """The smallest parts that fit, other than the one that is there."""
    now = part_at(build, path).name
    good = sorted((p for p in parts if p.name != now and fits(p)), key=size)
    return tuple(swap(build, path, p) for p in good[:OFFERS])


def bms_for(build: Build, context: Context, amps: float) -> tuple[Fix, ...]:
    """The smallest BMS of this series count whose continuous current is enough."""
    series = build.pack.series

    def fits(b: Bms) -> bool:
        return b.series == series and b.i_cont_a.or_else(0.0) >= amps > 0.0

    shelf = context.shelf.of("bms", Bms)
    return _ranked(build, "guard.bms", shelf, fits, lambda b: b.i_cont_a.or_else(0.0))[:1]


def swaps_for(
    build: Build, context: Context, path: str, facts: PackFacts | None, load: float | None
) -> tuple[Fix, ...]:
    """Alternatives for one link that stand the full pack and the line amps, smallest first."""
    shelf, amps = context.shelf, load or 0.0
    full = facts.full_v if facts else 0.0
    if path == "guard.bms":
        series = build.pack.series
        return _ranked(
            build,
            path,
            shelf.of("bms", Bms),
            lambda b: b.series == series and b.i_cont_a.or_else(0.0) >= amps,
            lambda b: b.i_cont_a.or_else(math.inf),
        )
    if path == "guard.fuse":
        return _ranked(
            build,
            path,
            shelf.of("fuse", Fuse),
            lambda f: f.dc_v.or_else(0.0) >= full and f.rated_a.or_else(0.0) * 1.35 >= amps,
            lambda f: f.rated_a.or_else(math.inf),
        )
    if path == "guard.isolator":
        kind = build.guard.isolator.kind
        return _ranked(
            build,
            path,
            shelf.of("isolator", Isolator),
            lambda x: (
                x.kind == kind
                and x.rated_for != "AC only"
                and x.dc_v.or_else(0.0) >= full
                and x.i_cont_a.or_else(0.0) * BURST >= amps
            ),
            lambda x: x.i_cont_a.or_else(math.inf),
        )
    if path == "guard.plug":
        return _ranked(
            build,
            path,
            shelf.of("plug", Plug),
            lambda p: (
                p.keyed is not False
                and p.dc_v.or_else(0.0) >= full
                and p.i_peak_a.or_else(0.0) >= amps
            ),
            lambda p: p.i_cont_a.or_else(math.inf),
        )
    if path == "guard.cable":
        ambient = take(build.guard.cable, "ambient_c")
        return _ranked(
            build,
            path,
            shelf.of("cable", Cable),
            lambda c: BURST * _carries(c, ambient) >= amps,
            lambda c: c.section_m2.or_else(math.inf),
        )
    if path == "drive.controller":
        return _ranked(
            build,
            path,
            shelf.of("controller", Controller),
            lambda c: c.v_max_v.or_else(0.0) >= full and c.line_max_a.or_else(0.0) >= amps,
            lambda c: c.line_max_a.or_else(math.inf),
        )
    return ()


def _carries(cable: Cable, ambient: float) -> float:
    section = cable.section_m2.amount
    if section is None:
        return 0.0
    return continuous_amps(section, max(take(cable, "temp_max_c") - ambient, 1.0), ambient)
