"""Identification: wheel free, hand on the disconnect; followed, compared with the build, adopted as measured."""

from __future__ import annotations

import time
from typing import Any

import pytest

from rows.conftest import CONTROLLER, SET, Linked, Outside


def identify(linked: Linked) -> dict[str, Any]:
    job = linked.post("/api/link/identify?free=true")
    for _ in range(100):
        linked.bench("wait", seconds=0.5)
        seen = linked.get(f"/api/link/identify/{job['id']}")
        if seen["state"] != "running":
            return dict(seen)
        time.sleep(0.05)
    raise AssertionError("it does not end")


def test_dangerous_no_motor_is_turned_while_a_stop_stands(linked: Linked) -> None:
    """No fuse between pack and controller: the gate would not pass, and the motor was turned all the same."""
    linked.put(("guard.fuse.presence", "not there"))
    got = linked.post("/api/link/identify?free=true&build=moss-84", None, (409,))
    assert "a stop stands" in got["message"] and "fuse" in got["got"].lower()
    assert linked.post("/api/link/identify?free=true&build=moss-84&anyway=true")["id"]


def test_ordinary_measured_compared_and_adopted(linked: Linked) -> None:
    seen = identify(linked)
    assert seen["state"] == "done" and seen["step"] == "done"
    before = linked.body["doc"]["drive"]["motor"]["r_phase_ohm"]
    assert seen["values"]["r_phase_ohm"] == pytest.approx(before["amount"], rel=0.05)
    linked.post(f"{linked.url}/link/adopt/{seen['id']}")
    motor = linked.get(linked.url)["doc"]["drive"]["motor"]
    assert motor["r_phase_ohm"]["origin"] == "measured"
    lead = linked.body["doc"]["guard"]["phase_cable"]
    ohm = (
        0.0172e-6 * 1.02 * lead["length_m"]["amount"] / lead["section_m2"]["amount"]
    )  # rho l / A, stranded
    off = seen["values"]["r_phase_ohm"] - motor["r_phase_ohm"]["amount"]
    assert off == pytest.approx(
        ohm, rel=0.03
    )  # the controller sees the lead too; the build has it by itself
    assert motor["kv_rpm_v"]["amount"] == pytest.approx(seen["values"]["kv_rpm_v"])
    rows = {r["name"]: r["second"] for r in linked.compare(CONTROLLER, SET)["rows"]}
    assert rows["hall_offset_deg"] == pytest.approx(seen["values"]["hall_offset_deg"], abs=0.06)


def test_dangerous_the_wheel_must_be_said_to_be_free(linked: Linked) -> None:
    got = linked.post("/api/link/identify", None, (422,))
    assert "The wheel will turn" in got["message"] and "hand on the disconnect" in got["message"]


def test_dangerous_on_the_ground_it_breaks_off(linked: Linked) -> None:
    linked.hand(stand=False)
    seen = identify(linked)
    assert seen["state"] == "failed" and "broke off" in seen["error"]
    assert linked.post(f"{linked.url}/link/adopt/{seen['id']}", None, (422,))["message"]


def test_dangerous_a_dead_hall_is_not_guessed(linked: Linked) -> None:
    linked.bench("fault", name="hall-dead", on=True)
    assert identify(linked)["state"] == "failed"


def test_halls_in_another_order_are_found_and_cured(linked: Linked) -> None:
    """Before: full twist, high amps and no push. Identified, adopted and written: it pulls."""
    linked.bench("fault", name="hall-order", on=True)
    linked.written()
    linked.hand(stand=False, throttle=0.9)
    linked.bench("wait", seconds=3)
    assert linked.bench("state")["state"]["speed_m_s"] < 1
    linked.hand(stand=True, throttle=0.0)
    linked.bench("cycle")
    seen = identify(linked)
    assert seen["values"]["hall_order"] == 132465
    linked.post(f"{linked.url}/link/adopt/{seen['id']}")
    linked.written()
    linked.hand(stand=False, throttle=0.9)
    linked.bench("wait", seconds=5)
    assert linked.bench("state")["state"]["speed_m_s"] > 1.5


def test_unknown_an_identification_that_is_not_there(bike: Outside) -> None:
    assert bike.client.get("/api/link/identify/nope").status_code == 404


def test_not_there_without_a_controller(bike: Outside) -> None:
    got = bike.client.post("/api/link/identify?free=true")
    assert got.status_code == 409
