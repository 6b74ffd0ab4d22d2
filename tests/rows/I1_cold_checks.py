"""Cold checks before power: gates made from the build, in an order that holds."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from ninebolt.core.codec import get_path
from rows.conftest import Outside


def gates(bike: Outside) -> dict[str, dict[str, Any]]:
    body = bike.client.get(bike.url, params={"bolt": "prove"}).json()
    return {s["gate"]["key"]: s for s in body["assessment"]["drawings"]["prove"]["gates"]}


def enter(bike: Outside, key: str, status: int = 200, **body: Any) -> dict[str, Any]:
    got = bike.client.post(f"{bike.url}/gates/{key}", json=body)
    assert got.status_code == status, got.text
    bike.body = bike.client.get(bike.url, params={"bolt": "prove"}).json()
    return dict(got.json())


def test_ordinary_each_gate_carries_the_build_s_own_numbers(bike: Outside) -> None:
    """By hand: 23 cells, 2.80 to 4.20 V; 100 Ω a volt of 96.6 V (ISO 6469-3)."""
    g = gates(bike)
    assert g["polarity"]["gate"]["low"] == pytest.approx(64.4)
    assert g["isolation"]["gate"]["low"] == pytest.approx(9660)
    assert g["throttle_rest"]["gate"]["low"] == pytest.approx(0.73)
    enter(bike, "cell_spread", value=0.012, who="J", note="BMS")
    now = gates(bike)
    assert (
        now["cell_spread"]["state"] == "passed"
        and now["cell_spread"]["at"]
        and now["polarity"]["state"] == "open"
    )


def test_dangerous_poles_swapped_stop_everything(bike: Outside) -> None:
    enter(bike, "cell_spread", value=0.01)
    enter(bike, "polarity", value=-92.0)
    assert gates(bike)["polarity"]["state"] == "failed"
    assert bike.says("prove.gate.polarity") == "stop" and "pins swapped" in bike.words(
        "prove.gate.polarity"
    )
    got = enter(bike, "isolation", 409, value=2e6)
    assert (
        "A gate before this one is not passed" in got["message"]
        and "Plus is plus" in got["message"]
    )


@pytest.mark.parametrize(
    ("key", "value"), [("isolation", 4000.0), ("cell_spread", 0.2), ("polarity", 99.9)]
)
def test_dangerous_readings_fail(bike: Outside, key: str, value: float) -> None:
    for before, good in (("cell_spread", 0.01), ("polarity", 90.0)):
        if before == key:
            break
        enter(bike, before, value=good)
    enter(bike, key, value=value)
    assert gates(bike)[key]["state"] == "failed" and bike.says(f"prove.gate.{key}") == "stop"


def test_dangerous_the_order_holds_even_for_a_document_that_was_changed_by_hand(
    bike: Outside,
) -> None:
    bike.put(("prove.gates", [{"key": "full_run", "passed": True, "at": "2031-05-04"}]))
    assert (
        gates(bike)["full_run"]["state"] == "blocked" and bike.says("prove.gate_order") == "caution"
    )


def test_it_resumes_where_it_stopped(bike: Outside) -> None:
    enter(bike, "cell_spread", value=0.01)
    again = Outside(bike.client)
    assert "next: bolts are torqued" in again.words("prove.gates_open")
    enter(bike, "cell_spread")
    assert gates(bike)["cell_spread"]["state"] == "open"


def test_unknown_pack_has_no_window_and_says_so(bike: Outside) -> None:
    bike.put(("pack.series", None))
    g = gates(bike) if bike.body["assessment"]["drawings"]["prove"] else {}
    assert not g or g["polarity"]["gate"]["low"] is None


def test_a_reading_where_a_reading_is_wanted(bike: Outside) -> None:
    assert "wants a reading" in enter(bike, "cell_spread", 422, passed=True)["message"]


def test_a_breaker_with_a_resistor_past_it_is_watched_too(bike: Outside) -> None:
    """Capacitors fill before any contact closes on them, whatever its name."""
    bike.put(("guard.isolator.kind", "breaker"))
    assert "before the breaker closes" in gates(bike)["precharge"]["gate"]["do"]


def test_dangerous_alone_is_not_with_the_inverter_joined(bike: Outside) -> None:
    """96.6 V x 500 Ω/V = 48.3 kΩ (UN R100, R136): 20 kΩ pass the pack alone, and not the whole bike."""
    gate = gates(bike)["isolation_all"]["gate"]
    assert gate["low"] == pytest.approx(500 * 96.6) and gate["hold"]
    assert gates(bike)["isolation"]["gate"]["low"] == pytest.approx(100 * 96.6)


def test_not_there_a_bike_without_precharge_has_no_gate_for_it(bike: Outside) -> None:
    bike.put(("guard.isolator.kind", "breaker"), ("guard.precharge.presence", "not there"))
    assert "precharge" not in gates(bike)
    assert enter(bike, "precharge", 404, value=90)["message"]


@pytest.mark.parametrize(
    ("key", "value"),
    [("polarity", -84.0), ("polarity", 84.0), ("isolation", 10.0), ("isolation_all", 10.0), ("precharge", 0.0)],
)  # fmt: skip
def test_unknown_what_must_be_read_no_reading_passes(bike: Outside, key: str, value: float) -> None:
    """Ten ohms to the frame passed, and a pack the wrong way round, while nobody said how many cells it has."""
    made = Outside(bike.client, "brakka-96")
    made.put(("pack.series", None))
    got = bike.client.post(f"{made.url}/gates/{key}", json={"value": value})
    assert got.status_code in (200, 409), got.text
    state = gates(made)[key]
    assert state["state"] in ("open", "blocked") and state["gate"]["low"] is None
    if key == "polarity":
        assert gates(made)["precharge"]["state"] == "blocked"  # it holds what is behind it


def test_dangerous_a_hot_motor_fails_the_slow_ride_whatever_computes(bike: Outside) -> None:
    made = Outside(bike.client, "brakka-96")
    made.put(("drive.motor.kv_rpm_v", None))
    got = bike.client.post(f"{made.url}/gates/slow_ride", json={"value": 300.0})
    assert got.status_code == 200 and gates(made)["slow_ride"]["state"] == "failed"


def test_not_there_the_gates_stand_on_a_build_that_does_not_compute(bike: Outside) -> None:
    """They were gone with the predicted run: no gate, no fault finder, no book."""
    new = bike.client.post("/api/builds", json={"name": "New"}).json()
    made = Outside(bike.client, new.get("id") or new["card"]["id"])
    shown = bike.client.get(made.url, params={"bolt": "prove"}).json()
    prove = shown["assessment"]["drawings"]["prove"]
    assert len(prove["gates"]) > 20 and prove["symptoms"] and prove["t_s"] == []
    assert prove["top_predicted_m_s"] is None


def test_dangerous_a_copy_is_a_bike_that_nobody_has_looked_at(client: TestClient) -> None:
    """What was passed, ticked, ridden and logged belongs to the first bike; its copy is a plan."""
    first = Outside(client, "brakka-96")
    assert first.body["doc"]["prove"]["gates"] and first.says("prove.no_log") == ""
    first.put(("prove.quarantine", "went down in the gravel"))
    copy = Outside(client, client.post(f"{first.url}/duplicate").json()["id"])
    doc = copy.body["doc"]
    assert doc["prove"]["gates"] == [] == doc["prove"]["book"] == doc["wire"]["done"]
    assert doc["pack"]["done"] == [] and doc["prove"]["log_id"] == ""
    assert copy.says("prove.gates_open") == "caution" and copy.says("prove.no_log") == "note"
    assert copy.says("prove.agrees") == ""  # no log bears out a bike that was not ridden
    assert copy.says("prove.quarantine") == "stop"  # a copy is no way round it
    assert Outside(client, "brakka-96").body["doc"]["prove"]["gates"]  # and nothing of it is gone


def test_dangerous_the_log_of_another_bike_proves_nothing(client: TestClient) -> None:
    other = Outside(client, "brakka-96").body["doc"]["prove"]["log_id"]
    bike = Outside(client, "moss-84")
    own = bike.body["doc"]["prove"]["log_id"]
    for log in (other, "nonesuch"):
        assert "no log of this build" in bike.refused(("prove.log_id", log)).lower()
    assert Outside(client, "moss-84").body["doc"]["prove"]["log_id"] == own
    bike.put(("prove.log_id", ""))
    assert bike.put(("prove.log_id", own)).says("prove.agrees") != ""


@pytest.mark.parametrize(
    ("kind", "path", "opens"),
    [
        (
            "controller",
            "drive.controller",
            {"direction", "identified", "throttle_rest", "precharge"},
        ),
        ("motor", "drive.motor", {"direction", "identified", "marks_cold", "case_after"}),
        ("fuse", "guard.fuse", {"full_run"}),
    ],
)
def test_dangerous_another_part_than_it_was_commissioned_with(
    client: TestClient, kind: str, path: str, opens: set[str]
) -> None:
    """Phases, poles and throttle ends were read on the old one: the bike is not commissioned any more."""
    bike = Outside(client, "brakka-96")
    assert {g["state"] for g in gates(bike).values()} == {"passed"}
    assert bike.says("prove.gates_open") == bike.says("prove.gate_parts") == ""
    was = bike.body["doc"][path.split(".")[0]][kind]
    new = bike.shelf(kind)
    bike.put((path, {**new, "presence": "fitted"} if "presence" in was else new))
    now = gates(bike)
    assert opens <= {k for k, g in now.items() if kind in g["others"]}
    assert now[min(opens)]["state"] != "passed"
    assert bike.says("prove.gate_parts") == "caution" == bike.says("prove.gates_open")
    assert kind in bike.findings()["prove.gate_parts"]["title"]
    assert (
        sum(k.startswith("prove.gate") for k in bike.findings()) <= 3
    )  # said once, not once a gate
    bike.put((path, was))  # the old one back: what was read on it holds
    assert {g["state"] for g in gates(bike).values()} == {"passed"}


NAMELESS = [
    ("controller", "drive.controller", {"v_max_v": 96, "line_max_a": 300, "phase_max_a": 700}),
    ("fuse", "guard.fuse", {"rated_a": 125}),
    ("BMS", "guard.bms", {"i_cont_a": 320, "i_peak_a": 500}),
    ("pack", "pack.cell", {"mass_kg": 0.07, "i_cont_a": 30, "i_peak_a": 40}),
]


def commissioned_nameless(client: TestClient, path: str) -> tuple[Outside, str]:
    """The bike with a part that nobody gave a name, every gate passed; the name that it had."""
    bike = Outside(client, "brakka-96")
    named = get_path(bike.body["doc"], f"{path}.name")
    bike.put((f"{path}.name", ""))
    for key, s in gates(bike).items():
        enter(bike, key, value=s["value"], passed=None if s["gate"]["quantity"] else True)
    assert {g["state"] for g in gates(bike).values()} == {"passed"}
    return bike, named


@pytest.mark.parametrize(("kind", "path", "other"), NAMELESS, ids=[x[0] for x in NAMELESS])
def test_dangerous_another_part_where_nobody_gave_a_name(
    client: TestClient, kind: str, path: str, other: dict[str, float]
) -> None:
    """Typed by hand from its label: another one in its place has other numbers, or a name at last."""
    bike, named = commissioned_nameless(client, path)
    bike.put(*((f"{path}.{k}", v) for k, v in other.items()))
    assert "open" in {g["state"] for g in gates(bike).values() if kind in g["others"]}
    assert kind in bike.findings()["prove.gate_parts"]["title"]
    bike.put((f"{path}.name", named))
    assert kind in bike.findings()["prove.gate_parts"]["title"]


def test_ordinary_one_number_of_a_nameless_part_is_corrected(client: TestClient) -> None:
    """A misread digit, or the name that it has: it is the same part."""
    bike, named = commissioned_nameless(client, "drive.controller")
    bike.put(("drive.controller.phase_max_a", 640))
    assert {g["state"] for g in gates(bike).values()} == {"passed"}
    client.post(f"{bike.url}/undo")
    bike.put(("drive.controller.name", named))
    assert {g["state"] for g in gates(bike).values()} == {"passed"}


def test_dangerous_more_amps_than_it_was_warm_with(client: TestClient) -> None:
    """Plugs that stayed cool at 250 A say nothing of 310; what was read cold stands."""
    bike = Outside(client, "brakka-96")
    amps = get_path(bike.body["doc"], "drive.controller.line_a.amount")
    bike.put(("drive.controller.line_a", amps * 1.05))
    assert {g["state"] for g in gates(bike).values()} == {"passed"}
    bike.put(("drive.controller.line_a", amps * 1.25))
    now = gates(bike)
    warm = {"plug_warm", "full_run", "spread_after"}
    assert {k for k, g in now.items() if g["others"]} == warm
    assert now["plug_warm"]["state"] == "open"
    said = bike.findings()["prove.gate_parts"]
    assert "line-amp setting" in said["title"] and "at fewer amps" in said["reason"]
    bike.put(("drive.controller.line_a", amps * 0.5))
    assert {g["state"] for g in gates(bike).values()} == {"passed"}
    bike.put(("drive.controller.phase_a", 900))  # the motor's: no plug of the pack sees them
    assert {g["state"] for g in gates(bike).values()} == {"passed"}


def test_ordinary_what_is_set_or_measured_makes_no_other_part(client: TestClient) -> None:
    bike = Outside(client, "brakka-96")
    bike.put(
        ("drive.controller.line_a", 200), ("drive.motor.r_phase_ohm", 0.011), ("pack.temp_c", 15)
    )
    assert {g["state"] for g in gates(bike).values()} == {"passed"}


def test_ordinary_passed_again_on_the_new_one_it_counts(client: TestClient) -> None:
    bike = Outside(client, "brakka-96")
    bike.put(("guard.charger.name", "Borrowed charger"))
    assert {k for k, g in gates(bike).items() if g["others"]} == {"live_charge"}
    enter(bike, "live_charge", passed=True)
    assert gates(bike)["live_charge"]["state"] == "passed"


def test_unknown_what_was_printed_on_them_in_an_older_garage(client: TestClient) -> None:
    """Names alone were written down: they hold as they did, and no amps are made up."""
    bike = Outside(client, "brakka-96")
    rows = [
        {**g, "on": "\n".join(x.split(" | ")[0] for x in g["on"].splitlines() if "amp" not in x)}
        for g in bike.body["doc"]["prove"]["gates"]
    ]
    bike.put(("prove.gates", rows), ("drive.controller.line_a", 900))
    assert {g["state"] for g in gates(bike).values()} == {"passed"}
    bike.put(("pack.series", bike.body["doc"]["pack"]["series"] - 1))
    assert gates(bike)["cell_spread"]["others"] == ["pack"]


def test_dangerous_a_gate_that_comes_in_later_counts_for_the_parts_it_was_read_on(
    bike: Outside, client: TestClient
) -> None:
    """Entered out of reach on a phone; meanwhile other cells went in at the bench."""
    seen = client.get(bike.url).json()["seq"]
    bike.put(("pack.cell", bike.shelf("cell")))
    enter(bike, "cell_spread", value=0.012)
    enter(bike, "polarity", value=80.0, seq=seen, ago_s=600.0)
    found = gates(bike)["polarity"]
    assert found["state"] == "open" and found["value"] == 80.0 and found["others"] == ["pack"]
    assert found["at"] < client.get(bike.url).json()["doc"]["prove"]["gates"][0]["at"]
    enter(bike, "polarity", value=80.0)
    assert gates(bike)["polarity"]["state"] == "passed"


def test_dangerous_an_older_answer_takes_the_place_of_no_later_one(bike: Outside) -> None:
    """What failed at the bench is not passed by what a phone had found before."""
    enter(bike, "cell_spread", value=0.3)
    assert gates(bike)["cell_spread"]["state"] == "failed"
    said = enter(bike, "cell_spread", 409, value=0.012, ago_s=600.0)
    assert "later answer" in said["message"] and gates(bike)["cell_spread"]["state"] == "failed"


def test_unknown_a_gate_of_a_build_that_is_gone_is_not_taken(bike: Outside) -> None:
    said = enter(bike, "cell_spread", 409, value=0.012, seq=9999)
    assert "not there any more" in said["message"]
    assert gates(bike)["cell_spread"]["state"] == "open"


def test_unknown_on_which_parts_it_was_passed(client: TestClient) -> None:
    """An entry of an older document says nothing of its parts: it stands, and nobody makes up a change."""
    bike = Outside(client, "brakka-96")
    bike.put(("prove.gates", [{**g, "on": ""} for g in bike.body["doc"]["prove"]["gates"]]))
    bike.put(("drive.controller.name", "Another"))
    assert bike.says("prove.gate_parts") == ""
