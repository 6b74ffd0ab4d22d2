"""Is a power plausible for a time: ½ m v² over the time, drag and spin-up beside it; a claim judged."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside


def power(bike: Outside, status: int = 200, **params: Any) -> dict[str, Any]:
    got = bike.client.get("/api/sums/power-from-time", params=params)
    assert got.status_code == status, got.text
    return dict(got.json())


def test_ordinary_the_planner_s_own_run_lies_within(bike: Outside) -> None:
    """Time and mass of the demo bike: thrust times speed at the end of it lies between the bounds."""
    mass = (
        bike.head["mass_kg"]
        + bike.body["doc"]["goal"]["rider_kg"]["amount"]
        + bike.body["doc"]["goal"]["gear_kg"]["amount"]
    )
    speed, time_s = bike.head["to_speed_m_s"], bike.head["to_time_s"]
    thrust = bike.rung()["launch_n"]  # even up to there: the phase amps hold it
    p = power(bike, mass_kg=mass, speed_m_s=speed, time_s=time_s, claimed_w=thrust * speed)
    assert p["fits"] is True


def test_by_hand(bike: Outside) -> None:
    """½ 150 x 1.05 x 27² / 6 s = 9.57 kW, plus 4 to 25 % drag."""
    p = power(bike, mass_kg=150, speed_m_s=27, time_s=6)
    assert p["mean_low_w"] == pytest.approx(0.5 * 150 * 1.05 * 27**2 / 6 * 1.04)
    assert p["mean_high_w"] == pytest.approx(0.5 * 150 * 1.05 * 27**2 / 6 * 1.25)


def test_dangerous_a_claim_that_cannot_be(bike: Outside) -> None:
    p = power(bike, mass_kg=180, speed_m_s=27.8, time_s=3.0, claimed_w=8000)
    assert p["fits"] is False and "cannot do that" in p["sentence"]


def test_dangerous_a_label_that_never_reaches_the_ground(bike: Outside) -> None:
    assert "label" in power(bike, mass_kg=150, speed_m_s=27, time_s=9, claimed_w=40_000)["sentence"]


def test_unknown_without_a_claim_no_verdict(bike: Outside) -> None:
    assert power(bike, mass_kg=150, speed_m_s=27, time_s=6)["fits"] is None


def test_not_there_no_time_no_power(bike: Outside) -> None:
    power(bike, 422, mass_kg=150, speed_m_s=27, time_s=0)


def test_dangerous_a_time_that_no_tyre_allows(bike: Outside) -> None:
    """100 km/h in 0.6 s is 46 m/s², 4.7 times gravity: no power makes that, so none is judged for it."""
    p = power(bike, mass_kg=135, speed_m_s=27.8, time_s=0.6, claimed_w=150_000)
    assert "4.7 times gravity" in p["odd"] and p["odd"] in p["sentence"]
    assert power(bike, mass_kg=135, speed_m_s=27.8, time_s=3.0)["odd"] == ""


@pytest.mark.parametrize("kg", [13.5, 1350])
def test_dangerous_a_mass_that_is_no_ridden_bike(bike: Outside, kg: float) -> None:
    assert "slip of a digit" in power(bike, mass_kg=kg, speed_m_s=27.8, time_s=6)["odd"]
