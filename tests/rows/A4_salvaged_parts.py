"""A motor or pack from a wreck: what it can do, what is missing, and what must not be used."""

from __future__ import annotations

from rows.conftest import Outside

MOTOR = {
    "name": "Wreck motor",
    "kind": "motor",
    "rated_w": 9000,
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
PACK = {
    "kind": "pack",
    "chemistry": "nickel_rich",
    "series": 24,
    "capacity_ah": 60,
    "damage": "none seen",
    "serial": "x",
}


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


FOUND = {"series": 24, "has_bms": True, "volts_v": 76.8}


def test_dangerous_iron_phosphate_is_not_judged_as_the_build_s_own_cells(bike: Outside) -> None:
    """3.90 V a cell: a nickel-rich one in the middle, an iron-phosphate one far over its 3.65 V."""
    seen = {"rested_v": 93.6, "lowest_v": 3.89, "highest_v": 3.91}
    verdict, why = judged(bike, **{**PACK, **FOUND, **seen, "chemistry": "iron_phosphate"})
    assert verdict == "no" and "over-charged" in why
    assert judged(bike, **{**PACK, **FOUND, **seen, "volts_v": 86.4})[0] != "no"


def test_a_build_of_other_cells_does_not_condemn_it(bike: Outside) -> None:
    bike.put(("pack.cell.chemistry", "iron_phosphate"))
    seen = {"volts_v": 86.4, "rested_v": 96.0, "lowest_v": 3.99, "highest_v": 4.01}
    verdict, why = judged(bike, **{**PACK, **FOUND, **seen})
    assert "over-charged" not in why and verdict != "no"


def test_unknown_chemistry_says_for_which_it_would_be_ruined(bike: Outside) -> None:
    seen = {"rested_v": 93.6, "lowest_v": 3.89, "highest_v": 3.91, "chemistry": "unknown"}
    verdict, why = judged(bike, **{**PACK, **FOUND, **seen})
    assert verdict == "open" and "if it is iron phosphate" in why and "over-charged" in why
    assert "Chemistry" in str(bike.body["assessment"]["drawings"]["donor"]["salvage"])
    seen = {"rested_v": 64.8, "lowest_v": 2.69, "highest_v": 2.71, "chemistry": "unknown"}
    assert "if it is nickel rich" in judged(bike, **{**PACK, **FOUND, **seen})[1]
    seen = {"rested_v": 103.2, "lowest_v": 4.29, "highest_v": 4.31, "chemistry": "unknown"}
    verdict, why = judged(bike, **{**PACK, **FOUND, **seen})
    assert verdict == "no" and "over-charged" in why  # whichever it is


def test_unknown_groups_leave_it_open(bike: Outside) -> None:
    assert judged(bike, **PACK, rested_v=85)[0] == "open"


def test_none(bike: Outside) -> None:
    assert bike.body["assessment"]["drawings"]["donor"]["salvage"] == []


# Readings that cannot all be true are never "sound".

READ = {
    **PACK,
    "series": 23,
    "volts_v": 82.8,
    "rested_v": 86.25,
    "lowest_v": 3.74,
    "highest_v": 3.76,
    "has_bms": True,
}


def test_ordinary_readings_that_agree(bike: Outside) -> None:
    verdict, why = judged(bike, **READ)
    assert verdict == "go" and "sound" in why and bike.says("donor.salvage_odd") == ""


def test_dangerous_readings_that_contradict_each_other(bike: Outside) -> None:
    """23 x 3.74 = 86.0 V is the least that these groups can make at the terminals."""
    for more, words in (
        ({"lowest_v": 3.9, "highest_v": 3.5}, "its highest 3.50"),
        ({"rested_v": 80.0}, "no group is under 3.74"),
        ({"rested_v": 92.0}, "no group is over 3.76"),
        ({"volts_v": 51.8}, "2.25 V a cell"),
    ):
        verdict, why = judged(bike, **{**READ, **more})
        assert verdict == "open" and words in why and "sound" not in why, more
        assert bike.says("donor.salvage_odd") == "caution"


def test_a_label_of_the_full_pack_is_no_contradiction(bike: Outside) -> None:
    assert judged(bike, **{**READ, "volts_v": 96.6})[0] == "go"


def test_dangerous_more_watts_than_volts_and_amps_can_make(bike: Outside) -> None:
    """√3/2 x 96 V x 100 A (peak) = 8.3 kW: a star-connected machine on a sine inverter."""
    motor = {**FULL, "volts_v": 96, "amps_a": 100, "amp_basis": "peak"}
    assert judged(bike, **{**motor, "rated_w": 8000})[0] == "go"
    verdict, why = judged(bike, **{**motor, "rated_w": 50000})
    assert verdict == "open" and "50 kW cannot come of" in why
    assert bike.says("donor.salvage_odd") == "caution"
    assert judged(bike, **{**motor, "rated_w": 50000, "amps_a": None})[0] == "go"


def test_the_verdict_follows_what_is_planned_of_it(bike: Outside) -> None:
    """Moss puts 9.7 kW on the road: 1.9 times a label of 5 kW is for seconds, 3.9 times one of 2.5 kW only
    with a sensor and a roll-back, and a 1 kW motor is none."""
    assert judged(bike, **{**FULL, "rated_w": 9000})[0] == "go"
    for watts, verdict, words in (
        (5000, "only with work", "for seconds"),
        (2500, "only with work", "roll-back"),
        (1000, "no", "a 10th of what is planned"),
    ):
        got, why = judged(bike, **{**FULL, "rated_w": watts})
        assert got == verdict and words in why, (watts, got, why)


def test_dangerous_a_group_that_is_apart_is_no_go(bike: Outside) -> None:
    """0.3 V between groups at rest: one leaks or is weak, whatever else is in order."""
    pack = {
        **READ,
        "series": 20,
        "volts_v": 72.0,
        "rested_v": 74.0,
        "highest_v": 3.85,
        "lowest_v": 3.55,
    }
    verdict, why = judged(bike, **pack)
    assert verdict == "only with work" and "weak or leaking" in why


def test_dangerous_a_pack_over_the_controllers_ceiling(bike: Outside) -> None:
    """30 x 4.2 = 126 V full; the controller of Moss stands 100."""
    pack = {**READ, "series": 30, "volts_v": 108.0, "rested_v": 112.5}
    verdict, why = judged(bike, **pack)
    assert verdict == "only with work" and "126.0 V full is over" in why
