"""Findings, fixes, figures: how the core says what it judged and where a number comes from."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, Literal

from ninebolt.core.words import inside as inside
from ninebolt.core.words import listed as listed
from ninebolt.core.words import q as q

Severity = Literal["stop", "caution", "note"]
SourceKind = Literal["standard", "practice", "memory", "computed", "build"]
WEIGHT: dict[Severity, int] = {"stop": 0, "caution": 1, "note": 2}


@dataclass(frozen=True, slots=True)
class Source:
    """kind: published standard, common practice, from memory, computed here, or from the build."""

    kind: SourceKind
    text: str


PRACTICE = Source("practice", "common practice, no source")
COMPUTED = Source("computed", "computed from this build")
BUILD = Source("build", "ratings in this build")


@dataclass(frozen=True, slots=True)
class Change:
    """One replacement in the build's document."""

    path: str
    value: Any


@dataclass(frozen=True, slots=True)
class Fix:
    """A change to the build that can be applied in one press."""

    label: str
    changes: tuple[Change, ...]


@dataclass(frozen=True, slots=True)
class Finding:
    """One judgement. measured and limit are in the SI unit of quantity (a key of units)."""

    key: str
    bolt: str
    severity: Severity
    title: str
    reason: str
    source: Source
    parts: tuple[str, ...] = ()
    measured: float | None = None
    limit: float | None = None
    quantity: str = "ratio"
    fixes: tuple[Fix, ...] = ()

    @property
    def called(self) -> str:
        """Its title with its bolt, where several bolts are spoken of."""
        return f"{self.title} ({self.bolt})"


@dataclass(frozen=True, slots=True)
class Term:
    """One input of a figure's working."""

    symbol: str
    label: str
    value: float | None
    quantity: str
    path: str = ""


@dataclass(frozen=True, slots=True)
class Figure:
    """A number that opens to its working."""

    key: str
    label: str
    value: float | None
    quantity: str
    formula: str = ""
    terms: tuple[Term, ...] = ()
    source: Source = COMPUTED


def setting(path: str, amount: float, origin: str = "guess", tolerance: float = 0.0) -> Change:
    """Set a Value field to a chosen number; a choice has no tolerance."""
    return Change(path, {"amount": round(amount, 6), "origin": origin, "tolerance": tolerance})


REGEN_OFF = Fix("Regeneration off", (setting("tune.regen_pct", 0.0),))
CAP_OFF = Fix("No speed cap", (Change("tune.cap_m_s", None),))


def set_line_amps(amps: float) -> Fix:
    """Cap the controller's line amps at a limit, to the whole ampere below it."""
    whole = math.floor(amps)
    return Fix(f"Set line amps to {whole} A", (setting("drive.controller.line_a", whole),))
