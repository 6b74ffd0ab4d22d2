"""Group voltages before joining: go, hold, or not read."""

from __future__ import annotations

from rows.conftest import Outside


def pairs(volts: list[float]) -> list[list[float]]:
    return [[i + 1, v] for i, v in enumerate(volts)]


def test_ordinary(bike: Outside) -> None:
    bike.put(("pack.group_v", pairs([3.78] * 23)))
    for key in ("group_dead", "group_over", "group_spread", "groups_unread"):
        assert bike.says(f"pack.{key}") == "", key


def test_dangerous_a_group_below_empty(bike: Outside) -> None:
    assert bike.put(("pack.group_v", pairs([3.78] * 22 + [1.9]))).says("pack.group_dead") == "stop"


def test_dangerous_a_group_past_full(bike: Outside) -> None:
    assert bike.put(("pack.group_v", pairs([4.1] * 22 + [4.31]))).says("pack.group_over") == "stop"


def test_apart(bike: Outside) -> None:
    assert bike.put(("pack.group_v", pairs([3.78] * 22 + [3.6]))).says("pack.group_spread") != ""


def test_unread_groups_are_said(bike: Outside) -> None:
    assert bike.put(("pack.group_v", pairs([3.78] * 20))).says("pack.groups_unread") != ""


def test_dangerous_groups_that_do_not_add_up_to_the_terminals(bike: Outside) -> None:
    """By hand: 23 x 3.78 V = 86.9 V; two meters differ by less than 2 % (common practice, no source)."""
    bike.put(("pack.group_v", pairs([3.78] * 23)), ("pack.rested_v", 86.5))
    assert bike.says("pack.sum") == ""
    assert bike.put(("pack.rested_v", 80.0)).says("pack.sum") == "caution"
    assert "86.9" in bike.words("pack.sum") and "80" in bike.words("pack.sum")
    leads = [[i, 3.78 * i] for i in range(24)]
    bike.put(("pack.rested_v", None), ("pack.tap_v", leads))
    assert bike.says("pack.sum") == ""
    bike.put(("pack.tap_v", [[i, 3.6 * i] for i in range(24)]))
    assert bike.says("pack.sum") == "caution" and "balance lead" in bike.words("pack.sum")
    assert bike.put(("pack.group_v", [])).says("pack.sum") == ""  # nothing to hold it against


def test_not_one_group_read_of_cells_with_a_past_is_not_silent(bike: Outside) -> None:
    bike.put(("pack.group_v", []), ("pack.source", "salvaged_cells"))
    assert bike.says("pack.groups_open") == "caution"
    assert bike.put(("pack.source", "new_cells")).says("pack.groups_open") == ""


def test_not_there_no_pack_no_verdict(bike: Outside) -> None:
    bike.put(("pack.series", None), ("pack.group_v", pairs([3.6, 1.2])))
    assert bike.says("pack.group_spread") == "" and "pack.series" in str(bike.body["assessment"])
