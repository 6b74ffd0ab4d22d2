"""More amps: small steps, each with what is expected, never past the chain."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside


def plan(bike: Outside, amps: float) -> dict[str, Any]:
    got = bike.client.get(f"{bike.url}/uprate", params={"line_a": amps})
    assert got.status_code == 200, got.text
    return dict(got.json())


def ready(bike: Outside) -> Outside:
    return bike.put(("drive.controller.line_a", 60))


def test_ordinary_steps_of_a_tenth(bike: Outside) -> None:
    made = plan(ready(bike), 100)
    amps = [made["from_a"], *(s["line_a"] for s in made["steps"])]
    assert amps[0] == 60 and amps[-1] == 100 and made["ends"] == ""
    assert all(b / a <= 1.1 + 1e-9 for a, b in zip(amps, amps[1:], strict=False))


def test_each_step_is_worse_for_volts_and_heat(bike: Outside) -> None:
    steps = plan(ready(bike), 105)["steps"]
    volts, heat = [s["lowest_v"] for s in steps], [s["winding_rise_k"] for s in steps]
    assert volts == sorted(volts, reverse=True) and heat == sorted(heat)
    assert all(s["stop_c"] < 140 for s in steps)


def test_dangerous_the_chain_ends_it_with_the_one_number(bike: Outside) -> None:
    made = plan(ready(bike), 500)
    rows = bike.body["assessment"]["drawings"]["tune"]["rows"]
    told = next(r for r in rows if r["name"] == "line_a")["recommended"]
    assert made["to_a"] == pytest.approx(min(told, 200)) and made["ends"]
    assert all(s["line_a"] <= made["to_a"] + 1e-9 for s in made["steps"])


def test_unknown_a_bike_that_does_not_compute_says_so(bike: Outside) -> None:
    bike.put(("drive.motor.kv_rpm_v", None))
    got = bike.client.get(f"{bike.url}/uprate", params={"line_a": 100})
    assert got.status_code == 422 and "does not compute" in got.json()["message"]


def test_not_there_no_setting_has_no_first_step(bike: Outside) -> None:
    bike.put(("drive.controller.line_a", None), ("drive.controller.line_max_a", None))
    assert bike.client.get(f"{bike.url}/uprate", params={"line_a": 100}).status_code == 422


def test_dangerous_no_step_over_a_stop(bike: Outside) -> None:
    """Without a main fuse the plan went to 250 A without a word."""
    made = ready(bike)
    assert plan(made, 100)["steps"]
    made.put(("guard.fuse.presence", "not there"))
    got = plan(made, 100)
    assert got["steps"] == [] and got["to_a"] == got["from_a"]
    assert "a stop stands" in got["ends"] and "fuse" in got["ends"].lower()


def test_dangerous_a_setting_over_the_chain_goes_down_first(bike: Outside) -> None:
    got = plan(bike, 200)
    assert got["steps"] == [] and got["to_a"] < got["from_a"]
    assert f"down to {got['to_a']:.0f} A first" in got["ends"]


@pytest.mark.parametrize(
    ("sensor", "words"),
    [(True, ""), (False, "No sensor is in the winding"), (None, "Nobody says whether a sensor")],
)
def test_unknown_sensor_is_said_and_the_case_has_its_own_rise(
    bike: Outside, sensor: bool | None, words: str
) -> None:
    """A case read by hand was held against the rise of the winding, which is many times its own."""
    got = plan(ready(bike).put(("drive.motor.temp_sensor", sensor)), 100)
    assert got["unread"].startswith(words) and bool(got["unread"]) is bool(words)
    assert all(0 <= s["case_rise_k"] < 0.5 * s["winding_rise_k"] for s in got["steps"])
