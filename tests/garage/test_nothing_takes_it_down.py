"""One broken build, log or file never hides the others; an answer that says that nothing was stored
is true. Each case once took the garage down, or its kin did."""

from __future__ import annotations

import io
import json
import math
import sqlite3
import threading
import time
import zipfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from ninebolt.core.bike.facts import Memory
from ninebolt.errors import InputError, StoreError
from ninebolt.formats.build_json import write_build
from ninebolt.formats.outline import read_outline
from ninebolt.formats.ride_csv import read_ride
from ninebolt.formats.table import Column
from ninebolt.library.demo import moss
from ninebolt.services.house import House
from ninebolt.store.database import builds_in, session
from ninebolt.store.migrate import regular_backup, restore
from ninebolt.units import parse_quantity

MOSS = "/api/builds/moss-84"


def whole(client: TestClient) -> dict[str, Any]:
    """What must hold after any attack: the garage lists, and the build opens. Returns the build."""
    cards = client.get("/api/builds")
    assert cards.status_code == 200, cards.text
    assert {"brakka-96", "moss-84", "pip-72"} <= {c["id"] for c in cards.json()}
    bench = client.get(MOSS)
    assert bench.status_code == 200, bench.text
    body: dict[str, Any] = bench.json()
    return body


def put(client: TestClient, *changes: tuple[str, Any]) -> Any:
    body = {"changes": [{"path": p, "value": v} for p, v in changes]}
    return client.post(f"{MOSS}/changes", json=body)


CURVES = [
    ("guard.fuse.melts", [[0, 0], [1, 1]]),
    ("guard.fuse.melts", [[200, 10], [200, 1]]),
    ("pack.cell.ocv", [[0, 0]]),
    ("pack.cell.ocv", [[0.5, 3.6], [0.5, 3.7]]),
    ("pack.cell.ocv", []),
]


@pytest.mark.parametrize("in_trial", [False, True], ids=["kept", "what-if"])
@pytest.mark.parametrize(("path", "curve"), CURVES)
def test_a_curve_that_is_none(client: TestClient, path: str, curve: Any, in_trial: bool) -> None:
    if in_trial:
        client.post(f"{MOSS}/trial")
    before = client.get(MOSS).json()
    got = put(client, (path, curve))
    assert got.status_code in (200, 422), got.text
    after = whole(client)
    if got.status_code == 422:
        assert after["doc"] == before["doc"] and after["version"] == before["version"]
        assert path.rsplit(".", 1)[-1] in got.json()["where"]


VALUES = [
    [("guard.cable.temp_max_c", "60 °C"), ("guard.cable.ambient_c", "70 °C")],
    [("guard.phase_cable.temp_max_c", "60 °C"), ("guard.phase_cable.ambient_c", "60 °C")],
    [
        ("road.crr", 0),
        ("road.cda_m2", 0),
        ("drive.motor.drag_nm", 0),
        ("drive.motor.drag_nm_s_rad", 0),
        ("drive.controller.fixed_w", 0),
        ("guard.dcdc.load_w", 0),
    ],
    [("gear.ratio", 30)],
    [("pack.start_soc", 0.001)],
    [("pack.cell.r1_ohm", 0.02), ("pack.cell.tau_s", 0.1)],
]


@pytest.mark.parametrize("changes", VALUES)
def test_values_inside_their_bounds(client: TestClient, changes: list[tuple[str, Any]]) -> None:
    before = client.get(MOSS).json()["doc"]
    got = put(client, *changes)
    assert "There is no field" not in got.text
    assert got.status_code in (200, 422), got.text
    after = whole(client)
    if got.status_code == 422:
        assert after["doc"] == before
    else:
        head = after["assessment"]["headline"]
        assert all(v is None or not isinstance(v, float) or math.isfinite(v) for v in head.values())
        assert head["range_m"] is None or head["range_m"] >= 0


def zipped(logs: Any, data: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("build.json", write_build(moss()))
        archive.writestr("logs.json", logs if isinstance(logs, bytes) else json.dumps(logs))
        for name, content in data.items():
            archive.writestr(f"logs/{name}", content)
    return out.getvalue()


GOOD_LOG = b"t [s],v [m/s]\n" + b"\n".join(b"%.1f,%.2f" % (i / 10, i / 20) for i in range(200))


def row(mapping: Any = None, name: Any = "a.csv", log: Any = "a") -> list[dict[str, Any]]:
    return [{"id": log, "name": name, "mapping": mapping}]


SPEED = [{"name": "time", "column": "t [s]", "unit": "s"}]
ZIPS: dict[str, tuple[Any, dict[str, bytes]]] = {
    "garbage": (row(), {"a": b"\x00\xff\x12 no log"}),
    "empty": (row(), {"a": b""}),
    "broken gpx": (row(name="a.gpx"), {"a": b"<gpx><trk><trkseg><trkpt lat='1'"}),
    "mapping of numbers": (row([1, 2]), {"a": GOOD_LOG}),
    "mapping a text": (row("speed"), {"a": GOOD_LOG}),
    "mapping an object": (row({"speed": "v"}), {"a": GOOD_LOG}),
    "an unknown unit": (row([{**SPEED[0], "unit": "furlongs"}]), {"a": GOOD_LOG}),
    "half a character": (row(name="a\ud800.csv"), {"a": GOOD_LOG}),
    "a name that is an object": (row(name={"x": 1}), {"a": GOOD_LOG}),
    "one log twice": (row() + row(), {"a": GOOD_LOG}),
    "fifteen times one log": (row() * 15, {"a": GOOD_LOG}),
    "deep": (b"[" * 600 + b"]" * 600, {}),
}


@pytest.mark.parametrize("case", ZIPS)
def test_a_zip_with_a_bad_log_stores_nothing(client: TestClient, case: str) -> None:
    before = {c["id"] for c in client.get("/api/builds").json()}
    got = client.post("/api/builds/import", files={"file": ("b.zip", zipped(*ZIPS[case]))})
    assert got.status_code in (413, 422), got.text
    assert {c["id"] for c in client.get("/api/builds").json()} == before
    whole(client)


def test_a_zip_with_a_good_log_comes_in(client: TestClient) -> None:
    got = client.post(
        "/api/builds/import", files={"file": ("b.zip", zipped(row(), {"a": GOOD_LOG}))}
    )
    assert got.status_code == 201, got.text
    made = got.json()["id"]
    assert [x["name"] for x in client.get(f"/api/builds/{made}/logs").json()] == ["a.csv"]


@pytest.mark.parametrize(
    "text", ['"\\ud800"', '"a\\udfffb"', '"\\u0000\\u0007\\u001b[31m bike"', '"../../x\\"y"']
)
def test_names_and_notes_that_no_file_can_hold(client: TestClient, text: str) -> None:
    raw = f'{{"name": {text}}}'.encode()
    got = client.post("/api/builds", content=raw, headers={"content-type": "application/json"})
    assert got.status_code in (201, 422), got.text
    whole(client)
    if got.status_code == 201:
        made = got.json()["id"]
        for logs in ("true", "false"):
            file = client.get(f"/api/builds/{made}/export", params={"logs": logs})
            assert file.status_code == 200
            said = file.headers["content-disposition"]
            name = said.split("filename=", 1)[1].strip('"')
            assert name and "/" not in name and ".." not in name and '"' not in name
    note = f'{{"changes": [{{"path": "note", "value": {text}}}]}}'.encode()
    got = client.post(f"{MOSS}/changes", content=note, headers={"content-type": "application/json"})
    assert got.status_code in (200, 422), got.text
    whole(client)


DOCUMENTS = [
    (b'{"format_version": 3, "note": ' + b"[" * 600 + b"]" * 600 + b"}"),
    (b'{"format_version": 3, "pack": {"series": ' + b"9" * 400 + b"}}"),
    (
        b'{"format_version": 3, "marks": [{"bolt": "pack", "inputs": '
        + b'{"a":' * 600
        + b"1"
        + b"}" * 602
    ),
    b"[]",
    b"null",
]


@pytest.mark.parametrize("data", DOCUMENTS, ids=range(len(DOCUMENTS)))
def test_documents_that_are_no_build(client: TestClient, data: bytes) -> None:
    got = client.post("/api/builds/import", files={"file": ("b.json", data)})
    assert got.status_code == 422, got.text
    whole(client)


TEXTS: dict[str, bytes] = {
    "only a byte-order mark": "\ufeff".encode(),
    "a field over 128 KiB": b"t,v\n0," + b"9" * 140_000,
    "a long header": b"h" * 200_000 + b"\n1\n",
    "semicolons": b";" * 600_000,
    "many brackets": b"(" * 400 + b" " * 400 + b"\n1\n",
    "brackets and units": b"a [(" * 200 + b"\n1,2\n",
    "columns": b",".join(b"c%d" % i for i in range(50_000)) + b"\n",
    "one column twice": b"t,t,v\n0,0,1\n1,1,2\n",
}


@pytest.mark.parametrize("case", TEXTS)
@pytest.mark.parametrize("where", [f"{MOSS}/logs", f"{MOSS}/logs/preview", f"{MOSS}/charge-log"])
def test_texts_that_are_no_log_are_refused_soon(client: TestClient, case: str, where: str) -> None:
    start = time.monotonic()
    got = client.post(where, files={"file": ("log.csv", TEXTS[case])})
    if case == "one column twice" and where.endswith("preview"):
        return  # the mapping is the person's to choose
    assert got.status_code == 422, got.text
    assert got.json()["where"] or got.json()["what"]
    assert time.monotonic() - start < 60  # a bound on a hang, not a measure of speed
    whole(client)


def test_a_mapping_that_names_one_column_twice() -> None:
    twice = (Column("time", "t [s]", "s"), Column("speed", "t [s]", "m/s"))
    with pytest.raises(InputError):
        read_ride(GOOD_LOG, "a.csv", twice)


def test_numbers_that_explode() -> None:
    for text in ("1" + " " * 800, "1" + " " * 800 + "x", "(" * 400, "9" * 5000):
        with pytest.raises(InputError):
            parse_quantity(text, "v")
            raise InputError("refused or read, and at once")


CIRCLE = "0\nSECTION\n2\nENTITIES\n0\nCIRCLE\n10\n0\n20\n0\n40\n{r}\n0\nENDSEC\n0\nEOF\n"
NEST = '<svg xmlns="http://www.w3.org/2000/svg">' + "<g>" * 3000 + "</g>" * 3000 + "</svg>"
USES = (
    '<svg xmlns="http://www.w3.org/2000/svg"><defs><g id="g0"><path d="M0 0h1v1z"/></g>'
    + "".join(f'<g id="g{i}">' + f'<use href="#g{i - 1}"/>' * 9 + "</g>" for i in range(1, 9))
    + '</defs><use href="#g8"/></svg>'
)


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("a.dxf", CIRCLE.format(r="1e13")),
        ("a.dxf", CIRCLE.format(r="1e308")),
        ("a.svg", NEST),
        ("a.svg", USES),
    ],
    ids=["far", "endless", "nested", "uses of uses"],
)
def test_drawings_without_end(name: str, text: str) -> None:
    with pytest.raises(InputError):
        read_outline(text.encode(), name)


def test_a_log_is_not_deleted_under_another_build(client: TestClient) -> None:
    log = client.get(f"{MOSS}/logs").json()[0]["id"]
    got = client.delete(f"/api/builds/pip-72/logs/{log}")
    assert got.status_code == 404
    assert [x["id"] for x in client.get(f"{MOSS}/logs").json()] == [log]


def test_undo_brings_a_removed_log_back(client: TestClient) -> None:
    log = client.get(f"{MOSS}/logs").json()[0]["id"]
    gone = client.delete(f"{MOSS}/logs/{log}").json()
    assert gone["doc"]["prove"]["log_id"] == "" and client.get(f"{MOSS}/logs").json() == []
    back = client.post(f"{MOSS}/undo").json()
    assert back["doc"]["prove"]["log_id"] == log
    assert [x["id"] for x in client.get(f"{MOSS}/logs").json()] == [log]
    assert back["assessment"]["drawings"]["prove"]["log_t_s"]


def test_a_log_that_was_not_shown_can_be_put_back(client: TestClient) -> None:
    log = client.get(f"{MOSS}/logs").json()[0]["id"]
    put(client, ("prove.log_id", ""))
    client.delete(f"{MOSS}/logs/{log}")
    assert client.get(f"{MOSS}/logs").json() == []
    assert client.post(f"{MOSS}/logs/{log}/back").status_code == 200
    assert [x["id"] for x in client.get(f"{MOSS}/logs").json()] == [log]


def spoil(house: House, build_id: str, text: str) -> None:
    """Write what this program would not: as another program, or a bad disk, might."""
    with session(house.path) as db:
        db.execute(
            "UPDATE revision SET doc = ? WHERE build_id = ? AND seq = "
            "(SELECT head FROM build WHERE id = ?)",
            (text, build_id, build_id),
        )


@pytest.mark.parametrize(
    "text", ["{", "[]", '{"format_version": 99}', '{"format_version": 3, "pack": {"series": -4}}']
)
def test_a_build_that_cannot_be_read(client: TestClient, demo: House, text: str) -> None:
    put(client, ("gear.rear_teeth", 50))
    with session(demo.path) as db:
        columns = [r[1] for r in db.execute("PRAGMA table_info(revision)")]
        whole_docs = "doc" in columns
    assert whole_docs, columns
    spoil(demo, "moss-84", text)
    cards = client.get("/api/builds")
    assert cards.status_code == 200
    bad = next(c for c in cards.json() if c["id"] == "moss-84")
    assert set(bad["states"].values()) == {"failed"} and "Cannot be read" in bad["next_step"]
    assert client.get("/api/builds/pip-72").status_code == 200
    opened = client.get(MOSS)
    assert opened.status_code in (422, 500) and opened.json()["message"]
    assert client.get(f"{MOSS}/export").status_code == 200
    back = client.post(f"{MOSS}/undo")
    assert back.status_code == 200, back.text
    assert whole(client)["doc"]["gear"]["rear_teeth"] != 50


def test_a_build_that_cannot_be_read_can_be_deleted(client: TestClient, demo: House) -> None:
    spoil(demo, "pip-72", "{")
    assert client.delete("/api/builds/pip-72").status_code == 204
    assert {c["id"] for c in client.get("/api/builds").json()} == {"brakka-96", "moss-84"}
    assert client.delete("/api/builds/pip-72").status_code == 404


def test_a_bolt_that_fails_says_so_and_the_rest_work(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    from ninebolt.core.bolts.gear import bolt as gear

    def breaks(*_: Any) -> Any:
        raise ZeroDivisionError("float division by zero")

    client.app.state.house.memory = Memory()  # type: ignore[attr-defined]
    name = next(n for n in vars(gear) if n in ("figures_of", "ladder", "drawing_of"))
    monkeypatch.setattr(gear, name, breaks)
    put(client, ("note", "moved"), ("gear.rear_teeth", 51))
    cards = client.get("/api/builds")
    assert cards.status_code == 200
    bench = client.get("/api/builds/pip-72").json()
    states = {b["bolt"]: b["state"] for b in bench["assessment"]["bolts"]}
    assert states["gear"] == "failed" and states["pack"] != "failed"
    said = next(b for b in bench["assessment"]["bolts"] if b["bolt"] == "gear")["findings"]
    assert said[0]["severity"] == "stop" and said[0]["key"] == "gear.failed"


def test_forty_clients_on_one_build(client: TestClient) -> None:
    """No lock error, no lost answer; each acknowledged change is a revision."""
    before = len(client.get(f"{MOSS}/history").json())

    def one(i: int) -> int:
        return put(client, ("pack.parallel", 4 + i % 5), ("note", f"n{i}")).status_code

    with ThreadPoolExecutor(40) as pool:
        answers = list(pool.map(one, range(80)))
    assert set(answers) == {200}
    assert len(client.get(f"{MOSS}/history").json()) == before + 80


def test_a_change_made_on_an_older_state_is_refused(client: TestClient) -> None:
    first = client.get(MOSS).json()["version"]
    change = {"changes": [{"path": "gear.rear_teeth", "value": 51}], "version": first}
    assert client.post(f"{MOSS}/changes", json=change).status_code == 200
    late = {"changes": [{"path": "gear.rear_teeth", "value": 52}], "version": first}
    got = client.post(f"{MOSS}/changes", json=late)
    assert got.status_code == 409 and got.json()["code"] == "conflict"
    assert client.get(MOSS).json()["doc"]["gear"]["rear_teeth"] == 51


def test_forty_steps_inside_a_what_if_are_forty(client: TestClient) -> None:
    """Each made on what it saw: one that saw an older state is told, and tries again."""
    client.post(f"{MOSS}/trial")
    start = client.get(MOSS).json()["doc"]["gear"]["rear_teeth"]
    lock = threading.Lock()
    refused = [0]

    def step(_: int) -> None:
        while True:
            seen = client.get(MOSS).json()
            body = {
                "changes": [
                    {"path": "gear.rear_teeth", "value": seen["doc"]["gear"]["rear_teeth"] + 1}
                ],
                "version": seen["version"],
            }
            got = client.post(f"{MOSS}/changes", json=body)
            if got.status_code == 200:
                return
            assert got.status_code == 409
            with lock:
                refused[0] += 1

    with ThreadPoolExecutor(4) as pool:
        list(pool.map(step, range(20)))
    assert client.get(MOSS).json()["doc"]["gear"]["rear_teeth"] == start + 20


def test_reading_changes_nothing(client: TestClient, demo: House) -> None:
    client.get("/api/builds")
    with sqlite3.connect(demo.path) as db:
        before = "\n".join(db.iterdump())
    for path in (
        MOSS,
        f"{MOSS}?bolt=gear",
        f"{MOSS}/version",
        f"{MOSS}/history",
        f"{MOSS}/logs",
        f"{MOSS}/export",
        f"{MOSS}/band",
        f"{MOSS}/parameters",
        "/api/builds",
    ):
        assert client.get(path).status_code == 200
    with sqlite3.connect(demo.path) as db:
        assert "\n".join(db.iterdump()) == before


def test_only_the_bolt_on_screen_is_drawn(client: TestClient) -> None:
    drawn = client.get(f"{MOSS}?bolt=gear").json()["assessment"]["drawings"]
    assert [k for k, v in drawn.items() if v] == ["gear"]
    every = client.get(MOSS).json()["assessment"]["drawings"]
    assert drawn["gear"] == every["gear"] and all(every.values())


@pytest.mark.parametrize("path", ["/%00", "/api/builds/%00", "/" + "a" * 5000])
def test_addresses_that_are_none(client: TestClient, path: str) -> None:
    assert client.get(path).status_code == 404


def test_every_answer_is_guarded(client: TestClient) -> None:
    for path in ("/", "/api/builds", "/api/nothing", f"{MOSS}/export"):
        headers = client.get(path).headers
        assert "default-src 'self'" in headers["content-security-policy"]
        assert "frame-ancestors 'none'" in headers["content-security-policy"]
        assert headers["x-content-type-options"] == "nosniff"
        assert headers["x-frame-options"] == "DENY"


def test_a_spreadsheet_executes_nothing_of_ours(client: TestClient) -> None:
    part = {"doc": {"name": '=HYPERLINK("http://x")', "note": "@SUM(A1)", "rated_a": "150 A"}}
    made = client.post("/api/library/fuse", json=part)
    assert made.status_code in (200, 201), made.text
    text = client.get("/api/library-export/fuse", params={"form": "csv"}).text
    cells = [c.strip('"') for line in text.splitlines() for c in line.split(",")]
    assert any("HYPERLINK" in c for c in cells)
    assert not [c for c in cells if c.startswith(("=", "@"))]


def test_advice_names_a_backup_that_holds_the_garage(demo: House) -> None:
    """An empty backup is newer than the good one: it is the good one that is named."""
    with session(demo.path) as db:
        good = regular_backup(db, demo.path, "2031-05-04")
    assert good is not None and builds_in(good) == 3
    empty = demo.path.parent / "backups" / "ninebolt-before-099.sqlite3"
    sqlite3.connect(empty).close()
    demo.path.write_bytes(b"not a database, but long enough to be looked at" * 100)
    with pytest.raises(StoreError) as caught:
        House.open(demo.path.parent)
    assert good.name in caught.value.todo and "3 builds" in caught.value.todo
    restore(demo.path, good, "now")
    assert builds_in(demo.path) == 3
    with pytest.raises(StoreError):
        restore(demo.path, empty, "later")
    assert builds_in(demo.path) == 3


def test_backups_are_one_a_day_and_kept_in_number(demo: House) -> None:
    with session(demo.path) as db:
        made = [regular_backup(db, demo.path, f"2031-05-{d:02d}") for d in range(4, 20)]
        assert all(made) and regular_backup(db, demo.path, "2031-05-19") is None
    kept = sorted(Path(demo.path.parent / "backups").glob("*-daily-*"))
    assert len(kept) == 10 and kept[-1].name.endswith("2031-05-19.sqlite3")
