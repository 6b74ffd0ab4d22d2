"""Widen the bundled library: motors by the laws of core/drive/scaling, controllers, cells and the rest
by the laws written here. Every made value is a guess with its tolerance; what somebody wrote by hand
in the library stays as it is.

Run from the project's root; the files are then part of the source.
"""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

from ninebolt.core.drive.scaling import CLASSES, motor_like, rewound
from ninebolt.core.vehicle.brake import drum_kg
from ninebolt.core.vehicle.chain import PITCH_M, TEETH, pitch_radius

LIBRARY = Path(__file__).resolve().parents[1] / "src/ninebolt/library"
Doc = dict[str, Any]


def guess(x: float, tolerance: float = 0.2) -> Doc:
    return {"amount": float(f"{x:.3g}"), "origin": "guess", "tolerance": tolerance}


def label(x: float, tolerance: float = 0.1) -> Doc:
    return {"amount": x, "origin": "label", "tolerance": tolerance}


# ------------------------------------------------------------------------------------------------
# Motors: (id, name, kind, kW, KV, extra)

HUB_KV4 = 12.6  # rpm/V of a 3 kW hub with 4 turns; falls slowly with size. Common practice.
MIDS = [(3, 70), (5, 48), (8, 58), (12, 75), (15, 52), (20, 66), (25, 46), (30, 42)]
HUBS = [(1, 4), (2, 4), (3, 3), (3, 5), (5, 3), (5, 4), (5, 5), (8, 3), (8, 5), (12, 3), (12, 4),
        (12, 5), (20, 4)]  # fmt: skip
SALVAGED = [(30, 34, 34.0), (45, 27, 46.0), (70, 24, 58.0)]


def motor(id: str, name: str, kind: str, kw: float, kv: float, **more: Any) -> Doc:
    kg = more.pop("kg", None)
    m = motor_like(kind, kw * 1000.0, kv, kg)
    doc = {
        "id": id,
        "name": name,
        "kind": kind,
        "kv_rpm_v": guess(kv, 0.1),
        "pole_pairs": m.pole_pairs,
        "label_w": label(kw * 1000),
        "mass_kg": guess(m.mass_kg, 0.15),
        "price_money": guess(m.mass_kg * CLASSES[kind].price_per_kg, 0.4),
        "amp_basis": "peak",
        "source": "invented, scaled over mass and winding from typical motors",
    }
    wide = {"r_phase_ohm": 0.3, "l_phase_henry": 0.4, "knee_a": 0.3}
    names = ("r_phase_ohm", "l_phase_henry", "phase_cont_a", "phase_max_a", "knee_a", "drag_nm",
             "drag_nm_s_rad", "rotor_kg_m2", "winding_j_k", "case_j_k", "winding_case_k_w",
             "case_air_k_w")  # fmt: skip
    for field in names:
        doc[field] = guess(getattr(m, field), wide.get(field, 0.3))
    return doc | more


def motors() -> list[Doc]:
    out = [
        motor(f"md-{kw}-kv{kv}", f"Mid-drive {kw} kW, KV {kv}", "mid_drive", kw, kv)
        for kw, kv in MIDS
    ]
    for kw, turns in HUBS:
        kv = rewound(HUB_KV4 * kw**-0.09, 4, turns)
        out.append(motor(f"hb-{kw}-{turns}t", f"Hub motor {kw} kW, {turns} turns", "hub", kw, kv))
    for kw, kv, kg in SALVAGED:
        made = motor(f"sv-{kw}", f"Salvaged vehicle motor {kw} kW", "mid_drive", kw, kv, kg=kg)
        # Magnets inside the rotor: the q axis sees more iron. Common practice: about twice.
        made["lq_henry"] = guess(made["l_phase_henry"]["amount"] * 2.0, 0.4)
        made["pole_pairs"] = 4
        made["price_money"] = guess(9.0 * kg, 0.5)
        made["note"] = "Proofs first: shaft, sensor, serial. See Salvaged parts on Donor."
        out.append(made)
    return out


# ------------------------------------------------------------------------------------------------
# Controllers: (nominal volts, line amps, kind)

CONTROLLERS = [(36, 30, "t"), (48, 40, "t"), (60, 50, "t"), (72, 60, "t"), (72, 80, "t"),
               (48, 60, "s"), (60, 100, "s"), (72, 150, "s"), (72, 250, "s"), (84, 120, "s"),
               (84, 300, "s"), (96, 150, "s"), (96, 220, "s"), (108, 300, "s"), (120, 250, "s"),
               (120, 400, "s"), (120, 600, "s")]  # fmt: skip
CEILING = 1.23  # volts it stands over its nominal volts. Common practice.


def heat(kg: float) -> Doc:
    """Heat of a controller from its mass: three quarters aluminium, its fins in the wind."""
    return {
        "heat_k_w": guess(round(0.85 / kg**0.67, 3), 0.4),
        "heat_j_k": guess(round(700 * kg), 0.3),
    }


def controllers() -> list[Doc]:
    out = []
    for volts, amps, kind in CONTROLLERS:
        words = "Trapezoidal" if kind == "t" else "Sine"
        out.append(
            {
                "id": f"c{kind}-{volts}-{amps}",
                "name": f"{words} controller {volts} V {amps} A",
                "v_max_v": label(round(volts * CEILING), 0.03),
                "v_min_v": guess(volts * 0.5, 0.1),
                "line_max_a": label(amps),
                "phase_max_a": guess(amps * 2.3, 0.2),
                "amp_basis": "peak",
                "r_switch_ohm": guess(0.046 * amps**-0.66, 0.4),
                "fixed_w": guess(6.0 + 0.07 * amps, 0.5),
                "erpm_max_rpm": guess(30_000 if kind == "t" else 60_000, 0.3),
                "c_bus_farad": guess(1.45e-5 * amps, 0.4),
                "mass_kg": guess(0.8 + 0.0085 * amps, 0.25),
                **heat(0.8 + 0.0085 * amps),
                "price_money": guess((0.5 if kind == "t" else 1.0) * amps**1.1, 0.4),
                "note": "Steps of 60 degrees: rougher and louder at low speed."
                if kind == "t"
                else "",
                "source": "invented, scaled over amps from typical controllers",
            }
        )
    return out


# ------------------------------------------------------------------------------------------------
# Cells. Ohm times Ah and watt-hours a kilogram belong to the class. Common practice, no source.

VOLTS = {
    "nickel_rich": (4.2, 3.6, 2.8),
    "manganese_blend": (4.2, 3.7, 3.0),
    "iron_phosphate": (3.65, 3.2, 2.5),
    "lead_acid": (2.4, 2.0, 1.75),
}
J_PER_KG_K = 900.0  # heat capacity of a cell by mass; 800 to 1,000 in published measurements
# id, name, chemistry, form, (inner s, p), Ah of one cell, ohm x Ah, C continuous, C peak, kg of the
# body, sizes in mm (diameter, length) or (length, width, height), price
CELLS: list[tuple[Any, ...]] = [
    ("ne18-35", "18650 energy cell 3.5 Ah", "nickel_rich", "cylindrical", (1, 1), 3.5, 0.120, 2.3, 3.7, 0.048, (18.4, 65.2), 2.9),
    ("np18-25", "18650 power cell 2.5 Ah", "nickel_rich", "cylindrical", (1, 1), 2.5, 0.036, 8.0, 14.0, 0.045, (18.4, 65.2), 2.7),
    ("nt21-40", "21700 power cell 4.0 Ah, many tabs", "nickel_rich", "cylindrical", (1, 1), 4.0, 0.030, 11.0, 18.0, 0.071, (21.2, 70.3), 5.4),
    ("sv21-40", "21700 salvaged cell, sold as 4.8 Ah", "nickel_rich", "cylindrical", (1, 1), 4.0, 0.170, 1.6, 2.8, 0.069, (21.2, 70.3), 1.2),
    ("mb26-52", "26650 manganese blend 5.2 Ah", "manganese_blend", "cylindrical", (1, 1), 5.2, 0.100, 3.0, 6.0, 0.094, (26.3, 65.5), 4.2),
    ("fp26-33", "26650 iron phosphate 3.3 Ah", "iron_phosphate", "cylindrical", (1, 1), 3.3, 0.033, 5.0, 12.0, 0.086, (26.3, 65.5), 3.1),
    ("pc-5", "Pouch cell 5 Ah, high rate", "nickel_rich", "prismatic", (1, 1), 5.0, 0.014, 25.0, 50.0, 0.118, (142, 43, 7.8), 9.0),
    ("pc-60", "Pouch cell 60 Ah, energy", "nickel_rich", "prismatic", (1, 1), 60.0, 0.070, 2.0, 4.0, 0.93, (300, 100, 14), 55.0),
    ("pf-20", "Pouch cell iron phosphate 20 Ah", "iron_phosphate", "prismatic", (1, 1), 20.0, 0.040, 5.0, 15.0, 0.50, (227, 160, 7.3), 21.0),
    ("pr-50", "Prismatic iron phosphate 50 Ah", "iron_phosphate", "prismatic", (1, 1), 50.0, 0.045, 2.0, 3.0, 1.10, (148, 40, 98), 32.0),
    ("pr-105", "Prismatic iron phosphate 105 Ah", "iron_phosphate", "prismatic", (1, 1), 105.0, 0.035, 1.0, 2.0, 1.98, (130, 36, 200), 52.0),
    ("pn-50", "Prismatic nickel-rich 50 Ah", "nickel_rich", "prismatic", (1, 1), 50.0, 0.040, 3.0, 6.0, 0.86, (148, 27, 95), 48.0),
    ("mm-4s2p", "Vehicle module 4s2p 52 Ah", "nickel_rich", "module", (4, 2), 26.0, 0.042, 3.0, 8.0, 5.1, (300, 150, 68), 95.0),
    ("mm-6s1p", "Vehicle module 6s1p 50 Ah", "nickel_rich", "module", (6, 1), 50.0, 0.045, 3.0, 7.0, 6.3, (355, 152, 108), 130.0),
    ("mm-12s1p", "Vehicle module 12s1p 94 Ah", "nickel_rich", "module", (12, 1), 94.0, 0.055, 2.0, 5.0, 28.0, (440, 305, 130), 420.0),
    ("tp-5s2p", "Tool pack 18 V 5 Ah", "nickel_rich", "ready_made", (5, 2), 2.5, 0.048, 6.0, 9.0, 0.68, (118, 76, 62), 38.0),
    ("tp-10s2p", "Tool pack 36 V 5 Ah", "nickel_rich", "ready_made", (10, 2), 2.5, 0.048, 6.0, 9.0, 1.32, (150, 92, 82), 84.0),
    ("rp-13-20", "Ready-made pack 48 V 20 Ah", "nickel_rich", "ready_made", (13, 6), 3.35, 0.130, 1.6, 2.6, 5.4, (360, 90, 90), 310.0),
    ("rp-16-26", "Ready-made pack 60 V 26 Ah", "nickel_rich", "ready_made", (16, 8), 3.25, 0.125, 2.2, 3.6, 8.9, (300, 130, 165), 540.0),
    ("rp-26-40", "Ready-made pack 96 V 40 Ah", "nickel_rich", "ready_made", (26, 10), 4.0, 0.060, 4.5, 8.0, 24.5, (360, 185, 255), 1890.0),
    ("la-12-33", "12 V lead-acid block 33 Ah", "lead_acid", "block", (6, 1), 33.0, 0.050, 3.0, 8.0, 10.4, (196, 130, 168), 82.0),
]  # fmt: skip
SALVAGE = ("sv",)


def cells() -> list[Doc]:
    out = []
    for id, name, chemistry, form, inner, ah, ohm_ah, cont, peak, kg, size, price in CELLS:
        full, nominal, empty = VOLTS[chemistry]
        rough = 0.3 if id.startswith(SALVAGE) else 0.12
        doc: Doc = {
            "id": id,
            "name": name,
            "chemistry": chemistry,
            "form": form,
            "inner_series": inner[0],
            "inner_parallel": inner[1],
            "capacity_ah": guess(ah, 0.15 if id.startswith(SALVAGE) else 0.04),
            "r0_ohm": guess(ohm_ah / ah, rough + 0.08),
            "r1_ohm": guess(0.55 * ohm_ah / ah, 0.4),
            "tau_s": guess(20, 0.3),
            "i_cont_a": guess(cont * ah, rough),
            "i_peak_a": guess(peak * ah, rough),
            "i_charge_a": guess(ah * (0.2 if chemistry == "lead_acid" else 0.7), 0.2),
            "full_v": full,
            "nominal_v": nominal,
            "empty_v": empty,
            "mass_kg": guess(kg, 0.04),
            "heat_j_k": guess(J_PER_KG_K * kg, 0.15),
            "price_money": guess(price, 0.3),
            "source": "invented, scaled from typical cells of its class",
        }
        names = (
            ("diameter_m", "length_m") if len(size) == 2 else ("length_m", "width_m", "height_m")
        )
        for field, mm in zip(names, size, strict=True):
            doc[field] = guess(mm / 1000.0, 0.02)
        out.append(doc)
    return out


# ------------------------------------------------------------------------------------------------
# What breaks and joins the current, and tyres


def others() -> dict[str, list[Doc]]:
    made = "invented, typical of its class"
    isolators = [
        {"id": f"ct-{a}", "name": f"Sealed contactor {a} A" + ("" if both else ", one direction"), "kind": "contactor", "i_cont_a": label(a),
         "dc_v": label(volts), "breaking_a": label(4 * a), "both_ways": both, "coil_v": label(12), "coil_w": guess(watts), "rated_for": "DC",
         "suppression": "built in", "r_ohm": guess(0.04 / a, 0.4), "mass_kg": guess(kg),
         "price_money": guess(price, 0.3), "source": made}
        for a, volts, watts, kg, price, both in [(150, 300, 7, 0.4, 58, False), (300, 800, 11, 0.65, 112, True)]
    ] + [
        {"id": f"br-{a}", "name": f"DC breaker {a} A" + ("" if both else ", one direction"), "kind": "breaker",
         "i_cont_a": label(a), "dc_v": label(120), "breaking_a": label(1000), "both_ways": both, "rated_for": "DC", "r_ohm": guess(0.08 / a, 0.4), "mass_kg": guess(kg),
         "price_money": guess(price, 0.3), "source": made}
        for a, kg, price, both in [(63, 0.22, 19, True), (160, 0.36, 34, False), (200, 0.42, 41, True)]
    ]  # fmt: skip
    plugs = [
        {"id": id, "name": name, "i_cont_a": label(a), "i_peak_a": label(peak), "dc_v": label(v),
         "r_ohm": guess(0.05 / a, 0.4), "keyed": keyed, "mass_kg": guess(kg),
         "price_money": guess(price, 0.3), "source": made}
        for id, name, a, peak, v, keyed, kg, price in [
            ("pl-45", "Bullet plug 6 mm", 45, 90, 100, False, 0.02, 3),
            ("pl-90", "Blade plug 90 A, with a pre-mating contact", 90, 180, 150, True, 0.06, 9),
            ("pl-120k", "Flat-contact plug 120 A", 120, 240, 600, True, 0.11, 11),
            ("pl-250", "Locking plug 250 A, touch-proof", 250, 450, 800, True, 0.24, 46),
        ]
    ]  # fmt: skip
    tyres = [
        {"id": id, "name": f"{use} rear {code} {symbol}", "code": code, "speed_symbol": symbol,
         "load_index": index, "grip_mu": guess(mu, 0.15), "price_money": guess(price, 0.3), "source": made}
        for id, use, code, symbol, index, mu, price in [
            ("t18-100", "Enduro", "100/90-18", "M", 56, 0.85, 62),
            ("t19-70", "Light trail", "70/100-19", "M", 42, 0.8, 48),
            ("t17-70", "Light trail", "70/100-17", "M", 40, 0.8, 44),
            ("t17-120", "Street", "120/70ZR17", "W", 58, 1.1, 110),
            ("t17-150", "Supermoto", "150/60-17", "R", 66, 1.2, 125),
            ("t12-90", "Pit", "90/100-12", "F", 46, 0.85, 33),
            ("t18-140", "Hill climb", "140/80-18", "M", 70, 0.9, 96),
        ]
    ]  # fmt: skip
    brakes = [
        {"id": f"bd-{mm}{end[0]}", "name": f"{use} {end} disc {mm} mm", "kind": "disc", "presence": "fitted",
         "rotor_m": label(mm / 1000, 0.01), "rotor_kg": guess(ring(mm / 1000, thick), 0.2), "mass_kg": guess(kg),
         "price_money": guess(price, 0.3), "source": f"{made}; ring of {thick} mm steel, four fifths solid"}
        for use, end, mm, thick, kg, price in [
            ("Pit", "front", 160, 2.5, 0.7, 38), ("Light trail", "front", 203, 2.3, 0.8, 55),
            ("Light trail", "rear", 180, 2.3, 0.7, 48), ("Enduro", "front", 260, 3.0, 1.5, 140),
            ("Enduro", "rear", 220, 4.0, 1.4, 120), ("Motocross", "front", 270, 3.0, 1.6, 165),
            ("Supermoto", "front", 320, 5.0, 2.4, 290), ("Street", "front", 300, 4.5, 2.2, 190),
            ("Street", "rear", 240, 5.0, 1.7, 130),
        ]
    ]  # fmt: skip
    brakes += [
        {"id": f"dr-{mm}{end[0]}", "name": f"{use} {end} drum {mm} mm", "kind": "drum", "presence": "fitted",
         "rotor_m": label(mm / 1000, 0.01), "rotor_kg": guess(round(drum_kg(mm / 1000), 3), 0.3), "mass_kg": guess(kg),
         "price_money": guess(price, 0.3), "source": f"{made}; iron ring of 7 x 30 mm"}
        for use, end, mm, kg, price in [("Pit", "front", 84, 1.1, 22), ("Pit", "rear", 110, 1.4, 26),
                                        ("Light trail", "rear", 130, 2.0, 34)]
    ]  # fmt: skip
    springs = [
        {"id": id, "name": name, "rate_n_m": label(rate * 1000, 0.05), "travel_m": label(travel, 0.02),
         "leverage": guess(lever, 0.1), "mass_kg": guess(kg), "price_money": guess(price, 0.3), "source": made}
        for id, name, rate, travel, lever, kg, price in [
            ("fk-pit", "Pit fork, 5.5 N/mm both legs", 5.5, 0.16, 1.0, 4.5, 120),
            ("fk-trail", "Light trail fork, 7.0 N/mm both legs", 7.0, 0.20, 1.0, 5.5, 260),
            ("fk-enduro", "Enduro fork, 9.0 N/mm both legs", 9.0, 0.30, 1.0, 8.5, 620),
            ("fk-cross", "Motocross fork, 10 N/mm both legs", 10.0, 0.31, 1.0, 8.8, 780),
            ("fk-moto", "Supermoto fork, 11 N/mm both legs", 11.0, 0.26, 1.0, 9.0, 690),
            ("sk-pit", "Pit shock, 60 N/mm", 60, 0.15, 2.2, 2.0, 70),
            ("sk-trail", "Light trail shock, 80 N/mm", 80, 0.20, 2.5, 2.4, 190),
            ("sk-enduro", "Enduro shock, 52 N/mm", 52, 0.31, 2.6, 4.2, 430),
            ("sk-moto", "Supermoto shock, 62 N/mm", 62, 0.28, 2.6, 4.3, 460),
        ]
    ]  # fmt: skip
    return {
        "isolator": isolators,
        "plug": plugs,
        "tyre": tyres,
        "brake": brakes,
        "suspension": springs,
    }


def ring(diameter_m: float, thick_mm: float) -> float:
    """Mass of a rotor's ring: π (D - w) w t ρ, four fifths of it metal, 36 mm wide."""
    return round(math.pi * (diameter_m - 0.036) * 0.036 * thick_mm / 1000 * 7800 * 0.80, 3)


# ------------------------------------------------------------------------------------------------
# Sprockets: every tooth in front and each second one behind, of the chains that bikes of this size run.

THICK_M = {"420": 0.0058, "428": 0.0072, "520": 0.0058}


def sprockets() -> list[Doc]:
    out = []
    for chain, thick in THICK_M.items():
        least_f, most_f, least_r, most_r = TEETH[chain]
        fronts = [("front", n) for n in range(least_f, most_f + 1)]
        rears = [("rear", n) for n in range(least_r + least_r % 2, most_r + 1, 2)]
        for place, n in fronts + rears:
            r = pitch_radius(PITCH_M[chain], n)
            front = place == "front"
            kg = math.pi * thick * (7850 * (r**2 - 0.01**2) if front else 2700 * 0.42 * r**2)
            how = (
                "steel disc to its pitch circle less a 20 mm bore"
                if front
                else "aluminium disc to its pitch circle, 42 % solid"
            )
            out.append(
                {
                    "id": f"sp-{chain}-{place[0]}{n}",
                    "name": f"{place.capitalize()} sprocket {n} teeth, {chain}",
                    "teeth": n,
                    "chain": chain,
                    "place": place,
                    "mass_kg": guess(kg, 0.3),
                    "price_money": guess(9 + 0.5 * n if front else 18 + 0.35 * n, 0.4),
                    "source": f"invented, typical of its class; {how}",
                }
            )
    return out


def write(kind: str, made: list[Doc]) -> None:
    path = LIBRARY / f"{kind}.json"
    doc: Doc = {"kind": kind, "items": []}
    if path.exists():
        doc = json.loads(path.read_text(encoding="utf-8"))
    ours = {m["id"] for m in made}
    doc["items"] = [i for i in doc["items"] if i["id"] not in ours] + made
    path.write_text(json.dumps(doc, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")


if __name__ == "__main__":
    write("motor", motors())
    write("controller", controllers())
    write("cell", cells())
    write("sprocket", sprockets())
    for kind, made in others().items():
        write(kind, made)
