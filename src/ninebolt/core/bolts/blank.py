"""What of a part nobody knows, gathered into one finding: a limit that is blank makes its check silent."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ninebolt.core.bolts.register import Says


@dataclass(frozen=True, slots=True)
class Blank:
    """One thing that a part should tell. heavy: what hangs on it can hurt or cost the part."""

    words: str
    known: bool
    heavy: bool = True


def blank_says(title: str, rows: Sequence[Blank], why: str) -> Says | None:
    """The blank ones named, and why they matter; a caution where a heavy one is among them, else a note;
    None where all are known."""
    blank = [r for r in rows if not r.known]
    if not blank:
        return None
    return Says(
        "caution" if any(r.heavy for r in blank) else "note",
        title,
        f"Unknown: {', '.join(r.words for r in blank)}. {why}",
        len(rows) - len(blank),
        len(rows),
    )
