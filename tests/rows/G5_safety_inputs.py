"""Safety inputs: brake, stand, tip-over and what else is wired; which is open or bypassed, drawn, said, and held."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside

ALL = ("brake cut-off", "side stand", "tip-over")


def wired(**states: str) -> list[dict[str, str]]:
    names = {
        "brake": "Brake cut-off",
        "stand": "side  stand",
        "tip": "Tip-Over",
        "kill": "kill switch",
    }
    return [{"name": names[k], "state": v} for k, v in states.items()]


def drawn(bike: Outside, part: str = "inputs") -> dict[str, dict[str, Any]]:
    return {n["label"].lower(): n for n in bike.body["assessment"]["drawings"]["wire"][part]}


def ridden(bike: Outside) -> dict[str, str]:
    got = bike.client.get(f"{bike.url}/ride-gate").json()
    return {p["what"]: p["state"] for p in got["points"]}


def test_ordinary_all_fitted_however_they_are_spelt(bike: Outside) -> None:
    """Capitals and spaces are no other input: to one page it was fitted, to the riding gate it was not."""
    bike.put(("wire.interlocks", wired(brake="fitted", stand="fitted", tip="fitted")))
    assert bike.says("wire.input") == ""
    assert [drawn(bike)[n]["state"] for n in ALL] == ["fitted"] * 3
    assert [ridden(bike)[n] for n in ALL] == ["go"] * 3


def test_dangerous_a_bypassed_one_stops_the_ride(bike: Outside) -> None:
    bike.put(("wire.interlocks", wired(brake="fitted", stand="bypassed", tip="fitted")))
    assert "Side stand: bypassed" in bike.words("wire.input")
    assert drawn(bike)["side stand"]["state"] == "bypassed"
    assert ridden(bike)["side stand"] == "stop"


def test_dangerous_an_input_of_ones_own_that_is_bypassed(bike: Outside) -> None:
    """A kill switch with a wire across it was in the list and nowhere else."""
    rows = wired(brake="fitted", stand="fitted", tip="fitted", kill="bypassed")
    bike.put(("wire.interlocks", rows))
    assert "Kill switch: bypassed" in bike.words("wire.input")
    assert ridden(bike)["kill switch"] == "stop"
    fix = bike.findings()["wire.input.kill_switch"]["fixes"][0]
    bike.put(*((c["path"], c["value"]) for c in fix["changes"]))
    assert bike.says("wire.input") == "" and ridden(bike)["kill switch"] == "go"


def test_dangerous_written_down_twice_the_worst_counts(bike: Outside) -> None:
    rows = wired(brake="bypassed", stand="fitted", tip="fitted") + wired(brake="fitted")
    bike.put(("wire.interlocks", rows))
    assert "Brake cut-off: bypassed" in bike.words("wire.input")
    assert ridden(bike)["brake cut-off"] == "stop"


@pytest.mark.parametrize("part", ["fuse", "bms", "isolator", "plug"])
def test_dangerous_what_was_taken_out_is_not_drawn_with_its_rating(
    bike: Outside, part: str
) -> None:
    bike.put((f"guard.{part}.presence", "not there"))
    node = next(n for n in drawn(bike, "nodes").values() if n["path"] == f"guard.{part}")
    assert (node["state"], node["detail"]) == ("not there", "not there")


def test_dangerous_a_bms_that_opens_nothing_is_not_drawn_as_one_that_does(bike: Outside) -> None:
    bike.put(("guard.bms.discharge", "bypassed"))
    assert drawn(bike, "nodes")["bms"]["state"] == "bypassed"


def test_unknown_nobody_wrote_anything_down(bike: Outside) -> None:
    bike.put(("wire.interlocks", []), ("tune.throttle_rest_v", None))
    said = bike.words("wire.input")
    assert all(f"{n.capitalize()}: open" in said for n in ALL)
    assert [drawn(bike)[n]["state"] for n in ALL] == ["open"] * 3
    assert drawn(bike)["throttle"]["detail"] == "not measured"
    assert [ridden(bike)[n] for n in ALL] == ["open"] * 3


def test_not_there_a_bike_without_charger_converter_and_precharge(bike: Outside) -> None:
    for part in ("charger", "dcdc", "precharge"):
        bike.put((f"guard.{part}.presence", "not there"))
    assert {n["state"] for n in drawn(bike, "branches").values()} == {"not there"}
