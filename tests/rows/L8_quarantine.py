"""After a fall or a failure the bike is quarantined until it was inspected: no runs, no sign-off, no ride."""

from __future__ import annotations

from rows.conftest import Outside
from rows.J1_test_plan import planned, ride
from rows.L1_ride_gate import gate, ready


def test_ordinary_lifted_after_the_inspection(bike: Outside) -> None:
    bike.put(("prove.quarantine", "fell"))
    bike.put(("prove.quarantine", ""))
    assert bike.says("prove.quarantine") == "" and ride(
        bike, planned(bike)["id"], setup="12/52", value=8
    )


def test_dangerous_no_run_no_ride_no_mark(bike: Outside) -> None:
    made = ready(bike)
    made.put(("prove.quarantine", "smell from the pack"))
    assert "Look at frame" in made.words("prove.quarantine")
    assert not gate(made)[0]
    got = made.client.post(f"{made.url}/marks/prove", json={"note": ""})
    assert got.status_code == 409
    ride(made, planned(made)["id"], 409, setup="12/52", value=8)


def test_a_discarded_run_may_still_be_written_down(bike: Outside) -> None:
    made = planned(bike)
    bike.put(("prove.quarantine", "fell"))
    assert ride(bike, made["id"], setup="12/52", value=8, discarded="fell")


def test_unknown_nothing_happened_nothing_is_said(bike: Outside) -> None:
    assert bike.says("prove.quarantine") == ""


def test_not_there_the_garage_s_other_bikes_ride_on(bike: Outside) -> None:
    bike.put(("prove.quarantine", "fell"))
    assert ready(bike).says("prove.quarantine") == ""
