"""Stretches of speed or time, and the link that chokes each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class RibbonPart:
    """One stretch of road speed (or, along a run, of seconds) and the link that chokes it."""

    start: float
    end: float
    choke: str


def ribbon_of(
    along: Sequence[float], choke: Sequence[str], midway: bool = True
) -> tuple[RibbonPart, ...]:
    """Neighbouring rows of the same choke joined; parts meet half-way between rows, or at the later
    row where rows lie on the change itself."""
    out: list[RibbonPart] = []
    start = along[0]
    for i in range(1, len(along) + 1):
        if i == len(along) or choke[i] != choke[i - 1]:
            end = along[-1] if i == len(along) else along[i]
            if midway and i < len(along):
                end = 0.5 * (along[i - 1] + along[i])
            out.append(RibbonPart(start, end, choke[i - 1]))
            start = end
    return tuple(out)
