"""Tyre and rim: width, room, load index, speed symbol."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside

# kg of load indices as printed in the tyre standards (ISO 4251-1, UN R75), from memory.
INDEX = {40: 140, 47: 175, 54: 212, 57: 230, 62: 265, 66: 300, 73: 365, 80: 450}


def axle(bike: Outside, which: str) -> dict[str, float]:
    rows = bike.body["assessment"]["drawings"]["gear"]["chassis"]["axles"]
    return dict(next(r for r in rows if r["end"] == which))


@pytest.mark.parametrize(("index", "kg"), sorted(INDEX.items()))
def test_ordinary_load_index(bike: Outside, index: int, kg: float) -> None:
    bike.put(("gear.tyre.load_index", index))
    assert axle(bike, "rear")["carries_kg"] == kg


def test_ordinary_rim_and_room_that_suit_say_nothing(bike: Outside) -> None:
    bike.put(("gear.tyre.rim_m", "1.85 in"), ("gear.tyre.gap_m", 0.1))
    assert bike.says("gear.rim") == "" and bike.says("gear.tyre_room") == ""


def test_dangerous_a_bicycle_tyre_under_a_moto_is_a_stop(bike: Outside) -> None:
    bike.put(("gear.tyre.load_index", 22))
    assert axle(bike, "rear")["kg"] > 85 and bike.says("gear.tyre_load.rear") == "stop"


def test_dangerous_a_tyre_wider_than_its_room_is_a_stop(bike: Outside) -> None:
    bike.put(("gear.tyre.code", "140/80-18"), ("gear.tyre.gap_m", 0.135))
    assert bike.says("gear.tyre_room.rear") == "stop"
    bike.put(("gear.tyre.gap_m", 0.147))
    assert bike.says("gear.tyre_room.rear") == "caution"


def test_ordinary_a_tyre_grows_with_the_square_of_the_speed(bike: Outside) -> None:
    """1.5 % of the free radius at 40 m/s for a cross-ply tyre, 0.5 % for a radial (common practice, no source)."""
    top = bike.head["top_speed_m_s"]
    free = 19 * 0.0254 / 2 + 0.080
    assert axle(bike, "rear")["grown_m"] == pytest.approx(
        free * 0.015 * (top / 40.0) ** 2, rel=1e-6
    )
    assert bike.figure("gear", "growth") == pytest.approx(1.5 * (top / 40.0) ** 2)  # per cent
    bike.put(("gear.tyre.code", "80/100 R19"))
    assert axle(bike, "rear")["grown_m"] == pytest.approx(
        free * 0.005 * (top / 40.0) ** 2, rel=1e-3
    )


def test_unknown_size_has_no_growth(bike: Outside) -> None:
    bike.put(("gear.tyre.code", ""), ("gear.tyre.rolling_radius_m", 0.31))
    assert bike.figure("gear", "growth") is None


def test_dangerous_a_tyre_that_grows_into_its_mudguard_is_a_stop(bike: Outside) -> None:
    bike.put(("gear.tyre.over_m", 0.001))
    assert bike.says("gear.tyre_over.rear") == "stop"
    bike.put(("gear.tyre.over_m", 0.02))
    assert bike.says("gear.tyre_over") == ""


def test_dangerous_a_wide_tyre_on_a_narrow_rim(bike: Outside) -> None:
    bike.put(("gear.tyre.code", "140/80-18"), ("gear.tyre.rim_m", "1.85 in"))
    assert bike.says("gear.rim.rear") == "caution" and "narrow" in bike.words("gear.rim")


def test_dangerous_a_slow_front_tyre_counts_too(bike: Outside) -> None:
    bike.put(("gear.front_tyre", {"code": "80/100-21", "speed_symbol": "J"}))
    assert bike.says("gear.tyre.front") == ""
    bike.put(("gear.front_tyre.speed_symbol", "F"))
    assert bike.says("gear.tyre.front") == "stop" and bike.says("gear.top_mode") == "caution"


def test_unknown_index_and_symbol_are_said(bike: Outside) -> None:
    bike.put(("gear.tyre.load_index", None), ("gear.tyre.speed_symbol", ""))
    assert (
        bike.says("gear.tyre_load_open") == "note" and bike.says("gear.tyre_unknown") == "caution"
    )


def test_not_there_an_index_outside_the_table_is_no_number(bike: Outside) -> None:
    bike.put(("gear.tyre.load_index", 120))
    assert axle(bike, "rear")["carries_kg"] is None and bike.says("gear.tyre_load_open") == "note"


def fix_of(bike: Outside, label: str) -> dict[str, Any]:
    return next(f for f in bike.findings()["gear.tyre"]["fixes"] if label in f["label"])


def test_dangerous_a_slow_tyre_has_a_faster_one_for_its_rim_or_another_gearing(
    bike: Outside,
) -> None:
    """Either fix, taken, leaves no stop; what was measured of the rim stays with another tyre."""
    bike.put(("gear.tyre.speed_symbol", "B"), ("gear.tyre.rim_m", 0.047))
    assert bike.says("gear.tyre") == "stop"
    faster = fix_of(bike, "Fit ")
    bike.put(*((c["path"], c["value"]) for c in faster["changes"]))
    tyre = bike.body["doc"]["gear"]["tyre"]
    assert (
        bike.says("gear.tyre") == ""
        and tyre["code"].endswith("-19")
        and tyre["rim_m"]["amount"] == 0.047
    )
    quick = Outside(bike.client, "brakka-96")
    quick.put(("drive.controller.fw_id_a", 60), ("gear.tyre.speed_symbol", "M"))
    slower = fix_of(quick, "Gear it down")
    quick.put(*((c["path"], c["value"]) for c in slower["changes"]))
    assert quick.says("gear.tyre") == "" and quick.head["top_speed_m_s"] <= 130 / 3.6
