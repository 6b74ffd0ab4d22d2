"""End voltage and amps of the charger against cells and BMS."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    for key in ("charger_open", "charger_v", "charger_a", "charger_cells"):
        assert bike.says(f"guard.{key}") == "", key


def test_dangerous_ends_above_full(bike: Outside) -> None:
    assert bike.put(("guard.charger.out_v", 100.8)).says("guard.charger_v") == "stop"


def test_dangerous_more_than_the_bms_takes(bike: Outside) -> None:
    assert bike.put(("guard.charger.i_a", 60)).says("guard.charger_a") == "stop"


def test_dangerous_in_the_cold(bike: Outside) -> None:
    assert bike.put(("guard.charger.coldest_c", -5)).says("guard.cold") in ("stop", "caution")


def test_dangerous_stacked_without_floating(bike: Outside) -> None:
    bike.put(
        ("guard.charger.stacked", 2),
        ("guard.charger.out_v", 48.3),
        ("guard.charger.floating", False),
    )
    assert bike.says("guard.stacked") == "stop"


def test_unknown(bike: Outside) -> None:
    assert bike.put(("guard.charger", {})).says("guard.charger_open") != ""


def test_not_there(bike: Outside) -> None:
    bike.put(("guard.charger.presence", "not there"))
    assert bike.says("guard.charger_v") == "" and bike.figure("guard", "charge_s") is None
