"""First power as a ladder: small fuse, wheel up, low amps; no full throttle first."""

from __future__ import annotations

import io

from fastapi.testclient import TestClient
from httpx import Response
from PIL import Image
from pypdf import PdfReader

from rows.conftest import Outside
from rows.I1_cold_checks import enter, gates


def up_to(bike: Outside, last: str) -> None:
    """Every gate before `last`, passed."""
    for key, s in gates(bike).items():
        if key == last:
            return
        g = s["gate"]
        if g["quantity"]:
            low, high = g["low"], g["high"]
            value = low * 1.1 if high is None else high * 0.5 if low is None else 0.5 * (low + high)
            enter(bike, key, value=value)
        else:
            enter(bike, key, passed=True)


def test_ordinary_the_order_of_the_ladder(bike: Outside) -> None:
    keys = list(gates(bike))
    ladder = [
        "polarity",
        "isolation",
        "small_fuse",
        "drop_out",
        "throttle_rest",
        "identified",
        "free_amps",
        "slow_ride",
        "full_run",
        "retorque",
    ]
    assert [k for k in keys if k in ladder] == ladder


def test_all_passed_is_commissioned(bike: Outside) -> None:
    up_to(bike, "")
    assert bike.says("prove.gates_open") == ""
    assert all(s["state"] == "passed" for s in gates(bike).values())


def test_dangerous_no_full_run_before_the_wheel_was_free(bike: Outside) -> None:
    assert "not passed" in enter(bike, "full_run", 409, passed=True)["message"]


def test_dangerous_a_blown_small_fuse_ends_it(bike: Outside) -> None:
    up_to(bike, "small_fuse")
    enter(bike, "small_fuse", passed=False, note="blew at once")
    assert bike.says("prove.gate.small_fuse") == "stop" and "a short behind the fuse" in bike.words(
        "prove.gate.small_fuse"
    )
    enter(bike, "drop_out", 409, value=0.2)


def test_dangerous_a_throttle_that_reads_full_at_rest(bike: Outside) -> None:
    up_to(bike, "throttle_rest")
    enter(bike, "throttle_rest", value=4.1)
    assert bike.says("prove.gate.throttle_rest") == "stop"


def test_dangerous_it_stays_live_after_the_key(bike: Outside) -> None:
    up_to(bike, "drop_out")
    enter(bike, "drop_out", value=91.0)
    assert "contactor welded" in bike.words("prove.gate.drop_out")


def test_unknown_ends_of_the_throttle_take_the_usual_window(bike: Outside) -> None:
    bike.put(("tune.throttle_rest_v", None))
    g = gates(bike)["throttle_rest"]["gate"]
    assert (g["low"], g["high"]) == (0.6, 1.1)


def test_unknown_what_nobody_looked_at_stands_on_the_paper_too(bike: Outside) -> None:
    bike.put(("guard.fuse", {}))
    assert "CAUTION. To be known before first power: fuse" in sheet(bike)


def test_a_missing_brake_forbids_the_ride_and_not_first_power(bike: Outside) -> None:
    """Gates under power pass over it, so the paper says no more than they do."""
    bike.put(("gear.front_brake.presence", "not there"))
    said = sheet(bike)
    assert "STOP. No ride before this is cleared: There is no front brake" in said
    assert "No power, no ride" not in said


def test_not_there_a_hub_motor_has_no_chain(bike: Outside) -> None:
    bike.put(("drive.motor.kind", "hub"))
    assert "chain" not in gates(bike)


def test_dangerous_a_reading_that_no_meter_gives_passes_nothing(bike: Outside) -> None:
    """A turning wheel takes some amps, a ridden motor is not colder than the coldest day: the meter reads nothing."""
    up_to(bike, "free_amps")
    enter(bike, "free_amps", value=0.0)
    assert bike.says("prove.gate.free_amps") == "stop"
    enter(bike, "free_amps", value=1.5)
    up_to(bike, "slow_ride")
    enter(bike, "slow_ride", value=-300.0)
    assert bike.says("prove.gate.slow_ride") == "stop"


# On paper: what was found, and room for what was not.


def sheet(bike: Outside) -> str:
    got = bike.client.get(f"{bike.url}/gates.pdf")
    assert got.status_code == 200 and got.headers["content-type"] == "application/pdf"
    return " ".join(
        "\n".join(p.extract_text() for p in PdfReader(io.BytesIO(got.content)).pages).split()
    )


def test_the_sheet_has_every_gate_with_what_must_be_read(bike: Outside) -> None:
    text = sheet(bike)
    for i, s in enumerate(gates(bike).values(), 1):
        assert f"{i}. {s['gate']['title']}" in text
    assert text.count("Reading ....") == len(gates(bike)) and "0 of" in text
    ohm = gates(bike)["isolation"]["gate"]["low"]
    assert f"at least {ohm:.4g} Ω" in text


def test_dangerous_a_failed_gate_says_on_paper_what_to_look_for(bike: Outside) -> None:
    enter(bike, "cell_spread", value=0.4, note="group 7", who="Tove")
    text = sheet(bike)
    assert "Found: 0.4 V, failed" in text and "by Tove. group 7" in text
    assert "Look in this order: not balanced yet" in text and "HOLD" in text


def test_photos_stand_beside_their_gate(bike: Outside) -> None:
    held = io.BytesIO()
    Image.new("RGB", (1600, 900), (90, 120, 60)).save(held, "JPEG")
    for name, data in (("torque.jpg", held.getvalue()), ("torn.jpg", b"\xff\xd8\xff torn")):
        got = bike.client.post(
            f"{bike.url}/pictures",
            params={"place": "gate:marks_cold"},
            files={"file": (name, data)},
        )
        assert got.status_code == 201
    got = PdfReader(io.BytesIO(bike.client.get(f"{bike.url}/gates.pdf").content))
    (image,) = got.pages[0].images
    assert max(image.image.size) <= 480
    assert "cannot be shown: torn.jpg" in sheet(bike)


def test_unknown_a_build_without_a_pack_prints_too(client: TestClient) -> None:
    made = client.post("/api/builds", json={"name": "Ω – “bare”"}).json()["id"]
    text = sheet(Outside(client, made))
    assert "Ω – “bare”" in text and "no reading passes before" in text


def test_not_there(client: TestClient) -> None:
    assert client.get("/api/builds/none/gates.pdf").status_code == 404
    assert client.get("/api/builds/moss-84/gates.pdf", params={"paper": "a7"}).status_code == 422


def test_dangerous_nothing_passes_under_power_while_a_stop_stands(bike: Outside) -> None:
    """No main fuse: the cold checks go on, the first closing of the contactor does not pass; what failed is kept."""
    made = Outside(bike.client, "brakka-96")
    made.put(("guard.fuse.presence", "not there"))
    assert "stop" in made.says("guard.no_fuse") or any(
        f["severity"] == "stop" and f["bolt"] == "guard" for f in made.findings().values()
    )

    def enter(key: str, passed: bool | None) -> Response:
        return bike.client.post(f"{made.url}/gates/{key}", json={"passed": passed})

    assert enter("marks_cold", True).status_code == 200
    for key, words in (("small_fuse", "powered"), ("slow_ride", "ridden")):
        if key == "slow_ride":
            got = bike.client.post(f"{made.url}/gates/{key}", json={"value": 40.0})
        else:
            got = enter(key, True)
        assert got.status_code == 409, (key, got.text)
        assert f"A stop stands: the bike is not {words}" in got.json()["message"]
        assert "fuse" in got.json()["message"].lower()
    assert enter("small_fuse", False).status_code == 200  # a failure is never refused
    assert enter("small_fuse", None).status_code == 200  # and it can be taken off
    made.put(("guard.fuse.presence", "fitted"))
    assert enter("small_fuse", True).status_code == 200


def test_dangerous_a_chassis_stop_holds_the_ride_and_not_the_bench(bike: Outside) -> None:
    made = Outside(bike.client, "brakka-96")
    made.put(("gear.tyre.speed_symbol", "B"))
    assert any(f["severity"] == "stop" and f["bolt"] == "gear" for f in made.findings().values())
    on = bike.client.post(f"{made.url}/gates/small_fuse", json={"passed": True})
    assert on.status_code == 200, on.text
    got = bike.client.post(f"{made.url}/gates/slow_ride", json={"value": 40.0})
    assert got.status_code == 409 and "not ridden" in got.json()["message"]
