"""Amps per cell and C-rate: within, warned, refused; never silent about cells nobody knows."""

from __future__ import annotations

from typing import Any

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


def at(bike: Outside, power_w: float) -> dict[str, Any]:
    got: dict[str, Any] = bike.client.get(
        f"{bike.url}/at-power", params={"power_w": power_w}
    ).json()
    return got


def test_unknown_no_power_is_called_well_within_what_nobody_knows(bike: Outside) -> None:
    """8 kW of cells without a rating: amps and C-rate stand, the verdict is open, and says why."""
    assert at(bike, 8000)["verdict"] == "ok"
    bike.put(("pack.cell.i_cont_a", None))
    said = at(bike, 8000)
    assert said["verdict"] == "open" and said["unknown"] == ["the cells' continuous current"]
    assert at(bike, 20000)["verdict"] == "over"  # the peak is known
    bike.put(("pack.cell.i_peak_a", None))
    assert at(bike, 20000)["verdict"] == "open" and len(at(bike, 8000)["unknown"]) == 2


def test_unknown_resistance_does_not_pass_for_none(bike: Outside) -> None:
    bike.put(("pack.cell.r0_ohm", None))
    said = at(bike, 8000)
    assert said["verdict"] == "open" and "do not sag" in said["unknown"][0]


def test_dangerous_cells_that_are_nearly_empty_do_not_give_it(bike: Outside) -> None:
    """At 1 % of charge 8 kW takes them under their 2.8 V: amps within the rating are not enough."""
    bike.put(("pack.start_soc", {"amount": 0.01, "origin": "measured", "tolerance": None}))
    said = at(bike, 6000)
    assert said["verdict"] == "low" and said["volts"] < 23 * 2.8


def test_what_is_missing_is_named(bike: Outside) -> None:
    bike.put(("pack.cell.capacity_ah", None))
    assert "pack.cell.capacity_ah" in at(bike, 8000)["message"]
