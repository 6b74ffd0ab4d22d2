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


# A toothed belt instead of a chain.


def belt(
    bike: Outside, front: int = 28, rear: int = 112, pitch: str = "belt 8 mm"
) -> dict[str, object]:
    bike.put(
        ("gear.chain", pitch),
        ("gear.front_teeth", front),
        ("gear.rear_teeth", rear),
        ("gear.run.links", None),
    )
    return chain(bike)


def test_a_belt_s_teeth_and_length_against_plane_geometry(bike: Outside) -> None:
    """Length of an open belt on both pitch circles, N p / π across; wrap of the small one π - 2 asin((R2 - R1)/C)."""
    found = belt(bike)
    a, b = (0.008 * n / (2 * math.pi) for n in (28, 112))
    tilt = math.asin((b - a) / 0.545)
    length = 2 * 0.545 * math.cos(tilt) + math.pi * (a + b) + 2 * (b - a) * tilt
    assert found["links_exact"] == pytest.approx(length / 0.008, abs=0.05)
    assert found["mesh"] == pytest.approx(28 * (math.pi - 2 * tilt) / (2 * math.pi), rel=1e-9)
    assert found["stands_n"] is None and found["slack_m"] is None
    assert bike.says("gear.belt_mesh") == "" and bike.says("gear.belt_pull") == "note"


def test_a_belt_may_have_an_odd_number_of_teeth(bike: Outside) -> None:
    counts = set()
    for rear in range(100, 108):
        links = belt(bike, rear=rear)["links"]
        assert isinstance(links, int)
        counts.add(links % 2)
    assert counts == {0, 1}


def test_dangerous_a_small_pulley_lets_the_belt_jump(bike: Outside) -> None:
    belt(bike, front=8, rear=60, pitch="belt 14 mm")
    assert bike.says("gear.belt_mesh") == "stop" and "jumps" in bike.words("gear.belt_mesh")
    belt(bike, front=12, rear=56, pitch="belt 8 mm")
    assert bike.says("gear.belt_mesh") == "caution"


def test_dangerous_a_belt_that_does_not_reach_is_a_stop_and_is_no_chain(bike: Outside) -> None:
    belt(bike)
    bike.put(("gear.run.links", 160), ("gear.run.forward_m", 0.005))
    assert bike.says("gear.chain_length") == "stop"
    assert "belt" in bike.words("gear.chain_length") and "chain" not in bike.words(
        "gear.chain_length"
    )


def test_what_a_belt_is_allowed_is_held_against_its_pull(bike: Outside) -> None:
    """The boundary by hand: at once and at 1.5 times the pull (common practice, no source)."""
    pull = belt(bike)["pull_n"]
    assert isinstance(pull, float)
    for share, says in ((0.99, "stop"), (1.2, "caution"), (1.6, "")):
        bike.put(("gear.run.stands_n", {"amount": pull * share, "origin": "datasheet"}))
        assert bike.says("gear.belt_pull") == says, share


def test_dangerous_a_heavier_chain_does_not_keep_the_old_one_s_strength(bike: Outside) -> None:
    bike.put(("gear.chain", "420"), ("gear.run.stands_n", {"amount": 3000.0, "origin": "measured"}))
    assert bike.says("gear.chain_pull") == "stop"
    fix = bike.findings()["gear.chain_pull"]["fixes"][0]["changes"]
    assert bike.put(*((c["path"], c["value"]) for c in fix)).says("gear.chain_pull") != "stop"


def test_unknown_run_of_a_belt_is_said(bike: Outside) -> None:
    belt(bike)
    bike.put(("gear.run.centre_m", None))
    assert chain(bike)["mesh"] is None and "shaft to axle" in bike.words("gear.belt_pull")


def test_not_there_neither_chain_nor_belt(bike: Outside) -> None:
    bike.put(("gear.chain", "none"))
    assert bike.body["assessment"]["drawings"]["gear"]["chassis"]["chain"] is None
    assert bike.says("gear.belt_pull") == bike.says("gear.belt_mesh") == ""


def test_unknown_room_for_the_axle_is_no_room(bike: Outside) -> None:
    """122 links are 6.6 mm long for this run; each two less are 12.9 mm of axle (a link is half a pitch of centre)."""
    bike.put(("gear.run.forward_m", None), ("gear.run.links", 118))
    assert bike.says("gear.chain_length") == "caution" and "not measured" in bike.words(
        "gear.chain_length"
    )
    bike.put(("gear.run.links", 100))
    assert bike.says("gear.chain_length") == "stop"
    bike.put(("gear.run.slot_m", None), ("gear.run.links", 124))
    assert bike.says("gear.chain_length") == "note"
    bike.put(("gear.run.links", 140))
    assert bike.says("gear.chain_length") == "caution" and "any slot" in bike.words(
        "gear.chain_length"
    )


def test_dangerous_a_bike_that_does_not_move_pulls_no_chain_apart(bike: Outside) -> None:
    """Less than no pull was 701 times less than none: a stop about the chain of a bike that stands."""
    bike.put(("drive.controller.phase_a", 1.0), ("drive.motor.drag_nm", 3.0))
    assert bike.says("drive.stuck") == "stop" and bike.says("gear.chain_pull") == ""
