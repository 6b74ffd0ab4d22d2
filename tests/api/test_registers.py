"""What is registered is what works: every kind, reader and form that a page is made from."""

from __future__ import annotations

from typing import Any

from fastapi.testclient import TestClient


def registers(client: TestClient) -> dict[str, Any]:
    return dict(client.get("/api/registers").json())


def test_every_kind_of_part_has_a_shelf_and_a_form(client: TestClient) -> None:
    fields = client.get("/api/fields").json()
    for kind in registers(client)["parts"]:
        assert client.get(f"/api/library/{kind['key']}").status_code == 200
        assert kind["label"] and fields[kind["cls"]], kind


def test_every_form_of_the_parameter_set_leaves(client: TestClient) -> None:
    for form in registers(client)["parameters"]:
        url = "/api/builds/brakka-96/parameters"
        got = client.get(url, params={"kind": form["key"]})
        assert got.status_code == 200 and got.headers["content-type"] == form["media"]
    assert client.get(url, params={"kind": "xls"}).status_code == 404


def test_every_reader_refuses_garbage_in_words(client: TestClient) -> None:
    """Each of its endings reaches a reader, and none of them a fault."""
    at = {
        "ride": "/api/builds/pip-72/logs",
        "cells": "/api/sort/preview",
        "charge": "/api/builds/pip-72/charge-log",
        "outline": "/api/builds/pip-72/outline",
        "parts": "/api/library-import",
        "build": "/api/builds/import",
        "trials": "/api/builds/pip-72/compare-file",
        "parameters": "/api/builds/pip-72/settings/file",
        "dictionary": "/api/link/dictionary",
    }
    readers = registers(client)["readers"]
    assert {r["key"] for r in readers} == {*at, "dbc"}  # read beside a log of frames
    for reader in readers:
        if reader["key"] == "dbc":
            continue
        for ending in reader["endings"]:
            file = {"file": (f"bad{ending}", b"\x01no such thing", "application/octet-stream")}
            got = client.post(at[reader["key"]], files=file)
            assert got.status_code == 422 and got.json()["message"], (reader["key"], ending)


def test_jobs_are_listed_with_their_kind(client: TestClient) -> None:
    assert client.get("/api/jobs").json() == []
    cells = b"cell,capacity [Ah],ir [mohm]\n" + b"".join(b"c%d,2.5,20\n" % i for i in range(12))
    body = {"series": 3, "parallel": 3}
    client.post("/api/sort/jobs", files={"file": ("c.csv", cells)}, data=body)
    jobs = client.get("/api/jobs").json()
    assert [j["kind"] for j in jobs] == ["sorting"]
    assert "sorting" in registers(client)["jobs"]
    assert jobs[0]["state"] in ("running", "done")
