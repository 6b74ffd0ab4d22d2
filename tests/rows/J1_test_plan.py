"""A plan that can tell setups apart: order, how many trials, what is held alike; a session that is ridden by it."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside


def planned(bike: Outside, status: int = 201, **more: Any) -> dict[str, Any]:
    body = {
        "name": "Sunday",
        "setups": ["12/52", "13/52"],
        "trials": 4,
        "spread": 0.08,
        "gap": 0.15,
        **more,
    }
    got = bike.client.post(f"{bike.url}/sessions", json=body)
    assert got.status_code == status, got.text
    return dict(got.json())


def ride(bike: Outside, session: str, status: int = 201, **trial: Any) -> dict[str, Any]:
    got = bike.client.post(f"{bike.url}/sessions/{session}/trials", json=trial)
    assert got.status_code == status, got.text
    return dict(got.json())


def test_ordinary_order_number_and_rules(bike: Outside) -> None:
    """Normal approximation: n ≈ 2 (1.96 + 0.84)² (0.08/0.15)² = 4.5; Student's asks for a little more."""
    made = planned(bike)["plan"]
    assert sorted(made["order"]) == ["12/52"] * 4 + ["13/52"] * 4
    assert made["needed"] in (5, 6, 7)
    assert (
        any("Charge back" in r for r in made["rules"])
        and "4 trials of each show" in made["sentence"]
    )


def test_ballast_makes_masses_equal(bike: Outside) -> None:
    made = planned(bike, masses={"12/52": 150, "13/52": 154.5})["plan"]
    assert made["ballast"] == ["12/52: {{4.5|kg}} of ballast, tied low and near the middle"]


def test_dangerous_downhill_is_its_own_class(bike: Outside) -> None:
    made = planned(bike, protocol="top speed, downhill")["plan"]
    assert any("never mixed with flat" in r for r in made["rules"])


def test_dangerous_no_run_is_taken_while_the_bike_is_in_quarantine(bike: Outside) -> None:
    made = planned(bike)
    bike.put(("prove.quarantine", "fell at the gate"))
    assert bike.says("prove.quarantine") == "stop"
    got = ride(bike, made["id"], 409, setup="12/52", value=8.1)
    assert "quarantine" in got["message"]


def test_a_gap_too_small_is_said(bike: Outside) -> None:
    made = planned(bike, gap=0.001)["plan"]
    assert made["needed"] is None and "too small" in made["sentence"]


def test_unknown_setup_is_refused(bike: Outside) -> None:
    made = planned(bike)
    assert "not of this session" in ride(bike, made["id"], 422, setup="14/52", value=8)["message"]


@pytest.mark.parametrize(
    "bad",
    [
        {"setups": ["a"]},
        {"setups": ["a", "a"]},
        {"spread": 0},
        {"trials": 1},
        {"protocol": "by feel"},
    ],
)
def test_not_there_a_plan_of_nothing(bike: Outside, bad: dict[str, Any]) -> None:
    planned(bike, 422, **bad)


def test_it_is_kept_and_can_be_taken_out(bike: Outside) -> None:
    made = planned(bike)
    ride(bike, made["id"], setup="12/52", value=8.2, soc=0.9)
    book = bike.client.get(f"{bike.url}/sessions").json()
    assert book[0]["trials"][0]["value"] == 8.2 and "Two setups" in book[0]["problem"]
    url = f"{bike.url}/sessions/{made['id']}"
    assert bike.client.delete(url).json() == [] == bike.client.get(f"{bike.url}/sessions").json()


def test_dangerous_a_session_that_was_removed_loses_no_run(bike: Outside) -> None:
    """It takes no runs while it is out, does not count in the book, and comes back with all that it had."""
    made = planned(bike)
    ride(bike, made["id"], setup="12/52", value=8.2, soc=0.9)
    url = f"{bike.url}/sessions/{made['id']}"
    before = bike.client.get(f"{bike.url}/sessions").json()
    bike.client.delete(url)
    ride(bike, made["id"], 404, setup="12/52", value=8.3)
    told = bike.client.get(f"{bike.url}/book").text
    assert "Sunday" not in told and "8.2" not in told
    assert bike.client.post(f"{url}/back").json() == before
    assert "Sunday" in bike.client.get(f"{bike.url}/book").text
    assert bike.client.post(f"{bike.url}/sessions/none/back").status_code == 404


def test_ordinary_riders_take_turns_by_the_block(bike: Outside) -> None:
    """Four trials of two setups by two riders: each rides both setups twice, one block each way."""
    made = planned(bike, riders=["A", "B"])["plan"]
    pairs = list(zip(made["order"], made["riders"], strict=True))
    for who in ("A", "B"):
        assert sorted(s for s, r in pairs if r == who) == ["12/52"] * 2 + ["13/52"] * 2
    assert made["riders"] == ["A"] * 4 + ["B"] * 4
    first, turned = made["order"][:2], made["order"][2:4]
    assert first == turned[::-1]
    assert any("one rider, all setups" in r for r in made["rules"])
    assert not any("Same rider" in r for r in made["rules"])
    assert planned(bike)["plan"]["riders"] == []


def test_dangerous_riders_that_do_not_go_evenly_are_said(bike: Outside) -> None:
    made = planned(bike, riders=["A", "B", "C"])["plan"]
    assert any("do not go evenly among 3 riders: 6 do" in r for r in made["rules"])
    assert planned(bike, 422, riders=["A", "A"])["message"]


def test_dangerous_one_rider_on_most_of_one_setup(bike: Outside) -> None:
    """Both riders rode both setups, so the names were alike; A rode three of four of one, one of four of the other."""
    made = planned(bike)
    for setup, who in (("12/52", "AAAB"), ("13/52", "ABBB")):
        for rider in who:
            last = ride(bike, made["id"], setup=setup, value=8.1, rider=rider)
    found = {s["what"]: s for s in last["verdict"]["spoilers"]}
    assert found["rider"]["weight"] == "caution" and "3 of 4" in found["rider"]["sentence"]


def test_a_run_that_comes_in_late_keeps_the_bike_that_it_was_tapped_on(bike: Outside) -> None:
    """Kept in the phone while the connection was gone, and the sprocket was changed before it was sent."""
    made, seq = planned(bike), bike.body["seq"]
    bike.put(("gear.front_teeth", 13))
    late = ride(bike, made["id"], setup="12/52", value=8.1, seq=seq)["trials"][0]
    assert late["seq"] == seq
    assert ride(bike, made["id"], setup="12/52", value=8.1)["trials"][1]["seq"] == bike.body["seq"]
    beyond = ride(bike, made["id"], setup="12/52", value=8.1, seq=10**6)["trials"][2]
    assert beyond["seq"] == bike.body["seq"]


def test_the_spread_is_that_of_earlier_runs(bike: Outside) -> None:
    """Pooled: (2 x 0.01 + 1 x 0.02) / 3 by hand; a discarded run and a setup ridden once say nothing."""
    url = f"{bike.url}/sessions/spread"
    asked = {"protocol": "between marks"}
    assert bike.client.get(url, params=asked).json() == {"spread": None, "runs": 0}
    made = planned(bike)
    for setup, value in (("12/52", 8.0), ("12/52", 8.1), ("12/52", 8.2), ("13/52", 7.9)):
        ride(bike, made["id"], setup=setup, value=value)
    ride(bike, made["id"], setup="13/52", value=8.1)
    ride(bike, made["id"], setup="13/52", value=19.0, discarded="missed the line")
    found = bike.client.get(url, params=asked).json()
    assert found["runs"] == 5
    assert found["spread"] == pytest.approx(((2 * 0.01 + 1 * 0.02) / 3) ** 0.5)
    assert bike.client.get(url, params={"protocol": "by feel"}).status_code == 422
