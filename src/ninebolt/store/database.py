"""Connections: WAL, foreign keys, full sync, one transaction at a time."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from ninebolt.errors import StoreError


def connect(path: Path) -> sqlite3.Connection:
    """Open the database as this program uses it. Raises StoreError."""
    try:
        db = sqlite3.connect(path, isolation_level=None, timeout=10.0)
        db.row_factory = sqlite3.Row
        db.execute("PRAGMA journal_mode = WAL")
        db.execute("PRAGMA synchronous = FULL")
        db.execute("PRAGMA foreign_keys = ON")
    except sqlite3.DatabaseError as error:
        raise StoreError(
            "The database cannot be opened.",
            where=path.name,
            got=str(error),
            todo="Put back a backup from the backups folder beside it.",
        ) from error
    return db


def check(db: sqlite3.Connection, name: str) -> None:
    """Raises StoreError if the file is damaged or a reference hangs in the air."""
    try:
        bad = db.execute("PRAGMA integrity_check(1)").fetchone()[0]
        loose = db.execute("PRAGMA foreign_key_check").fetchone()
    except sqlite3.DatabaseError as error:
        bad, loose = str(error), None
    if bad != "ok" or loose is not None:
        raise StoreError(
            "The database is damaged.",
            where=name,
            got=str(bad if bad != "ok" else tuple(loose)),
            todo="Put back a backup from the backups folder beside it.",
        )


@contextmanager
def session(path: Path) -> Iterator[sqlite3.Connection]:
    """A connection that is closed again."""
    db = connect(path)
    try:
        yield db
    finally:
        db.close()


@contextmanager
def transaction(db: sqlite3.Connection) -> Iterator[None]:
    """All or nothing."""
    db.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        db.execute("ROLLBACK")
        raise
    db.execute("COMMIT")
