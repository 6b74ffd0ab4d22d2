"""Pole pairs and electrical rpm against what the controller follows."""

from __future__ import annotations

import pytest

from rows.conftest import Outside


def test_ordinary_is_rpm_times_pole_pairs(bike: Outside) -> None:
    pairs = bike.body["doc"]["drive"]["motor"]["pole_pairs"]
    rpm = bike.figure("drive", "rpm_top") or 0
    assert bike.figure("drive", "erpm") == pytest.approx(rpm * pairs)
    assert rpm == pytest.approx(
        bike.head["top_speed_m_s"] / bike.radius * 56 / 12 * 60 / 6.283185, rel=1e-6
    )


def test_dangerous_too_many_for_the_controller_is_a_stop(bike: Outside) -> None:
    bike.put(("drive.controller.erpm_max_rpm", 12_000))
    assert bike.says("drive.erpm") == "stop" and "loses the rotor" in bike.words("drive.erpm")


def test_dangerous_pole_pairs_taken_for_poles(bike: Outside) -> None:
    """Twice the pairs halves the speed that the controller can follow."""
    pairs = bike.body["doc"]["drive"]["motor"]["pole_pairs"]
    bike.put(("drive.controller.erpm_max_rpm", 20_000))
    assert bike.says("drive.erpm") == ""
    bike.put(("drive.motor.pole_pairs", 2 * pairs))
    assert bike.says("drive.erpm") == "stop"


def test_a_speed_cap_keeps_the_rotor_and_is_the_bike_that_is_shown(bike: Outside) -> None:
    """The fix that is offered holds the rpm under the ceiling; 12,000 / pairs over the ratio is the wheel's."""
    free = bike.head["top_speed_m_s"]
    bike.put(("drive.controller.erpm_max_rpm", 12_000))
    fix = bike.findings()["drive.erpm"]["fixes"][0]
    pairs = bike.body["doc"]["drive"]["motor"]["pole_pairs"]
    right = 12_000 / pairs * 6.283185 / 60 / (56 / 12) * bike.radius
    bike.put(*((c["path"], c["value"]) for c in fix["changes"]))
    assert bike.says("drive.erpm") == ""
    assert right - 1 / 3.6 < bike.head["top_speed_m_s"] <= right < free
    assert (bike.figure("drive", "erpm") or 0) <= 12_000
    view = bike.client.get(f"{bike.url}/choke").json()
    lever = next(
        x for h in view["held"] for x in h["levers"] if x["fix"]["label"] == "No speed cap"
    )
    assert lever["after"]["top_speed_m_s"] == pytest.approx(free)


def test_unknown_ceiling_says_nothing_false(bike: Outside) -> None:
    bike.put(("drive.controller.erpm_max_rpm", None))
    assert bike.says("drive.erpm") == "" and bike.figure("drive", "erpm") is not None


def test_not_there_without_pole_pairs_it_is_missing(bike: Outside) -> None:
    bike.put(("drive.motor.pole_pairs", None))
    drive = next(b for b in bike.body["assessment"]["bolts"] if b["bolt"] == "drive")
    assert "drive.motor.pole_pairs" in drive["missing"]
