"""Drives the program from outside: its API on the demo garage, as a page does."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from fastapi.testclient import TestClient

from benches import bench_process, do

NONE = {"amount": None, "origin": "absent", "tolerance": None}


class Outside:
    """One build through the API: put values, read what is said and shown."""

    def __init__(self, client: TestClient, build: str = "moss-84") -> None:
        self.client, self.url = client, f"/api/builds/{build}"
        self.body: dict[str, Any] = client.get(self.url).json()

    def put(self, *changes: tuple[str, Any]) -> Outside:
        """Make changes; all must be taken."""
        body = {"changes": [{"path": p, "value": v} for p, v in changes]}
        got = self.client.post(f"{self.url}/changes", json=body)
        assert got.status_code == 200, got.text
        self.body = got.json()
        return self

    def refused(self, *changes: tuple[str, Any]) -> str:
        """Changes that must not be taken; what is said."""
        body = {"changes": [{"path": p, "value": v} for p, v in changes]}
        got = self.client.post(f"{self.url}/changes", json=body)
        assert got.status_code == 422, got.text
        return str(got.json()["message"])

    def findings(self) -> dict[str, dict[str, Any]]:
        return {f["key"]: f for b in self.body["assessment"]["bolts"] for f in b["findings"]}

    def says(self, key: str) -> str:
        """The weightiest severity under a key or its places; '' where it is silent."""
        order = ("stop", "caution", "note")
        found = [
            f["severity"] for k, f in self.findings().items() if k == key or k.startswith(f"{key}.")
        ]
        return min(found, key=order.index) if found else ""

    def words(self, key: str) -> str:
        found = [
            f"{f['title']} {f['reason']}"
            for k, f in self.findings().items()
            if k == key or k.startswith(f"{key}.")
        ]
        return " ".join(found)

    def figure(self, bolt: str, key: str) -> float | None:
        for b in self.body["assessment"]["bolts"]:
            for f in b["figures"]:
                if b["bolt"] == bolt and f["key"] == key:
                    value: float | None = f["value"]
                    return value
        raise AssertionError(f"no figure {bolt}.{key}")

    def shelf(self, kind: str, name: str = "") -> dict[str, Any]:
        """A part of the shelf by its name; without one, the first that is another than this build's."""
        rows = [
            r["doc"] for r in self.client.get(f"/api/library/{kind}").json() if r["doc"]["name"]
        ]
        own = {
            part.get(kind, {}).get("name")
            for part in self.body["doc"].values()
            if isinstance(part, dict)
        }
        return next(dict(d) for d in rows if (d["name"] == name if name else d["name"] not in own))

    def rung(self, front: int = 0, rear: int = 0) -> dict[str, Any]:
        """A sprocket pair of the ladder; without teeth the one that is fitted."""
        rungs = self.body["assessment"]["drawings"]["gear"]["rungs"]
        for r in rungs:
            if r["current"] if not front else (r["front"], r["rear"]) == (front, rear):
                return dict(r)
        raise AssertionError(f"no pair {front}/{rear}")

    @property
    def radius(self) -> float:
        return float(self.body["assessment"]["drawings"]["gear"]["radius_m"])

    @property
    def head(self) -> dict[str, Any]:
        return dict(self.body["assessment"]["headline"])


@pytest.fixture
def bike(client: TestClient) -> Outside:
    return Outside(client)


@pytest.fixture(scope="session")
def bus() -> Iterator[int]:
    """A bench bike in a process of its own."""
    with bench_process() as port:
        yield port


class Linked(Outside):
    """A build with the bench bike on the link: the same build rides there, its controller as it came."""

    def __init__(
        self, client: TestClient, bus: int, build: str = "moss-84", connected: bool = True
    ) -> None:
        super().__init__(client, build)
        self.bus = bus
        do(bus, "repair", name="all")
        self.post(f"/api/bench/load/{build}?port={bus}")
        self.hand(throttle=0.0, stand=True, brake=False)
        if connected:
            self.connect()

    def connect(self) -> dict[str, Any]:
        return self.post("/api/link/connect", {"channel": f"socket://127.0.0.1:{self.bus}"})

    def post(
        self, url: str, body: dict[str, Any] | None = None, status: tuple[int, ...] = (200, 201)
    ) -> Any:
        got = self.client.post(url, json=body)
        assert got.status_code in status, got.text
        return got.json()

    def get(self, url: str, **params: Any) -> Any:
        got = self.client.get(url, params=params)
        assert got.status_code == 200, got.text
        return got.json()

    def hand(self, **more: Any) -> dict[str, Any]:
        return do(self.bus, "hand", **more)

    def bench(self, what: str, **more: Any) -> dict[str, Any]:
        return do(self.bus, what, **more)

    def write(
        self, source: dict[str, Any] | None = None, status: tuple[int, ...] = (200,), **more: Any
    ) -> Any:
        """The guarded write of the build's set, the wheel said to be free."""
        body = {"source": source or {"kind": "set"}, "free": True, **more}
        return self.post(f"{self.url}/link/write", body, status)

    def written(self, **more: Any) -> dict[str, Any]:
        """Written, switched off and on, looked at again."""
        done = self.write(**more)
        if done["cycle"]:
            do(self.bus, "cycle")
            done = self.post(f"/api/link/writings/{done['id']}/look")
        assert done["state"] == "verified"
        return dict(done)

    def compare(self, first: dict[str, Any], second: dict[str, Any]) -> dict[str, Any]:
        return dict(self.post(f"{self.url}/settings/compare", {"first": first, "second": second}))


PATIENT_S = 2.0
CONTROLLER, SET = {"kind": "controller"}, {"kind": "set"}


@pytest.fixture
def linked(client: TestClient, bus: int, monkeypatch: pytest.MonkeyPatch) -> Linked:
    # A machine that is held up for seconds is no silent controller.
    monkeypatch.setattr("ninebolt.link.port.ANSWER_S", PATIENT_S)
    return Linked(client, bus)
