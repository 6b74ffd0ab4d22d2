"""Does the rider reach the ground?"""

from __future__ import annotations

import pytest

from rows.conftest import Outside

STEER = {"rake_deg": 27.0, "offset_m": 0.05, "front_radius_m": 0.34}


def seat(bike: Outside) -> dict[str, float]:
    return dict(bike.body["assessment"]["drawings"]["gear"]["chassis"]["seat"])


def test_ordinary_leg_and_boots_over_the_seat(bike: Outside) -> None:
    """0.84 m of inseam and 30 mm of sole over a seat at 0.80 m: 70 mm to spare."""
    bike.put(("gear.fit", {"seat_m": 0.80, "inseam_m": 0.84}), ("gear.fork.longer_m", None))
    assert seat(bike)["spare_m"] == pytest.approx(0.07) and bike.says("gear.seat") == ""


def test_sag_lets_it_down(bike: Outside) -> None:
    bike.put(
        ("gear.fit", {"seat_m": 0.90, "inseam_m": 0.80}), ("gear.fork", {"rate_n_m": 8000}),
        ("gear.shock", {"rate_n_m": 50_000, "leverage": 2.5}),
    )  # fmt: skip
    assert 0.04 < seat(bike)["seat_m"] - seat(bike)["ridden_m"] < 0.12


def test_dangerous_a_seat_extender_takes_the_feet_off_the_ground(bike: Outside) -> None:
    bike.put(("gear.fit", {"seat_m": 0.86, "inseam_m": 0.80}), ("gear.fork.longer_m", None))
    assert bike.says("gear.seat") == ""
    bays = bike.body["doc"]["donor"]["bays"]
    bays[0] = {**bays[0], "seat_gap_m": {"amount": 0.13, "origin": "measured", "tolerance": None}}
    bike.put(("donor.bays", bays))
    assert bike.says("gear.seat") == "caution" and "does not reach" in bike.words("gear.seat")


def test_a_longer_fork_lifts_the_seat(bike: Outside) -> None:
    bike.put(("gear.fit.seat_m", 0.86), ("gear.steering", STEER), ("gear.fork.longer_m", 0.05))
    assert 0.01 < seat(bike)["seat_m"] - 0.86 < 0.05


def test_unknown_inseam_is_no_verdict(bike: Outside) -> None:
    bike.put(("gear.fit", {"seat_m": 0.95}))
    assert seat(bike)["spare_m"] is None and bike.says("gear.seat") == ""


def test_not_there_no_seat_measured(bike: Outside) -> None:
    bike.put(("gear.fit", {"inseam_m": 0.8}))
    assert bike.body["assessment"]["drawings"]["gear"]["chassis"]["seat"] is None
