"""The main plug: current, voltage, home, poles, burnt contacts."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    for key in ("plug_open", "plug_v", "plug_a", "plug_seat", "plug_poles", "plug_burnt"):
        assert bike.says(f"guard.{key}") == "", key


def test_dangerous_current(bike: Outside) -> None:
    bike.put(("guard.plug.i_cont_a", 30), ("guard.plug.i_peak_a", 60))
    assert bike.says("guard.plug_a") == "stop"


def test_dangerous_burnt(bike: Outside) -> None:
    assert bike.put(("guard.plug.condition", "melted")).says("guard.plug_burnt") == "stop"


def test_dangerous_the_wrong_way_round(bike: Outside) -> None:
    assert bike.put(("guard.plug.keyed", False)).says("guard.plug_poles") == "stop"
    fix = bike.findings()["guard.plug_poles"]["fixes"][0]  # one of the shelf that is keyed
    bike.put(*((c["path"], c["value"]) for c in fix["changes"]))
    assert bike.says("guard.plug_poles") == ""


def test_unknown(bike: Outside) -> None:
    bike.put(
        ("guard.plug.seated", "unknown"), ("guard.plug.keyed", None), ("guard.plug.i_cont_a", None)
    )
    assert bike.says("guard.plug_open") != "" and bike.says("guard.plug_seat") != ""
    assert bike.says("guard.plug_poles") != ""


def test_unknown_a_plug_with_a_past_is_looked_into(bike: Outside) -> None:
    bike.put(("donor.salvage", [{"name": "tray", "kind": "pack"}]))
    assert bike.says("guard.plug_worn") == "note"
    bike.put(("guard.plug.condition", "sound"))
    assert bike.says("guard.plug_worn") == ""
    bike.put(("guard.plug.condition", "arced"))
    assert (bike.says("guard.plug_worn"), bike.says("guard.plug_burnt")) == ("", "stop")


def test_not_looked_at_is_not_silent(bike: Outside) -> None:
    assert bike.put(("guard.plug", {})).says("guard.plug_open") != ""


def test_not_there_is_said_and_a_stop_where_it_was_the_isolator(bike: Outside) -> None:
    bike.put(("guard.plug.presence", "not there"))
    assert bike.says("guard.no_plug") == "note"
    assert bike.put(("guard.isolator.kind", "unplug")).says("guard.no_plug") == "stop"


def test_dangerous_a_plug_that_resists_ten_times_is_replaced(bike: Outside) -> None:
    """0.3 mOhm is a sound one of 175 A (50 mV at its rated current, common practice); measured at 3 it melts."""
    bike.put(("guard.plug.r_ohm", 0.003))
    assert bike.says("guard.plug_a") == "stop" and "replace it" in bike.words("guard.plug_a")
    bike.put(("guard.plug.r_ohm", 0.0003))
    assert bike.says("guard.plug_a") == ""
