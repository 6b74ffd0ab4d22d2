"""Noise, creak, rub: bolt, brake, chain, each by its own look."""

from __future__ import annotations

import pytest

from rows.conftest import Linked, Outside
from rows.I6_no_throttle import hunt, on_the_bench

SYMPTOM = "noise or creak"


@pytest.mark.parametrize(
    ("place", "cause"), [("witness", "loose-bolt"), ("chain_slack", "slack-chain")]
)
def test_ordinary_each_has_its_look(bike: Outside, place: str, cause: str) -> None:
    seen = hunt(bike, SYMPTOM, (place, 0.0))
    assert seen["found"] and seen["suspects"][0]["key"] == cause


def test_dangerous_a_moved_mark_is_retorqued_before_the_next_ride(bike: Outside) -> None:
    assert "paint the mark anew" in hunt(bike, SYMPTOM, ("witness", 0.0))["suspects"][0]["repair"]


def test_a_dragging_brake_is_found_by_hand(linked: Linked) -> None:
    asked, seen = on_the_bench(linked, "dragging-brake", SYMPTOM)
    assert seen["found"] and seen["suspects"][0]["key"] == "dragging-brake" and "push" in asked


def test_unknown_crr_leaves_a_limit_of_the_assumed_one(bike: Outside) -> None:
    bike.put(("road.crr", None))
    seen = hunt(bike, "slow or fades")
    assert seen["next"] is not None


def test_not_there_nothing_found_by_three_good_looks(bike: Outside) -> None:
    assert not hunt(bike, SYMPTOM, ("witness", 1.0), ("chain_slack", 1.0), ("push", 10.0))["found"]
