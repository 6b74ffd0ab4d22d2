"""Logs as they were imported, and preferences."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass
from typing import Any

from ninebolt.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class LogRow:
    """An imported log without its bytes. seq: the change after which the build stood as it was ridden, None where that
    is not known."""

    id: str
    build_id: str
    name: str
    imported_at: str
    size: int
    seq: int | None = None


def list_logs(db: sqlite3.Connection, build_id: str) -> list[LogRow]:
    """Newest first."""
    rows = db.execute(
        "SELECT id, build_id, name, imported_at, length(data) AS size, seq FROM log"
        " WHERE build_id = ? AND removed_at IS NULL ORDER BY imported_at DESC, id",
        (build_id,),
    )
    return [LogRow(*(r[k] for k in LogRow.__dataclass_fields__)) for r in rows]


def has_log(db: sqlite3.Connection, build_id: str, log_id: str) -> bool:
    """Whether the log stands in the build's list."""
    found = db.execute(
        "SELECT 1 FROM log WHERE id = ? AND build_id = ? AND removed_at IS NULL", (log_id, build_id)
    )
    return found.fetchone() is not None


def insert_log(
    db: sqlite3.Connection,
    log_id: str,
    build_id: str,
    name: str,
    mapping: Any,
    now: str,
    data: bytes,
    seq: int | None = None,
) -> None:
    """Of the build as it stands, its head being the setup that was ridden; or of the state that is said."""
    db.execute(
        "INSERT INTO log (id, build_id, name, mapping, imported_at, data, seq)"
        " VALUES (?, ?, ?, ?, ?, ?, coalesce(?, (SELECT head FROM build WHERE id = ?)))",
        (log_id, build_id, name, json.dumps(mapping), now, data, seq, build_id),
    )


def log_data(db: sqlite3.Connection, log_id: str) -> tuple[str, Any, bytes]:
    """(name, mapping, bytes). Raises NotFoundError."""
    row = db.execute("SELECT name, mapping, data FROM log WHERE id = ?", (log_id,)).fetchone()
    if row is None:
        raise NotFoundError(f"There is no log '{log_id[:40]}'.")
    return row["name"], json.loads(row["mapping"]), bytes(row["data"])


def log_state(db: sqlite3.Connection, log_id: str) -> tuple[str, int] | None:
    """(build, revision) that a log was ridden with; None where nobody knows."""
    row = db.execute("SELECT build_id, seq FROM log WHERE id = ?", (log_id,)).fetchone()
    return None if row is None or row["seq"] is None else (str(row["build_id"]), int(row["seq"]))


def set_removed(db: sqlite3.Connection, build_id: str, log_id: str, at: str | None) -> None:
    """Take a log out of a build's list, or put it back (at None). Its bytes stay, so that undo brings
    back more than a name. Raises NotFoundError where the build has no such log."""
    done = db.execute(
        "UPDATE log SET removed_at = ? WHERE id = ? AND build_id = ?", (at, log_id, build_id)
    )
    if done.rowcount == 0:
        raise NotFoundError(f"This build has no log {log_id[:40]!a}.")


def get_preferences(db: sqlite3.Connection) -> dict[str, Any]:
    return {r["key"]: json.loads(r["value"]) for r in db.execute("SELECT * FROM preference")}


def put_preference(db: sqlite3.Connection, key: str, value: Any) -> None:
    db.execute(
        "INSERT INTO preference VALUES (?, ?) ON CONFLICT (key)"
        " DO UPDATE SET value = excluded.value",
        (key, json.dumps(value)),
    )
