"""What a report is made of, whatever it is written as."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

DASHES = ((0.0, 0.0), (2.0, 1.0), (0.7, 0.7), (3.0, 1.0), (1.0, 2.0), (4.0, 2.0))  # mm, one a run
MOST_POINTS = 240


@dataclass(frozen=True, slots=True)
class Table:
    """heads and rows of text; widths in shares of the page."""

    heads: tuple[str, ...]
    widths: tuple[float, ...]
    rows: tuple[tuple[str, ...], ...]


@dataclass(frozen=True, slots=True)
class Trace:
    """Speed over time of a run."""

    name: str
    t_s: Sequence[float]
    speed: Sequence[float]


@dataclass(frozen=True, slots=True)
class Chapter:
    """A heading with sentences, a table, or traces under it."""

    title: str
    words: tuple[str, ...] = ()
    table: Table | None = None
    traces: tuple[Trace, ...] = ()
    unit: str = ""


@dataclass(frozen=True, slots=True)
class Attached:
    """A file inside the report, as it was."""

    name: str
    data: bytes


def thinned(trace: Trace) -> list[tuple[float, float]]:
    """(t, speed) of few enough points to draw."""
    step = max(1, len(trace.t_s) // MOST_POINTS)
    return list(zip(trace.t_s[::step], trace.speed[::step], strict=True))
