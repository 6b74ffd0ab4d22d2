"""Parallel lines through a room, and the bodies that go end to end along each."""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
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

    def count(self, rows: list[Row], past: int = -1) -> int:
        """Bodies along all the lines of these rows, the v of each in rising order. Once it is clear
        that they are not more than past, an upper bound that is not either is given instead."""
        for u, _ in rows:
            self._look(u)
        most = sum([len(vs) * len(self._plain[u]) for u, vs in rows])
        for u, vs in rows:
            if most <= past:
                break
            if self._near[u]:
                most -= len(vs) * len(self._plain[u]) - self._count_near(u, vs)
        return most

    def _count_near(self, u: float, vs: list[float]) -> int:
        """Bodies of a row near boxes: lines between two ends of boxes meet the same, so one of them
        speaks for all."""
        ends = sorted([e for k, reach in self._near[u] for e in (k.v[0] - reach, k.v[1] + reach)])
        total = i = 0
        while i < len(vs):
            at = bisect_left(ends, vs[i])
            if at < len(ends) and ends[at] == vs[i]:
                j = bisect_right(vs, vs[i], i)
            else:
                j = bisect_left(vs, ends[at], i) if at < len(ends) else len(vs)
            total += (j - i) * len(self._between(u, vs[i]))
            i = j
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
