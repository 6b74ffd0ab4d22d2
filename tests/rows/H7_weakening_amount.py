"""How much field weakening: what it gains, what it costs, and where it destroys the controller."""

from __future__ import annotations

import math
from typing import Any

import pytest

from rows.conftest import Outside


def row(bike: Outside) -> dict[str, Any]:
    rows = bike.body["assessment"]["drawings"]["tune"]["rows"]
    return dict(next(r for r in rows if r["name"] == "fw_id_a"))


def test_ordinary_off_where_no_wish_needs_it(bike: Outside) -> None:
    assert row(bike)["recommended"] == 0 and "off" in row(bike)["constraint"]


def test_what_is_recommended_reaches_the_wish(bike: Outside) -> None:
    bike.put(("goal.top_speed_m_s", 27.2))
    amps = row(bike)["recommended"]
    assert amps > 0 and "wished" in row(bike)["constraint"]
    bike.put(("drive.controller.fw_id_a", amps + 1))
    assert bike.head["top_speed_m_s"] == pytest.approx(27.2, rel=0.015)


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


def test_dangerous_a_free_wheel_past_the_ceiling(bike: Outside) -> None:
    """On the road drag holds it under; in the air nothing does. Unloaded, the bus's volts are all that is left of the
    flux: V m = √3 ω (ψ − Ld id), and what comes back at a trip is √3 ω ψ. By hand: 96.6 V, 0.95, 22.23 mWb, 0.11 mH."""
    bike.put(("drive.controller.fw_id_a", 60))
    assert bike.says("drive.weakening") == "" and bike.says("drive.weakening_free") == "caution"
    found = bike.findings()["drive.weakening_free"]
    kept = bike.figure("pack", "full_v") or 0.0
    by_hand = kept * 0.95 * 0.022231 / (0.022231 - 60 * 0.00011)
    assert found["measured"] == pytest.approx(by_hand, rel=1e-3) and by_hand > 100.0
    fix = found["fixes"][0]["changes"][0]["value"]["amount"]
    assert fix == math.floor(0.022231 / 0.00011 * (1 - kept * 0.95 / 100.0))
    bike.put(("drive.controller.fw_id_a", fix))
    assert bike.says("drive.weakening_free") == ""
    bike.put(("drive.controller.fw_id_a", fix + 1))
    assert bike.says("drive.weakening_free") == "caution"


def test_a_limit_of_turns_holds_the_free_wheel(bike: Outside) -> None:
    turns = 100.0 / (3**0.5 * 0.022231) * 60 / (2 * math.pi)
    bike.put(("drive.controller.fw_id_a", 60), ("drive.controller.erpm_max_rpm", 0.99 * turns))
    assert bike.says("drive.weakening_free") == ""


def test_a_wish_past_what_a_free_wheel_allows_is_said(bike: Outside) -> None:
    bike.put(("goal.top_speed_m_s", 40))
    got = row(bike)
    assert "needs more" in got["constraint"] and got["recommended"] == math.floor(got["most"])


def test_unknown_ceiling_promises_no_free_wheel(bike: Outside) -> None:
    bike.put(("drive.controller.fw_id_a", 60), ("drive.controller.v_max_v", None))
    assert bike.says("drive.weakening_free") == "" and bike.says("drive.ceiling_open") == "caution"


def test_weakening_past_the_magnets_names_no_number(bike: Outside) -> None:
    """Where the weakening takes all of the flux, no speed is the last one: not 0 V beside a ceiling of 100."""
    bike.put(("drive.controller.fw_id_a", 220), ("drive.controller.erpm_max_rpm", None))
    found = bike.findings()["drive.weakening_free"]
    assert found["measured"] is None and "without end" in found["reason"]


def test_dangerous_what_the_pack_does_no_weakening_takes_back(bike: Outside) -> None:
    """A controller for 58 V on 96.6 V: without weakening the motor still reaches 62 V; no fix says otherwise."""
    bike.put(("drive.controller.v_max_v", 58.0), ("drive.controller.fw_id_a", 40.0))
    found = bike.findings()["drive.weakening"]
    assert (
        found["severity"] == "stop" and not found["fixes"] and "pack's own volts" in found["reason"]
    )
    bike.put(("drive.controller.v_max_v", 64.0), ("drive.controller.fw_id_a", 150.0))
    fix = bike.findings()["drive.weakening"]["fixes"][0]
    bike.put(*((c["path"], c["value"]) for c in fix["changes"]))
    assert bike.says("drive.weakening") == ""
