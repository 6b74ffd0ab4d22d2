"""Cells of a CSV that a spreadsheet would take for a formula."""

from __future__ import annotations

STARTS = ("=", "+", "-", "@", "\t", "\r")


def safe(text: str) -> str:
    """The text with an apostrophe before it where a spreadsheet would execute it."""
    return f"'{text}" if text.startswith(STARTS) and not _number(text) else text


def _number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def unsafe(text: str) -> str:
    """The text as it was before safe()."""
    return text[1:] if text[:1] == "'" and text[1:].startswith(STARTS) else text
