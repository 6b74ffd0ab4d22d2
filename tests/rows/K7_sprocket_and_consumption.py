"""What a sprocket does to the energy of a ride."""

from __future__ import annotations

import pytest

from rows.conftest import Outside


def test_ordinary_never_less_than_the_road_takes(bike: Outside) -> None:
    """Road load at the ride's speed by hand, over the driveline, plus what the machine loses: 1.03 to 1.6
    times what the road takes."""
    doc, v = bike.body["doc"], bike.body["assessment"]["headline"]["cruise_m_s"]
    kg = sum(a["kg"] for a in bike.body["assessment"]["drawings"]["gear"]["chassis"]["axles"])
    road = doc["road"]
    load = 0.5 * 1.2 * road["cda_m2"]["amount"] * v * v + road["crr"]["amount"] * kg * 9.80665
    per_km = load * 1000 / 3600
    found = bike.figure("gear", "cruise_wh") or 0
    assert 1.03 < found / per_km < 1.6
    assert bike.rung()["wh_m"] * 1000 == pytest.approx(found)


def test_the_pair_does_what_it_says(bike: Outside) -> None:
    said = bike.rung(12, 58)["wh_m"]
    bike.put(("gear.rear_teeth", 58))
    assert bike.rung()["wh_m"] == pytest.approx(said, rel=1e-9)


def test_a_pair_changes_little_and_speed_changes_much(bike: Outside) -> None:
    """A tooth is some tenths of a percent; twice the speed is most of it."""
    rungs = bike.body["assessment"]["drawings"]["gear"]["rungs"]
    known = [r["wh_m"] for r in rungs if r["wh_m"]]
    assert max(known) / min(known) < 1.05
    slow = bike.figure("gear", "cruise_wh") or 0
    bike.put(("goal.cruise_m_s", 19.4))
    assert (bike.figure("gear", "cruise_wh") or 0) > 1.6 * slow


def test_dangerous_a_speed_it_cannot_hold_has_no_figure(bike: Outside) -> None:
    bike.put(("goal.cruise_m_s", 60))
    assert bike.figure("gear", "cruise_wh") is None


def test_unknown_driveline_is_assumed_and_shown(bike: Outside) -> None:
    bike.put(("gear.efficiency", None))
    assert bike.figure("gear", "cruise_wh") is not None


def test_not_there_down_a_hill_nothing_is_drawn(bike: Outside) -> None:
    bike.put(("road.grade_pct", -12))
    assert bike.figure("gear", "cruise_wh") is None
