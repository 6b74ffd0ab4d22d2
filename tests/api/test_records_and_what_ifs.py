"""What was done and measured on the bike that is there does not hang on a what-if; what is only tried does not leave as
if it were there."""

from __future__ import annotations

import threading
from typing import Any

from fastapi.testclient import TestClient

from rows.conftest import Outside

BRAKKA = "/api/builds/brakka-96"
RIDE = b"t_s,speed_km_h\n" + b"".join(
    f"{i / 10:.1f},{max(0, i - 10) * 0.6:.2f}\n".encode() for i in range(120)
)


def tried(client: TestClient, *changes: tuple[str, Any], build: str = "brakka-96") -> Outside:
    bike = Outside(client, build)
    assert client.post(f"{bike.url}/trial").status_code == 200
    return bike.put(*(changes or (("gear.rear_teeth", 44),)))


def dropped(bike: Outside) -> dict[str, Any]:
    got = bike.client.delete(f"{bike.url}/trial")
    assert got.status_code == 200, got.text
    body: dict[str, Any] = got.json()
    return body


def test_a_fall_stays_when_the_what_if_is_dropped(client: TestClient) -> None:
    bike = tried(client).put(("prove.quarantine", "fell at the gate"))
    assert [c["path"] for c in bike.body["trial"]] == ["gear.rear_teeth"]
    kept = dropped(bike)
    assert kept["doc"]["prove"]["quarantine"] == "fell at the gate"
    assert kept["doc"]["gear"]["rear_teeth"] == 54


def test_a_quarantine_is_not_tried_away(client: TestClient) -> None:
    """Old what-ifs may hold one: neither the ride gate nor a session asks the bike that is tried."""
    bike = Outside(client, "brakka-96").put(("prove.quarantine", "fell"))
    tried(client)
    gate = client.get(f"{bike.url}/ride-gate").json()
    assert any(p["state"] == "stop" and "quarantine" in p["what"] for p in gate["points"])


def test_a_gate_is_entered_on_the_bike(client: TestClient) -> None:
    bike = tried(client, build="moss-84")
    got = client.post(
        f"{bike.url}/gates/marks_cold",
        json={"passed": True, "who": "Ansa", "note": "", "value": None},
    )
    assert got.status_code == 200, got.text
    kept = dropped(bike)
    assert [g["key"] for g in kept["doc"]["prove"]["gates"]] == ["marks_cold"]


def test_two_phones_at_the_gates_lose_none(client: TestClient) -> None:
    """Each reads the list and adds to it: in one transaction."""
    Outside(client, "brakka-96").put(("prove.gates", []))
    bodies = {"marks_cold": {"passed": True}, "cell_spread": {"value": 0.004}}

    def send(key: str, body: dict[str, Any]) -> None:
        sent = {"passed": None, "value": None, "who": "", "note": "", **body}
        assert client.post(f"{BRAKKA}/gates/{key}", json=sent).status_code == 200

    for _ in range(6):
        for key in bodies:
            send(key, {})  # cleared
        threads = [threading.Thread(target=send, args=pair) for pair in bodies.items()]
        for t in threads:
            t.start()
        for t in threads:
            t.join()
        found = {g["key"] for g in client.get(BRAKKA).json()["doc"]["prove"]["gates"]}
        assert found == set(bodies)


def test_a_log_and_its_removal_outlive_the_what_if(client: TestClient) -> None:
    bike = tried(client)
    got = client.post(f"{bike.url}/logs", files={"file": ("ride.csv", RIDE)})
    assert got.status_code in (200, 201), got.text
    new = got.json()["doc"]["prove"]["log_id"]
    assert dropped(bike)["doc"]["prove"]["log_id"] == new
    client.post(f"{bike.url}/trial")
    assert client.delete(f"{bike.url}/logs/{new}").status_code == 200
    kept = dropped(bike)
    assert kept["doc"]["prove"]["log_id"] == "" and new not in {
        row["id"] for row in client.get(f"{bike.url}/logs").json()
    }


def test_steps_that_were_done_are_done(client: TestClient) -> None:
    bike = tried(client).put(("wire.done", ["isolate"]), ("pack.done", []))
    assert dropped(bike)["doc"]["wire"]["done"] == ["isolate"]


def test_dropped_and_taken_back(client: TestClient) -> None:
    bike = tried(client, ("gear.rear_teeth", 44), ("gear.front_teeth", 13))
    gone = dropped(bike)
    assert gone["dropped"] == {"changes": 2, "seq": gone["seq"]} and gone["trial"] is None
    back = client.post(f"{bike.url}/trial/back").json()
    assert {c["path"]: c["value"] for c in back["trial"]} == {
        "gear.rear_teeth": 44,
        "gear.front_teeth": 13,
    }
    assert back["dropped"] is None
    got = client.post(f"{bike.url}/trial/back")
    assert got.status_code == 409 and "open" in got.json()["message"]
    client.delete(f"{bike.url}/trial")
    client.post(f"{bike.url}/trial")
    assert dropped(bike)["dropped"]["changes"] == 2, "an empty one takes nothing's place"


def test_taken_back_onto_a_build_that_moved_on(client: TestClient) -> None:
    bike = tried(client, ("wire.interlocks.2.name", "mat"))
    dropped(bike)
    bike.put(("wire.interlocks", []))
    got = client.post(f"{bike.url}/trial/back")
    assert got.status_code in (404, 422) and "interlocks" in got.json()["message"]
    assert client.get(bike.url).json()["dropped"]["changes"] == 1, "nothing is lost"


def test_nothing_to_take_back(client: TestClient) -> None:
    got = client.post("/api/builds/pip-72/trial/back")
    assert got.status_code == 409 and "no dropped" in got.json()["message"]


def test_files_of_a_what_if_say_so(client: TestClient) -> None:
    bike = tried(client)
    got = client.get(f"{bike.url}/parameters", params={"kind": "json", "anyway": True})
    assert "what-if, not kept" in got.text and "what-if" in got.headers["content-disposition"]
    dropped(bike)
    got = client.get(f"{bike.url}/parameters", params={"kind": "json", "anyway": True})
    assert "what-if" not in got.text
