"""Read before write, verify after: only what differs, read back, stored, looked at again after the power was off; a
cut leaves a journal that says what stands where."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from ninebolt.services.connection import Connection
from rows.conftest import CONTROLLER, SET, Linked, Outside


def test_ordinary_written_read_back_and_looked_at_again(linked: Linked) -> None:
    plan = linked.post(f"{linked.url}/link/plan", {"source": SET})
    done = linked.write()
    assert done["count"] == len(plan) and done["cycle"] and done["state"] == "waiting"
    assert linked.get("/api/link")["pending"]["sentence"].startswith("all")
    linked.bench("cycle")
    assert linked.post(f"/api/link/writings/{done['id']}/look")["state"] == "verified"
    assert linked.get("/api/link")["pending"] is None
    assert linked.write()["count"] == 0


def test_amps_that_rise_come_last(linked: Linked) -> None:
    names = [s["name"] for s in linked.post(f"{linked.url}/link/plan", {"source": SET})]
    assert names.index("lvc_v") < names.index("ratio") < names.index("line_a")


def test_dangerous_the_wheel_must_be_said_to_be_free(linked: Linked) -> None:
    got = linked.post(f"{linked.url}/link/write", {"source": SET}, (422,))
    assert "wheel free or the chain off" in got["message"]
    linked.written()
    linked.hand(stand=True, throttle=0.5)
    linked.bench("wait", seconds=3)
    linked.put(("goal.top_speed_m_s", 28.5))
    assert "The wheel turns" in linked.write(None, (422,))["message"]


def test_dangerous_a_stop_in_the_build_is_not_written_by_accident(linked: Linked) -> None:
    linked.put(("tune.chosen", [{"name": "line_a", "value": 400}]))
    assert "A stop stands" in linked.write(None, (409,))["message"]


@pytest.mark.parametrize("side", ["the build", "the controller"])
def test_dangerous_what_is_written_is_what_was_looked_at(linked: Linked, side: str) -> None:
    """Another window changed an amp between the look and the press: nobody saw what would have gone in."""
    seen = linked.compare(CONTROLLER, SET)["seen"]
    if side == "the build":
        linked.put(("tune.chosen", [{"name": "line_a", "value": 41}]))
    else:
        linked.write(
            {"kind": "file", "name": "s.json", "text": '{"line_a": 31}'}, typed="Bench controller"
        )
    assert "not what was compared" in linked.write(None, (409,), seen=seen)["message"]
    again = linked.compare(CONTROLLER, SET)
    assert linked.write(seen=again["seen"])["count"] == len(again["rows"])


@pytest.mark.parametrize("finish", [True, False])
def test_dangerous_the_power_goes_in_the_middle(linked: Linked, finish: bool) -> None:
    """The controller resets while it is written; the next connection says what stands where and offers both ways."""
    before = linked.compare(CONTROLLER, SET)["rows"]
    linked.bench("fault", name="reset-in-write", on=True)
    got = linked.write(None, (502,))
    assert "lost what was written" in got["message"]
    linked.bench("repair", name="reset-in-write")
    linked.post("/api/link/disconnect")
    linked.bench("cycle")
    pending = linked.connect()["pending"]
    assert pending["old"] == len(before) and "never stored" in pending["sentence"]
    done = linked.post(
        f"/api/link/writings/{pending['id']}/settle", {"finish": finish, "free": True}
    )
    linked.bench("cycle")
    if done["cycle"]:
        linked.post(f"/api/link/writings/{done['id']}/look")
    assert linked.get("/api/link")["pending"] is None
    assert bool(linked.compare(CONTROLLER, SET)["rows"]) is not finish


def test_dangerous_the_server_dies_in_the_middle(linked: Linked, client: TestClient) -> None:
    """Half is written, nothing is stored, and a new process finds it: half new, half old, and restores."""
    plan = linked.post(f"{linked.url}/link/plan", {"source": SET})
    link: Connection = client.app.state.link  # type: ignore[attr-defined]
    port, _, _ = link.there()
    real, seen = port.write, []

    def dies(at: tuple[int, int], value: object) -> None:
        if len(seen) == len(plan) // 2:
            raise KeyboardInterrupt
        seen.append(at)
        real(at, value)  # type: ignore[arg-type]

    port.write = dies  # type: ignore[method-assign, assignment]
    with pytest.raises(KeyboardInterrupt):
        link.write(linked.url.rsplit("/", 1)[1], _set(linked), "dies", free=True)
    link.close()
    client.app.state.link = Connection(link.house)  # type: ignore[attr-defined]
    pending = linked.connect()["pending"]
    assert pending["new"] == len(plan) // 2 and pending["sentence"].startswith("half written")
    linked.post(f"/api/link/writings/{pending['id']}/settle", {"finish": False, "free": True})
    linked.bench("cycle")
    now = linked.post(f"{linked.url}/link/plan", {"source": SET})
    assert len(now) == len(plan)


def _set(linked: Linked) -> object:
    from ninebolt.library.demo import moss
    from ninebolt.services.tunes import recommended_set

    return recommended_set(moss())


def test_unknown_after_the_power_another_controller_answers(linked: Linked) -> None:
    done = linked.write()
    linked.bench("fault", name="wrong-identity", on=True)
    got = linked.post(f"/api/link/writings/{done['id']}/look", None, (422,))
    assert "Another controller answers" in got["message"]


def test_not_there_the_key_is_off(linked: Linked) -> None:
    linked.bench("key", on=False)
    got = linked.write(None, (502,))
    assert "Nothing answers" in got["message"]
    linked.bench("key", on=True)


def test_not_there_no_adapter(bike: Outside) -> None:
    got = bike.client.post("/api/link/connect", json={"channel": "socket://127.0.0.1:9"})
    assert got.status_code == 502 and "cannot be opened" in got.json()["message"]


def test_a_set_of_a_what_if_is_not_written(client: TestClient, bus: int) -> None:
    """More line amps behind a BMS that is only tried: the BMS that is fitted would open, or the plug melt."""
    bike = Linked(client, bus)
    client.post(f"{bike.url}/trial")
    bike.put(("guard.bms.i_cont_a", {"amount": 300.0, "origin": "label", "tolerance": None}))
    body = {"source": {"kind": "set", "name": ""}, "free": True, "anyway": True}
    said = bike.post(f"{bike.url}/link/write", body, status=(409,))["message"]
    assert "what-if" in said
    client.delete(f"{bike.url}/trial")
    assert bike.post(f"{bike.url}/link/write", body)["count"] > 0
