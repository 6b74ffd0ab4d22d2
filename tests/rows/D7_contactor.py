"""The isolator: its DC rating, its coil, and the key."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    for key in ("no_isolator", "isolator_v", "isolator_a", "isolator_ac"):
        assert bike.says(f"guard.{key}") == "", key


def test_dangerous_made_for_alternating_current(bike: Outside) -> None:
    assert bike.put(("guard.isolator.rated_for", "AC only")).says("guard.isolator_ac") == "stop"


def test_dangerous_voltage(bike: Outside) -> None:
    assert bike.put(("guard.isolator.dc_v", 48)).says("guard.isolator_v") == "stop"


def test_unknown(bike: Outside) -> None:
    bike.put(("guard.isolator.dc_v", None), ("guard.isolator.rated_for", "unknown"))
    assert bike.says("guard.isolator_blank") != ""


def test_unknown_current(bike: Outside) -> None:
    assert bike.put(("guard.isolator.i_cont_a", None)).says("guard.isolator_blank") == "caution"


def test_not_there(bike: Outside) -> None:
    assert bike.put(("guard.isolator.presence", "not there")).says("guard.no_isolator") == "stop"
