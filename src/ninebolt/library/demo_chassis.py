"""Chassis of the demo bikes: brakes, springs, steering, chain run."""

from __future__ import annotations

from typing import Any

from ninebolt.library.demo_values import lib, measured, value

BRAKKA_CHASSIS: dict[str, Any] = {
    "front_tyre": {
        "name": "Enduro front 90/90-21 R",
        "code": "90/90-21",
        "speed_symbol": "R",
        "load_index": 54,
    },
    "front_brake": lib("brake", "bd-270f", mass_kg=None, rotor_kg=measured(0.62)),
    "rear_brake": lib("brake", "bd-220r", mass_kg=None),
    "fork": lib("suspension", "fk-enduro", mass_kg=None, preload_m=measured(0.01)),
    "shock": lib("suspension", "sk-enduro", mass_kg=None, preload_m=measured(0.008)),
    "steering": {
        "rake_deg": measured(27.0),
        "offset_m": value(0.056, "datasheet", 0.05),
        "clearance_m": measured(0.33),
    },
    "run": {
        "centre_m": measured(0.640),
        "links": 116,
        "slot_m": measured(0.03),
        "forward_m": measured(0.012),
        "front_most": 15,
        "rear_most": 58,
        "offset_m": measured(0.001),
    },
    "fit": {"seat_m": measured(0.93), "inseam_m": measured(0.84)},
}
MOSS_CHASSIS: dict[str, Any] = {
    "front_brake": lib("brake", "bd-203f", mass_kg=None),
    "rear_brake": {"presence": "fitted", "kind": "disc"},
    "run": {"centre_m": measured(0.545), "links": 122, "slot_m": measured(0.02)},
    "fork": {"longer_m": measured(0.02)},
}
