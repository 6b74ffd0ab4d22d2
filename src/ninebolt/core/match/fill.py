"""Fill a room with round cells or with boxes, line by line, in every pattern and direction.

A pattern is a lattice of lines; along each line the free stretches are filled from one end. For a
plain box this gives the exact square and staggered counts; for outlines the lattice is tried at
several offsets. No pattern here is proved best: tests hold it against exact small cases and bounds.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from ninebolt.core.match.space import (
    HAIR_M,
    Box,
    Space,
    Span,
    box_problem,
    cut,
    free_for_circle,
    free_for_strip,
    goes_across,
)

SQRT3_2 = math.sqrt(3.0) / 2.0
MOST = 20_000
Spot = tuple[float, float, float, int]  # x, y, z of the middle, and its place along its line
AXES = {"x": "length", "y": "height", "z": "width"}
TURNS = {
    "lwh": (0, 1, 2),
    "lhw": (0, 2, 1),
    "wlh": (1, 0, 2),
    "whl": (1, 2, 0),
    "hlw": (2, 0, 1),
    "hwl": (2, 1, 0),
}


@dataclass(frozen=True, slots=True)
class Round:
    """A round cell; pitch: from middle to middle in a holder (m)."""

    diameter_m: float
    length_m: float
    pitch_m: float


@dataclass(frozen=True, slots=True)
class Block:
    """A box-shaped body: length, width, height (m)."""

    length_m: float
    width_m: float
    height_m: float

    def turned(self, turn: str) -> tuple[float, float, float]:
        """Its sizes along the bike, up and across."""
        own = (self.length_m, self.width_m, self.height_m)
        a, b, c = (own[i] for i in TURNS[turn])
        return a, b, c


@dataclass(frozen=True, slots=True)
class Filled:
    """One way to fill a room. axis: the bay's direction along which round cells lie, or the turn of
    boxes. size_m: of one body as it lies, along the bike, up and across."""

    pattern: str
    axis: str
    size_m: tuple[float, float, float]
    spots: tuple[Spot, ...]

    @property
    def capacity(self) -> int:
        return len(self.spots)


def along(spans: list[Span], size: float) -> list[tuple[float, int]]:
    """Middles of bodies of a size put end to end into free stretches, with their number."""
    out: list[tuple[float, int]] = []
    for a, b in spans:
        n = int((b - a + 10 * HAIR_M) / size)
        out += [(a + (i + 0.5) * size, len(out) + i) for i in range(max(n, 0))]
    return out


def rows(lo: float, hi: float, size: float, step: float, free: bool) -> Iterator[list[float]]:
    """Heights of rows of bodies of a size, a step apart, between two walls; with free, at several
    offsets, else from the lower wall."""
    room = hi - lo - size
    if room < -10 * HAIR_M:
        return
    n = int((room + 10 * HAIR_M) / step) + 1
    slack = max(0.0, room - (n - 1) * step)
    for share in (0.0, 1.0, 0.5, 0.25, 0.75) if free and slack > HAIR_M else (0.0,):
        yield [lo + size / 2 + slack * share + i * step for i in range(n)]


def across(space: Space, cell: Round) -> Iterator[tuple[str, list[Spot]]]:
    """Round cells standing across the bike: circles in the side view, rows along x."""
    d, p = cell.diameter_m, cell.pitch_m
    lo, hi = space.y_range
    lo, hi = lo + space.clear_m, hi - space.clear_m
    for ys in rows(lo, hi, d, p, not space.is_box):
        yield "square", _stood(space, cell, [(x, y) for y in ys for x in _row(space, y, cell)])
    for ys in rows(lo, hi, d, p * SQRT3_2, not space.is_box):
        free = [free_for_circle(space, y, d / 2) for y in ys]
        starts = {round((a - (j % 2) * p / 2) % p, 6) for j, f in enumerate(free) for a, _ in f}
        for start in sorted(starts)[:16]:
            points = [
                (x, y)
                for j, (y, f) in enumerate(zip(ys, free, strict=True))
                for x in _on_lattice(f, start + (j % 2) * p / 2, p)
            ]
            yield "staggered", _stood(space, cell, points)


def _row(space: Space, y: float, cell: Round) -> list[float]:
    out: list[float] = []
    for a, b in free_for_circle(space, y, cell.diameter_m / 2):
        a = max(a, out[-1] + cell.pitch_m) if out else a
        n = int((b - a + 10 * HAIR_M) / cell.pitch_m) + 1 if b > a - 10 * HAIR_M else 0
        out += [a + i * cell.pitch_m for i in range(n)]
    return out


def _on_lattice(spans: list[Span], start: float, pitch: float) -> list[float]:
    out: list[float] = []
    for a, b in spans:
        first = math.ceil((a - start) / pitch - 1e-5)
        last = math.floor((b - start) / pitch + 1e-5)
        out += [start + i * pitch for i in range(first, last + 1)]
    return out


def _stood(space: Space, cell: Round, points: list[tuple[float, float]]) -> list[Spot]:
    """Each point filled with cells end to end across the bike."""
    whole = [(-space.half_z, space.half_z)]
    partly = [b for b in space.keep_outs if not goes_across(space, b)]
    r = cell.diameter_m / 2
    plain = along(_centred(whole, cell.length_m), cell.length_m)
    out: list[Spot] = []
    for x, y in points:
        hit = [(b.z0, b.z1) for b in partly if _off(b, x, y) < r - HAIR_M]
        places = along(cut(list(whole), hit), cell.length_m) if hit else plain
        out += [(x, y, z, k) for z, k in places]
        if len(out) > MOST:
            break
    return out


def _centred(spans: list[Span], size: float) -> list[Span]:
    """Stretches shortened alike at both ends to whole bodies."""
    out = []
    for a, b in spans:
        used = int((b - a + 10 * HAIR_M) / size) * size
        out.append(((a + b - used) / 2, (a + b + used) / 2))
    return out


def _off(b: Box, x: float, y: float) -> float:
    return math.hypot(max(b.x0 - x, 0.0, x - b.x1), max(b.y0 - y, 0.0, y - b.y1))


def lying(space: Space, cell: Round) -> Iterator[tuple[str, list[Spot]]]:
    """Round cells lying along x: circles seen from the front, filled end to end along the bike."""
    d, p, r = cell.diameter_m, cell.pitch_m, cell.diameter_m / 2
    (lo, hi), c = space.y_range, space.clear_m
    z_lo, z_hi = -space.half_z, space.half_z
    spans: dict[float, list[Span]] = {}

    def fill(points: list[tuple[float, float]]) -> list[Spot]:
        out: list[Spot] = []
        for y, z in points:
            if y not in spans:
                spans[y] = free_for_strip(space, y, r)
            hit = [(b.x0, b.x1) for b in space.keep_outs if _off_front(b, y, z) < r - HAIR_M]
            places = along(cut(list(spans[y]), hit), cell.length_m)
            out += [(x, y, z, k) for x, k in places]
        return out

    free = not space.is_box
    for ys in rows(lo + c, hi - c, d, p, free):
        for zs in rows(z_lo, z_hi, d, p, False):
            yield "square", fill([(y, z) for y in ys for z in zs])
    for ys in rows(lo + c, hi - c, d, p * SQRT3_2, free):
        two = [next(rows(z_lo + s, z_hi, d, p, False), []) for s in (0.0, p / 2)]
        yield "staggered", fill([(y, z) for j, y in enumerate(ys) for z in two[j % 2]])
    for zs in rows(z_lo, z_hi, d, p * SQRT3_2, False):
        for ys in rows(lo + c, hi - c, d, p, free):
            off = [y + p / 2 for y in ys if y + p / 2 + r <= hi - c + 10 * HAIR_M]
            points = [(y, z) for j, z in enumerate(zs) for y in (off if j % 2 else ys)]
            yield "staggered", fill(points)


def _off_front(b: Box, y: float, z: float) -> float:
    return math.hypot(max(b.y0 - y, 0.0, y - b.y1), max(b.z0 - z, 0.0, z - b.z1))


def stacked(space: Space, size: tuple[float, float, float]) -> Iterator[list[Spot]]:
    """Boxes of one size along the bike, up and across, in rows along x."""
    a, b, c = size
    (lo, hi), clear = space.y_range, space.clear_m
    for ys in rows(lo + clear, hi - clear, b, b, not space.is_box):
        out: list[Spot] = []
        for y in ys:
            spans = free_for_strip(space, y, b / 2)
            for zs in rows(-space.half_z, space.half_z, c, c, False):
                for z in zs:
                    hit = [(k.x0, k.x1) for k in space.keep_outs if _meets(k, y, b, z, c)]
                    out += [(x, y, z, n) for x, n in along(cut(list(spans), hit), a)]
        yield out


def _meets(k: Box, y: float, b: float, z: float, c: float) -> bool:
    up = min(k.y1, y + b / 2) - max(k.y0, y - b / 2)
    side = min(k.z1, z + c / 2) - max(k.z0, z - c / 2)
    return up > HAIR_M and side > HAIR_M


def _back(spots: list[Spot]) -> tuple[Spot, ...]:
    return tuple((y, x, z, k) for x, y, z, k in spots)


def _all_round(space: Space, cell: Round, axes: tuple[str, ...]) -> Iterator[Filled]:
    d, tall = cell.diameter_m, cell.length_m
    turned = space.swapped()
    if "width" in axes:
        for pattern, spots in across(space, cell):
            yield Filled(pattern, "width", (d, d, tall), tuple(spots))
        for pattern, spots in across(turned, cell):
            yield Filled(pattern, "width", (d, d, tall), _back(spots))
    if "length" in axes:
        for pattern, spots in lying(space, cell):
            yield Filled(pattern, "length", (tall, d, d), tuple(spots))
    if "height" in axes:
        for pattern, spots in lying(turned, cell):
            yield Filled(pattern, "height", (d, tall, d), _back(spots))


def _all_blocks(space: Space, body: Block, turns: tuple[str, ...]) -> Iterator[Filled]:
    turned = space.swapped()
    for turn in turns:
        a, b, c = body.turned(turn)
        for spots in stacked(space, (a, b, c)):
            yield Filled("rows", turn, (a, b, c), tuple(spots))
        for spots in stacked(turned, (b, a, c)):
            yield Filled("columns", turn, (a, b, c), _back(spots))


NONE = Filled("", "width", (0.0, 0.0, 0.0), ())
ALL_AXES = tuple(AXES.values())


@lru_cache(maxsize=256)
def ways(space: Space, body: Round | Block, only: str = "") -> tuple[Filled, ...]:
    """The best filling of each pattern and direction, fullest first; at least one, maybe empty.

    only: one direction (or turn) instead of all.
    """
    best: dict[tuple[str, str], Filled] = {}
    if min(body_sizes(body)) <= 0 or space.half_z <= 0 or len(space.corners) < 3:
        return (NONE,)
    if isinstance(body, Round):
        made = _all_round(space, body, (only,) if only else ALL_AXES)
    else:
        made = _all_blocks(space, body, (only,) if only else tuple(TURNS))
    for f in made:
        key = (f.pattern, f.axis)
        if key not in best or f.capacity > best[key].capacity:
            best[key] = f
    ranked = sorted(best.values(), key=lambda f: -f.capacity)
    return tuple(ranked) or (NONE,)


def body_sizes(body: Round | Block) -> tuple[float, float, float]:
    if isinstance(body, Round):
        return body.diameter_m, body.diameter_m, body.length_m
    return body.length_m, body.width_m, body.height_m


@lru_cache(maxsize=64)
def beside(space: Space, body: Round | Block, guest: Block) -> tuple[Filled, Box | None]:
    """The fullest filling that leaves room for one guest box (the BMS), and where the guest goes;
    None if it goes nowhere. Places along the walls are tried, those that hit the fewest first."""
    plain = ways(space, body)[0]
    places = sorted(
        _guest_places(space, guest), key=lambda box: sum(_hits(box, s, plain) for s in plain.spots)
    )
    if not places:
        return plain, None
    tried = [(ways(space.without(box), body, plain.axis)[0], box) for box in places[:4]]
    return max(tried, key=lambda t: t[0].capacity)


def _hits(box: Box, spot: Spot, filled: Filled) -> bool:
    x, y, z, _ = spot
    a, b, c = (s / 2 for s in filled.size_m)
    return box.overlap_m(Box(x - a, x + a, y - b, y + b, z - c, z + c)) > HAIR_M


def _guest_places(space: Space, guest: Block) -> list[Box]:
    (lo, hi), c = space.y_range, space.clear_m
    out = []
    for turn in TURNS:
        a, b, w = guest.turned(turn)
        if w > 2 * space.half_z + HAIR_M:
            continue
        for y in (lo + c + b / 2, hi - c - b / 2, (lo + hi) / 2):
            for left, right in free_for_strip(space, y, b / 2):
                if right - left < a - 10 * HAIR_M:
                    continue
                for x in (left + a / 2, right - a / 2):
                    for z in {-space.half_z + w / 2, space.half_z - w / 2}:
                        box = Box(x - a / 2, x + a / 2, y - b / 2, y + b / 2, z - w / 2, z + w / 2)
                        if box_problem(space, box) == 0.0:
                            out.append(box)
    return out


def slack(space: Space, body: Block) -> tuple[str, float, float]:
    """One box in the room: (turn, margin, place in y) with the largest margin to the nearest wall
    (m). A negative margin says how much the room is too tight in that turn."""
    best = ("lwh", -math.inf, 0.0)
    (lo, hi), c = space.y_range, space.clear_m
    for turn in TURNS:
        a, b, w = body.turned(turn)
        side = 2 * space.half_z - w
        room_y = hi - lo - 2 * c - b
        for share in (0.5, 0.0, 0.25, 0.75, 1.0):
            y = lo + c + b / 2 + room_y * share
            spans = free_for_strip(space, y, b / 2) if room_y >= -10 * HAIR_M else []
            wide = max(
                (q - p for p, q in spans), default=space.x_range[1] - space.x_range[0] - 2 * c
            )
            margin = min(side, room_y, wide - a)
            if margin > best[1]:
                best = (turn, margin, y)
    return best
