"""What the nine bolts share: the context of one assessment, and what a bolt returns."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Any, TypeVar

from ninebolt.core.bike.case import Assembled, assemble
from ninebolt.core.bike.mass import moved_kg
from ninebolt.core.bike.path import aux_load_w
from ninebolt.core.build import Build
from ninebolt.core.finding import COMPUTED, Figure, Finding, Fix, Severity, Source, Term
from ninebolt.core.logs.ride import RideReport
from ninebolt.core.parts.base import Part
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.headline import Performance, performance

P = TypeVar("P", bound=Part)


@dataclass(frozen=True, slots=True)
class Shelf:
    """Parts on offer, by kind: what a finding may propose by name. Not an input of any bolt."""

    kinds: dict[str, tuple[Part, ...]] = field(default_factory=dict)

    def of(self, kind: str, cls: type[P]) -> tuple[P, ...]:
        """The parts of a kind."""
        return tuple(p for p in self.kinds.get(kind, ()) if isinstance(p, cls))


EMPTY_SHELF = Shelf()


@dataclass
class Context:
    """Runs are dear, so bolts that look at the same case share it. ride: the chosen log, if any."""

    ride: RideReport | None = None
    shelf: Shelf = EMPTY_SHELF
    _done: dict[tuple[Any, ...], Performance] = field(default_factory=dict)

    def look(self, build: Build) -> tuple[Assembled, Performance | None]:
        """Assemble this (traced) build and give its performance, computed once per case."""
        made = assemble(build)
        if made.case is None:
            return made, None
        return made, self.of(made.case, build)

    def of(self, case: RunCase, build: Build) -> Performance:
        goal = build.goal
        key = (
            case,
            goal.to_speed_m_s.taken,
            goal.cruise_m_s.taken,
            aux_load_w(build),
            moved_kg(build),
        )
        if key not in self._done:
            mass = key[4] if not math.isnan(key[4]) else case.body.mass_kg
            self._done[key] = performance(case, key[1], key[2], key[3], mass)
        return self._done[key]


@dataclass(frozen=True, slots=True)
class Result:
    """What a bolt computed. missing: paths without which its question has no answer."""

    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]
    missing: tuple[str, ...]
    drawing: Any


class Notes:
    """Collects the findings of one bolt."""

    def __init__(self, bolt: str) -> None:
        self.bolt = bolt
        self.found: list[Finding] = []

    def add(
        self,
        severity: Severity,
        key: str,
        title: str,
        reason: str,
        source: Source,
        *,
        parts: tuple[str, ...] = (),
        measured: float | None = None,
        limit: float | None = None,
        quantity: str = "ratio",
        fixes: tuple[Fix, ...] = (),
    ) -> None:
        self.found.append(
            Finding(
                f"{self.bolt}.{key}",
                self.bolt,
                severity,
                title,
                reason,
                source,
                parts,
                _finite(measured),
                _finite(limit),
                quantity,
                fixes,
            )
        )

    def done(self) -> tuple[Finding, ...]:
        order = {"stop": 0, "caution": 1, "note": 2}
        return tuple(sorted(self.found, key=lambda f: order[f.severity]))


def _finite(x: float | None) -> float | None:
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
    return Figure(key, label, _finite(value), quantity, formula, terms, source)


def term(symbol: str, label: str, value: float | None, quantity: str, path: str = "") -> Term:
    return Term(symbol, label, _finite(value), quantity, path)
