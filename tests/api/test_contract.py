"""The API as its description says: every route's answers, and what it does with nonsense."""

from __future__ import annotations

import json
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from ninebolt.api.app import make_app
from ninebolt.core.codec import encode
from ninebolt.formats.bundle import LogFile, write_bundle
from ninebolt.library.demo import moss
from ninebolt.services.house import House

ROOT = Path(__file__).resolve().parents[2]
PARTS = {"code", "what", "where", "got", "expected", "todo", "message"}
SPEC: dict[str, Any] = json.loads((ROOT / "frontend/src/api/openapi.json").read_text())
ROUTES = [(m.upper(), p, op) for p, ops in SPEC["paths"].items() for m, op in ops.items()]
NAMES = [f"{m} {p}" for m, p, _ in ROUTES]
SALVAGED = (ROOT / "examples/cells/salvaged.csv").read_bytes()


@pytest.fixture(scope="module")
def bench(tmp_path_factory: pytest.TempPathFactory, filled: Path) -> Iterator[TestClient]:
    """One demo garage for all tests here: none of them may change it."""
    folder = tmp_path_factory.mktemp("contract")
    house = House.open(folder)
    for old in folder.glob("ninebolt.sqlite3-*"):
        old.unlink()
    shutil.copy(filled, house.path)
    with TestClient(
        make_app(house), base_url="http://127.0.0.1:8790", raise_server_exceptions=False
    ) as made:
        yield made


def everything(client: TestClient) -> Any:
    """All that a user could lose: the builds with their documents, and the shelf."""
    builds = client.get("/api/builds").json()
    docs = [client.get(f"/api/builds/{b['id']}/export").content for b in builds]
    return builds, docs, client.get("/api/library/cell").json()


def filled_in(path: str, **values: str) -> str:
    for name in (
        "build_id",
        "log_id",
        "picture_id",
        "job_id",
        "part_id",
        "kind",
        "bolt",
        "writing_id",
        "session_id",
        "gate",
        "device",
    ):
        path = path.replace(f"{{{name}}}", values.get(name, "nope"))
    return path


def schema_of(operation: dict[str, Any], status: int) -> dict[str, Any] | None:
    content = operation["responses"].get(str(status), {}).get("content", {})
    found: dict[str, Any] | None = content.get("application/json", {}).get("schema")
    return found


def check(body: Any, schema: dict[str, Any]) -> None:
    """Valid against the schema, its references looked up in the description."""
    whole = {**schema, "components": SPEC["components"]}
    errors = sorted(Draft202012Validator(whole).iter_errors(body), key=lambda e: list(e.path))
    assert not errors, [f"{list(e.path)}: {e.message[:120]}" for e in errors[:3]]


@pytest.mark.parametrize(("method", "path", "operation"), ROUTES, ids=NAMES)
def test_an_unknown_name_is_refused_in_full(
    bench: TestClient, method: str, path: str, operation: dict[str, Any]
) -> None:
    """Each route that names something: a name that is not there gives a whole problem, never a
    crash, and as 'not found' wherever nothing else is asked."""
    if "{" not in path:
        return
    got = bench.request(method, filled_in(path))
    assert got.status_code in (404, 422), got.text
    body = got.json()
    assert set(body) == PARTS and body["message"]
    needs_more = "requestBody" in operation or any(
        p["required"] and p["in"] == "query" for p in operation.get("parameters", [])
    )
    if not needs_more:
        assert got.status_code == 404
        assert "nope" in body["message"]


LINKED = "/link/groups"  # read from a device that is not there here: tests/link/test_groups.py
READS = [
    (p, op)
    for m, p, op in ROUTES
    if m == "GET" and schema_of(op, 200) is not None and "{job_id}" not in p and LINKED not in p
]


@pytest.mark.parametrize(("path", "operation"), READS, ids=[p for p, _ in READS])
@pytest.mark.parametrize("build", ["brakka-96", "moss-84", "pip-72"])
def test_what_is_read_is_what_is_described(
    bench: TestClient, build: str, path: str, operation: dict[str, Any]
) -> None:
    rows = bench.get(f"/api/builds/{build}/logs").json()
    logs = [x["id"] for x in sorted(rows, key=lambda x: "gps" not in x["name"])]  # positions first
    if len(logs) < (2 if path.endswith("/over") else "{log_id}" in path):
        return  # this build has none
    query = {
        "text": "72V 30A" if path.endswith("/label") else "30 % more than 40",
        "x": "gear.rear_teeth" if build != "pip-72" else "road.cda_m2",
        "x_from": "44" if build != "pip-72" else "0.4",
        "x_to": "60" if build != "pip-72" else "0.6",
        "x_n": "5",
        "result": "top_speed",
        "line_a": "90",
        "rpm": "1200",
        "volts": "30",
        "amps": "20",
        "seconds": "0.0001",
        "ohm": "0.02",
        "v1": "96",
        "a1": "2",
        "v2": "90",
        "a2": "80",
        "a": "3",
        "b": "4",
        "power_w": "9000",
        "form": "json",
        "id": ["pip-72", "moss-84"],
        "other": "moss-84" if build != "moss-84" else "brakka-96",
        "logs": logs,
        "start": "4",
        "end": "9",
        "low": "5",
        "high": "12",
        "protocol": "between marks",
    }
    wanted = {p["name"] for p in operation.get("parameters", []) if p["in"] == "query"}
    got = bench.get(
        filled_in(path, build_id=build, kind="cell", log_id=logs[0] if logs else ""),
        params={k: v for k, v in query.items() if k in wanted},
    )
    assert got.status_code == 200, got.text
    check(got.json(), schema_of(operation, 200) or {})


def test_a_preview_is_what_is_described(bench: TestClient) -> None:
    path = "/api/builds/{build_id}/preview"
    options = [[{"path": "pack.parallel", "value": 9}], []]
    got = bench.post("/api/builds/moss-84/preview", json={"options": options})
    assert got.status_code == 200, got.text
    check(got.json(), schema_of(SPEC["paths"][path]["post"], 200) or {})


def test_a_sorting_is_what_is_described(bench: TestClient) -> None:
    for path in ("/api/sort", "/api/sort/preview"):
        got = bench.post(
            path, files={"file": ("c.csv", SALVAGED)}, data={"series": "10", "parallel": "4"}
        )
        check(got.json(), schema_of(SPEC["paths"][path]["post"], 200) or {})


@pytest.mark.parametrize(("method", "path", "operation"), ROUTES, ids=NAMES)
def test_a_body_that_is_no_object_changes_nothing(
    bench: TestClient, method: str, path: str, operation: dict[str, Any]
) -> None:
    if "requestBody" not in operation:
        return
    before = everything(bench)
    address = filled_in(path, build_id="moss-84", kind="cell", bolt="pack")
    for body in (b"[]", b"7", b'"x"', b"null", b"{", b"", b'{"a":' * 400):
        got = bench.request(
            method, address, content=body, headers={"content-type": "application/json"}
        )
        assert 400 <= got.status_code < 500, (body[:20], got.text)
        assert set(got.json()) == PARTS
    assert everything(bench) == before


# Nonsense, by the hundred


def paths_of(doc: Any, at: str = "") -> list[str]:
    if isinstance(doc, dict):
        own = [at] if at else []
        return own + [x for k, v in doc.items() for x in paths_of(v, f"{at}.{k}" if at else k)]
    if isinstance(doc, list):
        return [at] + [x for i, v in enumerate(doc[:2]) for x in paths_of(v, f"{at}.{i}")]
    return [at]


PATHS = sorted(set(paths_of(encode(moss()))))
values = st.recursive(
    st.one_of(
        st.none(),
        st.booleans(),
        st.integers(-(10**9), 10**9),
        st.floats(allow_nan=False, allow_infinity=False),
        st.text(max_size=12),
        st.builds(
            lambda a, o: {"amount": a, "origin": o},
            st.floats(-1e6, 1e6),
            st.sampled_from(["measured", "guess", "hearsay"]),
        ),
    ),
    lambda inner: st.one_of(
        st.lists(inner, max_size=3), st.dictionaries(st.text(max_size=6), inner, max_size=3)
    ),
    max_leaves=6,
)
targets = st.one_of(st.sampled_from(PATHS), st.text(alphabet="abc._0[]", max_size=12))


@settings(max_examples=150, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(targets, values)
def test_any_change_is_taken_or_refused_by_name(bench: TestClient, path: str, value: Any) -> None:
    """Looked at only, so nothing is kept: it computes, or it says what is wrong with it."""
    got = bench.post(
        "/api/builds/moss-84/preview", json={"options": [[{"path": path, "value": value}]]}
    )
    assert got.status_code in (200, 422), got.text
    if got.status_code == 422:
        body = got.json()
        assert set(body) == PARTS and body["what"]


UPLOADS = [
    "/api/sort",
    "/api/sort/preview",
    "/api/builds/moss-84/logs/preview",
    "/api/builds/moss-84/charge-log",
    "/api/builds/moss-84/outline",
    "/api/builds/import",
    "/api/library-import",
]
EXAMPLES = ROOT / "examples"
STARTS = {
    "cells.csv": SALVAGED[:600],
    "bay.svg": (EXAMPLES / "bays/moss-frame-bay.svg").read_bytes(),
    "bay.dxf": (EXAMPLES / "bays/brakka-engine-bay.dxf").read_bytes(),
    "charge.csv": (EXAMPLES / "charging/pip-72-charge-s5.csv").read_bytes()[:2000],
    "gps.csv": (EXAMPLES / "logs/brakka-96-s7-gps.csv").read_bytes()[:2000],
    "ride.gpx": (EXAMPLES / "logs/brakka-96-s7-gps.gpx").read_bytes()[:2000],
    "parts.csv": (EXAMPLES / "parts/barn-lot.csv").read_bytes(),
    "build.json": (EXAMPLES / "builds/pip-72.json").read_bytes(),
    "build.zip": write_bundle(moss(), [LogFile("a", "a.csv", None, SALVAGED[:200])]),
    "none": b"",
}
edits = st.lists(st.tuples(st.integers(0, 1800), st.binary(max_size=4)), max_size=5)


@settings(max_examples=120, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.sampled_from(UPLOADS), st.sampled_from(sorted(STARTS)), edits)
def test_any_file_is_read_or_refused_by_name(
    bench: TestClient, address: str, name: str, changes: list[tuple[int, bytes]]
) -> None:
    """A file with bytes knocked out of place, at any door: read, or refused with its name."""
    data = STARTS[name]
    for at, new in changes:
        data = data[:at] + new + data[at + len(new) :]
    got = bench.post(address, files={"file": (name, data)}, data={"series": "4", "parallel": "3"})
    assert got.status_code < 500, got.text
    if got.status_code >= 400:
        assert set(got.json()) == PARTS and got.json()["what"]


def is_number(schema: dict[str, Any]) -> bool:
    kinds = {schema.get("type"), *(s.get("type") for s in schema.get("anyOf", ()))}
    return "number" in kinds


NUMBERS = [
    (
        p,
        q["name"],
        [x["name"] for x in op["parameters"] if x.get("required") and x["in"] == "query"],
    )
    for m, p, op in ROUTES
    for q in op.get("parameters", ())
    if m == "GET" and q["in"] == "query" and is_number(q["schema"])
]


@pytest.mark.parametrize("odd", ["nan", "inf", "-inf"])
@pytest.mark.parametrize(
    ("path", "name", "needed"), NUMBERS, ids=[f"{p} {n}" for p, n, _ in NUMBERS]
)
def test_a_number_that_is_none_is_refused_by_name(
    bench: TestClient, path: str, name: str, needed: list[str], odd: str
) -> None:
    params = dict.fromkeys(needed, "1") | {name: odd}
    log = bench.get("/api/builds/moss-84/logs").json()[0]["id"]
    got = bench.get(filled_in(path, build_id="moss-84", log_id=log), params=params)
    assert got.status_code == 422, f"{path} {name}={odd}: {got.text[:200]}"
    assert set(got.json()) == PARTS and name in got.json()["where"]


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("gates/cell_spread", '{"value": NaN, "passed": true, "note": "", "who": ""}'),
        (
            "finder",
            '{"symptom": "no movement", "readings": [{"place": "group_spread", "value": NaN}]}',
        ),
        ("changes", '{"changes": [{"path": "drive.controller.line_a", "value": Infinity}]}'),
        (
            "sessions",
            '{"name": "S", "setups": ["A", "B"], "trials": 4, "spread": NaN, "gap": 0.3}',
        ),
    ],
)
def test_a_body_with_no_number_for_a_number_is_refused(
    bench: TestClient, path: str, body: str
) -> None:
    """JSON has no such words, and yet they are sent."""
    before = everything(bench)
    got = bench.post(
        f"/api/builds/moss-84/{path}", content=body, headers={"content-type": "application/json"}
    )
    assert got.status_code == 422 and set(got.json()) == PARTS, got.text
    assert everything(bench) == before
