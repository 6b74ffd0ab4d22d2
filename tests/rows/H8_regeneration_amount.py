"""How much braking by the motor: what the pack takes, what the rear tyre holds, cold and full."""

from __future__ import annotations

from typing import Any

from rows.conftest import Outside


def row(bike: Outside) -> dict[str, Any]:
    rows = bike.body["assessment"]["drawings"]["tune"]["rows"]
    return dict(next(r for r in rows if r["name"] == "regen_pct"))


def half_full(bike: Outside) -> Outside:
    return bike.put(("pack.start_soc", 0.6))


def test_ordinary_what_is_recommended_stays_within_the_charge_limit(bike: Outside) -> None:
    half_full(bike)
    share = row(bike)["recommended"]
    bike.put(("tune.regen_pct", share))
    assert (
        0 < share <= 30 and bike.says("drive.regen") == "" and bike.says("drive.regen_grip") == ""
    )
    back = bike.body["assessment"]["drawings"]["drive"]["braking"]
    assert max(back["back_a"]) > 0 and set(back["held_by"]) == {"setting"}


def test_power_back_is_less_than_what_the_wheel_gives(bike: Outside) -> None:
    """Energy: force x speed at the tyre is more than volts x amps into the pack."""
    half_full(bike).put(("tune.regen_pct", 20))
    b = bike.body["assessment"]["drawings"]["drive"]["braking"]
    for v, n, a in zip(b["speed_m_s"], b["force_n"], b["back_a"], strict=True):
        assert a * 60 <= n * v + 1e-6 or a * 84 <= n * v * 1.2


def test_dangerous_frozen_cells_take_nothing(bike: Outside) -> None:
    half_full(bike).put(("tune.regen_pct", 20), ("pack.temp_c", -3))
    assert bike.says("drive.regen") == "stop" and row(bike)["recommended"] == 0


def test_dangerous_a_full_pack_at_the_top_of_a_hill(bike: Outside) -> None:
    bike.put(("pack.start_soc", 1.0), ("tune.regen_pct", 20))
    assert bike.says("drive.regen_full") == "caution"
    braking = bike.body["assessment"]["drawings"]["drive"]["braking"]
    assert max(braking["back_a"]) < 8 and "full pack" in braking["held_by"]


def test_dangerous_too_much_for_the_grip(bike: Outside) -> None:
    half_full(bike).put(
        ("tune.regen_pct", 100), ("gear.tyre.grip_mu", 0.3), ("drive.controller.phase_a", 240)
    )
    assert bike.says("drive.regen_grip") == "caution"


def test_dangerous_braking_that_goes_past_the_bms(bike: Outside) -> None:
    """Two ports, a bypass or no BMS: a full group is pushed on, and the controller sees the whole pack alone."""
    half_full(bike)
    assert (
        bike.put(("guard.bms.common_port", False)).says("drive.regen_past") == ""
    )  # nothing flows back
    assert bike.put(("tune.regen_pct", 5)).says("drive.regen_past") == "caution"
    assert bike.put(("guard.bms.common_port", True)).says("drive.regen_past") == ""
    assert bike.put(("guard.bms.discharge", "bypassed")).says("drive.regen_past") == "caution"
    bike.put(("guard.bms.discharge", "through"), ("guard.bms.presence", "not there"))
    assert bike.says("drive.regen_past") == "caution"


def test_unknown_ports_are_asked_once_it_brakes(bike: Outside) -> None:
    bike.put(("guard.bms.common_port", None))
    assert bike.says("drive.regen_past") == ""
    assert half_full(bike).put(("tune.regen_pct", 5)).says("drive.regen_past") == "note"


def test_unknown_charge_limit_is_said(bike: Outside) -> None:
    half_full(bike).put(
        ("tune.regen_pct", 20), ("guard.bms.i_charge_a", None), ("pack.cell.i_charge_a", None)
    )
    assert bike.says("drive.regen_open") == "caution"


def test_not_there_regeneration_off_says_nothing(bike: Outside) -> None:
    bike.put(("tune.regen_pct", 0))
    assert not any(k.startswith("drive.regen") for k in bike.findings())
