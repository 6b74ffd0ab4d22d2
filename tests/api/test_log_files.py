"""A log out of the garage in every form: read back by other libraries, and by this program the same."""

from __future__ import annotations

import csv
import io
import json
import math
import re
import zipfile
from datetime import UTC, datetime

import gpxpy
import numpy as np
import pytest
from fastapi.testclient import TestClient

from ninebolt.core.logs.ride import Ride
from ninebolt.errors import InputError
from ninebolt.formats.ride_out import write_track
from ninebolt.services.house import House
from ninebolt.store.database import session, transaction

URL = "/api/builds/moss-84"
PLACED = b"t_s,speed_m_s,lat_deg,lon_deg,motor_c\n" + b"".join(
    f"{k / 10:.1f},{min(k, 90) / 10:.1f},{48.1234567 + k * 1e-6:.7f},{11.5 + k * 1e-7:.7f},".encode()
    + (b"\n" if k % 5 else f"{40 + k / 10}\n".encode())
    for k in range(200)
)


@pytest.fixture
def log(client: TestClient) -> str:
    got = client.post(f"{URL}/logs", files={"file": ("morning.csv", PLACED)})
    assert got.status_code == 201, got.text
    return str(client.get(f"{URL}/logs").json()[0]["id"])


def taken(client: TestClient, log: str, kind: str, status: int = 200) -> bytes:
    got = client.get(f"{URL}/logs/{log}/file", params={"kind": kind})
    assert got.status_code == status, got.text
    return got.content


def test_a_package_says_what_its_columns_are(client: TestClient, log: str) -> None:
    """Frictionless Data, Tabular Data Package and Table Schema (specs.frictionlessdata.io, version 1): the required
    properties, names in lower case, fields in the order of the columns; the CSV read by the standard library."""
    archive = zipfile.ZipFile(io.BytesIO(taken(client, log, "zip")))
    assert sorted(archive.namelist()) == ["datapackage.json", "ride.csv"]
    about = json.loads(archive.read("datapackage.json"))
    assert about["profile"] == "tabular-data-package" and re.fullmatch(
        r"[a-z0-9._-]+", about["name"]
    )
    (resource,) = about["resources"]
    assert resource["profile"] == "tabular-data-resource" and resource["path"] == "ride.csv"
    fields = resource["schema"]["fields"]
    rows = list(csv.DictReader(io.StringIO(archive.read("ride.csv").decode())))
    assert [f["name"] for f in fields] == list(rows[0]) and {f["type"] for f in fields} == {
        "number"
    }
    units = {f["name"]: f.get("unit") for f in fields}
    assert units["t_s"] == "s" and units["speed_m_s"] == "m/s" and units["lat_deg"] == "°"
    assert resource["schema"]["missingValues"] == [""] and rows[1]["motor_c"] == ""
    assert float(rows[100]["lat_deg"]) == pytest.approx(
        48.1235567, abs=1e-8
    )  # a centimetre, no metre


def test_the_package_comes_in_again_as_it_was(client: TestClient, log: str) -> None:
    archive = zipfile.ZipFile(io.BytesIO(taken(client, log, "zip")))
    got = client.post(f"{URL}/logs", files={"file": ("again.csv", archive.read("ride.csv"))})
    assert got.status_code == 201, got.text
    again = client.get(f"{URL}/logs").json()
    (fresh,) = [x["id"] for x in again if x["name"] == "again.csv"]
    first, second = (json.loads(taken(client, x, "json"))["columns"] for x in (log, fresh))
    assert first == second and math.isclose(first["speed_m_s"][50], 5.0)
    assert first["motor_c"][1] is None


def test_a_track_is_read_by_another_library(client: TestClient, log: str) -> None:
    track = gpxpy.parse(taken(client, log, "gpx").decode()).tracks[0].segments[0].points
    assert len(track) == 200 and track[100].latitude == pytest.approx(48.1235567, abs=1e-8)
    assert (track[100].time - track[0].time).total_seconds() == pytest.approx(10.0)


def test_as_it_came_is_byte_for_byte(client: TestClient, log: str) -> None:
    got = client.get(f"{URL}/logs/{log}/file?kind=as-it-came")
    assert got.content == PLACED and 'filename="morning.csv"' in got.headers["content-disposition"]


def test_a_ride_without_positions_has_no_track(client: TestClient) -> None:
    speeds = b"t_s,speed_m_s\n" + b"".join(
        f"{k / 10},{min(k, 90) / 10}\n".encode() for k in range(200)
    )
    client.post(f"{URL}/logs", files={"file": ("speeds.csv", speeds)})
    log = client.get(f"{URL}/logs").json()[0]["id"]
    assert b"no positions" in taken(client, log, "gpx", 422)


def test_a_log_that_cannot_be_read_still_comes_out_as_it_came(client: TestClient, log: str) -> None:
    state = client.app.state  # type: ignore[attr-defined]
    state.house = House(state.house.path)  # one that has not read it yet
    with session(state.house.path) as db, transaction(db):
        db.execute("UPDATE log SET data = ? WHERE id = ?", (b"garbage", log))
    assert taken(client, log, "as-it-came") == b"garbage"
    assert b"what" in taken(client, log, "json", 422)


def test_places_that_were_never_found_are_no_track() -> None:
    """A ride that was joined may have the columns and nothing in them."""
    dark = np.full(3, math.nan)
    ride = Ride("dark", {"t_s": np.arange(3.0), "lat_deg": dark, "lon_deg": dark})
    with pytest.raises(InputError, match="no positions"):
        write_track(ride, datetime(2031, 5, 4, tzinfo=UTC))


def test_another_builds_log_or_another_form_is_refused(client: TestClient, log: str) -> None:
    assert b"as-it-came" in taken(client, log, "xls", 404)
    got = client.get(f"/api/builds/pip-72/logs/{log}/file")
    assert got.status_code == 404
