"""The room of a bay: an outline in the side view with a width, and boxes that must stay free.

Coordinates in metres from the bay's middle: x forward, y up, z to the right. Everything here asks
one question: along a line through the room, which stretches are free?
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

Point = tuple[float, float]
Span = tuple[float, float]
HAIR_M = 1e-6  # how near counts as touching


@dataclass(frozen=True, slots=True)
class Box:
    """A box by its faces (m)."""

    x0: float
    x1: float
    y0: float
    y1: float
    z0: float
    z1: float

    def swapped(self) -> Box:
        return Box(self.y0, self.y1, self.x0, self.x1, self.z0, self.z1)

    def overlap_m(self, other: Box) -> float:
        """How deep two boxes stand in each other (m); 0 or less = apart."""
        return min(
            min(self.x1, other.x1) - max(self.x0, other.x0),
            min(self.y1, other.y1) - max(self.y0, other.y0),
            min(self.z1, other.z1) - max(self.z0, other.z0),
        )


@dataclass(frozen=True, slots=True)
class Space:
    """corners: the outline, in either sense. clear_m: distance kept from outline and side walls.
    width_m: across, wall to wall. keep_outs: kept free without a further distance."""

    corners: tuple[Point, ...]
    width_m: float
    clear_m: float
    keep_outs: tuple[Box, ...] = ()

    @property
    def half_z(self) -> float:
        """Free half width after the clearance."""
        return self.width_m / 2 - self.clear_m

    @property
    def x_range(self) -> Span:
        return min(p[0] for p in self.corners), max(p[0] for p in self.corners)

    @property
    def y_range(self) -> Span:
        return min(p[1] for p in self.corners), max(p[1] for p in self.corners)

    @property
    def edges(self) -> list[tuple[Point, Point]]:
        return list(zip(self.corners, (*self.corners[1:], self.corners[0]), strict=True))

    @property
    def is_box(self) -> bool:
        """A plain rectangle without anything to keep free."""
        return _rectangle_of(self.corners) is not None and not self.keep_outs

    def swapped(self) -> Space:
        """The same room with x and y exchanged."""
        corners = tuple((y, x) for x, y in self.corners)
        return replace(self, corners=corners, keep_outs=tuple(b.swapped() for b in self.keep_outs))

    def without(self, box: Box) -> Space:
        """The room with one more box to keep free."""
        return replace(self, keep_outs=(*self.keep_outs, box))

    def grown(self, x_m: float = 0.0, y_m: float = 0.0, z_m: float = 0.0) -> Space:
        """The room longer, higher or wider by so much; an outline is stretched about its middle."""
        (x0, x1), (y0, y1) = self.x_range, self.y_range
        kx, ky = 1 + x_m / (x1 - x0), 1 + y_m / (y1 - y0)
        mx, my = (x0 + x1) / 2, (y0 + y1) / 2
        corners = tuple((mx + (x - mx) * kx, my + (y - my) * ky) for x, y in self.corners)
        return replace(self, corners=corners, width_m=self.width_m + z_m)


def rectangle(length_m: float, height_m: float) -> tuple[Point, ...]:
    """Corners of a box in the side view."""
    a, b = length_m / 2, height_m / 2
    return ((-a, -b), (a, -b), (a, b), (-a, b))


def area_m2(corners: tuple[Point, ...]) -> float:
    """Area inside a simple outline, by the shoelace formula."""
    pairs = zip(corners, (*corners[1:], corners[0]), strict=True)
    return abs(sum(ax * by - bx * ay for (ax, ay), (bx, by) in pairs)) / 2


def crosses_itself(corners: tuple[Point, ...]) -> bool:
    """True if two edges that do not meet at a corner touch or cross, or the outline has no area."""
    n = len(corners)
    edges = [(corners[i], corners[(i + 1) % n]) for i in range(n)]
    if area_m2(corners) < 1e-9 or any(a == b for a, b in edges):
        return True
    for i in range(n):
        for j in range(i + 2, n):
            if (i, j) != (0, n - 1) and _cross(*edges[i], *edges[j]):
                return True
    return False


def _turn(a: Point, b: Point, c: Point) -> float:
    return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])


def _cross(a: Point, b: Point, c: Point, d: Point) -> bool:
    one, two = _turn(a, b, c) * _turn(a, b, d), _turn(c, d, a) * _turn(c, d, b)
    if one == two == 0.0:  # on one line
        lo, hi = sorted((a, b)), sorted((c, d))
        return lo[0] <= hi[1] and hi[0] <= lo[1]
    return one <= 0 and two <= 0


def holds(corners: tuple[Point, ...], x: float, y: float) -> bool:
    """Point inside the outline, by counting crossings of a ray."""
    inside = False
    for (ax, ay), (bx, by) in zip(corners, (*corners[1:], corners[0]), strict=True):
        if (ay > y) != (by > y) and x < ax + (bx - ax) * (y - ay) / (by - ay):
            inside = not inside
    return inside


@lru_cache(maxsize=65_536)  # the same outline is asked again with another box in it
def near_edge(edge: tuple[Point, Point], y: float, r: float) -> Span | None:
    """The x of all points at height y that lie within r of an edge; None if there are none."""
    (ax, ay), (bx, by) = edge
    parts: list[Span] = []
    for vx, vy in edge:
        h = r * r - (y - vy) ** 2
        if h > 0.0:
            parts.append((vx - math.sqrt(h), vx + math.sqrt(h)))
    length = math.hypot(bx - ax, by - ay)
    ux, uy = (bx - ax) / length, (by - ay) / length
    along = _linear(ux, (y - ay) * uy - ax * ux, 0.0, length)
    off = _linear(-uy, (y - ay) * ux + ax * uy, -r, r)
    if along and off:
        lo, hi = max(along[0], off[0]), min(along[1], off[1])
        if lo < hi:
            parts.append((lo, hi))
    return (min(p[0] for p in parts), max(p[1] for p in parts)) if parts else None


def _linear(k: float, m: float, lo: float, hi: float) -> Span | None:
    """The x with lo < k x + m < hi; None if there are none."""
    if abs(k) < 1e-12:
        return (-math.inf, math.inf) if lo < m < hi else None
    a, b = (lo - m) / k, (hi - m) / k
    return (a, b) if a < b else (b, a)


def _gaps(space: Space, blocked: list[Span], y: float) -> list[Span]:
    """Stretches between the blocked ones that lie inside the outline at height y."""
    out: list[Span] = []
    end = -math.inf
    for lo, hi in sorted(blocked):
        if lo > end and end > -math.inf and holds(space.corners, (lo + end) / 2, y):
            out.append((end, lo))
        end = max(end, hi)
    return out


def cut(spans: list[Span], blocked: list[Span]) -> list[Span]:
    """The stretches without the blocked parts."""
    for lo, hi in blocked:
        spans = [
            s
            for a, b in spans
            for s in ((a, min(b, lo)), (max(a, hi), b))
            if s[1] - s[0] > -HAIR_M and not (s[0] >= lo and s[1] <= hi)
        ]
    return spans


@lru_cache(maxsize=1024)
def _rectangle_of(corners: tuple[Point, ...]) -> tuple[float, float, float, float] | None:
    """x0, x1, y0, y1 of an outline that is an upright rectangle, else None."""
    x0, x1 = min(p[0] for p in corners), max(p[0] for p in corners)
    y0, y1 = min(p[1] for p in corners), max(p[1] for p in corners)
    square = len(corners) == 4 and set(corners) == {(x0, y0), (x1, y0), (x1, y1), (x0, y1)}
    return (x0, x1, y0, y1) if square else None


def _in_rectangle(
    corners: tuple[Point, ...], lo: float, hi: float, reach: float
) -> list[Span] | None:
    """Which x keep a distance from the walls of a rectangle over heights lo to hi; None for any
    other outline."""
    sides = _rectangle_of(corners)
    if sides is None:
        return None
    x0, x1, y0, y1 = sides
    if lo - y0 < reach or y1 - hi < reach or x1 - x0 < 2 * reach:
        return []
    return [(x0 + reach, x1 - reach)]


def free_for_circle(space: Space, y: float, r: float) -> list[Span]:
    """Where the middle of a circle of radius r may stand at height y, in x. Boxes to keep free that
    go all the way across are counted; the others are left to the caller."""
    reach = r + space.clear_m - HAIR_M
    boxes: list[Span] = []
    for b in space.keep_outs:
        off = max(b.y0 - y, 0.0, y - b.y1)
        if goes_across(space, b) and off < r - HAIR_M:
            ext = math.sqrt(r * r - off * off)
            boxes.append((b.x0 - ext, b.x1 + ext))
    plain = _in_rectangle(space.corners, y, y, reach)
    if plain is not None:
        return cut(plain, boxes)
    walls = [s for e in space.edges if (s := near_edge(e, y, reach)) is not None]
    return _gaps(space, [*walls, *boxes], y)


def goes_across(space: Space, b: Box) -> bool:
    return b.z0 <= -space.half_z + HAIR_M and b.z1 >= space.half_z - HAIR_M


def free_for_strip(space: Space, y: float, half_y: float) -> list[Span]:
    """Which x are free over the whole height of a strip about y, keeping the clearance."""
    c = max(space.clear_m, HAIR_M)
    lo, hi = y - half_y + 2 * HAIR_M, y + half_y - 2 * HAIR_M
    plain = _in_rectangle(space.corners, lo, hi, c - HAIR_M / 2)
    if plain is not None:
        return plain
    blocked = []
    for edge in space.edges:
        parts = [s for at in (lo, hi) if (s := near_edge(edge, at, c - HAIR_M / 2)) is not None]
        parts += [(vx - c, vx + c) for vx, vy in edge if lo < vy < hi]
        if not parts and (edge[0][1] - lo) * (edge[1][1] - lo) < 0:
            continue
        if parts:
            blocked.append((min(p[0] for p in parts), max(p[1] for p in parts)))
    return _gaps(space, blocked, y)


def box_problem(space: Space, box: Box) -> float:
    """How far a box stands in a wall or in something to keep free (m); 0 = it stands free."""
    deep = max(
        -(box.z0 + space.half_z),
        box.z1 - space.half_z,
        *(b.overlap_m(box) for b in space.keep_outs),
        0.0,
    )
    spans = free_for_strip(space, (box.y0 + box.y1) / 2, (box.y1 - box.y0) / 2)
    if not any(a <= box.x0 + 5 * HAIR_M and b >= box.x1 - 5 * HAIR_M for a, b in spans):
        deep = max(deep, _sunk_m(space, box))
    return deep if deep > 5 * HAIR_M else 0.0


SAMPLES = 12


def _sunk_m(space: Space, box: Box) -> float:
    """How far the rim of a box reaches past the clearance, at its worst point (m)."""
    steps = [i / SAMPLES for i in range(SAMPLES + 1)]
    xs = [box.x0 + (box.x1 - box.x0) * t for t in steps]
    ys = [box.y0 + (box.y1 - box.y0) * t for t in steps]
    rim = [(x, y) for x in xs for y in (box.y0, box.y1)] + [
        (x, y) for y in ys for x in (box.x0, box.x1)
    ]
    worst = 10 * HAIR_M
    for x, y in rim:
        off = min(_to_edge(x, y, e) for e in space.edges)
        worst = max(
            worst, space.clear_m - off if holds(space.corners, x, y) else space.clear_m + off
        )
    for x, y in space.corners:  # a corner that points into the box
        if box.x0 < x < box.x1 and box.y0 < y < box.y1:
            worst = max(worst, min(x - box.x0, box.x1 - x, y - box.y0, box.y1 - y))
    return worst


def _to_edge(x: float, y: float, edge: tuple[Point, Point]) -> float:
    (ax, ay), (bx, by) = edge
    long = (bx - ax) ** 2 + (by - ay) ** 2
    t = min(1.0, max(0.0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / long))
    return math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay))
