"""Cards of the garage as they were when the server last stopped, so that a second start lists at once.

A card is taken only for exactly the state and the program that it was made of; anything else, a file
that cannot be read included, is worked out anew. Losing the file loses nothing.
"""

from __future__ import annotations

import dataclasses
import hashlib
import json
import logging
import os
from functools import cache
from pathlib import Path
from threading import Lock
from typing import Any

import ninebolt
from ninebolt.core.simulate.headline import Headline

NAME = "garage-cards.json"
log = logging.getLogger("ninebolt")


@cache
def program() -> str:
    """Changes whenever the program does: its version, its files with their sizes and times."""
    home = Path(ninebolt.__file__).parent
    sha = hashlib.sha256(ninebolt.__version__.encode())
    for file in sorted(home.rglob("*.py")):
        at = file.stat()
        sha.update(f"{file.relative_to(home)}:{at.st_size}:{at.st_mtime_ns};".encode())
    return sha.hexdigest()[:16]


class CardCache:
    """Fields of cards by the state they are of."""

    def __init__(self, folder: Path) -> None:
        self._path, self._lock = folder / NAME, Lock()
        self._read: dict[str, Any] | None = None
        self._made: dict[str, Any] = {}

    def get(self, key: str) -> dict[str, Any] | None:
        """The fields of a card of this state; None if there is none."""
        with self._lock:
            if key in self._made:
                return self._fields(self._made[key])
            if self._read is None:
                self._read = self._load()
            found = self._read.get(key)
            if found is None:
                return None
            self._made[key] = found
            return self._fields(found)

    def put(self, key: str, fields: dict[str, Any]) -> None:
        with self._lock:
            self._made[key] = {**fields, "headline": dataclasses.asdict(fields["headline"])}

    def save(self) -> None:
        """Write what is known; a disk that refuses costs only the head start."""
        with self._lock:
            text = json.dumps({"program": program(), "cards": self._made})
        part = self._path.with_suffix(".part")
        try:
            part.write_text(text, encoding="utf-8")
            os.replace(part, self._path)
        except OSError as error:
            log.warning("the garage's cards were not kept: %s", error)

    def _load(self) -> dict[str, Any]:
        try:
            kept = json.loads(self._path.read_text(encoding="utf-8"))
            same = kept["program"] == program()
            return dict(kept["cards"]) if same else {}
        except (OSError, ValueError, KeyError, TypeError):
            return {}

    def _fields(self, kept: dict[str, Any]) -> dict[str, Any] | None:
        try:
            return {**kept, "headline": Headline(**kept["headline"])}
        except (TypeError, KeyError):
            return None
