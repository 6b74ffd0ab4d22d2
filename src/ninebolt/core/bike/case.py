"""From a build to the numbers of a run: derived values, assumptions, what is missing."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

from ninebolt.core.bike.cells import (
    cell_ah,
    cell_curve,
    cell_peak_a,
    cell_peukert,
    cell_r0_ohm,
    joints_ohm,
    warm_share,
)
from ninebolt.core.bike.gearing import gear_ratio, wheel_radius_m
from ninebolt.core.bike.mass import total_kg
from ninebolt.core.bike.path import (
    bms_peak_a,
    floor_v,
    held_limits,
    lead_ohm,
    line_setting_a,
    path_ohm,
    phase_setting_a,
    plug_peak_a,
)
from ninebolt.core.build import Build
from ninebolt.core.drive.constants import flux_linkage, kv_dc_bus
from ninebolt.core.drive.point import Machine
from ninebolt.core.parts.drive import Motor
from ninebolt.core.parts.goal import ground_crr
from ninebolt.core.simulate.case import LineLimit, RunCase, Thermal
from ninebolt.core.vehicle.road import Body


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
    kv = kv_dc_bus(m.kv_rpm_v.taken, m.kv_convention)
    ld = m.l_phase_henry.taken
    knee = m.knee_a.amount
    return Machine(
        pole_pairs=m.pole_pairs,
        flux_vs=flux_linkage(kv, m.pole_pairs),
        r_ohm=m.r_phase_ohm.taken,
        ld_h=ld,
        lq_h=m.lq_henry.or_else(ld),
        knee_a=math.inf if knee is None else knee,
        modulation=c.modulation.taken,
        r_switch_ohm=c.r_switch_ohm.taken + lead_ohm(build.guard),
        fixed_w=c.fixed_w.taken,
        fw_a=c.fw_id_a.taken,
    )


def _thermal(motor: Motor) -> Thermal | None:
    parts = (motor.winding_case_k_w, motor.case_air_k_w, motor.winding_j_k, motor.case_j_k)
    if not all(v.known for v in parts):
        return None
    a, b, c, d = (v.or_else(0.0) for v in parts)
    return Thermal(a, b, c, d, motor.temp_max_c.taken)


def _body(build: Build, mass: float, ratio: float, radius: float) -> Body:
    road = build.road
    rotor = build.drive.motor.rotor_kg_m2.taken * ratio**2
    height = road.cg_height_m.taken
    return Body(
        mass_kg=mass,
        rotating_kg=(build.gear.wheel_kg_m2.taken + rotor) / radius**2,
        cda_m2=road.cda_m2.taken,
        crr=ground_crr(road.crr, build.goal),
        air_kg_m3=road.air_kg_m3.taken,
        grade_pct=road.grade_pct.taken,
        cg_height_m=height,
        wheelbase_m=road.wheelbase_m.taken,
        front_share=road.front_share.taken,
        grip_mu=build.gear.tyre.grip_mu.taken,
        drag_height_m=road.drag_height_m.or_else(height),
        wind_m_s=road.wind_m_s.taken,
    )


def _case(build: Build, ratio: float, radius: float, mass: float, phase: float) -> RunCase:
    p, g = build.pack, build.guard
    assert p.series is not None and p.parallel is not None
    limits = (
        LineLimit("line", line_setting_a(build.drive.controller)),
        LineLimit("cells", cell_peak_a(p.cell) * p.parallel * warm_share(p)),
        LineLimit("BMS", bms_peak_a(g)),
        LineLimit("path", plug_peak_a(g)),
    )
    return RunCase(
        held=tuple(LineLimit(*row) for row in held_limits(g)),
        ocv=cell_curve(p.cell),
        series=p.series,
        parallel=p.parallel,
        capacity_ah=cell_ah(p) or math.nan,
        r0_ohm=cell_r0_ohm(p),
        r1_ohm=p.cell.r1_ohm.taken,
        tau_s=p.cell.tau_s.taken,
        interconnect_ohm=joints_ohm(p),
        path_ohm=path_ohm(g),
        start_soc=p.start_soc.taken,
        floor_v=floor_v(build),
        limits=limits,
        machine=_machine(build),
        phase_a=phase,
        body=_body(build, mass, ratio, radius),
        ratio=ratio,
        radius_m=radius,
        efficiency=build.gear.efficiency.taken,
        drag_nm=build.drive.motor.drag_nm.taken,
        drag_nm_s_rad=build.drive.motor.drag_nm_s_rad.taken,
        ramp_s=build.drive.controller.ramp_s.taken,
        thermal=_thermal(build.drive.motor),
        start_temp_c=build.drive.motor.start_c.taken,
        peukert=cell_peukert(p.cell),
        cap_m_s=build.tune.cap_m_s.or_else(math.inf),
    )


def with_mass(case: RunCase, mass_kg: float) -> RunCase:
    """The same case at another mass."""
    return dataclasses.replace(case, body=dataclasses.replace(case.body, mass_kg=mass_kg))
