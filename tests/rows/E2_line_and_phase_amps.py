"""Line amps are not phase amps: the duty between them, and an A without a word."""

from __future__ import annotations

import math

import pytest

from rows.conftest import Outside


def test_ordinary_power_is_the_same_on_both_sides(bike: Outside) -> None:
    """Closed form at one speed: V I_line = 1.5 (vd id + vq iq) + 1.5 R_sw i² + P0, with id = 0."""
    doc, d = bike.body["doc"]["drive"], bike.body["assessment"]["drawings"]["drive"]
    i = 25
    m, c = doc["motor"], doc["controller"]
    we = d["speed_m_s"][i] / bike.radius * (56 / 12) * m["pole_pairs"]
    ke = 60 / (2 * math.pi * m["kv_rpm_v"]["amount"]) / (math.sqrt(3) * m["pole_pairs"])
    iq = d["phase_a"][i]
    vq = m["r_phase_ohm"]["amount"] * iq + we * ke
    switch = c["r_switch_ohm"]["amount"] if c["r_switch_ohm"] else 0.0012
    fixed = c["fixed_w"]["amount"] if c["fixed_w"] else 25.0
    power = 1.5 * vq * iq + 1.5 * switch * iq**2 + fixed
    assert d["bus_v"][i] * d["line_a"][i] == pytest.approx(power, rel=0.02)


def test_phase_amps_are_more_where_the_duty_is_small(bike: Outside) -> None:
    d = bike.body["assessment"]["drawings"]["drive"]
    ratios = [p / a for p, a in zip(d["phase_a"][5:60], d["line_a"][5:60], strict=True)]
    assert ratios == sorted(ratios, reverse=True) and ratios[0] > 5 > ratios[-1]
    assert d["losses"]["duty"][5] < 0.2 < 0.6 < d["losses"]["duty"][45]


def test_dangerous_line_amps_taken_for_phase_amps(bike: Outside) -> None:
    """A 'limit of 240 A' set as line amps asks the pack for twice what it gives: it is stopped."""
    bike.put(("drive.controller.line_a", 240), ("drive.controller.line_max_a", 300))
    assert any(
        bike.says(k) in ("stop", "caution")
        for k in ("pack.peak", "pack.cont", "guard.chain", "guard.fuse")
    )


def test_unknown_an_a_without_a_word_is_two_hypotheses(bike: Outside) -> None:
    got = bike.client.get("/api/sums/label", params={"text": "Controller 72V 150A"}).json()
    amps = {r["path"] for r in got if r["value"] == 150}
    assert amps == {"drive.controller.line_max_a", "drive.controller.phase_max_a"}
    assert all(r["sure"] <= 0.6 for r in got if r["value"] == 150)


def test_unknown_basis_gives_both_outcomes(bike: Outside) -> None:
    bike.put(("drive.controller.amp_basis", "unknown"))
    assert bike.says("drive.basis") == "caution" and "41 %" in bike.words("drive.basis")


def test_not_there_no_line_setting_is_not_endless(bike: Outside) -> None:
    bike.put(("drive.controller.line_a", None), ("drive.controller.line_max_a", None))
    d = bike.body["assessment"]["drawings"]["drive"]
    assert max(d["line_a"]) < 400  # the other links hold
