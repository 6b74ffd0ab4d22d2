"""Which setup a log belongs to: the build as it stood when the log came in, and what was changed or written into the
controller since."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bolts.assess import Moved
from ninebolt.core.build import Build
from ninebolt.core.codec import encode
from ninebolt.core.finding import listed
from ninebolt.core.trace import differing, leaf_at
from ninebolt.core.value import Value
from ninebolt.errors import NineBoltError, NotFoundError
from ninebolt.formats.spoken import say
from ninebolt.services import workshop
from ninebolt.services.bands import spec_at
from ninebolt.services.docs import build_at
from ninebolt.services.house import House
from ninebolt.store import rides
from ninebolt.store.controllers import list_writings
from ninebolt.store.database import session
from ninebolt.store.sessions import list_sessions

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
WRITTEN = ("stored", "waiting", "verified")
SHOWN = 4


@dataclass(frozen=True, slots=True)
class LogSetup:
    """seq: the change after which the build stood as it was ridden, None where nobody knows. moved: inputs of the ride
    that read differently now. written: parameter sets that went into the controller since. sessions: whose trials the
    log belongs to. problem: why moved is not known."""

    seq: int | None
    at: str
    moved: tuple[Moved, ...]
    written: int
    sessions: tuple[str, ...]
    problem: str


def setup_of(house: House, build_id: str, log_id: str) -> LogSetup:
    """Raises NotFoundError where the build has no such log."""
    now = workshop.shown_build(house, build_id)
    with session(house.path) as db:
        row = next((x for x in rides.list_logs(db, build_id) if x.id == log_id), None)
        if row is None:
            raise NotFoundError(f"This build has no log '{log_id[:40]}'.")
        writes = [
            w for w in list_writings(db, build_id) if w.state in WRITTEN and w.at > row.imported_at
        ]
        names = tuple(
            s.name
            for s in list_sessions(db, build_id)
            if any(t.get("log_id") == log_id for t in s.doc["trials"])
        )
        then, problem = None, ""
        if row.seq is not None:
            try:
                then = build_at(db, build_id, row.seq, now.name)
            except NineBoltError as error:
                problem = f"The build as it was cannot be read any more: {error}"
    moved = tuple(moved_between(then, now)) if then is not None else ()
    return LogSetup(row.seq, row.imported_at, moved, len(writes), names, problem)


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
    if spec is None:
        return path
    own = spec.label
    return own[0].lower() + own[1:] if own[1:2].islower() else own


def _one(m: Moved) -> str:
    spec, name = spec_at(m.path), m.path.rsplit(".", 1)[-1]
    if spec is None:
        return m.path
    quantity = spec.quantity(name).key if spec.kind in ("number", "count") else ""
    return f"{named(m.path)} {_say(m.then, quantity)} → {_say(m.now, quantity)}"


def _say(x: object, quantity: str) -> str:
    if isinstance(x, dict) and "amount" in x:
        x = x["amount"]
    if isinstance(x, Value):
        x = x.amount
    if x is None:
        return "unknown"
    if isinstance(x, int | float) and not isinstance(x, bool):
        return say(float(x), quantity) if quantity else f"{x:g}"
    return "another" if isinstance(x, list | dict | tuple) else str(x)
