"""Winding and label: KV trades speed for torque; what a label leaves out is a guess, never a measurement."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside

NEEDED = ("r_phase_ohm", "l_phase_henry", "phase_max_a")


def blank(bike: Outside, *more: tuple[str, object]) -> Outside:
    return bike.put(*[(f"drive.motor.{n}", None) for n in NEEDED], *more)


def fill(bike: Outside) -> Outside:
    fix = bike.findings()["drive.from_label"]["fixes"][0]
    return bike.put(*[(c["path"], c["value"]) for c in fix["changes"]])


def test_ordinary_one_press_fills_what_the_run_needs(bike: Outside) -> None:
    """The 5 kW mid-drive of the demo has 16 mOhm and 250 A: the law must come within half of it."""
    blank(bike)
    assert bike.head["top_speed_m_s"] is None
    fill(bike)
    motor = bike.body["doc"]["drive"]["motor"]
    assert motor["r_phase_ohm"]["amount"] == pytest.approx(0.016, rel=0.5)
    assert motor["phase_max_a"]["amount"] == pytest.approx(250, rel=0.5)
    assert bike.head["top_speed_m_s"] is not None
    assert all(motor[n]["origin"] == "guess" and motor[n]["tolerance"] >= 0.3 for n in NEEDED)


def test_rewinding_follows(bike: Outside) -> None:
    """Half the KV is twice the turns: four times the resistance (closed form)."""
    blank(bike, ("drive.motor.kv_rpm_v", 60))
    one = fill(bike).body["doc"]["drive"]["motor"]["r_phase_ohm"]["amount"]
    blank(bike, ("drive.motor.kv_rpm_v", 30))
    assert fill(bike).body["doc"]["drive"]["motor"]["r_phase_ohm"]["amount"] == pytest.approx(
        4 * one, rel=0.01
    )


def test_dangerous_phase_amps_that_nobody_knows_are_said(bike: Outside) -> None:
    bike.put(("drive.motor.phase_max_a", None), ("drive.motor.phase_cont_a", None))
    assert bike.says("drive.phase_open") == "caution"


def test_unknown_kv_is_asked_for(bike: Outside) -> None:
    blank(bike, ("drive.motor.kv_rpm_v", None))
    assert (
        "KV" in bike.words("drive.from_label") and not bike.findings()["drive.from_label"]["fixes"]
    )


def test_not_there_without_a_label_nothing_is_made_up(bike: Outside) -> None:
    blank(bike, ("drive.motor.label_w", None))
    assert bike.says("drive.from_label") == ""
    assert bike.head["top_speed_m_s"] is None


def test_no_load_speed_and_torque_per_amp(bike: Outside) -> None:
    """Closed forms: rpm = KV V; torque = (sqrt 3 / 2) (60 / 2 pi KV) iq."""
    kv = 62.0
    bike.put(("drive.motor.kv_rpm_v", kv), ("drive.controller.phase_a", 200))
    assert bike.figure("drive", "no_load") == pytest.approx(kv * 96.6)
    torque = 3**0.5 / 2 * 60 / (2 * 3.141592653589793 * kv) * 200
    assert bike.figure("drive", "torque") == pytest.approx(torque, rel=1e-6)


def rewound(bike: Outside, turns: float, to: float) -> dict[str, Any]:
    got = bike.client.get(f"{bike.url}/rewind", params={"turns": turns, "to_turns": to})
    assert got.status_code == 200, got.text
    return dict(got.json())


def test_a_rewind_follows_its_laws_and_keeps_its_promise(bike: Outside) -> None:
    """KV ~ 1/N, R and L ~ N², amps ~ 1/N (amp-turns): and the promised headline is what the build then shows."""
    found = rewound(bike, 4, 5)
    by = {r["path"].rsplit(".", 1)[1]: r["after"] / r["before"] for r in found["rows"]}
    assert by["kv_rpm_v"] == pytest.approx(4 / 5) and by["r_phase_ohm"] == pytest.approx(25 / 16)
    assert by["l_phase_henry"] == pytest.approx(25 / 16)
    promised = found["then"]["headline"]
    bike.put(*[(c["path"], c["value"]) for c in found["changes"]])
    for key in ("top_speed_m_s", "to_time_s", "peak_wheel_w"):
        assert bike.head[key] == pytest.approx(promised[key])


def test_dangerous_fewer_turns_raise_no_setting(bike: Outside) -> None:
    """More phase amps may flow then; nobody but the builder sets them."""
    paths = {c["path"] for c in rewound(bike, 5, 3)["changes"]}
    assert "drive.controller.phase_a" not in paths
    assert "drive.controller.phase_a" in {c["path"] for c in rewound(bike, 3, 5)["changes"]}


def test_unknown_kv_and_no_turns_are_named(bike: Outside) -> None:
    for turns, to in ((0, 4), (4, 4), (-1, 3), (4, 1e9)):
        query = {"turns": turns, "to_turns": to}
        assert bike.client.get(f"{bike.url}/rewind", params=query).status_code == 422
    bike.put(("drive.motor.r_phase_ohm", None))
    assert "Phase resistance" in rewound(bike, 4, 5)["missing"]
    bike.put(("drive.motor.kv_rpm_v", None))
    got = bike.client.get(f"{bike.url}/rewind", params={"turns": 4, "to_turns": 5})
    assert got.status_code == 422 and "KV is not known" in got.json()["message"]
