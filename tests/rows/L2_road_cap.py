"""Where a test may be ridden and how fast: sight, road limit, surface; over a limit it is refused."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside


def cap(bike: Outside, status: int = 200, **params: Any) -> dict[str, Any]:
    got = bike.client.get("/api/sums/road-cap", params=params)
    assert got.status_code == status, got.text
    return dict(got.json())


def test_ordinary_it_stops_in_half_of_what_is_seen(bike: Outside) -> None:
    """By hand: v + v²/10 = 50 m with 1 s and 5 m/s² gives 17.9 m/s."""
    c = cap(bike, sight_m=100, wanted_m_s=40, closed=True)
    assert c["speed_m_s"] == pytest.approx(17.91, abs=0.01) and c["stop_m"] == pytest.approx(
        50, abs=0.01
    )


def test_dangerous_over_the_limit_is_refused(bike: Outside) -> None:
    c = cap(bike, sight_m=500, wanted_m_s=30, limit_m_s=13.9, closed=False)
    assert c["speed_m_s"] == 0 and "over the limit" in c["refused"]


def test_dangerous_loose_ground_takes_longer(bike: Outside) -> None:
    assert (
        cap(bike, sight_m=100, wanted_m_s=40, loose=True, closed=True)["speed_m_s"]
        < cap(bike, sight_m=100, wanted_m_s=40, closed=True)["speed_m_s"]
    )


def test_unknown_limit_of_an_open_road(bike: Outside) -> None:
    assert "without a known limit" in cap(bike, sight_m=500, wanted_m_s=10, closed=False)["refused"]


def test_not_there_no_sight_no_test(bike: Outside) -> None:
    cap(bike, 422, sight_m=0)


def test_unknown_whether_it_is_closed_is_an_open_road(bike: Outside) -> None:
    over = cap(bike, sight_m=300, wanted_m_s=25, limit_m_s=13.9)
    assert over["speed_m_s"] == 0 and "over the limit" in over["refused"]
    assert "no place for a test" in cap(bike, sight_m=300, wanted_m_s=25)["refused"]
