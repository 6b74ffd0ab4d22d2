"""The three demo builds of an invented hill-climb club on the invented island of Tarn Vey.

Everything in them is made up. The third one still has the mistakes in it that it is there for.
"""

from __future__ import annotations

from functools import cache
from typing import Any

from ninebolt.core.build import Build
from ninebolt.core.codec import decode
from ninebolt.library.demo_chassis import BRAKKA_CHASSIS, MOSS_CHASSIS
from ninebolt.library.demo_donors import CANDIDATES, MOSS_STOCK, PIP_STOCK, SALVAGE
from ninebolt.library.demo_gates import commissioned
from ninebolt.library.demo_values import lib as _lib
from ninebolt.library.demo_values import setting as _set
from ninebolt.library.demo_values import value as _v


def _mass(name: str, action: str, kg: float, x: float, y: float) -> dict[str, Any]:
    return {"name": name, "action": action, "mass_kg": _v(kg), "x_m": _v(x), "y_m": _v(y)}


def _leads(*rows: tuple[str, str, str, bool]) -> list[dict[str, Any]]:
    return [
        {"controller_mark": a, "controller_colour": b, "motor_colour": c, "confirmed": d}
        for a, b, c, d in rows
    ]


def _grip(rest: float, full: float) -> dict[str, Any]:
    """A throttle measured at both ends."""
    return {
        "throttle_kind": "hall twist",
        "throttle_rest_v": _v(rest),
        "throttle_full_v": _v(full),
        "throttle_supply_v": _v(5.0),
    }


def _inputs(**states: str) -> list[dict[str, str]]:
    names = {"brake": "brake cut-off", "stand": "side stand", "tip": "tip-over"}
    return [{"name": names[k], "state": v} for k, v in states.items()]


@cache
def brakka() -> Build:
    """Gas enduro roller to 96 V with a mid-drive, nearly done."""
    plan = decode(
        Build,
        {
            "name": "Brakka 96",
            "note": "Gas enduro roller, Mirre's hill-climb bike. Mid-drive on a bolt-on plate.",
            "donor": {
                "name": "Brakka 250 roller",
                "kind": "gas_roller",
                "frame": "cradle",
                "mass_kg": _v(106.5),
                "cg_x_m": _v(0.68, "guess", 0.06),
                "cg_y_m": _v(0.56, "guess", 0.08),
                "wheel_radius_m": _v(0.33),
                "items": [
                    _mass("Engine with carburettor", "removed", 27.4, 0.66, 0.42),
                    _mass("Exhaust", "removed", 4.1, 0.35, 0.55),
                    _mass("Tank and radiators", "removed", 5.2, 0.78, 0.80),
                    _mass("Motor plate and spacers", "added", 2.6, 0.52, 0.40),
                    _mass("Throttle, display, loom", "added", 1.4, 0.95, 0.90),
                ],
                "bays": [
                    {
                        "name": "Engine bay",
                        "length_m": _v(0.36),
                        "height_m": _v(0.27),
                        "width_m": _v(0.245),
                        "padding_m": _v(0.005),
                        "x_m": _v(0.72),
                        "y_m": _v(0.52),
                        "keep_outs": [
                            {
                                "name": "Chain line",
                                "kind": "chain line",
                                "x_m": _v(-0.12),
                                "y_m": _v(-0.105),
                                "length_m": _v(0.12),
                                "height_m": _v(0.06),
                                "width_m": _v(0.06),
                                "z_m": _v(-0.0925),
                            }
                        ],
                    }
                ],
                "frame_changes": [{"name": "Motor plate on the engine lugs", "kind": "bolt_on"}],
                "ratings": {"power_w": _v(27_000), "speed_m_s": _v(37.5), "gross_kg": _v(225)},
                "candidates": CANDIDATES,
                "salvage": SALVAGE,
            },
            "goal": {
                "use": "hill_climb",
                "rider_kg": _v(74),
                "gear_kg": _v(9),
                "top_speed_m_s": 32.0,
                "to_speed_m_s": 26.8224,
                "to_time_s": 5.0,
                "hill_pct": 30,
                "hill_speed_m_s": 19.0,
                "ride_m": 60000,
                "cruise_m_s": 13.89,
                "runs": 5,
                "rest_s": _v(240),
                "budget_money": 7500,
                "mass_max_kg": 130,
            },
            "pack": {
                "cell": _lib("cell", "np21-45"),
                "series": 26,
                "parallel": 12,
                "interconnect_ohm": _v(0.005, "guess", 0.4),
                "case_kg": _v(4.2),
                "pitch_m": _v(0.0218),
                "strips": {"metal": "copper", "width_m": _v(0.012), "thick_m": _v(0.0003)},
                "housing": "plastic",
                "vent": True,
            },
            "guard": {
                "bms": _lib("bms", "bms-26-300"),
                "fuse": _lib("fuse", "fuse-250-125"),
                "isolator": _lib("isolator", "ct-400", coil_feed="converter", key_first=True),
                "plug": _lib("plug", "pl-350", seated="witness line"),
                "cable": _lib("cable", "cu-50", length_m=_v(0.7), bend_m=_v(0.07)),
                "phase_cable": _lib("cable", "cu-50", length_m=_v(0.45), mass_kg=None),
                "precharge": _lib("precharge", "pr-100"),
                "dcdc": _lib(
                    "dcdc", "dc-150-120", load_w=_v(55, "label"), feed="before the contactor"
                ),
                "charger": _lib("charger", "ch-26-20"),
                "isolation": {
                    "pack_v": _v(104.0),
                    "minus_v": _v(61.0),
                    "plus_v": _v(43.0),
                    "known_ohm": _v(52000.0),
                    "loaded_v": _v(5.2),
                },
            },
            "drive": {
                "controller": _lib(
                    "controller",
                    "ct-96-320",
                    line_a=_set(280),
                    phase_a=_set(620),
                    lvc_v=_set(75.4),
                    fw_id_a=_set(45),
                    ramp_s=_set(0.15),
                ),
                "motor": _lib("motor", "md-20"),
            },
            "gear": {
                "front_teeth": 13,
                "rear_teeth": 56,
                "chain": "520",
                "efficiency": _v(0.95, "guess", 0.03),
                "wheel_kg_m2": _v(1.05, "guess", 0.3),
                "tyre": _lib("tyre", "t18-120", rim_m=_v(0.0635), gap_m=_v(0.142)),
                **BRAKKA_CHASSIS,
            },
            "road": {
                "cda_m2": _v(0.52, "guess", 0.15),
                "crr": _v(0.02, "guess", 0.3),
                "cg_height_m": _v(0.80, "guess", 0.08),
                "wheelbase_m": _v(1.475),
                "front_share": _v(0.475, "guess", 0.05),
            },
            "wire": {
                "phases": _leads(
                    ("U", "yellow", "blue", True),
                    ("V", "green", "yellow", True),
                    ("W", "blue", "green", True),
                ),
                "halls": _leads(
                    ("A", "yellow", "yellow", True),
                    ("B", "green", "blue", True),
                    ("C", "blue", "green", True),
                ),
                "interlocks": _inputs(brake="fitted", stand="fitted", tip="fitted"),
                "done": ["isolate", "ground", "phases", "halls", "throttle", "interlocks", "dcdc"],
                "lowest_live_m": _v(0.41),
            },
            "tune": {
                "throttle": [[0, 0], [0.25, 0.14], [0.6, 0.5], [1, 1]],
                **_grip(0.86, 4.14),
                "profiles": [
                    {"name": "Road", "purpose": "road"},
                    {"name": "Strip", "purpose": "strip"},
                ],
            },
        },
    )
    return commissioned(plan)


@cache
def moss() -> Build:
    """60 V trail moto to 84 V for the club's ranger."""
    return decode(
        Build,
        {
            "name": "Moss 84",
            "note": "Ranger bike of the club: quiet, long days, gates and streams.",
            "donor": {
                "name": "Moss 60 trail moto",
                "kind": "electric_moto",
                "frame": "perimeter",
                "mass_kg": _v(58.0),
                "cg_x_m": _v(0.60, "guess", 0.06),
                "cg_y_m": _v(0.52, "guess", 0.08),
                "wheel_radius_m": _v(0.305),
                "items": [
                    _mass("Stock 60 V pack", "removed", 11.5, 0.66, 0.55),
                    _mass("Stock controller", "removed", 1.3, 0.50, 0.48),
                    _mass("Stock motor", "removed", 8.2, 0.42, 0.36),
                    _mass("Rack and tool roll", "added", 3.6, -0.05, 0.86),
                ],
                "bays": [
                    {
                        "name": "Frame bay",
                        "length_m": _v(0.33),
                        "height_m": _v(0.24),
                        "width_m": _v(0.165),
                        "outline": [
                            [-0.165, -0.12],
                            [0.125, -0.12],
                            [0.165, 0.03],
                            [0.165, 0.12],
                            [-0.095, 0.12],
                            [-0.165, 0.04],
                        ],
                        "x_m": _v(0.64),
                        "y_m": _v(0.54),
                    }
                ],
                "ratings": {"power_w": _v(3000), "speed_m_s": _v(19.6), "gross_kg": _v(165)},
                "stock": MOSS_STOCK,
            },
            "goal": {
                "use": "trail",
                "rider_kg": _v(86),
                "gear_kg": _v(14),
                "top_speed_m_s": 25.0,
                "to_speed_m_s": 16.667,
                "to_time_s": 4.0,
                "hill_pct": 22,
                "hill_speed_m_s": 11.0,
                "ride_m": 75000,
                "cruise_m_s": 9.72,
                "duty": "stop_and_go",
                "stop_each_m": 350,
                "budget_money": 3200,
                "mass_max_kg": 78,
            },
            "pack": {
                "cell": _lib("cell", "ne21-50"),
                "series": 23,
                "parallel": 9,
                "interconnect_ohm": _v(0.006, "guess", 0.4),
                "case_kg": _v(2.4, "guess", 0.2),
                "bms_in_bay": True,
                "rested_v": _v(86.9),
                "claimed_wh": 3750,
            },
            "guard": {
                "bms": _lib("bms", "bms-24-150", name="BMS 23s 150 A", series=23),
                "fuse": _lib("fuse", "fuse-125-125"),
                "isolator": _lib("isolator", "br-125"),
                "plug": _lib("plug", "pl-175", seated="witness line"),
                "cable": _lib("cable", "cu-25", length_m=_v(0.5)),
                "phase_cable": _lib("cable", "cu-16", length_m=_v(0.3), mass_kg=None),
                "precharge": _lib("precharge", "pr-150"),
                "dcdc": _lib(
                    "dcdc",
                    "dc-120-60",
                    loads=[
                        {"name": "Head light", "power_w": 18, "duty": 1.0, "surge": 1.2},
                        {"name": "Tail and brake light", "power_w": 6, "duty": 0.6},
                        {"name": "Horn", "power_w": 20, "duty": 0.01, "surge": 2.0},
                    ],
                ),
                "charger": _lib("charger", "ch-23-10"),
            },
            "drive": {
                "controller": _lib(
                    "controller",
                    "ct-84-200",
                    line_a=_set(135),
                    phase_a=_set(240),
                    lvc_v=_set(64.4),
                    fw_id_a=_set(0),
                ),
                "motor": _lib("motor", "md-5"),
            },
            "gear": {
                "front_teeth": 12,
                "rear_teeth": 56,
                "chain": "420",
                "reduction": _v(1.0, "measured", 0.0),
                "wheel_kg_m2": _v(0.55, "guess", 0.3),
                "tyre": _lib("tyre", "t19-80"),
                **MOSS_CHASSIS,
            },
            "road": {
                "cda_m2": _v(0.56, "guess", 0.15),
                "crr": _v(0.028, "guess", 0.35),
                "cg_height_m": _v(0.83, "guess", 0.08),
                "wheelbase_m": _v(1.30),
                "front_share": _v(0.45, "guess", 0.05),
            },
            "wire": {
                "phases": _leads(
                    ("U", "blue", "blue", False),
                    ("V", "green", "yellow", False),
                    ("W", "yellow", "green", False),
                ),
                "interlocks": _inputs(brake="fitted", stand="fitted", tip="open"),
                "done": ["isolate"],
                "lowest_live_m": _v(0.34),
            },
            "tune": {
                **_grip(0.88, 4.1),
                "profiles": [
                    {
                        "name": "Club's short pack",
                        "purpose": "pack",
                        "series": 20,
                        "parallel": 9,
                        "bms_a": _v(60, "label"),
                        "charger_v": _v(84.0, "label"),
                    },
                    {"name": "Guest", "purpose": "guest"},
                ],
            },
        },
    )


@cache
def pip() -> Build:
    """48 V pit moto to 72 V with a hub motor; mistakes left in for the tool to find."""
    return decode(
        Build,
        {
            "name": "Pip 72",
            "note": "Ola's pit moto. Bought in a hurry: see what does not belong together.",
            "donor": {
                "name": "Pip 48 pit moto",
                "kind": "electric_moto",
                "mass_kg": _v(46.0),
                "cg_x_m": _v(0.52, "guess", 0.06),
                "cg_y_m": _v(0.44, "guess", 0.08),
                "wheel_radius_m": _v(0.235),
                "items": [
                    _mass("Stock 48 V blocks", "removed", 13.0, 0.55, 0.40),
                    _mass("Stock rear wheel and chain", "removed", 6.8, 0.0, 0.235),
                    {"name": "Torque arms and spacers", "action": "added", "mass_kg": None},
                ],
                "bays": [
                    {
                        "name": "Under the seat",
                        "length_m": _v(0.29),
                        "height_m": _v(0.19),
                        "width_m": _v(0.15),
                        "x_m": _v(0.55),
                        "y_m": _v(0.42),
                    }
                ],
                "frame_changes": [
                    {
                        "name": "Dropouts widened for the hub",
                        "kind": "cut",
                        "place": "both rear dropouts",
                    }
                ],
                "ratings": {"power_w": _v(1000), "speed_m_s": _v(12.5), "gross_kg": _v(125)},
                "stock": PIP_STOCK,
            },
            "goal": {
                "use": "street",
                "rider_kg": _v(69),
                "gear_kg": _v(6),
                "top_speed_m_s": 22.0,
                "to_speed_m_s": 13.333,
                "to_time_s": 3.5,
                "ride_m": 25000,
                "cruise_m_s": 9.72,
                "budget_money": 1400,
                "mass_max_kg": 62,
            },
            "pack": {
                "cell": _lib("cell", "sv18-22"),
                "series": 20,
                "parallel": 12,
                "interconnect_ohm": _v(0.010, "guess", 0.5),
                "source": "salvaged_cells",
                "housing": "metal",
                "group_v": [[g, 3.71 if g != 7 else 3.655] for g in range(1, 21)],
            },
            "guard": {
                "bms": _lib("bms", "bms-20-60"),
                "fuse": _lib("fuse", "fuse-150-58"),
                "isolator": _lib("isolator", "un-1"),
                "plug": _lib("plug", "pl-60", seated="by feel"),
                "cable": _lib("cable", "cu-10", length_m=_v(0.6)),
                "dcdc": _lib("dcdc", "dc-72-60", load_w=_v(52, "guess", 0.2)),
                "charger": _lib("charger", "ch-16-10"),
            },
            "drive": {
                "controller": _lib(
                    "controller",
                    "ct-72-100",
                    line_a=_set(100),
                    phase_a=_set(240),
                    lvc_v=_set(42.0),
                    amp_basis="unknown",
                ),
                "motor": _lib("motor", "hb-3"),
            },
            "gear": {
                "chain": "none",
                "reduction": _v(1.0, "measured", 0.0),
                "efficiency": _v(1.0, "measured", 0.0),
                "wheel_kg_m2": _v(0.25, "guess", 0.3),
                "tyre": _lib("tyre", "t12-80"),
                "hub": {"dropout_m": _v(0.006), "metal": "steel", "arms": 1},
            },
            "road": {
                "cda_m2": _v(0.48, "guess", 0.15),
                "crr": _v(0.02, "guess", 0.35),
                "cg_height_m": _v(0.72, "guess", 0.1),
                "wheelbase_m": _v(1.12),
                "front_share": _v(0.42, "guess", 0.06),
            },
            "wire": {
                "phases": _leads(
                    ("U", "yellow", "yellow", False),
                    ("V", "green", "green", False),
                    ("W", "blue", "blue", False),
                ),
                "interlocks": _inputs(brake="open", stand="bypassed"),
                "done": ["isolate", "phases", "fuse"],
                "lowest_live_m": _v(0.19),
            },
            "tune": {"throttle": [[0, 0], [0.55, 1.0], [1, 1]]},
        },
    )


DEMOS = {"brakka-96": brakka, "moss-84": moss, "pip-72": pip}
