"""Gear ratio, speed at a motor speed, torque multiplied – and what the real bike makes of it."""

from __future__ import annotations

import math

import pytest

from rows.conftest import Outside


def test_ordinary_ratio_and_speed_in_closed_form(bike: Outside) -> None:
    """v = 2π r n / i by hand: 12/56 on a measured radius of 0.30 m."""
    bike.put(("gear.tyre.rolling_radius_m", 0.30))
    ratio = 56 / 12
    assert bike.figure("gear", "ratio") == pytest.approx(ratio)
    at_1000 = 1000 / 60 * 2 * math.pi * 0.30 / ratio
    assert bike.figure("gear", "speed_1000") == pytest.approx(at_1000)
    rung = bike.rung()
    assert rung["top_speed_m_s"] == pytest.approx(rung["motor_rpm"] / 1000 * at_1000, rel=1e-6)


def test_torque_is_multiplied_and_some_lost(bike: Outside) -> None:
    """Wheel torque = motor torque x ratio x efficiency, less the motor's own drag: within 6 % of it."""
    motor, wheel = bike.figure("drive", "torque"), bike.figure("gear", "wheel_torque")
    assert motor is not None and wheel is not None
    assert 0.94 * 0.95 < wheel / (motor * 56 / 12) <= 0.95


def test_the_same_speed_wherever_it_is_shown(bike: Outside) -> None:
    assert bike.rung()["top_speed_m_s"] == pytest.approx(bike.head["top_speed_m_s"], rel=1e-9)


def test_dangerous_a_motor_past_its_speed_stops(bike: Outside) -> None:
    bike.put(("drive.motor.rpm_max_rpm", 3000))
    assert bike.says("gear.rpm") == "stop" and "magnets" in bike.words("gear.rpm")
    assert bike.rung()["why"]


def test_dangerous_a_ratio_of_nothing_is_refused(bike: Outside) -> None:
    assert "above 0" in bike.refused(("gear.ratio", 0)).lower() or "0" in bike.refused(
        ("gear.ratio", 0)
    )
    assert "rear_teeth" in bike.refused(("gear.rear_teeth", 0))


def test_unknown_tyre_size_is_asked_for(bike: Outside) -> None:
    bike.put(("gear.tyre.code", "fat"), ("gear.tyre.rolling_radius_m", None))
    assert bike.says("gear.tyre_size") == "caution" and bike.figure("gear", "speed_1000") is None


def test_a_hub_s_wheel_is_its_ratio(bike: Outside) -> None:
    """No-load speed goes with the radius, thrust from rest against it."""
    bike.put(
        ("drive.motor.kind", "hub"),
        ("gear.front_teeth", None),
        ("gear.rear_teeth", None),
        ("gear.reduction", 4),
    )
    rows = bike.body["assessment"]["drawings"]["gear"]["wheels"]
    now = next(r for r in rows if r["current"])
    for r in rows:
        share = r["radius_m"] / now["radius_m"]
        assert r["launch_n"] * share == pytest.approx(now["launch_n"], rel=0.02)
    assert now["top_speed_m_s"] == pytest.approx(bike.head["top_speed_m_s"])


def test_not_there_a_hub_without_sprockets_has_ratio_one(bike: Outside) -> None:
    bike.put(("drive.motor.kind", "hub"), ("gear.front_teeth", None), ("gear.rear_teeth", None))
    assert bike.figure("gear", "ratio") == pytest.approx(1.0)


def test_dangerous_a_radius_that_is_not_the_tyre_s(bike: Outside) -> None:
    """A diameter for a radius makes a bike of twice the speed; the size on the wall knows better (ISO 4249: section
    height from the size)."""
    true = bike.radius
    assert bike.says("gear.radius_off") == ""
    assert bike.put(("gear.tyre.rolling_radius_m", 2 * true)).says("gear.radius_off") == "caution"
    assert "diameter" in bike.words("gear.radius_off")
    assert bike.put(("gear.tyre.rolling_radius_m", 1.05 * true)).says("gear.radius_off") == ""
    bike.put(("gear.tyre.rolling_radius_m", 2 * true), ("gear.tyre.code", ""))
    assert bike.says("gear.radius_off") == ""  # nothing to hold it against
