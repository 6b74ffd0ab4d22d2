"""A percentage with its base: of, or more than; without one it is refused."""

from __future__ import annotations

import pytest

from rows.conftest import Outside


def claim(bike: Outside, text: str) -> tuple[int, dict[str, object]]:
    got = bike.client.get("/api/sums/claim", params={"text": text})
    return got.status_code, got.json()


def test_ordinary_both_readings(bike: Outside) -> None:
    """Closed form: 30 % more than 40 is 52; 30 % of 40 is 12."""
    status, said = claim(bike, "30 % more than 40")
    assert (
        status == 200
        and said["value"] == pytest.approx(52)
        and said["other_value"] == pytest.approx(12)
    )
    status, said = claim(bike, "30 % of 40")
    assert status == 200 and said["value"] == pytest.approx(12)


def test_less_than_nothing_is_refused(bike: Outside) -> None:
    assert claim(bike, "30 % of")[0] == 422


def test_without_a_base_it_is_refused(bike: Outside) -> None:
    status, said = claim(bike, "30 %")
    assert status == 422 and "of what" in str(said["message"])


def test_words_that_are_none(bike: Outside) -> None:
    for text in ("", "percent", "30", "x % of y", "%" * 60):
        assert claim(bike, text)[0] == 422


def test_two_numbers(bike: Outside) -> None:
    got = bike.client.get("/api/sums/percent", params={"a": 52, "b": 40}).json()
    assert 1.3 in [round(v, 6) for v in got.values() if isinstance(v, float)] or 130 in [
        round(v, 6) for v in got.values() if isinstance(v, float)
    ]
