"""Stutters, clunks, lags, pushes on: causes ranked, each told by its own reading; tried on the bench bike."""

from __future__ import annotations

import pytest

from rows.conftest import Linked, Outside
from rows.I6_no_throttle import hunt, on_the_bench


@pytest.mark.parametrize("fault", ["phase-swap", "hall-order", "hall-dead"])
def test_ordinary_three_causes_of_a_stutter(linked: Linked, fault: str) -> None:
    _, seen = on_the_bench(linked, fault, "stutters")
    assert seen["found"] and seen["suspects"][0]["key"] == fault


@pytest.mark.parametrize(
    ("symptom", "place", "cause"),
    [
        ("jolt on closing", "regen_set", "hard-regen"),
        ("lag then lunge", "curve_last", "late-curve"),
        ("pushes on", "ramp_down_set", "slow-ramp"),
        ("display wrong", "wheel_set", "wheel-set"),
    ],
)
def test_dangerous_settings_are_suspects_too(
    bike: Outside, symptom: str, place: str, cause: str
) -> None:
    seen = hunt(bike, symptom, (place, 0.0))
    assert seen["found"] and seen["suspects"][0]["key"] == cause


def test_unknown_readings_that_mislead_do_not_name_the_wrong_one_for_sure(bike: Outside) -> None:
    seen = hunt(bike, "stutters", ("hall_sequence", 1.0), ("phase_order", 1.0))
    assert not seen["found"] and seen["suspects"][0]["key"] in ("phase-open", "hall-dead")


def test_not_there_all_right_is_said(bike: Outside) -> None:
    readings = [
        ("hall_sequence", 1.0),
        ("phase_order", 1.0),
        ("hall_1", 2.5),
        ("hall_2", 2.5),
        ("hall_3", 2.5),
    ]
    assert not hunt(bike, "stutters", *readings)["found"]


def test_dangerous_an_open_phase_lead_is_found_by_its_ohms(bike: Outside) -> None:
    """It stutters and heats; the reading was in the list and spoke for nothing."""
    ohm = 2 * bike.body["doc"]["drive"]["motor"]["r_phase_ohm"]["amount"]
    keys = [s["key"] for s in hunt(bike, "stutters")["suspects"]]
    assert "phase-open" in keys
    right = (("hall_sequence", 1.0), ("phase_order", 1.0))
    bad = hunt(bike, "stutters", *right, ("phase_ohm", 30 * ohm))
    assert bad["found"] and bad["suspects"][0]["key"] == "phase-open"
    good = hunt(bike, "stutters", *right, ("phase_ohm", ohm))
    assert not good["found"] and good["suspects"][0]["share"] < bad["suspects"][0]["share"]
