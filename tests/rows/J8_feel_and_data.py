"""What was felt beside what was measured: they agree, they do not, or the numbers do not tell."""

from __future__ import annotations

from typing import Any

from rows.conftest import Outside
from rows.J2_told_apart import FAST, SLOW, session


def felt(bike: Outside, made: dict[str, Any], setup: str, status: int = 200) -> dict[str, Any]:
    got = bike.client.post(f"{bike.url}/sessions/{made['id']}/felt", params={"setup": setup})
    assert got.status_code == status, got.text
    return dict(got.json())


def test_ordinary_they_agree(bike: Outside) -> None:
    assert "say so too" in felt(bike, session(bike), "new")["felt_words"]


def test_dangerous_the_numbers_say_the_opposite(bike: Outside) -> None:
    assert "the opposite" in felt(bike, session(bike), "old")["felt_words"]


def test_dangerous_a_feeling_is_no_result(bike: Outside) -> None:
    made = session(bike, [8.1, 8.25, 8.05, 8.2], [8.15, 8.1, 8.22, 8.08])
    assert "do not tell it apart" in felt(bike, made, "new")["felt_words"]


def test_it_is_kept(bike: Outside) -> None:
    felt(bike, session(bike), "new")
    assert bike.client.get(f"{bike.url}/sessions").json()[0]["felt"] == "new"


def test_unknown_nobody_said_anything(bike: Outside) -> None:
    assert session(bike)["felt_words"] == "" and len(FAST) == len(SLOW)


def test_not_there_a_setup_that_was_not_ridden(bike: Outside) -> None:
    assert "not of this session" in felt(bike, session(bike), "third", 422)["message"]
