"""Connections: WAL, foreign keys, full sync, one transaction at a time."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Lock

from ninebolt.errors import StoreError

_writers: dict[str, Lock] = {}
_guard = Lock()
WAIT_S = 30.0


def _writer(path: str) -> Lock:
    """Writers of one database wait for each other here, instead of failing at the file's lock."""
    with _guard:
        return _writers.setdefault(path, Lock())


def connect(path: Path, fresh: bool = False) -> sqlite3.Connection:
    """Open the database as this program uses it. fresh: it may have to be made. Raises StoreError."""
    try:
        db = sqlite3.connect(path, isolation_level=None, timeout=WAIT_S)
        db.row_factory = sqlite3.Row
        if fresh:
            db.execute("PRAGMA journal_mode = WAL")
        db.execute("PRAGMA synchronous = FULL")
        db.execute("PRAGMA foreign_keys = ON")
    except sqlite3.DatabaseError as error:
        raise StoreError(
            "The database cannot be opened.",
            where=path.name,
            got=str(error),
            todo=advice(path),
        ) from error
    return db


def advice(path: Path) -> str:
    """What to do when the database is damaged: names the newest backup that holds a garage."""
    good = next((b for b in backups(path) if builds_in(b) > 0), None)
    if good is None:
        return "There is no backup that holds a build; keep this file, and start in another folder."
    return (
        f"Put back a backup: 'ninebolt restore --data {path.parent.name}' takes {good.name}, which "
        f"holds {builds_in(good)} builds."
    )


def backups(path: Path) -> list[Path]:
    """Backups beside a database, newest first."""
    found = (path.parent / "backups").glob(f"{path.stem}-*.sqlite3")
    return sorted(found, key=lambda p: p.stat().st_mtime, reverse=True)


def builds_in(path: Path) -> int:
    """How many builds a whole, undamaged database holds; 0 where it is none."""
    try:
        db = sqlite3.connect(f"file:{path}?mode=ro", uri=True, timeout=1.0)
        try:
            whole = db.execute("PRAGMA quick_check(1)").fetchone()[0] == "ok"
            return int(db.execute("SELECT count(*) FROM build").fetchone()[0]) if whole else 0
        finally:
            db.close()
    except sqlite3.Error:
        return 0


def check(db: sqlite3.Connection, path: Path) -> None:
    """Raises StoreError if the file is damaged or a reference hangs in the air."""
    try:
        bad = db.execute("PRAGMA integrity_check(1)").fetchone()[0]
        loose = db.execute("PRAGMA foreign_key_check").fetchone()
    except sqlite3.DatabaseError as error:
        bad, loose = str(error), None
    if bad != "ok" or loose is not None:
        raise StoreError(
            "The database is damaged.",
            where=path.name,
            got=str(bad if bad != "ok" else tuple(loose)),
            todo=advice(path),
        )


@contextmanager
def session(path: Path, fresh: bool = False) -> Iterator[sqlite3.Connection]:
    """A connection that is closed again."""
    db = connect(path, fresh)
    try:
        yield db
    finally:
        db.close()


@contextmanager
def transaction(db: sqlite3.Connection) -> Iterator[None]:
    """All or nothing. Raises StoreError where the disk or the file refuses."""
    file = db.execute("PRAGMA database_list").fetchone()[2]
    with _writer(file), refusals(Path(file)):
        db.execute("BEGIN IMMEDIATE")
        try:
            yield
        except BaseException:
            db.execute("ROLLBACK")
            raise
        db.execute("COMMIT")


@contextmanager
def snapshot(db: sqlite3.Connection) -> Iterator[None]:
    """Everything read inside is of one moment, whatever others write meanwhile."""
    db.execute("BEGIN")
    try:
        yield
    finally:
        db.execute("COMMIT")


@contextmanager
def refusals(path: Path) -> Iterator[None]:
    """What SQLite refuses, in words: a full disk, a read-only file, another program's lock."""
    try:
        yield
    except sqlite3.OperationalError as error:
        text = str(error)
        todo = (
            "Make room on the disk; what is stored can still be read."
            if "full" in text or "disk I/O" in text
            else "The folder or file may only be read; give write permission, or use --data DIR."
            if "readonly" in text
            else "Another program holds the database; close it and try again."
            if "locked" in text or "busy" in text
            else "Look at the folder of the database."
        )
        raise StoreError(
            "Nothing was stored: the database refuses.", where=path.name, got=text, todo=todo
        ) from error
