"""What became of a build, out of one garage and into another: its states, sessions, readings and writings."""

from __future__ import annotations

import base64
import sqlite3
from collections.abc import Callable
from dataclasses import replace
from typing import Any, TypeVar

from ninebolt.core.codec import decode, encode
from ninebolt.core.setting.sets import OUR_PROFILE
from ninebolt.errors import FieldError, FormatError
from ninebolt.formats.build_json import build_of, dumped
from ninebolt.formats.record import (
    KeptProfile,
    KeptReading,
    KeptSession,
    KeptState,
    KeptWriting,
    Record,
    check_reading,
    check_session,
    check_state,
    check_writing,
)
from ninebolt.services import controllers
from ninebolt.services.house import House
from ninebolt.store import record as table
from ninebolt.store.builds import add_revision
from ninebolt.store.controllers import OPEN, list_profiles, put_profile

T = TypeVar("T")


def record_of(db: sqlite3.Connection, build_id: str, head: int) -> Record:
    """All that is kept of a build beside its logs and photos. One that cannot be read does not hold up the others: it
    is left out by name, and what came after it stands on what was before it."""
    gone: list[str] = []
    rows = {what: table.rows_of(db, what, build_id) for what in table.TABLES}

    def read(what: str, cls: type[T], check: Callable[[T, str], None]) -> tuple[T, ...]:
        out = []
        for row in rows[what]:
            where = f"{what} {row.get('name') or row.get('seq') or row['at']}"
            try:
                made = decode(cls, row, where)
                check(made, where)
            except (FieldError, FormatError):
                gone.append(where)
            else:
                out.append(made)
        return tuple(out)

    before = {r["seq"]: r["parent"] for r in rows["revision"]}
    states = read("revision", KeptState, check_state)
    there = {s.seq for s in states}

    def onto(seq: int | None) -> int | None:
        while seq is not None and seq not in there:
            seq = before.get(seq)
        return seq

    states = tuple(replace(s, parent=onto(s.parent)) for s in states)
    sessions = read(
        "session", KeptSession, lambda s, where: check_session(_on(s, there), there, where)
    )
    readings = read("reading", KeptReading, check_reading)
    own = {r.id for r in readings}
    writings = read("writing", KeptWriting, lambda w, where: check_writing(w, own, where))
    used = {r.profile for r in readings} | {w.profile for w in writings}
    profiles = tuple(
        KeptProfile(
            p.name,
            base64.b64encode(p.eds).decode(),
            {k: tuple(v) for k, v in p.places.items()},
            p.codes,
        )
        for p in list_profiles(db)
        if p.key in used - {OUR_PROFILE.key}
    )
    return Record(
        head=head,
        states=states,
        sessions=tuple(_on(s, there) for s in sessions),
        readings=readings,
        writings=writings,
        profiles=profiles,
        left_out=tuple(gone),
    )


def _on(s: KeptSession, states: set[int]) -> KeptSession:
    """A session that speaks of no state but these."""
    trials = tuple(t if t.seq in states else replace(t, seq=None) for t in s.doc.trials)
    bound = {setup: seq for setup, seq in s.doc.bound.items() if seq in states}
    return replace(s, doc=replace(s.doc, trials=trials, bound=bound))


def put_record(
    db: sqlite3.Connection,
    house: House,
    build_id: str,
    record: Record,
    logs: dict[str, str],
    doc: dict[str, Any],
    name: str,
) -> None:
    """A new build with its states and all that hangs on them, under ids of its own. logs: old id to new; doc: the build
    as it shall stand, a state of its own where it is not the one at the head."""
    now = house.now()
    old = [s.id for s in record.sessions] + [r.id for r in record.readings]
    ids = {x: house.new_id() for x in [*old, *(w.id for w in record.writings)]} | logs
    first = record.states[0].at or now
    table.insert_build_at(db, build_id, doc["name"], first, now, record.head)

    def put(what: str, rows: tuple[Any, ...], edit: Callable[[Any], None]) -> None:
        made = [renamed(encode(r), ids) for r in rows]
        for r in made:
            edit(r)
        table.put_rows(db, what, build_id, made, now)

    def state(r: dict[str, Any]) -> None:
        prove = r["doc"].get("prove")
        if isinstance(prove, dict) and prove.get("log_id") not in logs.values():
            prove["log_id"] = ""

    def ridden(r: dict[str, Any]) -> None:
        for t in r["doc"]["trials"]:
            t["log_id"] = t["log_id"] if t["log_id"] in logs.values() else ""

    here = {ids[w.id] for w in record.writings if table.has_writing(db, w.id)}

    def written(r: dict[str, Any]) -> None:
        # Of a write that this garage has itself, the copy is a memory: the write is finished where it was begun.
        if r["id"] in here and r["state"] in OPEN:
            r["state"], r["ended_at"] = "ended", now

    put("revision", record.states, state)
    put("session", record.sessions, ridden)
    put("reading", record.readings, lambda r: None)
    put("writing", record.writings, written)
    stands = next(s.doc for s in record.states if s.seq == record.head)
    kept = renamed(encode(build_of(stands, name)), ids)
    state({"doc": kept})
    if kept != doc:
        add_revision(db, build_id, now, f"Imported from {name}", [], doc["name"], dumped(doc))
    known = {p.key for p in list_profiles(db)}
    for p in record.profiles:
        row = controllers.row_of(p.name, p.file, {k: list(v) for k, v in p.places.items()}, p.codes)
        if row.key not in known:
            put_profile(db, row, now)


def renamed(value: Any, ids: dict[str, str]) -> Any:
    """A piece of JSON with every text that is an old id as the new one."""
    if isinstance(value, str):
        return ids.get(value, value)
    if isinstance(value, list):
        return [renamed(v, ids) for v in value]
    if isinstance(value, dict):
        return {k: renamed(v, ids) for k, v in value.items()}
    return value
