"""Which speed to believe: the display's against the satellite's, the error and the circumference that cures it."""

from __future__ import annotations

import pytest

from rows.conftest import Outside
from rows.H10_display import shown


def test_ordinary_display_against_satellite(bike: Outside) -> None:
    found = shown(bike, shown_m_s=25.0, true_m_s=24.0)
    assert (
        found["share"] == pytest.approx(1 / 24) and "more than the true speed" in found["sentence"]
    )


def test_the_circumference_that_makes_it_right(bike: Outside) -> None:
    found = shown(bike, shown_m_s=25.0, true_m_s=24.0, wheel_m=2.0)
    assert found["wheel_m"] == pytest.approx(1.92)


def test_dangerous_a_display_that_shows_less_hides_speed(bike: Outside) -> None:
    assert "faster than it says" in shown(bike, shown_m_s=18.0, true_m_s=20.0)["sentence"]


def test_unknown_at_walking_pace_it_is_not_told(bike: Outside) -> None:
    got = bike.client.get(f"{bike.url}/settings/display", params={"shown_m_s": 1, "true_m_s": 1})
    assert got.status_code == 422 and "Too slow" in got.json()["message"]


def test_not_there_within_half_a_percent_it_is_right(bike: Outside) -> None:
    assert "within half a percent" in shown(bike, shown_m_s=20.05, true_m_s=20.0)["sentence"]
