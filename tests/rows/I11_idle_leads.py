"""Odd volts on an idle lead: what a lead beside live ones picks up is no supply."""

from __future__ import annotations

from rows.conftest import Outside
from rows.I6_no_throttle import hunt

SYMPTOM = "odd volts on an idle lead"


def test_ordinary_a_lamp_across_it_tells(bike: Outside) -> None:
    seen = hunt(bike, SYMPTOM)
    assert seen["next"]["key"] == "loaded_lead" and "lamp" in seen["next"]["how"]
    seen = hunt(bike, SYMPTOM, ("loaded_lead", 0.0))
    assert seen["found"] and "do not use it as a supply" in seen["suspects"][0]["repair"]


def test_dangerous_volts_that_hold_under_a_lamp_are_fed(bike: Outside) -> None:
    seen = hunt(bike, SYMPTOM, ("loaded_lead", 1.0))
    assert (
        seen["suspects"][0]["key"] == "back-feed"
        and "before anything is joined" in seen["suspects"][0]["repair"]
    )


def test_unknown_without_a_reading_nothing_is_named(bike: Outside) -> None:
    assert not hunt(bike, SYMPTOM)["found"]


def test_not_there_another_symptom_has_no_such_suspect(bike: Outside) -> None:
    assert "pick-up" not in {s["key"] for s in hunt(bike, "stutters")["suspects"]}
