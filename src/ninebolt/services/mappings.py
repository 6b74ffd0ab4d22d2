"""Which columns of a file feed which of ours: remembered for each header."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict

from ninebolt.formats.table import Column, Sniffed
from ninebolt.services.house import House, columns_of
from ninebolt.store import rides
from ninebolt.store.database import session

PREFIX = "mapping:"


def _key(seen: Sniffed, of: str) -> str:
    return PREFIX + of + "|".join(seen.header)


def remembered(house: House, seen: Sniffed, of: str = "") -> tuple[Column, ...] | None:
    """The mapping the person used for the same header before. of: kind of file, '' = ride log."""
    with session(house.path) as db:
        return columns_of(rides.get_preferences(db).get(_key(seen, of)))


def remember(
    db: sqlite3.Connection, seen: Sniffed, mapping: tuple[Column, ...], of: str = ""
) -> None:
    """Keep a mapping for this header."""
    rides.put_preference(db, _key(seen, of), [asdict(c) for c in mapping])
