"""Every series and parallel count that goes in, with volts, amp-hours and energy."""

from __future__ import annotations

import pytest

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    """Closed form: 23 cells of 4.2, 3.63 and 2.8 V; nine of 5 Ah."""
    assert bike.figure("pack", "full_v") == pytest.approx(96.6)
    assert bike.figure("pack", "nominal_v") == pytest.approx(83.49)
    assert bike.figure("pack", "empty_v") == pytest.approx(64.4)
    assert bike.figure("pack", "capacity") == pytest.approx(45)


def test_every_option_goes_in(bike: Outside) -> None:
    fitted = bike.body["assessment"]["drawings"]["pack"]["fitted"]
    assert fitted["options"]
    for o in fitted["options"]:
        assert o["series"] * o["parallel"] <= fitted["capacity"]


def test_dangerous_above_the_controllers_ceiling(bike: Outside) -> None:
    assert bike.put(("pack.series", 30)).says("drive.ceiling") == "stop"


def test_dangerous_more_than_goes_in(bike: Outside) -> None:
    assert bike.put(("pack.parallel", 14)).says("pack.fit") == "stop"


def test_unknown_counts(bike: Outside) -> None:
    bike.put(("pack.series", None))
    states = {b["bolt"]: b for b in bike.body["assessment"]["bolts"]}
    assert states["pack"]["state"] == "loose" and "pack.series" in states["pack"]["missing"]


def test_counts_that_are_none(bike: Outside) -> None:
    for bad in (0, -3, 401, 2.5, "many"):
        bike.refused(("pack.series", bad))


def test_a_count_of_cells_without_a_bay_or_a_shape(bike: Outside) -> None:
    """160 cells of 3.63 V: 20s8p of 72 V; 23s6p of 84 V; 26s6p of 96 V (closed form)."""
    bike.put(("donor.bays", []), ("pack.cells_at_hand", 160))
    bike.put(("pack.series", None), ("pack.parallel", None))
    made = bike.body["assessment"]["drawings"]["pack"]["at_hand"]
    shapes = {(o["series"], o["parallel"]) for o in made}
    assert {(20, 8), (23, 6), (26, 6)} <= shapes
    for o in made:
        assert o["series"] * o["parallel"] <= 160
        assert abs(o["nominal_v"] - 3.63 * o["series"]) < 1e-9


def test_a_count_of_modules_keeps_them_whole(bike: Outside) -> None:
    bike.put(("pack.cell.inner_series", 2), ("pack.cell.inner_parallel", 2))
    bike.put(("pack.series", 20), ("pack.parallel", 2), ("pack.cells_at_hand", 25))
    made = bike.body["assessment"]["drawings"]["pack"]["at_hand"]
    assert all(o["series"] % 2 == 0 and o["parallel"] % 2 == 0 for o in made)
    assert {o["series"]: o["parallel"] for o in made}[20] == 4  # 25 // 10 strings of 2p


def test_too_few_at_hand_makes_none(bike: Outside) -> None:
    bike.put(("pack.cells_at_hand", 3))
    assert bike.body["assessment"]["drawings"]["pack"]["at_hand"] == []


def test_unknown_empty_volts_are_those_of_the_chemistry_wherever_they_stand(bike: Outside) -> None:
    """2.8 V for nickel-rich cells, in the figures and in the table of what goes in."""
    bike.put(("pack.cell.empty_v", None))
    for o in bike.body["assessment"]["drawings"]["pack"]["fitted"]["options"]:
        assert o["empty_v"] == pytest.approx(2.8 * o["series"])
    assert bike.figure("pack", "empty_v") == pytest.approx(2.8 * 23)
