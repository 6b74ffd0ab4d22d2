"""Numbers of one part that must rise in a row: where they do not, one of them is misread."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ninebolt.core.bolts.register import Says
from ninebolt.core.finding import q
from ninebolt.core.value import Value


@dataclass(frozen=True, slots=True)
class Row:
    """Numbers of one quantity, each with its words, the least first. level: two of them may be the same."""

    quantity: str
    numbers: tuple[tuple[str, Value], ...]
    level: bool = True


def order_says(what: str, rows: Sequence[Row], at: str = "") -> Says | None:
    """A caution that names the pairs which stand the wrong way round; None where none does, or too few are known."""
    wrong = []
    for row in rows:
        known = [(words, x.amount) for words, x in row.numbers if x.amount is not None]
        for (low, a), (high, b) in zip(known, known[1:], strict=False):
            if a > b or (a == b and not row.level):
                wrong.append(f"{low} {q(a, row.quantity)}, {high} {q(b, row.quantity)}")
    if not wrong:
        return None
    return Says(
        "caution",
        f"What is written of the {what} contradicts itself",
        f"{'; '.join(wrong)}. One of the two is misread, in another unit, or of another part: read its label again, "
        "since every limit here hangs on it.",
        len(wrong),
        0,
        at=at,
    )
