"""After a fall or a failure the bike is quarantined until it was inspected: no runs, no sign-off, no ride."""

from __future__ import annotations

import pytest

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


@pytest.mark.parametrize("kind", ["incident", "failure"])
def test_dangerous_what_went_wrong_is_written_down_and_the_bike_stands(
    bike: Outside, kind: str
) -> None:
    """An incident in the book, and the riding gate said that it may be ridden."""
    made = ready(bike)
    assert gate(made)[0]
    made.put(("prove.book", [{"kind": kind, "what": "fell on the climb", "at": "2031-05-01"}]))
    assert made.body["doc"]["prove"]["quarantine"] == "fell on the climb"
    go, points, words = gate(made)
    assert not go and points["not in quarantine"] == "stop" and "fell on the climb" in words
    made.put(("prove.quarantine", ""))  # it was inspected
    assert gate(made)[0]
    # its cause found later, or a line of other work, is no new one
    entry = {"kind": kind, "what": "fell on the climb", "at": "2031-05-01", "cause": "wet root"}
    made.put(("prove.book", [entry, {"kind": "chain", "what": "oiled", "at": "2031-05-02"}]))
    assert gate(made)[0]
    # the next one is
    made.put(("prove.book", [entry, {"kind": kind, "what": "smell from the pack"}]))
    assert made.body["doc"]["prove"]["quarantine"] == "smell from the pack" and not gate(made)[0]


def test_dangerous_one_undo_takes_the_line_and_the_quarantine(bike: Outside) -> None:
    made = ready(bike)
    made.put(("prove.book", [{"kind": "incident", "what": "fell"}]))
    doc = made.client.post(f"{made.url}/undo").json()["doc"]
    assert doc["prove"]["quarantine"] == "" and doc["prove"]["book"] == []


def test_a_quarantine_that_stands_keeps_its_reason(bike: Outside) -> None:
    made = ready(bike)
    made.put(("prove.quarantine", "cracked weld"))
    made.put(("prove.book", [{"kind": "incident", "what": "fell"}]))
    assert made.body["doc"]["prove"]["quarantine"] == "cracked weld"
