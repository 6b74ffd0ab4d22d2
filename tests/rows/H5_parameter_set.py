"""The parameter set: each value derived from the chain and the parts, bounded on both sides."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside


def row(bike: Outside, name: str) -> dict[str, Any]:
    rows = bike.body["assessment"]["drawings"]["tune"]["rows"]
    return dict(next(r for r in rows if r["name"] == name))


def by_hand(bike: Outside, name: str, value: float) -> str:
    bike.put(("tune.chosen", [{"name": name, "value": value}]))
    return bike.says(f"tune.param.{name}")


def test_ordinary_line_amps_are_the_chain_s(bike: Outside) -> None:
    """0.80 of a 125 A fuse by hand; the same number that Guard names."""
    assert row(bike, "line_a")["recommended"] == 100
    assert bike.figure("guard", "advice") == 100
    assert "Fuse" in row(bike, "line_a")["constraint"]


def all_rows(bike: Outside) -> dict[str, float]:
    return {
        r["name"]: r["recommended"] for r in bike.body["assessment"]["drawings"]["tune"]["rows"]
    }


@pytest.mark.parametrize("line,phase", [(77, 111), (12, 30), (600, 900)])
def test_what_is_recommended_does_not_hang_on_what_the_build_says(
    bike: Outside, line: float, phase: float
) -> None:
    """No value of the set: neither amps nor what follows from them, such as the speed cap."""
    before = all_rows(bike)
    bike.put(
        ("drive.controller.line_a", line), ("drive.controller.phase_a", phase), ("drive.controller.fw_id_a", 5),
        ("drive.controller.lvc_v", 66), ("drive.controller.ramp_s", 0.4), ("tune.regen_pct", 40),
    )  # fmt: skip
    assert all_rows(bike) == pytest.approx(before)
    assert row(bike, "line_a")["build"] == line


def test_dangerous_a_build_that_is_slow_now_is_still_capped_at_its_tyre(bike: Outside) -> None:
    """80 km/h is the symbol F of UN R75; the set lets more amps flow than the build says now."""
    bike.put(("gear.tyre.speed_symbol", "F"), ("drive.controller.line_a", 15))
    assert bike.head["top_speed_m_s"] < 80 / 3.6 - 2
    cap = row(bike, "speed_cap_m_s")
    assert cap["recommended"] == pytest.approx(80 / 3.6) and "tyre" in cap["constraint"]


@pytest.mark.parametrize(
    ("name", "value"),
    [("dead_pct", 6), ("stall_s", 2), ("mode_2_pct", 90), ("throttle_low_v", 0.95)],
)
def test_a_taste_within_its_window_is_no_fault(bike: Outside, name: str, value: float) -> None:
    assert by_hand(bike, name, value) == ""


def test_what_is_set_by_hand_is_what_the_rest_follows(bike: Outside) -> None:
    free = all_rows(bike)
    bike.put(("tune.chosen", [{"name": "line_a", "value": 30}]))
    held = all_rows(bike)
    assert held["line_a"] == free["line_a"] and held["speed_cap_m_s"] < free["speed_cap_m_s"]


@pytest.mark.parametrize(
    ("name", "value", "severity"),
    [
        ("lvc_v", 200, "stop"),  # a cut-off far above the pack: dead on the first pull
        ("lvc_v", 40, "stop"),
        ("lvc_v", 80, "caution"),  # half the pack unused
        ("ovc_v", 90, "stop"),  # under a full pack: lets go of the wheel
        ("ovc_v", 140, "stop"),
        ("line_a", 300, "stop"),
        ("line_a", 1, "caution"),
        ("phase_a", 0, "caution"),
        ("phase_a", 600, "stop"),
        ("motor_c", 20, "caution"),
        ("motor_c", 175, "caution"),
        ("ramp_s", 5, "caution"),
        ("regen_pct", 90, "caution"),
        ("pole_pairs", 8, "stop"),
        ("ratio", 9, "caution"),
        ("dead_pct", 40, "caution"),  # much of the twist does nothing
        ("stall_s", 0.1, "caution"),  # lets go at a hard start
        ("stall_s", 9, "caution"),
        ("speed_cap_m_s", 0, "caution"),
        ("mode_3_pct", 0, "caution"),
        ("mode_2_m_s", 0, "caution"),
        ("mode_3_regen_pct", 90, "caution"),
    ],
)
def test_dangerous_values_on_either_side_are_named(
    bike: Outside, name: str, value: float, severity: str
) -> None:
    assert by_hand(bike, name, value) == severity


def test_dangerous_a_set_with_a_stop_is_not_taken_by_accident(bike: Outside) -> None:
    by_hand(bike, "line_a", 400)
    url = f"{bike.url}/parameters"
    got = bike.client.get(url, params={"kind": "dcf"})
    assert got.status_code == 409 and "stop stands" in got.json()["message"]
    for kind, mark in (
        ("dcf", b"; NOT CLEARED"),
        ("csv", b"NOT CLEARED"),
        ("json", b"not_cleared"),
    ):
        anyway = bike.client.get(url, params={"kind": kind, "anyway": True})
        assert anyway.status_code == 200 and mark in anyway.content


def test_a_set_without_a_stop_says_nothing_of_the_kind(bike: Outside) -> None:
    got = bike.client.get(f"{bike.url}/parameters", params={"kind": "dcf"})
    assert got.status_code == 200 and b"NOT CLEARED" not in got.content


def test_margins(bike: Outside) -> None:
    """Gentle asks less of everything; everything weakens as far as the ceiling lets it."""
    normal = {n: row(bike, n)["recommended"] for n in ("line_a", "phase_a", "ramp_s", "fw_id_a")}
    bike.put(("tune.margin", "gentle"))
    assert (
        row(bike, "line_a")["recommended"] == 80
        and row(bike, "phase_a")["recommended"] < normal["phase_a"]
    )
    assert row(bike, "ramp_s")["recommended"] >= 0.3
    bike.put(("tune.margin", "everything"))
    assert row(bike, "fw_id_a")["recommended"] > normal["fw_id_a"]


def test_recommended_values_written_into_the_build_raise_no_stop_in_tune(bike: Outside) -> None:
    chosen = [
        {"name": r["name"], "value": r["recommended"]}
        for r in bike.body["assessment"]["drawings"]["tune"]["rows"]
    ]
    for margin in ("gentle", "normal", "everything"):
        bike.put(("tune.margin", margin), ("tune.chosen", []))
        chosen = [
            {"name": r["name"], "value": r["recommended"]}
            for r in bike.body["assessment"]["drawings"]["tune"]["rows"]
        ]
        bike.put(("tune.chosen", chosen))
        assert not any(k.startswith("tune.param") for k in bike.findings()), margin


def test_unknown_what_the_pack_takes_back_is_no_regeneration(bike: Outside) -> None:
    bike.put(("guard.bms.i_charge_a", None), ("pack.cell.i_charge_a", None))
    r = row(bike, "regen_pct")
    assert r["recommended"] == 0 and "not known" in r["constraint"]


def test_not_there_without_a_motor_there_is_no_set(bike: Outside) -> None:
    bike.put(("drive.motor.kv_rpm_v", None))
    got = bike.client.get(f"{bike.url}/parameters", params={"kind": "dcf"})
    assert got.status_code == 422 and "half set" in got.json()["message"]


def test_dangerous_two_top_speeds_in_one_build_are_not_silent(bike: Outside) -> None:
    """Capped for the road the bike is the one that is capped, wherever it is shown; what it does without is said."""
    free = bike.head["top_speed_m_s"]
    bike.put(("goal.top_speed_m_s", None), ("goal.to_time_s", None), ("goal.cruise_m_s", 10.0))
    assert bike.put(("tune.cap_m_s", 45 / 3.6)).says("tune.cap") == "note"
    found = bike.findings()["tune.cap"]
    assert found["limit"] == pytest.approx(12.5) and found["measured"] == pytest.approx(free)
    assert bike.head["top_speed_m_s"] == pytest.approx(12.5) and "end there too" in found["reason"]
    assert row(bike, "speed_cap_m_s")["recommended"] == pytest.approx(12.5)
    bike.put(("goal.top_speed_m_s", 25.0))
    assert bike.says("tune.cap") == "caution" and "the top speed" in bike.words("tune.cap")
    assert bike.says("goal.short.top") == "caution"
    assert bike.put(("tune.cap_m_s", 60.0)).says("tune.cap") == ""  # above what it reaches: no hold
    assert bike.head["top_speed_m_s"] == pytest.approx(free)
    bike.put(("tune.chosen", [{"name": "speed_cap_m_s", "value": 12.5}]))
    assert bike.says("tune.cap") == "caution"  # by hand is no other cap
    assert "by hand, the cap is in the set alone" in bike.words("tune.cap")


def test_dangerous_a_cap_below_walking_pace_is_what_is_named(bike: Outside) -> None:
    """A slip of the unit, 1 for 100: neither phase amps nor the pack are to blame."""
    bike.put(("tune.cap_m_s", 1.0))
    assert bike.says("drive.stuck") == "stop" and "the speed cap holds it" in bike.words(
        "drive.stuck"
    )
    assert "are needed" not in bike.words("drive.stuck")


def test_unknown_cap_holds_nothing(bike: Outside) -> None:
    assert bike.put(("tune.cap_m_s", None)).says("tune.cap") == ""
