"""Where the mass is: axle loads, what lifts a wheel, what a turn has to lift."""

from __future__ import annotations

import pytest

from rows.conftest import Outside

G = 9.80665


def chassis(bike: Outside) -> dict[str, object]:
    return dict(bike.body["assessment"]["drawings"]["gear"]["chassis"])


def test_ordinary_wheelie_and_stoppie_by_moments(bike: Outside) -> None:
    """a = g x / h about the rear contact, g (L - x) / h about the front one."""
    bike.put(
        ("road.wheelbase_m", 1.4), ("road.front_share", 0.45), ("road.cg_height_m", 0.8),
        ("gear.tyre.grip_mu", 2.0),
    )  # fmt: skip
    c = chassis(bike)
    assert c["lifts_m_s2"] == pytest.approx(G * 0.45 * 1.4 / 0.8)
    assert c["braking"]["hardest_m_s2"] == pytest.approx(G * 0.55 * 1.4 / 0.8)  # type: ignore[index]
    assert bike.says("gear.stoppie") == "note"


def test_ordinary_axles_add_up(bike: Outside) -> None:
    rows = chassis(bike)["axles"]
    kg = sum(r["kg"] for r in rows)  # type: ignore[attr-defined]
    doc = bike.body["doc"]["goal"]
    rider = doc["rider_kg"]["amount"] + doc["gear_kg"]["amount"]
    assert kg == pytest.approx((bike.figure("donor", "bike_mass") or 0) + rider)


def test_a_higher_pack_has_more_to_lift_in_a_turn(bike: Outside) -> None:
    low = chassis(bike)["roll_kg_m"]
    bike.put(("road.cg_height_m", 0.95))
    assert chassis(bike)["roll_kg_m"] > low  # type: ignore[operator]


def test_dangerous_a_light_front_is_said(bike: Outside) -> None:
    bays = bike.body["doc"]["donor"]["bays"]
    bays[0] = {**bays[0], "x_m": {"amount": -0.4, "origin": "measured", "tolerance": None}}
    bike.put(("donor.bays", bays), ("pack.case_kg", 60))
    keys = set(bike.findings())
    assert any((k.startswith("donor.") and "front" in k) or k == "donor.balance" for k in keys), (
        keys
    )


def test_unknown_donor_has_no_before(bike: Outside) -> None:
    bike.put(("donor.ratings", {}), ("donor.kind", "gas_roller"))
    assert chassis(bike)["was_roll_kg_m"] is None


def test_not_there_no_mass_no_chassis(bike: Outside) -> None:
    """No axle load, no spring and no lift of a wheel without it; what hangs on lengths alone stays."""
    bike.put(("donor.mass_kg", None))
    gear = bike.body["assessment"]["drawings"]["gear"]
    c = gear["chassis"]
    assert gear["rungs"] == [] and gear["wheelie_n"] is None
    assert c["axles"] == [] and c["lifts_m_s2"] is None and c["roll_kg_m"] is None
