"""What must not change a count, what must not lower it, and staggered rows counted by hand."""

from __future__ import annotations

import json
import math
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ninebolt.core.match.fill import Block, Round, most, ways
from ninebolt.core.match.layout import lay_out
from ninebolt.core.match.lines import Kept, Lines, along
from ninebolt.core.match.space import Box, Point, Space, box_problem, cut, rectangle

CELL = Round(0.0212, 0.0703, 0.0218)
sides = st.floats(0.09, 0.42)
clears = st.floats(0, 0.004)
blocks = st.builds(Block, st.floats(0.08, 0.2), st.floats(0.05, 0.12), st.floats(0.03, 0.06))
bodies = st.one_of(st.just(CELL), blocks)
boxes = st.builds(lambda a, b, w, c: Space(rectangle(a, b), w, c), sides, sides, sides, clears)


def star(rays: list[tuple[float, float]]) -> tuple[Point, ...]:
    """Corners at rising angles about the middle."""
    angles = sorted({round(a, 2) for _, a in rays})
    pairs = zip(rays, angles, strict=False)
    return tuple((r * math.cos(a), r * math.sin(a)) for (r, _), a in pairs)


rays = st.lists(
    st.tuples(st.floats(0.1, 0.24), st.floats(0, 2 * math.pi)),
    min_size=4,
    max_size=7,
    unique_by=lambda ray: round(ray[1], 1),
)
outlines = st.builds(lambda r, w, c: Space(star(r), w, c), rays, st.floats(0.09, 0.25), clears)
rooms = st.one_of(boxes, outlines)


def room_for(space: Space, body: Round | Block) -> int:
    return ways(space, body)[0].capacity


def mirrored(space: Space, x: float, y: float) -> Space:
    """The room with x or y turned about (-1), or moved as it is (+1)."""
    turned = tuple(
        Box(*sorted((x * k.x0, x * k.x1)), *sorted((y * k.y0, y * k.y1)), k.z0, k.z1)
        for k in space.keep_outs
    )
    return replace(space, corners=tuple((x * a, y * b) for a, b in space.corners), keep_outs=turned)


def moved(space: Space, dx: float, dy: float) -> Space:
    kept = tuple(
        Box(k.x0 + dx, k.x1 + dx, k.y0 + dy, k.y1 + dy, k.z0, k.z1) for k in space.keep_outs
    )
    return replace(space, corners=tuple((a + dx, b + dy) for a, b in space.corners), keep_outs=kept)


@settings(max_examples=150)
@given(sides, sides, sides, clears, st.floats(0.018, 0.034), st.floats(0, 0.002))
def test_staggered_rows_in_a_box_by_hand(
    length: float, height: float, width: float, clear: float, d: float, gap: float
) -> None:
    """Rows p sqrt(3)/2 apart, every second one half a pitch on: counted with whole numbers."""
    pitch, tall, hair = d + gap, 0.0703, 1e-5
    space = Space(rectangle(length, height), width, clear)
    deep = math.floor((width - 2 * clear + hair) / tall)

    def count(a: float, b: float) -> int:
        a, b = a - 2 * clear - d + hair, b - 2 * clear - d + hair
        if min(a, b) < 0:
            return 0
        lines = math.floor(b / (pitch * math.sqrt(3) / 2)) + 1
        full = math.floor(a / pitch) + 1
        short = math.floor((a - pitch / 2) / pitch) + 1 if a >= pitch / 2 else 0
        return (-(-lines // 2) * full + lines // 2 * short) * deep

    got = [w for w in ways(space, Round(d, tall, pitch)) if w.axis == "width"]
    most = max((w.capacity for w in got if w.pattern == "staggered"), default=0)
    assert most == max(count(length, height), count(height, length))


@settings(max_examples=40)
@given(rooms, bodies)
def test_a_turned_or_moved_room_holds_as_many(space: Space, body: Round | Block) -> None:
    n = room_for(space, body)
    assert room_for(mirrored(space, -1, 1), body) == n
    assert room_for(mirrored(space, 1, -1), body) == n
    assert room_for(space.swapped(), body) == n
    assert room_for(moved(space, 0.137, -0.211), body) == n


@settings(max_examples=30)
@given(rooms, bodies, st.integers(1, 3))
def test_how_the_corners_are_written_does_not_matter(
    space: Space, body: Round | Block, first: int
) -> None:
    n, c = room_for(space, body), space.corners
    assert room_for(replace(space, corners=c[::-1]), body) == n
    assert room_for(replace(space, corners=c[first:] + c[:first]), body) == n


@settings(max_examples=60)
@given(boxes, bodies, st.floats(0.001, 0.05))
def test_a_larger_box_never_holds_fewer(space: Space, body: Round | Block, more: float) -> None:
    n = room_for(space, body)
    assert room_for(space.grown(x_m=more), body) >= n
    assert room_for(space.grown(y_m=more), body) >= n
    assert room_for(space.grown(z_m=more), body) >= n
    assert room_for(replace(space, clear_m=space.clear_m / 2), body) >= n


@settings(max_examples=40)
@given(rooms, bodies, st.floats(0.001, 0.05))
def test_a_wider_room_never_holds_fewer(space: Space, body: Round | Block, more: float) -> None:
    assert room_for(space.grown(z_m=more), body) >= room_for(space, body)


kept = st.builds(
    lambda x, y, a, b, half: Box(x, x + a, y, y + b, -0.3, 0.0 if half else 0.3),
    st.floats(-0.15, 0.1),
    st.floats(-0.15, 0.1),
    st.floats(0.02, 0.1),
    st.floats(0.02, 0.1),
    st.booleans(),
)


@settings(max_examples=30)
@given(boxes, bodies, kept)
def test_something_kept_free_never_adds_room(space: Space, body: Round | Block, k: Box) -> None:
    assert room_for(space.without(k), body) <= room_for(space, body)


@settings(max_examples=14)
@given(boxes, kept)
def test_with_something_kept_free_a_mirrored_room_holds_nearly_as_many(
    space: Space, k: Box
) -> None:
    """The lattices are tried from a handful of places, so a few cells may differ: 3 %."""
    room = space.without(k)
    n = room_for(room, CELL)
    for other in (mirrored(room, -1, 1), mirrored(room, 1, -1), moved(room, 0.1, 0.07)):
        assert abs(room_for(other, CELL) - n) <= max(2, 0.03 * n)


@settings(max_examples=40)
@given(boxes, st.integers(1, 30), st.integers(1, 12))
def test_what_is_placed_and_what_is_short_add_up(space: Space, groups: int, each: int) -> None:
    laid = lay_out((space,), CELL, groups, each)
    placed = [p.group for b in laid.bays for p in b.puts if p.group >= 0]
    assert len(placed) + laid.short == groups * each == laid.needed
    assert laid.capacity == room_for(space, CELL)
    full = [placed.count(g) for g in range(groups)]
    assert all(n <= each for n in full)
    assert sum(n == each for n in full) == len(placed) // each


@settings(max_examples=30)
@given(boxes, boxes, st.integers(2, 8))
def test_two_bays_hold_what_each_of_them_holds(a: Space, b: Space, each: int) -> None:
    one, two, both = (lay_out(s, CELL, 4, each) for s in ((a,), (b,), (a, b)))
    assert both.capacity == one.capacity + two.capacity
    assert both.whole_groups == one.whole_groups + two.whole_groups
    assert both.short <= min(one.short, two.short)


# A box put down by hand

FITS = json.loads((Path(__file__).parents[1] / "references/fits.json").read_text())["cases"]


@pytest.mark.parametrize("case", FITS, ids=[str(i) for i in range(len(FITS))])
def test_a_box_stands_free_where_shapely_says(case: dict[str, Any]) -> None:
    """120 outlines with corners that point inward; the page's own geometry is held against the
    same. tests/references/make_fits.py"""
    x0, x1, y0, y1 = case["faces"]
    space = Space(tuple((a, b) for a, b in case["corners"]), 0.2, case["clear"])
    deep = box_problem(space, Box(x0, x1, y0, y1, -0.05, 0.05))
    assert (deep == 0.0) is case["fits"]


# Lines through a room


def test_bodies_end_to_end_along_a_line() -> None:
    assert along([(0.0, 0.35), (0.4, 0.5)], 0.1) == [
        (pytest.approx(0.05), 0),
        (pytest.approx(0.15), 1),
        (pytest.approx(0.25), 2),
        (pytest.approx(0.45), 3),
    ]
    assert along([], 0.1) == [] and along([(0.0, 0.09)], 0.1) == []


def test_a_box_stops_a_round_body_by_its_corner_and_a_square_one_by_its_side() -> None:
    """A circle of 10 mm beside a corner 8 mm off in both: 11.3 mm away, so free; a square is
    not."""
    box = [Kept((0.0, 0.1), (0.0, 0.1), (0.4, 0.6))]
    for is_round, places in ((True, 10), (False, 8)):
        lines = Lines(lambda u: [(0.0, 1.0)], 0.1, 0.01, 0.01, is_round, box)
        assert len(lines.places(-0.008, -0.008)) == places
        assert len(lines.places(-0.008, 0.05)) == 8
        assert len(lines.places(-0.02, 0.05)) == 10
        assert lines.count([(-0.008, [-0.008]), (-0.02, [0.05])]) == places + 10


def test_centred_lines_leave_loose_room_at_both_ends() -> None:
    lines = Lines(lambda u: [(-0.5, 0.5)], 0.3, 0.01, 0.01, True, [], centred=True)
    assert [w for w, _ in lines.places(0.3, 0.7)] == pytest.approx([-0.3, 0.0, 0.3])
    assert lines.count([(0.0, [0.0, 1.0]), (9.0, [9.0])]) == 9


ends = st.tuples(st.floats(-0.2, 0.2), st.floats(0.01, 0.2)).map(lambda t: (t[0], t[0] + t[1]))
kept = st.lists(st.builds(Kept, ends, ends, ends), max_size=4)
heights = st.lists(st.floats(-0.25, 0.25), max_size=3, unique=True)


@given(kept, heights, st.floats(-0.3, 0), st.floats(0.005, 0.03), st.booleans())
def test_bodies_are_counted_as_they_are_placed(
    boxes: list[Kept], us: list[float], first: float, step: float, is_round: bool
) -> None:
    """Counted by stretches of a row, placed line by line; a count that cannot pass a mark may stop
    early, but never above the mark, nor below the truth."""
    lines = Lines(lambda u: [(-0.3, -0.05), (0.0, 0.3)], 0.04, 0.01, 0.015, is_round, boxes)
    vs = [first + i * step for i in range(15)]
    ends_too = sorted({*vs, *(e for k in boxes for e in k.v)})
    rows = [(u, row) for u in us for row in (vs, ends_too)]
    truth = sum(len(lines.places(u, v)) for u, row in rows for v in row)
    assert lines.count(rows) == truth
    for past in (truth - 1, truth, truth + 40):
        early = lines.count(rows, past)
        assert early == truth if truth > past else truth <= early <= past


@settings(max_examples=40)
@given(rooms, bodies, kept)
def test_the_most_is_what_the_fullest_way_holds(
    space: Space, body: Round | Block, free: list[Kept]
) -> None:
    keep = tuple(Box(*k.u, *k.v, *k.along) for k in free)
    room = replace(space, keep_outs=keep)
    assert most(room, body) == ways(room, body)[0].capacity


@given(
    st.lists(st.tuples(st.floats(0, 1), st.floats(0, 1)), max_size=5),
    st.floats(0, 1),
)
def test_cutting_leaves_what_is_in_no_blocked_part(
    blocked: list[tuple[float, float]], at: float
) -> None:
    spans = cut([(0.0, 1.0)], [(min(b), max(b)) for b in blocked])
    near = any(min(abs(at - b[0]), abs(at - b[1])) < 1e-5 for b in blocked)
    inside = any(min(b) < at < max(b) for b in blocked)
    if not near:
        assert any(a <= at <= b for a, b in spans) is not inside
