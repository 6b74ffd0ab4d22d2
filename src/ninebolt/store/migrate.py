"""Migrations: numbered SQL files, each applied once, in one transaction with its record."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass
from importlib import resources
from pathlib import Path

from ninebolt.errors import StoreError
from ninebolt.store.database import transaction

_RECORD = """
CREATE TABLE IF NOT EXISTS migration (
  number INTEGER PRIMARY KEY, name TEXT NOT NULL, applied_at TEXT NOT NULL
) STRICT
"""


@dataclass(frozen=True, slots=True)
class Migration:
    """number and name from the file NNN_name.sql."""

    number: int
    name: str
    sql: str


def bundled() -> tuple[Migration, ...]:
    """All migrations in order."""
    folder = resources.files(__package__) / "schema"
    out = []
    for entry in folder.iterdir():
        if entry.name.endswith(".sql"):
            number, _, name = entry.name.removesuffix(".sql").partition("_")
            out.append(Migration(int(number), name, entry.read_text("utf-8")))
    return tuple(sorted(out, key=lambda m: m.number))


def applied(db: sqlite3.Connection) -> tuple[int, ...]:
    """Numbers of the migrations already in this database."""
    has = db.execute("SELECT 1 FROM sqlite_master WHERE name = 'migration'").fetchone()
    if not has:
        return ()
    return tuple(r[0] for r in db.execute("SELECT number FROM migration ORDER BY number"))


def migrate(
    db: sqlite3.Connection, path: Path, now: str, migrations: tuple[Migration, ...] | None = None
) -> tuple[int, ...]:
    """Apply what is pending, each after a backup of a database that holds anything. Returns the
    numbers applied. Raises StoreError if the database is newer than the program."""
    migrations = bundled() if migrations is None else migrations
    have = applied(db)
    newest = max((m.number for m in migrations), default=0)
    if have and have[-1] > newest:
        raise StoreError(
            "The database was written by a newer program.",
            where=path.name,
            got=f"schema {have[-1]}",
            expected=f"at most {newest}",
            todo="Update this program.",
        )
    done: list[int] = []
    for m in migrations:
        if m.number in have:
            continue
        if have or done:
            backup(db, path, f"before-{m.number:03d}")
        with transaction(db):
            db.execute(_RECORD)
            for statement in statements(m.sql):
                db.execute(statement)
            db.execute("INSERT INTO migration VALUES (?, ?, ?)", (m.number, m.name, now))
        done.append(m.number)
    return tuple(done)


def statements(sql: str) -> list[str]:
    """Whole statements of a script, told apart by SQLite itself."""
    out, current = [], ""
    for line in sql.splitlines(keepends=True):
        current += line
        if sqlite3.complete_statement(current):
            if current.strip():
                out.append(current)
            current = ""
    return out


def backup(db: sqlite3.Connection, path: Path, label: str) -> Path:
    """A whole copy in backups/ beside the database."""
    folder = path.parent / "backups"
    folder.mkdir(exist_ok=True)
    target = folder / f"{path.stem}-{label}.sqlite3"
    copy = sqlite3.connect(target)
    try:
        db.backup(copy)
    finally:
        copy.close()
    return target
