"""Pieces of sentences that every room speaks in: numbers as tokens, lists that say how long they are."""

from __future__ import annotations

from collections.abc import Sequence


def q(amount: float, quantity: str) -> str:
    """A number inside a sentence, as a token that whoever shows it turns into the reader's unit."""
    return f"{{{{{amount:.6g}|{quantity}}}}}"


def listed(words: Sequence[str], most: int = 4, gap: str = ", ") -> str:
    """The first of them, and how many more there are: nothing that was found is passed over in silence."""
    more = len(words) - most
    return gap.join(words[:most]) + (f" and {more} more" if more > 0 else "")


def inside(title: str) -> str:
    """A title in the middle of a sentence; an abbreviation or a unit in it stays as it is written."""
    return title[0].lower() + title[1:] if title[1:2].islower() else title
