"""How many cells go in, in which bay, and what is lost; a bay nobody measured is said."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    assert bike.says("pack.fits") == "note" and bike.says("pack.fit") == ""


def test_dangerous_one_group_too_many(bike: Outside) -> None:
    assert bike.put(("pack.parallel", 13)).says("pack.fit") == "stop"


def test_unknown_bay(bike: Outside) -> None:
    bike.put(("donor.bays", []))
    assert bike.says("donor.no_bay") != "" and bike.says("pack.fits") == ""


def test_unknown_cell_size(bike: Outside) -> None:
    bike.put(("pack.cell.diameter_m", None))
    assert bike.says("pack.fits") == "" and bike.says("pack.no_fit_known") != ""


def test_walls_that_leave_nothing(bike: Outside) -> None:
    bike.put(("donor.bays.0.padding_m", 0.09))
    assert bike.says("pack.narrow") != ""


def test_not_there_no_bay_no_places(bike: Outside) -> None:
    bike.put(("donor.bays", []))
    assert bike.body["assessment"]["drawings"]["pack"]["fitted"] is None
    assert bike.says("donor.no_bay") == "caution" and bike.says("pack.fits") == ""


def places(bike: Outside, long: float, high: float, wide: float, diameter: float = 0.020) -> int:
    """How many go into a box without walls or padding, 70 mm cells touching each other."""
    number = {"origin": "measured", "tolerance": None}
    sizes = {"length_m": long, "height_m": high, "width_m": wide, "padding_m": 0, "wall_m": 0}
    box = {"name": "Box", **{k: {"amount": x, **number} for k, x in sizes.items()}}
    bike.put(
        ("donor.bays", [box]),
        ("pack.bms_in_bay", False),
        ("pack.series", 10),
        ("pack.parallel", 10),
        *(
            (f"pack.{k}", {"amount": x, **number})
            for k, x in (
                ("cell.diameter_m", diameter),
                ("cell.length_m", 0.070),
                ("pitch_m", diameter),
            )
        ),
    )
    return int(bike.body["assessment"]["drawings"]["pack"]["fitted"]["capacity"])


def test_ordinary_counts_are_those_of_staggered_rows(bike: Outside) -> None:
    """Closed form: rows are d √3/2 apart, 1 + ⌊(200 - 20) / 17.32⌋ = 11 rows of ten and nine in turn."""
    assert places(bike, 0.2, 0.2, 0.075) == 6 * 10 + 5 * 9
    assert places(bike, 0.2, 0.2, 0.150) == 2 * 105  # two layers of 70 mm
    assert places(bike, 0.2, 0.2, 0.075, 0.0202) == 11 * 9  # a fifth of a millimetre costs six


def test_dangerous_a_millimetre_short_across_turns_the_cells_round(bike: Outside) -> None:
    """70 mm cells do not lie across 69: two layers along 200, ten in a row of three rows each."""
    assert places(bike, 0.2, 0.2, 0.069) == 2 * 3 * 10
    assert bike.says("pack.fit") == "stop"


def test_ten_millimetres_more_are_worth_what_is_said(bike: Outside) -> None:
    """Three layers of 70 mm along 210: 38 each (4, 3 and so on by rows of ten and nine)."""
    now = places(bike, 0.2, 0.2, 0.075)
    assert "would bring 9" in bike.words("pack.fits")
    assert places(bike, 0.21, 0.2, 0.075) == now + 9
