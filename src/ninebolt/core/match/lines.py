"""Parallel lines through a room, and the bodies that go end to end along each."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

from ninebolt.core.match.space import HAIR_M, Span, cut

Place = tuple[float, int]  # middle of a body along its line, and its number there
Row = tuple[float, list[float]]  # lines side by side: their common u, and the v of each


@dataclass(frozen=True, slots=True)
class Kept:
    """A kept-free box as the lines see it: its stretch in u, in v and along them (m)."""

    u: Span
    v: Span
    along: Span


@dataclass
class Lines:
    """spans: free stretches of the lines at u, boxes apart. size: of a body along the line. half_u,
    half_v: its half size across the line; round: a circle there, else a rectangle. centred: loose
    room is left alike at both ends. Each u is worked out once."""

    spans: Callable[[float], list[Span]]
    size: float
    half_u: float
    half_v: float
    round: bool
    boxes: list[Kept]
    centred: bool = False
    _free: dict[float, list[Span]] = field(default_factory=dict)
    _plain: dict[float, list[Place]] = field(default_factory=dict)
    _near: dict[float, list[tuple[Kept, float]]] = field(default_factory=dict)
    _cut: dict[tuple[float, tuple[Span, ...]], list[Place]] = field(default_factory=dict)

    def places(self, u: float, v: float) -> list[Place]:
        """Bodies along the line at u, v."""
        self._look(u)
        return self._between(u, v) if self._near[u] else self._plain[u]

    def _between(self, u: float, v: float) -> list[Place]:
        """Bodies between the boxes that this line meets; lines that meet the same are alike."""
        met = [k for k, reach in self._near[u] if k.v[0] - v < reach and v - k.v[1] < reach]
        if not met:
            return self._plain[u]
        key = (u, tuple(k.along for k in met))
        if key not in self._cut:
            self._cut[key] = along(cut(list(self._free[u]), list(key[1])), self.size)
        return self._cut[key]

    def count(self, rows: list[Row]) -> int:
        """Bodies along all the lines of these rows."""
        total = 0
        for u, vs in rows:
            self._look(u)
            if self._near[u]:
                total += sum([len(self._between(u, v)) for v in vs])
            else:
                total += len(vs) * len(self._plain[u])
        return total

    def _look(self, u: float) -> None:
        """Free stretches at u, the bodies where no box is in the way, and the boxes that are near,
        each with how near in v it stops a body."""
        if u in self._plain:
            return
        free = self._free[u] = self.spans(u)
        self._near[u] = [
            (k, self._reach(off))
            for k in self.boxes
            if (off := _off(k.u, u)) < self.half_u - HAIR_M
        ]
        self._plain[u] = along(_centred(free, self.size) if self.centred else free, self.size)

    def _reach(self, off_u: float) -> float:
        if not self.round:
            return self.half_v - HAIR_M
        return math.sqrt(max(0.0, (self.half_u - HAIR_M) ** 2 - off_u**2))


def along(spans: list[Span], size: float) -> list[Place]:
    """Middles of bodies of a size put end to end into free stretches, with their number."""
    out: list[Place] = []
    for a, b in spans:
        n = int((b - a + 10 * HAIR_M) / size)
        out += [(a + (i + 0.5) * size, len(out) + i) for i in range(max(n, 0))]
    return out


def _centred(spans: list[Span], size: float) -> list[Span]:
    """Stretches shortened alike at both ends to whole bodies."""
    out = []
    for a, b in spans:
        used = int((b - a + 10 * HAIR_M) / size) * size
        out.append(((a + b - used) / 2, (a + b + used) / 2))
    return out


def _off(span: Span, at: float) -> float:
    return max(span[0] - at, 0.0, at - span[1])
