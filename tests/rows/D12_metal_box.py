"""A box that conducts: liner, bond and vent; a housing nobody named is said."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    bike.put(
        ("pack.housing", "metal"), ("pack.liner", True), ("pack.bonded", True), ("pack.vent", True)
    )
    assert bike.says("pack.metal_box") == "" and bike.says("pack.housing_open") == ""


def test_dangerous_without_a_liner(bike: Outside) -> None:
    bike.put(
        ("pack.housing", "metal"), ("pack.liner", False), ("pack.bonded", True), ("pack.vent", True)
    )
    assert bike.says("pack.metal_box") == "stop"


def test_unknown_liner_is_not_silent(bike: Outside) -> None:
    assert bike.put(("pack.housing", "metal")).says("pack.metal_box") in ("caution", "stop")


def test_unknown_housing(bike: Outside) -> None:
    assert bike.says("pack.housing_open") != ""


def test_dangerous_a_tight_plastic_box_bursts_too(bike: Outside) -> None:
    for housing in ("plastic", "wood_or_fibre"):
        bike.put(("pack.housing", housing), ("pack.vent", False))
        assert bike.says("pack.sealed") == "caution" and bike.says("pack.metal_box") == ""
    assert bike.put(("pack.vent", None)).says("pack.sealed") == "note"
    assert bike.put(("pack.vent", True)).says("pack.sealed") == ""
