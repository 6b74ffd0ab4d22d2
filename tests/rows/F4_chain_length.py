"""Chain length and where the axle goes after a change of teeth."""

from __future__ import annotations

import math

import pytest

from rows.conftest import Outside

PITCH = 0.0127


def around(front: int, rear: int, centre: float) -> float:
    """Links by the exact length of an open belt on both pitch circles (plane geometry)."""
    a, b = (PITCH / (2 * math.sin(math.pi / n)) for n in (front, rear))
    tilt = math.asin((b - a) / centre)
    length = 2 * centre * math.cos(tilt) + math.pi * (a + b) + 2 * (b - a) * tilt
    return length / PITCH


def chain(bike: Outside) -> dict[str, object]:
    return dict(bike.body["assessment"]["drawings"]["gear"]["chassis"]["chain"])


def test_ordinary_links_against_an_open_belt(bike: Outside) -> None:
    found = chain(bike)["links_exact"]
    assert found == pytest.approx(around(12, 56, 0.545), abs=0.12)


def test_the_axle_moves_by_half_a_link_or_so(bike: Outside) -> None:
    """Two teeth more take one link in all, half a link of axle: 6 to 8 mm forward on this chain."""
    now, more = bike.rung(12, 56), bike.rung(12, 58)
    assert 0.006 < now["move_m"] - more["move_m"] < 0.008


def test_dangerous_a_chain_that_does_not_reach_is_a_stop(bike: Outside) -> None:
    bike.put(("gear.run.links", 116), ("gear.run.forward_m", 0.005))
    assert bike.says("gear.chain_length") == "stop" and "links" in bike.words("gear.chain_length")
    bike.put(("gear.run.links", 60))
    assert bike.says("gear.chain_length") == "stop"


def test_dangerous_a_slot_that_is_too_short_says_which_chain_fits(bike: Outside) -> None:
    bike.put(("gear.run.links", 126))
    assert bike.says("gear.chain_length") == "caution"
    fix = bike.findings()["gear.chain_length"]["fixes"][0]["changes"][0]
    assert fix["path"] == "gear.run.links" and fix["value"] % 2 == 0
    assert bike.put((fix["path"], fix["value"])).says("gear.chain_length") == ""


def test_dangerous_a_weak_chain_for_the_pull(bike: Outside) -> None:
    """Pull by hand: wheel torque over the sprocket's pitch radius."""
    bike.put(("gear.chain", "415"), ("drive.controller.phase_a", 600))
    pull = chain(bike)["pull_n"]
    wheel = max(bike.body["assessment"]["drawings"]["drive"]["thrust_n"]) * bike.radius
    assert pull == pytest.approx(wheel / (PITCH / (2 * math.sin(math.pi / 56))), rel=1e-6)
    bike.put(("gear.rear_teeth", 32), ("gear.front_teeth", 9))
    assert bike.says("gear.chain_pull") in ("caution", "stop")


def test_unknown_centre_gives_no_length_but_asks(bike: Outside) -> None:
    bike.put(("gear.run.centre_m", None))
    assert chain(bike)["links_exact"] is None and bike.rung(12, 58)["move_m"] is None


def test_not_there_a_hub_has_no_chain(bike: Outside) -> None:
    bike.put(("gear.front_teeth", None), ("gear.rear_teeth", None), ("drive.motor.kind", "hub"))
    assert bike.body["assessment"]["drawings"]["gear"]["chassis"]["chain"] is None
