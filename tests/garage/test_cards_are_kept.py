"""A second start lists at once: the cards of the last one, for exactly the same state."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from ninebolt.services import garage
from ninebolt.services.card_cache import NAME
from ninebolt.services.house import House


def listed(house: House) -> dict[str, Any]:
    return {c.id: c for c in garage.cards(house)}


def test_a_second_start_shows_the_same_without_assessing(
    demo: House, monkeypatch: pytest.MonkeyPatch
) -> None:
    first = listed(demo)
    demo.cards.save()
    again = House.open(demo.path.parent)
    monkeypatch.setattr(House, "assessment", lambda *_: pytest.fail("assessed"))
    assert listed(again) == first


def test_a_build_that_changed_meanwhile_is_worked_out_anew(demo: House, client: TestClient) -> None:
    before = listed(demo)["moss-84"].headline
    demo.cards.save()
    changes = [{"path": "gear.rear_teeth", "value": 44}]
    client.post("/api/builds/moss-84/changes", json={"changes": changes})
    again = House.open(demo.path.parent)
    shown = listed(again)["moss-84"].headline
    bench = client.get("/api/builds/moss-84").json()["assessment"]["headline"]
    assert shown.top_speed_m_s == bench["top_speed_m_s"] != before.top_speed_m_s


@pytest.mark.parametrize("text", ["", "{", "[]", '{"program": "other", "cards": {}}', "\x00"])
def test_a_file_that_is_none_costs_nothing(demo: House, text: str) -> None:
    first = listed(demo)
    (demo.path.parent / NAME).write_text(text)
    assert listed(House.open(demo.path.parent)) == first


def test_cards_of_another_program_are_not_believed(
    demo: House, monkeypatch: pytest.MonkeyPatch
) -> None:
    listed(demo)
    demo.cards.save()
    path = demo.path.parent / NAME
    path.write_text(path.read_text().replace('"stops": 0', '"stops": 7'))
    monkeypatch.setattr("ninebolt.services.card_cache.program", lambda: "another")
    assert all(c.stops != 7 for c in listed(House.open(demo.path.parent)).values())
