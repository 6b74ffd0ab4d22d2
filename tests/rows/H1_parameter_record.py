"""The record of parameters: with units, before and after, the difference in words, and a backup that restores."""

from __future__ import annotations

import json

import pytest

from rows.conftest import CONTROLLER, SET, Linked, Outside
from rows.J1_test_plan import planned, ride


def test_ordinary_every_value_before_and_after_with_its_unit(linked: Linked) -> None:
    read = linked.post(f"{linked.url}/link/read?why=as it came")
    assert read["count"] > 70
    found = linked.compare(CONTROLLER, SET)
    line = next(r for r in found["rows"] if r["name"] == "line_a")
    assert (line["first"], line["second"], line["quantity"]) == (20, 100, "a")
    assert "20 → 100" in line["sentence"]
    linked.written(why="first set")
    assert linked.compare(CONTROLLER, SET)["rows"] == []
    items = linked.get(f"{linked.url}/settings/history")
    write = next(i for i in items if i["kind"] == "write")
    assert write["state"] == "verified" and any(
        "Line amps: 20 → 100" in s for s in write["sentences"]
    )


def test_what_a_difference_does_is_said_in_figures(linked: Linked) -> None:
    found = linked.compare(CONTROLLER, SET)
    by = {r["name"]: r["effect"]["figures"] for r in found["rows"]}
    top = next(f for f in found["all"]["figures"] if f[0] == "top speed")
    assert top[2] > top[1]
    for figures in by.values():
        assert all(f[1] == pytest.approx(top[1]) for f in figures if f[0] == "top speed")
    assert any(f[0].startswith("full phase amps") and f[2] < (f[1] or 1e9) for f in by["phase_a"])


def test_the_motors_own_volts_follow_weakening(linked: Linked) -> None:
    text = linked.client.get(f"{linked.url}/parameters", params={"kind": "json"}).json()
    less, more = (
        {
            "kind": "file",
            "name": "x.json",
            "text": json.dumps({**text, "line_a": 250, "fw_id_a": fw}),
        }
        for fw in (0, 100)
    )
    row = next(r for r in linked.compare(less, more)["rows"] if r["name"] == "fw_id_a")
    emf = next(f for f in row["effect"]["figures"] if "own volts" in f[0])
    assert emf[2] > emf[1]


def test_dangerous_a_backup_brings_back_what_stood(linked: Linked) -> None:
    """What it came with is not this pack's: that must be known before it goes back."""
    before = linked.post(f"{linked.url}/link/read?why=backup")
    linked.written()
    back = {"kind": "reading", "name": before["id"]}
    found = linked.compare(CONTROLLER, back)
    assert found["rows"] and any("cut-off" in s for s in found["stops"])
    assert "not fit for this build" in linked.write(back, (409,))["message"]
    linked.written(source=back, anyway=True)
    assert linked.compare(CONTROLLER, back)["rows"] == []


def test_unknown_objects_of_a_file_are_kept_and_named(linked: Linked) -> None:
    text = linked.client.get(f"{linked.url}/parameters", params={"kind": "dcf"}).text
    text += "[5ABC]\nParameterName=Nobody\nDataType=0x0007\nAccessType=rw\nParameterValue=7\n"
    found = linked.compare(SET, {"kind": "file", "name": "x.dcf", "text": text})
    assert found["rows"] == [] and found["kept"] == ["5abc"]


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("[2104]\nParameterVal", "cannot be read"),
        ("", "No known"),
        ("[2104]\nParameterValue=9e9\n", "no readable value"),
    ],
)
def test_a_truncated_file_says_so(bike: Outside, text: str, words: str) -> None:
    body = {"first": SET, "second": {"kind": "file", "name": "cut.dcf", "text": text}}
    got = bike.client.post(f"{bike.url}/settings/compare", json=body)
    assert (
        got.status_code == 422
        and words in got.json()["message"]
        and "cut.dcf" in got.json()["message"]
    )


def test_not_there_without_a_controller_nothing_is_read(bike: Outside) -> None:
    got = bike.client.post(f"{bike.url}/link/read")
    assert got.status_code == 409 and "No controller is connected" in got.json()["message"]


def test_which_change_made_it_faster(linked: Linked) -> None:
    """A run imported after a verified write stands under it, with its time."""
    linked.written()
    log = b"time [s],speed [m/s]\n" + b"".join(
        b"%.1f,%.2f\n" % (i / 10, max(0.0, (i - 30) / 10 * 2.5)) for i in range(160)
    )
    got = linked.client.post(f"{linked.url}/logs", files={"file": ("run.csv", log)})
    assert got.status_code == 201, got.text
    write = next(i for i in linked.get(f"{linked.url}/settings/history") if i["kind"] == "write")
    mark = linked.body["assessment"]["headline"]["to_speed_m_s"]
    assert write["runs"] == ["run.csv"] and write["best_s"] == pytest.approx(mark / 2.5, abs=0.3)


def test_which_set_was_faster_stands_in_the_book(linked: Linked) -> None:
    """Runs of one setup, then other phase amps written, then more: two lines, the second with what was written."""
    linked.written(anyway=True)
    made = planned(linked, setups=["as it is", "other"])
    for value in (8.3, 8.25):
        ride(linked, made["id"], setup="as it is", value=value)
    linked.put(("tune.chosen", [{"name": "phase_a", "value": 150}]))
    linked.written(anyway=True)
    for value in (9.1, 9.0):
        last = ride(linked, made["id"], setup="as it is", value=value)
    first, second = linked.get(f"{linked.url}/book")["bests"]
    assert (first["value"], second["value"]) == (8.25, 9.0)
    assert first["set_at"] and first["set_at"] < second["set_at"]
    assert any("Phase amps" in words and "150" in words for words in second["changed"])
    assert len(last["ridden"][0]["sets"]) == 2  # and the session knows that it was not one bike


def test_unknown_a_run_that_comes_in_after_a_write_belongs_to_the_set_before(
    linked: Linked,
) -> None:
    """Taken out of reach at the strip, sent when the phone was back: by then other amps had been written."""
    linked.written(anyway=True)
    made = planned(linked, setups=["as it is", "other"])
    ride(linked, made["id"], setup="as it is", value=8.3)
    linked.put(("tune.chosen", [{"name": "phase_a", "value": 150}]))
    linked.written(anyway=True)
    ride(linked, made["id"], setup="as it is", value=9.0)
    late = ride(linked, made["id"], setup="as it is", value=8.25, ago_s=600.0)
    before, after = (next(t for t in late["trials"] if t["value"] == v) for v in (8.3, 9.0))
    came = next(t for t in late["trials"] if t["value"] == 8.25)
    assert came["set_id"] == before["set_id"] != after["set_id"]
    assert made["at"] <= came["at"] < before["at"]  # no run is older than its session
