"""The ledger of masses: lines unweighed, lines that take off more than there was, scale against sum."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    assert bike.figure("donor", "bike_mass") == bike.head["mass_kg"]
    assert bike.says("donor.sums") == ""


def test_dangerous_more_off_than_there_was(bike: Outside) -> None:
    """The heaviest line that is taken off gets more than the whole bike."""
    items = bike.body["doc"]["donor"]["items"]
    assert items
    bike.put(("donor.items", [{**x, "mass_kg": 400} for x in items]))
    assert bike.says("donor.sums") != "" or bike.says("donor.heavy") != ""


def test_unweighed_lines_are_said(bike: Outside) -> None:
    items = bike.body["doc"]["donor"]["items"]
    bike.put(("donor.items", [{**items[0], "mass_kg": None}, *items[1:]]))
    assert bike.says("donor.unweighed") != ""


def test_scale_and_ledger_disagree(bike: Outside) -> None:
    bike.put(("donor.front_scale_kg", 60), ("donor.rear_scale_kg", 60))
    assert bike.says("donor.scale") != ""


def test_dangerous_the_pack_twice(bike: Outside) -> None:
    """By its name, whatever the scale said; a bracket is no pack."""
    n = len(bike.body["doc"]["donor"]["items"])
    bike.put((f"donor.items.{n}", {"name": "New battery pack", "action": "added", "mass_kg": 22}))
    assert bike.says("donor.twice") == "caution"
    bike.put((f"donor.items.{n}.name", "Battery tray bracket"), (f"donor.items.{n}.mass_kg", 0.4))
    assert bike.says("donor.twice") == ""


def test_none_the_ledger_is_the_donor_and_what_is_fitted(bike: Outside) -> None:
    """58 kg as weighed plus the fitted parts, which know their mass."""
    bike.put(("donor.items", []))
    rows = bike.body["assessment"]["drawings"]["donor"]["rows"]
    assert bike.head["mass_kg"] == 58.0 + sum(r["kg"] for r in rows)
