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
    assert go or "brakes and tyres" in words


@pytest.mark.parametrize("without", ["helmet", "gloves", "boots"])
def test_dangerous_without_gear(bike: Outside, without: str) -> None:
    go, points, words = gate(ready(bike), gear=[g for g in WORN if g != without])
    assert not go and points[without] == "stop" and without in words


def test_dangerous_a_bypassed_stand_switch(bike: Outside) -> None:
    made = ready(bike)
    made.put(("wire.interlocks", [{"name": "side stand", "state": "bypassed"}]))
    go, points, _ = gate(made)
    assert not go and points["side stand"] == "stop" and points["brake cut-off"] == "open"


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
