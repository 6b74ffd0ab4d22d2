"""Stored documents as today's program writes them: older versions are brought up when read."""

from __future__ import annotations

import sqlite3
from typing import Any

from ninebolt.core.build import FORMAT_VERSION
from ninebolt.core.codec import encode
from ninebolt.formats.build_json import build_of
from ninebolt.store import builds as table


def doc_at(db: sqlite3.Connection, build_id: str, seq: int) -> Any:
    """The document of a revision. Raises NotFoundError, FieldError."""
    doc = table.doc_at(db, build_id, seq)
    if doc.get("format_version") == FORMAT_VERSION:
        return doc
    return encode(build_of(doc, build_id))
