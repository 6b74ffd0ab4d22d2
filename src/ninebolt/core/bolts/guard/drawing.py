"""Guard: the load path as drawn."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.chain import advice, chain
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.opening import opening
from ninebolt.core.bike.path import cable_ohm
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bolts.guard.checks.isolation import isolation_of
from ninebolt.core.bolts.guard.feed import AuxBudget, aux_budget, charge_of
from ninebolt.core.bolts.guard.key import Sequence, sequences
from ninebolt.core.bolts.guard.swaps import swaps_for
from ninebolt.core.finding import Fix
from ninebolt.core.guard.charging import Charge
from ninebolt.core.guard.trip import Trip
from ninebolt.core.parts.guard import Bms, Fuse, Isolator, Plug


@dataclass(frozen=True, slots=True)
class Link:
    """One link of the load path; amps None = unknown. choke: the class it belongs to. allows_a: line
    amps that it allows for good; margin_a: those over the line amps. swaps: what on the shelf could
    take its place. there: no = said not to be there, unknown = not looked at."""

    path: str
    label: str
    choke: str
    cont_a: float | None
    peak_a: float | None
    volts: float | None
    drop_v: float | None
    present: bool
    there: str
    allows_a: float | None = None
    margin_a: float | None = None
    swaps: tuple[Fix, ...] = ()


@dataclass(frozen=True, slots=True)
class LineAdvice:
    """The one line-amp number of the build: where it comes from, and its fix."""

    amps: float
    path: str
    words: str
    fix: Fix


@dataclass(frozen=True, slots=True)
class GuardDrawing:
    """Load path from the cells to the controller, with what it is asked to carry."""

    links: tuple[Link, ...]
    load_a: float | None
    advice: LineAdvice | None
    full_v: float | None
    nominal_v: float | None
    trip: Trip | None
    aux: AuxBudget
    charge: Charge | None
    isolation: float | None
    sequences: tuple[Sequence, ...]


def _ohm(bike: Bike, path: str) -> float | None:
    g, facts = bike.build.guard, pack_facts(bike)
    if path == "pack.cell":
        return facts.r_ohm if facts and facts.r_ohm == facts.r_ohm else None
    if path == "guard.bms" and g.bms.discharge == "bypassed":
        return 0.0
    if path == "guard.cable":
        return cable_ohm(g.cable)
    parts: dict[str, Bms | Fuse | Isolator | Plug] = {
        "guard.bms": g.bms,
        "guard.fuse": g.fuse,
        "guard.isolator": g.isolator,
        "guard.plug": g.plug,
    }
    part = parts.get(path)
    return part.r_ohm.taken if part is not None and part.there else None


def links_of(bike: Bike) -> tuple[Link, ...]:
    """Links in the order of the current, with margins and what could take their place."""
    g, load = bike.build.guard, load_a(bike)
    volts = {
        "guard.fuse": g.fuse.dc_v.amount,
        "guard.isolator": g.isolator.dc_v.amount,
        "guard.plug": g.plug.dc_v.amount,
        "drive.controller": bike.build.drive.controller.v_max_v.amount,
    }
    out = []
    for x in chain(bike):
        ohm, allows = _ohm(bike, x.path), x.allows_a
        out.append(
            Link(
                x.path,
                x.label,
                x.choke,
                x.cont_a,
                x.peak_a,
                volts.get(x.path),
                None if load is None or ohm is None else load * ohm,
                bool(x.there),
                "yes" if x.there else "no" if x.there is False else "unknown",
                allows,
                None if load is None or allows is None else allows - load,
                swaps_for(bike, x.path),
            )
        )
    return tuple(out)


@fact
def drawing_of(bike: Bike) -> GuardDrawing:
    """The path, its one line-amp number, charging and switching."""
    facts, run, chosen = pack_facts(bike), opening(bike), advice(bike)
    return GuardDrawing(
        links_of(bike),
        load_a(bike),
        LineAdvice(chosen.amps, chosen.link.path, chosen.words, chosen.fix) if chosen else None,
        facts.full_v if facts else None,
        facts.nominal_v if facts else None,
        run.trip if run else None,
        aux_budget(bike.build),
        charge_of(bike),
        isolation_of(bike.build),
        sequences(bike),
    )
