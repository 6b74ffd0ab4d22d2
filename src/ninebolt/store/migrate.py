"""Migrations: numbered SQL files, each applied once, in one transaction with its record."""

from __future__ import annotations

import shutil
import sqlite3
from dataclasses import dataclass
from importlib import resources
from pathlib import Path

from ninebolt.errors import StoreError
from ninebolt.store.database import backups, builds_in, transaction

KEEP = 10  # daily backups
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


def pending(db: sqlite3.Connection) -> bool:
    """Whether anything is to be applied, or the database is newer than the program."""
    return applied(db) != tuple(m.number for m in bundled())


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
        if have:
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
    """A whole copy in backups/ beside the database; a broken-off one never bears the name."""
    folder = path.parent / "backups"
    folder.mkdir(exist_ok=True)
    target, part = folder / f"{path.stem}-{label}.sqlite3", folder / f"{path.stem}-{label}.part"
    part.unlink(missing_ok=True)
    copy = sqlite3.connect(part)
    try:
        db.backup(copy)
    finally:
        copy.close()
    part.replace(target)
    return target


def regular_backup(db: sqlite3.Connection, path: Path, day: str) -> Path | None:
    """One backup a day that there is anything to keep, the newest KEEP of them; None if today's is
    there or there is no build. day: such as 2031-05-04."""
    label = f"daily-{day}"
    target = path.parent / "backups" / f"{path.stem}-{label}.sqlite3"
    if target.exists() or db.execute("SELECT count(*) FROM build").fetchone()[0] == 0:
        return None
    made = backup(db, path, label)
    daily = sorted((path.parent / "backups").glob(f"{path.stem}-daily-*.sqlite3"), reverse=True)
    others = [old for old in daily if old != made]  # also where the clock was ahead before
    for old in others[KEEP - 1 :]:
        old.unlink()
    return made


def restore(path: Path, source: Path, stamp: str) -> Path:
    """Put a backup in the database's place; what stood there is kept beside it. Returns where.
    Raises StoreError where the backup holds no garage."""
    if builds_in(source) == 0:
        raise StoreError(
            "This backup holds no build, or is damaged itself.",
            where=source.name,
            got=", ".join(f"{b.name}: {builds_in(b)} builds" for b in backups(path))
            or "no backups",
            todo="Name another one.",
        )
    aside = path.with_name(f"{path.stem}-aside-{stamp}{path.suffix}")
    for extra in ("-wal", "-shm"):
        path.with_name(path.name + extra).unlink(missing_ok=True)
    if path.exists():
        path.replace(aside)
    shutil.copyfile(source, path)
    return aside
