"""The isolator: its DC rating, its coil, and the key."""

from __future__ import annotations

from rows.conftest import Outside

COIL = {
    "name": "Contactor",
    "kind": "contactor",
    "i_cont_a": 200,
    "dc_v": 120,
    "breaking_a": 2000,
    "rated_for": "DC",
    "coil_v": 12,
    "coil_w": 10,
    "coil_feed": "before the contact",
    "suppression": "tvs",
    "key_first": True,
}


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


def test_not_there(bike: Outside) -> None:
    assert bike.put(("guard.isolator.presence", "not there")).says("guard.no_isolator") == "stop"
