"""Thresholds: each a number with a unit, a source and what it is for, written down once.

The condition, the limit that is shown, the sentence, the fix and the test all use the same one.
"""

from __future__ import annotations

from ninebolt.core.finding import PRACTICE, Source


class Limit(float):
    """A number that something is judged by. quantity: its unit, a key of units. what: what it is."""

    quantity: str
    what: str
    source: Source

    def __new__(cls, value: float, quantity: str, what: str, source: Source = PRACTICE) -> Limit:
        made = super().__new__(cls, value)
        made.quantity, made.what, made.source = quantity, what, source
        return made
