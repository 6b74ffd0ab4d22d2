"""Photos that belong to a place of a build."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from ninebolt.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class PictureRow:
    """A photo without its bytes. place: what it shows, such as gate:isolation."""

    id: str
    build_id: str
    place: str
    name: str
    media: str
    at: str
    size: int


def list_pictures(db: sqlite3.Connection, build_id: str) -> list[PictureRow]:
    """Oldest first."""
    rows = db.execute(
        "SELECT id, build_id, place, name, media, at, length(data) AS size FROM picture"
        " WHERE build_id = ? ORDER BY at, rowid",
        (build_id,),
    )
    return [PictureRow(*(r[k] for k in PictureRow.__dataclass_fields__)) for r in rows]


def insert_picture(db: sqlite3.Connection, row: PictureRow, data: bytes) -> None:
    db.execute(
        "INSERT INTO picture (id, build_id, place, name, media, at, data) VALUES (?, ?, ?, ?, ?, ?, ?)",
        (row.id, row.build_id, row.place, row.name, row.media, row.at, data),
    )


def picture_data(db: sqlite3.Connection, build_id: str, picture_id: str) -> tuple[str, bytes]:
    """(media type, bytes). Raises NotFoundError where the build has no such photo."""
    row = db.execute(
        "SELECT media, data FROM picture WHERE id = ? AND build_id = ?", (picture_id, build_id)
    ).fetchone()
    if row is None:
        raise NotFoundError(f"This build has no photo '{picture_id[:40]}'.")
    return row["media"], bytes(row["data"])


def delete_picture(db: sqlite3.Connection, build_id: str, picture_id: str) -> None:
    """Raises NotFoundError where the build has no such photo."""
    done = db.execute("DELETE FROM picture WHERE id = ? AND build_id = ?", (picture_id, build_id))
    if done.rowcount == 0:
        raise NotFoundError(f"This build has no photo '{picture_id[:40]}'.")
