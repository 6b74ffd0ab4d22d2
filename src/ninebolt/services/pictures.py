"""Photos of what was found: kept with the gate that they belong to, apart from the build's document, so that undo and a
what-if leave them alone."""

from __future__ import annotations

import sqlite3

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.prove.gates import gate_states
from ninebolt.core.codec import clean_text
from ninebolt.errors import FormatError, NotFoundError, TooLargeError
from ninebolt.formats.bundle import PhotoFile
from ninebolt.services import workshop
from ninebolt.services.house import House
from ninebolt.store import builds as table
from ninebolt.store.database import session, transaction
from ninebolt.store.pictures import (
    PictureRow,
    delete_picture,
    insert_picture,
    list_pictures,
    picture_data,
)

MOST_BYTES = 8_000_000
MOST_PICTURES = 300
GATE = "gate:"


def media_of(data: bytes, name: str) -> str:
    """The kind of picture by its first bytes. Raises FormatError for another, a drawing with a script too."""
    if data.startswith(b"\xff\xd8\xff"):
        return "image/jpeg"
    if data.startswith(b"\x89PNG\r\n\x1a\n"):
        return "image/png"
    if data.startswith(b"RIFF") and data[8:12] == b"WEBP":
        return "image/webp"
    raise FormatError(
        "This is no photo.",
        where=name[:80],
        got=repr(data[:8]),
        expected="JPEG, PNG or WebP",
        todo="Save it as a JPEG.",
    )


def checked(data: bytes, name: str) -> str:
    """The kind of a photo that may be kept. Raises FormatError, TooLargeError."""
    if len(data) > MOST_BYTES:
        raise TooLargeError(
            "The photo is too large.",
            where=name[:80],
            got=f"{len(data) / 1e6:.1f} MB",
            expected=f"at most {MOST_BYTES / 1e6:.0f} MB",
        )
    return media_of(data, name)


def add(house: House, build_id: str, place: str, name: str, data: bytes) -> list[PictureRow]:
    """Keep a photo at a gate. Raises FormatError, TooLargeError, NotFoundError for a gate that this build has not."""
    media = checked(data, name)
    build = workshop.shown_build(house, build_id)
    gates = {f"{GATE}{s.gate.key}" for s in gate_states(Bike(build))}
    if place not in gates:
        raise NotFoundError(f"This build has no place '{place[:60]}' for a photo.")
    clean = clean_text(" ".join(name.split()), "name")[:120] or "photo"
    row = PictureRow(house.new_id(), build_id, place, clean, media, house.now(), len(data))
    with session(house.path) as db, transaction(db):
        table.get_build(db, build_id)
        if len(list_pictures(db, build_id)) >= MOST_PICTURES:
            raise TooLargeError(
                "This build has many photos already.", expected=f"at most {MOST_PICTURES}",
                todo="Delete some first.",
            )  # fmt: skip
        insert_picture(db, row, data)
        return list_pictures(db, build_id)


def pictures(house: House, build_id: str) -> list[PictureRow]:
    """Oldest first. Raises NotFoundError."""
    with session(house.path) as db:
        table.get_build(db, build_id)
        return list_pictures(db, build_id)


def photo_files(db: sqlite3.Connection, build_id: str) -> list[PhotoFile]:
    """All photos of a build with their bytes, oldest first."""
    return [
        PhotoFile(p.place, p.name, picture_data(db, build_id, p.id)[1], p.at)
        for p in list_pictures(db, build_id)
    ]


def picture(house: House, build_id: str, picture_id: str) -> tuple[str, bytes]:
    """(media type, bytes). Raises NotFoundError."""
    with session(house.path) as db:
        table.get_build(db, build_id)
        return picture_data(db, build_id, picture_id)


def remove(house: House, build_id: str, picture_id: str) -> list[PictureRow]:
    """Raises NotFoundError."""
    with session(house.path) as db, transaction(db):
        table.get_build(db, build_id)
        delete_picture(db, build_id, picture_id)
        return list_pictures(db, build_id)
