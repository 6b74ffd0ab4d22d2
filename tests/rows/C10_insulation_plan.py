"""Insulation between the cells: where different potential lies side by side, and what goes there."""

from __future__ import annotations

from rows.conftest import Outside


def steps(bike: Outside) -> dict[str, str]:
    guide = bike.body["assessment"]["drawings"]["pack"]["assembly"]["steps"]
    return {s["key"]: s["detail"] + s["caution"] for s in guide}


def test_ordinary_weak_places_are_listed(bike: Outside) -> None:
    """The worst pair lies as many groups apart as its volts say."""
    sides = bike.body["assessment"]["drawings"]["pack"]["fitted"]["sides"]
    beside = [s["steps"] for s in sides if not s["ends"]]
    assert sides and beside == sorted(beside, reverse=True)
    for s in sides:
        assert s["steps"] == abs(s["a"]["group"] - s["b"]["group"])
    assert bike.says("pack.sides") == "note"
    worst = max(s["steps"] for s in sides if s["a"]["layer"] != s["b"]["layer"])
    # Volts from one end of a group to the far end of the other: a step more than they lie apart.
    assert f"{(worst + 1) * 4.2:.6g}|v" in bike.words("pack.sides")


def test_every_cell_end_has_its_ring_before_anything_is_joined(bike: Outside) -> None:
    order = list(steps(bike))
    assert order.index("rings") < order.index("groups") < order.index("series")


def test_dangerous_first_beside_last_group(bike: Outside) -> None:
    """Laid by hand so that both ends of the pack touch: full voltage across one gap."""
    fit = bike.body["assessment"]["drawings"]["pack"]["fitted"]
    across = max(s["steps"] for s in fit["sides"])
    bike.put(("pack.parallel", 1))
    folded = bike.body["assessment"]["drawings"]["pack"]["fitted"]["sides"]
    assert max((s["steps"] for s in folded), default=0) >= min(across, 3)
    assert bike.says("pack.sides") in ("note", "caution")


def test_dangerous_a_metal_housing_without_a_liner(bike: Outside) -> None:
    bike.put(("pack.housing", "metal"), ("pack.liner", False))
    assert bike.says("pack.metal_box") == "stop"


def test_unknown_layout_is_not_silent(bike: Outside) -> None:
    """Without a bay nobody knows what lies beside what: that the pack is live is still said."""
    bike.put(("donor.bays", []))
    assert not bike.says("pack.sides")
    assert bike.says("donor.no_bay") == "caution" and bike.says("pack.class_b") == "note"
    assert bike.says("pack.sides_open") == "note"


def test_not_there_a_ready_made_pack_is_not_taken_apart(bike: Outside) -> None:
    bike.put(("pack.source", "ready_made"))
    assert "rings" not in steps(bike)
