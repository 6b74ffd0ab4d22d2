"""The model learns from coast-downs and runs of the bench bike, whose truth is hidden from it; what holds neither."""

from __future__ import annotations

import random
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from ninebolt.bench.ride import coast_down, ride
from ninebolt.bench.truth import hidden_truth
from ninebolt.core.bike.case import assemble
from ninebolt.core.logs.align import one_ride
from ninebolt.core.logs.ride import Ride
from ninebolt.formats.ride_csv import write_ride
from ninebolt.library.demo import moss
from rows.conftest import Outside

SEED, FROM, WIND = 11, 18.0, 1.2


@pytest.fixture
def bike(client: TestClient) -> Outside:
    return Outside(client)


def truth() -> dict[str, float]:
    case = assemble(moss()).case
    assert case is not None
    real = hidden_truth(case, random.Random(SEED), [])
    return {"cda_m2": real.body.cda_m2, "crr": real.body.crr}


def upload(bike: Outside, log: Ride | bytes, name: str = "log.csv") -> str:
    data = log if isinstance(log, bytes) else write_ride(log)
    got = bike.client.post(f"{bike.url}/logs?bolt=prove", files={"file": (name, data)})
    assert got.status_code == 201, got.text
    bike.body = got.json()
    return str(bike.body["doc"]["prove"]["log_id"])


def learn(bike: Outside, **body: Any) -> dict[str, Any]:
    got = bike.client.post(f"{bike.url}/calibrate", json=body)
    assert got.status_code == 200, got.text
    return dict(got.json())


def both_ways(bike: Outside) -> list[str]:
    return [
        upload(bike, coast_down(moss(), SEED, [], FROM, w), f"{w:g}.csv") for w in (WIND, -WIND)
    ]


def value(found: dict[str, Any], name: str) -> dict[str, Any]:
    return next(v for v in found["values"] if v["name"] == name)


def test_ordinary_air_and_rolling_are_parted_by_rolling_there_and_back(bike: Outside) -> None:
    found = learn(bike, coasting=both_ways(bike))
    for name, real in truth().items():
        v = value(found, name)
        assert v["told"] and abs(v["value"] - real) <= 1.5 * v["half95"], (name, v, real)
    assert ["cda_m2", "crr"] not in found["together"]
    assert len(found["coasts"]) == 2 and all(c["seen_shut"] for c in found["coasts"])
    before = bike.head["top_speed_m_s"]
    bike.put(*((c["path"], c["value"]) for c in found["changes"]))
    assert bike.body["doc"]["road"]["cda_m2"]["origin"] == "measured"
    assert bike.head["top_speed_m_s"] != before


def test_one_way_with_its_wind_said_is_as_good(bike: Outside) -> None:
    """The wind of the chosen log stands on Prove: with it one way alone gives the drag, without it far less surely."""
    log = upload(bike, coast_down(moss(), SEED, [], FROM, 3.0))
    blind = value(learn(bike, coasting=[log]), "cda_m2")
    bike.put(("prove.wind_m_s", {"amount": 3.0, "origin": "measured", "tolerance": None}))
    found = learn(bike, coasting=[log])
    told, real = value(found, "cda_m2"), truth()["cda_m2"]
    assert abs(told["value"] - real) <= 1.5 * told["half95"]
    assert (
        told["half95"] < 0.5 * blind["half95"]
        and abs(blind["value"] - real) <= 1.5 * blind["half95"]
    )
    assert not any("what wind" in x for x in found["left_open"])


def test_runs_and_coast_downs_together_say_mass_from_driveline(bike: Outside) -> None:
    """A coast-down and a run share one drag: what is left of the run is power over mass."""
    run_id = upload(bike, ride(moss(), SEED, [])[1], "run.csv")
    found = learn(bike, logs=[run_id], coasting=both_ways(bike))
    assert found["runs"] and value(found, "r0_ohm")["told"]
    assert value(found, "mass_kg")["path"] == "donor.correction_kg"
    alone = learn(bike, logs=[run_id])
    assert value(found, "cda_m2")["half95"] < value(alone, "cda_m2")["half95"]


def test_dangerous_a_braked_stop_is_no_coast_down(bike: Outside) -> None:
    t = np.arange(0.0, 20.0, 0.1)
    log = upload(bike, Ride("x", {"t_s": t, "speed_m_s": np.maximum(25.0 - 3.0 * t, 0.0)}))
    got = bike.client.post(f"{bike.url}/calibrate", json={"coasting": [log]})
    assert got.status_code == 422 and "No coast-down" in got.json()["message"]


def test_dangerous_slowing_under_throttle_is_no_coast_down(bike: Outside) -> None:
    t = np.arange(0.0, 20.0, 0.1)
    columns = {"t_s": t, "speed_m_s": 20.0 - 0.5 * t, "throttle": np.full(len(t), 0.2)}
    log = upload(bike, Ride("x", columns))
    got = bike.client.post(f"{bike.url}/calibrate", json={"coasting": [log]})
    assert got.status_code == 422 and "No coast-down" in got.json()["message"]


def test_unknown_a_dragging_brake_is_warned_of_where_nothing_shows_the_throttle(
    bike: Outside,
) -> None:
    columns = coast_down(moss(), SEED, [], FROM, 0.0, 30.0).columns
    log = upload(bike, Ride("x", {k: columns[k] for k in ("t_s", "speed_m_s")}))
    found = learn(bike, coasting=[log])
    assert any("dragging brake" in x for x in found["left_open"])
    assert any("what wind" in x for x in found["left_open"])


def test_with_the_chain_off_the_motor_is_not_in_it(bike: Outside) -> None:
    logs = both_ways(bike)
    on, off = (learn(bike, coasting=logs, motor_turns=t) for t in (True, False))
    assert value(off, "crr")["value"] > value(on, "crr")["value"]
    assert any("chain was off" in x for x in off["left_open"])


def test_dangerous_one_log_twice_is_no_surer(bike: Outside) -> None:
    log = both_ways(bike)[0]
    got = bike.client.post(f"{bike.url}/calibrate", json={"coasting": [log, log]})
    assert got.status_code == 422 and "counts once" in got.json()["message"]


def test_not_there_nothing_chosen_is_refused(bike: Outside) -> None:
    assert bike.client.post(f"{bike.url}/calibrate", json={}).status_code == 422
    gone = bike.client.post(f"{bike.url}/calibrate", json={"coasting": ["gone"]})
    assert gone.status_code == 404


def test_a_ride_under_way_is_taken_and_says_what_it_does_not_hold(bike: Outside) -> None:
    """It was refused: a loop begun under way, a pass at speed, a coast-down."""
    t = np.arange(0.0, 60.0, 0.1)
    log = upload(bike, Ride("pass", {"t_s": t, "speed_m_s": 15.0 + 3.0 * np.sin(t / 9.0)}))
    assert bike.says("prove.no_start") == "note"
    prove = bike.body["assessment"]["bolts"][8]
    assert prove["state"] != "tight" and "prove.log_id" in prove["missing"]
    drawing = bike.body["assessment"]["drawings"]["prove"]
    assert drawing["launches"] == [] and all(r["logged_s"] is None for r in drawing["rows"])
    assert drawing["top_logged_m_s"] == pytest.approx(18.0, abs=0.1)
    held = bike.client.get(f"{bike.url}/logs/{log}/held").json()
    assert held["held"] is None and "No standing start" in held["problem"]
    assert bike.client.get(f"{bike.url}/over?logs={log}&logs={log}:2").status_code == 422
    got = bike.client.post(f"{bike.url}/calibrate", json={"logs": [log]})
    assert got.status_code == 422 and "No standing start" in got.json()["message"]
    assert bike.client.get(f"{bike.url}/acceptance").status_code == 200


def test_what_stands_still_is_still_refused(bike: Outside) -> None:
    t = np.arange(0.0, 60.0, 0.1)
    data = write_ride(Ride("x", {"t_s": t, "speed_m_s": np.full(len(t), 0.1)}))
    got = bike.client.post(f"{bike.url}/logs", files={"file": ("x.csv", data)})
    assert got.status_code == 422 and "Nothing moves" in got.json()["message"]


def test_dangerous_of_another_bike_nothing_is_taken(bike: Outside) -> None:
    """Ridden with 12 in front, learned with 14: the drag that makes up for it would have been kept as measured."""
    log = upload(bike, ride(moss(), SEED, [])[0])
    before = learn(bike, logs=[log], hold_back=False)
    assert before["changes"] and not any("before the bike" in t for t in before["left_open"])
    bike.put(("gear.front_teeth", 14))
    found = learn(bike, logs=[log], hold_back=False)
    assert found["changes"] == []
    assert "front teeth 12 → 14" in found["left_open"][0] and "Ride again" in found["left_open"][0]
    bike.put(("gear.front_teeth", 12), ("road.cda_m2", 0.6))  # what is learned may have moved
    assert learn(bike, logs=[log], hold_back=False)["changes"]


def test_dangerous_two_loggers_of_one_ride_are_not_two_rides(bike: Outside) -> None:
    """Receiver and controller logged one run: half the width that one run gives would be no knowledge. Their files tell
    nothing apart, so it is said; one file in another, as a join holds it, is refused."""
    first, second = ride(moss(), SEED, [])
    ids = [upload(bike, first, "gps.csv"), upload(bike, second, "controller.csv")]
    found = learn(bike, logs=ids, hold_back=False)
    assert any("near to each other as their noise" in x for x in found["left_open"])
    joined = bike.client.post(f"{bike.url}/logs/{ids[0]}/join", params={"other": ids[1]})
    assert joined.status_code == 201, joined.text
    both = [ids[0], joined.json()["doc"]["prove"]["log_id"]]
    got = bike.client.post(f"{bike.url}/calibrate", json={"logs": both})
    assert got.status_code == 422 and "hold one ride" in got.json()["message"]


def test_ordinary_two_rides_are_two(bike: Outside) -> None:
    """Another bike by a few percent, and the same coasting with the wind turned round."""
    ids = [upload(bike, ride(moss(), seed, [])[0], f"{seed}.csv") for seed in (SEED, SEED + 1)]
    found = learn(bike, logs=ids, hold_back=False)
    assert not any("near to each other" in x for x in found["left_open"])
    ways = [Ride("x", coast_down(moss(), SEED, [], FROM, w).columns) for w in (WIND, -WIND)]
    assert one_ride(*ways) == "no"


def test_dangerous_a_coast_down_in_two_files_counts_once(bike: Outside) -> None:
    roll = coast_down(moss(), SEED, [], FROM, WIND)
    later = Ride("x", {k: y[10:] for k, y in roll.columns.items()})
    ids = [upload(bike, roll, "roll.csv"), upload(bike, later, "the same, cut.csv")]
    got = bike.client.post(f"{bike.url}/calibrate", json={"coasting": ids})
    assert got.status_code == 422 and "hold one ride" in got.json()["message"]
    there = learn(bike, coasting=both_ways(bike))
    assert not any("near to each other" in x for x in there["left_open"])
