"""No-load speed from rpm at a voltage, wheel and ratio."""

from __future__ import annotations

import math

import pytest

from rows.conftest import Outside


def test_ordinary_by_hand(bike: Outside) -> None:
    """KV x full volts; the road speed from circumference and ratio."""
    doc = bike.body["doc"]
    full = bike.figure("pack", "full_v") or 0
    rpm = doc["drive"]["motor"]["kv_rpm_v"]["amount"] * full
    assert bike.figure("drive", "no_load") == pytest.approx(rpm, rel=1e-6)
    speed = rpm / 60 / (56 / 12) * 2 * math.pi * bike.radius
    assert bike.figure("drive", "no_load_speed") == pytest.approx(speed, rel=1e-6)
    assert bike.head["top_speed_m_s"] < speed


def test_weakening_reaches_past_base_speed(bike: Outside) -> None:
    plain = bike.head["top_speed_m_s"]
    bike.put(("drive.controller.fw_id_a", 60))
    assert bike.head["top_speed_m_s"] > plain
    assert (bike.figure("drive", "weakening_m_s") or 0) == pytest.approx(
        bike.head["top_speed_m_s"] - plain, rel=1e-6
    )


def test_dangerous_back_emf_over_the_ceiling_is_a_stop(bike: Outside) -> None:
    """Let go in weakening, the motor pushes rpm / KV into the controller."""
    bike.put(
        ("drive.controller.fw_id_a", 230), ("drive.controller.v_max_v", 97), ("road.grade_pct", -35),
    )  # fmt: skip
    assert (bike.figure("drive", "emf_top") or 0) > 97 and bike.says("drive.weakening") == "stop"


def test_unknown_kv_is_named(bike: Outside) -> None:
    bike.put(("drive.motor.kv_rpm_v", None))
    drive = next(b for b in bike.body["assessment"]["bolts"] if b["bolt"] == "drive")
    assert "drive.motor.kv_rpm_v" in drive["missing"] and drive["state"] == "loose"


def test_not_there_no_weakening_gains_nothing(bike: Outside) -> None:
    bike.put(("drive.controller.fw_id_a", 0))
    assert bike.figure("drive", "weakening_m_s") == 0.0


def test_dangerous_off_a_jump_it_turns_faster_than_on_any_road(bike: Outside) -> None:
    """62 rpm/V and 96.6 V make 5,989 rpm unloaded by hand; the road holds this bike to 3,843."""
    assert bike.says("drive.rpm_free") == ""
    bike.put(("drive.motor.rpm_max_rpm", 5500))
    assert bike.says("drive.rpm") == "" and bike.says("drive.rpm_free") == "caution"
    found = bike.findings()["drive.rpm_free"]
    assert found["measured"] == pytest.approx(62 * 96.6, rel=0.06) and found["limit"] == 5500
    assert bike.put(("drive.motor.rpm_max_rpm", 3000)).says("drive.rpm_free") == ""
    assert bike.says("drive.rpm") == "stop"  # said once, where it is worse
    assert bike.put(("drive.motor.rpm_max_rpm", None)).says("drive.rpm_free") == ""
