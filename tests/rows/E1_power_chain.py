"""Power chain from cells to motor: the least link, and what is paid for and not used."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import NONE, Outside


def stages(bike: Outside) -> dict[str, dict[str, Any]]:
    return {s["label"]: s for s in bike.body["assessment"]["drawings"]["drive"]["stages"]}


def test_ordinary_watts_are_amps_times_the_volts_under_load(bike: Outside) -> None:
    bike.put(("guard.plug.i_cont_a", 60), ("guard.plug.i_peak_a", 200))
    volts = min(bike.body["assessment"]["drawings"]["drive"]["bus_v"])
    plug = stages(bike)["Main plug"]
    assert plug["cont_w"] == pytest.approx(60 * volts) and plug["peak_w"] == pytest.approx(
        200 * volts
    )
    assert [s["label"] for s in stages(bike).values() if s["least"]] == ["Main plug"] or (
        stages(bike)["Motor"]["least"] and 60 * volts > 5000
    )


def test_dangerous_a_small_bms_makes_a_bigger_motor_useless(bike: Outside) -> None:
    """The case that costs money: a motor of 20 kW behind a BMS of 40 A pulls no harder for good."""
    bike.put(("guard.bms.i_cont_a", 40), ("guard.bms.i_peak_a", 60))
    before = bike.head["peak_wheel_w"]
    bike.put(("drive.motor.label_w", 20_000), ("drive.motor.phase_max_a", 800))
    s = stages(bike)
    assert s["BMS"]["least"] and s["Motor"]["over"]
    assert bike.head["peak_wheel_w"] == pytest.approx(before, rel=0.01)


def test_the_limits_as_lines_bound_the_thrust(bike: Outside) -> None:
    """At each speed the thrust is no more than any line, and reaches the least of them within 3 %."""
    d = bike.body["assessment"]["drawings"]["drive"]
    for i in range(0, 70, 5):
        least = min(line["thrust_n"][i] for line in d["lines"])
        assert d["thrust_n"][i] <= least * 1.001 + 0.5
        assert d["thrust_n"][i] >= 0.97 * least - 2


def test_losses_add_up_to_what_leaves_the_cells(bike: Outside) -> None:
    d = bike.body["assessment"]["drawings"]["drive"]
    z = d["losses"]
    for i in (5, 30, 60):
        out = sum(z[k][i] for k in ("controller_w", "copper_w", "drag_w", "chain_w", "wheel_w"))
        assert out == pytest.approx(d["line_a"][i] * d["bus_v"][i], rel=1e-6)


def test_unknown_links_say_so_and_are_not_counted(bike: Outside) -> None:
    bike.put(("guard.plug.i_cont_a", None))
    assert (
        stages(bike)["Main plug"]["words"] == "not known"
        and stages(bike)["Main plug"]["cont_w"] is None
    )


def test_not_there_no_bms_is_not_a_limit(bike: Outside) -> None:
    bike.put(("guard.bms", {"presence": "not there"}), ("guard.plug.i_cont_a", NONE))
    assert stages(bike)["BMS"]["words"] == "not there" and not stages(bike)["BMS"]["least"]


def test_dangerous_a_bike_that_does_not_move_shows_what_it_pushes_with(bike: Outside) -> None:
    """3 A in the phases make a few newtons, from rest as at a crawl; the 47 N that hold it are the road's."""
    bike.put(("drive.controller.phase_a", 3.0))
    assert bike.says("drive.stuck") == "stop"
    shown = bike.body["assessment"]["drawings"]["drive"]
    assert 0.0 < shown["thrust_n"][0] < 0.1 * shown["load_n"][0]
    assert shown["thrust_n"][0] == pytest.approx(shown["thrust_n"][1], rel=0.05)
    assert bike.figure("drive", "launch") == pytest.approx(shown["thrust_n"][0])
