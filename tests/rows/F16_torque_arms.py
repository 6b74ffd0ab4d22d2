"""A hub motor on its axle: do dropouts and torque arms hold it?"""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from rows.conftest import Outside


@pytest.fixture
def hub(client: TestClient) -> Outside:
    return Outside(client, "pip-72")


def hold(bike: Outside) -> dict[str, float]:
    return dict(bike.body["assessment"]["drawings"]["gear"]["chassis"]["hub"])


def test_ordinary_torque_is_thrust_times_radius(hub: Outside) -> None:
    thrust = hub.rung()["launch_n"]
    assert hold(hub)["torque_nm"] == pytest.approx(thrust * hub.radius, rel=1e-6)
    assert hold(hub)["torque_nm"] == pytest.approx(
        hub.figure("gear", "wheel_torque") or 0, rel=1e-6
    )


def test_what_flats_hold_by_hand(hub: Outside) -> None:
    """σ t L² / 4 with 187 MPa: 10 mm plate, 10 mm flats: 46.8 N m each; two of them, and two arms of 8 mm."""
    hub.put(
        (
            "gear.hub",
            {"flat_m": 0.01, "dropout_m": 0.01, "metal": "steel", "arms": 2, "arm_m": 0.008},
        )
    )
    assert hold(hub)["alone_nm"] == pytest.approx(2 * 46.75, rel=1e-3)
    assert hold(hub)["holds_nm"] == pytest.approx(2 * 46.75 + 2 * 37.4, rel=1e-3)


def test_dangerous_aluminium_without_arms_stops_and_the_fix_helps(hub: Outside) -> None:
    hub.put(("gear.hub", {"flat_m": 0.0098, "dropout_m": 0.006, "metal": "aluminium", "arms": 0}))
    assert hub.says("gear.hub") == "stop" and "leads" in hub.words("gear.hub")
    hub.put(("gear.hub.arms", 2))
    assert hub.says("gear.hub") in ("caution", "")


def test_unknown_dropouts_are_a_caution(hub: Outside) -> None:
    hub.put(("gear.hub", {}))
    assert hub.says("gear.hub_open") == "caution" and "not said" in hub.words("gear.hub_open")


def test_not_there_no_arm_at_this_torque_is_a_stop(hub: Outside) -> None:
    hub.put(("gear.hub", {"arms": 0}))
    assert hub.says("gear.hub_open") == "stop"


def test_a_mid_drive_needs_none(bike: Outside) -> None:
    assert bike.body["assessment"]["drawings"]["gear"]["chassis"]["hub"] is None
    assert bike.says("gear.hub") == "" and bike.says("gear.hub_open") == ""
