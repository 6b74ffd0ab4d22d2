"""Guard: what on the shelf could take a link's place, as fixes of one press."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable
from dataclasses import dataclass, replace
from typing import Any, cast

from ninebolt.core.bike.chain import BURST_S, FUSE_SHARE, chain, protected_least
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.opening import opening
from ninebolt.core.bike.path import cable_limit_c
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bolts.guard.sizes import short_circuit_a
from ninebolt.core.build import Build
from ninebolt.core.codec import encode, fields_of
from ninebolt.core.finding import Change, Fix
from ninebolt.core.guard.conductors import continuous_amps
from ninebolt.core.guard.fuse import stands_a
from ninebolt.core.parts.base import Fitting, Part
from ninebolt.core.parts.drive import Controller
from ninebolt.core.parts.guard import Bms, Cable, Fuse, Isolator, Plug
from ninebolt.core.value import Value

OFFERS = 3


def swap(build: Build, path: str, part: Part) -> Fix:
    """Put a part of the shelf at a path; what belongs to the build stays."""
    doc = {**encode(part), "presence": "fitted"} if isinstance(part, Fitting) else encode(part)
    cls = type(part)
    old = part_at(build, path)
    for name, (spec, _) in fields_of(cast(Hashable, cls)).items():
        if spec is not None and spec.own:
            doc[name] = encode(getattr(old, name))
    word = "Fit" if isinstance(part, Fitting) and old.there is False else "Swap for"
    return Fix(f"{word} {part.name}", (Change(path, doc),))


def part_at(build: Build, path: str) -> Any:
    """The part of a build at a path without list places."""
    here: Any = build
    for step in path.split("."):
        here = getattr(here, step)
    return here


@dataclass(frozen=True, slots=True)
class _Want:
    """What a link must stand: volts of the full pack, amps for good and for a burst; the build. fuse_a: what the fuse
    in place carries for ever, which cable, plug and isolator must; least_a: what the least of those carries; each as
    far as what is there now keeps to it. short_a: into a short circuit, 0 while unknown. share: of a fuse that the
    load may use."""

    build: Build
    full_v: float
    amps: float
    burst_a: float
    fuse_a: float
    least_a: float
    short_a: float
    share: float = float(FUSE_SHARE)


@dataclass(frozen=True, slots=True)
class _Link:
    """A kind of part: which of the shelf fit, and what makes one larger than another."""

    cls: type[Part]
    fits: Callable[[Any, _Want], bool]
    size: Callable[[Any], Value]


LINKS = {
    "guard.bms": _Link(
        Bms,
        lambda x, w: (
            x.series == w.build.pack.series
            and x.i_cont_a.or_else(0.0) >= max(w.amps, w.burst_a)
            and x.i_charge_a.or_else(math.inf) >= w.build.guard.charger.i_a.or_else(0.0)
        ),
        lambda x: x.i_cont_a,
    ),
    "guard.fuse": _Link(
        Fuse,
        lambda x, w: (
            x.dc_v.or_else(0.0) >= w.full_v
            and w.share * x.rated_a.or_else(0.0) >= w.amps
            and stands_a(x.rated_a.or_else(0.0), BURST_S, x.melts) >= w.burst_a
            and x.rated_a.or_else(math.inf) <= w.least_a
            and x.breaking_a.or_else(0.0) >= w.short_a
        ),
        lambda x: x.rated_a,
    ),
    "guard.isolator": _Link(
        Isolator,
        lambda x, w: (
            x.kind == w.build.guard.isolator.kind
            and x.rated_for != "AC only"
            and x.dc_v.or_else(0.0) >= w.full_v
            and x.i_cont_a.or_else(0.0) >= max(w.amps, w.fuse_a)
            and (x.kind == "unplug" or x.breaking_a.or_else(0.0) >= w.burst_a)
            and (x.both_ways is not False or not w.build.tune.regen_pct.taken)
        ),
        lambda x: x.i_cont_a,
    ),
    "guard.plug": _Link(
        Plug,
        lambda x, w: (
            x.keyed is not False
            and x.dc_v.or_else(0.0) >= w.full_v
            and x.i_cont_a.or_else(0.0) >= max(w.amps, w.fuse_a)
            and x.i_peak_a.or_else(math.inf) >= w.burst_a
        ),
        lambda x: x.i_cont_a,
    ),
    "guard.cable": _Link(
        Cable, lambda x, w: _carries(x, w) >= max(w.amps, w.fuse_a), lambda x: x.section_m2
    ),
    "drive.controller": _Link(
        Controller,
        lambda x, w: x.v_max_v.or_else(0.0) >= w.full_v and x.line_max_a.or_else(0.0) >= w.burst_a,
        lambda x: x.line_max_a,
    ),
}


def swaps_for(bike: Bike, path: str, amps: float | None = None) -> tuple[Fix, ...]:
    """Alternatives for one link that stand the full pack and what flows, and leave no link unprotected that is
    protected now, smallest first. amps: what it must carry for good; left out, the RMS current of the riding (a BMS
    opens at its own, so it must carry the line amps)."""
    link = LINKS.get(path)
    build, facts, run = bike.build, pack_facts(bike), opening(bike)
    if link is None or facts is None:
        return ()
    burst = amps if amps is not None else load_a(bike) or 0.0
    good = amps if amps is not None else run.worked_a if run else burst
    old = part_at(build, path)
    now = old.name if not issubclass(link.cls, Fitting) or old.there else ""
    shelf = [p for p in bike.shelf.of(path.rsplit(".", 1)[1], link.cls) if p.name != now]
    fits: list[Part] = []
    for fuse_a, least_a in _protected(bike, path):
        want = _Want(
            build, facts.full_v, good, burst, fuse_a, least_a, short_circuit_a(bike) or 0.0
        )
        fits = [p for p in shelf if link.fits(p, want)]
        if not fits and path == "guard.fuse":  # one that ages and protects, before none
            fits = [p for p in shelf if link.fits(p, replace(want, share=1.0))]
        if fits:
            break
    fits.sort(key=lambda p: link.size(p).or_else(math.inf))
    return tuple(swap(build, path, p) for p in fits[:OFFERS])


def _protected(bike: Bike, path: str) -> tuple[tuple[float, float], ...]:
    """(what the link at a path must carry for the fuse to protect it, what a fuse there may carry for ever at most);
    and after it what is no worse than today, where nothing on the shelf is that good."""
    links = {x.path: x for x in chain(bike)}
    rated = links["guard.fuse"].cont_a or 0.0
    today = links[path].cont_a if path in links else None
    weak = protected_least(bike)
    least = math.inf if weak is None or weak.cont_a is None else weak.cont_a
    return (rated, least), (min(rated, today or math.inf), max(least, rated))


def bms_for(bike: Bike, amps: float) -> tuple[Fix, ...]:
    """The smallest BMS of this series count whose continuous current is enough."""
    return swaps_for(bike, "guard.bms", amps)[:1] if amps > 0.0 else ()


def _carries(cable: Cable, want: _Want) -> float:
    """What a cable of the shelf carries for good where this build's lies."""
    section, ambient = cable.section_m2.amount, want.build.guard.cable.ambient_c.taken
    rise = cable_limit_c(cable) - ambient
    return continuous_amps(section, rise, ambient) if section and rise > 0.0 else 0.0
