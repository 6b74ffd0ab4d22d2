"""The direction: which way it turns, how that is changed, and that the throttle's sense is looked at."""

from __future__ import annotations

import time

import pytest
from fastapi.testclient import TestClient

from rows.conftest import CONTROLLER, SET, Linked, Outside


def test_ordinary_identified_and_written(linked: Linked) -> None:
    linked.bench("fault", name="phase-swap", on=True)
    job = linked.post("/api/link/identify?free=true")
    for _ in range(60):
        linked.bench("wait", seconds=0.5)
        if linked.get(f"/api/link/identify/{job['id']}")["state"] != "running":
            break
        time.sleep(0.05)
    taken = {r["key"]: r["measured"] for r in linked.post(f"{linked.url}/link/adopt/{job['id']}")}
    assert taken["direction"] == -1
    rows = {r["name"]: (r["first"], r["second"]) for r in linked.compare(CONTROLLER, SET)["rows"]}
    assert rows["direction"] == (1, -1)
    line = next(r for r in linked.compare(CONTROLLER, SET)["rows"] if r["name"] == "direction")
    assert "push the other way" in line["effect"]["sentence"]
    assert linked.written()["state"] == "verified"


def test_dangerous_neither_way_is_refused(linked: Linked) -> None:
    """0 is no direction: it is refused by the limits of its type before anything is written... or named."""
    linked.put(("tune.chosen", [{"name": "direction", "value": 5}]))
    got = linked.write(None, (409, 422), anyway=True)
    assert "outside what the controller takes" in got["message"]


def test_dangerous_throttle_ends_swapped_drive_with_the_hand_off(bike: Outside) -> None:
    bike.put(("tune.throttle_rest_v", 4.1), ("tune.throttle_full_v", 0.9))
    assert bike.says("tune.throttle_span") == "stop" and "hand off" in bike.words(
        "tune.throttle_span"
    )


def test_unknown_until_identified_it_stays_what_the_controller_has(bike: Outside) -> None:
    rows = [r["name"] for r in bike.body["assessment"]["drawings"]["tune"]["rows"]]
    assert "direction" not in rows


def test_not_there_a_profile_keeps_the_direction_of_the_bike(bike: Outside) -> None:
    bike.put(("tune.chosen", [{"name": "direction", "value": -1}]))
    plan = bike.client.get(f"{bike.url}/settings/swap", params={"after": "Guest"}).json()
    assert "direction" not in {r["name"] for r in plan["rows"]}


@pytest.mark.parametrize("kind", ["motor", "controller"])
def test_dangerous_what_was_confirmed_on_the_old_motor_is_open_on_the_new(
    client: TestClient, kind: str
) -> None:
    """Makers do not agree which lead is U: an order that was identified holds for the two that were joined."""
    bike = Outside(client, "brakka-96")
    wire = bike.body["doc"]["wire"]
    assert all(x["confirmed"] for x in (*wire["phases"], *wire["halls"]))
    assert bike.says("wire.confirm") == bike.says("wire.colour") == ""
    bike.put((f"drive.{kind}.name", "As its plate says"))  # a name alone is no other part
    assert bike.says("wire.confirm") == bike.says("wire.colour") == ""
    bike.put((f"drive.{kind}", bike.shelf(kind)))
    assert "confirmed" in bike.words("wire.confirm") + bike.words("wire.colour")
    client.post(f"{bike.url}/undo")  # the old one back, with what was confirmed on it
    assert Outside(client, "brakka-96").says("wire.confirm") == ""
