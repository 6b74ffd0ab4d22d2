"""The garage: all builds, their state, what comes next; create, copy, move in and out."""

from __future__ import annotations

import dataclasses
import hashlib
import sqlite3
from dataclasses import dataclass
from typing import Any

from ninebolt.core.bolts.assess import Assessment
from ninebolt.core.build import BOLTS, Build
from ninebolt.core.codec import clean_text, encode
from ninebolt.core.logs.ride import analyse
from ninebolt.core.simulate.headline import Headline
from ninebolt.errors import FieldError, FormatError, InputError, NineBoltError, StoreError
from ninebolt.formats.build_json import write_build
from ninebolt.formats.bundle import (
    LogFile,
    bundle_record,
    read_bundle,
    read_photos,
    write_bundle,
)
from ninebolt.formats.ride_log import read_log
from ninebolt.services import alike, pictures
from ninebolt.services.beside import Beside, beside
from ninebolt.services.docs import build_at, doc_at, keep_doc
from ninebolt.services.done import not_done
from ninebolt.services.house import House, columns_of
from ninebolt.services.record import put_record, record_of
from ninebolt.services.unfinished import may_be_deleted
from ninebolt.services.workshop import shown_build
from ninebolt.store import builds as table
from ninebolt.store import rides
from ninebolt.store.database import session, snapshot, transaction
from ninebolt.store.pictures import PictureRow, insert_picture

MAX_NAME = 80
MOST_BESIDE = 4


@dataclass(frozen=True, slots=True)
class Card:
    """One build in the garage. next_bolt and next_step: what comes next."""

    id: str
    name: str
    note: str
    archived: bool
    changed_at: str
    last_bolt: str
    headline: Headline
    states: dict[str, str]
    stops: int
    cautions: int
    next_bolt: str
    next_step: str
    on_trial: bool


def _counted(n: int, one: str, more: str) -> str:
    return f"{n} {one if n == 1 else more}"


def next_step(a: Assessment) -> tuple[str, str]:
    """The first bolt that wants work, and why: stops first, then broken marks, then the order."""
    for state in ("failed", "stopped", "broken", "loose"):
        for b in a.bolts:
            if b.state != state:
                continue
            if state in ("failed", "stopped"):
                return b.bolt, b.findings[0].title
            if state == "broken":
                return (
                    b.bolt,
                    f"Mark broken: {_counted(len(b.moved), 'input has', 'inputs have')} changed",
                )
            return b.bolt, f"{_counted(len(b.missing), 'value is', 'values are')} missing"
    for b in a.bolts:
        if b.state == "snug":
            return b.bolt, "Computes; look through it and sign it off"
    return "", "All nine are marked. Ride."


def cards(house: House) -> list[Card]:
    """All builds, newest change first, archived ones last. One that cannot be read is listed all the
    same, and says so."""
    with session(house.path) as db:
        rows = table.list_builds(db)
        trials = [table.get_trial(db, r.id) is not None for r in rows]
        keys = [_state_of(db, r) for r in rows]
        known = [house.cards.get(k) for k in keys]
        builds = [None if have else _readable(db, r) for r, have in zip(rows, known, strict=True)]
    out = []
    for row, key, have, build, trial in zip(rows, keys, known, builds, trials, strict=True):
        if build is None:
            out.append(Card(**{**(have or {}), **_who(row), "on_trial": trial}))
            continue
        made = _card(house, row, build, trial)
        out.append(made)
        if not isinstance(build, NineBoltError) and "failed" not in made.states.values():
            house.cards.put(key, {f: getattr(made, f) for f in _FIELDS})
    return sorted(out, key=lambda c: c.archived)


# What of a card follows from the build's document and the program alone.
_FIELDS = ("note", "headline", "states", "stops", "cautions", "next_bolt", "next_step")


def _who(row: table.BuildRow) -> dict[str, Any]:
    return {
        "id": row.id,
        "name": row.name,
        "archived": row.archived,
        "changed_at": row.changed_at,
        "last_bolt": row.last_bolt,
    }


def _state_of(db: sqlite3.Connection, row: table.BuildRow) -> str:
    """Sum of the document as it is stored, which is what a card follows from."""
    return hashlib.sha256(table.raw_doc(db, row.id, row.head)).hexdigest()


def side_by_side(house: House, ids: list[str], equal: list[str] | None = None) -> Beside:
    """Two to four builds in one table, each as its bench shows it; an id with @kept is without its what-if, with
    @7 as it was after change 7.     equal: keys of services.alike. Raises InputError, NotFoundError."""
    if not 2 <= len(set(ids)) == len(ids) <= MOST_BESIDE:
        raise InputError(
            "These cannot be put side by side.",
            where="id",
            got=f"{len(ids)} builds",
            expected=f"2 to {MOST_BESIDE} different ones",
        )
    wrong = [k for k in equal or [] if k not in alike.KEYS]
    if wrong:
        raise InputError(
            "This cannot be made equal.",
            where="equal",
            got=wrong[0][:40],
            expected=", ".join(alike.KEYS),
        )
    builds, made = alike.alike([_variant(house, i) for i in ids], equal or [])
    return beside([(b, house.assessment(b)) for b in builds], made)


KEPT = "kept"


def _variant(house: House, asked: str) -> Build:
    """A build as its bench shows it; with @kept without what is on trial; with @7 as it was after change 7."""
    own, at, which = asked.partition("@")
    if not at:
        return shown_build(house, own)
    if which != KEPT and not (which.isascii() and which.isdigit() and len(which) < 10):
        raise InputError(
            "This is no state of a build.",
            where="id",
            got=asked[:60],
            expected=f"{own}@{KEPT} or {own}@ and a change's number",
        )
    with session(house.path) as db, snapshot(db):
        row = table.get_build(db, own)
        seq = row.head if which == KEPT else int(which)
        build = build_at(db, own, seq, row.name)
    return dataclasses.replace(
        build, name=f"{build.name}, as kept" if which == KEPT else f"{build.name}, change {seq}"
    )


def _readable(db: sqlite3.Connection, row: table.BuildRow) -> Build | NineBoltError:
    try:
        return build_at(db, row.id, row.head, row.name)
    except NineBoltError as error:
        return error
    except (ValueError, KeyError, TypeError, AttributeError) as error:
        return StoreError("What is stored of this build cannot be read.", got=str(error)[:80])


def _card(house: House, row: table.BuildRow, build: Build | NineBoltError, on_trial: bool) -> Card:
    if isinstance(build, NineBoltError):
        return Card(
            row.id,
            row.name,
            "",
            row.archived,
            row.changed_at,
            row.last_bolt,
            Headline(),
            {b: "failed" for b in BOLTS},
            0,
            0,
            "",
            f"Cannot be read: {build.message()[:200]} Undo its last change, or export and delete it.",
            on_trial,
        )
    a = house.assessment(build)
    bolt, step = next_step(a)
    count = sum(f.severity == "caution" for b in a.bolts for f in b.findings)
    return Card(
        row.id,
        row.name,
        build.note,
        row.archived,
        row.changed_at,
        row.last_bolt,
        a.headline,
        {b.bolt: b.state for b in a.bolts},
        len(a.stops),
        count,
        bolt,
        step,
        on_trial,
    )


def _name(name: str) -> str:
    clean = " ".join(clean_text(name, "name").split())
    if not clean or len(clean) > MAX_NAME:
        raise FieldError(
            "The name cannot be used.",
            where="name",
            got=repr(name[:40]),
            expected=f"1 to {MAX_NAME} characters",
        )
    return clean


def create(house: House, name: str, start: Build | None = None) -> str:
    """A new build, empty or from a start; returns its id."""
    doc = {**encode(start or Build()), "name": _name(name), "marks": []}
    build_id = house.new_id()
    with session(house.path) as db, transaction(db):
        table.insert_build(db, build_id, doc["name"], doc, house.now(), "Created")
    return build_id


def duplicate(house: House, build_id: str) -> str:
    """A copy under a new name: a plan, without marks, logs, or what was done on the bike."""
    with session(house.path) as db:
        row = table.get_build(db, build_id)
        build = build_at(db, build_id, row.head, row.name)
    return create(house, f"{row.name[: MAX_NAME - 7]} (copy)", not_done(build))


def rename(house: House, build_id: str, name: str) -> None:
    clean = _name(name)
    with session(house.path) as db, transaction(db):
        row = table.get_build(db, build_id)
        doc = doc_at(db, build_id, row.head)
        change = [{"path": "name", "old": row.name, "new": clean}]
        keep_doc(db, build_id, house.now(), "Renamed", change, {**doc, "name": clean})


def archive(house: House, build_id: str, archived: bool) -> None:
    with session(house.path) as db, transaction(db):
        table.set_archived(db, build_id, archived)


def delete(house: House, build_id: str, anyway: bool = False) -> None:
    """Delete a build with its revisions and logs, readable or not. anyway: although a write into its controller is not
    finished. Raises NotFoundError, ConflictError."""
    with session(house.path) as db, transaction(db):
        if not anyway:
            may_be_deleted(db, build_id)
        table.delete_build(db, build_id)


def visit(house: House, build_id: str, bolt: str) -> None:
    """Remember where work went on."""
    if bolt in BOLTS:
        with session(house.path) as db, transaction(db):
            table.set_last_bolt(db, build_id, bolt)


def export(house: House, build_id: str, with_logs: bool) -> tuple[str, bytes]:
    """(file name, bytes): JSON, or a zip with the logs."""
    with session(house.path) as db:
        row = table.get_build(db, build_id)
        build = _readable(db, row)
        if isinstance(build, NineBoltError):
            return f"{file_name(row.name)}-as-stored.json", table.raw_doc(db, build_id, row.head)
        if not with_logs:
            return f"{file_name(row.name)}.json", write_build(build)
        logs = []
        for x in rides.list_logs(db, build_id):
            name, mapping, data = rides.log_data(db, x.id)
            logs.append(LogFile(x.id, name, mapping, data, x.imported_at, x.seq))
        photos = pictures.photo_files(db, build_id)
        record = record_of(db, build_id, row.head)
    return f"{file_name(row.name)}.zip", write_bundle(build, logs, photos, record)


def file_name(name: str) -> str:
    """A build's name as every file system takes it, in its own alphabet: two builds are two files."""
    safe = "".join(c if c.isalnum() else "-" for c in name.lower()).strip("-")
    return safe[:60] or "build"


def _log_reads(x: LogFile, name: str) -> None:
    """A log that says nothing is not stored. Raises FormatError naming it."""
    try:
        analyse(read_log(x.data, x.name, columns_of(x.mapping)))
    except NineBoltError as error:
        raise FormatError(
            "A log in this zip cannot be read, so nothing was imported.",
            where=f"{name}/logs/{x.name}",
            got=error.message()[:200],
            todo="Take it out of the zip and out of logs.json, or export the build again.",
        ) from error


def import_build(house: House, data: bytes, name: str) -> str:
    """A build from a JSON file or a zip; marks, logs, photos and what became of it come along. Returns the new id."""
    build, logs = read_bundle(data, name)
    doc: dict[str, Any] = encode(build)
    doc["name"] = _name(doc["name"] or name.rsplit(".", 1)[0])
    house.storable(dataclasses.replace(build, prove=dataclasses.replace(build.prove, log_id="")))
    for x in logs:
        _log_reads(x, name)
    photos = [(p, pictures.checked(p.data, p.name)) for p in read_photos(data, name)]
    record = bundle_record(data, name)
    build_id, now = house.new_id(), house.now()
    fresh = {x.id: house.new_id() for x in logs}
    doc["prove"]["log_id"] = fresh.get(doc["prove"]["log_id"], "")
    with session(house.path) as db, transaction(db):
        if record is None:
            table.insert_build(db, build_id, doc["name"], doc, now, f"Imported from {name}")
        else:
            put_record(db, house, build_id, record, fresh, doc, name)
        states = {s.seq for s in record.states} if record else set()
        for x in logs:
            seq = x.seq if x.seq in states else None
            rides.insert_log(db, fresh[x.id], build_id, x.name, x.mapping, x.at or now, x.data, seq)
        for p, media in photos[: pictures.MOST_PICTURES]:
            row = PictureRow(
                house.new_id(), build_id, p.place, p.name, media, p.at or now, len(p.data)
            )
            insert_picture(db, row, p.data)
    return build_id
