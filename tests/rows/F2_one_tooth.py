"""What one tooth does: at the same motor speed, and as the bike will really run."""

from __future__ import annotations

import pytest

from rows.conftest import Outside


def test_ordinary_two_teeth_behind_in_percent(bike: Outside) -> None:
    """56 → 58 by hand: 58/56 = +3.57 % pull from rest, 56/58 = −3.45 % speed at the same rpm."""
    now, more = bike.rung(12, 56), bike.rung(12, 58)
    assert more["ratio"] / now["ratio"] - 1 == pytest.approx(0.0357, abs=1e-4)
    assert more["launch_n"] / now["launch_n"] == pytest.approx(58 / 56, rel=2e-3)
    assert more["same_rpm_m_s"] / now["top_speed_m_s"] - 1 == pytest.approx(-0.0345, abs=1e-4)


def test_as_it_runs_is_another_number_and_comes_true(bike: Outside) -> None:
    """The road takes less at less speed, so it loses less than the sum says; the table's own promise is
    what the build then does."""
    more, said = bike.rung(12, 58), {}
    assert more["same_rpm_m_s"] < more["top_speed_m_s"] < bike.rung(12, 56)["top_speed_m_s"]
    said = dict(more)
    bike.put(("gear.rear_teeth", 58))
    assert bike.head["top_speed_m_s"] == pytest.approx(said["top_speed_m_s"], rel=1e-6)
    assert bike.head["to_time_s"] == pytest.approx(said["to_time_s"], rel=1e-3)


def test_dangerous_a_sprocket_that_does_not_clear_is_named(bike: Outside) -> None:
    bike.put(("gear.run.rear_most", 57))
    assert "does not clear" in bike.rung(12, 58)["why"]
    words = " ".join(f["label"] for x in bike.findings().values() for f in x["fixes"])
    assert "12/58" not in words


def test_wear_a_common_factor_meets_the_same_link_soon(bike: Outside) -> None:
    """By hand: 12 and 56 share 4, so without links 56/4 = 14 turns; a chain of 122 meets after 61."""
    bike.put(("gear.run.links", None))
    assert bike.rung(12, 56)["meets"] == 14
    bike.put(("gear.run.links", 122))
    assert bike.rung(12, 56)["meets"] == 61


def test_unknown_chain_size_is_said(bike: Outside) -> None:
    bike.put(("gear.chain", "none"))
    assert bike.says("gear.chain_size") == "note" and bike.rung()["chain_m_s"] is None


def test_not_there_a_given_ratio_has_no_teeth_to_change(bike: Outside) -> None:
    bike.put(("gear.ratio", 5.0))
    assert len(bike.body["assessment"]["drawings"]["gear"]["rungs"]) == 1


def test_dangerous_both_sprockets_wrong_are_both_said_and_no_fix_saws_the_frame(
    bike: Outside,
) -> None:
    """A belt wants more teeth in front than the frame takes: no press fits what does not clear."""
    bike.put(("gear.front_teeth", 8), ("gear.rear_teeth", 90))
    assert bike.says("gear.teeth.front") == bike.says("gear.teeth.rear") == "caution"
    assert bike.findings()["gear.teeth.front"]["fixes"]
    bike.put(("gear.run.front_most", 9))
    found = bike.findings()["gear.teeth.front"]
    assert not found["fixes"] and "do not clear the frame" in found["reason"]
