"""The pack as bodies and bays: what the layout needs to know, read from the build."""

from __future__ import annotations

from ninebolt.core.build import Build
from ninebolt.core.match.fill import Block, Round
from ninebolt.core.match.space import Box, Space, crosses_itself, rectangle
from ninebolt.core.parts.frame import Bay, KeepOut
from ninebolt.core.parts.pack import Pack

WALL_M = 0.0005  # holder wall between round cells when no pitch is given. Common practice.
ALL_ACROSS_M = 1.0


def body_of(pack: Pack) -> Round | Block | None:
    """The pack's body: a round cell or a box; None while a size is unknown."""
    cell = pack.cell
    if cell.form == "cylindrical":
        d, tall = cell.diameter_m.amount, cell.length_m.amount
        if d is None or tall is None:
            return None
        return Round(d, tall, max(pack.pitch_m.or_else(d + WALL_M), d))
    sizes = (cell.length_m.amount, cell.width_m.amount, cell.height_m.amount)
    if any(s is None for s in sizes):
        return None
    a, b, c = (s or 0.0 for s in sizes)
    return Block(a, b, c)


def keep_box(k: KeepOut) -> Box | None:
    """The box to keep free; None while its length or height is unknown."""
    length, height = k.length_m.amount, k.height_m.amount
    if length is None or height is None:
        return None
    x, y, z = k.x_m.taken, k.y_m.taken, k.z_m.taken
    half = k.width_m.amount / 2 if k.width_m.amount is not None else ALL_ACROSS_M
    return Box(x - length / 2, x + length / 2, y - height / 2, y + height / 2, z - half, z + half)


def corners_of(bay: Bay) -> tuple[tuple[float, float], ...]:
    """Outline of a bay in the side view, from its middle; empty while unknown."""
    if bay.outline:
        return tuple((x, y) for x, y in bay.outline)
    length, height = bay.length_m.amount, bay.height_m.amount
    return rectangle(length, height) if length and height else ()


def space_of(bay: Bay) -> Space | None:
    """The room of a bay; None while a size is unknown or its outline crosses itself."""
    corners, width = corners_of(bay), bay.width_m.amount
    if not corners or width is None or (bay.outline and crosses_itself(corners)):
        return None
    boxes = tuple(b for k in bay.keep_outs if (b := keep_box(k)) is not None)
    return Space(corners, width, bay.padding_m.taken + bay.wall_m.taken, boxes)


def spaces_of(build: Build) -> tuple[tuple[int, Space], ...]:
    """(place in donor.bays, room) of each bay that is measured."""
    rooms = ((i, space_of(b)) for i, b in enumerate(build.donor.bays))
    return tuple((i, s) for i, s in rooms if s is not None)


def guest_of(build: Build, anywhere: bool = False) -> Block | None:
    """The BMS as a box, if its size is known and it is to go into the bay, or anywhere."""
    return bms_block(build) if anywhere or build.pack.bms_in_bay else None


def bms_block(build: Build) -> Block | None:
    """The BMS as a box, wherever it goes; None while a size is unknown."""
    bms = build.guard.bms
    sizes = (bms.length_m.amount, bms.width_m.amount, bms.height_m.amount)
    if any(s is None for s in sizes):
        return None
    a, b, c = (s or 0.0 for s in sizes)
    return Block(a, b, c)


def per_group(pack: Pack) -> int:
    """Bodies side by side in one step of the string."""
    return -(-(pack.parallel or 1) // pack.cell.body_parallel)


def steps_of(pack: Pack, series: int | None = None) -> int:
    """Steps of the string: bodies in series."""
    return -(-(series or pack.series or 1) // pack.cell.body_series)
