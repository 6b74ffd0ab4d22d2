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


FULL = {
    "kv_rpm_v": 50,
    "r_phase_ohm": 0.01,
    "l_phase_henry": 1e-4,
    "damage": "none seen",
    "serial": "FY-1",
    "shaft": "splined, 20 mm",
}
PACK = {"kind": "pack", "series": 24, "capacity_ah": 60, "damage": "none seen", "serial": "x"}


def judged(bike: Outside, **more: object) -> tuple[str, str]:
    bike.put(("donor.salvage", [{**MOTOR, **more}]))
    row = bike.body["assessment"]["drawings"]["donor"]["salvage"][0]
    return str(row["verdict"]), " ".join(row["usable"])


def test_ordinary_all_known_and_sound_is_go(bike: Outside) -> None:
    assert judged(bike, **FULL)[0] == "go"


def test_dangerous_a_cracked_shaft_whatever_is_ticked(bike: Outside) -> None:
    for words in ("cracked at the keyway", "slightly bent", "welded on"):
        verdict, why = judged(bike, **{**FULL, "shaft": words})
        assert verdict == "no" and words in why
    assert judged(bike, **{**FULL, "damage": "shaft or housing damaged"})[0] == "no"


def test_a_missing_piece_is_named(bike: Outside) -> None:
    _, why = judged(bike, **{**FULL, "shaft": "splined, sprocket carrier missing"})
    assert "before it can drive" in why


def test_dangerous_a_pack_with_a_dead_group(bike: Outside) -> None:
    """36 V on 24 in series is 1.5 V a cell, its lowest at 0.9 V: scrap."""
    verdict, why = judged(bike, **PACK, rested_v=36, lowest_v=0.9, highest_v=3.6)
    assert verdict == "no" and "scrap" in why


def test_dangerous_over_charged_is_not_a_wrong_count_alone(bike: Outside) -> None:
    """102 V on 24 in series is 4.25 V a cell."""
    verdict, why = judged(bike, **PACK, rested_v=102, lowest_v=4.24, highest_v=4.26)
    assert verdict == "no" and "over-charged" in why


def test_unknown_groups_leave_it_open(bike: Outside) -> None:
    assert judged(bike, **PACK, rested_v=85)[0] == "open"


def test_none(bike: Outside) -> None:
    assert bike.body["assessment"]["drawings"]["donor"]["salvage"] == []
