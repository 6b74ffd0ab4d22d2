"""What was read from controllers and written into them, step by step, and the profiles of other controllers."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from typing import Any, Literal

from ninebolt.core.setting.objects import Address, Scalar
from ninebolt.core.setting.sets import Identity
from ninebolt.errors import NotFoundError, StoreError

OPEN = ("writing", "stored", "waiting")  # a write that has not come to its end
WRITTEN = ("stored", "waiting", "verified")  # one whose values the controller keeps


@dataclass(frozen=True, slots=True)
class ReadingRow:
    """One full read of a controller."""

    id: str
    build_id: str
    at: str
    why: str
    device: Identity
    profile: str
    values: dict[Address, Scalar]


@dataclass(frozen=True, slots=True)
class WritingRow:
    """One write and how far it came. steps: (address, old, new, needs a power cycle). state: writing, stored,
    waiting (for the power cycle), verified, failed, ended (finished or undone by a later one)."""

    id: str
    build_id: str
    reading_id: str
    at: str
    why: str
    device: Identity
    profile: str
    steps: tuple[tuple[Address, Scalar, Scalar, bool], ...]
    state: str
    reached: str
    ended_at: str | None


@dataclass(frozen=True, slots=True)
class ProfileRow:
    """Another controller's dictionary file, where its meanings live: name to [index, sub, scale, offset], and its fault
    codes as they were typed."""

    key: str
    name: str
    eds: bytes
    places: dict[str, list[float]]
    codes: str = ""


def _out(value: Scalar) -> Any:
    return {"hex": value.hex()} if isinstance(value, bytes) else value


def _in(value: Any) -> Scalar:
    if isinstance(value, dict):
        return bytes.fromhex(value["hex"])
    if isinstance(value, int | float | str):
        return value
    raise StoreError("A stored controller value cannot be read.", got=repr(value)[:40])


def _key(at: Address) -> str:
    return f"{at[0]:04X}:{at[1]:02X}"


def _at(key: str) -> Address:
    index, _, sub = key.partition(":")
    return int(index, 16), int(sub, 16)


def _after_all(db: sqlite3.Connection, table: Literal["reading", "writing"], at: str) -> str:
    """The moment of a new row: one made while the clock was ahead is not for that the newer. One out of a file, which
    may say anything, moves nothing."""
    newest = db.execute(f"SELECT max(at) FROM {table}").fetchone()[0]
    if newest is None or newest < at:
        return at
    try:
        return (datetime.fromisoformat(newest) + timedelta(milliseconds=1)).isoformat()
    except (ValueError, OverflowError):
        return at


def insert_reading(db: sqlite3.Connection, r: ReadingRow) -> None:
    numbers = {_key(at): _out(v) for at, v in r.values.items()}
    db.execute(
        "INSERT INTO reading VALUES (?, ?, ?, ?, ?, ?, ?)",
        (
            r.id,
            r.build_id,
            _after_all(db, "reading", r.at),
            r.why,
            json.dumps(asdict(r.device)),
            r.profile,
            json.dumps(numbers),
        ),
    )


def _reading(row: sqlite3.Row) -> ReadingRow:
    numbers = json.loads(row["numbers"])
    return ReadingRow(
        row["id"], row["build_id"], row["at"], row["why"], Identity(**json.loads(row["device"])), row["profile"],
        {_at(k): _in(v) for k, v in numbers.items()},
    )  # fmt: skip


def get_reading(db: sqlite3.Connection, build_id: str, reading_id: str) -> ReadingRow:
    """Raises NotFoundError where the build has no such reading."""
    row = db.execute(
        "SELECT * FROM reading WHERE id = ? AND build_id = ?", (reading_id, build_id)
    ).fetchone()
    if row is None:
        raise NotFoundError(f"This build has no reading {reading_id[:40]!a}.")
    return _reading(row)


def list_readings(db: sqlite3.Connection, build_id: str) -> list[ReadingRow]:
    """Newest first."""
    rows = db.execute("SELECT * FROM reading WHERE build_id = ? ORDER BY at DESC, id", (build_id,))
    return [_reading(r) for r in rows]


def insert_writing(db: sqlite3.Connection, w: WritingRow) -> None:
    steps = [[_key(at), _out(old), _out(new), power] for at, old, new, power in w.steps]
    db.execute(
        "INSERT INTO writing VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (
            w.id, w.build_id, w.reading_id, _after_all(db, "writing", w.at), w.why, json.dumps(asdict(w.device)),
            w.profile, json.dumps(steps), w.state, w.reached, w.ended_at,
        ),
    )  # fmt: skip


def set_writing(
    db: sqlite3.Connection, writing_id: str, state: str, reached: str, ended_at: str | None
) -> None:
    db.execute(
        "UPDATE writing SET state = ?, reached = ?, ended_at = ? WHERE id = ?",
        (state, reached, ended_at, writing_id),
    )


def _writing(row: sqlite3.Row) -> WritingRow:
    steps = tuple(
        (_at(k), _in(old), _in(new), bool(p)) for k, old, new, p in json.loads(row["steps"])
    )
    return WritingRow(
        row["id"], row["build_id"], row["reading_id"], row["at"], row["why"], Identity(**json.loads(row["device"])),
        row["profile"], steps, row["state"], row["reached"], row["ended_at"],
    )  # fmt: skip


def list_writings(db: sqlite3.Connection, build_id: str) -> list[WritingRow]:
    """Newest first."""
    rows = db.execute("SELECT * FROM writing WHERE build_id = ? ORDER BY at DESC, id", (build_id,))
    return [_writing(r) for r in rows]


def get_writing(db: sqlite3.Connection, writing_id: str) -> WritingRow:
    """Raises NotFoundError."""
    row = db.execute("SELECT * FROM writing WHERE id = ?", (writing_id,)).fetchone()
    if row is None:
        raise NotFoundError(f"There is no write {writing_id[:40]!a}.")
    return _writing(row)


def open_writings(db: sqlite3.Connection) -> list[WritingRow]:
    """Those that have not come to their end, the newest first."""
    rows = db.execute(
        f"SELECT * FROM writing WHERE state IN ({','.join('?' * len(OPEN))}) ORDER BY at DESC, rowid DESC",
        OPEN,
    )
    return [_writing(r) for r in rows]


def left_open(db: sqlite3.Connection, build_id: str) -> list[str]:
    """What each write of a build is for that has not come to its end; of rows that cannot be read, too."""
    rows = db.execute(
        f"SELECT why FROM writing WHERE build_id = ? AND state IN ({','.join('?' * len(OPEN))})",
        (build_id, *OPEN),
    )
    return [str(r["why"]) for r in rows]


def open_writing(db: sqlite3.Connection, device: Identity) -> WritingRow | None:
    """The newest write into this very controller that has not come to its end."""
    return next((w for w in open_writings(db) if _same(w.device, device)), None)


def written_for(db: sqlite3.Connection, device: Identity) -> str | None:
    """The build whose values were stored last in this very controller; None where it tells no serial number, or nobody
    has written it."""
    rows = db.execute(
        f"SELECT build_id, device FROM writing WHERE state IN ({','.join('?' * len(WRITTEN))})"
        " ORDER BY at DESC, rowid DESC",
        WRITTEN,
    )
    known = (r for r in rows if _same(Identity(**json.loads(r["device"])), device))
    row = next(known, None) if device.serial else None
    return None if row is None else str(row["build_id"])


def end_writings(db: sqlite3.Connection, device: Identity, by: str, at: str) -> None:
    """All other open writes into this controller end with one."""
    for w in open_writings(db):
        if w.id != by and _same(w.device, device):
            set_writing(db, w.id, "ended", f"by {by}", at)


def _same(a: Identity, b: Identity) -> bool:
    return (a.kind, a.serial) == (b.kind, b.serial)


def put_profile(db: sqlite3.Connection, p: ProfileRow, now: str) -> None:
    db.execute(
        "INSERT INTO controller_profile VALUES (?, ?, ?, ?, ?, ?) ON CONFLICT (key) DO UPDATE SET"
        " name = excluded.name, eds = excluded.eds, places = excluded.places, codes = excluded.codes",
        (p.key, p.name, p.eds, json.dumps(p.places), now, p.codes),
    )


def list_profiles(db: sqlite3.Connection) -> list[ProfileRow]:
    """In the order in which they were added."""
    rows = db.execute("SELECT * FROM controller_profile ORDER BY added_at, key")
    return [
        ProfileRow(r["key"], r["name"], bytes(r["eds"]), json.loads(r["places"]), r["codes"])
        for r in rows
    ]
