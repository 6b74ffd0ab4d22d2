"""Gear's findings on the demo's enduro: what is changed, what must be said. Rows as in test_findings."""

from __future__ import annotations

from typing import Any

HUB: dict[str, Any] = {
    "drive.motor.kind": "hub",
    "gear.front_teeth": None,
    "gear.rear_teeth": None,
    "gear.reduction": 4.0,
}
DROPOUTS: dict[str, Any] = {"flat_m": 0.0098, "dropout_m": 0.006, "metal": "aluminium", "arms": 0}

GEAR_CASES: list[tuple[str, dict[str, Any], str, str]] = [
    ("gear.springs_half.front", {"gear.fork.travel_m": None}, "note", "full droop"),
    (
        "gear.springs_half.rear",
        {"gear.shock.leverage": None, "gear.shock.rate_n_m": 6000},
        "caution",
        "decimal",
    ),
    ("gear.rpm", {"drive.motor.rpm_max_rpm": 3000}, "stop", "magnets"),
    (
        "gear.chain_pull",
        {"gear.chain": "415", "gear.front_teeth": 8, "gear.rear_teeth": 24},
        "stop",
        "snaps",
    ),
    ("gear.chain_pull", {"gear.chain": "420", "gear.rear_teeth": 44}, "caution", "tight run"),
    ("gear.chain_size", {"gear.chain": "none"}, "note", "side plates"),
    ("gear.belt_pull", {"gear.chain": "belt 14 mm"}, "note", "maker's tables"),
    ("gear.belt_pull", {"gear.chain": "belt 14 mm", "gear.run.stands_n": 900}, "stop", "strips"),
    (
        "gear.belt_mesh",
        {"gear.chain": "belt 8 mm", "gear.front_teeth": 12, "gear.rear_teeth": 60},
        "caution",
        "in the belt",
    ),
    (
        "gear.belt_mesh",
        {"gear.chain": "belt 14 mm", "gear.front_teeth": 8, "gear.rear_teeth": 56},
        "stop",
        "jumps",
    ),
    ("gear.chain_length", {"gear.run.links": 110}, "stop", "links fit"),
    ("gear.chain_length", {"gear.run.links": 122}, "caution", "slot"),
    ("gear.chain_line", {"gear.run.offset_m": 0.006}, "caution", "shim"),
    ("gear.tyre.front", {"gear.front_tyre.speed_symbol": "B"}, "stop", "faster tyre"),
    ("gear.tyre_unknown.front", {"gear.front_tyre.speed_symbol": ""}, "note", "letter"),
    ("gear.tyre_load.rear", {"gear.tyre.load_index": 20}, "stop", "lets go"),
    ("gear.tyre_load.front", {"gear.front_tyre.load_index": 29}, "caution", "pressure"),
    ("gear.tyre_load_open", {"gear.tyre.load_index": None}, "note", "speed letter"),
    ("gear.rim.rear", {"gear.tyre.rim_m": 0.041}, "caution", "rolls off"),
    ("gear.rim.rear", {"gear.tyre.rim_m": 0.115}, "caution", "bead"),
    ("gear.tyre_room.rear", {"gear.tyre.gap_m": 0.118}, "stop", "grows"),
    ("gear.tyre_room.rear", {"gear.tyre.gap_m": 0.126}, "caution", "grows"),
    ("gear.teeth.front", {"gear.front_teeth": 8}, "caution", "can climb"),
    ("gear.teeth.rear", {"gear.rear_teeth": 90}, "caution", "room for it"),
    ("gear.hub_sprockets", {"drive.motor.kind": "hub"}, "caution", "take the teeth out"),
    ("gear.tyre_over.rear", {"gear.tyre.over_m": 0.002}, "stop", "taller at top speed"),
    ("gear.tyre_over.rear", {"gear.tyre.over_m": 0.009}, "caution", "bent rim"),
    ("gear.no_brake.front", {"gear.front_brake.presence": "not there"}, "stop", "No ride"),
    ("gear.no_brake.rear", {"gear.rear_brake.presence": "not there"}, "caution", "failure"),
    (
        "gear.brake_open",
        {
            "gear.front_brake": {},
            "donor.ratings": {},
            "donor.kind": "gas_roller",
        },
        "caution",
        "Measure the rotors",
    ),
    ("gear.brake_heat.front", {"gear.front_brake.rotor_kg": 0.2}, "stop", "fade"),
    ("gear.brake_heat.front", {"gear.front_brake.rotor_kg": 0.5}, "caution", "fade"),
    (
        "gear.brake_energy",
        {"gear.front_brake": {}, "donor.ratings.speed_m_s": 25},
        "caution",
        "locked",
    ),
    ("gear.top_mode", {"gear.front_brake.rotor_kg": 0.3}, "caution", "Tune"),
    ("gear.top_mode", {"gear.front_brake.presence": "not there"}, "caution", "Not fit"),
    ("gear.stoppie", {"road.cg_height_m": 1.2, "road.front_share": 0.6}, "note", "lift"),
    ("gear.springs.front", {"gear.fork.rate_n_m": 3000}, "caution", "bottoms"),
    ("gear.springs.rear", {"gear.shock.rate_n_m": 90000}, "caution", "stiff"),
    ("gear.springs.front", {"gear.fork.rate_n_m": 1800}, "stop", "soft"),
    (
        "gear.springs_open",
        {"gear.fork.rate_n_m": None, "donor.ratings.gross_kg": 170},
        "note",
        "Measure sag",
    ),
    ("gear.stance", {"gear.fork.longer_m": 0.05}, "caution", "longer shock"),
    ("gear.stance", {"gear.fork.longer_m": -0.06}, "caution", "longer fork"),
    (
        "gear.stance_open",
        {"gear.steering.rake_deg": None, "gear.fork.longer_m": 0.03},
        "caution",
        "trail",
    ),
    ("gear.clearance", {"gear.steering.clearance_m": 0.12}, "caution", "hit first"),
    ("gear.seat", {"gear.fit.inseam_m": 0.72}, "caution", "Tiptoe"),
    ("gear.seat", {"gear.fit.inseam_m": 0.62}, "caution", "does not reach"),
    ("gear.hub", {**HUB, "gear.hub": DROPOUTS}, "stop", "tears its leads"),
    ("gear.hub_open", {**HUB, "gear.hub": {"arms": 0}}, "stop", "no torque arm"),
    ("gear.hub_open", HUB, "caution", "Measure flats"),
]
