"""What a log shows in figures, through the API: against what the bench bike really did; what cannot be is said."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from ninebolt.bench.ride import coast_down, ride
from ninebolt.formats.ride_csv import write_ride
from ninebolt.library.demo import moss
from rows.conftest import Outside


@pytest.fixture
def bike(client: TestClient) -> Outside:
    return Outside(client)


def figures(bike: Outside, log: Any) -> dict[str, Any]:
    got = bike.client.post(
        f"{bike.url}/logs?bolt=prove", files={"file": ("x.csv", write_ride(log))}
    )
    assert got.status_code == 201, got.text
    log_id = got.json()["doc"]["prove"]["log_id"]
    return dict(bike.client.get(f"{bike.url}/logs/{log_id}/figures").json())


def row(part: dict[str, Any], key: str) -> dict[str, Any]:
    return next(x for x in part["figures"] if x["key"] == key)


def test_ordinary_a_run_says_what_it_drew_and_what_of_it_reached_the_wheel(bike: Outside) -> None:
    """The predicted run of the same bike, near the bench's: energy within a seventh, the share its efficiency."""
    found = figures(bike, ride(moss(), 4, [])[1])
    assert found["launch"] == 1
    drawn = row(found["run"], "energy")["value"]
    assert drawn == pytest.approx(bike.figure("prove", "run_wh"), rel=0.15)
    share = row(found["run"], "brought")
    assert 0.65 < share["value"] < 0.95 and share["note"] == ""
    ohm = row(found["run"], "ohm")
    assert ohm["u95"] < 0.2 * ohm["value"]
    assert row(found["run"], "sag")["value"] > 3.0 and row(found["run"], "rolled")["value"] > 1.5
    assert row(found["ride"], "way")["value"] > row(found["run"], "way")["value"]


def test_dangerous_more_at_the_wheel_than_out_of_the_pack_is_not_believed(bike: Outside) -> None:
    """An ammeter whose scale is half of what is true."""
    log = ride(moss(), 4, [])[1]
    log.columns["line_a"] *= 0.5
    share = row(figures(bike, log)["run"], "brought")
    assert share["value"] > 1.0 and "More comes out" in share["note"]


def test_a_slope_that_is_written_down_is_in_the_sum(bike: Outside) -> None:
    """Uphill, more of what was drawn has reached the wheel than the speed alone shows."""
    log = ride(moss(), 4, [])[1]
    flat = row(figures(bike, log)["run"], "brought")["value"]
    bike.put(("prove.slope_pct", {"amount": 3.0, "origin": "measured", "tolerance": None}))
    log_id = bike.body["doc"]["prove"]["log_id"]
    up = bike.client.get(f"{bike.url}/logs/{log_id}/figures").json()
    assert row(up["run"], "brought")["value"] > flat + 0.1


def test_unknown_no_amps_no_power_and_it_is_said(bike: Outside) -> None:
    found = figures(bike, ride(moss(), 4, [])[0])
    assert any("no power and no energy" in w for w in found["run"]["words"])
    assert not any(x["key"] in ("energy", "brought", "ohm") for x in found["run"]["figures"])


def test_not_there_without_a_start_the_whole_ride_alone(bike: Outside) -> None:
    found = figures(bike, coast_down(moss(), 3, [], 17.0, 0.5))
    assert found["launch"] == 0 and found["run"]["figures"] == []
    assert row(found["ride"], "way")["value"] > 100.0
    assert bike.client.get(f"{bike.url}/logs/gone/figures").status_code == 404


def test_a_resistance_in_the_log_is_judged_with_its_half_width(bike: Outside) -> None:
    log = ride(moss(), 4, ["tired-pack"])[1]
    figures(bike, log)
    bike.body = bike.client.get(f"{bike.url}?bolt=prove").json()
    assert bike.says("prove.pack_ohm") == "caution" and "±" in bike.words("prove.pack_ohm")
