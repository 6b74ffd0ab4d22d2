"""A controller that was wet, dropped or smoked: readings of its bridge, idle amps, the bench."""

from __future__ import annotations

import pytest

from rows.conftest import Outside

ALIKE = [[1, 0.42], [2, 0.42], [3, 0.43], [4, 0.41], [5, 0.42], [6, 0.42]]


def test_ordinary_a_sound_one_says_nothing(bike: Outside) -> None:
    bike.put(("drive.controller.condition", "sound"), ("drive.controller.bridge", ALIKE))
    assert bike.says("drive.damaged") == ""


def test_dangerous_a_short_leg_is_a_stop_whatever_else(bike: Outside) -> None:
    short = [list(x) for x in ALIKE]
    short[4][1] = 0.001
    bike.put(("drive.controller.condition", "sound"), ("drive.controller.bridge", short))
    assert bike.says("drive.damaged") == "stop" and "V to minus is short" in bike.words(
        "drive.damaged"
    )


@pytest.mark.parametrize("what", ["got wet", "dropped", "smoked or popped", "opened up"])
def test_dangerous_hurt_and_not_tried_is_a_stop(bike: Outside, what: str) -> None:
    bike.put(("drive.controller.condition", what))
    assert bike.says("drive.damaged") == "stop" and "limited current" in bike.words("drive.damaged")


def test_readings_alike_and_the_bench_clear_it(bike: Outside) -> None:
    bike.put(("drive.controller.condition", "got wet"), ("drive.controller.bridge", ALIKE))
    assert bike.says("drive.damaged") == "stop"
    bike.put(("drive.controller.bench_run", True))
    assert bike.says("drive.damaged") == ""
    bike.put(("drive.controller.idle_a", 2.0))
    assert bike.says("drive.damaged") == "stop" and "at rest" in bike.words("drive.damaged")


def test_unknown_readings_missing_are_named(bike: Outside) -> None:
    bike.put(("drive.controller.condition", "dropped"))
    assert "not read" in bike.words("drive.damaged")
    assert "six" in bike.refused(
        ("drive.controller.bridge", [[1, 0.4], [2, 0.4]])
    ).lower() or "6" in bike.refused(("drive.controller.bridge", [[1, 0.4], [2, 0.4]]))


def test_not_there_a_new_one_is_not_asked(bike: Outside) -> None:
    bike.put(("donor.salvage", []))
    assert bike.says("drive.damaged") == "" and bike.says("drive.condition_open") == ""


@pytest.mark.parametrize("said", ["not looked at", "sound"])
def test_dangerous_a_reading_counts_whatever_is_said_of_its_past(bike: Outside, said: str) -> None:
    """Ten amps into a controller at rest heat something, new or not."""
    bike.put(("drive.controller.condition", said), ("drive.controller.idle_a", 10.0))
    assert bike.says("drive.damaged") == "stop"
    assert "draws 10 A at rest" in bike.words("drive.damaged").replace("{{10|a}}", "10 A")
    assert bike.put(("drive.controller.idle_a", 0.05)).says("drive.damaged") == ""
