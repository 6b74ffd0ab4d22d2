"""How much field weakening: what it gains, what it costs, and where it destroys the controller."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside


def row(bike: Outside) -> dict[str, Any]:
    rows = bike.body["assessment"]["drawings"]["tune"]["rows"]
    return dict(next(r for r in rows if r["name"] == "fw_id_a"))


def test_ordinary_off_where_no_wish_needs_it(bike: Outside) -> None:
    assert row(bike)["recommended"] == 0 and "off" in row(bike)["constraint"]


def test_what_is_recommended_reaches_the_wish(bike: Outside) -> None:
    bike.put(("goal.top_speed_m_s", 28.5))
    amps = row(bike)["recommended"]
    assert amps > 0 and "wished" in row(bike)["constraint"]
    bike.put(("drive.controller.fw_id_a", amps + 1))
    assert bike.head["top_speed_m_s"] == pytest.approx(28.5, rel=0.01)


def test_gain_against_heat(bike: Outside) -> None:
    """More speed, more copper at top speed: both are shown."""
    plain = bike.body["assessment"]["drawings"]["drive"]["losses"]["copper_w"][-1]
    bike.put(("drive.controller.fw_id_a", 120))
    assert (bike.figure("drive", "weakening_m_s") or 0) > 0
    assert bike.body["assessment"]["drawings"]["drive"]["losses"]["copper_w"][-1] > plain


def test_dangerous_past_the_ceiling_is_never_recommended(bike: Outside) -> None:
    bike.put(
        ("tune.margin", "everything"), ("road.grade_pct", -30), ("drive.controller.v_max_v", 98),
        ("pack.series", 22),
    )  # fmt: skip
    most = row(bike)["most"]
    for r in bike.body["assessment"]["drawings"]["tune"]["rows"]:
        if r["path"]:
            bike.put((r["path"], r["recommended"]))
    bike.put(("drive.controller.fw_id_a", most * 0.99))
    assert bike.says("drive.weakening") == ""
    assert (bike.figure("drive", "emf_top") or 0) <= 98.0


def test_unknown_ceiling_is_off(bike: Outside) -> None:
    bike.put(("drive.controller.v_max_v", None), ("tune.margin", "everything"))
    assert row(bike)["recommended"] == 0 and "not known" in row(bike)["constraint"]


def test_not_there_no_goal_no_weakening(bike: Outside) -> None:
    bike.put(("goal.top_speed_m_s", None))
    assert row(bike)["recommended"] == 0
