"""How two states of a build differ as far as a ride goes: what was changed, in words; whether it is another bike."""

from __future__ import annotations

import math
from typing import Any

from ninebolt.core.bike.case import assemble
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import uncapped_m_s
from ninebolt.core.bolts.assess import Moved
from ninebolt.core.build import Build
from ninebolt.core.codec import encode, spec_in
from ninebolt.core.finding import inside, listed
from ninebolt.core.trace import Trace, differing, leaf_at, recorded, traced
from ninebolt.core.value import ABSENT_WORDS, FieldSpec, Value
from ninebolt.formats.spoken import say
from ninebolt.services.learned import LEARNED

# What is about the book and not about the bike that was ridden.
ASIDE = (
    "prove.",
    "marks",
    "name",
    "note",
    "goal.",
    "donor.legal",
    "donor.before",
    "donor.stock",
    "tune.profiles",
)
RIDDEN = ("goal.rider_kg", "goal.gear_kg")
WORDS = (".name", ".note", ".source", ".price_money", ".#")
SHOWN = 4
CAP = "tune.cap_m_s"
# What a run hangs on.
OF_THE_BIKE = (
    "pack.",
    "guard.",
    "drive.",
    "gear.",
    "road.",
    "donor.",
    "goal.rider_kg",
    "goal.gear_kg",
    CAP,
)


def spec_at(path: str) -> FieldSpec | None:
    """The field spec at a path of the build; list places are passed through."""
    return spec_in(Build, path)


def moved_between(then: Build, now: Build) -> list[Moved]:
    """Inputs of a ride that read differently in the two."""
    out = []
    for path in differing(then, now):
        aside = path.startswith(ASIDE) and not path.startswith(RIDDEN)
        if aside or path.endswith(WORDS):
            continue
        out.append(Moved(path, _at(then, path), _at(now, path)))
    return out


def _at(build: Build, path: str) -> object:
    return encode(leaf_at(build, path))


def in_words(moved: tuple[Moved, ...]) -> str:
    """The things that changed, in words, from what to what."""
    return listed([_one(m) for m in moved], SHOWN)


def named(path: str) -> str:
    """What a place of the build is called, in the middle of a sentence."""
    spec = spec_at(path)
    return path if spec is None else inside(spec.label)


def _one(m: Moved) -> str:
    spec, name = spec_at(m.path), m.path.rsplit(".", 1)[-1]
    if spec is None:
        return m.path
    quantity = spec.quantity(name).key if spec.kind in ("number", "count") else ""
    return f"{named(m.path)} {_say(m.then, quantity)} → {_say(m.now, quantity)}"


def _say(x: object, quantity: str) -> str:
    if isinstance(x, dict) and "amount" in x:
        x = Value(x["amount"], x.get("origin", "guess"))
    if isinstance(x, Value):
        x = ABSENT_WORDS[0] if x.absent else x.amount
    if x is None:
        return "unknown"
    if isinstance(x, int | float) and not isinstance(x, bool):
        return say(float(x), quantity) if quantity else f"{x:g}"
    return "another" if isinstance(x, list | dict | tuple) else str(x)


def of_the_bike(moved: tuple[Moved, ...]) -> tuple[Moved, ...]:
    """Of what differs, what makes it another bike: neither what was learned from its runs, nor a number that was a
    guess or of a sheet and has been measured since."""
    return tuple(
        m
        for m in moved
        if m.path.startswith(OF_THE_BIKE) and m.path not in LEARNED and not _measured(m)
    )


def _measured(m: Moved) -> bool:
    return _origin(m.now) == "measured" and _origin(m.then) not in ("", "measured")


def _origin(x: object) -> str:
    return str(x.get("origin", "")) if isinstance(x, dict) else ""


def another_ride(then: Build, now: Build) -> tuple[Moved, ...]:
    """What makes a run of the one another than of the other: of_the_bike, as far as a run reads it."""
    found = of_the_bike(tuple(moved_between(then, now)))
    if not found:
        return ()
    read = run_inputs(then).keys() | run_inputs(now).keys()
    return tuple(m for m in found if m.path in read and not _out_of_reach(m, then, now))


def _out_of_reach(m: Moved, then: Build, now: Build) -> bool:
    """A speed cap that neither bike comes to."""
    if m.path != CAP:
        return False
    return all(x.tune.cap_m_s.or_else(math.inf) > uncapped_m_s(Bike(x)) for x in (then, now))


def run_inputs(build: Build) -> dict[str, Any]:
    """Path -> document of every input that a run reads."""
    trace = Trace()
    assemble(traced(build, trace))
    return recorded(trace.top)
