"""A long log is read in the background: it says how far it is, can be stopped, stores nothing, is read once."""

from __future__ import annotations

import time
from typing import Any

import pytest
from fastapi.testclient import TestClient

from ninebolt.formats import ride_log
from ninebolt.services import rides

URL = "/api/builds/pip-72/logs"


def log(seconds: int = 60, hz: int = 10) -> bytes:
    rows = ["time [s],speed [km/h],pack [V],note"]
    for i in range(seconds * hz):
        rows.append(f"{i / hz:.2f},{max(0.0, min(i / hz - 3.0, 20.0)) * 3.0:.2f},84,a")
    return ("\n".join(rows) + "\n").encode()


def begin(client: TestClient, data: bytes, name: str = "long.csv") -> dict[str, Any]:
    got = client.post(f"{URL}/jobs", files={"file": (name, data)})
    assert got.status_code == 201, got.text
    return dict(got.json())


def over(client: TestClient, job: dict[str, Any]) -> dict[str, Any]:
    for _ in range(400):
        if job["state"] != "running":
            break
        time.sleep(0.05)
        job = client.get(f"/api/jobs/{job['id']}").json()
    return job


def test_a_small_log_is_there_at_once_and_nothing_is_stored(client: TestClient) -> None:
    job = over(client, begin(client, log()))
    assert job["state"] == "done" and job["kind"] == "reading" and job["result"]["rows"] == 600
    assert job["result"]["preview"]["report"]["launches"] and client.get(URL).json() == []
    looked = client.post(f"{URL}/preview", files={"file": ("long.csv", log())}).json()
    assert looked == job["result"]["preview"]


def test_what_was_looked_at_is_not_read_again(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    over(client, begin(client, log(70)))

    def never(*_: object) -> None:
        raise AssertionError("read twice")

    monkeypatch.setattr(rides, "read_log", never)
    got = client.post(URL, files={"file": ("long.csv", log(70))})
    assert got.status_code == 201


def test_it_can_be_stopped_and_then_nothing_is_there(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A slow disk, or a long file: other requests are answered meanwhile."""

    def slow(*args: Any) -> Any:
        time.sleep(1.0)
        return ride_log.read_log(*args)

    monkeypatch.setattr(rides, "read_log", slow)
    job = begin(client, log(80))
    assert job["state"] == "running" and job["result"]["stage"] == "reading"
    client.delete(f"/api/jobs/{job['id']}")
    done = over(client, job)
    assert done["state"] == "stopped" and done["result"]["preview"] is None
    assert client.get(URL).json() == []


@pytest.mark.parametrize(
    ("name", "data"),
    [("x.csv", b""), ("x.csv", b"\0\1\2"), ("x.gpx", b"<gpx><trk>"), ("x.nmea", b"$GPRMC,,*00")],
)
def test_garbage_ends_in_words(client: TestClient, name: str, data: bytes) -> None:
    job = over(client, begin(client, data, name))
    said = job["error"] or job["result"]["preview"]["error"]
    assert said and "broke off" not in said


def test_the_speed_asked_about_is_asked_about_here_too(client: TestClient) -> None:
    data = b"time [s],speed [furlong]\n" + b"".join(b"%d,9\n" % i for i in range(30))
    preview = over(client, begin(client, data))["result"]["preview"]
    assert "unit of the speed" in preview["error"] and preview["sniffed"]["header"]


def test_a_build_that_is_not_there_has_no_job(client: TestClient) -> None:
    got = client.post("/api/builds/none/logs/jobs", files={"file": ("x.csv", log())})
    assert got.status_code == 404
