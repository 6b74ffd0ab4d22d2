"""An altered BMS board is approved by measured tests, never by a tick."""

from __future__ import annotations

from rows.conftest import Outside

MEASURED = [
    ("guard.bms.altered", True),
    ("guard.bms.test_load_a", 150),
    ("guard.bms.test_load_s", 600),
    ("guard.bms.test_hot_c", 60),
    ("guard.bms.test_trip_a", 300),
    ("guard.bms.test_over_v", 4.24),
]


def test_ordinary_not_altered(bike: Outside) -> None:
    assert bike.says("guard.bms_altered") == ""


def test_dangerous_altered_and_untested(bike: Outside) -> None:
    bike.put(("guard.bms.altered", True))
    assert bike.says("guard.bms_altered") == "stop"


def test_dangerous_tested_with_less_than_it_will_carry(bike: Outside) -> None:
    bike.put(*MEASURED, ("guard.bms.test_load_a", 40))
    assert bike.says("guard.bms_altered") == "stop"


def test_dangerous_over_voltage_beyond_the_cells(bike: Outside) -> None:
    bike.put(*MEASURED, ("guard.bms.test_over_v", 4.6))
    assert bike.says("guard.bms_altered") == "stop"


def test_all_three_measured(bike: Outside) -> None:
    assert bike.put(*MEASURED).says("guard.bms_altered") == ""


def test_unknown_whether_altered(bike: Outside) -> None:
    bike.put(("guard.bms.altered", None))
    assert bike.says("guard.bms_altered") in ("", "note", "caution")


def test_not_there_a_board_that_is_not_there_is_not_approved(bike: Outside) -> None:
    bike.put(("guard.bms.presence", "not there"), ("guard.bms.altered", True))
    assert bike.says("guard.no_bms") == "stop"
