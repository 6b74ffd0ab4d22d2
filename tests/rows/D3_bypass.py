"""A BMS that is bypassed on discharge: asked for, acknowledged, and what must stand in."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    assert bike.says("guard.bypass") == "" and bike.says("guard.bypass_open") == ""


def test_dangerous_without_stand_ins(bike: Outside) -> None:
    bike.put(("guard.bms.discharge", "bypassed"))
    assert bike.says("guard.bypass") in ("stop", "caution")
    assert bike.says("guard.bypass_open") == "stop"


def test_dangerous_ticks_do_not_replace_a_fuse(bike: Outside) -> None:
    bike.put(
        ("guard.bms.discharge", "bypassed"),
        (
            "guard.stand_for",
            {"cell_volts": True, "cell_temp": True, "charge_watch": True, "accepted": True},
        ),
        ("guard.fuse.presence", "not there"),
    )
    assert bike.says("guard.no_fuse") == "stop"


def test_all_stand_ins_leave_the_record(bike: Outside) -> None:
    bike.put(
        ("guard.bms.discharge", "bypassed"),
        (
            "guard.stand_for",
            {"cell_volts": True, "cell_temp": True, "charge_watch": True, "accepted": True},
        ),
    )
    assert bike.says("guard.bypass_open") == "" and bike.says("guard.bypass") != ""


def test_unknown_how_it_is_wired(bike: Outside) -> None:
    said = bike.refused(("guard.bms.discharge", "somehow"))
    assert "discharge" in said
