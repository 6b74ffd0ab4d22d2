"""Minutes from amp hours at a mean current."""

from __future__ import annotations

import pytest

from rows.conftest import Outside


def test_ordinary_by_hand(bike: Outside) -> None:
    """30 Ah and 45 Ah at 40 A: 45 and 67.5 minutes."""
    got = bike.client.get(
        "/api/sums/runtime", params={"first_ah": 30, "second_ah": 45, "mean_a": 40}
    ).json()
    assert got == pytest.approx([45, 67.5])


def test_dangerous_twice_the_current_is_half_the_time(bike: Outside) -> None:
    got = bike.client.get(
        "/api/sums/runtime", params={"first_ah": 30, "second_ah": 45, "mean_a": 80}
    ).json()
    assert got == pytest.approx([22.5, 33.75])


def test_unknown_current_is_no_number(bike: Outside) -> None:
    assert bike.client.get("/api/sums/runtime", params={"mean_a": "some"}).status_code == 422


def test_not_there_no_current(bike: Outside) -> None:
    assert bike.client.get("/api/sums/runtime", params={"mean_a": 0}).status_code == 422
