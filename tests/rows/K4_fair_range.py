"""A range comparison that is fair: the same loop, riders change, the same end."""

from __future__ import annotations

from rows.conftest import Outside
from rows.J1_test_plan import planned, ride


def test_ordinary_rules_of_the_loop(bike: Outside) -> None:
    rules = " ".join(planned(bike, protocol="range loop")["plan"]["rules"])
    assert "same loop" in rules and "change bikes halfway" in rules and "same volts a cell" in rules


def test_each_block_is_turned_about(bike: Outside) -> None:
    order = planned(bike, protocol="range loop")["plan"]["order"]
    assert order[0:2] == order[2:4][::-1]


def test_dangerous_unequal_charge_is_named(bike: Outside) -> None:
    made = planned(bike, protocol="range loop", setups=["A", "B"])
    for x in (30.0, 31.0):
        ride(bike, made["id"], setup="A", value=x, soc=1.0)
        last = ride(bike, made["id"], setup="B", value=x, soc=0.8)
    assert any(
        s["what"] == "charge" and s["weight"] == "caution" for s in last["verdict"]["spoilers"]
    )


def test_unknown_charge_is_named(bike: Outside) -> None:
    made = planned(bike, protocol="range loop", setups=["A", "B"])
    for x in (30.0, 31.0):
        ride(bike, made["id"], setup="A", value=x)
        last = ride(bike, made["id"], setup="B", value=x)
    assert any(
        s["what"] == "charge" and "not written down" in s["sentence"]
        for s in last["verdict"]["spoilers"]
    )


def test_not_there_no_rides_no_verdict(bike: Outside) -> None:
    assert planned(bike, protocol="range loop")["verdict"] is None


def test_ordinary_who_comes_farther_is_better_and_it_is_a_way(bike: Outside) -> None:
    """The way until the same volts a cell, in the reader's unit: more of it is better. It was read as seconds."""
    made = planned(bike, protocol="range loop", setups=["A", "B"], spread=300, gap=1000)
    for a, b in ((30_000, 33_000), (30_500, 33_400), (29_800, 32_900)):
        ride(bike, made["id"], setup="A", value=a)
        last = ride(bike, made["id"], setup="B", value=b)
    v = last["verdict"]
    assert last["quantity"] == v["quantity"] == "m"
    assert "B is better than A by {{3000|m}} (10.0 %)" in v["sentence"]
    assert [s["best"] for s in v["summaries"]] == [30_500, 33_400]
    assert "{{1000|m}}" in made["plan"]["sentence"]
    bests = {b["setup"]: b for b in bike.client.get(f"{bike.url}/book").json()["bests"]}
    assert (bests["B"]["value"], bests["B"]["quantity"]) == (33_400, "m")
