"""What every bolt returns, and how figures are put together."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

from ninebolt.core.finding import COMPUTED, Figure, Finding, Source, Term


@dataclass(frozen=True, slots=True)
class Result:
    """What a bolt computed. missing: paths without which its question has no answer."""

    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]
    missing: tuple[str, ...]
    drawing: Any


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
