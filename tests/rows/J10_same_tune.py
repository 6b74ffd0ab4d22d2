"""Is it the same tune? What had to differ, what was chosen to, what is not known."""

from __future__ import annotations

from typing import Any

from rows.conftest import Outside


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
