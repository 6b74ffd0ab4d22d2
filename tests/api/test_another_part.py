"""What was measured, confirmed and ticked on a part goes with it when another takes its place."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from rows.conftest import Outside


def read_through(client: TestClient) -> Outside:
    """A pack whose groups, leads and terminals are read, and level; its steps are ticked."""
    bike = Outside(client)
    s = bike.body["doc"]["pack"]["series"]
    return bike.put(
        ("pack.group_v", [[i + 1, 3.9] for i in range(s)]),
        ("pack.tap_v", [[i, round(3.9 * i, 3)] for i in range(s + 1)]),
        ("pack.rested_v", 3.9 * s),
        ("pack.done", ["cells"]),
    )


OTHER = "21700 power cell 4.0 Ah, many tabs"


def test_dangerous_readings_of_the_old_cells_do_not_pass_the_new(client: TestClient) -> None:
    """Level groups, read leads and ticked steps were of a pack that is not there any more."""
    bike = read_through(client)
    assert bike.says("pack.taps_open") == ""
    bike.put(("pack.cell", bike.shelf("cell", OTHER)))
    pack = bike.body["doc"]["pack"]
    assert pack["group_v"] == pack["tap_v"] == pack["done"] == [] and pack["rested_v"] is None
    assert bike.says("pack.taps_open") == "note"
    client.post(f"{bike.url}/undo")
    back = Outside(client).body["doc"]["pack"]
    assert len(back["group_v"]) == back["series"] and back["done"] == ["cells"]


def test_what_is_said_with_it_is_kept(client: TestClient) -> None:
    bike = read_through(client)
    bike.put(("pack.cell", bike.shelf("cell", OTHER)), ("pack.rested_v", 88.0))
    assert bike.body["doc"]["pack"]["rested_v"]["amount"] == 88.0


def test_a_better_name_or_a_better_number_is_no_other_part(client: TestClient) -> None:
    bike = read_through(client)
    bike.put(("pack.cell.name", "Cell as its label says"))
    bike.put(("pack.cell.capacity_ah", 4.9), ("pack.temp_c", 12.0))
    assert bike.body["doc"]["pack"]["group_v"] and bike.body["doc"]["pack"]["done"] == ["cells"]


def test_a_what_if_unticks_nothing_before_it_is_kept(client: TestClient) -> None:
    bike = read_through(client)
    client.post(f"{bike.url}/trial")
    bike.put(("pack.cell", bike.shelf("cell", OTHER)))
    assert bike.body["doc"]["pack"]["group_v"] == [] and bike.body["doc"]["pack"]["done"] == [
        "cells"
    ]
    client.delete(f"{bike.url}/trial")
    assert Outside(client).body["doc"]["pack"]["group_v"] != []
    client.post(f"{bike.url}/trial")
    bike.put(("pack.cell", bike.shelf("cell", OTHER)))
    client.post(f"{bike.url}/trial/keep")
    kept = Outside(client).body["doc"]["pack"]
    assert kept["done"] == [] == kept["group_v"] and kept["cell"]["name"] == OTHER


@pytest.mark.parametrize("path", ["pack.cell", "drive.motor", "drive.controller"])
def test_dangerous_isolation_is_of_what_was_joined(client: TestClient, path: str) -> None:
    bike = Outside(client, "brakka-96")
    assert bike.says("guard.isolation_open") == ""
    kind = path.split(".")[1]
    bike.put((path, bike.shelf(kind)))
    assert bike.says("guard.isolation_open") != ""
    assert bike.body["doc"]["guard"]["isolation"]["loaded_v"] is None


def test_rolling_resistance_was_of_the_old_tyre(client: TestClient) -> None:
    bike = Outside(client)
    bike.put(("road.crr", {"amount": 0.031, "origin": "measured", "tolerance": 0.03}))
    bike.put(("gear.tyre", bike.shelf("tyre")))
    crr = bike.body["doc"]["road"]["crr"]
    assert crr["amount"] == 0.031 and crr["origin"] == "guess" and crr["tolerance"] is None


@pytest.mark.parametrize("value", [None, 3, [], "x", {"name": "Another"}])
def test_what_is_no_part_is_refused_and_takes_nothing_with_it(
    client: TestClient, value: Any
) -> None:
    bike = read_through(client)
    body = {"changes": [{"path": "pack.cell", "value": value}]}
    assert client.post(f"{bike.url}/changes", json=body).status_code in (200, 422)
    client.post(f"{bike.url}/undo")
    assert Outside(client).body["doc"]["pack"]["cell"]["name"] != "Another"
