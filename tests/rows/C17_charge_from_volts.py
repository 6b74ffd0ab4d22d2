"""Charge from rested volts: an estimate; a pack past full or below empty is a stop."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    share = bike.figure("pack", "soc_rest")
    assert share is not None and 50 < share < 70  # 3.78 V a cell


def test_dangerous_above_full(bike: Outside) -> None:
    assert bike.put(("pack.rested_v", 99.0)).says("pack.overfull") == "stop"


def test_dangerous_below_empty(bike: Outside) -> None:
    assert bike.put(("pack.rested_v", 50)).says("pack.underempty") == "stop"


def test_unknown(bike: Outside) -> None:
    """No volts, no estimate: the figure is not there."""
    bike.put(("pack.rested_v", None))
    pack = next(b for b in bike.body["assessment"]["bolts"] if b["bolt"] == "pack")
    assert "soc_rest" not in [f["key"] for f in pack["figures"]]


def test_not_there_a_pack_without_cells_gives_no_estimate(bike: Outside) -> None:
    bike.put(("pack.series", None))
    pack = next(b for b in bike.body["assessment"]["bolts"] if b["bolt"] == "pack")
    assert pack["figures"] == [] and "pack.series" in pack["missing"]


def test_under_load_is_wider_than_at_rest(bike: Outside) -> None:
    """Volts under load give a charge too, with the drop put back and more doubt."""
    bike.put(("pack.loaded_v", 84.0), ("pack.loaded_a", 60))
    assert bike.figure("pack", "soc_load") is not None
