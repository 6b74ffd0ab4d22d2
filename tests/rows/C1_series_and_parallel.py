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
