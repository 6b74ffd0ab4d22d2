"""From a Build to the numbers of a run: derived values, assumptions, what is missing."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

from ninebolt.core.battery.ocv import EMPTY_V, FULL_V, NOMINAL_V, Curve, curve_for
from ninebolt.core.battery.temperature import current_share, resistance_factor
from ninebolt.core.build import Build
from ninebolt.core.codec import fields_of
from ninebolt.core.drive.constants import amps_peak, flux_linkage, kv_dc_bus
from ninebolt.core.drive.point import Machine
from ninebolt.core.guard.conductors import continuous_amps, copper_ohm
from ninebolt.core.parts.cell import Cell
from ninebolt.core.parts.drive import Controller, Motor
from ninebolt.core.parts.goal import Goal
from ninebolt.core.parts.guard import Cable, Charger, Guard
from ninebolt.core.parts.pack import Pack
from ninebolt.core.simulate.case import LineLimit, RunCase, Thermal
from ninebolt.core.value import FieldSpec, Value
from ninebolt.core.vehicle.road import Body
from ninebolt.core.vehicle.tyre import rolling_radius

FUSE_RUN_FACTOR = 2.0  # a fuse holds twice its rating for some seconds. Common practice, no source.


def spec_of(cls: type, name: str) -> FieldSpec:
    """The field's spec; every field of a part has one."""
    spec = fields_of(cls)[name][0]
    assert spec is not None, f"{cls.__name__}.{name} has no spec"
    return spec


def take(obj: object, name: str) -> float:
    """The known amount, else the field's stated assumption, else nan."""
    value: Value = getattr(obj, name)
    if value.amount is not None:
        return value.amount
    assume = spec_of(_real_class(obj), name).assume
    return math.nan if assume is None else assume


def take_or(obj: object, name: str, default: float) -> float:
    got = take(obj, name)
    return default if math.isnan(got) else got


def _real_class(obj: object) -> type:
    inner = getattr(obj, "_obj", obj)  # a traced part stands for the real one
    return type(inner)


def cell_curve(cell: Cell) -> Curve:
    return curve_for(cell.chemistry, cell.ocv)


def cell_full_v(cell: Cell) -> float:
    return cell.full_v.or_else(FULL_V.get(cell.chemistry, math.nan))


def cell_nominal_v(cell: Cell) -> float:
    return cell.nominal_v.or_else(NOMINAL_V.get(cell.chemistry, math.nan))


def cell_empty_v(cell: Cell) -> float:
    return cell.empty_v.or_else(EMPTY_V.get(cell.chemistry, math.nan))


def cell_peak_a(cell: Cell) -> float:
    """Peak current of one cell, else its continuous, else inf."""
    return cell.i_peak_a.or_else(cell.i_cont_a.or_else(math.inf))


def cell_r0_ohm(pack: Pack) -> float:
    """Ohmic resistance of one cell at the pack's temperature; nan if unknown."""
    return take(pack.cell, "r0_ohm") * resistance_factor(take(pack, "temp_c"))


def warm_share(pack: Pack) -> float:
    """Share of their rated current that the cells may give at the pack's temperature."""
    return current_share(take(pack, "temp_c"), take(pack.cell, "temp_max_c"))


def charger_v(charger: Charger) -> float:
    """End voltage of the charger, stacked supplies added up; nan if unknown."""
    return charger.out_v.or_else(math.nan) * (charger.stacked or 1)


def coil_load_w(build: Build, *feeds: str) -> float:
    """Holding power of the contactor's coil if it is fed from one of these; else 0."""
    iso = build.guard.isolator
    return iso.coil_w.or_else(0.0) if iso.kind == "contactor" and iso.coil_feed in feeds else 0.0


def converter_load_w(build: Build) -> float:
    """Mean power that the step-down converter gives: the listed loads with their duty, else the one
    number given; and the contactor's coil if it hangs on it."""
    dcdc = build.guard.dcdc
    coil = coil_load_w(build, "converter")
    if dcdc.loads:
        return coil + sum(x.power_w.or_else(0.0) * take(x, "duty") for x in dcdc.loads)
    return coil + dcdc.load_w.or_else(0.0)


def aux_load_w(build: Build) -> float:
    """Mean power that the pack gives beside the drive: converter, and a coil on the pack."""
    return converter_load_w(build) + coil_load_w(build, "pack")


def cable_ohm(cable: Cable) -> float:
    """Both conductors at 20 °C; 0 while section or length is unknown."""
    if cable.section_m2.amount is None or cable.length_m.amount is None:
        return 0.0
    return copper_ohm(cable.section_m2.amount, 2.0 * cable.length_m.amount)


def cable_cont_a(cable: Cable) -> float:
    """Current that takes the cable up to its insulation limit; inf if unknown."""
    if cable.section_m2.amount is None:
        return math.inf
    ambient = take(cable, "ambient_c")
    rise = max(take(cable, "temp_max_c") - ambient, 1.0)
    return continuous_amps(cable.section_m2.amount, rise, ambient)


def path_ohm(guard: Guard) -> float:
    """Resistance between the pack's terminals and the controller, of the parts that are there.

    A part that says nothing about itself adds nothing; one with a rating adds its own or the
    assumed resistance.
    """
    total = cable_ohm(guard.cable)
    if guard.bms.discharge == "through" and guard.bms.i_cont_a.known:
        total += take(guard.bms, "r_ohm")
    if guard.fuse.rated_a.known:
        total += take(guard.fuse, "r_ohm")
    if guard.isolator.i_cont_a.known:
        total += take(guard.isolator, "r_ohm")
    if guard.plug.i_cont_a.known or guard.plug.i_peak_a.known:
        total += take(guard.plug, "r_ohm")
    return total


def bms_peak_a(guard: Guard) -> float:
    """Current at which the BMS opens at once; inf when bypassed or unknown."""
    if guard.bms.discharge == "bypassed":
        return math.inf
    return guard.bms.i_peak_a.or_else(guard.bms.i_cont_a.or_else(math.inf))


def path_peak_a(guard: Guard) -> float:
    """Short-time limit of fuse and plug."""
    fuse = guard.fuse.rated_a.amount
    plug = guard.plug.i_peak_a.or_else(guard.plug.i_cont_a.or_else(math.inf))
    return min(plug, math.inf if fuse is None else fuse * FUSE_RUN_FACTOR)


def line_setting_a(controller: Controller) -> float:
    """Line amps in force: the setting, held to the rating."""
    return min(controller.line_a.or_else(math.inf), controller.line_max_a.or_else(math.inf))


def phase_setting_a(controller: Controller, motor: Motor) -> float:
    """Peak phase amps in force: setting or rating of the controller, else the motor's limit."""
    ratings = [v.amount for v in (controller.phase_a, controller.phase_max_a) if v.amount]
    if ratings:
        return amps_peak(min(ratings), controller.amp_basis)
    return amps_peak(motor.phase_max_a.or_else(math.nan), motor.amp_basis)


def moved_kg(build: Build) -> float:
    """Bike without rider: donor, less what came off, plus what went on, pack included."""
    total = build.donor.mass_kg.or_else(math.nan)
    for item in build.donor.items:
        sign = 1.0 if item.action == "added" else -1.0
        total += sign * item.mass_kg.or_else(0.0)
    return total + fitted_kg(build) + build.donor.correction_kg.or_else(0.0)


def fitted_parts(build: Build) -> tuple[tuple[str, str, float], ...]:
    """(path, label, kg) of parts whose mass the build knows: they join the ledger by themselves."""
    out = [("pack", "Pack", pack_kg(build))]
    g, d = build.guard, build.drive
    for path, label, thing in (
        ("drive.motor", "Motor", d.motor),
        ("drive.controller", "Controller", d.controller),
        ("guard.bms", "BMS", g.bms),
        ("guard.fuse", "Fuse", g.fuse),
        ("guard.isolator", "Isolator", g.isolator),
        ("guard.plug", "Main plug", g.plug),
        ("guard.cable", "Battery cable", g.cable),
        ("guard.phase_cable", "Phase leads", g.phase_cable),
        ("guard.precharge", "Precharge", g.precharge),
        ("guard.dcdc", "Step-down converter", g.dcdc),
        ("gear", "Sprockets and chain", build.gear),
    ):
        out.append((path, label, thing.mass_kg.or_else(0.0)))
    return tuple(row for row in out if row[2] > 0.0)


def fitted_kg(build: Build) -> float:
    return sum(row[2] for row in fitted_parts(build))


def pack_kg(build: Build) -> float:
    """Cells and case (kg); 0 while the cells are unknown."""
    p = build.pack
    if p.series is None or p.parallel is None or p.cell.mass_kg.amount is None:
        return 0.0
    bodies = p.series * p.parallel / (p.cell.body_series * p.cell.body_parallel)
    return bodies * p.cell.mass_kg.amount + take(p, "case_kg")


def rider_kg(goal: Goal) -> float:
    return take(goal, "rider_kg") + take(goal, "gear_kg")


def total_kg(build: Build) -> float:
    given = build.road.total_kg.amount
    return given if given is not None else moved_kg(build) + rider_kg(build.goal)


def gear_ratio(build: Build) -> float:
    """Motor turns per wheel turn; nan if unknown. A hub motor without teeth: its reduction."""
    gear = build.gear
    if gear.ratio.amount is not None:
        return gear.ratio.amount
    if gear.front_teeth is not None and gear.rear_teeth is not None:
        return take(gear, "reduction") * gear.rear_teeth / gear.front_teeth
    return take(gear, "reduction") if build.drive.motor.kind == "hub" else math.nan


def wheel_radius_m(build: Build) -> float:
    tyre = build.gear.tyre
    if tyre.rolling_radius_m.amount is not None:
        return tyre.rolling_radius_m.amount
    return rolling_radius(tyre.code) or math.nan


def floor_v(build: Build) -> float:
    """Voltage the pack is not drawn below: the pack's own floor, else the controller's cut-off."""
    return build.pack.floor_v.or_else(build.drive.controller.lvc_v.or_else(0.0))


@dataclass(frozen=True, slots=True)
class Assembled:
    """case is None while something that cannot be assumed is missing; missing holds the paths."""

    case: RunCase | None
    missing: tuple[str, ...]


def assemble(build: Build) -> Assembled:
    """Collect the run's numbers from the build."""
    p, c, m = build.pack, build.drive.controller, build.drive.motor
    ratio, radius = gear_ratio(build), wheel_radius_m(build)
    mass, phase = total_kg(build), phase_setting_a(c, m)
    missing = [
        path
        for path, gone in (
            ("pack.series", p.series is None),
            ("pack.parallel", p.parallel is None),
            ("pack.cell.capacity_ah", not p.cell.capacity_ah.known),
            ("pack.cell.r0_ohm", not p.cell.r0_ohm.known),
            ("pack.cell.ocv", not cell_curve(p.cell)),
            ("drive.motor.kv_rpm_v", not m.kv_rpm_v.known),
            ("drive.motor.pole_pairs", m.pole_pairs is None),
            ("drive.motor.r_phase_ohm", not m.r_phase_ohm.known),
            ("drive.motor.l_phase_henry", not m.l_phase_henry.known),
            ("drive.controller.phase_a", math.isnan(phase)),
            ("gear.rear_teeth", math.isnan(ratio)),
            ("gear.tyre.code", math.isnan(radius)),
            ("donor.mass_kg", math.isnan(mass)),
        )
        if gone
    ]
    if missing:
        return Assembled(None, tuple(missing))
    return Assembled(_case(build, ratio, radius, mass, phase), ())


def _machine(build: Build) -> Machine:
    c, m = build.drive.controller, build.drive.motor
    assert m.pole_pairs is not None
    kv = kv_dc_bus(take(m, "kv_rpm_v"), m.kv_convention)
    ld = take(m, "l_phase_henry")
    knee = m.knee_a.amount
    return Machine(
        pole_pairs=m.pole_pairs,
        flux_vs=flux_linkage(kv, m.pole_pairs),
        r_ohm=take(m, "r_phase_ohm"),
        ld_h=ld,
        lq_h=m.lq_henry.or_else(ld),
        knee_a=math.inf if knee is None else knee,
        modulation=take(c, "modulation"),
        r_switch_ohm=take(c, "r_switch_ohm"),
        fixed_w=take(c, "fixed_w"),
        fw_a=take(c, "fw_id_a"),
    )


def _thermal(motor: Motor) -> Thermal | None:
    parts = (motor.winding_case_k_w, motor.case_air_k_w, motor.winding_j_k, motor.case_j_k)
    if not all(v.known for v in parts):
        return None
    a, b, c, d = (v.or_else(0.0) for v in parts)
    return Thermal(a, b, c, d, take(motor, "temp_max_c"))


def _body(build: Build, mass: float, ratio: float, radius: float) -> Body:
    road = build.road
    rotor = take(build.drive.motor, "rotor_kg_m2") * ratio**2
    height = take(road, "cg_height_m")
    return Body(
        mass_kg=mass,
        rotating_kg=(take(build.gear, "wheel_kg_m2") + rotor) / radius**2,
        cda_m2=take(road, "cda_m2"),
        crr=take(road, "crr"),
        air_kg_m3=take(road, "air_kg_m3"),
        grade_pct=take(road, "grade_pct"),
        cg_height_m=height,
        wheelbase_m=take(road, "wheelbase_m"),
        front_share=take(road, "front_share"),
        grip_mu=take(build.gear.tyre, "grip_mu"),
        drag_height_m=road.drag_height_m.or_else(height),
    )


def _case(build: Build, ratio: float, radius: float, mass: float, phase: float) -> RunCase:
    p, g = build.pack, build.guard
    assert p.series is not None and p.parallel is not None
    limits = (
        LineLimit("line", line_setting_a(build.drive.controller)),
        LineLimit("cells", cell_peak_a(p.cell) * p.parallel * warm_share(p)),
        LineLimit("BMS", bms_peak_a(g)),
        LineLimit("path", path_peak_a(g)),
    )
    return RunCase(
        ocv=cell_curve(p.cell),
        series=p.series,
        parallel=p.parallel,
        capacity_ah=take(p.cell, "capacity_ah"),
        r0_ohm=cell_r0_ohm(p),
        r1_ohm=take(p.cell, "r1_ohm"),
        tau_s=take(p.cell, "tau_s"),
        interconnect_ohm=take(p, "interconnect_ohm"),
        path_ohm=path_ohm(g),
        start_soc=take(p, "start_soc"),
        floor_v=floor_v(build),
        limits=limits,
        machine=_machine(build),
        phase_a=phase,
        body=_body(build, mass, ratio, radius),
        ratio=ratio,
        radius_m=radius,
        efficiency=take(build.gear, "efficiency"),
        drag_nm=take(build.drive.motor, "drag_nm"),
        drag_nm_s_rad=take(build.drive.motor, "drag_nm_s_rad"),
        ramp_s=take(build.drive.controller, "ramp_s"),
        thermal=_thermal(build.drive.motor),
    )


def with_mass(case: RunCase, mass_kg: float) -> RunCase:
    """The same case at another mass."""
    return dataclasses.replace(case, body=dataclasses.replace(case.body, mass_kg=mass_kg))
