"""Drive: do motor and controller belong together, and to this pack?"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.back import motor_braking
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.hold import WARM_C, hold_s
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.ribbon import RibbonPart, ribbon_of
from ninebolt.core.bike.ride import assembled, pack_facts
from ninebolt.core.bike.running import AIR_C
from ninebolt.core.bolts.common import Result, figure, finite, nothing, term
from ninebolt.core.bolts.drive import checks, condition, held, label, numbers, regen
from ninebolt.core.bolts.drive.heat import HeatView, heat_view
from ninebolt.core.bolts.drive.stages import Stage, stages
from ninebolt.core.bolts.register import judge
from ninebolt.core.drive.constants import ke_ll_peak, kv_dc_bus, torque_nm
from ninebolt.core.finding import Figure
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.simulate.lines import LimitLine, Losses, limit_lines, losses
from ninebolt.core.simulate.regen import Braking
from ninebolt.core.simulate.steady import top_weakened
from ninebolt.core.simulate.thrust import back_emf_v
from ninebolt.units import RPM_PER_RAD_S

__all__ = ["DriveDrawing", "assess", "checks", "condition", "held", "label", "numbers", "regen"]


@dataclass(frozen=True, slots=True)
class DriveDrawing:
    """Thrust over road speed with the choke ribbon; currents and bus volts along it. held_n:
    once the cells have settled; where it meets the road load the bike tops out."""

    speed_m_s: list[float]
    thrust_n: list[float]
    held_n: list[float]
    load_n: list[float]
    power_w: list[float]
    line_a: list[float]
    phase_a: list[float]
    bus_v: list[float]
    ribbon: tuple[RibbonPart, ...]
    top_speed_m_s: float
    limits: tuple[tuple[str, float], ...]
    lines: tuple[LimitLine, ...]
    losses: Losses
    braking: Braking | None
    heat: HeatView | None
    stages: tuple[Stage, ...]


def assess(bike: Bike) -> Result:
    perf = performance_of(bike)
    if perf is None:
        return Result((), judge("drive", bike), assembled(bike).missing, nothing)
    return Result(_figures(bike, perf), judge("drive", bike), (), drawing)


@fact
def drawing(bike: Bike) -> DriveDrawing | None:
    perf = performance_of(bike)
    if perf is None:
        return None
    e = perf.envelope
    limits = tuple((x.choke, x.amps) for x in perf.case.limits if math.isfinite(x.amps))
    return DriveDrawing(
        e.speed_m_s,
        e.thrust_n,
        perf.held.thrust_n,
        e.load_n,
        e.power_w,
        e.line_a,
        e.phase_a,
        e.bus_v,
        ribbon_of(e.speed_m_s, e.choke),
        perf.top.speed_m_s,
        limits,
        limit_lines(perf.case, e.speed_m_s),
        losses(perf.case, e.speed_m_s),
        motor_braking(bike),
        heat_view(bike),
        stages(bike),
    )


def _figures(bike: Bike, perf: Performance) -> tuple[Figure, ...]:
    build = bike.build
    c, m = build.drive.controller, build.drive.motor
    kv = kv_dc_bus(m.kv_rpm_v.taken, m.kv_convention)
    iq = perf.case.phase_a
    facts = pack_facts(bike)
    rpm = perf.top.speed_m_s * perf.case.ratio / perf.case.radius_m * RPM_PER_RAD_S
    return (
        figure(
            "peak_wheel",
            "Peak power at the wheel",
            perf.headline.peak_wheel_w,
            "w",
            "largest thrust x speed over the speeds",
        ),
        figure(
            "torque",
            "Motor torque at full phase amps",
            torque_nm(kv, iq),
            "nm",
            "(√3/2) ke iq, before saturation and drag",
            term("ke", "Back-EMF, line to line peak per rad/s", ke_ll_peak(kv), "ratio"),
            term("iq", "Phase amps, peak", iq, "a", "drive.controller.phase_a"),
        ),
        figure(
            "hold_cold",
            "Full phase amps held, from cold",
            finite(hold_s(perf.case, AIR_C)),
            "s",
            "two nodes, 1.5 R iq² growing with the winding, until its limit; – is for good or not known",
            term("iq", "Phase amps, peak", iq, "a", "drive.controller.phase_a"),
            term(
                "T",
                "Highest winding temperature",
                m.temp_max_c.taken,
                "c",
                "drive.motor.temp_max_c",
            ),
        ),
        figure(
            "hold_warm",
            "The same, from warm",
            finite(hold_s(perf.case, WARM_C)),
            "s",
            "as before, winding and case at the start temperature",
            term("T0", "Winding and case at the start", WARM_C, "c"),
        ),
        figure(
            "launch",
            "Thrust from rest",
            perf.envelope.thrust_n[0],
            "n",
            "torque x ratio x η / radius, held to grip and wheelie",
            term("i", "Ratio", perf.case.ratio, "ratio"),
            term("r", "Rolling radius", perf.case.radius_m, "m", "gear.tyre.rolling_radius_m"),
        ),
        figure(
            "no_load",
            "No-load speed at full pack",
            kv * facts.full_v if facts else None,
            "rpm",
            "KV x full volts",
            term("KV", "Motor constant", kv, "rpm_v", "drive.motor.kv_rpm_v"),
            term("V", "Full pack", facts.full_v if facts else None, "v"),
        ),
        figure(
            "no_load_speed",
            "Speed at that, no load",
            kv * facts.full_v / RPM_PER_RAD_S / perf.case.ratio * perf.case.radius_m
            if facts
            else None,
            "m_s",
            "2π r n / ratio",
            term("r", "Rolling radius", perf.case.radius_m, "m"),
            term("i", "Ratio", perf.case.ratio, "ratio"),
        ),
        figure(
            "weakening_m_s",
            "Top speed gained by weakening",
            perf.top.speed_m_s - top_weakened(perf.case, 0.0) if c.fw_id_a.taken else 0.0,
            "m_s",
            "top speed with it less the one without",
            term("id", "Field-weakening current", c.fw_id_a.taken, "a", "drive.controller.fw_id_a"),
        ),
        figure("rpm_top", "Motor speed at top speed", rpm, "rpm", "v ratio / radius"),
        figure(
            "erpm",
            "Electrical rpm at top speed",
            rpm * (m.pole_pairs or 0),
            "rpm",
            "motor rpm x pole pairs",
        ),
        figure(
            "emf_top",
            "Back-EMF at top speed",
            back_emf_v(perf.case, perf.top.speed_m_s),
            "v",
            "rpm / KV, line to line peak",
            term("rpm", "Motor speed", rpm, "rpm"),
            term("KV", "Motor constant", kv, "rpm_v"),
        ),
        figure(
            "line_peak",
            "Most line amps drawn",
            max(perf.envelope.line_a),
            "a",
            "along the envelope",
            term("set", "Setting", c.line_a.amount, "a", "drive.controller.line_a"),
        ),
    )
