"""A motor or pack from a wreck: what it can do, what is missing, and what must not be used."""

from __future__ import annotations

from rows.conftest import Outside

MOTOR = {
    "name": "Wreck motor",
    "kind": "motor",
    "rated_w": 3000,
    "volts_v": 60,
    "pole_pairs": 5,
    "sensor": "hall",
}


def said(bike: Outside, **more: object) -> str:
    bike.put(("donor.salvage", [{**MOTOR, **more}]))
    return str(bike.body["assessment"]["drawings"]["donor"]["salvage"]).lower()


def test_ordinary(bike: Outside) -> None:
    assert "wreck motor" in said(bike)


def test_unknown_parts_are_named(bike: Outside) -> None:
    text = said(bike, pole_pairs=None, sensor="unknown", rated_w=None)
    assert "pole" in text and ("unknown" in text or "missing" in text or "measure" in text)


def test_dangerous_a_pack_with_a_dead_group(bike: Outside) -> None:
    text = said(
        bike, kind="pack", series=20, capacity_ah=30, rested_v=70, lowest_v=0.9, highest_v=3.9
    )
    assert any(w in text for w in ("do not", "dead", "below", "scrap", "never", "not "))


def test_none(bike: Outside) -> None:
    assert bike.body["assessment"]["drawings"]["donor"]["salvage"] == []
