"""Drives the program from outside: its API on the demo garage, as a page does."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

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
