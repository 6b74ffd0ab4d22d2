"""Cases of the last two bolts, and of readings that do not agree: what is changed, and the finding it must bring."""

from __future__ import annotations

from typing import Any

from ninebolt.core.codec import encode
from ninebolt.library.demo import moss

STOCK: dict[str, Any] = {"donor.kind": "electric_moto", "donor.stock": encode(moss().donor.stock)}

TUNE_AND_PROVE: list[tuple[str, dict[str, Any], str, str]] = [
    ("tune.param.line_a", {"tune.chosen": [{"name": "line_a", "value": 400}]}, "stop", "Set to"),
    ("tune.param.ramp_s", {"tune.chosen": [{"name": "ramp_s", "value": 3}]}, "caution", "Set to"),
    ("tune.param.lvc_v", {"tune.chosen": [{"name": "lvc_v", "value": 40}]}, "stop", "Set to"),
    (
        "tune.param.pole_pairs",
        {"tune.chosen": [{"name": "pole_pairs", "value": 4}]},
        "stop",
        "Set to",
    ),
    (
        "prove.gate_parts",
        {"drive.controller.name": "Borrowed controller"},
        "caution",
        "says nothing of this one",
    ),
    ("guard.fuse_part", {"guard.fuse.melts": [[4, 100], [10, 0.02]]}, "caution", "not all typed"),
    (
        "drive.regen_past",
        {"guard.bms.common_port": False, "tune.regen_pct": 5.0},
        "caution",
        "another than its discharge port",
    ),
    ("tune.cap", {"tune.cap_m_s": 12.5}, "caution", "Without a cap"),
    ("drive.rpm_free", {"drive.motor.rpm_max_rpm": 5000.0}, "caution", "off a jump"),
    ("tune.trip", {"tune.chosen": [{"name": "phase_trip_a", "value": 300}]}, "caution", "lets go"),
    *(
        (f"tune.pairs.{low}.{high}", {"tune.chosen": [{"name": n, "value": v}]}, severity, words)
        for low, high, n, v, severity, words in (
            ("throttle_low_v", "throttle_high_v", "throttle_low_v", 4.2, "stop", "hand off"),
            (
                "throttle_fault_low_v",
                "throttle_low_v",
                "throttle_fault_low_v",
                1.5,
                "caution",
                "does not start",
            ),
            (
                "throttle_high_v",
                "throttle_fault_high_v",
                "throttle_fault_high_v",
                3.0,
                "caution",
                "full throttle",
            ),
            ("lvc_v", "lvc_start_v", "lvc_start_v", 60, "caution", "at once"),
            ("regen_full_v", "ovc_v", "regen_full_v", 130, "caution", "lets go"),
            ("motor_c", "motor_stop_c", "motor_c", 170, "caution", "hot motor"),
            ("phase_cont_a", "phase_a", "phase_cont_a", 900, "caution", "for ever"),
        )
    ),
    (
        "tune.halls",
        {
            "tune.chosen": [
                {"name": f"hall_{i}_deg", "value": 60.0 * (i - 1) if i < 6 else 245}
                for i in range(1, 7)
            ]
        },
        "stop",
        "turns by itself",
    ),
    (
        "tune.travel",
        {
            "tune.throttle_rest_v": None,
            "tune.chosen": [
                {"name": "throttle_low_v", "value": 3.5},
                {"name": "throttle_high_v", "value": 4.0},
            ],
        },
        "caution",
        "Measure both ends",
    ),
    (
        "tune.param.controller_c",
        {"tune.chosen": [{"name": "controller_c", "value": 25}]},
        "caution",
        "warm day",
    ),
    (
        "tune.param.motor_stop_c",
        {"tune.chosen": [{"name": "motor_stop_c", "value": 40}]},
        "stop",
        "warm day",
    ),
    (
        "tune.param.mode_2_ramp_s",
        {"tune.chosen": [{"name": "mode_2_ramp_s", "value": 8}]},
        "caution",
        "late",
    ),
    (
        "tune.param.throttle_fault_low_v",
        {"tune.chosen": [{"name": "throttle_fault_low_v", "value": 0}]},
        "caution",
        "wire that is off",
    ),
    ("tune.curve_falls", {"tune.throttle": [[0, 0], [0.5, 0.9], [1, 0.5]]}, "stop", "slows"),
    ("tune.curve_early", {"tune.throttle": [[0, 0], [0.5, 1], [1, 1]]}, "caution", "rest of the"),
    ("tune.curve_push", {"tune.throttle": [[0, 0.1], [1, 1]]}, "stop", "let go"),
    ("tune.curve_late", {"tune.throttle": [[0, 0], [0.8, 0.2], [1, 1]]}, "caution", "last fifth"),
    (
        "tune.curve_steep",
        {"tune.throttle": [[0, 0], [0.1, 0.9], [1, 1]], "gear.tyre.grip_mu": 0.3},
        "caution",
        "from rest",
    ),
    ("tune.throttle_open", {"tune.throttle_rest_v": None}, "caution", "at rest is not known"),
    ("tune.throttle_span", {"tune.throttle_rest_v": 4.4}, "stop", "hand off"),
    ("tune.throttle_wire.full", {"tune.throttle_full_v": 4.9}, "stop", "rubbed through"),
    ("tune.throttle_wire.rest", {"tune.throttle_rest_v": 0.1}, "caution", "wire that is off"),
    (
        "tune.param.throttle_low_v",
        {"tune.chosen": [{"name": "throttle_low_v", "value": 0.5}]},
        "stop",
        "hand off",
    ),
    *(
        (f"tune.profile_{key}.0", {"tune.profiles": [{"name": "P", **p}]}, severity, words)
        for key, p, severity, words in (
            ("open", {"purpose": "pack"}, "caution", "decide every cut-off"),
            (
                "charger",
                {"purpose": "pack", "series": 20, "charger_v": 100},
                "stop",
                "fits no other pack",
            ),
            ("charger", {"purpose": "pack", "series": 20}, "caution", "The build has one"),
            (
                "pack",
                {"purpose": "pack", "series": 26, "bms_a": 40},
                "caution",
                "opens on the first pull",
            ),
            ("twins", {"purpose": "pack", "series": 24}, "note", "mark packs"),
            ("bypass", {"purpose": "bypass"}, "caution", "Nothing opens"),
        )
    ),
    (
        "tune.profile_speed.0",
        {
            "tune.profiles": [{"name": "P", "purpose": "strip", "speed_m_s": 90}],
            "gear.tyre.speed_symbol": "B",
        },
        "caution",
        "lower one",
    ),
    ("tune.throttle_wire.supply", {"tune.throttle_supply_v": 12}, "caution", "burn"),
    ("tune.throttle_wire.pot", {"tune.throttle_kind": "potentiometer"}, "note", "ground off"),
    (
        "prove.gate.cell_spread",
        {"prove.gates": [{"key": "cell_spread", "value": 0.3}]},
        "stop",
        "weak group",
    ),
    (
        "prove.gate_order",
        {"prove.gates": [{"key": "full_run", "passed": True, "at": "2031-05-04"}]},
        "caution",
        "protects a hand",
    ),
    ("prove.gates_open", {"prove.gates": []}, "caution", "gates are passed"),
    (
        "prove.no_cause",
        {"prove.book": [{"kind": "failure", "what": "cut out"}]},
        "caution",
        "cause",
    ),
    ("prove.quarantine", {"prove.quarantine": "fell at the gate"}, "stop", "fell at the gate"),
    ("pack.cell_volts", {"pack.cell.chemistry": "iron_phosphate"}, "stop", "swell"),
    ("pack.cell_volts", {"pack.cell.full_v": 3.65}, "caution", "another chemistry"),
    ("pack.cell_volts", {"pack.cell.empty_v": 2.2}, "caution", "ruined"),
    (
        "pack.loaded_up",
        {"pack.rested_v": 100, "pack.loaded_v": 104, "pack.loaded_a": 40},
        "caution",
        "swapped",
    ),
    ("guard.plug_a", {"guard.plug.r_ohm": 0.03}, "stop", "replace it"),
    ("pack.groups_unread", {"pack.group_v": [[99, 3.9]]}, "caution", "another pack"),
    ("donor.total_given", {"road.total_kg": 190}, "caution", "heavier pack"),
    ("prove.no_log", {}, "note", "standing start"),
]

READINGS: list[tuple[str, dict[str, Any], str, str]] = [
    (
        "pack.sum",
        {"pack.group_v": [[i, 3.9] for i in range(1, 27)], "pack.rested_v": 92.0},
        "caution",
        "one number",
    ),
    ("pack.sealed", {"pack.housing": "plastic", "pack.vent": False}, "caution", "bursts"),
    ("pack.sealed", {"pack.housing": "wood_or_fibre", "pack.vent": None}, "note", "membrane"),
    (
        "donor.salvage_odd.0",
        {
            "donor.salvage": [
                {"name": "wreck", "kind": "pack", "series": 24, "lowest_v": 3.9, "highest_v": 3.5}
            ]
        },
        "caution",
        "contradicts itself",
    ),
    ("pack.cell_order", {"pack.cell.i_peak_a": 1.0}, "caution", "for a while"),
    ("guard.order.bms", {"guard.bms.i_peak_a": 100.0}, "caution", "contradicts itself"),
    ("guard.order.dcdc", {"guard.dcdc.in_min_v": 160.0}, "caution", "input from"),
    ("goal.range_open", {"goal.cruise_m_s": 60.0}, "caution", "slower ride"),
    ("gear.radius_off", {"gear.tyre.rolling_radius_m": 0.2}, "caution", "divide the way"),
    ("gear.radius_off.front", {"gear.front_tyre.rolling_radius_m": 0.6}, "caution", "diameter"),
    (
        "pack.sag_read",
        {"pack.rested_v": 106.0, "pack.loaded_v": 70.0, "pack.loaded_a": 60.0},
        "stop",
        "feel the joints",
    ),
    (
        "pack.sag_read",
        {"pack.rested_v": 106.0, "pack.loaded_v": 105.9, "pack.loaded_a": 200.0},
        "caution",
        "not of one moment",
    ),
    ("pack.loaded_open", {"pack.loaded_v": 80.0, "pack.loaded_a": None}, "caution", "same moment"),
    (
        "pack.stand_in_odd",
        {"pack.stand_in": {"name": "s", "series": 10, "full_v": 84}},
        "caution",
        "before it is plugged in",
    ),
    (
        "pack.stand_in_odd",
        {"pack.stand_in": {"name": "s", "series": 26, "capacity_ah": 5, "i_cont_a": 900}},
        "caution",
        "slip of a digit",
    ),
    ("pack.cells_short", {"pack.cells_at_hand": 50}, "caution", "are at hand"),
    ("donor.bay_place.0", {"donor.bays.0.y_m": 0.02}, "caution", "under the ground"),
    ("donor.bay_place.0", {"donor.bays.0.x_m": 2.9}, "caution", "rear axle"),
    (
        "pack.outline_size.0.long",
        {"donor.bays.0.outline": [[-0.9, -0.1], [0.9, -0.1], [0.9, 0.1], [-0.9, 0.1]]},
        "caution",
        "which of them is right",
    ),
    (
        "donor.line_twice.1",
        {"donor.items": [{"name": "Tank", "action": "removed", "mass_kg": 3}] * 2},
        "caution",
        "name them apart",
    ),
    (
        "donor.rules",
        {"donor.legal": {"speed_max_m_s": 60, "region": "here", "checked_on": "lately"}},
        "caution",
        "lately",
    ),
    ("donor.rules", {"donor.legal": {"speed_max_m_s": 60}}, "caution", "No place noted"),
    (
        "donor.rules",
        {"donor.legal": {"vehicle_class": "moped", "region": "here", "checked_on": "2031-05-01"}},
        "caution",
        "none written down",
    ),
    ("drive.usual.kv_rpm_v", {"drive.motor.kv_rpm_v": 2.5}, "caution", "slip of a digit"),
    ("drive.usual.r_phase_ohm", {"drive.motor.r_phase_ohm": 4.6}, "caution", "another unit"),
    ("drive.usual.mass_kg", {"drive.motor.mass_kg": 200.0}, "caution", "unlike any"),
    ("drive.order.motor", {"drive.motor.phase_cont_a": 5000.0}, "caution", "for a while"),
    ("drive.order.controller", {"drive.controller.v_min_v": 500.0}, "caution", "works from"),
    ("drive.swapped", {"drive.controller.phase_a": 90.0}, "caution", "taken for each other"),
    ("drive.phase_rating", {"drive.controller.phase_a": 2000.0}, "stop", "fails short"),
    ("drive.phase_rating", {"drive.controller.phase_max_a": 600.0}, "caution", "fails short"),
    ("gear.usual.cda_m2", {"road.cda_m2": 5.0}, "caution", "unlike any"),
    ("gear.usual.air_kg_m3", {"road.air_kg_m3": 0.1}, "caution", "another unit"),
    ("gear.usual.efficiency", {"gear.efficiency": 0.3}, "caution", "slip of a digit"),
    ("gear.ratio_off", {"gear.ratio": 20.0}, "caution", "typed"),
    (
        "gear.rotor_size.front",
        {"gear.front_brake.rotor_m": 0.58},
        "caution",
        "radius for a diameter",
    ),
    (
        "gear.front_off",
        {"gear.front_tyre.rolling_radius_m": 0.33, "gear.steering.front_radius_m": 0.55},
        "caution",
        "Trail follows",
    ),
    ("gear.teeth_most.front", {"gear.run.front_most": 8}, "stop", "locks the wheel"),
    ("gear.teeth_most.rear", {"gear.run.rear_most": 12}, "stop", "saws through"),
    (
        "gear.order.fork",
        {"gear.fork.preload_m": 0.09, "gear.fork.travel_m": 0.05},
        "caution",
        "preload",
    ),
    ("gear.order.run", {"gear.run.centre_m": 1.49}, "caution", "wheelbase"),
    ("pack.peak_off", {"pack.cell.i_peak_a": 600.0}, "caution", "empty at once"),
    ("pack.usual.charge", {"pack.cell.i_charge_a": 60.0}, "caution", "unlike any"),
    ("pack.usual.strip_thick", {"pack.strips.thick_m": 0.003}, "caution", "another unit"),
    ("guard.usual.bms_peak", {"guard.bms.i_peak_a": 6500.0}, "caution", "unlike any"),
    ("guard.usual.cable_m", {"guard.cable.length_m": 7.0}, "caution", "slip of a digit"),
    ("guard.usual.efficiency", {"guard.charger.efficiency": 0.4}, "caution", "unlike any"),
    ("guard.order.bms", {"guard.bms.i_charge_a": 310.0}, "caution", "lets in"),
    ("guard.charge_long", {"guard.charger.i_a": 0.5}, "note", "an alarm"),
    ("guard.isolation_half", {"guard.isolation.state": "DC side alone"}, "note", "joined 500"),
    ("guard.isolation_half", {"guard.isolation.state": "unknown"}, "note", "which it was"),
    ("guard.isolation_open", {"guard.isolation.loaded_v": 0.0}, "caution", "bare metal"),
    (
        "guard.bms_peak",
        {"guard.bms.i_peak_a": None, "guard.bms.peak_s": None, "guard.bms.i_cont_a": 150.0},
        "stop",
        "nobody knows that it bears more",
    ),
    ("drive.stuck", {"drive.controller.lvc_v": 112.0}, "stop", "let go at"),
    ("drive.lvc_high", {"drive.controller.lvc_v": 112.0}, "stop", "does not run"),
    ("pack.strap_crash", {"pack.strap_n": 1500.0}, "note", "walls of the tray"),
    ("goal.half.hill", {"goal.hill_speed_m_s": None}, "note", "how fast"),
    ("goal.half.speed", {"goal.hill_pct": None}, "note", "how steep"),
    ("goal.rider_open", {"goal.rider_kg": None}, "note", "Step on a scale"),
    (
        "donor.scale_half",
        {"donor.front_scale_kg": 60.0, "donor.rear_scale_kg": None},
        "note",
        "on a block",
    ),
    ("gear.chain_odd", {"gear.run.links": 117}, "note", "half link"),
    (
        "gear.no_brake.rear",
        {f"gear.{e}_brake.presence": "not there" for e in ("front", "rear")},
        "stop",
        "its motor",
    ),
    ("goal.range_open", {"road.grade_pct": -25.0}, "note", "road drives the bike"),
    ("tune.curve_short", {"tune.throttle": [[0, 0], [1, 0.6]]}, "note", "computed with all of it"),
    ("tune.curve_short", {"tune.throttle": [[0, 0]]}, "stop", "lost its points"),
    (
        "tune.unknown_name",
        {"tune.chosen": [{"name": "phase_amps", "value": 300}]},
        "caution",
        "no set that is written",
    ),
    ("wire.confirm", {"wire.phases": []}, "note", "by mark and"),
    ("guard.coil_diode", {"guard.isolator.suppression": "diode"}, "note", "zener"),
    ("guard.phase_leads", {"guard.phase_cable.section_m2": 4e-6}, "stop", "lock the wheel"),
    ("guard.phase_leads", {"guard.phase_cable.section_m2": 1e-5}, "caution", "RMS"),
    ("donor.gear_open", {"pack.cell.r0_ohm": None}, "caution", "does not compute yet"),
    ("guard.isolation_off", {"guard.isolation.minus_v": 610.0}, "caution", "together more"),
    ("guard.isolation_off", {"guard.isolation.loaded_v": 80.0}, "caution", "rose to"),
    (
        "guard.isolation_off",
        {f"guard.isolation.{k}_v": v for k, v in (("pack", 48), ("minus", 28), ("plus", 20))},
        "caution",
        "this one has",
    ),
    ("donor.made_off.power", STOCK | {"donor.ratings.power_w": 30_000.0}, "caution", "papers"),
    ("donor.stock_off.top_speed", STOCK | {"donor.stock.top_m_s": 60.0}, "caution", "far apart"),
    ("pack.usual.heat", {"pack.cell.heat_j_k": 6.3}, "caution", "unlike any"),
    ("guard.usual.plug_peak", {"guard.plug.i_peak_a": 3500.0}, "caution", "unlike any"),
    ("guard.usual.input_v", {"guard.dcdc.in_max_v": 960.0}, "caution", "unlike any"),
    *(
        (f"drive.usual.{key}", {f"drive.{path}": value}, "caution", "unlike any")
        for key, path, value in (
            ("v_max_v", "controller.v_max_v", 1200.0),
            ("line_max_a", "controller.line_max_a", 5000.0),
            ("box_phase_a", "controller.phase_max_a", 10_000.0),
            ("phase_max_a", "motor.phase_max_a", 7500.0),
            ("c_bus_farad", "controller.c_bus_farad", 0.07),
            ("erpm_max_rpm", "controller.erpm_max_rpm", 800_000.0),
            ("box_heat_j_k", "controller.heat_j_k", 18_000.0),
            ("heat_j_k", "motor.case_j_k", 130_000.0),
            ("winding_case_k_w", "motor.winding_case_k_w", 0.9),
            ("case_air_k_w", "motor.case_air_k_w", 0.008),
            ("heat_k_w", "controller.heat_k_w", 0.02),
            ("drag_nm", "motor.drag_nm", 6.0),
        )
    ),
    (
        "drive.weakening_free",
        {"drive.controller.fw_id_a": 60},
        "caution",
        "No full throttle on the stand",
    ),
    ("wire.usual.lowest_live_m", {"wire.lowest_live_m": 1.9}, "caution", "unlike any"),
    ("donor.parts_unweighed", {"drive.motor.mass_kg": None}, "caution", "Counted as nothing"),
    ("donor.parts_unweighed", {"guard.bms.mass_kg": None}, "note", "Put each on a scale"),
    ("donor.unplaced", {"donor.items.0.x_m": None}, "note", "where it really sits"),
    ("goal.ride_twice", {"goal.ride_s": 3600.0}, "caution", "Keep one of the two"),
    (
        "goal.deadline",
        {
            f"goal.{k}": v
            for k, v in (
                ("start_on", "2031-03-01"),
                ("deadline", "2031-05-01"),
                ("lead_days", 3),
                ("work_hours", 8),
                ("week_hours", 8),
            )
        },
        "caution",
        "today is 2031-05-04",
    ),
    ("donor.rules_old", {"donor.legal.checked_on": "2029-01-01"}, "note", "Rules change"),
    ("donor.rules_old", {"donor.legal.checked_on": "2031-06-01"}, "note", "day to come"),
]
