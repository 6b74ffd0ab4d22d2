"""Judgements of the Guard bolt: fuse, cable, precharge, phase leads."""

from __future__ import annotations

import math
from collections.abc import Callable

from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bike.cells import CLASS_B_V
from ninebolt.core.bike.opening import GuardRun
from ninebolt.core.bike.path import cable_cont_a
from ninebolt.core.bolts.common import Notes
from ninebolt.core.bolts.guard.isolator import judge_isolator, next_volts
from ninebolt.core.build import Build
from ninebolt.core.drive.constants import amps_peak
from ninebolt.core.finding import BUILD, PRACTICE, Fix, Source, q, setting
from ninebolt.core.guard.conductors import (
    BEND_OUTER,
    SECTIONS_MM2,
    continuous_amps,
    peak_temp_c,
    rms,
)
from ninebolt.core.guard.fuse import least_rating
from ninebolt.core.guard.precharge import peak_w, time_to_share_s, with_load
from ninebolt.core.parts.guard import Guard

BARE_M = 0.20  # lead between pole and fuse, protected by nothing. Common practice, no source.
BREAKING_A = (20_000.0, 30_000.0, 50_000.0, 100_000.0)  # usual breaking capacities of DC fuses


def judge_path(
    build: Build, notes: Notes, facts: PackFacts | None, load: float | None, run: GuardRun | None
) -> None:
    """All that lies between the cells and the controller, the BMS apart."""
    _fuse(build, notes, facts, load)
    _fuse_place(build, notes)
    _fuse_run(build, notes, run)
    judge_isolator(build, notes, facts, load, run)
    _cable(build, notes, load)
    _cable_run(build, notes, run)
    _phase_leads(build, notes, run)
    _motor_for_good(build, notes, run)
    _bends(build, notes)
    _precharge(build, notes, facts)


def _fuse(build: Build, notes: Notes, facts: PackFacts | None, load: float | None) -> None:
    fuse = build.guard.fuse
    rated = fuse.rated_a.amount
    if rated is None:
        return
    cable = cable_cont_a(build.guard.cable)
    if rated > cable * 1.05:
        notes.add(
            "stop",
            "fuse_cable",
            "The fuse does not protect the cable",
            f"It carries {q(rated, 'a')} for ever; the cable reaches its insulation limit at "
            f"{q(cable, 'a')}. Fit a smaller fuse or a larger cable.",
            Source("computed", "copper loss against still air, IEC 60028 resistivity"),
            measured=rated,
            limit=cable,
            quantity="a",
            parts=("guard.fuse", "guard.cable"),
            fixes=(_larger_cable(build, rated),),
        )
    if load is not None and rated * 2.0 < load:
        notes.add(
            "stop",
            "fuse_small",
            "The fuse blows at full throttle",
            f"{q(load, 'a')} is more than twice its {q(rated, 'a')}.",
            PRACTICE,
            measured=load,
            limit=rated * 2.0,
            quantity="a",
            parts=("guard.fuse",),
            fixes=(
                Fix(
                    f"Fit a {math.ceil(load / 1.5 / 25) * 25} A fuse",
                    (setting("guard.fuse.rated_a", math.ceil(load / 1.5 / 25) * 25),),
                ),
            ),
        )
    if facts is None:
        return
    if fuse.dc_v.amount is not None and fuse.dc_v.amount < facts.full_v:
        notes.add(
            "stop",
            "fuse_dc",
            "The fuse cannot break this voltage",
            f"It is rated for {q(fuse.dc_v.amount, 'v')} DC, the pack stands at "
            f"{q(facts.full_v, 'v')} full: the arc would not go out.",
            Source("practice", "rated DC voltage of a fuse is a ceiling; common practice"),
            measured=facts.full_v,
            limit=fuse.dc_v.amount,
            quantity="v",
            parts=("guard.fuse",),
            fixes=(next_volts("Fit a fuse", "guard.fuse.dc_v", facts.full_v),),
        )
    short = short_circuit_a(build.guard, facts)
    broken = fuse.breaking_a.amount
    if broken is not None and short is not None and broken < short:
        enough = next((b for b in BREAKING_A if b >= short), BREAKING_A[-1])
        notes.add(
            "stop",
            "fuse_break",
            "The fuse cannot break a short circuit of this pack",
            f"{q(facts.full_v, 'v')} through {q(facts.full_v / short, 'ohm')} is {q(short, 'a')} "
            f"right behind the fuse; its breaking capacity is {q(broken, 'a')}.",
            Source("computed", "Vfull / (Rpack + Rfuse)"),
            measured=short,
            limit=broken,
            quantity="a",
            parts=("guard.fuse",),
            fixes=(
                Fix(
                    f"Fit a fuse that breaks {enough / 1000:.0f} kA",
                    (setting("guard.fuse.breaking_a", enough, "label"),),
                ),
            ),
        )


def short_circuit_a(guard: Guard, facts: PackFacts | None) -> float | None:
    """Prospective short circuit right behind the fuse, where nothing but the pack's own resistance
    and the fuse's hold it back (A); None while the resistance is not known."""
    if facts is None or math.isnan(facts.r_ohm):
        return None
    total = facts.r_ohm + guard.fuse.r_ohm.or_else(0.0)
    return facts.full_v / total if total > 0 else None


def _section(path: str, what: str, enough: Callable[[float], bool]) -> Fix:
    """The least nominal section (m²) that is enough, else the largest."""
    fit = next((s for s in SECTIONS_MM2 if enough(s * 1e-6)), SECTIONS_MM2[-1])
    return Fix(f"Take {fit} mm² {what}", (setting(f"{path}.section_m2", fit * 1e-6, "label"),))


def _larger_cable(build: Build, amps: float) -> Fix:
    """Cable that carries a current for good."""
    ambient = build.guard.cable.ambient_c.taken
    rise = build.guard.cable.temp_max_c.taken - ambient
    return _section("guard.cable", "cable", lambda s: continuous_amps(s, rise, ambient) >= amps)


def _fuse_place(build: Build, notes: Notes) -> None:
    away = build.guard.fuse.from_pack_m.amount
    if away is not None and away > BARE_M:
        notes.add(
            "caution",
            "fuse_place",
            "The fuse is too far from the pack",
            f"{q(away, 'm')} of lead between the pole and the fuse is protected by nothing: if it "
            "chafes through, only the cells limit the current. Put the fuse at the pole.",
            PRACTICE,
            measured=away,
            limit=BARE_M,
            quantity="m",
            parts=("guard.fuse",),
            fixes=(
                Fix("Move it to the pole", (setting("guard.fuse.from_pack_m", 0.05, "label"),)),
            ),
        )


def _fuse_run(build: Build, notes: Notes, run: GuardRun | None) -> None:
    """The time-current curve along a run and along the session."""
    opens = run.fuse if run else None
    rated = build.guard.fuse.rated_a.amount
    if opens is None or rated is None:
        return
    want = least_rating(run.t_s, run.line_a, build.guard.fuse.melts) if run else rated
    notes.add(
        "stop",
        "fuse_run",
        "The fuse opens on a full-throttle run",
        f"{q(opens.line_a, 'a')} is {opens.line_a / rated:.1f} times its {q(rated, 'a')}; by its "
        f"curve it melts after {q(opens.t_s, 's')}{opens.words} near {q(opens.speed_m_s, 'm_s')}. "
        "A fuse protects the cable; it is no current limiter.",
        Source("memory", "typical time-current curve of its class, or the one given"),
        measured=opens.line_a,
        limit=rated,
        quantity="a",
        parts=("guard.fuse",),
        fixes=(Fix(f"Fit a {want:.0f} A fuse", (setting("guard.fuse.rated_a", want, "label"),)),),
    )


def _cable_run(build: Build, notes: Notes, run: GuardRun | None) -> None:
    cable = build.guard.cable
    section = cable.section_m2.amount
    if run is None or section is None:
        return
    ambient, limit = cable.ambient_c.taken, cable.temp_max_c.taken

    def warmest(m2: float) -> float:
        return peak_temp_c(m2, run.t_s, run.line_a, ambient)

    hot = warmest(section)
    if hot > limit:
        notes.add(
            "stop",
            "cable_run",
            "The battery cable overheats while riding",
            f"{run.words} it reaches {q(hot, 'c')}; its insulation stands {q(limit, 'c')}.",
            Source("computed", "copper loss against still air, heat stored in the copper"),
            measured=hot,
            limit=limit,
            quantity="c",
            parts=("guard.cable",),
            fixes=(_section("guard.cable", "cable", lambda m2: warmest(m2) <= limit),),
        )


def _phase_leads(build: Build, notes: Notes, run: GuardRun | None) -> None:
    """Phase leads carry phase amps, RMS; their thickness on the motor is no rating."""
    cable = build.guard.phase_cable
    section = cable.section_m2.amount
    if run is None or section is None:
        return
    ambient, limit = cable.ambient_c.taken, cable.temp_max_c.taken
    amps = [a / math.sqrt(2.0) for a in run.phase_a]

    def warmest(m2: float) -> float:
        return peak_temp_c(m2, run.t_s, amps, ambient)

    hot = warmest(section)
    cont = continuous_amps(section, limit - ambient, ambient)
    if hot > limit:
        notes.add(
            "caution",
            "phase_leads",
            "The phase leads overheat while riding",
            f"{q(max(amps), 'a')} RMS at most, {q(rms(run.t_s, amps), 'a')} over the time; for "
            f"good they carry {q(cont, 'a')}. {run.words} they reach {q(hot, 'c')}.",
            Source("computed", "copper loss against still air, heat stored in the copper"),
            measured=hot,
            limit=limit,
            quantity="c",
            parts=("guard.phase_cable",),
            fixes=(_section("guard.phase_cable", "phase leads", lambda m2: warmest(m2) <= limit),),
        )


def _motor_for_good(build: Build, notes: Notes, run: GuardRun | None) -> None:
    """The motor's continuous phase current against what a session draws."""
    motor = build.drive.motor
    cont = amps_peak(motor.phase_cont_a.or_else(math.nan), motor.amp_basis)
    if run is None or not run.session or math.isnan(cont):
        return
    worked = rms(run.t_s, run.phase_a)
    if worked > cont:
        notes.add(
            "caution",
            "motor_cont",
            "The session asks more of the motor than it stands for good",
            f"{run.words} the current that warms it is {q(worked, 'a')} peak, its label says "
            f"{q(cont, 'a')}. Longer rests, fewer runs, or less phase current.",
            BUILD,
            measured=worked,
            limit=cont,
            quantity="a",
            parts=("drive.motor",),
        )


def _bends(build: Build, notes: Notes) -> None:
    for path, cable in (
        ("guard.cable", build.guard.cable),
        ("guard.phase_cable", build.guard.phase_cable),
    ):
        outer, bend = cable.outer_m.amount, cable.bend_m.amount
        if outer is not None and bend is not None and bend < BEND_OUTER * outer:
            notes.add(
                "caution",
                f"bend_{path.split('.')[1]}",
                "A cable is bent too tightly",
                f"Inside radius {q(bend, 'm')} on a cable of {q(outer, 'm')}: strands break inside "
                f"the sleeve. At least {q(BEND_OUTER * outer, 'm')}.",
                PRACTICE,
                measured=bend,
                limit=BEND_OUTER * outer,
                quantity="m",
                parts=(path,),
            )


def _cable(build: Build, notes: Notes, load: float | None) -> None:
    cont = cable_cont_a(build.guard.cable)
    if load is not None and load > cont * 1.6:
        notes.add(
            "caution",
            "cable",
            "The battery cable is thin for the line amps",
            f"It carries {q(cont, 'a')} for ever at its insulation limit; full throttle asks "
            f"{q(load, 'a')}.",
            Source("computed", "copper loss against still air"),
            measured=load,
            limit=cont,
            quantity="a",
            parts=("guard.cable",),
            fixes=(_larger_cable(build, load / 1.4),),
        )


def _precharge(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    cap, r = build.drive.controller.c_bus_farad.amount, build.guard.precharge.r_ohm.amount
    if facts is None or facts.full_v <= CLASS_B_V:
        return
    if r is None:
        notes.add(
            "caution",
            "no_precharge",
            "There is no precharge",
            f"Closing onto empty capacitors at {q(facts.full_v, 'v')} pits or welds the contact. "
            "A resistor across it for a second is enough.",
            PRACTICE,
            measured=facts.full_v,
            limit=CLASS_B_V,
            quantity="v",
            parts=("guard.precharge",),
            fixes=(
                Fix(
                    "Fit 150 Ω, 25 W",
                    (
                        setting("guard.precharge.r_ohm", 150.0, "label", 0.05),
                        setting("guard.precharge.rated_w", 25.0, "label", 0.0),
                    ),
                ),
            ),
        )
        return
    rated = build.guard.precharge.rated_w.amount
    if rated is not None and peak_w(r, facts.full_v) > 10.0 * rated:
        notes.add(
            "caution",
            "precharge_w",
            "With the load on, the precharge resistor burns",
            f"It would stand {q(peak_w(r, facts.full_v), 'w')} for good, rated {q(rated, 'w')}: "
            "keep converter and lights off until the contactor is in.",
            PRACTICE,
            measured=peak_w(r, facts.full_v),
            limit=10.0 * rated,
            quantity="w",
            parts=("guard.precharge",),
        )
    if cap is not None and time_to_share_s(r, cap, 0.95) > 5.0:
        notes.add(
            "note",
            "precharge_slow",
            "Precharge takes long",
            f"{q(time_to_share_s(r, cap, 0.95), 's')} to 95 %.",
            Source("computed", "3 R C"),
            measured=time_to_share_s(r, cap, 0.95),
            limit=5.0,
            quantity="s",
        )
    _precharge_order(build, notes, facts, r, cap)


def _precharge_order(
    build: Build, notes: Notes, facts: PackFacts, r: float, cap: float | None
) -> None:
    """How long the key must wait, and what a load that is on too early does to it."""
    pre = build.guard.precharge
    wait = pre.delay_s.amount
    if cap is not None and wait is not None and wait < time_to_share_s(r, cap, 0.95):
        full = time_to_share_s(r, cap, 0.95)
        notes.add(
            "caution",
            "precharge_wait",
            "The contactor closes before the capacitors are full",
            f"After {q(wait, 's')} they stand at {1 - math.exp(-wait / (r * cap)):.0%}; 95 % takes "
            f"{q(full, 's')}. The rest jumps across the contacts.",
            Source("computed", "3 R C"),
            measured=wait,
            limit=full,
            quantity="s",
            parts=("guard.precharge",),
            fixes=(
                Fix(
                    f"Wait {math.ceil(full * 15) / 10:.1f} s",
                    (setting("guard.precharge.delay_s", math.ceil(full * 15) / 10, "label"),),
                ),
            ),
        )
    on = pre.load_w.taken
    if on > 0.0:
        filled = with_load(r, facts.full_v, on)
        notes.add(
            "stop" if filled.share < 0.9 else "caution",
            "precharge_load",
            "A load is on while the capacitors fill",
            f"{q(on, 'w')} behind {q(r, 'ohm')} holds them at {filled.share:.0%} of the pack, and "
            f"{q(filled.stays_w, 'w')} stays in the resistor. Keep it off until the contactor is "
            "in.",
            Source("computed", "V² - E V + R P = 0"),
            measured=filled.share * 100,
            limit=95.0,
            quantity="pct",
            parts=("guard.precharge", "guard.dcdc"),
            fixes=(Fix("Keep it off", (setting("guard.precharge.load_w", 0.0, "label"),)),),
        )
