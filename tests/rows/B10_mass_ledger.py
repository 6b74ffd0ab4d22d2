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
