"""What the power, mass and speed ask of brakes, fork, chain and mounts, before riding."""

from __future__ import annotations

from rows.conftest import Outside


def rows(bike: Outside) -> list[dict]:  # type: ignore[type-arg]
    return list(bike.body["assessment"]["drawings"]["donor"]["must_change"])


def test_ordinary(bike: Outside) -> None:
    assert {"Brakes"} <= {r["what"] for r in rows(bike)}
    assert bike.says("donor.must_change") != ""


def test_dangerous_more_speed_asks_more_of_the_brakes(bike: Outside) -> None:
    before = next(r["ratio"] for r in rows(bike) if r["what"] == "Brakes")
    bike.put(("goal.rider_kg", 130))
    after = next(r["ratio"] for r in rows(bike) if r["what"] == "Brakes")
    assert after > before


def test_unknown_ratings_are_said(bike: Outside) -> None:
    """Neither what it was made for nor what it was."""
    bike.put(("donor.ratings", {}), ("donor.stock", {}))
    assert bike.says("donor.gear_open") != ""


def test_not_there_without_a_motor_nothing_stays(bike: Outside) -> None:
    """No motor, no power: nothing of the running gear may be called good for it."""
    bike.put(("drive.motor.kv_rpm_v", None))
    rows = bike.body["assessment"]["drawings"]["donor"]["must_change"]
    assert not [m["what"] for m in rows if m["verdict"] == "stays"]
    assert bike.says("donor.gear_open") == "caution"


def test_dangerous_a_rating_far_above_the_stock_bike_does_not_silence_it(bike: Outside) -> None:
    """30 kW typed for a bike that had 3: brakes and chain would pass by a slip of a digit."""
    assert bike.says("donor.made_off") == ""
    number = {"amount": 30_000.0, "origin": "label", "tolerance": None}
    bike.put(("donor.ratings.power_w", number))
    assert bike.says("donor.made_off.power") == "caution"
    assert bike.put(("donor.ratings.power_w", None)).says("donor.made_off") == ""
