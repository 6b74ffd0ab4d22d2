"""Read the bundled parts as core objects."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

from ninebolt.core.codec import decode
from ninebolt.core.parts.base import Part
from ninebolt.core.parts.kinds import KINDS
from ninebolt.errors import NotFoundError


@dataclass(frozen=True, slots=True)
class Item:
    """A bundled part under its id."""

    id: str
    kind: str
    part: Part


@cache
def items(kind: str) -> tuple[Item, ...]:
    """All parts of a kind. Raises NotFoundError for an unknown kind."""
    if kind not in KINDS:
        raise NotFoundError(f"There is no kind of part called '{kind}'.", expected=", ".join(KINDS))
    text = resources.files(__package__).joinpath(f"{kind}.json").read_text("utf-8")
    out = []
    for doc in json.loads(text)["items"]:
        body = {k: v for k, v in doc.items() if k != "id"}
        out.append(Item(doc["id"], kind, decode(KINDS[kind], body, f"{kind}.{doc['id']}")))
    return tuple(out)


def item(kind: str, item_id: str) -> Item:
    """One part by its id. Raises NotFoundError."""
    for found in items(kind):
        if found.id == item_id:
            return found
    raise NotFoundError(f"There is no {kind} '{item_id}' in the library.")
