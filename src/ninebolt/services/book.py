"""The run book over months: runs, work done, incidents, parameter writes and changes of the build, in one list."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.build import BOOK_KINDS, MISHAPS, Build
from ninebolt.core.finding import listed
from ninebolt.core.logs.protocols import Measure
from ninebolt.services import workshop
from ninebolt.services.charges import ChargeLine, charges_of, when
from ninebolt.services.house import House
from ninebolt.services.moved import named
from ninebolt.services.sessions import measured
from ninebolt.services.settings import HistoryItem
from ninebolt.services.settings import history as writings
from ninebolt.store import builds as table
from ninebolt.store import rides
from ninebolt.store.controllers import WRITTEN
from ninebolt.store.database import session
from ninebolt.store.sessions import SessionRow, list_sessions

MOST = 1000
SAID = 3  # sentences of a write that are shown
SAID_CHANGES = 8  # of what changed before a best
WORK = tuple(k for k in BOOK_KINDS if k not in ("note", "charge", *MISHAPS))
KINDS = ("run", "log", *BOOK_KINDS, "parameters", "change")


@dataclass(frozen=True, slots=True)
class Line:
    """One line of the book. value: of a run, of the quantity of its protocol."""

    at: str
    kind: str
    what: str
    value: float | None
    quantity: str
    note: str


@dataclass(frozen=True, slots=True)
class Best:
    """The best of a protocol with a setup and a parameter set. set_at: when that set was written, '' where none was by
    this program. changed: what was kept in the build or written into the controller since the best before it."""

    protocol: str
    setup: str
    set_at: str
    value: float
    quantity: str
    at: str
    runs: int
    changed: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Since:
    """How long ago some work was done. way_m, run_s: ridden since, by the book's own readings; None while unknown."""

    kind: str
    at: str
    way_m: float | None
    run_s: float | None
    words: str


@dataclass(frozen=True, slots=True)
class Book:
    """lines: as asked for, at most a thousand; found: how many there are. charges: newest first; mean_wh_km: over the
    ways between two charges that were ridden with the bike as it is."""

    lines: tuple[Line, ...]
    found: int
    bests: tuple[Best, ...]
    since: tuple[Since, ...]
    charges: tuple[ChargeLine, ...]
    mean_wh_km: float | None
    kinds: tuple[str, ...]
    open_failures: tuple[str, ...]


def book(house: House, build_id: str, text: str = "", kind: str = "") -> Book:
    """text: words that must all occur; kind: one of KINDS, '' for all. Raises NotFoundError."""
    build = workshop.shown_build(house, build_id)
    with session(house.path) as db:
        sessions = list_sessions(db, build_id)
        logs = rides.list_logs(db, build_id)
        revisions = table.revisions(db, build_id)
    changes = [
        (r.at, r.reason or ", ".join(named(str(c["path"])) for c in r.changes)) for r in revisions
    ]
    written = writings(house, build_id)
    sets = {w.id: w for w in written if w.state in WRITTEN}
    since = sorted([*changes, *((w.at, _put_in(w)) for w in sets.values())])
    lines = [
        *(_runs(sessions)),
        *(Line(x.imported_at, "log", x.name, None, "", "imported") for x in logs),
        *(Line(when(e.at), e.kind, e.what, None, "", e.cause) for e in build.prove.book),
        *(Line(w.at, "parameters", w.kind, None, "", w.why) for w in written),
        *(Line(at, "change", words, None, "", "") for at, words in changes if words),
    ]
    words = text.casefold().split()
    found = [
        x
        for x in lines
        if (not kind or x.kind == kind)
        and all(w in f"{x.what} {x.note} {x.kind}".casefold() for w in words)
    ]
    found.sort(key=lambda x: x.at, reverse=True)
    failures = tuple(
        f"{e.what or e.kind}: cause not known"
        for e in build.prove.book
        if e.kind in MISHAPS and not e.cause.strip()
    )
    charges, mean = charges_of(house, build_id, build)
    return Book(
        tuple(found[:MOST]),
        len(found),
        _bests(sessions, since, {i: w.at for i, w in sets.items()}),
        _since(build),
        charges,
        mean,
        KINDS,
        failures,
    )


def _runs(sessions: list[SessionRow]) -> list[Line]:
    out = []
    for s in sessions:
        quantity = measured(s.doc).quantity
        for t in s.doc["trials"]:
            note = " ".join(
                x
                for x in (
                    t.get("note", ""),
                    f"discarded: {t['discarded']}" if t.get("discarded") else "",
                )
                if x
            )
            what = f"{s.name}, {s.doc['protocol']}: {t['setup']}"
            out.append(Line(t.get("at") or s.at, "run", what, t["value"], quantity, note))
    return out


def _put_in(w: HistoryItem) -> str:
    """What a write changed, in words."""
    return f"written: {listed(w.sentences, SAID, '; ')}"


def _bests(
    sessions: list[SessionRow], changes: list[tuple[str, str]], sets: dict[str, str]
) -> tuple[Best, ...]:
    """Per protocol, setup and parameter set, best first; with what changed in bike and controller since the best of the
    protocol before it. sets: when each was written."""
    groups: dict[tuple[str, str, str], list[tuple[float, str]]] = {}
    kinds: dict[str, Measure] = {}
    for s in sessions:
        kind = measured(s.doc)
        if kinds.setdefault(s.doc["protocol"], kind) != kind:
            continue  # kept in another unit than the newest of its protocol: no best of both
        for t in s.doc["trials"]:
            if not t.get("discarded"):
                key = (s.doc["protocol"], t["setup"], t.get("set_id", ""))
                groups.setdefault(key, []).append((t["value"], t.get("at") or s.at))
    out: list[Best] = []
    for (protocol, setup, set_id), rows in groups.items():
        more = kinds[protocol].more
        value, at = max(rows) if more else min(rows)
        earlier = [
            a
            for (p, name, other), r in groups.items()
            if p == protocol and (name, other) != (setup, set_id)
            for _, a in r
            if a < at
        ]
        since = max(earlier, default="")
        changed = [words for when, words in changes if since and since < when < at]
        rest = len(changed) - SAID_CHANGES
        if rest > 0:
            changed = [*changed[:SAID_CHANGES], f"and {rest} more; the book lists them"]
        out.append(
            Best(
                protocol,
                setup,
                sets.get(set_id, ""),
                value,
                kinds[protocol].quantity,
                at,
                len(rows),
                tuple(changed),
            )
        )
    return tuple(
        sorted(out, key=lambda b: (b.protocol, -b.value if kinds[b.protocol].more else b.value))
    )


def _since(build: Build) -> tuple[Since, ...]:
    """Of each kind of work: what the book's later readings add up to."""
    book = build.prove.book
    ways = [e.odometer_m.amount for e in book if e.odometer_m.amount is not None]
    runs = [e.run_s.amount for e in book if e.run_s.amount is not None]
    out = []
    for kind in WORK:
        done = [e for e in book if e.kind == kind]
        if not done:
            out.append(Since(kind, "", None, None, "never written down"))
            continue
        last = max(done, key=lambda e: when(e.at))
        way = (
            max(ways) - last.odometer_m.amount
            if ways and last.odometer_m.amount is not None
            else None
        )
        run = max(runs) - last.run_s.amount if runs and last.run_s.amount is not None else None
        words = (
            ""
            if way is not None or run is not None
            else "no odometer or hours were written down with it"
        )
        out.append(Since(kind, last.at, way, run, words))
    return tuple(out)
