"""Salvaged cells: what is measured decides; what is not tested is refused."""

from __future__ import annotations

import io

from rows.conftest import Outside


def sort(bike: Outside, text: str, **rules: float) -> tuple[int, dict]:  # type: ignore[type-arg]
    got = bike.client.post(
        "/api/sort",
        files={"file": ("c.csv", io.BytesIO(text.encode()))},
        data={"series": 2, "parallel": 2, **rules},
    )
    return got.status_code, got.json()


HEAD = "cell,capacity [Ah],ir [mohm]"
GOOD = "\n".join(f"g{i},2.5,22" for i in range(5))


def rejected(bike: Outside, row: str, **rules: float) -> dict[str, str]:
    status, done = sort(bike, f"{HEAD}\n{GOOD}\n{row}\n", **rules)
    assert status == 200, done
    return {r["id"]: r["reason"] for r in done["rejects"]}


def test_ordinary(bike: Outside) -> None:
    assert rejected(bike, "x,2.4,23") == {}


def test_dangerous_too_little_capacity(bike: Outside) -> None:
    assert "x" in rejected(bike, "x,1.1,22", capacity_min_ah=2.0)


def test_dangerous_resistance(bike: Outside) -> None:
    assert "x" in rejected(bike, "x,2.5,90", r_max_ohm=0.05)


def test_untested_is_refused(bike: Outside) -> None:
    assert "x" in rejected(bike, "x,,22")


def test_salvaged_cells_without_a_test_are_said(bike: Outside) -> None:
    bike.put(("pack.source", "salvaged_cells"))
    assert bike.says("pack.untested") in ("caution", "stop")


def test_dangerous_a_worn_cell_is_out_without_any_rule_given(bike: Outside) -> None:
    """0.9 Ah in a lot of 2.5 Ah; twice the resistance; 5 mV a day; found at 1.2 V."""
    head = "cell,capacity [Ah],ir [mohm],rested [V]"
    good = "\n".join(f"g{i},2.5,22,3.6" for i in range(6))
    rows = "worn,0.9,22,3.6\nhot,2.5,60,3.6\nflat,2.5,22,1.2\nnever,2.5,22,\n"
    status, done = sort(bike, f"{head}\n{good}\n{rows}")
    assert status == 200 and {r["id"] for r in done["rejects"]} == {"worn", "hot", "flat", "never"}
    rules = {r["key"]: r for r in done["rules"]}
    assert (
        rules["capacity_min_ah"]["limit"] == 2.0 and rules["capacity_min_ah"]["usual"]
    )  # .8 x 2.5
    assert "median" in rules["capacity_min_ah"]["words"]


def test_unknown_what_no_cell_was_tested_for_is_said(bike: Outside) -> None:
    rules = {r["key"]: r for r in sort(bike, f"{HEAD}\n{GOOD}\n")[1]["rules"]}
    assert rules["fade_max_v_day"]["limit"] is None
    assert rules["fade_max_v_day"]["words"] == "no cell was tested for it"


def test_a_rule_can_be_switched_off(bike: Outside) -> None:
    assert rejected(bike, "x,1.1,22", capacity_min_ah=0) == {}
