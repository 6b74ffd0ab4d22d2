"""Is it the same tune? What had to differ, what was chosen to, what is not known."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside
from rows.J1_test_plan import planned, ride


def twin(bike: Outside) -> Outside:
    made = bike.client.post(f"{bike.url}/duplicate").json()
    return Outside(bike.client, str(made["id"]))


def fair(bike: Outside, other: Outside) -> dict[str, Any]:
    got = bike.client.get(f"{bike.url}/fair", params={"other": other.url.rsplit("/", 1)[-1]})
    assert got.status_code == 200, got.text
    return dict(got.json())


def row(found: dict[str, Any], label: str) -> dict[str, Any]:
    return next(r for r in found["rows"] if r["label"].startswith(label))


def test_ordinary_twins_are_fair(bike: Outside) -> None:
    found = fair(bike, twin(bike))
    assert found["rows"] == [] and found["equal"] > 50
    assert found["sentence"].startswith("Fair")


def test_dangerous_more_line_amps_on_one_is_not_the_motor_s_merit(bike: Outside) -> None:
    other = twin(bike).put(("tune.chosen", [{"name": "line_a", "value": 60.0}]))
    found = fair(bike, other)
    seen = row(found, "Line amps")
    assert seen["kind"] == "chosen" and "lower one" in seen["why"]
    assert found["sentence"].startswith("Not the same tune")


def test_what_follows_from_the_pack_had_to_differ(bike: Outside) -> None:
    other = twin(bike).put(("pack.series", bike.body["doc"]["pack"]["series"] - 1))
    seen = row(fair(bike, other), "Cells in series")
    assert seen["kind"] == "had to" and "cells in series" in seen["why"]


def test_volts_of_another_throttle_had_to_differ(bike: Outside) -> None:
    """Two hall sensors never read alike: what each was learned with is no choice."""
    found = fair(bike, Outside(bike.client, "brakka-96"))
    assert row(found, "Twist at rest")["kind"] == "had to"
    assert row(found, "Torque at 60 %")["kind"] == "chosen"


def test_dangerous_another_rider_is_named(bike: Outside) -> None:
    other = twin(bike).put(("goal.rider_kg", {"amount": 110, "origin": "measured", "tolerance": 0}))
    found = fair(bike, other)
    assert row(found, "Rider")["kind"] == "chosen" and row(found, "Mass with")["kind"] == "chosen"


def test_unknown_a_rider_nobody_weighed_is_not_called_equal(bike: Outside) -> None:
    other = twin(bike).put(("goal.rider_kg", None))
    seen = row(fair(bike, other), "Rider")
    assert seen["kind"] == "unknown" and seen["second"] is None


def test_not_there_a_build_without_a_motor_has_no_tune(bike: Outside) -> None:
    other = twin(bike).put(("drive.motor.kv_rpm_v", None))
    got = bike.client.get(f"{bike.url}/fair", params={"other": other.url.rsplit("/", 1)[-1]})
    assert got.status_code == 422 and "cannot be derived" in got.json()["message"]
    assert bike.client.get(f"{bike.url}/fair", params={"other": "nobody"}).status_code == 404


def test_other_sprockets_are_one_row_and_chosen(bike: Outside) -> None:
    rear = bike.body["doc"]["gear"]["rear_teeth"]
    found = fair(bike, twin(bike).put(("gear.rear_teeth", rear + 2)))
    ratios = [r for r in found["rows"] if r["label"] in ("Ratio", "Gear ratio")]
    assert len(ratios) == 1 and ratios[0]["kind"] == "chosen"


def test_full_volts_are_those_that_guard_shows(bike: Outside) -> None:
    """One number: what the pack reads when it is full, in both places."""
    other = twin(bike).put(("pack.series", bike.body["doc"]["pack"]["series"] - 1))
    seen = row(fair(bike, other), "Full volts")
    for build, shown in ((bike, seen["first"]), (other, seen["second"])):
        drawn = bike.client.get(f"{build.url}?bolt=guard").json()["assessment"]["drawings"]
        assert shown == drawn["guard"]["full_v"]


# The setups of a session: the build and the parameters that each was ridden with.


def ridden(bike: Outside, between: tuple[tuple[str, object], ...]) -> dict[str, Any]:
    """Two runs as old, the changes, two as new."""
    made = planned(bike, setups=["old", "new"])
    for value in (8.2, 8.21):
        ride(bike, made["id"], setup="old", value=value, mass_kg=160)
    if between:
        bike.put(*between)
    for value in (7.9, 7.91):
        last = ride(bike, made["id"], setup="new", value=value, mass_kg=150)
    return last


def said(session: dict[str, Any]) -> dict[str, tuple[str, str]]:
    return {s["what"]: (s["weight"], s["sentence"]) for s in session["verdict"]["spoilers"]}


def test_ordinary_one_thing_changed_is_what_was_tried(bike: Outside) -> None:
    last = ridden(bike, (("gear.front_teeth", 13),))
    old, new = last["ridden"]
    assert old["moved"] == [] and [m["path"] for m in new["moved"]] == ["gear.front_teeth"]
    assert old["seqs"][0] < new["seqs"][0]
    weight, words = said(last)["the build"]
    assert weight == "note" and "12 → 13" in words


def test_not_there_is_told_as_that(bike: Outside) -> None:
    """It read "unknown → unknown"."""
    gone = {"amount": None, "origin": "absent", "tolerance": None}
    words = said(ridden(bike, (("drive.controller.modulation", gone),)))["the build"][1]
    assert "modulation limit unknown → not there" in words


def test_why_is_what_the_planner_expects_of_the_change(bike: Outside) -> None:
    """The same difference as of the two states side by side, over the quarter mile."""
    made, seq = planned(bike, setups=["old", "new"]), bike.body["seq"]
    ride(bike, made["id"], setup="old", value=18.0)
    bike.put(("gear.front_teeth", 13), ("road.cda_m2", 1.0))
    last = ride(bike, made["id"], setup="new", value=18.6)
    rows = bike.client.get("/api/beside", params={"id": ["moss-84", f"moss-84@{seq}"]}).json()
    cells = next(r for r in rows["rows"] if r["label"] == "Quarter mile")["cells"]
    old, new = last["ridden"]
    assert old["expected"] is None
    assert new["expected"] == pytest.approx(cells[0]["value"] - cells[1]["value"], abs=2e-3)
    assert new["expected"] > 0.2  # taller and draggier


def test_dangerous_two_things_changed_at_once(bike: Outside) -> None:
    """Faster by the sprocket or by the amps: nobody can say, and the sentence of the verdict says so."""
    last = ridden(bike, (("gear.front_teeth", 13), ("drive.controller.phase_a", 200)))
    weight, words = said(last)["several things in the build"]
    assert weight == "caution" and "is not told" in words and "12 → 13" in words
    assert "several things in the build differed too" in last["verdict"]["sentence"]


def test_dangerous_a_setup_that_was_two_bikes(bike: Outside) -> None:
    made = planned(bike, setups=["old", "new"])
    ride(bike, made["id"], setup="old", value=8.2)
    ride(bike, made["id"], setup="new", value=7.9)
    bike.put(("gear.rear_teeth", 50))
    last = ride(bike, made["id"], setup="new", value=8.4)
    assert said(last)["the build of new"][0] == "caution"
    assert "was not one bike" in said(last)["the build of new"][1]


def test_dangerous_names_that_are_all_that_differs(bike: Outside) -> None:
    made = planned(bike, setups=["old", "new"])
    for setup, value in (("old", 8.2), ("new", 7.9), ("old", 8.21), ("new", 7.91)):
        last = ride(bike, made["id"], setup=setup, value=value)
    assert "nothing that is written down differs" in said(last)["what was tried"][1]
    tyres = planned(bike, setups=["old", "new"], name="Tyres")
    for setup, bar in (("old", 1.2), ("new", 1.9)):
        last = ride(bike, tyres["id"], setup=setup, value=8.0, tyre_bar=bar)
    assert "what was tried" not in said(last)


def test_what_a_session_showed_does_not_move_with_the_bike(bike: Outside) -> None:
    """Ten kilograms taken off by the model of the bike that was ridden, not of the one that stands there today."""
    last = ridden(bike, (("gear.front_teeth", 13),))
    before = last["verdict"]["corrected"]
    assert before is not None
    bike.put(("drive.controller.phase_a", 80), ("pack.parallel", 4), ("road.cda_m2", 1.2))
    again = bike.client.get(f"{bike.url}/sessions").json()[0]
    assert again["verdict"]["corrected"] == before


def test_the_report_says_as_what_they_were_ridden(bike: Outside) -> None:
    last = ridden(bike, (("gear.front_teeth", 13),))
    page = bike.client.get(f"{bike.url}/sessions/{last['id']}/report.html").text
    assert "new: change" in page and "12 → 13" in page


def test_setups_that_take_turns_are_said_to_be_states_of_the_build(bike: Outside) -> None:
    """Sprockets go on and off between the runs; nobody changes the build each time. Taken runs follow too."""
    made, old = planned(bike, setups=["old", "new"]), bike.body["seq"]
    bike.put(("gear.front_teeth", 13))
    new = bike.body["seq"]
    url = f"{bike.url}/sessions/{made['id']}/bind"
    ride(bike, made["id"], setup="old", value=8.2)  # the build stands as new by now
    for setup, seq in (("old", old), ("new", new)):
        got = bike.client.post(url, params={"setup": setup, "seq": seq})
        assert got.status_code == 200 and got.json()["bound"][setup] == seq
    for setup, value in (("new", 7.9), ("old", 8.21), ("new", 7.91)):
        last = ride(bike, made["id"], setup=setup, value=value)
    assert [t["seq"] for t in last["trials"]] == [old, new, old, new]
    assert [m["path"] for m in last["ridden"][1]["moved"]] == ["gear.front_teeth"]
    assert not any("was not one bike" in words for _, words in said(last).values())
    assert (
        bike.client.post(f"{bike.url}/undo").status_code == 200
    )  # the bike goes back; new stays new
    assert ride(bike, made["id"], setup="new", value=7.9)["trials"][-1]["seq"] == new
    free = bike.client.post(url, params={"setup": "old"}).json()
    assert "old" not in free["bound"]


def test_bound_to_what_is_not_there_is_refused(bike: Outside) -> None:
    made = planned(bike, setups=["old", "new"])
    url = f"{bike.url}/sessions/{made['id']}/bind"
    assert bike.client.post(url, params={"setup": "old", "seq": 9999}).status_code == 404
    assert bike.client.post(url, params={"setup": "third", "seq": 1}).status_code == 422
