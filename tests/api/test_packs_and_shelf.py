"""Outlines, sorting jobs, charge logs, sums and the shelf through the API."""

from __future__ import annotations

import io
import time
from typing import Any

import ezdxf
import pytest
from fastapi.testclient import TestClient

from ninebolt.bench.tester import charge_csv, salvaged_cells
from ninebolt.formats.cells_csv import write_cells

SVG = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="300mm" height="200mm" viewBox="0 0 300 200">'
    b'<polygon points="0,0 300,0 300,200 60,200 0,120"/></svg>'
)


def upload(client: TestClient, url: str, name: str, data: bytes, **form: Any) -> Any:
    return client.post(url, files={"file": (name, data)}, data=form)


def test_an_outline_becomes_a_new_bay_or_replaces_one(client: TestClient) -> None:
    url = "/api/builds/pip-72/outline"
    bench = upload(client, url, "seat.svg", SVG).json()
    bays = bench["doc"]["donor"]["bays"]
    assert len(bays) == 2 and bays[1]["name"] == "seat" and len(bays[1]["outline"]) == 5
    again = upload(client, url, "seat.svg", SVG, bay="0").json()["doc"]["donor"]["bays"]
    assert len(again) == 2 and again[0]["length_m"]["amount"] == pytest.approx(0.3)
    assert again[0]["width_m"]["amount"] == 0.15  # the width was not in the drawing
    assert upload(client, url, "a.svg", SVG).status_code == 200
    full = upload(client, url, "b.svg", SVG)
    assert full.status_code == 422 and "three bays" in full.json()["what"]
    assert upload(client, url, "b.svg", SVG, bay="2").status_code == 200


def test_a_bad_drawing_changes_nothing(client: TestClient) -> None:
    before = client.get("/api/builds/pip-72").json()["seq"]
    got = upload(client, "/api/builds/pip-72/outline", "x.dxf", b"0\nSECTION\n")
    assert got.status_code == 422 and "x.dxf" in got.json()["message"]
    assert client.get("/api/builds/pip-72").json()["seq"] == before


def finished(client: TestClient, job: dict[str, Any]) -> dict[str, Any]:
    for _ in range(200):
        job = client.get(f"/api/sort/jobs/{job['id']}").json()
        if job["state"] != "running":
            return job
        time.sleep(0.05)
    raise AssertionError("the job did not end")


CELLS = write_cells(salvaged_cells(120, 4), 14)


def test_a_sorting_job_gets_better_and_gives_files(client: TestClient) -> None:
    job = upload(client, "/api/sort/jobs", "c.csv", CELLS, series=14, parallel=6)
    assert job.status_code == 201
    done = finished(client, job.json())
    assert done["state"] == "done" and done["steps"] > 3
    assert done["sorting"]["spread"] < 5e-4
    base = f"/api/sort/jobs/{done['id']}"
    assert client.get(f"{base}/assignment").text.startswith("cell,group")
    assert client.get(f"{base}/labels", params={"title": "Pip"}).content.startswith(b"%PDF")


def test_a_long_job_is_stopped_and_keeps_its_best(client: TestClient) -> None:
    many = write_cells(salvaged_cells(3000, 4), 14)
    job = upload(client, "/api/sort/jobs", "c.csv", many, series=20, parallel=100).json()
    client.delete(f"/api/sort/jobs/{job['id']}")
    done = finished(client, job)
    assert done["state"] == "stopped" and done["sorting"]["weakest_ah"] > 0


def test_a_job_that_cannot_be_says_why(client: TestClient) -> None:
    job = upload(client, "/api/sort/jobs", "c.csv", CELLS, series=50, parallel=50).json()
    done = finished(client, job)
    assert done["state"] == "failed" and "Too few cells" in done["error"]
    bad = upload(client, "/api/sort/jobs", "c.csv", b"x", series=2, parallel=2)
    assert bad.status_code == 422 and "c.csv" in bad.json()["where"]
    assert client.get("/api/sort/jobs/nobody").status_code == 404


def test_p_of_nothing_is_refused(client: TestClient) -> None:
    assert upload(client, "/api/sort", "c.csv", CELLS, series=4, parallel=0).status_code == 422
    change = {"changes": [{"path": "pack.parallel", "value": 0}]}
    got = client.post("/api/builds/pip-72/changes", json=change)
    assert got.status_code == 422 and "at least 1" in got.json()["what"]


def test_three_thousand_volts_are_refused_or_judged(client: TestClient) -> None:
    """A field out of its bounds is refused; a pack of 200 cells is judged, not crashed on."""
    over = {"changes": [{"path": "pack.rested_v", "value": 3000}]}
    assert client.post("/api/builds/pip-72/changes", json=over).status_code == 422
    high = {
        "changes": [
            {"path": "pack.series", "value": 200},
            {"path": "pack.cell.full_v", "value": 15},
        ]
    }
    bolts = client.post("/api/builds/pip-72/changes", json=high).json()["assessment"]["bolts"]
    stops = {f["key"] for b in bolts for f in b["findings"] if f["severity"] == "stop"}
    assert {"drive.ceiling", "guard.fuse_dc", "guard.bms_series", "pack.fit"} <= stops


def test_a_mapping_is_remembered_for_its_header(client: TestClient) -> None:
    odd = CELLS.replace(b"capacity [mAh]", b"what it holds [mAh]")
    plain = upload(client, "/api/sort/preview", "c.csv", odd).json()["mapping"]
    assert "capacity_ah" not in {m["name"] for m in plain}
    assert upload(client, "/api/sort", "c.csv", odd, series=4, parallel=4).status_code == 422
    mapping = (
        '[{"name": "id", "column": "cell", "unit": ""},'
        ' {"name": "capacity_ah", "column": "what it holds [mAh]", "unit": "mAh"}]'
    )
    form = {"series": 4, "parallel": 4, "mapping": mapping}
    assert upload(client, "/api/sort", "c.csv", odd, **form).status_code == 200
    kept = upload(client, "/api/sort/preview", "c.csv", odd).json()["mapping"]
    assert {m["name"] for m in kept} == {"id", "capacity_ah"}
    assert upload(client, "/api/sort", "c.csv", odd, series=4, parallel=4).status_code == 200
    assert "mapping" not in str(client.get("/api/preferences").json())


def test_a_charge_log_is_judged_by_the_build_s_cell(client: TestClient) -> None:
    got = upload(client, "/api/builds/pip-72/charge-log", "c.csv", charge_csv(20, 5))
    assert got.status_code == 200 and got.json()["stop_s"] is not None
    bad = upload(client, "/api/builds/pip-72/charge-log", "c.csv", b"a,b\n1,2\n")
    assert bad.status_code == 422


def test_sums(client: TestClient) -> None:
    amps = client.get("/api/builds/brakka-96/at-power", params={"power_w": 20000}).json()
    assert amps["amps"] * amps["volts"] == pytest.approx(20000)
    assert client.get("/api/sums/claim", params={"text": "30 % more than 40"}).json()["value"] == 52
    refused = client.get("/api/sums/claim", params={"text": "30 %"})
    assert refused.status_code == 422 and "what" in refused.json()["what"]
    both = client.get("/api/sums/percent", params={"a": 52, "b": 40}).json()
    assert (both["of_pct"], both["change_pct"]) == (130.0, 30.0)


def test_templates_carry_every_bay(client: TestClient) -> None:
    upload(client, "/api/builds/moss-84/outline", "tail.svg", SVG)
    changes = [
        {"path": "donor.bays.1.width_m", "value": 0.08},
        {"path": "pack.bms_in_bay", "value": False},
        {"path": "donor.bays.0.width_m", "value": 0.085},
    ]
    client.post("/api/builds/moss-84/changes", json={"changes": changes})
    data = client.get("/api/builds/moss-84/template", params={"kind": "dxf"}).content.decode()
    outlines = ezdxf.read(io.StringIO(data)).modelspace().query('LWPOLYLINE[layer=="BAY"]')
    assert len(outlines) >= 2 and max(len(o) for o in outlines) == 6


def test_the_shelf(client: TestClient) -> None:
    rows = client.get("/api/library/plug").json()
    assert rows and not any(r["own"] for r in rows)
    made = client.post("/api/library/plug", json={"doc": {"name": "Mine", "i_cont_a": 80}})
    assert made.status_code == 201
    url = f"/api/library/plug/{made.json()['id']}"
    assert client.put(url, json={"doc": {"name": "Mine", "i_cont_a": 90}}).status_code == 200
    first = client.get("/api/library/plug").json()[0]
    assert first["own"] and first["doc"]["i_cont_a"]["amount"] == 90
    body = {"build_id": "pip-72", "path": "guard.plug"}
    assert client.post("/api/library/plug/from-build", json=body).status_code == 201
    csv = client.get("/api/library-export/plug", params={"form": "csv"}).content
    assert csv.startswith(b"id,part,name") and b"Mine" in csv
    taken = upload(client, "/api/library-import", "p.csv", csv)
    assert taken.json() == {"count": len(csv.splitlines()) - 1}
    gone = client.delete(f"/api/library/own/{first['id']}")
    assert gone.status_code == 204
    assert client.delete(f"/api/library/own/{first['id']}").status_code == 404
    assert client.get("/api/library/sail").status_code == 404
    assert client.post("/api/library/sail", json={"doc": {"name": "x"}}).status_code == 422
