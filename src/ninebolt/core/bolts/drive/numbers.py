"""Drive's findings on numbers that cannot be so: unlike any motor or controller, or against each other."""

from __future__ import annotations

from collections.abc import Iterator

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.drive.limits import PHASE_SLACK, PHASE_STOP
from ninebolt.core.bolts.order import Row, order_says
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.bolts.usual import Usual, over, span, unusual_says
from ninebolt.core.drive.constants import amps_peak, kv_dc_bus
from ninebolt.core.finding import BUILD, Fix, q, setting
from ninebolt.core.value import UNKNOWN, Value

KV = span("rpm_v", 3.0, 500.0, "KV of a motor that moves a bike")
R_PHASE = span("ohm", 0.0005, 0.6, "resistance of a phase")
L_PHASE = span("henry", 2e-6, 5e-3, "inductance of a phase")
ROTOR = span("kg_m2", 5e-5, 0.5, "inertia of a rotor, a hub motor's with its shell")
MOTOR_KG = span("kg", 1.0, 80.0, "mass of a motor that moves a bike")
MOTOR_C = span("c", 80.0, 220.0, "highest temperature of a winding")
PER_KG = span("ratio", 40.0, 12_000.0, "watts of the label over kilograms")
SWITCH = span("ohm", 0.0001, 0.03, "resistance of a controller's switches, one phase")
MODULATION = span("ratio", 0.7, 1.16, "share of the bus that a controller puts out")
MOTOR_J_KG_K = span("ratio", 250.0, 900.0, "J/(kg K) of copper, iron and aluminium together")
BOX_J_KG_K = span("ratio", 250.0, 1000.0, "J/(kg K) of a controller")
WINDING_K_W = span("k_w", 0.004, 0.6, "winding to case")
CASE_K_W = span("k_w", 0.02, 1.5, "case to air or coolant")
BOX_K_W = span("k_w", 0.05, 2.5, "a controller to air or coolant")
DRAG = span("nm", 0.0, 5.0, "drag of a motor that turns slowly")
DRAG_MORE = span("nm_s_rad", 0.0, 0.06, "what its drag grows by with speed")
PHASE_A = span("a", 10.0, 2000.0, "phase amps of a bike")
LINE_A = span("a", 5.0, 1000.0, "line amps of a bike")
CEILING = span("v", 20.0, 450.0, "volts that a bike's controller stands")
BUS_FARAD = span("farad", 5e-5, 0.02, "capacitors of a controller")
ERPM = span("rpm", 3000.0, 250_000.0, "electrical rpm that a controller follows")
CONT, PEAK = "continuous", "for a while"


@check(
    "drive.usual",
    "a number of motor or controller is unlike any",
    parts=("drive.motor", "drive.controller"),
)
def usual(bike: Bike) -> Iterator[Says]:
    m, c = bike.build.drive.motor, bike.build.drive.controller
    kv = m.kv_rpm_v
    if kv.amount is not None:
        kv = Value(kv_dc_bus(kv.amount, m.kv_convention), kv.origin, kv.tolerance)
    rows = [
        Usual("kv_rpm_v", "The motor's KV", kv, *KV),
        Usual("r_phase_ohm", "The motor's phase resistance", m.r_phase_ohm, *R_PHASE),
        Usual("l_phase_henry", "The motor's phase inductance", m.l_phase_henry, *L_PHASE),
        Usual("rotor_kg_m2", "The motor's inertia", m.rotor_kg_m2, *ROTOR),
        Usual("temp_max_c", "The winding's highest temperature", m.temp_max_c, *MOTOR_C),
        Usual("mass_kg", "The motor's mass", m.mass_kg, *MOTOR_KG),
        Usual("r_switch_ohm", "The controller's switch resistance", c.r_switch_ohm, *SWITCH),
        Usual("modulation", "The controller's modulation limit", c.modulation, *MODULATION),
    ]
    rows += [
        Usual(
            "winding_case_k_w", "The motor's winding to its case", m.winding_case_k_w, *WINDING_K_W
        ),
        Usual("case_air_k_w", "The motor's case to the air", m.case_air_k_w, *CASE_K_W),
        Usual("drag_nm", "The motor's drag", m.drag_nm, *DRAG),
        Usual("drag_nm_s_rad", "The rise of the motor's drag", m.drag_nm_s_rad, *DRAG_MORE),
        Usual("phase_max_a", "The motor's phase amps", m.phase_max_a, *PHASE_A),
        Usual("v_max_v", "The volts that the controller stands", c.v_max_v, *CEILING),
        Usual("line_max_a", "The controller's line amps", c.line_max_a, *LINE_A),
        Usual("box_phase_a", "The controller's phase amps", c.phase_max_a, *PHASE_A),
        Usual("c_bus_farad", "The controller's capacitors", c.c_bus_farad, *BUS_FARAD),
        Usual("erpm_max_rpm", "The controller's electrical rpm", c.erpm_max_rpm, *ERPM),
        Usual("heat_k_w", "The controller's way to the air", c.heat_k_w, *BOX_K_W),
    ]
    winding, case = m.winding_j_k.amount, m.case_j_k.amount
    heat = UNKNOWN if winding is None or case is None else Value(winding + case)
    rows += [
        Usual("label_w", "Watts per kilogram of the motor", over(m.label_w, m.mass_kg), *PER_KG),
        Usual(
            "heat_j_k",
            "Heat capacity per kilogram of the motor",
            over(heat, m.mass_kg),
            *MOTOR_J_KG_K,
        ),
        Usual(
            "box_heat_j_k",
            "Heat capacity per kilogram of the controller",
            over(c.heat_j_k, c.mass_kg),
            *BOX_J_KG_K,
        ),
    ]
    return unusual_says(rows)


@check(
    "drive.order",
    "numbers of motor or controller stand the wrong way round",
    parts=("drive.motor", "drive.controller"),
)
def order(bike: Bike) -> Iterator[Says]:
    m, c = bike.build.drive.motor, bike.build.drive.controller
    parts = (
        ("motor", "motor", (Row("a", ((CONT, m.phase_cont_a), (PEAK, m.phase_max_a))),)),
        ("controller", "controller", (Row("v", (("works from", c.v_min_v), ("stands", c.v_max_v)), level=False),)),
    )  # fmt: skip
    for key, name, rows in parts:
        said = order_says(name, rows, key)
        if said:
            yield said


@check("drive.swapped", "fewer phase amps are set than line amps", parts=("drive.controller",))
def swapped(bike: Bike) -> Says | None:
    c = bike.build.drive.controller
    line, phase = c.line_a.amount, c.phase_a.amount
    if line is None or phase is None:
        return None
    peak = amps_peak(phase, c.amp_basis)
    if peak >= line:
        return None
    return Says(
        "caution",
        "Fewer phase amps are set than line amps",
        f"{q(peak, 'a')} peak into the motor, {q(line, 'a')} out of the pack. Below full voltage the motor gets "
        "more amps than the pack gives, so the line amps are never reached: they may have been taken for each other.",
        peak,
        line,
        "a",
    )


@check(
    "drive.phase_rating",
    "phase amps are set above the controller's rating",
    parts=("drive.controller",),
    source=BUILD,
)
def phase_rating(bike: Bike) -> Says | None:
    c = bike.build.drive.controller
    asked, rating = c.phase_a.amount, c.phase_max_a.amount
    if asked is None or rating is None or asked <= rating * PHASE_SLACK:
        return None
    far = asked > PHASE_STOP * rating
    return Says(
        "stop" if far else "caution",
        "Phase amps are set above the controller's rating",
        f"{q(asked, 'a')} against {q(rating, 'a')}: most firmware holds it to its own limit, and so it is reckoned; "
        "one that does not fails short, with the throttle open.",
        asked,
        PHASE_STOP * rating if far else rating,
        "a",
        fixes=(Fix(f"Set {rating:.0f} A", (setting("drive.controller.phase_a", rating),)),),
    )
