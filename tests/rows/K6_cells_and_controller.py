"""Temperatures of cells and controller: how long, and where the amps are to be taken back."""

from __future__ import annotations

import math
from typing import Any

import pytest

from rows.conftest import Outside


def heat(bike: Outside) -> dict[str, Any]:
    return dict(bike.body["assessment"]["drawings"]["drive"]["heat"])


def test_ordinary_controller_as_one_lump(bike: Outside) -> None:
    """t = -RC ln((T_end - T_lim) / (T_end - T_0)) by hand, 0.5 K/W and 1500 J/K at full phase amps."""
    bike.put(
        ("drive.controller.heat_k_w", 0.5), ("drive.controller.heat_j_k", 1500),
        ("drive.controller.temp_max_c", 85), ("drive.controller.r_switch_ohm", 0.002),
        ("drive.controller.fixed_w", 20), ("drive.controller.phase_a", 240),
    )  # fmt: skip
    watts = 1.5 * 0.002 * 240**2 + 20
    ends = 25 + watts * 0.5
    want = -0.5 * 1500 * math.log((ends - 85) / (ends - 25))
    assert heat(bike)["controller_s"] == pytest.approx(want, rel=1e-6)


def test_roll_back_of_the_motor_is_before_its_limit(bike: Outside) -> None:
    bike.put(("drive.motor.temp_max_c", 150))
    rows = bike.body["assessment"]["drawings"]["tune"]["rows"]
    assert next(r for r in rows if r["name"] == "motor_c")["recommended"] == pytest.approx(130)


def test_dangerous_a_roll_back_above_it_by_hand_is_named(bike: Outside) -> None:
    bike.put(("tune.chosen", [{"name": "motor_c", "value": 160}]))
    assert bike.says("tune.param.motor_c") in ("caution", "stop")


def test_dangerous_hot_cells_give_less(bike: Outside) -> None:
    cool = bike.figure("pack", "peak_a") or 0
    bike.put(("pack.temp_c", 56))
    assert bike.head["peak_wheel_w"] > 0
    assert (
        bike.says("pack.temp") in ("caution", "stop")
        or (bike.figure("pack", "peak_a") or 0) < cool
        or any(
            "hot" in f["title"].lower() or "warm" in f["title"].lower()
            for f in bike.findings().values()
        )
    )


def test_unknown_controller_heat_is_said(bike: Outside) -> None:
    bike.put(("drive.controller.heat_k_w", None))
    assert heat(bike)["controller_known"] is False and heat(bike)["controller_s"] is None


def test_not_there_it_holds_for_good(bike: Outside) -> None:
    bike.put(("drive.controller.heat_k_w", 0.02), ("drive.controller.heat_j_k", 2000))
    assert heat(bike)["controller_known"] is True and heat(bike)["controller_s"] is None


def boxes(bike: Outside) -> dict[str, dict[str, Any]]:
    return {r["key"]: r for r in heat(bike)["boxes"]}


def test_dangerous_a_controller_without_a_way_out_for_its_heat(bike: Outside) -> None:
    """A plate and no air: in closed form it settles at 25 °C + P R."""
    bike.put(("drive.controller.heat_k_w", 5), ("drive.controller.heat_j_k", 300))
    assert bike.says("drive.box_heat") == "caution" and "fails short" in bike.words(
        "drive.box_heat"
    )
    c = bike.body["doc"]["drive"]["controller"]
    amps = next(r for r in heat(bike)["rows"] if r["key"] == "ride")["phase_a"]
    watts = 1.5 * c["r_switch_ohm"]["amount"] * amps**2 + c["fixed_w"]["amount"]
    assert boxes(bike)["ride"]["ends_c"] == pytest.approx(25 + 5 * watts)
    bike.put(("drive.controller.heat_k_w", 0.02), ("drive.controller.heat_j_k", 2000))
    assert bike.says("drive.box_heat") == ""


def test_unknown_what_the_controller_stands_is_said(bike: Outside) -> None:
    assert bike.says("drive.box_blank") == ""
    bike.put(("drive.controller.heat_k_w", None))
    assert bike.says("drive.box_blank") == "note" and heat(bike)["boxes"] == []
    bike.put(("drive.controller.phase_max_a", None))
    assert bike.says("drive.box_blank") == "caution"


def test_dangerous_line_amps_far_past_the_rating(bike: Outside) -> None:
    bike.put(("drive.controller.line_a", 230))
    assert bike.says("drive.line_rating") == "caution"
    bike.put(("drive.controller.line_a", 1350))
    assert bike.says("drive.line_rating") == "stop"
