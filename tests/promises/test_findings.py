"""One row a judgement: what is changed in a sound build, and the finding it must bring.

Limits are trade facts (common practice, no source) unless the finding's source names a standard.
"""

from __future__ import annotations

from typing import Any

import pytest

from ninebolt.core.bolts.assess import assess
from ninebolt.core.build import Build
from ninebolt.core.codec import decode, encode, set_path
from ninebolt.library.demo import brakka

CASES: list[tuple[str, dict[str, Any], str, str]] = [
    # bolt.key, changes to the sound build, severity, words that the reason must hold
    ("donor.unweighed", {"donor.items.0.mass_kg": None}, "caution", "Engine"),
    ("donor.no_bay", {"donor.bays": []}, "caution", "Measure before"),
    ("donor.scale", {"donor.front_scale_kg": 70, "donor.rear_scale_kg": 75}, "caution", "%"),
    ("donor.heavy", {"goal.mass_max_kg": 100}, "caution", "over the wish"),
    ("donor.frame", {"donor.frame_changes.0.kind": "weld"}, "caution", "authority"),
    ("goal.short_top speed", {"goal.top_speed_m_s": 60}, "caution", "of the goal"),
    ("goal.short_range", {"goal.ride_m": 400_000}, "caution", "of the goal"),
    ("goal.budget", {"goal.budget_money": 500}, "caution", "over the budget"),
    ("pack.peak", {"pack.parallel": 4}, "stop", "put 5 in parallel"),
    ("pack.cont", {"pack.parallel": 6}, "caution", "a cell"),
    ("pack.fit", {"pack.parallel": 60}, "stop", "Most in parallel"),
    ("pack.fit", {"donor.bays.0.width_m": 0.02}, "stop", "Not even one"),
    ("pack.sag", {"pack.cell.r0_ohm": 0.06}, "caution", "drops"),
    ("pack.modules", {"pack.cell.inner_series": 4}, "stop", "cannot be made"),
    ("pack.class_b", {}, "note", "can kill"),
    ("guard.bms_series", {"guard.bms.series": 24}, "stop", "watches 24"),
    ("guard.bypass", {"guard.bms.discharge": "bypassed"}, "caution", "reversal"),
    ("guard.bms_peak", {"guard.bms.i_cont_a": 100, "guard.bms.i_peak_a": 200}, "stop", "at once"),
    ("guard.bms_trip", {"guard.bms.i_cont_a": 100, "guard.bms.peak_s": 1}, "stop", "opens near"),
    ("guard.bms_cont", {"guard.bms.i_cont_a": 250, "guard.bms.peak_s": 60}, "caution", "long hill"),
    ("guard.bms_large", {"guard.bms.i_cont_a": 2000}, "caution", "too large|It opens"),
    ("guard.fuse_cable", {"guard.cable.section_m2": 1e-5}, "stop", "insulation limit"),
    ("guard.fuse_small", {"guard.fuse.rated_a": 60}, "stop", "twice"),
    ("guard.fuse_dc", {"guard.fuse.dc_v": 58}, "stop", "arc"),
    ("guard.fuse_break", {"guard.fuse.breaking_a": 1000}, "stop", "breaking capacity"),
    ("guard.isolator_v", {"guard.isolator.dc_v": 60}, "stop", "weld"),
    ("guard.isolator_a", {"guard.isolator.i_cont_a": 100}, "caution", "Contacts heat"),
    ("guard.plug_a", {"guard.plug.i_cont_a": 60, "guard.plug.i_peak_a": 120}, "caution", "pushed"),
    ("guard.cable", {"guard.cable.section_m2": 1e-5}, "caution", "full throttle asks"),
    ("guard.no_precharge", {"guard.precharge.r_ohm": None}, "caution", "welds"),
    ("guard.precharge_w", {"guard.precharge.rated_w": 5}, "caution", "for good"),
    ("guard.precharge_slow", {"guard.precharge.r_ohm": 2000}, "note", "95 %"),
    ("guard.charger_v", {"guard.charger.out_v": 126}, "stop", "a cell"),
    ("guard.charger_v", {"guard.charger.out_v": 84}, "stop", "another pack"),
    ("guard.charger_v", {"guard.charger.out_v": 107.5}, "caution", "does not fill"),
    ("guard.charger_a", {"guard.bms.i_charge_a": 10}, "stop", "the BMS takes"),
    ("guard.charger_cells", {"guard.charger.i_a": 79}, "stop", "a cell"),
    ("guard.dcdc_v", {"guard.dcdc.in_max_v": 90}, "stop", "lights"),
    ("guard.dcdc_w", {"guard.dcdc.load_w": 110}, "caution", "surge"),
    ("guard.isolation", {"guard.isolation.loaded_v": 58}, "stop", "chafed"),
    ("drive.ceiling", {"drive.controller.v_max_v": 100}, "stop", "first plug-in"),
    ("drive.phase", {"drive.motor.phase_max_a": 500}, "caution", "magnets"),
    ("drive.phase", {"drive.motor.phase_max_a": 300}, "stop", "magnets"),
    ("drive.basis", {"drive.controller.amp_basis": "unknown"}, "caution", "41 %"),
    ("drive.line_rating", {"drive.controller.line_a": 400}, "caution", "against"),
    ("drive.lvc_low", {"drive.controller.lvc_v": 50}, "caution", "another pack"),
    ("drive.lvc_high", {"drive.controller.lvc_v": 100}, "stop", "half"),
    (
        "drive.weakening",
        {"gear.rear_teeth": 110, "drive.controller.fw_id_a": 500, "drive.controller.v_max_v": 110},
        "stop",
        "capacitors",
    ),
    ("drive.erpm", {"drive.controller.erpm_max_rpm": 15_000}, "stop", "loses the rotor"),
    ("drive.rpm", {"drive.motor.rpm_max_rpm": 3000}, "stop", "top speed"),
    ("drive.label", {"drive.motor.label_w": 60_000}, "note", "choke"),
    ("gear.tyre", {"gear.tyre.speed_symbol": "J"}, "stop", "gear it down"),
    ("gear.tyre_unknown", {"gear.tyre.speed_symbol": ""}, "caution", "letter"),
    ("gear.wheelie", {"gear.rear_teeth": 115}, "note", "front wheel lifts"),
    ("gear.taller", {"goal.top_speed_m_s": 36.4}, "note", "thrust from rest"),
    ("wire.twice", {"wire.phases.1.controller_mark": "U"}, "stop", "once"),
    ("wire.confirm", {"wire.phases.0.confirmed": False}, "note", "identification"),
    ("wire.input_brake_cut-off", {"wire.interlocks.0.state": "open"}, "caution", "brake"),
    ("wire.ford", {"wire.lowest_live_m": 0.1}, "caution", "water"),
    ("wire.order", {"wire.done": ["fuse"]}, "stop", "Pull the fuse"),
    ("tune.param_line_a", {"tune.chosen": [{"name": "line_a", "value": 400}]}, "stop", "by hand"),
    ("tune.param_ramp_s", {"tune.chosen": [{"name": "ramp_s", "value": 0.01}]}, "caution", "hand"),
    ("tune.param_lvc_v", {"tune.chosen": [{"name": "lvc_v", "value": 40}]}, "stop", "by hand"),
    (
        "tune.param_pole_pairs",
        {"tune.chosen": [{"name": "pole_pairs", "value": 4}]},
        "stop",
        "hand",
    ),
    ("tune.curve_falls", {"tune.throttle": [[0, 0], [0.5, 0.9], [1, 0.5]]}, "stop", "slows"),
    ("tune.curve_early", {"tune.throttle": [[0, 0], [0.5, 1], [1, 1]]}, "caution", "rest of the"),
    ("tune.curve_push", {"tune.throttle": [[0, 0.1], [1, 1]]}, "stop", "let go"),
    ("prove.no_log", {}, "note", "standing start"),
]


def sound(**_: Any) -> dict[str, Any]:
    return encode(brakka())


@pytest.mark.parametrize(
    ("key", "changes", "severity", "words"),
    CASES,
    ids=[f"{k}-{s}-{i}" for i, (k, _, s, _) in enumerate(CASES)],
)
def test_finding(key: str, changes: dict[str, Any], severity: str, words: str) -> None:
    doc = sound()
    for path, value in changes.items():
        doc = set_path(doc, path, value)
    bolt = key.split(".")[0]
    found = {f.key: f for f in assess(decode(Build, doc)).bolt(bolt).findings}
    assert key in found, f"found only {sorted(found)}"
    assert found[key].severity == severity
    assert any(w in found[key].reason or w in found[key].title for w in words.split("|"))


@pytest.mark.parametrize(
    "key", sorted({k for k, changes, s, _ in CASES if changes and s != "note"})
)
def test_the_sound_build_does_not_have_it(key: str) -> None:
    """A check that always speaks says nothing."""
    found = {f.key for f in assess(brakka()).bolt(key.split(".")[0]).findings}
    assert key not in found
