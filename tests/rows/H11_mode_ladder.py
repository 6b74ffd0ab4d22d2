"""Modes as a ladder: the first ride low and slow, and the bike starts in it."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Linked, Outside


def rows(bike: Outside) -> dict[str, dict[str, Any]]:
    return {r["name"]: r for r in bike.body["assessment"]["drawings"]["tune"]["rows"]}


def test_ordinary_three_modes_that_rise(bike: Outside) -> None:
    r = rows(bike)
    powers = [r[f"mode_{i}_pct"]["recommended"] for i in (1, 2, 3)]
    assert powers == sorted(powers) and powers[0] == 30 and powers[2] == 100
    assert r["mode_1_m_s"]["recommended"] == pytest.approx(25 / 3.6)
    assert r["start_mode"]["recommended"] == 1
    assert r["mode_3_m_s"]["recommended"] == r["speed_cap_m_s"]["recommended"]


def test_no_mode_is_faster_than_the_brakes_allow(bike: Outside) -> None:
    r = rows(Outside(bike.client, "pip-72"))
    assert r["mode_3_m_s"]["recommended"] == r["speed_cap_m_s"]["recommended"] < 14


@pytest.mark.parametrize(
    ("name", "value"),
    [("start_mode", 3), ("mode_1_pct", 100), ("mode_1_m_s", 30), ("mode_1_ramp_s", 0)],
)
def test_dangerous_a_first_mode_that_is_none(bike: Outside, name: str, value: float) -> None:
    bike.put(("tune.chosen", [{"name": name, "value": value}]))
    assert bike.says(f"tune.param.{name}") == "caution"


def test_the_bench_rides_no_faster_than_the_first_mode(linked: Linked) -> None:
    linked.written()
    linked.hand(stand=False, throttle=1.0)
    linked.bench("wait", seconds=30)
    assert linked.bench("state")["state"]["speed_m_s"] == pytest.approx(25 / 3.6, rel=0.05)


def test_a_guest_gets_a_gentle_set(bike: Outside) -> None:
    plan = bike.client.get(f"{bike.url}/settings/swap", params={"after": "Guest"}).json()
    after = {r["name"]: r for r in plan["rows"]}
    assert after["line_a"]["after"] < after["line_a"]["before"] and after["ramp_s"]["after"] >= 0.3


def test_unknown_top_speed_gives_no_speed_for_a_mode(bike: Outside) -> None:
    bike.put(("gear.rear_teeth", None))
    assert "mode_1_m_s" not in rows(bike) and rows(bike)["mode_1_pct"]["recommended"] == 30


def test_not_there_a_profile_without_a_name_is_none(bike: Outside) -> None:
    assert bike.client.get(f"{bike.url}/settings/swap", params={"after": " "}).status_code == 404
