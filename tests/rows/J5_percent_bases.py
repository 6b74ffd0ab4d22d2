"""One change of a time as four percentages, each on its own base."""

from __future__ import annotations

import pytest

from rows.conftest import Outside
from rows.J1_test_plan import planned, ride
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


def test_dangerous_the_heavier_bike_is_not_called_weaker(bike: Outside) -> None:
    """What the verdict takes off for mass is off in the percentages too: one share of time, wherever it stands."""
    made = planned(bike, setups=["old", "new"])
    for value in (9.0, 9.05, 8.95):
        ride(bike, made["id"], setup="old", value=value, mass_kg=150)
        seen = ride(bike, made["id"], setup="new", value=value * 1.02, mass_kg=170)
    share = seen["verdict"]["corrected"][0]["share"]
    assert share < 0 < seen["verdict"]["differences"][0]["share"]
    p = seen["percents"][0]
    assert p["time"] == pytest.approx(share) and p["power"] > 0
    assert p["power"] == pytest.approx((1 + share) ** -3 - 1)


def test_to_a_speed_power_goes_with_one_over_time(bike: Outside) -> None:
    """m v² / 2 over the time: a tenth less is 11.1 % power, from rest or rolling."""
    p = session(bike, [10.0, 10.1, 9.9], [9.0, 9.09, 8.91], protocol="roll-on")["percents"][0]
    assert p["power"] == pytest.approx(1 / 0.9 - 1) == pytest.approx(p["acceleration"])


@pytest.mark.parametrize("protocol", ["coast-down", "range loop", "hill"])
def test_dangerous_a_time_that_is_no_run_from_rest_gives_no_power(
    bike: Outside, protocol: str
) -> None:
    """Less time to coast down is more drag, not more power; on a hill weight takes a share of it."""
    assert session(bike, protocol=protocol)["percents"] == []


def test_unknown_base_is_asked_for(bike: Outside) -> None:
    got = bike.client.get("/api/sums/claim", params={"text": "20 % faster"})
    assert got.status_code == 422


def test_not_there_one_setup_has_no_percent(bike: Outside) -> None:
    assert planned(bike)["percents"] == []
