"""One change of a time as four percentages, each on its own base."""

from __future__ import annotations

import pytest

from rows.conftest import Outside
from rows.J2_told_apart import session


def test_ordinary_all_four(bike: Outside) -> None:
    """By hand: a tenth less time is 11.1 % mean speed, 23.5 % acceleration, 37.2 % power."""
    p = session(bike, [10.0, 10.1, 9.9], [9.0, 9.09, 8.91])["percents"][0]
    assert p["time"] == pytest.approx(-0.1) and p["mean_speed"] == pytest.approx(1 / 0.9 - 1)
    assert p["acceleration"] == pytest.approx(1 / 0.81 - 1) and p["power"] == pytest.approx(
        1 / 0.729 - 1
    )
    assert "10.0 % less time" in p["sentence"]


def test_dangerous_slower_is_not_minus_the_same(bike: Outside) -> None:
    p = session(bike, [9.0, 9.1, 8.9], [10.0, 10.1, 9.9])["percents"][0]
    assert p["time"] == pytest.approx(1 / 0.9 - 1, rel=1e-3) and p["mean_speed"] == pytest.approx(
        -0.1, rel=1e-2
    )


def test_unknown_base_is_asked_for(bike: Outside) -> None:
    got = bike.client.get("/api/sums/claim", params={"text": "20 % faster"})
    assert got.status_code == 422


def test_not_there_one_setup_has_no_percent(bike: Outside) -> None:
    from rows.J1_test_plan import planned

    assert planned(bike)["percents"] == []
