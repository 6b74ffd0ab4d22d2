"""Amps per cell and C-rate: within, warned, refused; never silent about cells nobody knows."""

from __future__ import annotations

from rows.conftest import Outside


def test_ordinary(bike: Outside) -> None:
    """Closed form: 135 A over nine cells is 15 A each, three times 5 Ah."""
    assert bike.figure("pack", "c_rate") == 3.0
    got = bike.client.get(f"{bike.url}/at-power", params={"power_w": 5000}).json()
    assert 0 < got["cell_a"] == got["amps"] / 9 and got["verdict"] == "ok"


def test_dangerous_more_than_the_cells_give(bike: Outside) -> None:
    assert bike.put(("drive.controller.line_a", 300)).says("pack.peak") == "stop"


def test_warned_above_the_continuous_current(bike: Outside) -> None:
    assert bike.says("pack.cont") == "caution"


def test_unknown_ratings_are_said(bike: Outside) -> None:
    bike.put(("pack.cell.i_cont_a", None), ("pack.cell.i_peak_a", None))
    assert bike.says("pack.blank") in ("caution", "stop")


def test_an_unknown_continuous_current_is_not_silent(bike: Outside) -> None:
    assert bike.put(("pack.cell.i_cont_a", None)).says("pack.blank") == "caution"


def test_power_that_no_pack_gives_is_refused(bike: Outside) -> None:
    assert bike.client.get(f"{bike.url}/at-power", params={"power_w": -5}).status_code == 422


def test_not_there_a_cell_without_a_peak_is_held_to_its_continuous(bike: Outside) -> None:
    bike.put(("pack.cell.i_peak_a", {"amount": None, "origin": "absent", "tolerance": None}))
    bike.put(("drive.controller.line_a", 135))
    assert bike.says("pack.peak") == "stop" or bike.says("pack.cont") == "caution"
