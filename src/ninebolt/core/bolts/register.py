"""The register of findings: one small function each, with its key, when it speaks, parts, source."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import TypeVar

from ninebolt.core.bike.facts import Bike
from ninebolt.core.build import Build
from ninebolt.core.codec import is_within, spec_in
from ninebolt.core.finding import PRACTICE, WEIGHT, Finding, Fix, Severity, Source


@dataclass(frozen=True, slots=True)
class Says:
    """What a check says; key, bolt, and what is left out here, come from the register. at: which of
    several places."""

    severity: Severity
    title: str
    reason: str
    measured: float | None = None
    limit: float | None = None
    quantity: str = "ratio"
    fixes: tuple[Fix, ...] = ()
    parts: tuple[str, ...] = ()
    source: Source | None = None
    at: str = ""


Said = Says | Iterable[Says] | None
F = TypeVar("F", bound=Callable[[Bike], Said])


@dataclass(frozen=True, slots=True)
class Check:
    """key: bolt.name. when: in which case it speaks, in words for the list of findings."""

    key: str
    bolt: str
    when: str
    parts: tuple[str, ...]
    source: Source
    ask: Callable[[Bike], Said]


CHECKS: dict[str, Check] = {}


def check(
    key: str, when: str, *, parts: Sequence[str] = (), source: Source = PRACTICE
) -> Callable[[F], F]:
    """Register a function that raises at most this finding (or several of it, one a place)."""

    def put(ask: F) -> F:
        assert key not in CHECKS, f"two findings are called {key}"
        CHECKS[key] = Check(key, key.split(".")[0], when, tuple(parts), source, ask)
        return ask

    return put


def judge(bolt: str, bike: Bike) -> tuple[Finding, ...]:
    """All findings of a bolt, weightiest first, else in the order of the register."""
    found = [f for c in CHECKS.values() if c.bolt == bolt for f in _asked(c, bike)]
    return tuple(sorted(found, key=lambda f: WEIGHT[f.severity]))


def _asked(c: Check, bike: Bike) -> list[Finding]:
    said = c.ask(bike)
    rows = [] if said is None else [said] if isinstance(said, Says) else list(said)
    return [_signed(c, x) for x in rows]


def _signed(c: Check, x: Says) -> Finding:
    return Finding(
        f"{c.key}.{x.at}" if x.at else c.key,
        c.bolt,
        x.severity,
        x.title,
        x.reason,
        x.source or c.source,
        x.parts or c.parts,
        _finite(x.measured),
        _finite(x.limit),
        x.quantity,
        tuple(f for f in x.fixes if _can_be(f)),
    )


def _can_be(fix: Fix) -> bool:
    """Whether a build can hold it: line amps of nothing are no setting, and no field goes past its ends."""
    return all(
        is_within(spec_in(Build, c.path), float(c.value["amount"]))
        for c in fix.changes
        if isinstance(c.value, dict) and isinstance(c.value.get("amount"), int | float)
    )


def _finite(x: float | None) -> float | None:
    return None if x is None or not math.isfinite(x) else float(x)
