"""No throttle, no movement: inputs read one by one, the likeliest first."""

from __future__ import annotations

import time
from typing import Any

import pytest

from rows.conftest import Linked, Outside


def hunt(
    bike: Outside, symptom: str, *readings: tuple[str, float | None], status: int = 200
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
    assert not seen["found"] and seen["next"]["key"] == "pack_rest"  # before the plug, or behind it
    seen = hunt(bike, "no movement", ("bus", 0.4), ("pack_rest", 86.0))
    assert seen["found"] and seen["suspects"][0]["key"] == "no-power"
    seen = hunt(bike, "no movement", ("bus", 0.4), ("pack_rest", 3.1))
    assert seen["found"] and seen["suspects"][0]["key"] == "pack-dead"
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
    from ninebolt.core.bolts.prove.causes import BY_KEY

    symptom = max(BY_KEY[fault].symptoms, key=lambda s: BY_KEY[fault].symptoms[s])
    asked, seen = on_the_bench(linked, fault, symptom)
    assert seen["found"] and seen["suspects"][0]["key"] == fault, seen
    assert len(asked) <= 6


# What need not be asked: the controller that is connected, its parameters, the chosen log.


def known(bike: Outside, settings: bool = False) -> dict[tuple[str, str], dict[str, Any]]:
    got = bike.client.get(f"{bike.url}/finder/known", params={"settings": settings})
    assert got.status_code == 200, got.text
    return {(o["place"], o["source"]): o for o in got.json()}


NOW, SET, LOG = "the controller, now", "the parameters in the controller", "the chosen log"


def test_ordinary_the_connected_controller_shows_volts_and_throttle(linked: Linked) -> None:
    """Bus and signal as the bench bike has them; taken, they are readings like any other."""
    found = known(linked)
    bus = linked.bench("measure", point="bus")["reading"]["value"]
    assert found["bus", NOW]["value"] == pytest.approx(bus, rel=0.02)
    rest = found["throttle_rest", NOW]["value"]
    seen = hunt(linked, "no throttle", ("throttle_rest", rest))
    assert "as it must be" in seen["said"][0]


def test_dangerous_a_fault_that_it_gives_stands_beside_the_questions(linked: Linked) -> None:
    assert "volts too high" in known(linked)["", NOW]["words"]  # it came set for another pack
    linked.written(anyway=True)
    linked.bench("fault", name="hall-dead", on=True)
    linked.hand(throttle=0.5, stand=False)
    linked.bench("wait", seconds=0.5)
    time.sleep(0.3)  # a look is at most a tenth of a second old
    words = known(linked)["", NOW]["words"]
    assert "hall signal wrong" in words and "a hall is dead" in words


def test_what_the_parameters_say_is_read_from_the_controller(linked: Linked) -> None:
    """The bench came with another pack's cut-off and another wheel; after the guarded write both are the bike's."""
    before = known(linked, True)
    assert (
        before["lvc_set", SET]["value"] == 0.0 and "cut-off 40 V" in before["lvc_set", SET]["words"]
    )
    linked.written(anyway=True)
    after = known(linked, True)
    for place in ("lvc_set", "wheel_set", "creep_set", "regen_set", "ramp_down_set"):
        assert after[place, SET]["value"] == 1.0, place


def test_unknown_without_link_or_log_nothing_is_offered(bike: Outside) -> None:
    bike.put(("prove.log_id", ""))
    assert known(bike, True) == {}


def test_a_log_in_which_the_bms_opens_tells_at_how_many_amps(bike: Outside) -> None:
    """Twist held, 80 A, then none within a tenth of a second; rest volts where nothing flows."""
    rows = ["t [s],speed [m/s],battery voltage [V],battery current [A],throttle [%]"]
    for i in range(120):
        t = i / 10
        amps = 0.0 if t < 2 else 80.0 if t < 8 else 0.0
        speed = min(max(t - 2, 0) * 3, 18)
        rows.append(f"{t:.1f},{speed:.2f},{86.9 - 0.06 * amps:.2f},{amps},{100 if t >= 2 else 0}")
    got = bike.client.post(
        f"{bike.url}/logs", files={"file": ("opens.csv", "\n".join(rows).encode())}
    )
    assert got.status_code in (200, 201), got.text
    log = next(x for x in bike.client.get(f"{bike.url}/logs").json() if x["name"] == "opens.csv")
    bike.put(("prove.log_id", log["id"]))
    found = known(bike)
    assert found["trip", LOG]["value"] == pytest.approx(80.0)
    assert found["pack_rest", LOG]["value"] == pytest.approx(86.9)
    named = hunt(bike, "cuts out under load", ("trip", found["trip", LOG]["value"]))
    assert "not as it must be" in named["said"][0]
