"""Whether the BMS goes into the bay with the cells, or onto its own place."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    assert bike.says("pack.bms_place") == ""


def test_too_large(bike: Outside) -> None:
    bike.put(("guard.bms.length_m", 0.4), ("guard.bms.width_m", 0.2), ("guard.bms.height_m", 0.1))
    assert bike.says("pack.bms_place") != "" or bike.says("pack.fit") == "stop"


def test_unknown_size(bike: Outside) -> None:
    bike.put(("guard.bms.length_m", None))
    assert bike.says("pack.bms_place") != ""


def test_outside_the_bay_larger_than_its_place(bike: Outside) -> None:
    bike.put(
        ("pack.bms_in_bay", False),
        ("pack.bms_room_l_m", 0.1),
        ("pack.bms_room_w_m", 0.05),
        ("pack.bms_room_h_m", 0.02),
    )
    assert bike.says("pack.bms_cover") != ""


def test_not_there_no_bms_needs_no_room(bike: Outside) -> None:
    bike.put(("guard.bms.presence", "not there"))
    keys = [k for k in bike.findings() if k.startswith("pack.bms")]
    assert keys == [] and bike.says("guard.no_bms") == "stop"
