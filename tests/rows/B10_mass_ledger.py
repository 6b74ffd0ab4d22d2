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


def test_dangerous_pack_and_motor_twice_are_both_said(bike: Outside) -> None:
    """The first named hid the second: 10 kg too heavy after the fix."""
    n = len(bike.body["doc"]["donor"]["items"])
    motor = bike.body["doc"]["drive"]["motor"]["mass_kg"]["amount"]
    bike.put(
        (f"donor.items.{n}", {"name": "New battery pack", "action": "added", "mass_kg": 22}),
        (f"donor.items.{n + 1}", {"name": "The motor", "action": "added", "mass_kg": motor}),
    )
    found = bike.findings()
    assert {k for k in found if k.startswith("donor.twice")} == {
        f"donor.twice.{n}",
        f"donor.twice.{n + 1}",
    }
    bike.put(*((c["path"], c["value"]) for c in found[f"donor.twice.{n}"]["fixes"][0]["changes"]))
    assert "motor" in bike.words("donor.twice")


def test_none_the_ledger_is_the_donor_and_what_is_fitted(bike: Outside) -> None:
    """58 kg as weighed plus the fitted parts, which know their mass."""
    bike.put(("donor.items", []))
    rows = bike.body["assessment"]["drawings"]["donor"]["rows"]
    assert bike.head["mass_kg"] == 58.0 + sum(r["kg"] for r in rows)


def test_unknown_a_fitted_part_without_a_mass_is_not_nothing(bike: Outside) -> None:
    """A motor nobody weighed makes the bike lighter, quicker and longer of range: said, by name."""
    assert bike.says("donor.parts_unweighed") == ""
    before = bike.head["mass_kg"]
    bike.put(("drive.motor.mass_kg", None), ("pack.cell.mass_kg", None))
    assert bike.head["mass_kg"] < before
    assert bike.says("donor.parts_unweighed") == "caution"
    assert "the pack and the motor weigh" in bike.words("donor.parts_unweighed")
    bike.put(("road.total_kg", 180.0))  # the whole on a scale: what a part weighs moves nothing
    assert bike.says("donor.parts_unweighed") == ""


def test_unknown_heavy_lines_without_a_place_are_said(bike: Outside) -> None:
    line = {"name": "Ballast", "action": "added", "mass_kg": 12.0}
    bike.put(("donor.items.4", line))
    assert bike.says("donor.unplaced") == "note" and "Ballast" in bike.words("donor.unplaced")
    bike.put(("donor.items.4.x_m", 0.6), ("donor.items.4.y_m", 0.5))
    assert bike.says("donor.unplaced") == ""
