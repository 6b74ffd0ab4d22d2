"""Acceptance: goal and baseline against what was measured: met, not met, undecided, not measured."""

from __future__ import annotations

from typing import Any

from rows.conftest import Outside


def rows(bike: Outside) -> dict[str, dict[str, Any]]:
    got = bike.client.get(f"{bike.url}/acceptance")
    assert got.status_code == 200, got.text
    return {r["what"]: r for r in got.json()}


def test_ordinary_against_the_log(bike: Outside) -> None:
    measured = rows(bike)["top speed"]["measured"]
    bike.put(("goal.top_speed_m_s", measured - 3))
    assert rows(bike)["top speed"]["state"] == "met"


def test_dangerous_not_met_is_not_rounded_up(bike: Outside) -> None:
    r = rows(bike)["top speed"]
    bike.put(("goal.top_speed_m_s", r["measured"] + 2 * r["u95"]))
    assert rows(bike)["top speed"]["state"] == "not met"


def test_dangerous_within_its_uncertainty_it_is_undecided(bike: Outside) -> None:
    r = rows(bike)["top speed"]
    bike.put(("goal.top_speed_m_s", r["measured"] + 0.3 * r["u95"]))
    assert rows(bike)["top speed"]["state"] == "undecided"


def test_the_base_is_the_donor_s_measured_one(bike: Outside) -> None:
    bike.put(("donor.stock.top_m_s", 20.0))
    assert rows(bike)["top speed"]["baseline"] == 20.0


def test_unknown_without_a_log_nothing_is_measured(bike: Outside) -> None:
    bike.put(("prove.log_id", ""))
    assert {r["state"] for r in rows(bike).values()} == {"not measured"}


def test_not_there_no_wish_no_row(bike: Outside) -> None:
    bike.put(("goal.top_speed_m_s", None), ("goal.to_time_s", None))
    assert rows(bike) == {}
