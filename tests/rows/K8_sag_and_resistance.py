"""Pack resistance from two readings, and sag from resistance."""

from __future__ import annotations

import pytest

from rows.conftest import Outside


def test_ordinary_two_readings(bike: Outside) -> None:
    """R = (V1 - V2) / (I2 - I1) by hand: 96.0 V at 2 A, 90.2 V at 80 A."""
    got = bike.client.get(
        "/api/sums/resistance", params={"v1": 96.0, "a1": 2, "v2": 90.2, "a2": 80}
    ).json()
    assert got["value"] == pytest.approx(5.8 / 78)
    assert got["spread"] > 0.0


def test_sag_is_amps_times_it(bike: Outside) -> None:
    """Ohm's law: rest less load is the pack's resistance times the line amps, at every charge of the table."""
    ohm, d = bike.figure("pack", "r"), bike.body["assessment"]["drawings"]["pack"]
    assert ohm is not None and len(d["sag"]) >= 5
    for row in d["sag"]:
        assert row["rest_v"] - row["load_v"] == pytest.approx(ohm * d["load_a"], rel=1e-6)


def test_close_readings_are_uncertain(bike: Outside) -> None:
    near = {"v1": 96.0, "a1": 2, "v2": 95.4, "a2": 10}
    far = {"v1": 96.0, "a1": 2, "v2": 90.2, "a2": 80}
    spread = [
        bike.client.get("/api/sums/resistance", params=p).json()["spread"] for p in (near, far)
    ]
    assert spread[0] > 5 * spread[1]


def test_dangerous_volts_that_rise_under_load_are_refused(bike: Outside) -> None:
    got = bike.client.get("/api/sums/resistance", params={"v1": 90, "a1": 2, "v2": 96, "a2": 80})
    assert got.status_code == 422 and "clamp" in got.json()["message"]


def test_dangerous_a_drop_within_the_meter_s_own_error_tells_nothing(bike: Outside) -> None:
    """10 mV at 100 A would be 0.1 mOhm, fourteen times that either way."""
    got = bike.client.get(
        "/api/sums/resistance", params={"v1": 84, "a1": 0, "v2": 83.99, "a2": 100}
    )
    assert got.status_code == 422 and "tells no resistance" in got.json()["message"]
    got = bike.client.get("/api/sums/phase-ohm", params={"volts": 0.001, "amps": 1})
    assert got.status_code == 422 and "More amps" in got.json()["todo"]


def test_unknown_the_same_current_twice_says_nothing(bike: Outside) -> None:
    got = bike.client.get("/api/sums/resistance", params={"v1": 96, "a1": 20, "v2": 95, "a2": 20})
    assert got.status_code == 422


def test_not_there_a_missing_reading_is_asked_for(bike: Outside) -> None:
    assert bike.client.get("/api/sums/resistance", params={"v1": 96, "a1": 20}).status_code == 422


def test_dangerous_amps_a_hair_apart_tell_nothing(bike: Outside) -> None:
    """4 V between 10.0 and 10.2 A would be 20 Ω; a clamp is off by 2 % of 10 A, as much as lies between the two."""
    params = {"v1": 84, "a1": 10, "v2": 80, "a2": 10.2}
    got = bike.client.get("/api/sums/resistance", params=params)
    assert got.status_code == 422 and "further apart" in got.json()["todo"]
