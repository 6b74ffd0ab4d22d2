"""A build's states, sessions, readings and writings as they are stored, out of one garage and into another."""

from __future__ import annotations

import json
import sqlite3
from typing import Any

# Table: its columns beside the build's, and those that hold JSON.
TABLES: dict[str, tuple[tuple[str, ...], tuple[str, ...]]] = {
    "revision": (("seq", "parent", "at", "reason", "changes", "doc"), ("changes", "doc")),
    "session": (("id", "at", "name", "doc"), ("doc",)),
    "reading": (("id", "at", "why", "device", "profile", "numbers"), ("device", "numbers")),
    "writing": (
        (
            *("id", "reading_id", "at", "why", "device", "profile"),
            *("steps", "state", "reached", "ended_at"),
        ),
        ("device", "steps"),
    ),
}


def rows_of(db: sqlite3.Connection, table: str, build_id: str) -> list[dict[str, Any]]:
    """Oldest first, JSON unpacked; None for a piece that is none."""
    columns, packed = TABLES[table]
    order = "seq" if table == "revision" else "at, rowid"
    there = "build_id = ? AND removed_at IS NULL" if table == "session" else "build_id = ?"
    found = db.execute(
        f"SELECT {', '.join(columns)} FROM {table} WHERE {there} ORDER BY {order}", (build_id,)
    )
    return [{k: _unpacked(r[k]) if k in packed else r[k] for k in columns} for r in found]


def _unpacked(text: str) -> Any:
    try:
        return json.loads(text)
    except ValueError:
        return None


def put_rows(
    db: sqlite3.Connection, table: str, build_id: str, rows: list[dict[str, Any]], now: str
) -> None:
    """What rows_of gave, for a build that has none of it yet."""
    columns, packed = TABLES[table]
    more = {"build_id": build_id, **({"changed_at": now} if table == "session" else {})}
    names = (*columns, *more)
    for r in rows:
        values = [json.dumps(r[k]) if k in packed else r[k] for k in columns]
        db.execute(
            f"INSERT INTO {table} ({', '.join(names)}) VALUES ({', '.join('?' * len(names))})",
            (*values, *more.values()),
        )


def insert_build_at(
    db: sqlite3.Connection, build_id: str, name: str, made_at: str, now: str, head: int
) -> None:
    """A build whose states are put after it."""
    db.execute(
        "INSERT INTO build (id, name, created_at, changed_at, head) VALUES (?, ?, ?, ?, ?)",
        (build_id, name, made_at, now, head),
    )


def has_writing(db: sqlite3.Connection, writing_id: str) -> bool:
    """Whether this garage has the write itself."""
    found = db.execute("SELECT 1 FROM writing WHERE id = ?", (writing_id,))
    return found.fetchone() is not None
