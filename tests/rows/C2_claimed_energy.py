"""Energy from volts and amp-hours against the label; a claim the cells do not hold is said."""

from __future__ import annotations

import pytest

from rows.conftest import NONE, Outside


def test_ordinary(bike: Outside) -> None:
    """Closed form: 83.49 V times 45 Ah."""
    assert bike.figure("pack", "label_wh") == pytest.approx(83.49 * 45)
    assert bike.says("pack.claim") == ""


def test_a_claim_too_high(bike: Outside) -> None:
    assert bike.put(("pack.claimed_wh", 5200)).says("pack.claim") in ("caution", "stop")


def test_no_claim_is_silent(bike: Outside) -> None:
    assert bike.put(("pack.claimed_wh", None)).says("pack.claim") == ""


def test_absent_is_no_zero(bike: Outside) -> None:
    assert bike.put(("pack.claimed_wh", NONE)).says("pack.claim") == ""


def test_unknown_capacity_gives_no_energy(bike: Outside) -> None:
    bike.put(("pack.cell.capacity_ah", None), ("pack.claimed_wh", 3000))
    pack = next(b for b in bike.body["assessment"]["bolts"] if b["bolt"] == "pack")
    assert "pack.cell.capacity_ah" in pack["missing"] and bike.says("pack.claim") == ""
