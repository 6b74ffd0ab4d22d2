"""What a change of a build brings with it."""

from __future__ import annotations

from typing import Any

from ninebolt.core.build import MISHAPS
from ninebolt.services.another_part import of_another_part
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


def with_what_follows(
    doc: dict[str, Any], changes: list[dict[str, Any]], tried: bool = False
) -> list[dict[str, Any]]:
    """The changes, and what they bring with them. tried: they are for a what-if, which unticks nothing."""
    return of_another_part(doc, _of_a_mishap(doc, _of_its_log(doc, changes)), tried)


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
