"""Builds and their revisions, and the trial that may be open on each."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass
from typing import Any
from zlib import crc32

from ninebolt.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class BuildRow:
    """A build as listed."""

    id: str
    name: str
    created_at: str
    changed_at: str
    archived: bool
    head: int
    last_bolt: str


@dataclass(frozen=True, slots=True)
class RevisionRow:
    """One kept state. changes: list of {path, old, new}."""

    seq: int
    parent: int | None
    at: str
    reason: str
    changes: list[dict[str, Any]]


def _build(row: sqlite3.Row) -> BuildRow:
    return BuildRow(
        row["id"],
        row["name"],
        row["created_at"],
        row["changed_at"],
        bool(row["archived"]),
        row["head"],
        row["last_bolt"],
    )


def list_builds(db: sqlite3.Connection) -> list[BuildRow]:
    return [_build(r) for r in db.execute("SELECT * FROM build ORDER BY changed_at DESC, id")]


def get_build(db: sqlite3.Connection, build_id: str) -> BuildRow:
    """Raises NotFoundError."""
    row = db.execute("SELECT * FROM build WHERE id = ?", (build_id,)).fetchone()
    if row is None:
        raise NotFoundError(
            f"There is no build {build_id[:40]!a}.", todo="Look in the garage; it may be archived."
        )
    return _build(row)


def insert_build(
    db: sqlite3.Connection, build_id: str, name: str, doc: Any, now: str, reason: str
) -> None:
    db.execute(
        "INSERT INTO build (id, name, created_at, changed_at, head) VALUES (?, ?, ?, ?, 1)",
        (build_id, name, now, now),
    )
    _insert_revision(db, build_id, 1, None, now, reason, [], json.dumps(doc))


def _insert_revision(
    db: sqlite3.Connection,
    build_id: str,
    seq: int,
    parent: int | None,
    now: str,
    reason: str,
    changes: list[dict[str, Any]],
    text: str,
) -> None:
    db.execute(
        "INSERT INTO revision VALUES (?, ?, ?, ?, ?, ?, ?)",
        (build_id, seq, parent, now, reason, json.dumps(changes), text),
    )


def add_revision(
    db: sqlite3.Connection,
    build_id: str,
    now: str,
    reason: str,
    changes: list[dict[str, Any]],
    name: str,
    text: str,
) -> int:
    """Keep a new state on top of the head, its document as JSON; returns its number."""
    head = get_build(db, build_id).head
    last = db.execute("SELECT max(seq) FROM revision WHERE build_id = ?", (build_id,)).fetchone()[0]
    _insert_revision(db, build_id, last + 1, head, now, reason, changes, text)
    db.execute(
        "UPDATE build SET head = ?, changed_at = ?, name = ? WHERE id = ?",
        (last + 1, now, name, build_id),
    )
    return int(last + 1)


def text_at(db: sqlite3.Connection, build_id: str, seq: int) -> str:
    """The document of a revision as JSON. Raises NotFoundError."""
    row = db.execute(
        "SELECT doc FROM revision WHERE build_id = ? AND seq = ?", (build_id, seq)
    ).fetchone()
    if row is None:
        raise NotFoundError(f"Build '{build_id[:40]}' has no revision {seq}.")
    return str(row["doc"])


def raw_doc(db: sqlite3.Connection, build_id: str, seq: int) -> bytes:
    """The document as it is stored, whatever it is."""
    row = db.execute(
        "SELECT doc FROM revision WHERE build_id = ? AND seq = ?", (build_id, seq)
    ).fetchone()
    return str(row["doc"] if row else "").encode()


def delete_build(db: sqlite3.Connection, build_id: str) -> None:
    """With its revisions, trial and logs. Raises NotFoundError."""
    get_build(db, build_id)
    db.execute("DELETE FROM build WHERE id = ?", (build_id,))


def revisions(db: sqlite3.Connection, build_id: str) -> list[RevisionRow]:
    """Newest first."""
    rows = db.execute(
        "SELECT seq, parent, at, reason, changes FROM revision WHERE build_id = ?"
        " ORDER BY seq DESC",
        (build_id,),
    )
    return [
        RevisionRow(r["seq"], r["parent"], r["at"], r["reason"], json.loads(r["changes"]))
        for r in rows
    ]


def parent_of(db: sqlite3.Connection, build_id: str, seq: int) -> int | None:
    row = db.execute(
        "SELECT parent FROM revision WHERE build_id = ? AND seq = ?", (build_id, seq)
    ).fetchone()
    return row["parent"] if row else None


def newest_child(db: sqlite3.Connection, build_id: str, seq: int) -> int | None:
    """The revision that redo goes to."""
    row = db.execute(
        "SELECT max(seq) AS seq FROM revision WHERE build_id = ? AND parent = ?", (build_id, seq)
    ).fetchone()
    return row["seq"] if row else None


def move_head(db: sqlite3.Connection, build_id: str, seq: int, now: str) -> None:
    name = str(json.loads(text_at(db, build_id, seq)).get("name", ""))
    db.execute(
        "UPDATE build SET head = ?, changed_at = ?, name = ? WHERE id = ?",
        (seq, now, name, build_id),
    )


def set_archived(db: sqlite3.Connection, build_id: str, archived: bool) -> None:
    get_build(db, build_id)
    db.execute("UPDATE build SET archived = ? WHERE id = ?", (int(archived), build_id))


def set_last_bolt(db: sqlite3.Connection, build_id: str, bolt: str) -> None:
    db.execute("UPDATE build SET last_bolt = ? WHERE id = ?", (bolt, build_id))


def get_trial(db: sqlite3.Connection, build_id: str) -> list[dict[str, Any]] | None:
    """The changes on trial, or None."""
    row = db.execute("SELECT changes FROM trial WHERE build_id = ?", (build_id,)).fetchone()
    return json.loads(row["changes"]) if row else None


def version_of(db: sqlite3.Connection, build_id: str) -> str:
    """What a page looks at: the head, and how often the trial has changed. Raises NotFoundError."""
    head = get_build(db, build_id).head
    find = "SELECT version, changes FROM trial WHERE build_id = ?"
    row = db.execute(find, (build_id,)).fetchone()
    # The sum tells a trial from a later one that has changed as often.
    return f"{head}.{row['version']}.{crc32(row['changes'].encode()):x}" if row else f"{head}"


def put_trial(
    db: sqlite3.Connection, build_id: str, base_seq: int, changes: list[dict[str, Any]], now: str
) -> None:
    db.execute(
        "INSERT INTO trial (build_id, base_seq, changes, at) VALUES (?, ?, ?, ?)"
        " ON CONFLICT (build_id) DO UPDATE SET"
        " changes = excluded.changes, at = excluded.at, version = version + 1",
        (build_id, base_seq, json.dumps(changes), now),
    )


def drop_trial(db: sqlite3.Connection, build_id: str) -> None:
    db.execute("DELETE FROM trial WHERE build_id = ?", (build_id,))


def put_dropped(
    db: sqlite3.Connection, build_id: str, base_seq: int, changes: list[dict[str, Any]], now: str
) -> None:
    """What was on trial when it was dropped; of the last one only."""
    db.execute(
        "INSERT OR REPLACE INTO dropped (build_id, base_seq, changes, at) VALUES (?, ?, ?, ?)",
        (build_id, base_seq, json.dumps(changes), now),
    )


def get_dropped(db: sqlite3.Connection, build_id: str) -> tuple[int, list[dict[str, Any]]] | None:
    """(head when it was dropped, the changes), or None."""
    find = "SELECT base_seq, changes FROM dropped WHERE build_id = ?"
    row = db.execute(find, (build_id,)).fetchone()
    return (row["base_seq"], json.loads(row["changes"])) if row else None


def forget_dropped(db: sqlite3.Connection, build_id: str) -> None:
    db.execute("DELETE FROM dropped WHERE build_id = ?", (build_id,))
