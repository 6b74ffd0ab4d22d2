"""What is signed, kept, undone or redone is what its caller looked at, or it is not done."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

URL = "/api/builds/moss-84"
TEETH = {"changes": [{"path": "gear.rear_teeth", "value": 51}]}
FUSE = {"changes": [{"path": "guard.fuse.rated_a", "value": 400}]}


def state(client: TestClient) -> tuple[str, object]:
    body = client.get(URL).json()
    return body["version"], body["doc"]


@pytest.mark.parametrize(
    ("before", "act"),
    [
        ([], "marks/gear"),
        ([f"{URL}/changes"], "undo"),
        ([f"{URL}/changes", f"{URL}/undo"], "redo"),
        ([f"{URL}/trial", f"{URL}/changes"], "trial/keep"),
    ],
)
def test_dangerous_nobody_signs_or_keeps_what_another_changed(
    client: TestClient, before: list[str], act: str
) -> None:
    """A laptop that is opened shows yesterday's bike; a phone has put another fuse in since."""
    for url in before:
        client.post(url, json=TEETH if url.endswith("changes") else None).raise_for_status()
    seen, _ = state(client)
    if act != "redo":  # a change leaves nothing to redo
        client.post(f"{URL}/changes", json=FUSE).raise_for_status()
    else:
        client.post(f"{URL}/undo").raise_for_status()
    now = state(client)
    body = {"note": ""} if "marks" in act else None
    got = client.post(f"{URL}/{act}", params={"version": seen}, json=body)
    assert got.status_code == 409, got.text
    assert "changed elsewhere" in got.json()["message"] and "look at it" in got.json()["todo"]
    assert state(client) == now
    got = client.post(f"{URL}/{act}", params={"version": now[0]}, json=body)
    assert got.status_code == 200, got.text


def test_not_there_a_caller_who_says_nothing_of_it_is_taken_as_before(client: TestClient) -> None:
    client.post(f"{URL}/changes", json=TEETH).raise_for_status()
    assert client.post(f"{URL}/undo").status_code == 200
