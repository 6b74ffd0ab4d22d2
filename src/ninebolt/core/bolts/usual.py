"""Numbers that a field takes and no part has: a slip of a digit, or another unit."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ninebolt.core.bolts.register import Says
from ninebolt.core.finding import q
from ninebolt.core.limits import Limit
from ninebolt.core.value import UNKNOWN, Value


@dataclass(frozen=True, slots=True)
class Usual:
    """least, most: between which every part of this kind lies that can be bought. A value that is assumed is not asked
    about."""

    key: str
    words: str
    value: Value
    least: Limit
    most: Limit


def span(quantity: str, least: float, most: float, what: str) -> tuple[Limit, Limit]:
    """Both ends as limits, from common practice."""
    return Limit(least, quantity, f"{what}, least"), Limit(most, quantity, f"{what}, most")


def over(a: Value, b: Value) -> Value:
    """a / b; unknown where either is, or where b is 0."""
    if a.amount is None or not b.amount:
        return UNKNOWN
    return Value(a.amount / b.amount)


def unusual_says(rows: Sequence[Usual]) -> Iterator[Says]:
    """A caution for each number that lies outside."""
    for r in rows:
        amount = r.value.amount
        if amount is None or r.least <= amount <= r.most:
            continue
        kind = r.least.quantity
        yield Says(
            "caution",
            f"{r.words} is unlike any",
            f"{q(amount, kind)}; from {q(r.least, kind)} to {q(r.most, kind)} is what there is. A slip of a digit, or "
            "another unit: look at where the number came from, since all that is computed hangs on it.",
            amount,
            float(r.least if amount < r.least else r.most),
            kind,
            at=r.key,
        )
