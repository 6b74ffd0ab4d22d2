"""Test sessions as documents: setups, plan, conditions, trials."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass
from typing import Any

from ninebolt.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class SessionRow:
    """One session with its document."""

    id: str
    build_id: str
    at: str
    name: str
    doc: dict[str, Any]


def put_session(db: sqlite3.Connection, s: SessionRow, now: str) -> None:
    db.execute(
        "INSERT INTO session (id, build_id, at, name, doc, changed_at) VALUES (?, ?, ?, ?, ?, ?)"
        " ON CONFLICT (id) DO UPDATE SET name = excluded.name,"
        " doc = excluded.doc, changed_at = excluded.changed_at",
        (s.id, s.build_id, s.at, s.name, json.dumps(s.doc), now),
    )


def _row(r: sqlite3.Row) -> SessionRow:
    return SessionRow(r["id"], r["build_id"], r["at"], r["name"], _doc(r["doc"]))


def _doc(text: str) -> dict[str, Any]:
    """The document; {} where what is stored is none, as after a disk that failed."""
    try:
        doc = json.loads(text)
    except ValueError:
        return {}
    return doc if isinstance(doc, dict) and _whole(doc) else {}


def _whole(doc: dict[str, Any]) -> bool:
    """Whether everything is there that whoever lists sessions reads."""
    trials = doc.get("trials")
    return (
        isinstance(doc.get("protocol"), str)
        and isinstance(doc.get("asked"), dict)
        and isinstance(doc.get("setups"), list)
        and isinstance(trials, list)
        and all(
            isinstance(t, dict)
            and isinstance(t.get("setup"), str)
            and isinstance(t.get("value"), int | float)
            for t in trials
        )
    )


def get_session(db: sqlite3.Connection, build_id: str, session_id: str) -> SessionRow:
    """Raises NotFoundError."""
    row = db.execute(
        "SELECT * FROM session WHERE id = ? AND build_id = ? AND removed_at IS NULL",
        (session_id, build_id),
    ).fetchone()
    if row is None:
        raise NotFoundError(f"This build has no session {session_id[:40]!a}.")
    made = _row(row)
    if not made.doc:
        raise NotFoundError(
            f"The session {made.name[:40]!r} cannot be read.",
            todo="Put a backup back, or remove it.",
        )
    return made


def list_sessions(db: sqlite3.Connection, build_id: str, damaged: bool = False) -> list[SessionRow]:
    """Newest first. damaged: also those whose document cannot be read; it is empty then."""
    rows = db.execute(
        "SELECT * FROM session WHERE build_id = ? AND removed_at IS NULL ORDER BY at DESC, id",
        (build_id,),
    )
    return [s for s in map(_row, rows) if s.doc or damaged]


def set_removed(db: sqlite3.Connection, build_id: str, session_id: str, at: str | None) -> None:
    """Take a session out of the book, or put it back (at None): its runs stay. Raises NotFoundError."""
    done = db.execute(
        "UPDATE session SET removed_at = ? WHERE id = ? AND build_id = ?",
        (at, session_id, build_id),
    )
    if done.rowcount == 0:
        raise NotFoundError(f"This build has no session {session_id[:40]!a}.")
