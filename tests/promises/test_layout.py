"""Layouts: never through a wall, never into each other; small ones exact, large ones near a bound.

Geometry is held against shapely, exact packings against scipy's integer solver.
"""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import Bounds, LinearConstraint, milp
from shapely.geometry import Point, Polygon, box

from ninebolt.core.match.fill import Block, Filled, Round, beside, slack, ways
from ninebolt.core.match.layout import (
    ceiling,
    creepage_m,
    hits,
    in_order,
    lay_out,
    options,
    side_by_side,
)
from ninebolt.core.match.space import (
    Box,
    Space,
    area_m2,
    box_problem,
    crosses_itself,
    holds,
    rectangle,
)

CELL = Round(0.0212, 0.0703, 0.0218)
HAIR = 3e-5

sizes = st.floats(0.06, 0.4)
corners = st.lists(
    st.tuples(st.floats(0.06, 0.2), st.floats(0, 2 * math.pi)), min_size=3, max_size=8
)


def star(rays: list[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
    """A simple outline: corners at rising angles about the middle."""
    angles = sorted({round(a, 2) for _, a in rays})
    return tuple(
        (r * math.cos(a), r * math.sin(a)) for (r, _), a in zip(rays, angles, strict=False)
    )


def faces(f: Filled, spot: tuple[float, float, float, int]) -> tuple[float, ...]:
    x, y, z, _ = spot
    a, b, c = (s / 2 for s in f.size_m)
    return x - a, x + a, y - b, y + b, z - c, z + c


def check_inside(space: Space, f: Filled, round_: bool) -> None:
    """Each body in the outline less the clearance, between the walls, out of what stays free."""
    room = Polygon(space.corners)
    for s in f.spots[:60]:
        x0, x1, y0, y1, z0, z1 = faces(f, s)
        upright = round_ and f.axis == "width"
        shape = Point(s[0], s[1]).buffer(f.size_m[0] / 2) if upright else box(x0, y0, x1, y1)
        assert room.buffer(HAIR).contains(shape)
        assert room.exterior.distance(shape) >= space.clear_m - HAIR
        assert min(z0 + space.half_z, space.half_z - z1) >= -HAIR
        for k in space.keep_outs:
            if upright and min(z1, k.z1) - max(z0, k.z0) > HAIR:
                assert box(k.x0, k.y0, k.x1, k.y1).distance(Point(s[0], s[1])) >= (
                    f.size_m[0] / 2 - HAIR
                )
            elif not round_:
                assert Box(x0, x1, y0, y1, z0, z1).overlap_m(k) <= HAIR


def check_apart(f: Filled, pitch: float | None) -> None:
    """Boxes do not overlap; round cells keep their pitch in their section, or meet end to end."""
    at = np.array([s[:3] for s in f.spots[:160]])
    if len(at) < 2:
        return
    gap = np.abs(at[:, None] - at[None])
    if pitch is None:
        inside = (gap < np.array(f.size_m) - HAIR).all(axis=2)
    else:
        along = {"length": 0, "height": 1, "width": 2}[f.axis]
        rest = [i for i in range(3) if i != along]
        near = np.hypot(gap[..., rest[0]], gap[..., rest[1]]) < pitch - HAIR
        inside = near & (gap[..., along] < f.size_m[along] - HAIR)
    np.fill_diagonal(inside, False)
    assert not inside.any()


@settings(max_examples=60)
@given(sizes, sizes, sizes, st.floats(0.014, 0.035), st.floats(0.05, 0.09), st.floats(0, 0.003))
def test_round_cells_in_a_box(
    length: float, height: float, width: float, d: float, tall: float, wall: float
) -> None:
    space = Space(rectangle(length, height), width, 0.004)
    for f in ways(space, Round(d, tall, d + wall)):
        check_inside(space, f, True)
        check_apart(f, d + wall)


@settings(max_examples=60)
@given(corners, sizes, st.floats(-0.1, 0.1), st.floats(-0.1, 0.1), st.floats(-0.1, 0.06))
def test_round_cells_in_an_outline_with_something_to_keep_free(
    rays: list[tuple[float, float]], width: float, x: float, y: float, z: float
) -> None:
    shape = star(rays)
    if len(shape) < 3 or crosses_itself(shape):
        return
    free = Box(x, x + 0.04, y, y + 0.03, z, z + 0.05)
    space = Space(shape, width, 0.003, (free,))
    for f in ways(space, CELL):
        check_inside(space, f, True)
        check_apart(f, CELL.pitch_m)


@settings(max_examples=60)
@given(corners, sizes, st.floats(0.02, 0.12), st.floats(0.02, 0.12), st.floats(0.01, 0.05))
def test_modules_in_an_outline(
    rays: list[tuple[float, float]], width: float, a: float, b: float, c: float
) -> None:
    shape = star(rays)
    if len(shape) < 3 or crosses_itself(shape):
        return
    space = Space(shape, width, 0.002, (Box(-0.02, 0.02, -0.02, 0.02, -0.5, 0.5),))
    for f in ways(space, Block(a, b, c))[:4]:
        check_inside(space, f, False)
        check_apart(f, None)


@pytest.mark.parametrize(("length", "height"), [(0.1, 0.1), (0.13, 0.09), (0.15, 0.12)])
def test_small_boxes_of_round_cells_are_as_full_as_any_lattice_of_two_patterns(
    length: float, height: float
) -> None:
    """One layer: the integer solver packs discs on a fine grid (largest set of middles at least a
    pitch apart). A lattice need not reach that; it must come within one cell here."""
    d = p = 0.03
    space = Space(rectangle(length, height), 0.0705, 0.0)
    step = 0.005
    xs = np.arange(-length / 2 + d / 2, length / 2 - d / 2 + 1e-9, step)
    ys = np.arange(-height / 2 + d / 2, height / 2 - d / 2 + 1e-9, step)
    points = list(itertools.product(xs, ys))
    pairs = [
        (i, j)
        for i, j in itertools.combinations(range(len(points)), 2)
        if math.dist(points[i], points[j]) < p - 1e-9
    ]
    rows = np.zeros((len(pairs), len(points)))
    for k, (i, j) in enumerate(pairs):
        rows[k, i] = rows[k, j] = 1
    best = milp(
        -np.ones(len(points)),
        constraints=LinearConstraint(rows, ub=1),
        integrality=np.ones(len(points)),
        bounds=Bounds(0, 1),
        options={"time_limit": 20},
    )
    got = ways(space, Round(d, 0.07, p))[0].capacity
    assert got >= round(-best.fun) - 1


@pytest.mark.parametrize("sides", [(4, 3, 2), (5, 5, 1), (2, 2, 2)])
def test_boxes_of_whole_modules_are_exact(sides: tuple[int, int, int]) -> None:
    """A room of exactly n x m x k modules holds n m k of them; 1 mm less in one size a row less."""
    a, b, c = 0.11, 0.07, 0.04
    n, m, k = sides
    exact = Space(rectangle(n * a, m * b), k * c, 0.0)
    assert ways(exact, Block(a, b, c), "lwh")[0].capacity == n * m * k
    tight = Space(rectangle(n * a - 0.001, m * b), k * c, 0.0)
    assert ways(tight, Block(a, b, c), "lwh")[0].capacity == (n - 1) * m * k


@settings(max_examples=40)
@given(sizes, sizes, sizes)
def test_no_filling_beats_the_volume(length: float, height: float, width: float) -> None:
    """Circles fill at most pi / sqrt(12) of a plane (Thue 1910); boxes at most all of a room. For
    large rooms the filling comes near: over 60 % of that bound."""
    space = Space(rectangle(length, height), width, 0.0)
    # The bound is for an endless plane; a margin of one radius all round makes it one for a box.
    wide = Space(rectangle(length + CELL.pitch_m, height + CELL.pitch_m), width + CELL.pitch_m, 0.0)
    best = ways(space, CELL)[0].capacity
    most = ceiling(wide, Round(CELL.pitch_m, CELL.length_m, CELL.pitch_m), area_m2(wide.corners))
    assert best <= most
    if min(length, height, width) > 0.25:
        own = ceiling(
            space, Round(CELL.pitch_m, CELL.length_m, CELL.pitch_m), area_m2(space.corners)
        )
        assert best >= 0.6 * own
    modules = ways(space, Block(0.15, 0.06, 0.014))[0].capacity
    assert modules <= ceiling(space, Block(0.15, 0.06, 0.014), area_m2(space.corners)) + 1e-9


def test_an_outline_never_holds_more_than_the_box_round_it() -> None:
    cut = ((-0.18, -0.13), (0.18, -0.13), (0.18, 0.05), (0.05, 0.14), (-0.18, 0.14))
    whole = Space(rectangle(0.36, 0.27), 0.245, 0.005)
    part = Space(cut, 0.245, 0.005)
    assert 0.8 * ways(whole, CELL)[0].capacity < ways(part, CELL)[0].capacity
    assert ways(part, CELL)[0].capacity < ways(whole, CELL)[0].capacity


def test_a_guest_box_stands_free_and_costs_cells() -> None:
    space = Space(rectangle(0.36, 0.27), 0.245, 0.005)
    filled, seat = beside(space, CELL, Block(0.2, 0.1, 0.025))
    assert seat is not None and box_problem(space, seat) == 0.0
    plain = ways(space, CELL)[0].capacity
    assert plain - 120 < filled.capacity < plain
    for s in filled.spots:
        x0, x1, y0, y1, z0, z1 = faces(filled, s)
        inner = 0.146  # a square inside the circle: less than the whole, enough to see a clash
        dx, dy = (x1 - x0) * inner, (y1 - y0) * inner
        own = Box(x0 + dx, x1 - dx, y0 + dy, y1 - dy, z0, z1)
        assert own.overlap_m(seat) <= HAIR
    assert beside(space, CELL, Block(0.5, 0.5, 0.5))[1] is None


def test_a_finished_pack_is_told_its_margin() -> None:
    """A box of 300 x 200 x 150 in a bay of 320 x 260 x 160 with 5 mm padding: 0 mm across if it
    stands as it is, but turned its tightest is the width."""
    space = Space(rectangle(0.32, 0.26), 0.16, 0.005)
    _, margin, _ = slack(space, Block(0.30, 0.15, 0.20))
    assert margin == pytest.approx(0.0, abs=2e-5)
    assert slack(space, Block(0.30, 0.15, 0.22))[1] == pytest.approx(0.0, abs=2e-5)
    assert slack(space, Block(0.35, 0.15, 0.20))[1] == pytest.approx(-0.04, abs=2e-5)


# Groups


@settings(max_examples=40)
@given(st.integers(2, 26), st.integers(1, 14), sizes, sizes)
def test_groups_are_whole_in_their_bay_where_they_can_be(
    series: int, parallel: int, a: float, b: float
) -> None:
    """No place used twice; groups of equal size; split only if whole groups do not all go in."""
    spaces = (Space(rectangle(a, b), 0.16, 0.004), Space(rectangle(b, a), 0.12, 0.004))
    made = lay_out(spaces, CELL, series, parallel)
    count: dict[int, int] = {}
    for bay in made.bays:
        assert len({(p.x_m, p.y_m, p.z_m) for p in bay.puts}) == len(bay.puts)
        for p in bay.puts:
            if p.group >= 0:
                count[p.group] = count.get(p.group, 0) + 1
    if made.short <= 0:
        assert count == {g: parallel for g in range(series)}
    if made.whole_groups >= series:
        assert made.split == () and made.short == 0
        for bay in made.bays:
            assert bay.taken % parallel == 0
    assert sum(count.values()) == made.needed - max(made.short, 0)


def test_neighbours_in_a_layer_are_few_groups_apart() -> None:
    """Going forth and back along the shorter side keeps neighbours near in potential: at most two
    rows of cells lie between them in the order of assembly."""
    space = (Space(rectangle(0.36, 0.2), 0.075, 0.002),)
    made = lay_out(space, CELL, 20, 6)
    flat = [s for s in side_by_side(made.bays, 1) if not s.ends]
    in_a_row = int(0.2 / CELL.pitch_m) + 1
    assert max(s.steps for s in flat) <= math.ceil(2 * in_a_row / 6) + 1


def test_the_order_visits_every_place_once() -> None:
    f = ways(Space(rectangle(0.3, 0.2), 0.15, 0.0), CELL)[0]
    spots, layers = in_order(f)
    assert sorted(spots) == sorted(f.spots) and set(layers) == {0, 1}


@given(st.lists(st.integers(0, 400), min_size=1, max_size=3), st.integers(1, 30))
def test_largest_parallel_count_by_trying_all(capacities: list[int], series: int) -> None:
    best = max((p for p in range(1, 401) if sum(c // p for c in capacities) >= series), default=0)
    assert options(capacities, series, 400) == best


# By hand


def test_collisions_name_what_is_hit_and_how_deep() -> None:
    space = Space(rectangle(0.3, 0.2), 0.1, 0.0, (Box(0.05, 0.15, -0.1, 0.1, -1, 1),))
    own = Box(-0.05, 0.06, -0.05, 0.05, -0.05, 0.05)
    found = hits(space, ["shock"], own, [("block 2", Box(-0.1, -0.04, 0, 0.05, -0.05, 0.05))])
    assert {h.what: round(h.deep_m, 4) for h in found} == {"shock": 0.01, "block 2": 0.01}
    out = Box(-0.16, -0.06, -0.05, 0.05, -0.05, 0.05)
    assert [h.what for h in hits(space, ["shock"], out, [])] == ["wall"]


@pytest.mark.parametrize(
    ("shape", "bad"),
    [
        (((0, 0), (1, 0), (1, 1), (0, 1)), False),
        (((0, 0), (1, 1), (1, 0), (0, 1)), True),
        (((0, 0), (1, 0), (2, 0)), True),
        (((0, 0), (1, 0), (1, 0), (0, 1)), True),
        (((0, 0), (2, 0), (2, 2), (1, 0.5), (0, 2)), False),
    ],
)
def test_outlines_that_cross_themselves(shape: tuple[tuple[float, float], ...], bad: bool) -> None:
    """The same answer as shapely's validity for shapes with an area."""
    assert crosses_itself(shape) is bad
    assert (
        not Polygon(shape).is_valid or Polygon(shape).area == 0 or len(set(shape)) < 4
    ) is bad or (len(shape) == 3)


@given(corners, st.floats(-0.3, 0.3), st.floats(-0.3, 0.3))
def test_inside_and_area_as_shapely_says(
    rays: list[tuple[float, float]], x: float, y: float
) -> None:
    shape = star(rays)
    if len(shape) < 3 or crosses_itself(shape):
        return
    room = Polygon(shape)
    if abs(room.exterior.distance(Point(x, y))) > 1e-9:
        assert holds(shape, x, y) == room.contains(Point(x, y))
    assert area_m2(shape) == pytest.approx(room.area, abs=1e-12)


def test_creepage_rises_with_voltage() -> None:
    """IEC 60664-1, pollution degree 3, material group III: 2.2 mm at 100 V, 3.2 mm at 200 V (from
    memory)."""
    assert creepage_m(100) == pytest.approx(2.2e-3) and creepage_m(200) == pytest.approx(3.2e-3)
    assert creepage_m(84) < creepage_m(96) < creepage_m(3000)


@pytest.mark.parametrize(
    "space",
    [
        Space(rectangle(0.3, 0.2), 0.008, 0.005),
        Space(rectangle(0.01, 0.01), 0.2, 0.002),
        Space(rectangle(0.3, 0.2), 0.1, 0.15),
    ],
)
def test_impossible_bays_hold_nothing_and_say_so(space: Space) -> None:
    made = lay_out((space,), CELL, 20, 4)
    assert made.capacity == 0 and made.short == 80 and made.bays[0].taken == 0
