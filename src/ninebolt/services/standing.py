"""Stops that stand in a build, and what must not be done while they do."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.build import BOLTS, Build
from ninebolt.core.finding import Finding, listed
from ninebolt.errors import ConflictError
from ninebolt.services.house import House
from ninebolt.services.moved import named

# A stop in one of these and no pack is connected; one in any bolt, and the bike is not ridden.
POWER = ("pack", "guard", "drive", "wire", "tune")


@dataclass(frozen=True, slots=True)
class Hold:
    """What is not done while a stop stands in one of these bolts, as page and paper say it."""

    words: str
    bolts: tuple[str, ...]


HOLDS = (
    Hold("No power, no ride before this is cleared", POWER),
    Hold("No ride before this is cleared", tuple(b for b in BOLTS if b not in (*POWER, "prove"))),
)
UNLOOKED = "To be known before first power"


def stops(house: House, build: Build, power: bool = False) -> tuple[Finding, ...]:
    """Stops of every bolt but Prove, whose own are its gates and the quarantine. power: of those alone that a pack
    must not be connected over."""
    return tuple(
        f
        for b in house.assessment(build).bolts
        if b.bolt in POWER or (not power and b.bolt != "prove")
        for f in b.findings
        if f.severity == "stop"
    )


def named_stops(house: House, build: Build, power: bool = False) -> tuple[str, ...]:
    """Those stops in words, each with its bolt."""
    return tuple(f.called for f in stops(house, build, power))


def none_stands(
    house: House, build: Build, what: str, todo: str, where: str = "", power: bool = False
) -> None:
    """Raises ConflictError with what, where and todo while a stop stands."""
    found = named_stops(house, build, power)
    if found:
        raise ConflictError(what, where=where, got=listed(found, 3, "; "), todo=todo)


def unlooked(house: House, build: Build) -> tuple[str, ...]:
    """What must be known before first power and is not, in words; said not to be there is known."""
    missing = house.assessment(build).bolt("guard").missing
    return tuple(f"{p.split('.')[1].replace('_', ' ')}: {named(p)}" for p in missing)


def sentences(house: House, build: Build) -> tuple[tuple[str, str], ...]:
    """(how heavy, what) stands where somebody is about to connect a pack or to ride, every stop by name."""
    found = stops(house, build)
    rows = [("STOP", h.words, [f.called for f in found if f.bolt in h.bolts]) for h in HOLDS]
    rows.append(("CAUTION", UNLOOKED, list(unlooked(house, build))))
    return tuple((kind, f"{words}: {'; '.join(what)}.") for kind, words, what in rows if what)
