"""No throttle, no movement: inputs read one by one, the likeliest first."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Linked, Outside


def hunt(
    bike: Outside, symptom: str, *readings: tuple[str, float], status: int = 200
) -> dict[str, Any]:
    body = {"symptom": symptom, "readings": [{"place": p, "value": v} for p, v in readings]}
    got = bike.client.post(f"{bike.url}/finder", json=body)
    assert got.status_code == status, got.text
    return dict(got.json())


def on_the_bench(linked: Linked, fault: str, symptom: str) -> tuple[list[str], dict[str, Any]]:
    """Ask, measure on the bench bike, until it is named; what is not on the bench is as it must be."""
    linked.bench("fault", name=fault, on=True)
    points = {p["key"] for p in linked.bench("things")["points"]}
    readings: list[tuple[str, float]] = []
    for _ in range(25):
        seen = hunt(linked, symptom, *readings)
        if seen["next"] is None:
            break
        key = seen["next"]["key"]
        value = linked.bench("measure", point=key)["reading"]["value"] if key in points else 1.0
        readings.append((key, value))
    return [k for k, _ in readings], seen


def test_ordinary_the_throttle_that_never_reaches_its_end(linked: Linked) -> None:
    asked, seen = on_the_bench(linked, "throttle-range", "no throttle")
    assert seen["found"] and seen["suspects"][0]["key"] == "throttle-range" and len(asked) <= 3


def test_a_dead_hall_is_found_among_three(linked: Linked) -> None:
    asked, seen = on_the_bench(linked, "hall-dead", "no movement")
    assert seen["found"] and seen["suspects"][0]["key"] == "hall-dead" and "hall_2" in asked


def test_dangerous_nothing_is_named_that_no_reading_shows(bike: Outside) -> None:
    """Left over is not found: the last suspect is proved by its own reading first."""
    seen = hunt(bike, "hot plug")
    assert not seen["found"] and seen["next"]["key"] == "plug_drop"
    assert hunt(bike, "hot plug", ("plug_drop", 0.9))["found"]


def test_expected_values_are_the_build_s(bike: Outside) -> None:
    """The grip's ends as the demo measured them, 0.88 and 4.10 V, each within 0.15 V."""
    seen = hunt(bike, "no throttle")
    ends = {"throttle_rest": 0.88, "throttle_full": 4.10}
    measured = ends[seen["next"]["key"]]
    assert seen["next"]["low"] == pytest.approx(measured - 0.15)
    assert seen["next"]["high"] == pytest.approx(measured + 0.15)


def test_dangerous_no_power_and_an_input_that_holds_are_found(bike: Outside) -> None:
    """The commonest of all: nothing is wrong with the motor, no volts reach the controller or a lever holds it."""
    keys = {s["key"] for s in hunt(bike, "no movement")["suspects"]}
    assert {"no-power", "held"} <= keys
    seen = hunt(bike, "no movement", ("bus", 0.4))
    assert seen["found"] and seen["suspects"][0]["key"] == "no-power"
    seen = hunt(bike, "no movement", ("bus", 86.0), ("inputs", 0.0))
    assert seen["found"] and seen["suspects"][0]["key"] == "held"


def test_unknown_symptom_or_place(bike: Outside) -> None:
    assert "no symptom" in hunt(bike, "sad", status=422)["message"]
    assert "no such reading" in hunt(bike, "stutters", ("nowhere", 1.0), status=422)["message"]


def test_not_there_every_reading_in_order_finds_nothing(bike: Outside) -> None:
    readings: list[tuple[str, float]] = []
    for _ in range(30):
        seen = hunt(bike, "no throttle", *readings)
        if seen["next"] is None:
            break
        p = seen["next"]
        value = (
            p["low"] * 1.05
            if p["high"] is None
            else p["high"] * 0.5
            if p["low"] is None
            else 0.5 * (p["low"] + p["high"])
        )
        readings.append((p["key"], value))
    assert not seen["found"]


@pytest.mark.parametrize("fault", ["phase-swap", "hall-order", "hall-dead", "throttle-range", "weak-group", "hot-plug",
                                   "bms-trip", "hot-motor", "dragging-brake"])  # fmt: skip
def test_every_fault_of_the_bench_is_found_from_its_first_symptom(
    linked: Linked, fault: str
) -> None:
    """At most six readings, from the symptom that it shows most."""
    from ninebolt.core.bolts.prove.finder import BY_KEY

    symptom = max(BY_KEY[fault].symptoms, key=lambda s: BY_KEY[fault].symptoms[s])
    asked, seen = on_the_bench(linked, fault, symptom)
    assert seen["found"] and seen["suspects"][0]["key"] == fault, seen
    assert len(asked) <= 6
