"""What the demo's donors were before, and what was looked at before buying. All invented."""

from __future__ import annotations

from typing import Any

from ninebolt.library.demo_values import lib, measured, setting, value

MOSS_STOCK: dict[str, Any] = {
    "pack": {
        "cell": lib("cell", "ne21-50"),
        "series": 17,
        "parallel": 6,
        "interconnect_ohm": value(0.008, "guess", 0.4),
    },
    "bms": lib(
        "bms",
        "bms-16-60",
        name="Stock BMS 17s 45 A",
        series=17,
        i_cont_a=value(45, "label"),
        i_peak_a=value(80, "guess", 0.3),
    ),
    "controller": lib(
        "controller",
        "ct-72-100",
        name="Stock controller 60 V 60 A",
        line_a=setting(60),
        phase_a=setting(130),
        lvc_v=setting(47.6),
    ),
    "motor": lib("motor", "md-5", name="Stock motor 3 kW", label_w=value(3000, "label")),
    "gear": {
        "front_teeth": 12,
        "rear_teeth": 48,
        "chain": "420",
        "reduction": measured(1.0),
        "wheel_kg_m2": value(0.55, "guess", 0.3),
        "tyre": lib("tyre", "t19-80"),
    },
    "top_m_s": measured(19.6),
    "to_time_s": measured(20.8),
    "ride_m": measured(64_000),
}

PIP_STOCK: dict[str, Any] = {
    "pack": {
        "source": "lead_acid",
        "cell": lib("cell", "la-12-20"),
        "series": 24,
        "parallel": 1,
        "interconnect_ohm": value(0.012, "guess", 0.5),
    },
    "controller": lib(
        "controller",
        "ct-72-100",
        name="Stock controller 48 V 35 A",
        line_a=setting(35),
        phase_a=setting(90),
        lvc_v=setting(42.0),
    ),
    "motor": lib("motor", "hb-3", name="Stock hub 1 kW", label_w=value(1000, "label")),
    "gear": {
        "chain": "none",
        "reduction": measured(1.0),
        "efficiency": measured(1.0),
        "wheel_kg_m2": value(0.25, "guess", 0.3),
        "tyre": lib("tyre", "t12-80"),
    },
    "top_m_s": measured(11.8),
}

CANDIDATES: list[dict[str, Any]] = [
    {
        "name": "Brakka 250 roller, Skerry farm",
        "mass_kg": measured(106.5),
        "price_money": 900,
        "year": 2019,
        "frame_metal": "steel",
        "condition": "straight",
        "crashed": False,
        "papers": "registered",
        "bay_length_m": measured(0.36),
        "bay_height_m": measured(0.27),
        "bay_width_m": measured(0.245),
        "power_w": 27_000,
        "speed_m_s": 36.0,
        "gross_kg": 225,
        "work_money": 180,
    },
    {
        "name": "Tolt 125 frame, harbour shed",
        "mass_kg": value(88, "guess", 0.1),
        "price_money": 420,
        "year": 2014,
        "frame_metal": "aluminium",
        "condition": "bent",
        "crashed": True,
        "papers": "papers without plate",
        "bay_length_m": value(0.31, "guess", 0.1),
        "bay_height_m": value(0.24, "guess", 0.1),
        "bay_width_m": value(0.2, "guess", 0.1),
        "power_w": 16_000,
        "speed_m_s": 31.0,
        "gross_kg": 190,
    },
    {
        "name": "Ulla 300 crashed, north road",
        "price_money": 650,
        "year": 2021,
        "frame_metal": "steel",
        "crashed": True,
        "papers": "registered",
        "power_w": 33_000,
        "work_money": 300,
    },
]

SALVAGE: list[dict[str, Any]] = [
    {
        "name": "Van motor from the ferry yard",
        "kind": "motor",
        "damage": "none seen",
        "serial": "FY-2207",
        "volts_v": value(96, "label"),
        "rated_w": value(20_000, "label"),
        "amps_a": value(350, "label"),
        "pole_pairs": 5,
        "sensor": "hall",
        "shaft": "splined, sprocket carrier missing",
    },
    {
        "name": "Half a car pack, Lund's barn",
        "kind": "pack",
        "damage": "unknown",
        "volts_v": value(88, "label"),
        "chemistry": "nickel_rich",
        "series": 24,
        "capacity_ah": value(66, "label"),
        "rested_v": measured(85.2),
        "lowest_v": measured(3.49),
        "highest_v": measured(3.58),
    },
]
