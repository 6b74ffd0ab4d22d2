"""Fill a room with round cells or with boxes, line by line, in every pattern and direction.

A pattern is a lattice of lines; along each line the free stretches are filled from one end. For a
plain box this gives the exact square and staggered counts; for outlines the lattice is tried at
several offsets. No pattern here is proved best: tests hold it against exact small cases and bounds.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import lru_cache

from ninebolt.core.match.lines import Kept, Lines, Row
from ninebolt.core.match.space import (
    HAIR_M,
    Box,
    Space,
    Span,
    box_problem,
    free_for_circle,
    free_for_strip,
    goes_across,
)

SQRT3_2 = math.sqrt(3.0) / 2.0
MOST = 20_000  # bodies in a bay; more, and their size cannot be meant
MOST_STARTS = 24  # of a staggered lattice along its rows
MOST_OFFSETS = 9  # of rows between their walls
Spot = tuple[float, float, float, int]  # x, y, z of the middle, and its place along its line
Trial = tuple[str, list[Row]]  # pattern, and where its lines run
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


def rows(
    lo: float, hi: float, size: float, step: float, marks: list[float] | None
) -> Iterator[list[float]]:
    """Heights of rows of bodies of a size, a step apart, between two walls. marks: middles of
    bodies that would touch something kept free; the rows are tried at several offsets and through
    each mark. None: from the lower wall only."""
    room = hi - lo - size
    if room < -10 * HAIR_M:
        return
    n = int((room + 10 * HAIR_M) / step) + 1
    slack = max(0.0, room - (n - 1) * step)
    offsets = [0.0]
    if marks is not None and slack > HAIR_M:
        offsets = [slack * share for share in (0.0, 1.0, 0.5, 0.25, 0.75)]
    offsets += [(m - lo - size / 2) % step for m in marks or () if lo < m < hi]
    for offset in list(dict.fromkeys(round(x, 7) for x in offsets))[:MOST_OFFSETS]:
        count = int((room - offset + 10 * HAIR_M) / step) + 1 if offset <= room + HAIR_M else 0
        if count > 0:
            yield [lo + size / 2 + offset + i * step for i in range(count)]


def _marks(space: Space, faces: str, size: float) -> list[float] | None:
    """Middles of bodies that touch a kept-free box up (y) or across (z); None where the room is the
    same all along that direction."""
    if faces == "y":
        spans = [(k.y0, k.y1) for k in space.keep_outs]
        same = space.is_box
    else:
        spans = [(k.z0, k.z1) for k in space.keep_outs if not goes_across(space, k)]
        same = not spans
    return None if same else [m for a, b in spans for m in (a - size / 2, b + size / 2)]


def across(space: Space, cell: Round) -> Iterator[Trial]:
    """Round cells standing across the bike: circles in the side view, rows along x."""
    d, p = cell.diameter_m, cell.pitch_m
    lo, hi = space.y_range
    lo, hi = lo + space.clear_m, hi - space.clear_m
    marks = _marks(space, "y", d)
    for ys in rows(lo, hi, d, p, marks):
        yield "square", [(y, _row(space, y, cell)) for y in ys]
    for ys in rows(lo, hi, d, p * SQRT3_2, marks):
        free = [free_for_circle(space, y, d / 2) for y in ys]
        for start in _starts(free, p, space.x_range[0]):
            yield (
                "staggered",
                [
                    (y, _on_lattice(f, start + (j % 2) * p / 2, p))
                    for j, (y, f) in enumerate(zip(ys, free, strict=True))
                ],
            )


def _starts(free: list[list[Span]], p: float, x0: float) -> list[float]:
    """Where a staggered lattice may begin, from x0, so that some row touches an end of a free
    stretch."""
    found = [
        (end - x0 - (j % 2) * p / 2) % p
        for j, spans in enumerate(free)
        for span in spans
        for end in span
    ]
    near = {round(s / p, 4): s for s in reversed(found)}
    return [x0 + near[k] for k in sorted(near)][:MOST_STARTS]


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
        first = math.ceil((a - start - HAIR_M) / pitch)
        last = math.floor((b - start + HAIR_M) / pitch)
        out += [start + i * pitch for i in range(first, last + 1)]
    return out


def lying(space: Space, cell: Round) -> Iterator[Trial]:
    """Round cells lying along x: circles seen from the front."""
    d, p, r = cell.diameter_m, cell.pitch_m, cell.diameter_m / 2
    (lo, hi), c = space.y_range, space.clear_m
    z_lo, z_hi = -space.half_z, space.half_z
    low, high = lo + c + r - 10 * HAIR_M, hi - c - r + 10 * HAIR_M
    up, side = _marks(space, "y", d), _marks(space, "z", d)
    first = (0,) if space.is_box else (0, 1)  # which rows stand further on
    for ys in rows(lo + c, hi - c, d, p, up):
        for zs in rows(z_lo, z_hi, d, p, side):
            yield "square", [(y, zs) for y in ys]
    two = [next(rows(z_lo + s, z_hi, d, p, None), []) for s in (0.0, p / 2)]
    for ys in rows(lo + c, hi - c, d, p * SQRT3_2, up):
        for k in first:
            yield "staggered", [(y, two[(j + k) % 2]) for j, y in enumerate(ys)]
    for zs in rows(z_lo, z_hi, d, p * SQRT3_2, side):
        for ys in rows(lo + c, hi - c, d, p, up):
            off = [y for y in (ys[0] - p / 2, *(y + p / 2 for y in ys)) if low <= y <= high]
            for k in first:
                even, odd = zs[k::2], zs[1 - k :: 2]
                yield "staggered", [*((y, even) for y in ys), *((y, odd) for y in off)]


def stacked(space: Space, size: tuple[float, float, float], pattern: str) -> Iterator[Trial]:
    """Boxes of one size along the bike, up and across, in rows along x."""
    _, b, c = size
    (lo, hi), clear = space.y_range, space.clear_m
    for ys in rows(lo + clear, hi - clear, b, b, _marks(space, "y", b)):
        for zs in rows(-space.half_z, space.half_z, c, c, _marks(space, "z", c)):
            yield pattern, [(y, zs) for y in ys]


def _lines_across(space: Space, cell: Round) -> Lines:
    """Lines across the bike: u up, v along."""
    partly = [k for k in space.keep_outs if not goes_across(space, k)]
    boxes = [Kept((k.y0, k.y1), (k.x0, k.x1), (k.z0, k.z1)) for k in partly]
    whole, r = (-space.half_z, space.half_z), cell.diameter_m / 2
    return Lines(lambda y: [whole], cell.length_m, r, r, True, boxes, centred=True)


def _lines_along(space: Space, size: tuple[float, float, float], circles: bool) -> Lines:
    """Lines along x: u up, v across."""
    boxes = [Kept((k.y0, k.y1), (k.z0, k.z1), (k.x0, k.x1)) for k in space.keep_outs]
    a, b, c = size
    return Lines(lambda y: free_for_strip(space, y, b / 2), a, b / 2, c / 2, circles, boxes)


@dataclass(frozen=True, slots=True)
class _Way:
    """One direction of the bodies in a room: the trials to make, the lines they run along, the size
    of a body as it lies, and how (u, v, along, number) becomes a spot."""

    axis: str
    size_m: tuple[float, float, float]
    trials: Iterator[Trial]
    lines: Lines
    spot: Callable[[Spot], Spot]

    def filled(self) -> Iterator[Filled]:
        """The fullest trial of each pattern."""
        most: dict[str, tuple[int, list[Row]]] = {}
        for pattern, rows_ in self.trials:
            best = most.get(pattern, (0, []))[0]
            count = self.lines.count(rows_, best)
            if count > best:
                most[pattern] = (count, rows_)
        for pattern, (_, rows_) in most.items():
            found = [
                self.spot((u, v, w, k))
                for u, vs in rows_
                for v in vs
                for w, k in self.lines.places(u, v)
            ]
            yield Filled(pattern, self.axis, self.size_m, tuple(found))


def _all_round(space: Space, cell: Round, axes: tuple[str, ...]) -> Iterator[_Way]:
    d, tall, turned = cell.diameter_m, cell.length_m, space.swapped()
    for room, spot in ((space, _across), (turned, _across_swapped)):
        if "width" in axes:
            lines = _lines_across(room, cell)
            yield _Way("width", (d, d, tall), across(room, cell), lines, spot)
    for axis, room, size, spot in (
        ("length", space, (tall, d, d), _along),
        ("height", turned, (d, tall, d), _along_swapped),
    ):
        if axis in axes:
            lines = _lines_along(room, (tall, d, d), True)
            yield _Way(axis, size, lying(room, cell), lines, spot)


def _all_blocks(space: Space, body: Block, turns: tuple[str, ...]) -> Iterator[_Way]:
    turned = space.swapped()
    for turn in turns:
        a, b, c = body.turned(turn)
        for pattern, room, size, spot in (
            ("rows", space, (a, b, c), _along),
            ("columns", turned, (b, a, c), _along_swapped),
        ):
            lines = _lines_along(room, size, False)
            yield _Way(turn, (a, b, c), stacked(room, size, pattern), lines, spot)


def _across(s: Spot) -> Spot:
    return s[1], s[0], s[2], s[3]


def _across_swapped(s: Spot) -> Spot:
    return s


def _along(s: Spot) -> Spot:
    return s[2], s[0], s[1], s[3]


def _along_swapped(s: Spot) -> Spot:
    return s[0], s[2], s[1], s[3]


NONE = Filled("", "width", (0.0, 0.0, 0.0), ())
ALL_AXES = tuple(AXES.values())


def too_small(space: Space, body: Round | Block) -> bool:
    """True where so many bodies would go in that their size cannot be meant."""
    (x0, x1), (y0, y1), (a, b, c) = space.x_range, space.y_range, body_sizes(body)
    return (x1 - x0) * (y1 - y0) * 2 * space.half_z > MOST * a * b * c


def _all_ways(space: Space, body: Round | Block, only: str) -> Iterator[_Way]:
    if min(body_sizes(body)) <= 0 or space.half_z <= 0 or len(space.corners) < 3:
        return iter(())
    if too_small(space, body):
        return iter(())
    if isinstance(body, Round):
        return _all_round(space, body, (only,) if only else ALL_AXES)
    return _all_blocks(space, body, (only,) if only else tuple(TURNS))


@lru_cache(maxsize=256)
def ways(space: Space, body: Round | Block, only: str = "") -> tuple[Filled, ...]:
    """The best filling of each pattern and direction, fullest first; at least one, maybe empty.

    only: one direction (or turn) instead of all.
    """
    best: dict[tuple[str, str], Filled] = {}
    for way in _all_ways(space, body, only):
        for f in way.filled():
            key = (f.pattern, f.axis)
            if key not in best or f.capacity > best[key].capacity:
                best[key] = f
    ranked = sorted(best.values(), key=lambda f: -f.capacity)
    return tuple(ranked) or (NONE,)


@lru_cache(maxsize=256)
def most(space: Space, body: Round | Block) -> int:
    """How many bodies the fullest of all ways holds: the same as ways(...)[0].capacity, sooner."""
    best = 0
    for way in _all_ways(space, body, ""):
        for _, rows_ in way.trials:
            best = max(best, way.lines.count(rows_, best))
    return best


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
    if not plain.spots:
        return plain, places[0]
    # A box may go in another way round once the guest is seated; cells stay as they lie.
    only = plain.axis if isinstance(body, Round) else ""
    tried = [(ways(space.without(box), body, only)[0], box) for box in places[:4]]
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


SAMPLES = 16  # heights looked through beside those where an edge of the body meets a corner
FINE_M = 1e-5


def goes_in(space: Space, size: tuple[float, float, float]) -> float | None:
    """A height at which a box of this size (along, up, across) stands free of outline, side walls
    and what must stay free; None if there is none."""
    a, b, w = size
    (lo, hi), c = space.y_range, space.clear_m
    first, last = lo + c + b / 2, hi - c - b / 2
    if w > 2 * space.half_z + HAIR_M or last < first - HAIR_M:
        return None
    corners = [y for _, y in space.corners] + [y for k in space.keep_outs for y in (k.y0, k.y1)]
    places_across = _places_across(space, w)
    tries = [first + (last - first) * i / SAMPLES for i in range(SAMPLES + 1)]
    tries += [y + d for y in corners for d in (b / 2 + c, -b / 2 - c, b / 2, -b / 2)]
    for y in sorted(tries, key=lambda y: abs(y - 0.5 * (first + last))):
        if first - HAIR_M <= y <= last + HAIR_M:
            held = min(max(y, first), max(last, first))
            spans = free_for_strip(space, held, b / 2)
            if any(_longest(space, spans, held, b, z, w) >= a - HAIR_M for z in places_across):
                return held
    return None


def _places_across(space: Space, width: float) -> list[float]:
    """Middles across the bike at which a body of this width may stand: against a wall, on the centre
    line, against something that must stay free."""
    most = max(space.half_z - width / 2, 0.0)
    beside_keep = [z for k in space.keep_outs for z in (k.z1 + width / 2, k.z0 - width / 2)]
    return [0.0, *(z for z in (-most, most, *beside_keep) if space.keep_outs and abs(z) <= most)]


def _longest(
    space: Space, spans: list[Span], y: float, high: float, z: float, width: float
) -> float:
    """Longest stretch along the bike that outline and what must stay free leave at a place."""
    best = 0.0
    for left, right in spans:
        at = left
        for k in sorted(space.keep_outs, key=lambda k: k.x0):
            over_y = min(k.y1, y + high / 2) - max(k.y0, y - high / 2)
            over_z = min(k.z1, z + width / 2) - max(k.z0, z - width / 2)
            if over_y > HAIR_M and over_z > HAIR_M and k.x1 > at and k.x0 < right:
                best = max(best, k.x0 - at)
                at = max(at, k.x1)
        best = max(best, right - at)
    return best


def slack(space: Space, body: Block) -> tuple[str, float, float]:
    """One box in the room: (turn, margin, place in y) with the largest margin (m): by so much it
    could be larger every way and still go in. Negative: by so much it is too large."""
    best = ("lwh", -math.inf, 0.0)
    for turn in TURNS:
        size = body.turned(turn)
        low, high = -min(size), 1.0
        if best[1] > low:
            low = best[1]
            if goes_in(space, _larger(size, low + FINE_M)) is None:
                continue
        while high - low > FINE_M:
            mid = 0.5 * (low + high)
            low, high = (
                (mid, high) if goes_in(space, _larger(size, mid)) is not None else (low, mid)
            )
        if low > best[1]:
            best = (turn, low, goes_in(space, _larger(size, low)) or 0.0)
    return best


def _larger(size: tuple[float, float, float], by: float) -> tuple[float, float, float]:
    a, b, c = (max(x + by, 1e-4) for x in size)
    return a, b, c
