"""Drive's findings that need more than one change, on the demo's enduro. Rows as in test_findings."""

from __future__ import annotations

from typing import Any

BRIDGE = [[1, 0.42], [2, 0.42], [3, 0.43], [4, 0.41], [5, 0.42], [6, 0.42]]
SHORT = [[1, 0.42], [2, 0.0], [3, 0.43], [4, 0.41], [5, 0.42], [6, 0.42]]

DRIVE_CASES: list[tuple[str, dict[str, Any], str, str]] = [
    (
        "drive.regen_open",
        {"tune.regen_pct": 20, "guard.bms.i_charge_a": None, "pack.cell.i_charge_a": None},
        "caution",
        "leave regeneration off",
    ),
    ("drive.box_blank", {"drive.controller.line_max_a": None}, "caution", "line amps it stands"),
    ("drive.box_blank", {"drive.controller.erpm_max_rpm": None}, "note", "electrical rpm"),
    (
        "drive.box_heat",
        {"drive.controller.heat_k_w": 5, "drive.controller.heat_j_k": 200},
        "caution",
        "short",
    ),
    ("drive.motor_blank", {"drive.motor.rpm_max_rpm": None}, "caution", "rotor"),
    ("drive.cont", {"drive.motor.phase_cont_a": 20}, "caution", "on and on"),
    ("drive.motor_basis", {"drive.motor.amp_basis": "unknown"}, "note", "careful"),
    ("drive.setting_open", {"drive.controller.line_a": None}, "note", "rated for"),
    (
        "drive.run_heat",
        {"drive.motor.winding_j_k": 60, "drive.motor.winding_case_k_w": 3},
        "caution",
        "sensor",
    ),
    (
        "drive.ride_heat",
        {"drive.motor.case_air_k_w": 5.0, "goal.ride_m": 400_000},
        "caution",
        "speed of the ride",
    ),
    ("drive.line_rating", {"drive.controller.line_a": 800}, "stop", "decimal"),
    (
        "drive.regen",
        {"tune.regen_pct": 60, "guard.bms.i_charge_a": 10, "pack.start_soc": 0.7},
        "caution",
        "plates",
    ),
    (
        "drive.regen",
        {"tune.regen_pct": 30, "pack.temp_c": -5, "pack.start_soc": 0.7},
        "stop",
        "frozen",
    ),
    ("drive.regen_full", {"tune.regen_pct": 20}, "caution", "over-voltage"),
    (
        "drive.regen_grip",
        {"tune.regen_pct": 100, "gear.tyre.grip_mu": 0.5},
        "caution",
        "rear tyre holds",
    ),
    (
        "drive.damaged",
        {"drive.controller.condition": "smoked or popped"},
        "stop",
        "diode tester",
    ),
    ("drive.damaged", {"drive.controller.bridge": SHORT}, "stop", "runs away"),
    (
        "drive.damaged",
        {"drive.controller.condition": "got wet", "drive.controller.bridge": BRIDGE},
        "stop",
        "wheel in the air",
    ),
    (
        "drive.condition_open",
        {"donor.salvage": [{"name": "hub", "kind": "motor"}]},
        "note",
        "sound",
    ),
    ("drive.stuck", {"drive.controller.phase_a": 10}, "stop", "phases"),
    ("drive.stuck", {"drive.controller.line_a": 0.5}, "stop", "battery leads"),
    ("drive.stuck", {"road.grade_pct": 95}, "stop", "slips|climbs"),
    ("drive.lead", {"drive.motor.lead_m2": "10 mm2"}, "caution", "no rating of the motor"),
    (
        "drive.hill_heat",
        {
            "goal.hill_pct": 38,
            "goal.hill_speed_m_s": 9,
            "goal.climb_m": 3000,
            "drive.motor.case_air_k_w": 0.4,
        },
        "caution",
        "for good",
    ),
]
