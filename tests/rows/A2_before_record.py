"""The bike as it was before: a base that every percentage names; unknown stays unknown."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside


def table(bike: Outside) -> dict[str, dict[str, Any]]:
    rows = bike.body["assessment"]["drawings"]["donor"]["before_after"]
    return {r["label"]: r for r in rows}


def test_ordinary_change_is_of_the_measured_base(bike: Outside) -> None:
    top = table(bike)["Top speed"]
    base = top["measured"] if top["measured"] is not None else top["stock"]
    assert top["change"] == pytest.approx((top["now"] - base) / base)


def test_after_follows_the_build(bike: Outside) -> None:
    before = table(bike)["Top speed"]["now"]
    bike.put(("gear.rear_teeth", 70))
    assert table(bike)["Top speed"]["now"] < before


def test_dangerous_a_bike_that_cuts_out_shows_no_time(bike: Outside) -> None:
    bike.put(("guard.bms.i_cont_a", 40), ("guard.bms.i_peak_a", 60), ("guard.bms.peak_s", 1))
    assert bike.head["to_time_s"] is None
    for row in table(bike).values():
        if row["quantity"] == "s":
            assert row["now"] is None and row["change"] is None


def test_unknown_base_gives_no_percentage(bike: Outside) -> None:
    bike.put(("donor.stock", {}))
    for row in table(bike).values():
        if row["stock"] is None and row["measured"] is None:
            assert row["change"] is None


def test_not_there_a_gas_roller_has_no_electric_before(bike: Outside) -> None:
    roller = Outside(bike.client, "brakka-96")
    assert roller.body["assessment"]["drawings"]["donor"]["before_after"] == []


def test_dangerous_a_record_that_its_own_parts_cannot_do_is_said(bike: Outside) -> None:
    """60 m/s typed for a stock bike whose parts give 17: the base of every percentage would be that."""
    assert bike.says("donor.stock_off") == ""
    number = {"amount": 60.0, "origin": "measured", "tolerance": None}
    bike.put(("donor.stock.top_m_s", number))
    assert bike.says("donor.stock_off.top_speed") == "caution"
    assert bike.put(("donor.stock.top_m_s", None)).says("donor.stock_off") == ""
