"""The direction: which way it turns, how that is changed, and that the throttle's sense is looked at."""

from __future__ import annotations

import time

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
