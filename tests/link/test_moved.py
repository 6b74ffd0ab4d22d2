"""A build with all that became of it, out of one garage and into another: the same there, everywhere it is shown."""

from __future__ import annotations

import io
import json
import re
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from builds import KNOWN
from conftest import counted
from ninebolt.services.connection import Connection
from ninebolt.services.house import House
from ninebolt.store.database import session as opened
from ninebolt.store.database import transaction
from rows.conftest import Linked

SHOWN = ("sessions", "book", "history", "settings/history", "logs", "pictures", "ride-gate", "acceptance",
         "sessions/spread?protocol=between marks", "")  # fmt: skip
PNG = b"\x89PNG\r\n\x1a\n" + b"\0" * 40


def test_nothing_to_move(client: TestClient, move: Callable[[bytes], str]) -> None:
    """A new build with nothing behind it comes as it is, with the one state that it has."""
    made = client.post("/api/builds", json={"name": "Bare"}).json()["id"]
    data = client.get(f"/api/builds/{made}/export?logs=true").content
    there = move(data)
    assert client.get(f"/api/builds/{there}/sessions").json() == []
    assert len(client.get(f"/api/builds/{there}/history").json()) == 1


@pytest.fixture
def lived(linked: Linked) -> Linked:
    """A bike that was written to, changed and taken back, ridden in a session, photographed."""
    linked.written(why="for the hill")
    linked.put(("gear.front_teeth", 14))
    before = linked.get(f"{linked.url}/history")[0]["seq"]
    linked.put(("gear.front_teeth", 15))
    linked.put(("note", "to be undone"))
    linked.post(f"{linked.url}/undo")
    body = {"name": "Hill", "setups": ["14", "15"], "trials": 3, "spread": 0.1, "gap": 0.3}
    session = linked.post(f"{linked.url}/sessions", body)["id"]
    log = linked.get(f"{linked.url}/logs")[0]["id"]
    for k in range(3):
        for setup, value in (("14", 15.2), ("15", 14.8)):
            run = {"setup": setup, "value": value + 0.02 * k, "log_id": log, "key": f"{setup}-{k}"}
            linked.post(f"{linked.url}/sessions/{session}/trials", run)
    linked.post(f"{linked.url}/sessions/{session}/trials/0/discard?why=a gust")
    linked.post(f"{linked.url}/sessions/{session}/bind?setup=14&seq={before}")
    linked.post(f"{linked.url}/sessions/{session}/felt?setup=15")
    photo = {"file": ("axle.png", PNG, "image/png")}
    got = linked.client.post(f"{linked.url}/pictures?place=gate:cell_spread", files=photo)
    assert got.status_code == 201, got.text
    return linked


@pytest.fixture
def move(client: TestClient, tmp_path: Path) -> Iterator[Callable[[bytes], str]]:
    """Take a file into another, empty garage, which the client then asks; the build's id there."""

    def moved(data: bytes) -> str:
        state = client.app.state  # type: ignore[attr-defined]
        folder = tmp_path / "other"
        state.link.close()
        state.house = House.open(
            folder,
            memory=KNOWN,
            now=counted("2031-06-04T10:00:00.{:06d}+00:00"),
            new_id=counted("id9{:03d}"),
        )
        state.link = Connection(state.house)
        got = client.post("/api/builds/import", files={"file": ("hill.zip", data)})
        assert got.status_code == 201, got.text
        return str(got.json()["id"])

    yield moved


def seen(client: TestClient, build: str) -> dict[str, Any]:
    """Everything that is shown of a build, its ids made alike."""
    out = {}
    for what in SHOWN:
        got = client.get(f"/api/builds/{build}/{what}".rstrip("/"))
        assert got.status_code == 200, f"{what}: {got.text}"
        text = re.sub(r"\b(id|demo)\d{4}\b", "ID", got.text).replace(f'"{build}"', '"ID"')
        assert got.headers["content-type"] == "application/json", what
        out[what] = json.loads(text)
    for moves in ("changed_at", "created_at", "last_bolt"):
        out[""].pop(moves, None)
    return out


def test_a_bike_with_a_past_is_the_same_in_another_garage(
    lived: Linked, move: Callable[[bytes], str]
) -> None:
    here = seen(lived.client, "moss-84")
    data = lived.client.get(f"{lived.url}/export?logs=true").content
    there = move(data)
    moved = seen(lived.client, there)
    for what in SHOWN:
        assert moved[what] == here[what], what
    assert moved["settings/history"] and len(moved["sessions"][0]["trials"]) == 6
    again = lived.client.get(f"/api/builds/{there}/export?logs=true").content
    names = zipfile.ZipFile(io.BytesIO(data)).namelist()
    assert len(zipfile.ZipFile(io.BytesIO(again)).namelist()) == len(names)
    # What can be done there is what could be done here: forward to what was undone, and back to the first.
    url = f"/api/builds/{there}"
    assert lived.client.post(f"{url}/redo").json()["doc"]["note"] == "to be undone"
    while (got := lived.client.post(f"{url}/undo")).status_code == 200:
        pass
    assert got.status_code == 409


def test_an_open_write_is_finished_where_it_was_begun(linked: Linked) -> None:
    """Dangerous: a copy in the same garage must not offer to restore over what was done since."""
    opened = linked.write(why="cut")
    assert opened["cycle"]
    data = linked.client.get(f"{linked.url}/export?logs=true").content
    got = linked.client.post("/api/builds/import", files={"file": ("copy.zip", data)})
    assert got.status_code == 201, got.text
    kept = linked.get(f"/api/builds/{got.json()['id']}/settings/history")
    assert {h["state"] for h in kept if h["kind"] == "write"} <= {"ended", "verified"}
    assert linked.get("/api/link")["pending"]["id"] == opened["id"]


@pytest.mark.parametrize("bad", ["not json", '{"format_version": 3, "gear": 7}', "[1]"])
def test_one_broken_piece_does_not_hold_up_the_others(
    lived: Linked, move: Callable[[bytes], str], bad: str
) -> None:
    """A state, a session and a write that cannot be read: the rest goes along, and the record names them."""
    house = lived.client.app.state.house  # type: ignore[attr-defined]
    lived.post(
        f"{lived.url}/sessions",
        {"name": "Broken", "setups": ["1", "2"], "trials": 3, "spread": 0.1, "gap": 0.3},
    )
    with opened(house.path) as db, transaction(db):
        db.execute("UPDATE revision SET doc = ? WHERE build_id = 'moss-84' AND seq = 2", (bad,))
        db.execute("UPDATE session SET doc = ? WHERE name = 'Broken'", (bad,))
        db.execute("UPDATE writing SET steps = ? WHERE build_id = 'moss-84'", (bad,))
    data = lived.client.get(f"{lived.url}/export?logs=true").content
    record = json.loads(zipfile.ZipFile(io.BytesIO(data)).read("record.json"))
    assert {x.split()[0] for x in record["left_out"]} == {"revision", "session", "writing"}
    there = f"/api/builds/{move(data)}"
    assert [s["name"] for s in lived.client.get(f"{there}/sessions").json()] == ["Hill"]
    while lived.client.post(f"{there}/undo").status_code == 200:
        pass
    assert lived.client.get(there).json()["seq"] == 1


def altered(data: bytes, edit: Callable[[dict[str, Any]], None]) -> bytes:
    """The zip with its record changed."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            inner = old.read(name)
            if name == "record.json":
                doc = json.loads(inner)
                edit(doc)
                inner = json.dumps(doc).encode()
            new.writestr(name, inner)
    return out.getvalue()


def trial(d: dict[str, Any]) -> dict[str, Any]:
    return dict(d["sessions"][0]["doc"]["trials"][0])


BAD: dict[str, Callable[[dict[str, Any]], Any]] = {
    "a state without a document": lambda d: d["states"][0].update(doc=None),
    "a state that is no build": lambda d: d["states"][0]["doc"].update(gear=7),
    "a head that is not there": lambda d: d.update(head=99),
    "a ring of states": lambda d: d["states"][0].update(parent=d["states"][-1]["seq"]),
    "no states": lambda d: d.update(states=[]),
    "states twice": lambda d: d["states"].append(d["states"][0]),
    "no protocol": lambda d: d["sessions"][0]["doc"].update(protocol="pogo"),
    "a plan of nothing": lambda d: d["sessions"][0]["doc"]["asked"].update(trials=-3),
    "one setup": lambda d: d["sessions"][0]["doc"].update(setups=["14"]),
    "a run of another setup": lambda d: d["sessions"][0]["doc"]["trials"][0].update(setup="16"),
    "a run of no time": lambda d: d["sessions"][0]["doc"]["trials"][0].update(value=0),
    "a run on a state to come": lambda d: d["sessions"][0]["doc"]["trials"][0].update(seq=77),
    "a field that is none": lambda d: d["sessions"][0]["doc"]["trials"][0].update(pogo=1),
    "bound to nothing": lambda d: d["sessions"][0]["doc"]["bound"].update({"14": 77}),
    "an id twice": lambda d: d["readings"].append(d["readings"][0]),
    "an address that is none": lambda d: d["readings"][0]["numbers"].update({"zz": 1}),
    "a value that is none": lambda d: d["readings"][0]["numbers"].update({"2001:01": [1]}),
    "half a byte": lambda d: d["readings"][0]["numbers"].update({"2001:01": {"hex": "a"}}),
    "a write of no reading": lambda d: d["writings"][0].update(reading_id="pogo"),
    "a write in no state": lambda d: d["writings"][0].update(state="pogo"),
    "half a step": lambda d: d["writings"][0].update(steps=[["2001:01", 1]]),
    "a later version": lambda d: d.update(version=2),
    "a list": lambda d: d.update(states={}),
    "a dictionary that is none": lambda d: d.update(profiles=[{"name": "x", "eds": "%%"}]),
    "a name of half a letter": lambda d: d["sessions"][0].update(name="\ud800"),
}


def test_a_record_that_is_none_is_refused_and_nothing_is_stored(lived: Linked) -> None:
    data = lived.client.get(f"{lived.url}/export?logs=true").content
    before = lived.client.get("/api/builds").json()
    for what, edit in BAD.items():
        got = lived.client.post(
            "/api/builds/import", files={"file": ("bad.zip", altered(data, edit))}
        )
        assert got.status_code == 422, f"{what}: {got.status_code}"
    assert lived.client.get("/api/builds").json() == before


def test_a_build_that_was_changed_in_its_zip_stands_after_what_it_was(
    lived: Linked, move: Callable[[bytes], str]
) -> None:
    data = lived.client.get(f"{lived.url}/export?logs=true").content
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            inner = old.read(name)
            if name == "build.json":
                inner = json.dumps({**json.loads(inner), "note": "by hand"}).encode()
            new.writestr(name, inner)
    there = move(out.getvalue())
    steps = lived.client.get(f"/api/builds/{there}/history").json()
    assert steps[0]["reason"] == "Imported from hill.zip"
    assert lived.client.get(f"/api/builds/{there}").json()["doc"]["note"] == "by hand"
