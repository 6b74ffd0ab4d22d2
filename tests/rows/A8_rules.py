"""Rules where it will be ridden: entered, dated, conflicts to be asked about; never a verdict."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary_entered_rules_that_hold(bike: Outside) -> None:
    words = " ".join(f["reason"] for f in bike.findings().values()).lower()
    assert "is legal" not in words


def test_dangerous_above_the_power_that_is_allowed(bike: Outside) -> None:
    bike.put(("donor.legal.region", "Here"), ("donor.legal.power_max_w", 250))
    assert bike.says("donor.rules") in ("stop", "caution")
    assert "authority" in bike.words("donor.rules")


def test_unknown_rules_are_said(bike: Outside) -> None:
    bike.put(("goal.use", "street"), ("donor.legal", {}))
    assert bike.says("donor.rules_open") != ""


def test_not_there_no_road_no_question(bike: Outside) -> None:
    assert bike.put(("goal.use", "drag")).says("donor.rules_open") == ""
    bike.put(("goal.use", "street"), ("donor.legal.region", ""))
    assert bike.says("donor.rules_open") == "note"


def test_dangerous_rules_of_two_years_ago_are_to_be_looked_up_again(bike: Outside) -> None:
    """The garage's day is 4 May 2031."""
    bike.put(("donor.legal.region", "Here"), ("donor.legal.checked_on", "2029-05-01"))
    assert bike.says("donor.rules_old") == "note"
    bike.put(("donor.legal.checked_on", "2031-01-15"))
    assert bike.says("donor.rules_old") == ""
    bike.put(("donor.legal.checked_on", "2031-12-01"))
    assert "day to come" in bike.words("donor.rules_old")


def test_unknown_a_weld_at_a_place_that_may_carry_load(bike: Outside) -> None:
    """Silence would be a yes: a cut, a hole or a weld is asked about until somebody said what the place carries."""
    weld = {"name": "Gusset", "kind": "weld", "place": "head tube"}
    bike.put(("donor.frame_changes", [weld]))
    assert bike.says("donor.frame_open") == "caution" and "Gusset" in bike.words("donor.frame_open")
    bike.put(("donor.frame_changes", [{**weld, "bears_load": False}]))
    assert bike.says("donor.frame_open") == ""
    bike.put(("donor.frame_changes", [{**weld, "bears_load": True}]))
    assert (bike.says("donor.frame_open"), bike.says("donor.frame_load")) == ("", "stop")


def test_dangerous_of_six_changes_none_is_passed_over(bike: Outside) -> None:
    cuts = [
        {"name": f"cut {k}", "kind": "cut", "bears_load": True, "place": f"tube {k}"}
        for k in range(6)
    ]
    bike.put(("donor.frame_changes", cuts))
    said = bike.words("donor.frame_load")
    assert "6 load-bearing changes" in said and "cut 3 at tube 3 and 2 more" in said
