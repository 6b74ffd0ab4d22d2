"""The line amps at which the BMS stays closed, with their margin, as one number."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    """.85 of the BMS's continuous amps where it is the narrowest (a margin of this program)."""
    bike.put(("guard.bms.i_cont_a", 80), ("guard.bms.i_peak_a", 160))
    assert bike.figure("guard", "advice") == 68


def test_dangerous_the_advice_itself_never_opens(bike: Outside) -> None:
    bike.put(("guard.bms.i_cont_a", 60), ("guard.bms.i_peak_a", 90), ("guard.bms.peak_s", 3))
    advice = bike.figure("guard", "advice")
    assert advice is not None
    bike.put(("drive.controller.line_a", advice))
    for key in ("bms_peak", "bms_trip", "bms_cont", "past_cont", "fuse_run", "fuse_load"):
        assert bike.says(f"guard.{key}") == "", key
    assert bike.head["opens"] == "" and bike.figure("guard", "advice") == advice


def test_unknown_parts_do_not_raise_it(bike: Outside) -> None:
    before = bike.figure("guard", "advice")
    bike.put(("guard.plug.i_cont_a", None))
    after = bike.figure("guard", "advice")
    assert before is not None and after is not None and after <= before
    assert bike.says("guard.plug_open") != ""


def test_not_there(bike: Outside) -> None:
    bike.put(("guard.bms.presence", "not there"))
    advice = bike.figure("guard", "advice")
    assert advice is None or advice <= 100
    assert bike.says("guard.no_bms") == "stop"
