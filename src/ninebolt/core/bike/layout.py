"""Pack: cells or modules in the bays to scale, by rule or by hand."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ninebolt.core.battery.pack import PackFacts, energy_between
from ninebolt.core.bike.cells import cell_curve, cell_empty_v, cell_full_v, cell_nominal_v
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bike.shape import (
    bms_block,
    body_of,
    corners_of,
    guest_of,
    keep_box,
    per_group,
    space_of,
    spaces_of,
    steps_of,
)
from ninebolt.core.build import Build
from ninebolt.core.match.fill import NONE, Block, Filled, Round
from ninebolt.core.match.layout import (
    Bayful,
    Growth,
    Hit,
    Layout,
    Put,
    Side,
    block_size,
    block_spots,
    hits,
    lay_out,
    options,
    reach,
    side_by_side,
)
from ninebolt.core.match.space import Box, Space
from ninebolt.core.parts.frame import Bay
from ninebolt.core.parts.pack import Placed

MOST_DRAWN = 3000
CLASSES_V = (60.0, 72.0, 84.0, 96.0)


@dataclass(frozen=True, slots=True)
class KeepFree:
    """A box to keep free, as drawn."""

    name: str
    kind: str
    box: Box


@dataclass(frozen=True, slots=True)
class HandBody:
    """A body put down by hand: its place in pack.placed, its faces, what it stands in."""

    index: int
    kind: str
    box: Box
    hits: tuple[Hit, ...]


@dataclass(frozen=True, slots=True)
class BayDrawing:
    """One bay: outline (m from its middle), width, what is in it. size_m: of one body as it
    lies."""

    index: int
    name: str
    corners: tuple[tuple[float, float], ...]
    width_m: float
    clear_m: float
    keep_free: tuple[KeepFree, ...]
    round: bool
    size_m: tuple[float, float, float]
    pattern: str
    axis: str
    layers: int
    puts: tuple[Put, ...]
    capacity: int
    taken: int
    guest: Box | None
    hand: tuple[HandBody, ...]
    growth: tuple[Growth, ...]


@dataclass(frozen=True, slots=True)
class Option:
    """The most parallel cells that go in at a number in series, and what that pack would be."""

    series: int
    parallel: int
    full_v: float
    nominal_v: float
    empty_v: float
    energy_wh: float
    capacity_ah: float
    cont_a: float | None


@dataclass(frozen=True, slots=True)
class Fitted:
    """The whole layout as drawn. split: groups that lie in two bays. sides: neighbours of very
    different potential, worst first."""

    bays: tuple[BayDrawing, ...]
    needed: int
    capacity: int
    by_hand: bool
    split: tuple[int, ...]
    short: int
    sides: tuple[Side, ...]
    options: tuple[Option, ...]


@fact
def fitted(bike: Bike) -> Fitted | None:
    """The layout of this build; None while no bay is measured or the body has no size."""
    build, facts = bike.build, pack_facts(bike)
    body, rooms = body_of(build.pack), spaces_of(build)
    if body is None or not rooms or not build.pack.series or not build.pack.parallel:
        return None
    spaces = tuple(s for _, s in rooms)
    bays = [build.donor.bays[i] for i, _ in rooms]
    by_hand = any(p.kind != "bms" for p in build.pack.placed)
    groups, each = steps_of(build.pack), per_group(build.pack)
    if by_hand:
        laid = _by_hand(build, [i for i, _ in rooms], spaces, body, groups, each)
    else:
        laid = lay_out(spaces, body, groups, each, guest_of(build))
    hand = _hand_bodies(build, body)
    drawn = tuple(
        _draw(i, bay, space, full, body, tuple(h for h in hand if h[0] == i))
        for (i, space), bay, full in zip(rooms, bays, laid.bays, strict=True)
    )
    return Fitted(
        drawn,
        laid.needed,
        laid.capacity,
        by_hand,
        laid.split,
        laid.short,
        laid.sides,
        options_of(
            build, reach(spaces, body) if by_hand else [b.capacity for b in laid.bays], facts
        ),
    )


def _draw(
    index: int,
    bay: Bay,
    space: Space,
    full: Bayful,
    body: Round | Block,
    hand: Sequence[tuple[int, HandBody]],
) -> BayDrawing:
    keep = tuple(
        KeepFree(k.name, k.kind, b) for k in bay.keep_outs if (b := keep_box(k)) is not None
    )
    return BayDrawing(
        index,
        bay.name or f"Bay {index + 1}",
        corners_of(bay),
        space.width_m,
        space.clear_m,
        keep,
        isinstance(body, Round),
        full.filled.size_m,
        full.filled.pattern,
        full.filled.axis,
        1 + max((p.layer for p in full.puts), default=-1),
        full.puts[:MOST_DRAWN],
        full.capacity,
        full.taken,
        full.guest,
        tuple(h for _, h in hand),
        full.growth,
    )


def options_of(
    build: Build, capacities: Sequence[int], facts: PackFacts | None
) -> tuple[Option, ...]:
    """At each voltage class and the build's own series count, the most in parallel that go in with
    their groups whole (C1). capacities: places in each bay, the BMS seated."""
    pack = build.pack
    if facts is None:
        return ()
    cell = pack.cell
    out = []
    for series in _series_wanted(build, cell_nominal_v(cell)):
        steps = steps_of(pack, series)
        most = options(capacities, steps, sum(capacities) // steps) * cell.body_parallel
        out.append(_option(build, series, most))
    return tuple(out)


def options_at_hand(build: Build) -> tuple[Option, ...]:
    """What a count of cells makes at each voltage class, every group whole (C1); no bay is needed.
    Empty while the count or the cell is unknown."""
    pack, count = build.pack, build.pack.cells_at_hand
    cell = pack.cell
    volts = cell_nominal_v(cell)
    if count is None or math.isnan(volts) or not cell.capacity_ah.known or not cell_curve(cell):
        return ()
    out = []
    for series in _series_wanted(build, volts):
        groups = series // cell.body_series
        out.append(_option(build, series, count // groups * cell.body_parallel))
    return tuple(o for o in out if o.parallel > 0)


def _series_wanted(build: Build, cell_v: float) -> list[int]:
    step = build.pack.cell.body_series
    wanted = {round(v / cell_v / step) * step for v in CLASSES_V}
    return sorted({s for s in wanted | {build.pack.series or 0} if 0 < s <= 200})


def _option(build: Build, series: int, parallel: int) -> Option:
    cell, ah = build.pack.cell, build.pack.cell.capacity_ah.or_else(0.0)
    cont = cell.i_cont_a.amount
    return Option(
        series,
        parallel,
        series * cell_full_v(cell),
        series * cell_nominal_v(cell),
        series * cell_empty_v(cell),
        series * parallel * energy_between(cell_curve(cell), ah),
        parallel * ah,
        None if cont is None else cont * parallel,
    )


# By hand


def placed_box(placed: Placed, body: Round | Block, bms: Block | None) -> Box | None:
    """Faces of a body put down by hand; None for a BMS without sizes."""
    if placed.kind == "bms":
        if bms is None:
            return None
        size = bms.turned(placed.turn)
    elif isinstance(body, Block):
        size = body.turned(placed.turn)
    else:
        counts = (placed.cols or 1, placed.rows or 1, placed.layers or 1)
        size = block_size(body, counts, placed.turn)
    x, y, z = placed.x_m.taken, placed.y_m.taken, placed.z_m.taken
    a, b, c = (s / 2 for s in size)
    return Box(x - a, x + a, y - b, y + b, z - c, z + c)


def _hand_bodies(build: Build, body: Round | Block) -> list[tuple[int, HandBody]]:
    """(bay, body) of all that was put down by hand, with collisions."""
    bms = bms_block(build)
    placed = [
        (i, (p.bay or 1) - 1, p, box)
        for i, p in enumerate(build.pack.placed)
        if (box := placed_box(p, body, bms)) is not None
    ]
    out = []
    for i, bay, p, box in placed:
        if bay >= len(build.donor.bays) or (space := space_of(build.donor.bays[bay])) is None:
            continue
        names = [
            k.name or k.kind for k in build.donor.bays[bay].keep_outs if keep_box(k) is not None
        ]
        others = [(f"{o.kind} {j + 1}", b) for j, at, o, b in placed if j != i and at == bay]
        out.append((bay, HandBody(i, p.kind, box, hits(space, names, box, others))))
    return out


def _by_hand(
    build: Build,
    indices: Sequence[int],
    spaces: Sequence[Space],
    body: Round | Block,
    groups: int,
    each: int,
) -> Layout:
    """What was put down, in its order, as groups."""
    bays, start = [], 0
    for index in indices:
        spots: list[tuple[float, float, float, int]] = []
        size, axis = NONE.size_m, "width"
        for p in build.pack.placed:
            if p.kind == "bms" or (p.bay or 1) - 1 != index:
                continue
            box = placed_box(p, body, None)
            if box is None:
                continue
            if isinstance(body, Round):
                counts = (p.cols or 1, p.rows or 1, p.layers or 1)
                spots += [(x, y, z, 0) for x, y, z in block_spots(box, body, counts, p.turn)]
                lie = p.turn.index("l")
                size = tuple(body.length_m if i == lie else body.diameter_m for i in range(3))  # type: ignore[assignment]
                axis = ("length", "height", "width")[lie]
            else:
                spots.append(
                    ((box.x0 + box.x1) / 2, (box.y0 + box.y1) / 2, (box.z0 + box.z1) / 2, 0)
                )
                size, axis = body.turned(p.turn), p.turn
        taken = min(len(spots), groups * each - start)
        levels = {z: k for k, z in enumerate(sorted({round(s[2], 4) for s in spots}))}
        puts = tuple(
            Put(x, y, z, (start + i) // each if i < taken else -1, levels[round(z, 4)])
            for i, (x, y, z, _) in enumerate(spots)
        )
        filled = Filled("by hand", axis, size, tuple(spots))
        first, last = start // each, -(-(start + taken) // each)
        bays.append(Bayful(filled, None, puts, len(spots), taken, (first, last), ()))
        start += taken
    total = sum(b.capacity for b in bays)
    return Layout(
        tuple(bays),
        groups * each,
        total,
        total // each,
        (),
        groups * each - start,
        side_by_side(bays),
    )
