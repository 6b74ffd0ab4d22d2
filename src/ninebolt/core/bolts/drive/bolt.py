"""Drive: do motor and controller belong together, and to this pack?"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.cells import facts_of
from ninebolt.core.bike.path import phase_setting_a, used_down_to_v
from ninebolt.core.bike.ribbon import RibbonPart, ribbon_of
from ninebolt.core.bolts.common import Context, Notes, Result, figure, term
from ninebolt.core.build import Build
from ninebolt.core.drive.constants import amps_peak, ke_ll_peak, kv_dc_bus, torque_nm
from ninebolt.core.finding import BUILD, PRACTICE, Change, Figure, Fix, Source, q, setting
from ninebolt.core.simulate.headline import Performance
from ninebolt.units import RPM_PER_RAD_S


@dataclass(frozen=True, slots=True)
class DriveDrawing:
    """Thrust over road speed with the choke ribbon; currents and bus volts along it."""

    speed_m_s: list[float]
    thrust_n: list[float]
    load_n: list[float]
    power_w: list[float]
    line_a: list[float]
    phase_a: list[float]
    bus_v: list[float]
    ribbon: tuple[RibbonPart, ...]
    top_speed_m_s: float
    limits: tuple[tuple[str, float], ...]


def assess(build: Build, context: Context) -> Result:
    notes = Notes("drive")
    made, perf = context.look(build)
    _judge_ratings(build, notes, perf)
    if perf is None:
        return Result((), notes.done(), made.missing, None)
    _judge_moving(build, notes, perf)
    e = perf.envelope
    limits = tuple((x.choke, x.amps) for x in perf.case.limits if math.isfinite(x.amps))
    drawing = DriveDrawing(
        e.speed_m_s,
        e.thrust_n,
        e.load_n,
        e.power_w,
        e.line_a,
        e.phase_a,
        e.bus_v,
        ribbon_of(e.speed_m_s, e.choke),
        perf.top.speed_m_s,
        limits,
    )
    return Result(_figures(build, perf), notes.done(), (), drawing)


def _figures(build: Build, perf: Performance) -> tuple[Figure, ...]:
    c, m = build.drive.controller, build.drive.motor
    kv = kv_dc_bus(m.kv_rpm_v.taken, m.kv_convention)
    iq = perf.case.phase_a
    facts = facts_of(build.pack)
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
            rpm / kv,
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


def _judge_ratings(build: Build, notes: Notes, perf: Performance | None) -> None:
    c, m = build.drive.controller, build.drive.motor
    facts = facts_of(build.pack)
    top_v = c.v_max_v.amount
    if facts and top_v is not None and facts.full_v > top_v:
        most = int(top_v / (facts.full_v / (build.pack.series or 1)))
        notes.add(
            "stop",
            "ceiling",
            "The full pack is above the controller's ceiling",
            f"{q(facts.full_v, 'v')} full against {q(top_v, 'v')}: the controller is destroyed at "
            "the first plug-in.",
            BUILD,
            measured=facts.full_v,
            limit=top_v,
            quantity="v",
            parts=("pack", "drive.controller"),
            fixes=(Fix(f"Go to {most} in series", (Change("pack.series", most),)),),
        )
    phase = phase_setting_a(c, m)
    motor_peak = amps_peak(m.phase_max_a.or_else(math.nan), m.amp_basis)
    if phase > motor_peak * 1.001:
        factor = amps_peak(1.0, c.amp_basis)
        notes.add(
            "caution" if phase < 1.3 * motor_peak else "stop",
            "phase",
            "Phase amps are above what the motor may see",
            f"{q(phase, 'a')} peak against {q(motor_peak, 'a')}: heat, and magnets that lose "
            "strength.",
            BUILD,
            measured=phase,
            limit=motor_peak,
            quantity="a",
            parts=("drive.motor", "drive.controller"),
            fixes=(
                Fix(
                    f"Set phase amps to {motor_peak / factor:.0f} A",
                    (setting("drive.controller.phase_a", math.floor(motor_peak / factor)),),
                ),
            ),
        )
    if c.amp_basis == "unknown" and math.isfinite(phase):
        notes.add(
            "caution",
            "basis",
            "Are the phase amps peak or RMS?",
            f"Read as peak, {q(phase, 'a')} is what it says; read as RMS the motor sees "
            f"{q(phase * math.sqrt(2), 'a')} and pulls 41 % harder. Ask, or measure.",
            PRACTICE,
            measured=phase,
            limit=phase * math.sqrt(2),
            quantity="a",
            parts=("drive.controller",),
            fixes=(
                Fix("They are peak", (Change("drive.controller.amp_basis", "peak"),)),
                Fix("They are RMS", (Change("drive.controller.amp_basis", "rms"),)),
            ),
        )
    setting_a, rating = c.line_a.amount, c.line_max_a.amount
    if setting_a is not None and rating is not None and setting_a > rating:
        notes.add(
            "caution",
            "line_rating",
            "Line amps are set above the controller's rating",
            f"{q(setting_a, 'a')} against {q(rating, 'a')}.",
            BUILD,
            measured=setting_a,
            limit=rating,
            quantity="a",
            parts=("drive.controller",),
            fixes=(Fix(f"Set {rating:.0f} A", (setting("drive.controller.line_a", rating),)),),
        )
    _judge_cutoff(build, notes)
    _judge_lowest(build, notes)


def _judge_lowest(build: Build, notes: Notes) -> None:
    """A controller has a least voltage of its own; below it it is simply off."""
    c, facts = build.drive.controller, facts_of(build.pack)
    least = c.v_min_v.amount
    if facts is None or least is None:
        return
    ends = used_down_to_v(build, facts.empty_v)
    if math.isnan(ends) or least <= ends:
        return
    notes.add(
        "stop" if least > facts.nominal_v else "caution",
        "v_min",
        "The controller is off before the pack is empty",
        f"It works from {q(least, 'v')}; the pack is to be used down to {q(ends, 'v')}. It cuts "
        "out at once instead of fading, and what is left in the pack cannot be used.",
        BUILD,
        measured=ends,
        limit=least,
        quantity="v",
        parts=("drive.controller", "pack"),
        fixes=(
            Fix(
                f"Set the cut-off to {least:.1f} V",
                (setting("drive.controller.lvc_v", round(least + 0.05, 1)),),
            ),
        )
        if least <= facts.nominal_v
        else (),
    )


def _judge_cutoff(build: Build, notes: Notes) -> None:
    facts, lvc = facts_of(build.pack), build.drive.controller.lvc_v.amount
    if facts is None or lvc is None or math.isnan(facts.empty_v):
        return
    to_empty = Fix(
        f"Set {facts.empty_v:.1f} V", (setting("drive.controller.lvc_v", round(facts.empty_v, 1)),)
    )
    if lvc < 0.98 * facts.empty_v:
        notes.add(
            "caution",
            "lvc_low",
            "The low-voltage cut-off is below an empty pack",
            f"{q(lvc, 'v')} against {q(facts.empty_v, 'v')} empty: cells are ruined before it "
            "acts. Often a setting left from another pack.",
            BUILD,
            measured=lvc,
            limit=facts.empty_v,
            quantity="v",
            parts=("drive.controller",),
            fixes=(to_empty,),
        )
    elif lvc > facts.nominal_v:
        notes.add(
            "stop",
            "lvc_high",
            "The low-voltage cut-off is above the pack's nominal",
            f"{q(lvc, 'v')} against {q(facts.nominal_v, 'v')}: it cuts out with the pack half "
            "full. A setting left from another pack.",
            BUILD,
            measured=lvc,
            limit=facts.nominal_v,
            quantity="v",
            parts=("drive.controller",),
            fixes=(to_empty,),
        )


def _judge_moving(build: Build, notes: Notes, perf: Performance) -> None:
    c, m = build.drive.controller, build.drive.motor
    kv = kv_dc_bus(m.kv_rpm_v.taken, m.kv_convention)
    rpm = perf.top.speed_m_s * perf.case.ratio / perf.case.radius_m * RPM_PER_RAD_S
    emf, top_v = rpm / kv, c.v_max_v.amount
    if top_v is not None and emf > top_v:
        notes.add(
            "stop",
            "weakening",
            "If the controller lets go at speed, back-EMF destroys it",
            f"At top speed the motor makes {q(emf, 'v')} line to line; the controller and its "
            f"capacitors stand {q(top_v, 'v')}. Less field weakening, or taller gearing.",
            Source("computed", "rpm / KV against the controller's ceiling"),
            measured=emf,
            limit=top_v,
            quantity="v",
            parts=("drive.controller", "drive.motor"),
            fixes=(Fix("Field weakening off", (setting("drive.controller.fw_id_a", 0.0),)),),
        )
    erpm, most = rpm * (m.pole_pairs or 0), c.erpm_max_rpm.amount
    if most is not None and erpm > most:
        notes.add(
            "stop",
            "erpm",
            "Too many electrical rpm for the controller",
            f"{q(erpm, 'rpm')} at top speed against {q(most, 'rpm')}: it loses the rotor.",
            BUILD,
            measured=erpm,
            limit=most,
            quantity="rpm",
            parts=("drive.controller",),
        )
    if m.rpm_max_rpm.amount is not None and rpm > m.rpm_max_rpm.amount:
        notes.add(
            "stop",
            "rpm",
            "The motor turns faster than it may",
            f"{q(rpm, 'rpm')} at top speed against {q(m.rpm_max_rpm.amount, 'rpm')}.",
            BUILD,
            measured=rpm,
            limit=m.rpm_max_rpm.amount,
            quantity="rpm",
            parts=("drive.motor",),
        )
    label, have = m.label_w.amount, perf.headline.peak_wheel_w
    if label is not None and have is not None and have < 0.75 * label:
        notes.add(
            "note",
            "label",
            "The label is not what reaches the ground",
            f"Sold as {q(label, 'w')}, this build puts {q(have, 'w')} on the road. Over most "
            f"speeds the choke is {perf.headline.choke}.",
            Source("computed", "envelope"),
            measured=have,
            limit=label,
            quantity="w",
            parts=("drive.motor",),
        )
