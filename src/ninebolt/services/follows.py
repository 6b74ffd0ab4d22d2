"""What a change of a build brings with it."""

from __future__ import annotations

from typing import Any

from ninebolt.core.build import MISHAPS
from ninebolt.services.docs import with_changes

OF_A_LOG = (
    "launch",
    "wind_m_s",
    "slope_pct",
)  # what is said of the log that is chosen, and of no other


def _of_its_log(doc: dict[str, Any], changes: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The changes; where they choose another log, what was said of the last one goes with it."""
    prove = doc["prove"]
    chosen = [c["value"] for c in changes if c["path"] == "prove.log_id"]
    if not chosen or chosen[-1] == prove["log_id"]:
        return changes
    said = {str(c["path"]) for c in changes}
    left = [f"prove.{x}" for x in OF_A_LOG if prove[x] is not None and f"prove.{x}" not in said]
    return [*changes, *({"path": path, "value": None} for path in left)]


def with_what_follows(doc: dict[str, Any], changes: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The changes, and what they bring with them."""
    return _of_another_part(doc, _of_a_mishap(doc, _of_its_log(doc, changes)))


def _of_another_part(doc: dict[str, Any], changes: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The changes; where another motor or controller comes in, the leads that were confirmed on the old one are open
    again. A part whose name alone is changed stays what it is."""
    if not any(str(c["path"]).startswith("drive") for c in changes):
        return changes
    made = with_changes(doc, changes)
    drives = [(doc["drive"].get(k), _part(made, k)) for k in ("motor", "controller")]
    if not any(_another(old, new) for old, new in drives):
        return changes
    said = [str(c["path"]) for c in changes]
    open_again = [
        {"path": f"wire.{kind}.{i}.confirmed", "value": False}
        for kind in ("phases", "halls")
        for i, lead in enumerate(doc["wire"][kind])
        if lead.get("confirmed") and not any(p.startswith("wire") for p in said)
    ]
    return [*changes, *open_again]


def _part(doc: Any, key: str) -> Any:
    drive = doc.get("drive") if isinstance(doc, dict) else None
    return drive.get(key) if isinstance(drive, dict) else None  # else refused where it is read


def _another(old: Any, new: Any) -> bool:
    if not (isinstance(old, dict) and isinstance(new, dict)) or not old.get("name"):
        return False
    return old["name"] != new.get("name") and any(
        old[k] != new.get(k) for k in old if k not in ("name", "note", "source")
    )


def _of_a_mishap(doc: dict[str, Any], changes: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The changes; an incident or a failure that is written into the book puts the bike into quarantine, until
    somebody says that it was inspected."""
    said = [str(c["path"]) for c in changes]
    if not any(p.split(".")[:2] == ["prove", "book"] for p in said):
        return changes
    prove = with_changes(doc, changes)["prove"]
    if not isinstance(prove, dict):
        return changes  # refused where it is read
    old, new = _mishaps(doc["prove"]["book"]), _mishaps(prove.get("book"))
    if len(new) <= len(old) or prove.get("quarantine") or "prove.quarantine" in said:
        return changes
    what = next((m for m in reversed(new) if m not in old), new[-1])
    return [*changes, {"path": "prove.quarantine", "value": what}]


def _mishaps(book: Any) -> list[str]:
    """What went wrong, in words, in the order of the book."""
    rows = book if isinstance(book, list) else []
    return [
        str(e.get("what") or e["kind"])
        for e in rows
        if isinstance(e, dict) and e.get("kind") in MISHAPS
    ]
