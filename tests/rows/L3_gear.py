"""Rider's gear: what is missing, and what of it forbids the ride."""

from __future__ import annotations

import pytest

from rows.conftest import Outside
from rows.L1_ride_gate import WORN, gate, ready


def test_ordinary_all_of_it(bike: Outside) -> None:
    _, points, _ = gate(ready(bike))
    assert {points[g] for g in WORN} == {"go"}


@pytest.mark.parametrize(
    ("item", "state"), [("helmet", "stop"), ("boots", "stop"), ("goggles", "open")]
)
def test_dangerous_missing(bike: Outside, item: str, state: str) -> None:
    go, points, _ = gate(ready(bike), gear=[g for g in WORN if g != item])
    assert points[item] == state and not go


def test_unknown_words_do_not_count_as_gear(bike: Outside) -> None:
    _, points, _ = gate(ready(bike), gear=["hat"])
    assert points["helmet"] == "stop" and "hat" not in points


def test_not_there_nothing_worn(bike: Outside) -> None:
    go, points, _ = gate(ready(bike), gear=[])
    assert not go and points["gloves"] == "stop"
