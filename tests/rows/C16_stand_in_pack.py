"""A stand-in pack: the line amps it allows, its voltage, its plug, what is unknown."""

from __future__ import annotations

from rows.conftest import Outside

PACK = {
    "name": "Borrowed",
    "series": 20,
    "full_v": 84,
    "capacity_ah": 30,
    "i_cont_a": 60,
    "plug_a": 60,
}


def test_ordinary(bike: Outside) -> None:
    bike.put(("pack.stand_in", PACK), ("drive.controller.line_a", 50))
    assert bike.says("pack.stand_in") == "" and bike.says("pack.stand_in_open") == ""


def test_dangerous_more_than_it_gives(bike: Outside) -> None:
    assert bike.put(("pack.stand_in", PACK)).says("pack.stand_in") in ("stop", "caution")


def test_dangerous_above_the_controllers_ceiling(bike: Outside) -> None:
    bike.put(("pack.stand_in", {**PACK, "series": 40, "full_v": 168}))
    assert bike.says("pack.stand_in_v") == "stop"


def test_unknown_current(bike: Outside) -> None:
    bike.put(("pack.stand_in", {**PACK, "i_cont_a": None, "plug_a": None}))
    assert bike.says("pack.stand_in_open") != ""


def test_none_is_silent(bike: Outside) -> None:
    assert not [k for k in bike.findings() if k.startswith("pack.stand_in")]
