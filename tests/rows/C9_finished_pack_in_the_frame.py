"""A finished pack against the frame before it is ordered: outline, keep-outs, seat, every turn."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside

SIZES = ("length_m", "width_m", "height_m")
PACK = [
    ("pack.source", "ready_made"),
    ("pack.cell.form", "ready_made"),
    ("pack.series", 23),
    ("pack.parallel", 9),
    ("pack.cell.inner_series", 23),
    ("pack.cell.inner_parallel", 9),
    ("pack.cell.mass_kg", 16),
    ("pack.cell.diameter_m", None),
    ("guard.bms.presence", "not there"),
    ("pack.bms_in_bay", False),
]
PLAIN = [
    ("donor.bays.0.outline", []),
    ("donor.bays.0.length_m", 0.34),
    ("donor.bays.0.height_m", 0.26),
    ("donor.bays.0.width_m", 0.18),
    ("donor.bays.0.padding_m", 0.005),
    ("donor.bays.0.wall_m", 0.0),
]
TRIANGLE = [[-0.17, -0.13], [0.17, -0.13], [-0.17, 0.13]]


def packed(bike: Outside, sizes: tuple[float | None, ...], *more: tuple[str, Any]) -> Outside:
    size = [(f"pack.cell.{k}", v) for k, v in zip(SIZES, sizes, strict=True)]
    return bike.put(*PACK, *PLAIN, *size, *more)


def goes_in(bike: Outside) -> bool:
    """In the finding, in the layout and in the pack's options alike."""
    fit = bike.body["assessment"]["drawings"]["pack"]["fitted"]
    said = bike.says("pack.fit") != "stop"
    assert said == (fit["capacity"] >= fit["needed"]), bike.words("pack.fit")
    return said


@pytest.mark.parametrize("turn", [(0, 1, 2), (1, 0, 2), (2, 1, 0), (0, 2, 1), (1, 2, 0), (2, 0, 1)])
def test_ordinary_any_quarter_turn(bike: Outside, turn: tuple[int, int, int]) -> None:
    sizes = (0.31, 0.15, 0.23)
    assert goes_in(packed(bike, tuple(sizes[i] for i in turn)))


def test_dangerous_ten_millimetres_too_long(bike: Outside) -> None:
    """0.34 m less twice 5 mm of padding is 0.33 m."""
    assert goes_in(packed(bike, (0.329, 0.15, 0.23)))
    assert not goes_in(packed(bike, (0.341, 0.15, 0.23)))


def test_dangerous_a_triangle_is_not_its_box(bike: Outside) -> None:
    assert goes_in(packed(bike, (0.30, 0.15, 0.20)))
    assert not goes_in(packed(bike, (0.30, 0.15, 0.20), ("donor.bays.0.outline", TRIANGLE)))
    # Half the legs of the triangle just fit under its long side.
    assert goes_in(packed(bike, (0.14, 0.10, 0.10), ("donor.bays.0.outline", TRIANGLE)))


def test_dangerous_what_must_stay_free(bike: Outside) -> None:
    keep = {"name": "shock", "kind": "shock", "length_m": 0.05, "height_m": 0.05}
    box = [{**keep, "x_m": 0.0, "y_m": 0.0}]
    assert not goes_in(packed(bike, (0.30, 0.15, 0.22), ("donor.bays.0.keep_outs", box)))


def test_under_a_seat_extender_says_by_how_much(bike: Outside) -> None:
    packed(bike, (0.31, 0.15, 0.262), ("donor.bays.0.seat_gap_m", 0.03))
    assert bike.says("pack.fit_seat") == "caution"
    assert "0.01199" in bike.words("pack.fit_seat")  # 0.262 + 2 x 0.005 - 0.26


def test_unknown_size_is_said(bike: Outside) -> None:
    packed(bike, (0.31, None, 0.23))
    assert bike.says("pack.no_fit_known") == "caution" and not bike.says("pack.fits")


def test_no_bay_is_not_silent(bike: Outside) -> None:
    packed(bike, (0.31, 0.15, 0.23))
    bike.put(("donor.bays", []))
    assert bike.says("donor.no_bay") == "caution" and not bike.says("pack.fits")


def test_beside_what_must_stay_free(bike: Outside) -> None:
    """A hose along one wall, 20 mm of 180: a pack of 150 goes in beside it, one of 170 does not."""
    hose = {"name": "hose", "kind": "hose or cable", "length_m": 0.34, "height_m": 0.26}
    box = [("donor.bays.0.keep_outs", [{**hose, "width_m": 0.02, "x_m": 0, "y_m": 0, "z_m": 0.08}])]
    assert goes_in(packed(bike, (0.31, 0.145, 0.23), *box))
    assert not goes_in(packed(bike, (0.31, 0.168, 0.23), *box))
