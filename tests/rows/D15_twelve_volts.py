"""The 12 V supply: its input range, its power, its set point, its isolation."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    for key in ("dcdc_v", "dcdc_w", "surge", "dcdc_blank"):
        assert bike.says(f"guard.{key}") == "", key


def test_dangerous_input_below_the_full_pack(bike: Outside) -> None:
    assert bike.put(("guard.dcdc.in_max_v", 90)).says("guard.dcdc_v") == "stop"


def test_dangerous_frame_becomes_pack_minus(bike: Outside) -> None:
    assert bike.put(("guard.dcdc.isolated", False)).says("guard.dcdc_earth") in ("stop", "caution")


def test_too_little_for_all_at_once(bike: Outside) -> None:
    bike.put(("guard.dcdc.rated_w", 20), ("guard.dcdc.surge_w", 22))
    assert bike.says("guard.surge") != "" or bike.says("guard.dcdc_w") != ""


def test_unknown_input(bike: Outside) -> None:
    assert bike.put(("guard.dcdc.in_max_v", None)).says("guard.dcdc_blank") != ""


def test_not_there_something_still_wants_twelve_volts(bike: Outside) -> None:
    bike.put(("guard.dcdc.presence", "not there"), ("guard.isolator.coil_v", 12))
    assert bike.says("guard.no_dcdc") == "caution"
    assert "some of the cells" in bike.words("guard.no_dcdc")
