"""A log belongs to the setup that was ridden: what was changed, or written into the controller, since is said."""

from __future__ import annotations

import sqlite3
from importlib import resources
from typing import Any

import pytest
from fastapi.testclient import TestClient

from ninebolt.bench.ride import ride
from ninebolt.formats.ride_csv import write_ride
from ninebolt.library.demo import moss
from ninebolt.services.house import House
from rows.conftest import Outside


@pytest.fixture
def bike(client: TestClient) -> Outside:
    return Outside(client)


def upload(bike: Outside) -> str:
    data = write_ride(ride(moss(), 4, [])[0])
    got = bike.client.post(f"{bike.url}/logs?bolt=prove", files={"file": ("x.csv", data)})
    bike.body = got.json()
    return str(bike.body["doc"]["prove"]["log_id"])


def setup(bike: Outside, log: str) -> dict[str, Any]:
    got = bike.client.get(f"{bike.url}/logs/{log}/setup")
    assert got.status_code == 200, got.text
    return dict(got.json())


def test_ordinary_as_the_build_stands(bike: Outside) -> None:
    found = setup(bike, upload(bike))
    assert found["seq"] >= 1 and found["moved"] == [] and found["written"] == 0


def test_dangerous_another_gearing_since_is_said_with_both_values(bike: Outside) -> None:
    """The prediction beside the log is of a bike that was not ridden."""
    log = upload(bike)
    bike.put(
        ("gear.rear_teeth", 44), ("goal.rider_kg", 99.0), ("note", "words"), ("prove.rollout", True)
    )
    moved = {m["path"]: (m["then"], m["now"]) for m in setup(bike, log)["moved"]}
    assert set(moved) == {"gear.rear_teeth", "goal.rider_kg"}
    assert moved["gear.rear_teeth"] == (56, 44)
    beside = bike.client.get(f"/api/beside?id=moss-84&id=moss-84@{setup(bike, log)['seq']}")
    assert beside.status_code == 200
    bike.client.post(f"{bike.url}/undo")
    assert setup(bike, log)["moved"] == []


def test_a_session_that_it_belongs_to_is_named(bike: Outside) -> None:
    log = upload(bike)
    body = {
        "name": "May",
        "setups": ["a", "b"],
        "protocol": "between marks",
        "trials": 3,
        "spread": 0.1,
        "gap": 0.3,
    }
    session = bike.client.post(f"{bike.url}/sessions", json=body).json()["id"]
    bike.client.post(
        f"{bike.url}/sessions/{session}/trials", json={"setup": "a", "value": 15.0, "log_id": log}
    )
    assert setup(bike, log)["sessions"] == ["May"]


def test_unknown_an_older_garage_places_its_logs_by_their_time(demo: House, bike: Outside) -> None:
    """What the migration does to logs from before it; where no time tells it, nobody knows, and that is said."""
    log = upload(bike)
    place = (
        (resources.files("ninebolt.store") / "schema" / "006_log_setup.sql")
        .read_text()
        .partition(";")[2]
    )
    with sqlite3.connect(demo.path) as db:
        db.execute("UPDATE log SET seq = NULL")
    assert setup(bike, log)["seq"] is None and setup(bike, log)["moved"] == []
    with sqlite3.connect(demo.path) as db:
        db.executescript(place)
    assert setup(bike, log)["seq"] is not None


def test_not_there(bike: Outside) -> None:
    assert bike.client.get(f"{bike.url}/logs/gone/setup").status_code == 404
