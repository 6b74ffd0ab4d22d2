"""A wish as power, energy and gear; what is missed says by how much."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    assert (bike.figure("goal", "need_top") or 0) > 1000
    assert (bike.figure("goal", "need_wh") or 0) > 1000


def test_missed_by_how_much(bike: Outside) -> None:
    bike.put(("goal.to_time_s", 1.9))
    assert bike.says("goal.short.time") != ""


def test_dangerous_no_power_does_it(bike: Outside) -> None:
    bike.put(("goal.to_time_s", 0.3), ("goal.to_speed_m_s", 27))
    assert bike.says("goal.ground") != ""


def test_one_range_everywhere(bike: Outside) -> None:
    """What the goal says is missing and what the headline shows are of one ride."""
    have = bike.head["range_m"]
    missed = bike.findings()["goal.short.range"]
    assert missed["measured"] == have


def test_unknown_wishes_are_no_findings(bike: Outside) -> None:
    for wish in ("top_speed_m_s", "to_time_s", "ride_m", "hill_pct"):
        bike.put((f"goal.{wish}", None))
    assert not [k for k in bike.findings() if k.startswith("goal.short")]
