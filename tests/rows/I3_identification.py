"""Identification: wheel free, hand on the disconnect; followed, compared with the build, adopted as measured."""

from __future__ import annotations

import time
from typing import Any

import pytest

from ninebolt.core.setting.ours import IDENTIFY, IDENTIFY_GO, IDENTIFY_STOP, STEPS
from ninebolt.core.setting.sets import OUR_PROFILE
from ninebolt.link.port import Adapter, opened
from rows.conftest import CONTROLLER, SET, Linked, Outside


def begun(linked: Linked, build: str = "moss-84") -> str:
    return str(linked.post(f"/api/link/identify?free=true&build={build}&anyway=true")["id"])


def ended(linked: Linked, job: str) -> dict[str, Any]:
    for _ in range(200):
        linked.bench("wait", seconds=0.5)
        seen = linked.get(f"/api/link/identify/{job}")
        if seen["state"] != "running":
            return dict(seen)
        time.sleep(0.05)
    raise AssertionError("it does not end")


def identify(linked: Linked) -> dict[str, Any]:
    return ended(linked, str(linked.post("/api/link/identify?free=true")["id"]))


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


def test_dangerous_nothing_is_written_while_the_motor_is_identified(linked: Linked) -> None:
    """It stands still while its resistance is measured, so the turning wheel does not hold the write back."""
    job = begun(linked)
    for _ in range(2):
        body = {"source": SET, "free": True, "anyway": True}
        got = linked.post(f"{linked.url}/link/write", body, (409,))
        assert "identif" in got["message"].lower()
    assert linked.get("/api/link")["pending"] is None
    assert ended(linked, job)["state"] == "done"
    linked.written()


def test_dangerous_it_is_not_begun_twice(linked: Linked) -> None:
    job = begun(linked)
    got = linked.post("/api/link/identify?free=true", None, (409,))
    assert "identif" in got["message"].lower()
    assert linked.get("/api/link")["turned"] == job  # a page that comes later follows this one
    assert ended(linked, job)["state"] == "done"


def at_work(linked: Linked) -> str:
    """The step that the controller's own routine is at, by a client of its own on the same bus."""
    adapter = Adapter("slcan", f"socket://127.0.0.1:{linked.bus}")
    with opened(adapter, OUR_PROFILE.dictionary) as port:
        return STEPS[int(port.read(IDENTIFY["step"]))]


def over(linked: Linked, job: str) -> dict[str, Any]:
    for _ in range(400):
        seen = linked.get(f"/api/link/identify/{job}")
        if seen["state"] != "running":
            return dict(seen)
        time.sleep(0.05)
    raise AssertionError("it does not end")


def test_dangerous_another_program_identifies(linked: Linked) -> None:
    """The controller itself says that it is at work."""
    adapter = Adapter("slcan", f"socket://127.0.0.1:{linked.bus}")
    with opened(adapter, OUR_PROFILE.dictionary) as port:
        port.write(IDENTIFY["start"], IDENTIFY_GO)
    body = {"source": SET, "free": True, "anyway": True}
    got = linked.post(f"{linked.url}/link/write", body, (409,))
    assert "The controller is identifying its motor" in got["message"]
    assert linked.post("/api/link/identify?free=true", None, (409,))["got"] in STEPS[1:5]


def test_dangerous_stopped_means_that_the_motor_is_stopped(linked: Linked) -> None:
    """A hand that lets go of the disconnect because the page says "stopped" must be able to."""
    job = begun(linked)
    for _ in range(40):  # the job starts when the machine lets it
        linked.bench("wait", seconds=0.2)
        if at_work(linked) == "turning":
            break
    assert at_work(linked) == "turning"
    linked.client.delete(f"/api/jobs/{job}")
    seen = over(linked, job)
    assert seen["state"] == "stopped" and seen["error"] == ""
    assert at_work(linked) == "stopped"
    linked.bench("wait", seconds=5.0)
    assert linked.bench("state")["state"]["speed_m_s"] == 0.0
    assert identify(linked)["state"] == "done"  # and it can be begun anew


def test_dangerous_stopped_by_another_program(linked: Linked) -> None:
    job = begun(linked)
    linked.bench("wait", seconds=0.5)
    adapter = Adapter("slcan", f"socket://127.0.0.1:{linked.bus}")
    with opened(adapter, OUR_PROFILE.dictionary) as port:
        port.write(IDENTIFY["start"], IDENTIFY_STOP)
    seen = over(linked, job)
    assert seen["state"] == "failed" and "was stopped" in seen["error"]
    assert "may turn" not in seen["error"] and seen["values"] == {}


def test_dangerous_let_go_while_it_turns_stops_it_first(linked: Linked) -> None:
    job = begun(linked)
    linked.bench("wait", seconds=0.5)
    linked.post("/api/link/disconnect")
    seen = over(linked, job)
    assert seen["state"] == "failed" and "let go" in seen["error"]
    assert "stopped first" in seen["error"] and "may turn" not in seen["error"]
    assert at_work(linked) == "stopped"


def test_unknown_a_controller_that_falls_silent_may_turn_still(
    linked: Linked, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("ninebolt.link.port.ANSWER_S", 0.3)  # silence is what is waited for
    linked.connect()
    job = begun(linked)
    linked.bench("wait", seconds=0.5)
    linked.bench("key", on=False)
    seen = over(linked, job)
    linked.bench("key", on=True)
    assert seen["state"] == "failed" and "may turn still: disconnect the pack" in seen["error"]


def test_dangerous_what_one_motor_gave_is_not_taken_for_another(linked: Linked) -> None:
    job = begun(linked)
    assert ended(linked, job)["state"] == "done"
    got = linked.post(f"/api/builds/pip-72/link/adopt/{job}", None, (409,))
    assert "for another build" in got["message"]
    linked.put(("drive.motor.name", "Another one"), ("drive.motor.label_w", 900))
    got = linked.post(f"{linked.url}/link/adopt/{job}", None, (409,))
    assert "is another than when it was identified" in got["message"]
    assert linked.get(linked.url)["doc"]["drive"]["motor"]["r_phase_ohm"]["origin"] == "datasheet"


def test_the_build_stands_beside_it_as_the_controller_would_see_it(linked: Linked) -> None:
    """KV typed a volt RMS between two leads, the resistance without its lead: the bench has just these."""
    kv = linked.body["doc"]["drive"]["motor"]["kv_rpm_v"]["amount"]
    linked.put(("drive.motor.kv_convention", "line_rms"), ("drive.motor.kv_rpm_v", kv * 2**0.5))
    seen = ended(linked, begun(linked))
    for row in seen["rows"]:
        if row["key"] in ("kv_rpm_v", "r_phase_ohm", "l_phase_henry"):
            assert row["before"] == pytest.approx(row["measured"], rel=0.03), row["key"]


def test_less_than_the_lead_alone_is_left_out_and_said(linked: Linked) -> None:
    job = begun(linked)
    assert ended(linked, job)["state"] == "done"
    linked.put(("guard.phase_cable.length_m", 10.0), ("guard.phase_cable.section_m2", 1e-6))
    rows = {r["key"]: r for r in linked.get(f"/api/link/identify/{job}")["rows"]}
    assert "its lead alone" in rows["r_phase_ohm"]["left"] and not rows["kv_rpm_v"]["left"]
    taken = {r["key"]: r["left"] for r in linked.post(f"{linked.url}/link/adopt/{job}")}
    assert taken["r_phase_ohm"] and not taken["kv_rpm_v"]
    motor = linked.get(linked.url)["doc"]["drive"]["motor"]
    assert (
        motor["r_phase_ohm"]["origin"] == "datasheet" and motor["kv_rpm_v"]["origin"] == "measured"
    )


def test_dangerous_the_controller_of_another_bike_measures_that_bike_s_motor(
    linked: Linked,
) -> None:
    """The page of a copy is open: what is measured is the motor that hangs on this very controller."""
    assert linked.written()["state"] == "verified"
    other = linked.post(f"{linked.url}/duplicate")["id"]
    job = begun(linked, other)
    assert ended(linked, job)["state"] == "done"
    got = linked.post(f"/api/builds/{other}/link/adopt/{job}", None, (409,))
    assert "written for another build last" in got["message"] and "Moss 84" in got["message"]
    job = begun(linked)
    assert ended(linked, job)["state"] == "done"
    assert linked.post(f"{linked.url}/link/adopt/{job}")


def test_unknown_an_identification_that_is_not_there(bike: Outside) -> None:
    assert bike.client.get("/api/link/identify/nope").status_code == 404


def test_not_there_without_a_controller(bike: Outside) -> None:
    got = bike.client.post("/api/link/identify?free=true")
    assert got.status_code == 409
