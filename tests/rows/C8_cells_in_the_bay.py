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
