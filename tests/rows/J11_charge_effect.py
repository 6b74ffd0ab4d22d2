"""What a difference of charge does by itself: how much, and whom it helps."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside
from rows.J1_test_plan import planned, ride


def effect(bike: Outside, status: int = 200, **params: Any) -> dict[str, Any]:
    got = bike.client.get(f"{bike.url}/charge-effect", params=params)
    assert got.status_code == status, got.text
    return dict(got.json())


def test_ordinary_the_fuller_one_is_quicker(bike: Outside) -> None:
    e = effect(bike, first=0.95, second=0.4)
    assert e["second"] > e["first"] and "favour of the first" in e["sentence"]


def test_both_values_are_the_planner_s(bike: Outside) -> None:
    """The quarter mile at a charge, as the bench shows it after the charge is set."""
    e = effect(bike, first=0.95, second=0.4)
    bike.put(("pack.start_soc", 0.4))
    rows = bike.client.get(bike.url, params={"bolt": "prove"}).json()["assessment"]["drawings"][
        "prove"
    ]["rows"]
    quarter = next(r["predicted_s"] for r in rows if r["name"] == "1/4 mile")
    assert e["second"] == pytest.approx(quarter, rel=2e-3)


def test_dangerous_top_speed_flat_is_helped_as_well(bike: Outside) -> None:
    e = effect(bike, first=0.95, second=0.3, protocol="top speed, flat, both ways")
    assert e["second"] < e["first"]


def test_unknown_bike_says_who_is_helped_all_the_same(bike: Outside) -> None:
    bike.put(("drive.motor.kv_rpm_v", None))
    assert "fuller pack is helped" in effect(bike)["sentence"]


def test_not_there_a_charge_that_is_none(bike: Outside) -> None:
    effect(bike, 422, first=1.4)


def test_not_there_no_charge_helps_a_bike_that_rolls_out(bike: Outside) -> None:
    """A coast-down has its throttle shut: the fuller pack was 'helped all the same'."""
    got = bike.client.get(f"{bike.url}/charge-effect", params={"protocol": "coast-down"}).json()
    assert got["share"] is None and "charge does nothing" in got["sentence"]
    made = planned(bike, protocol="coast-down", setups=["A", "B"])
    for x in (30.0, 31.0):
        ride(bike, made["id"], setup="A", value=x, soc=1.0)
        last = ride(bike, made["id"], setup="B", value=x + 4, soc=0.5)
    assert not any(s["what"] == "charge" for s in last["verdict"]["spoilers"])


def test_unknown_protocol_is_refused(bike: Outside) -> None:
    got = bike.client.get(f"{bike.url}/charge-effect", params={"protocol": "sideways"})
    assert got.status_code == 422 and "no protocol" in got.json()["message"]
