"""Parts that the person keeps on their own shelf."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass
from typing import Any

from ninebolt.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class StoredPart:
    """A part as it is stored; doc is its document."""

    id: str
    kind: str
    name: str
    doc: dict[str, Any]
    changed_at: str


def _row(r: sqlite3.Row) -> StoredPart:
    return StoredPart(r["id"], r["kind"], r["name"], json.loads(r["doc"]), r["changed_at"])


def list_parts(db: sqlite3.Connection, kind: str | None = None) -> list[StoredPart]:
    """By name; of one kind, or all."""
    rows = db.execute(
        "SELECT * FROM part WHERE ?1 IS NULL OR kind = ?1 ORDER BY kind, name, id", (kind,)
    )
    return [_row(r) for r in rows]


def get_part(db: sqlite3.Connection, part_id: str) -> StoredPart:
    """Raises NotFoundError."""
    row = db.execute("SELECT * FROM part WHERE id = ?", (part_id,)).fetchone()
    if row is None:
        raise NotFoundError(f"There is no part '{part_id[:40]}' on your shelf.")
    return _row(row)


def put_part(db: sqlite3.Connection, part: StoredPart) -> None:
    """Insert, or replace the one with the same id."""
    db.execute(
        "INSERT INTO part VALUES (?, ?, ?, ?, ?) ON CONFLICT (id) DO UPDATE SET"
        " kind = excluded.kind, name = excluded.name, doc = excluded.doc,"
        " changed_at = excluded.changed_at",
        (part.id, part.kind, part.name, json.dumps(part.doc), part.changed_at),
    )


def delete_part(db: sqlite3.Connection, part_id: str) -> None:
    get_part(db, part_id)
    db.execute("DELETE FROM part WHERE id = ?", (part_id,))
