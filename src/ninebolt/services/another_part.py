"""What goes with a part when another takes its place: what was measured, confirmed and ticked on the old one says
nothing of the new one. A part whose name alone is changed stays what it is."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ninebolt.services.docs import with_changes

# What was read of a pack, or is of its cells alone, and the value of nobody having looked.
READ_OF_CELLS: dict[str, Any] = {
    "rested_v": None, "loaded_v": None, "loaded_a": None, "claimed_wh": None, "modules": [], "sorted_groups": [],
    "group_v": [], "tap_v": [], "done": [],
}  # fmt: skip
ISOLATION = ("pack_v", "minus_v", "plus_v", "loaded_v")
WORDS = ("name", "note", "source")


def of_another_part(
    doc: dict[str, Any], changes: list[dict[str, Any]], tried: bool
) -> list[dict[str, Any]]:
    """The changes, and what goes with the parts that they take out, but for what they say themselves. tried: what was
    done stays, as on the bike that is there."""
    said = [str(c["path"]) for c in changes]
    if not any(p.startswith(("drive", "pack", "gear")) for p in said):
        return changes
    made = with_changes(doc, changes)
    gone = [
        {"path": path, "value": value}
        for path, value in _gone(doc, made)
        if not any(path == p or path.startswith(f"{p}.") for p in said)
        and not (tried and path == "pack.done")
    ]
    return [*changes, *gone]


def _gone(doc: dict[str, Any], made: Any) -> Iterator[tuple[str, Any]]:
    cells = _another(doc, made, "pack", "cell")
    drive = [k for k in ("motor", "controller") if _another(doc, made, "drive", k)]
    if cells:
        for key, unread in READ_OF_CELLS.items():
            if doc["pack"][key] != unread:
                yield f"pack.{key}", unread
    if drive:
        for kind in ("phases", "halls"):
            for i, lead in enumerate(doc["wire"][kind]):
                if lead.get("confirmed"):
                    yield f"wire.{kind}.{i}.confirmed", False
    test = doc["guard"]["isolation"]
    if cells or (drive and test["state"] != "DC side alone"):
        for key in ISOLATION:
            if test[key] is not None:
                yield f"guard.isolation.{key}", None
    crr = doc["road"]["crr"]
    tyres = any(_another(doc, made, "gear", k) for k in ("tyre", "front_tyre"))
    if tyres and crr is not None and crr["origin"] == "measured":
        yield "road.crr", {"amount": crr["amount"], "origin": "guess", "tolerance": None}


def _another(doc: Any, made: Any, room: str, key: str) -> bool:
    """Whether a part with a name has become another: by its name, and by something else of it."""
    old, new = _part(doc, room, key), _part(made, room, key)
    if old is None or new is None or not old.get("name") or old["name"] == new.get("name"):
        return False
    return any(old[k] != new.get(k) for k in old if k not in WORDS)


def _part(doc: Any, room: str, key: str) -> dict[str, Any] | None:
    parts = doc.get(room) if isinstance(doc, dict) else None
    part = parts.get(key) if isinstance(parts, dict) else None
    return part if isinstance(part, dict) else None  # what is none is refused where it is read
