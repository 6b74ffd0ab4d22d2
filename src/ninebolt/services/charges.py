"""Charges in the book: what was ridden on each, and what of it was ridden with the bike as it is now."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import partial

from ninebolt.core.build import BookEntry, Build
from ninebolt.core.codec import encode
from ninebolt.core.logs.claims import range_claim
from ninebolt.errors import NineBoltError
from ninebolt.services.docs import build_at, doc_at
from ninebolt.services.house import House
from ninebolt.services.moved import OF_THE_BIKE, another_ride, in_words
from ninebolt.store import builds as table
from ninebolt.store.database import session

BOOK = "prove.book"
IMPOSSIBLE = "impossible: a charge between them is missing, or a number is misread"


@dataclass(frozen=True, slots=True)
class ChargeLine:
    """One charge. way_m: ridden since the charge before it, by the odometer; wh_km: what that took. None while unknown;
    words: what is to be thought of it."""

    at: str
    energy_wh: float | None
    way_m: float | None
    wh_km: float | None
    words: str


def charges_of(
    house: House, build_id: str, build: Build
) -> tuple[tuple[ChargeLine, ...], float | None]:
    """Every charge, newest first, with what was ridden on what it put back; and Wh/km over those that were ridden with
    the bike as it is: what another gearing took says nothing of this one. An imported book counts whole."""
    rows = sorted((e for e in build.prove.book if e.kind == "charge"), key=lambda e: when(e.at))
    then = _bikes(house, build_id, build) if len(rows) > 1 else {}
    out: list[ChargeLine] = []
    ridden = used = 0.0
    before: BookEntry | None = None
    for e in rows:
        wh, odometer = e.energy_wh.amount, e.odometer_m.amount
        last = before.odometer_m.amount if before is not None else None
        way = odometer - last if odometer is not None and last is not None else None
        each, words = None, ""
        if wh is None:
            words = "its energy was not written down"
        elif odometer is None:
            words = "the odometer was not written down"
        elif last is None:
            words = "the first: what was ridden on it is not known"
        elif way is not None and way <= 0:
            words = "the odometer did not go on: one of the two is misread"
            way = None
        elif way is not None:
            guess = range_claim(way, wh)
            each, words = guess.wh_km, guess.verdict
            other = then.get(_named(e), "") or (then.get(_named(before), "") if before else "")
            if guess.verdict == "impossible":
                words = IMPOSSIBLE
            elif other:
                words = f"not counted, of the bike as it was before: {other}"
            else:
                ridden, used = ridden + way, used + wh
        out.append(ChargeLine(e.at, wh, way, each, words))
        before = e
    return tuple(out[::-1]), used / (ridden / 1e3) if ridden > 0 else None


def when(said: str) -> str:
    """A date as people write it, or as it stands; unread dates sort to the end."""
    try:
        made = datetime.fromisoformat(said.strip())
    except ValueError:
        return said.strip()
    return (made if made.tzinfo else made.replace(tzinfo=UTC)).isoformat(timespec="milliseconds")


def _named(e: BookEntry) -> str:
    return json.dumps(encode(e), sort_keys=True)


@dataclass(frozen=True, slots=True)
class _Written:
    """Up to a revision: entry -> the revision that it was first in; revision -> the last one before it, or it itself,
    that touched the bike."""

    upto: int
    first: dict[str, int]
    bike_at: dict[int, int]


def _bikes(house: House, build_id: str, build: Build) -> dict[str, str]:
    """Entry -> what of the bike was changed since it was written into the book, in words; '' for nothing."""
    key = f"book:{build_id}"
    with session(house.path) as db:
        known = _written(db, build_id, house.peek(key) or _Written(0, {}, {}))
        house.put(key, known)
        words: dict[int, str] = {}
        for seq in {known.bike_at[s] for s in known.first.values()}:
            then = house.keep(
                f"bike:{build_id}:{seq}", partial(_bike, db, build_id, seq, build.name)
            )
            words[seq] = in_words(another_ride(then, build)) if then is not None else ""
    return {name: words[known.bike_at[seq]] for name, seq in known.first.items()}


def _written(db: sqlite3.Connection, build_id: str, known: _Written) -> _Written:
    """What was known, with the revisions since."""
    newer = [r for r in reversed(table.revisions(db, build_id)) if r.seq > known.upto]
    first, bike_at = dict(known.first), dict(known.bike_at)
    for r in newer:
        paths = [str(c["path"]) for c in r.changes]
        same = r.parent is not None and not any(map(_of_the_bike, paths))
        bike_at[r.seq] = bike_at.get(r.parent or 0, r.seq) if same else r.seq
        if r.parent is None or any(x.startswith(BOOK) or BOOK.startswith(x) for x in paths):
            for name in _entries(db, build_id, r.seq):
                first.setdefault(name, r.seq)
    return _Written(newer[-1].seq if newer else known.upto, first, bike_at)


def _of_the_bike(path: str) -> bool:
    return any(path.startswith(x) or x.startswith(path) for x in OF_THE_BIKE)


def _entries(db: sqlite3.Connection, build_id: str, seq: int) -> tuple[str, ...]:
    """The charges in the book as a revision left it."""
    try:
        kept = doc_at(db, build_id, seq)["prove"]["book"]
    except NineBoltError:
        return ()
    return tuple(json.dumps(e, sort_keys=True) for e in kept if e["kind"] == "charge")


def _bike(db: sqlite3.Connection, build_id: str, seq: int, name: str) -> Build | None:
    try:
        return build_at(db, build_id, seq, name)
    except NineBoltError:  # a state that cannot be read says nothing, and hides nothing
        return None
