"""What joins the groups: thin strips are said, and so are strips nobody measured."""

from __future__ import annotations

from rows.conftest import Outside

STRIP = {"metal": "nickel", "width_m": 0.008, "thick_m": 0.00015, "length_m": 0.02, "each": 1}


def test_ordinary(bike: Outside) -> None:
    bike.put(
        (
            "pack.strips",
            {"metal": "copper", "width_m": 0.03, "thick_m": 0.001, "length_m": 0.02, "each": 9},
        )
    )
    assert bike.says("pack.strips") == "" and bike.says("pack.strips_open") == ""


def test_dangerous_thin(bike: Outside) -> None:
    assert bike.put(("pack.strips", STRIP)).says("pack.strips") in ("stop", "caution")


def test_unknown(bike: Outside) -> None:
    assert bike.says("pack.strips_open") != ""


def test_dangerous_strips_that_would_melt_the_wraps(bike: Outside) -> None:
    """Nickel 8 x 0.15 mm, one a cell, at 135 A: a stop, and their resistance is in the pack's."""
    before = bike.figure("pack", "r")
    thin = [("metal", "nickel"), ("width_m", 0.008), ("thick_m", 0.00015), ("each", 9)]
    bike.put(*[(f"pack.strips.{k}", v) for k, v in thin], ("pack.interconnect_ohm", None))
    assert bike.says("pack.strips") == "stop"
    assert bike.figure("pack", "r") != before


def test_not_there_a_ready_made_pack_has_no_strips_of_ours(bike: Outside) -> None:
    bike.put(("pack.source", "ready_made"))
    assert bike.says("pack.strips") == "" and bike.says("pack.strips_open") == ""
