"""A receiver beside the controller: its sentences become a log as they came; what is none is named."""

from __future__ import annotations

import socket
import time

import pytest

from rows.conftest import Linked


def logged(linked: Linked, looks: int) -> None:
    """Until both loggers hold so much, however slow the machine is."""
    until = time.monotonic() + 90.0
    while time.monotonic() < until:
        state = linked.get("/api/link")
        if min(state["samples"], state["heard"]) > looks:
            return
        time.sleep(0.2)


def test_a_ride_is_kept_by_both_loggers_and_joined(linked: Linked) -> None:
    """The satellites' log is the one that is shown; the controller's joins it on its clock."""
    gps = f"socket://127.0.0.1:{linked.bus + 2}"
    linked.written()
    linked.post(f"/api/link/record?on=true&gps={gps}")
    logged(linked, 20)
    linked.hand(stand=False)
    linked.hand(throttle=1.0)
    until = time.monotonic() + 60.0
    while time.monotonic() < until and linked.bench("state")["state"]["speed_m_s"] < 5.0:
        time.sleep(0.3)
    linked.hand(throttle=0.0)
    logged(linked, 60)
    state = linked.post("/api/link/record?on=false")
    assert state["samples"] > 60 and state["heard"] > 60
    linked.post(f"{linked.url}/link/log")
    logs = {x["name"]: x["id"] for x in linked.get(f"{linked.url}/logs")}
    assert {"live.csv", "live-gps.nmea"} <= logs.keys()
    assert linked.get(linked.url)["doc"]["prove"]["log_id"] == logs["live-gps.nmea"]
    got = linked.client.post(
        f"{linked.url}/logs/{logs['live-gps.nmea']}/join", params={"other": logs["live.csv"]}
    )
    assert got.status_code == 201, got.text


@pytest.mark.parametrize(
    "url", ["spy:///dev/null?file=x", "loop://", "alt:///dev/ttyS0", "http://a"]
)
def test_dangerous_an_address_that_would_do_something_else(linked: Linked, url: str) -> None:
    got = linked.client.post("/api/link/record", params={"on": True, "gps": url})
    assert got.status_code == 422 and "no receiver's address" in got.json()["message"]
    assert linked.get("/api/link")["recording"] is False


def test_unknown_a_silent_receiver_is_said(linked: Linked) -> None:
    with socket.create_server(("127.0.0.1", 0)) as mute:
        url = f"socket://127.0.0.1:{mute.getsockname()[1]}"
        got = linked.client.post("/api/link/record", params={"on": True, "gps": url})
        assert got.status_code == 504 or "says nothing" in got.json()["message"]
        assert "says nothing" in got.json()["message"]


def test_not_there(linked: Linked) -> None:
    got = linked.client.post("/api/link/record", params={"on": True, "gps": "/dev/nowhere"})
    assert "cannot be opened" in got.json()["message"]
