"""The parts shelf: bundled generic parts and the person's own; keep, change, remove, in and out."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ninebolt.core.codec import decode, encode, get_path
from ninebolt.core.parts.base import Part
from ninebolt.core.parts.kinds import KINDS
from ninebolt.errors import FieldError, NotFoundError
from ninebolt.formats.parts_file import (
    PartRow,
    kind_of,
    read_parts,
    write_parts_csv,
    write_parts_json,
)
from ninebolt.library.catalogue import items
from ninebolt.services.house import House
from ninebolt.services.shelf_figures import PICTURES, ShelfFigure, figures_of
from ninebolt.services.workshop import shown_build
from ninebolt.store import parts as table
from ninebolt.store.database import session, transaction
from ninebolt.store.parts import StoredPart


@dataclass(frozen=True, slots=True)
class ShelfItem:
    """One part on the shelf: doc is what goes into a build. own: kept by the person, so it may be
    changed and removed. figures: what one chooses by. across, up: the two of them that the
    kind is drawn by; '' where it is not."""

    id: str
    name: str
    kind: str
    own: bool
    doc: dict[str, Any]
    figures: list[ShelfFigure]
    across: str
    up: str


def shelf_items(house: House, kind: str) -> list[ShelfItem]:
    """Own parts first, then the bundled ones. Raises NotFoundError for an unknown kind."""
    bundled = [_item(x.id, kind, False, x.part, encode(x.part)) for x in items(kind)]
    with session(house.path) as db:
        rows = table.list_parts(db, kind)
    own = [_item(p.id, p.kind, True, decode(KINDS[p.kind], p.doc), p.doc) for p in rows]
    return own + bundled


def _item(part_id: str, kind: str, own: bool, part: Part, doc: dict[str, Any]) -> ShelfItem:
    across, up = PICTURES.get(kind, ("", ""))
    return ShelfItem(part_id, part.name, kind, own, doc, figures_of(part), across, up)


def keep(house: House, kind: str, doc: dict[str, Any], part_id: str = "") -> ShelfItem:
    """Put a part on the shelf, or change one of the own. Raises FieldError, NotFoundError."""
    part = decode(kind_of(kind), doc, kind)
    if not part.name.strip():
        raise FieldError(
            "A part needs a name.", where=f"{kind}.name", todo="Name it as its label does."
        )
    with session(house.path) as db, transaction(db):
        if part_id:
            old = table.get_part(db, part_id)
            if old.kind != kind:
                raise FieldError(
                    "A part does not change its kind.", where="kind", got=kind, expected=old.kind
                )
        made = StoredPart(part_id or house.new_id(), kind, part.name, encode(part), house.now())
        table.put_part(db, made)
    house.parts_changed()
    return _item(made.id, kind, True, part, made.doc)


def keep_from_build(house: House, build_id: str, path: str, kind: str) -> ShelfItem:
    """Put the part at a path of a build, as shown, on the shelf."""
    return keep(house, kind, get_path(encode(shown_build(house, build_id)), path))


def remove(house: House, part_id: str) -> None:
    """Take one of the own parts off the shelf."""
    with session(house.path) as db, transaction(db):
        table.delete_part(db, part_id)
    house.parts_changed()


def import_parts(house: House, data: bytes, name: str, kind: str = "") -> int:
    """All parts of a file, or none; how many. An own part of the same kind and name is replaced."""
    rows = read_parts(data, name, kind)
    with session(house.path) as db, transaction(db):
        there = {(p.kind, p.name): p.id for p in table.list_parts(db)}
        for r in rows:
            part_id = there.get((r.kind, r.part.name)) or house.new_id()
            there[(r.kind, r.part.name)] = part_id
            table.put_part(
                db, StoredPart(part_id, r.kind, r.part.name, encode(r.part), house.now())
            )
    house.parts_changed()
    return len(rows)


def export_parts(house: House, kind: str, form: str) -> tuple[str, str, bytes]:
    """(file name, media type, bytes) of all parts of a kind. Raises NotFoundError."""
    cls = KINDS.get(kind)
    if cls is None:
        raise NotFoundError(f"There is no kind of part called '{kind}'.", expected=", ".join(KINDS))
    rows = [PartRow(x.id, kind, decode(cls, x.doc)) for x in shelf_items(house, kind)]
    if form == "csv":
        return f"{kind}-parts.csv", "text/csv; charset=utf-8", write_parts_csv(kind, rows)
    if form == "json":
        return f"{kind}-parts.json", "application/json", write_parts_json(kind, rows)
    raise NotFoundError(f"Parts do not leave as '{form[:20]}'.", expected="csv, json")
