"""Parallel groups put into bays: which body belongs to which group, what limits the count, where
groups of very different potential stand side by side, and bodies put down by hand."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ninebolt.core.match.fill import Block, Filled, Round, Spot, beside, most, ways
from ninebolt.core.match.space import Box, Space, box_problem

GROW_M = 0.010  # how much a bay is grown to see which size limits it
MOST_SIDES = 400


@dataclass(frozen=True, slots=True)
class Put:
    """One body in its place: middle (m from the bay's middle), series group (-1 = free place),
    layer counted along the bodies' own direction."""

    x_m: float
    y_m: float
    z_m: float
    group: int
    layer: int


@dataclass(frozen=True, slots=True)
class Growth:
    """What 10 mm more of one size would bring."""

    size: str
    more: int


@dataclass(frozen=True, slots=True)
class Bayful:
    """One bay, filled. capacity: places there are; taken: bodies put in."""

    filled: Filled
    guest: Box | None
    puts: tuple[Put, ...]
    capacity: int
    taken: int
    groups: tuple[int, int]
    growth: tuple[Growth, ...]


@dataclass(frozen=True, slots=True)
class Side:
    """Two neighbouring bodies of different groups, the steps of potential between them. ends: they
    meet end to end, in two layers."""

    bay: int
    a: Put
    b: Put
    steps: int
    ends: bool


def side_by_side(bays: Sequence[Bayful], least: int = 2) -> tuple[Side, ...]:
    """Neighbours at least so many groups apart, worst first."""
    out: list[Side] = []
    for number, bay in enumerate(bays):
        puts = [p for p in bay.puts if p.group >= 0]
        if len(puts) < 2:
            continue
        at = np.array([[p.x_m, p.y_m, p.z_m] for p in puts])
        group = np.array([p.group for p in puts])
        size = np.array(bay.filled.size_m)
        gap = np.abs(at[:, None, :] - at[None, :, :]) / size
        near = (gap.max(axis=2) <= 1.05) | (np.sqrt((gap**2).sum(axis=2)) <= 1.1)
        steps = np.abs(group[:, None] - group[None, :])
        for i, j in np.argwhere(np.triu(near & (steps >= least), 1)):
            apart = puts[i].layer != puts[j].layer
            out.append(Side(number, puts[i], puts[j], int(steps[i, j]), apart))
    return tuple(sorted(out, key=lambda s: (s.ends, -s.steps))[:MOST_SIDES])


@dataclass(frozen=True, slots=True)
class Layout:
    """All bays. split: groups that lie in more than one bay. short: bodies without a place."""

    bays: tuple[Bayful, ...]
    needed: int
    capacity: int
    whole_groups: int
    split: tuple[int, ...]
    short: int
    sides: tuple[Side, ...]


def _lines(values: list[float], size: float) -> dict[float, int]:
    """Each value -> number of its line; values nearer than 0.6 of a body share one (staggered)."""
    out: dict[float, int] = {}
    start, line = -math.inf, -1
    for v in sorted(set(values)):
        if v - start >= 0.6 * size:
            start, line = v, line + 1
        out[v] = line
    return out


def in_order(filled: Filled) -> tuple[list[Spot], list[int]]:
    """The spots in the order in which a hand would go through them, and the layer of each.

    Layer by layer, forth and back along the shorter side of the face: so neighbours in a layer are
    as few groups apart as they can be.
    """
    along = {"length": 0, "height": 1}.get(filled.axis, 2)  # boxes: layers across the bike
    faces = [i for i in (0, 1, 2) if i != along]
    at = [[round(s[i], 5) for s in filled.spots] for i in (0, 1, 2)]
    if not filled.spots:
        return [], []
    extent = [max(at[i]) - min(at[i]) for i in faces]
    slow, fast = faces if extent[0] >= extent[1] else faces[::-1]
    layers = _lines(at[along], filled.size_m[along])
    lines = _lines(at[slow], filled.size_m[slow])

    def key(i: int) -> tuple[float, ...]:
        line = lines[at[slow][i]]
        return (layers[at[along][i]], line, -at[fast][i] if line % 2 else at[fast][i], at[slow][i])

    order = sorted(range(len(filled.spots)), key=key)
    return [filled.spots[i] for i in order], [layers[at[along][i]] for i in order]


def growth(space: Space, body: Round | Block, now: int) -> tuple[Growth, ...]:
    """What 10 mm more of each size would bring, most first."""
    grown = {
        "length": space.grown(x_m=GROW_M),
        "height": space.grown(y_m=GROW_M),
        "width": space.grown(z_m=GROW_M),
    }
    rows = [Growth(k, most(g, body) - now) for k, g in grown.items()]
    return tuple(sorted(rows, key=lambda r: -r.more))


@lru_cache(maxsize=64)
def lay_out(
    spaces: tuple[Space, ...],
    body: Round | Block,
    groups: int,
    per_group: int,
    guest: Block | None = None,
) -> Layout:
    """Groups of per_group bodies each over the bays, whole in a bay where possible.

    guest: the BMS box; it goes into the bay where it costs the fewest groups.
    """
    filled = [ways(s, body)[0] for s in spaces]
    boxes: list[Box | None] = [None] * len(spaces)
    if guest is not None and spaces:
        _seat_guest(spaces, body, guest, per_group, filled, boxes)
    holds = [f.capacity // per_group for f in filled]
    counts = _share_out([f.capacity for f in filled], groups, per_group)
    bays, start, split = [], 0, set()
    for space, f, box, count in zip(spaces, filled, boxes, counts, strict=True):
        if start % per_group:
            split.add(start // per_group)
        puts = _put(f, start, count, per_group)
        first, last = start // per_group, -(-(start + count) // per_group)
        more = growth(space, body, ways(space, body)[0].capacity)
        bays.append(Bayful(f, box, puts, f.capacity, count, (first, last), more))
        start += count
    needed = groups * per_group
    return Layout(
        tuple(bays),
        needed,
        sum(f.capacity for f in filled),
        sum(holds),
        tuple(sorted(split)) if start < needed or split else (),
        needed - start,
        side_by_side(bays),
    )


def _seat_guest(
    spaces: tuple[Space, ...],
    body: Round | Block,
    guest: Block,
    per_group: int,
    filled: list[Filled],
    boxes: list[Box | None],
) -> None:
    tried = []
    for i, space in enumerate(spaces):
        f, box = beside(space, body, guest)
        if box is not None:
            lost = filled[i].capacity // per_group - f.capacity // per_group
            tried.append((lost, filled[i].capacity - f.capacity, i, f, box))
    if tried:
        _, _, i, f, box = min(tried, key=lambda t: t[:3])
        filled[i], boxes[i] = f, box


def _share_out(capacity: list[int], groups: int, per_group: int) -> list[int]:
    """Bodies into each bay: whole groups as long as they last, then what must be split."""
    whole, left = [], groups
    for c in capacity:
        n = min(left, c // per_group)
        whole.append(n * per_group)
        left -= n
    if left == 0:
        return whole
    out, need = [], groups * per_group
    for c in capacity:
        out.append(min(need, c))
        need -= out[-1]
    return out


def _put(filled: Filled, start: int, count: int, per_group: int) -> tuple[Put, ...]:
    spots, layers = in_order(filled)
    return tuple(
        Put(x, y, z, (start + i) // per_group if i < count else -1, layer)
        for i, ((x, y, z, _), layer) in enumerate(zip(spots, layers, strict=True))
    )


@dataclass(frozen=True, slots=True)
class Hit:
    """What a body put down by hand stands in, and how deep (m)."""

    what: str
    deep_m: float


def hits(
    space: Space, names: Sequence[str], own: Box, others: Sequence[tuple[str, Box]]
) -> tuple[Hit, ...]:
    """Collisions of one box with walls, kept-free boxes (by names) and other bodies."""
    out = []
    bare = Space(space.corners, space.width_m, space.clear_m)
    if (deep := box_problem(bare, own)) > 0.0:
        out.append(Hit("wall", deep))
    for name, box in (*zip(names, space.keep_outs, strict=True), *others):
        deep = own.overlap_m(box)
        if deep > 1e-5:
            out.append(Hit(name, deep))
    return tuple(out)


def block_spots(
    own: Box, cell: Round, counts: tuple[int, int, int], turn: str
) -> list[tuple[float, float, float]]:
    """Middles of the cells of a block put down by hand, in a square lattice about its middle."""
    lie = turn.index("l")
    middle = ((own.x0 + own.x1) / 2, (own.y0 + own.y1) / 2, (own.z0 + own.z1) / 2)
    axes = [
        [m + (k - (n - 1) / 2) * (cell.length_m if i == lie else cell.pitch_m) for k in range(n)]
        for i, (m, n) in enumerate(zip(middle, counts, strict=True))
    ]
    return [(x, y, z) for z in axes[2] for y in axes[1] for x in axes[0]]


def block_size(cell: Round, counts: tuple[int, int, int], turn: str) -> tuple[float, float, float]:
    """Sizes of a block of cells along the bike, up and across; the cells lie where turn has its
    l."""
    lie = turn.index("l")
    out = [
        n * cell.length_m if i == lie else (n - 1) * cell.pitch_m + cell.diameter_m
        for i, n in enumerate(counts)
    ]
    return out[0], out[1], out[2]


def options(capacities: Sequence[int], per_string: int, most_parallel: int) -> int:
    """Largest number of parallel units of a string that needs per_string groups, whole in bays."""
    best = 0
    for p in range(1, most_parallel + 1):
        if sum(c // p for c in capacities) >= per_string:
            best = p
    return best


def reach(spaces: Sequence[Space], body: Round | Block) -> list[int]:
    """Places in each bay."""
    return [ways(s, body)[0].capacity for s in spaces]


def creepage_m(volts: float) -> float:
    """Least way along a surface between bare parts at this voltage (m). IEC 60664-1, pollution
    degree 3 (a dirt bike), material group III, from memory; straight lines between the rows."""
    table = (
        (0.0, 1.0e-3),
        (50.0, 1.9e-3),
        (100.0, 2.2e-3),
        (125.0, 2.4e-3),
        (160.0, 2.5e-3),
        (200.0, 3.2e-3),
        (400.0, 6.3e-3),
        (1000.0, 16.0e-3),
    )
    for (v0, d0), (v1, d1) in zip(table, table[1:], strict=False):
        if volts <= v1:
            return d0 + (d1 - d0) * (volts - v0) / (v1 - v0)
    return table[-1][1] * volts / 1000.0


def ceiling(space: Space, body: Round | Block, area: float) -> float:
    """No filling holds more bodies: the room's volume over the least volume a body can take.

    Round cells fill at most pi / sqrt(12) of their section (Thue 1910)."""
    deep = max(space.half_z * 2, 0.0)
    if isinstance(body, Round):
        section = body.diameter_m**2 * math.sqrt(12.0) / 4.0
        return area * deep / (section * body.length_m)
    return area * deep / (body.length_m * body.width_m * body.height_m)
