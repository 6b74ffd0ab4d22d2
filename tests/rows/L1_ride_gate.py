"""May it be ridden: brakes, interlocks, tyres, gates, gear, place, a second person; quarantine after a fall."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside

WORN = ["helmet", "gloves", "boots", "jacket or armour", "goggles"]


def gate(bike: Outside, **more: Any) -> tuple[bool, dict[str, str], str]:
    params = {"gear": WORN, "second_person": True, "closed": True, **more}
    got = bike.client.get(f"{bike.url}/ride-gate", params=params)
    assert got.status_code == 200, got.text
    body = got.json()
    return body["go"], {p["what"]: p["state"] for p in body["points"]}, body["sentence"]


def ready(bike: Outside) -> Outside:
    """The commissioned enduro with every input fitted."""
    made = Outside(bike.client, "brakka-96")
    doc = made.body["doc"]["wire"]["interlocks"]
    made.put(("wire.interlocks", [{**i, "state": "fitted"} for i in doc]))
    return made


def test_ordinary_the_commissioned_enduro(bike: Outside) -> None:
    go, points, words = gate(ready(bike))
    assert points["brake cut-off"] == "go" and points["not in quarantine"] == "go"
    assert go and words == "It may be ridden."


@pytest.mark.parametrize("without", ["helmet", "gloves", "boots"])
def test_dangerous_without_gear(bike: Outside, without: str) -> None:
    go, points, words = gate(ready(bike), gear=[g for g in WORN if g != without])
    assert not go and points[without] == "stop" and without in words


def test_dangerous_a_bypassed_stand_switch(bike: Outside) -> None:
    made = ready(bike)
    made.put(("wire.interlocks", [{"name": "side stand", "state": "bypassed"}]))
    go, points, _ = gate(made)
    assert not go and points["side stand"] == "stop" and points["brake cut-off"] == "open"


@pytest.mark.parametrize(
    ("path", "value", "words"),
    [
        ("guard.fuse.presence", "not there", "fuse"),
        ("guard.bms.presence", "not there", "BMS"),
        ("drive.controller.v_max_v", 90.0, "ceiling"),
        ("gear.tyre.speed_symbol", "B", "tyre"),
        ("pack.cell.i_peak_a", 2.0, ""),
    ],
)
def test_dangerous_a_stop_that_stands_in_any_bolt(
    bike: Outside, path: str, value: Any, words: str
) -> None:
    """The fuse taken out of a commissioned bike: its gates are passed, so it might be ridden."""
    made = ready(bike)
    made.put((path, value))
    stops = [f for f in made.findings().values() if f["severity"] == "stop"]
    assert stops
    go, points, sentence = gate(made)
    assert not go and "Not now" in sentence
    for f in stops:
        assert points[f["title"]] == "stop"
    assert any(words.lower() in p.lower() for p in points)


@pytest.mark.parametrize(
    ("part", "field"),
    [("fuse", "rated_a"), ("bms", "i_cont_a"), ("isolator", "dc_v"), ("plug", "dc_v"), ("precharge", "r_ohm")],
)  # fmt: skip
def test_unknown_what_must_be_known_before_first_power_is_open(
    bike: Outside, part: str, field: str
) -> None:
    """A main fuse that nobody looked at is not one that is there: it might be ridden."""
    made = ready(bike)
    rated = [
        k
        for k, v in made.body["doc"]["guard"][part].items()
        if isinstance(v, dict) and "amount" in v
    ]
    made.put(
        *((f"guard.{part}.{k}", None) for k in rated), (f"guard.{part}.presence", "not looked at")
    )
    go, points, words = gate(made)
    assert not go and points["what must be known before first power"] == "open"
    assert f"{part}: " in words


@pytest.mark.parametrize("key", ["retorque", "plug_warm", "chain", "spread_after"])
def test_dangerous_any_gate_that_failed(bike: Outside, key: str) -> None:
    """Bolts that moved at the re-torque, a hot plug: the gates before a ride were passed all the same."""
    made = ready(bike)
    got = bike.client.post(f"{made.url}/gates/{key}", json={"passed": False, "note": "moved"})
    assert got.status_code == 200, got.text
    go, points, _ = gate(made)
    title = next(
        s["gate"]["title"]
        for s in got.json()["assessment"]["drawings"]["prove"]["gates"]
        if s["gate"]["key"] == key
    )
    assert not go and points[title.lower()] == "stop"


def test_dangerous_after_a_fall(bike: Outside) -> None:
    made = ready(bike)
    made.put(("prove.quarantine", "fell on the climb"))
    go, points, words = gate(made)
    assert not go and points["not in quarantine"] == "stop" and "fell on the climb" in words


def test_dangerous_alone_or_on_an_open_road(bike: Outside) -> None:
    assert not gate(ready(bike), second_person=False)[0] and not gate(ready(bike), closed=False)[0]


def test_unknown_is_open(bike: Outside) -> None:
    go, points, _ = gate(bike)
    assert not go and points["brakes are bedded"] == "open"


def test_not_there_no_such_bike(bike: Outside) -> None:
    assert bike.client.get("/api/builds/nope/ride-gate").status_code == 404
