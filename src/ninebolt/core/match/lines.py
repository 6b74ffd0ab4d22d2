"""Parallel lines through a room, and the bodies that go end to end along each."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

from ninebolt.core.match.space import HAIR_M, Span, cut

Place = tuple[float, int]  # middle of a body along its line, and its number there


@dataclass(frozen=True, slots=True)
class Kept:
    """A kept-free box as the lines see it: its stretch in u, in v and along them (m)."""

    u: Span
    v: Span
    along: Span


@dataclass
class Lines:
    """spans: free stretches of the line at u, boxes apart. size: of a body along the line. half_u,
    half_v: its half size across the line; round: a circle there, else a rectangle. alike: the
    stretches are the same for all u, and loose room is left alike at both ends. Each line at u is
    worked out once."""

    spans: Callable[[float], list[Span]]
    size: float
    half_u: float
    half_v: float
    round: bool
    boxes: list[Kept]
    alike: bool = False
    _free: dict[float, list[Span]] = field(default_factory=dict)
    _plain: dict[float, list[Place]] = field(default_factory=dict)
    _near: dict[float, list[tuple[Kept, float]]] = field(default_factory=dict)

    def places(self, u: float, v: float) -> list[Place]:
        """Bodies along the line at u, v."""
        key = 0.0 if self.alike else u
        if key not in self._free:
            free = self._free[key] = self.spans(key)
            self._plain[key] = along(_centred(free, self.size) if self.alike else free, self.size)
        if not self.boxes:
            return self._plain[key]
        if u not in self._near:
            near = [(k, _off(k.u, u)) for k in self.boxes]
            self._near[u] = [(k, off) for k, off in near if off < self.half_u - HAIR_M]
        hit = [k.along for k, off in self._near[u] if self._meets(off, _off(k.v, v))]
        return along(cut(list(self._free[key]), hit), self.size) if hit else self._plain[key]

    def count(self, points: list[tuple[float, float]]) -> int:
        """Bodies along all the lines at these points."""
        if self.alike and not self.boxes:
            return len(points) * len(self.places(0.0, 0.0))
        return sum(len(self.places(u, v)) for u, v in points)

    def _meets(self, off_u: float, off_v: float) -> bool:
        if self.round:
            return math.hypot(off_u, off_v) < self.half_u - HAIR_M
        return off_v < self.half_v - HAIR_M


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
