"""What every bolt returns, and how figures are put together."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Any

from ninebolt.core.bike.facts import Bike
from ninebolt.core.finding import COMPUTED, Figure, Finding, Source, Term


@dataclass(frozen=True, slots=True)
class Result:
    """What a bolt computed. missing: paths without which its question has no answer. draw: what its
    workbench draws, made when it is looked at; a fact of its own."""

    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]
    missing: tuple[str, ...]
    draw: Callable[[Bike], Any]


def day_of(text: str) -> date | None:
    """A day as year, month, day; None where it is none."""
    try:
        return date.fromisoformat(text.strip())
    except ValueError:
        return None


def nothing(bike: Bike) -> None:
    """The drawing of a bolt that has none yet."""


def finite(x: float | None) -> float | None:
    """The number, None for none and for endless."""
    return None if x is None or not math.isfinite(x) else x


def figure(
    key: str,
    label: str,
    value: float | None,
    quantity: str,
    formula: str = "",
    *terms: Term,
    source: Source = COMPUTED,
) -> Figure:
    return Figure(key, label, finite(value), quantity, formula, terms, source)


def term(symbol: str, label: str, value: float | None, quantity: str, path: str = "") -> Term:
    return Term(symbol, label, finite(value), quantity, path)
