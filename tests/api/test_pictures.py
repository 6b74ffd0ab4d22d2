"""Photos at gates: kept apart from the document, served as what they are, leaving and coming back with a build."""

from __future__ import annotations

import io
import json
import zipfile

import pytest
from fastapi.testclient import TestClient

from ninebolt.services import pictures

URL = "/api/builds/moss-84"
PNG = b"\x89PNG\r\n\x1a\n" + b"\0" * 40
JPEG = b"\xff\xd8\xff\xe0" + b"\1" * 60
GATE = "gate:cell_spread"


def add(
    client: TestClient, data: bytes = PNG, name: str = "spread.png", place: str = GATE
) -> list[dict[str, str]]:
    got = client.post(f"{URL}/pictures", params={"place": place}, files={"file": (name, data)})
    assert got.status_code == 201, got.text
    rows: list[dict[str, str]] = got.json()
    return rows


def test_ordinary_kept_served_and_deleted(client: TestClient) -> None:
    before = client.get(URL).json()["version"]
    row = add(client)[0]
    got = client.get(f"{URL}/pictures/{row['id']}")
    assert got.content == PNG and got.headers["content-type"] == "image/png"
    assert got.headers["x-content-type-options"] == "nosniff"
    assert [p["place"] for p in add(client, JPEG, "b.jpg")] == [GATE, GATE]
    assert client.get(URL).json()["version"] == before  # no change of the build
    client.post(f"{URL}/undo")
    assert len(client.get(f"{URL}/pictures").json()) == 2
    assert len(client.delete(f"{URL}/pictures/{row['id']}").json()) == 1
    assert client.get(f"{URL}/pictures/{row['id']}").status_code == 404


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"<svg onload='x'/>",
        b"GIF89a" + b"\0" * 20,
        b"<html>",
        b"RIFF\0\0\0\0WAVE",
        b"\xff\xd8",
    ],
)
def test_dangerous_what_is_no_photo_is_refused_and_not_stored(
    client: TestClient, data: bytes
) -> None:
    got = client.post(f"{URL}/pictures", params={"place": GATE}, files={"file": ("x.jpg", data)})
    assert got.status_code == 422 and client.get(f"{URL}/pictures").json() == []


def test_dangerous_one_of_another_build_is_not_there(client: TestClient) -> None:
    row = add(client)[0]
    for call in (client.get, client.delete):
        assert call(f"/api/builds/pip-72/pictures/{row['id']}").status_code == 404
    assert client.get(f"{URL}/pictures/{row['id']}").status_code == 200


def test_unknown_gate_and_build(client: TestClient) -> None:
    for url, place in ((URL, "gate:none"), (URL, "../x"), ("/api/builds/none", GATE)):
        got = client.post(
            f"{url}/pictures", params={"place": place}, files={"file": ("x.png", PNG)}
        )
        assert got.status_code == 404
    assert client.get("/api/builds/none/pictures").status_code == 404


def test_too_large_and_too_many(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(pictures, "MOST_BYTES", 100)
    got = client.post(f"{URL}/pictures", params={"place": GATE}, files={"file": ("x.png", PNG * 3)})
    assert got.status_code in (413, 422) and "too large" in got.json()["message"]
    monkeypatch.setattr(pictures, "MOST_PICTURES", 1)
    add(client)
    got = client.post(f"{URL}/pictures", params={"place": GATE}, files={"file": ("x.png", PNG)})
    assert got.status_code in (413, 422) and "many photos" in got.json()["message"]


def test_they_leave_and_come_back_with_the_build(client: TestClient) -> None:
    add(client), add(client, JPEG, "odd – name.jpg")
    out = client.get(f"{URL}/export", params={"logs": True})
    again = client.post("/api/builds/import", files={"file": ("moss.zip", out.content)})
    assert again.status_code in (200, 201), again.text
    new = next(
        b["id"]
        for b in client.get("/api/builds").json()
        if b["id"] not in ("moss-84", "pip-72", "brakka-96")
    )
    rows = client.get(f"/api/builds/{new}/pictures").json()
    assert [(r["place"], r["name"]) for r in rows] == [
        (GATE, "spread.png"),
        (GATE, "odd – name.jpg"),
    ]
    assert client.get(f"/api/builds/{new}/pictures/{rows[1]['id']}").content == JPEG
    client.delete(f"/api/builds/{new}")
    assert client.get(f"/api/builds/{new}/pictures").status_code == 404


@pytest.mark.parametrize(
    "rows", [[{"place": 1, "name": "x"}], {"a": 1}, [{"place": "gate:x", "name": "x"}] * 3, "x"]
)
def test_a_zip_with_bad_photos_is_refused_whole(client: TestClient, rows: object) -> None:
    add(client)
    out = client.get(f"{URL}/export", params={"logs": True}).content
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(out)) as old, zipfile.ZipFile(made, "w") as new:
        for name in old.namelist():
            new.writestr(name, json.dumps(rows) if name == "pictures.json" else old.read(name))
    count = len(client.get("/api/builds").json())
    got = client.post("/api/builds/import", files={"file": ("moss.zip", made.getvalue())})
    assert got.status_code == 422 and len(client.get("/api/builds").json()) == count
