"""A session whose row was damaged hides no other, and says what it is."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from ninebolt.services.house import House
from ninebolt.store.database import session

URL = "/api/builds/brakka-96"
NEW = {"name": "Teeth", "setups": ["12", "13"], "spread": 0.05, "gap": 0.2}


@pytest.mark.parametrize(
    "doc",
    [
        "{",
        "[]",
        "{}",
        '{"protocol": "drag splits", "setups": ["a"], "asked": {}, "trials": [{"setup": "a"}]}',
        '{"protocol": "drag splits", "setups": ["a"], "asked": {}, "trials": [{"setup": "a", "value": "fast"}]}',
        '{"protocol": "drag splits", "setups": ["a"], "asked": {}, "trials": [{"setup": "a", "value": 3, "x": 1}]}',
        '{"protocol": "moon race", "setups": ["a", "b"], "asked": {}, "trials": [{"setup": "a", "value": 3}]}',
        '{"protocol": "hill", "setups": ["a", "b"], "asked": {"trials": 4, "spread": 0.1, "gap": 0.2, "seed": 1, '
        '"masses": {"c": 150}}, "trials": [{"setup": "a", "value": 3}, {"setup": "b", "value": 4}]}',
    ],
)
def test_one_damaged_session_hides_no_other(client: TestClient, demo: House, doc: str) -> None:
    before = {s["id"] for s in client.get(f"{URL}/sessions").json()}
    made = client.post(f"{URL}/sessions", json=NEW)
    assert made.status_code in (200, 201), made.text
    (key,) = {s["id"] for s in client.get(f"{URL}/sessions").json()} - before
    with session(demo.path) as db:
        db.execute("UPDATE session SET doc = ? WHERE id = ?", (doc, key))
        db.commit()
    listed = {s["id"]: s for s in client.get(f"{URL}/sessions").json()}
    assert set(listed) == {*before, key} and "cannot be read" in listed[key]["problem"]
    assert all("cannot be read" not in listed[x]["problem"] for x in before)
    for path in ("book", "ride-gate", "sessions/spread?protocol=drag splits", "history", "export"):
        assert client.get(f"{URL}/{path}").status_code == 200, path
    tap = client.post(f"{URL}/sessions/{key}/trials", json={"setup": "12", "value": 8.0})
    assert tap.status_code in (404, 422)
    gone = client.delete(f"{URL}/sessions/{key}")
    assert gone.status_code == 200 and key not in {s["id"] for s in gone.json()}
