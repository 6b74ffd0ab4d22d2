"""Stored documents as today's program writes them: older versions are brought up when read."""

from __future__ import annotations

import sqlite3
from typing import Any

from ninebolt.core.build import FORMAT_VERSION, Build
from ninebolt.core.codec import encode, set_path
from ninebolt.errors import FieldError, InputError
from ninebolt.formats.build_json import build_of, dumped, loaded
from ninebolt.store import builds as table

MAX_CHANGES = 200


def with_changes(doc: Any, changes: list[dict[str, Any]]) -> Any:
    """The document with all changes made in order. Raises FieldError."""
    if len(changes) > MAX_CHANGES:
        raise InputError(
            "Too many changes at once.", got=str(len(changes)), expected=f"at most {MAX_CHANGES}"
        )
    for change in changes:
        path = str(change["path"])
        if path.split(".")[0] in ("format_version", "marks"):
            raise FieldError("This field is not set by hand.", where=path)
        doc = set_path(doc, path, change["value"])
    return doc


def doc_at(db: sqlite3.Connection, build_id: str, seq: int) -> Any:
    """The document of a revision. Raises NotFoundError, FieldError."""
    doc = loaded(table.text_at(db, build_id, seq))
    if doc.get("format_version") == FORMAT_VERSION:
        return doc
    return encode(build_of(doc, build_id))


def build_at(db: sqlite3.Connection, build_id: str, seq: int, name: str) -> Build:
    """The build of a revision. Raises NotFoundError, FieldError."""
    return build_of(doc_at(db, build_id, seq), name)


def keep_doc(
    db: sqlite3.Connection,
    build_id: str,
    now: str,
    reason: str,
    changes: list[dict[str, Any]],
    doc: dict[str, Any],
) -> int:
    """Keep a document as the newest revision; its number."""
    return table.add_revision(db, build_id, now, reason, changes, str(doc["name"]), dumped(doc))
