"""Guard: what protects the pack, and what will cut out first?"""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

from ninebolt.core.bike.cells import facts_of
from ninebolt.core.bike.opening import GuardRun, guard_run
from ninebolt.core.bike.path import (
    FUSE_RUN_FACTOR,
    cable_cont_a,
    cable_ohm,
    charger_v,
    line_setting_a,
    path_ohm,
)
from ninebolt.core.bolts.common import Context, Notes, Result, figure, term
from ninebolt.core.bolts.guard.bms import judge_bms
from ninebolt.core.bolts.guard.feed import (
    AuxBudget,
    aux_budget,
    charge_of,
    isolation_of,
    judge_feed,
)
from ninebolt.core.bolts.guard.key import Sequence, sequences
from ninebolt.core.bolts.guard.path import judge_path, short_circuit_a
from ninebolt.core.bolts.guard.swaps import swaps_for
from ninebolt.core.build import Build
from ninebolt.core.finding import Figure, Fix, Source, q, set_line_amps
from ninebolt.core.guard.charging import Charge, mains_amps
from ninebolt.core.guard.conductors import lug_bolt, peak_temp_c, plug_rise_k, rms, steady_rise_k
from ninebolt.core.guard.precharge import fill_energy_j, time_to_share_s
from ninebolt.core.guard.trip import Trip

FULL_ENOUGH = 0.95  # a charge that ends lower has the wrong end voltage, and says where it ends


@dataclass(frozen=True, slots=True)
class Link:
    """One link of the load path; amps None = unknown. choke: the class it belongs to. margin_a:
    continuous amps over the line amps. swaps: what on the shelf could take its place."""

    path: str
    label: str
    choke: str
    cont_a: float | None
    peak_a: float | None
    volts: float | None
    drop_v: float | None
    present: bool
    margin_a: float | None = None
    swaps: tuple[Fix, ...] = ()


@dataclass(frozen=True, slots=True)
class GuardDrawing:
    """Load path from the cells to the controller, with what it is asked to carry."""

    links: tuple[Link, ...]
    load_a: float | None
    full_v: float | None
    trip: Trip | None
    aux: AuxBudget
    charge: Charge | None
    isolation: float | None
    sequences: tuple[Sequence, ...]


def _known(x: float) -> float | None:
    return x if math.isfinite(x) else None


def links_of(build: Build, context: Context) -> tuple[Link, ...]:
    """Links in the order of the current, with margins and what could take their place."""
    facts = facts_of(build.pack)
    load = _known(line_setting_a(build.drive.controller))
    return tuple(
        dataclasses.replace(
            x,
            margin_a=None if load is None or x.cont_a is None else x.cont_a - load,
            swaps=swaps_for(build, context, x.path, facts, load),
        )
        for x in _links(build)
    )


def _links(build: Build) -> tuple[Link, ...]:
    g, pack = build.guard, build.pack
    load = line_setting_a(build.drive.controller)
    facts = facts_of(pack)

    def drop(ohm: float) -> float | None:
        return load * ohm if math.isfinite(load) else None

    fuse = g.fuse.rated_a.amount
    cable = _known(cable_cont_a(g.cable))
    through = g.bms.discharge == "through"
    return (
        Link(
            "pack.cell",
            "Cells",
            "cells",
            _known(facts.cont_a) if facts else None,
            _known(facts.peak_a) if facts else None,
            None,
            drop(facts.r_ohm) if facts and not math.isnan(facts.r_ohm) else None,
            facts is not None,
        ),
        Link(
            "guard.bms",
            "BMS" if through else "BMS bypassed",
            "BMS",
            g.bms.i_cont_a.amount if through else None,
            g.bms.i_peak_a.amount if through else None,
            None,
            drop(g.bms.r_ohm.taken) if through else 0.0,
            g.bms.i_cont_a.known,
        ),
        Link(
            "guard.fuse",
            "Fuse",
            "path",
            fuse,
            fuse * FUSE_RUN_FACTOR if fuse else None,
            g.fuse.dc_v.amount,
            drop(g.fuse.r_ohm.taken),
            g.fuse.rated_a.known,
        ),
        Link(
            "guard.isolator",
            g.isolator.kind.capitalize(),
            "path",
            g.isolator.i_cont_a.amount,
            None,
            g.isolator.dc_v.amount,
            drop(g.isolator.r_ohm.taken),
            g.isolator.i_cont_a.known,
        ),
        Link(
            "guard.plug",
            "Main plug",
            "path",
            g.plug.i_cont_a.amount,
            g.plug.i_peak_a.amount,
            g.plug.dc_v.amount,
            drop(g.plug.r_ohm.taken),
            g.plug.i_cont_a.known,
        ),
        Link(
            "guard.cable",
            "Cable",
            "path",
            cable,
            None,
            None,
            drop(cable_ohm(g.cable)),
            cable is not None,
        ),
        Link(
            "drive.controller",
            "Controller line",
            "line",
            build.drive.controller.line_max_a.amount,
            None,
            build.drive.controller.v_max_v.amount,
            None,
            build.drive.controller.line_max_a.known,
        ),
    )


def assess(build: Build, context: Context) -> Result:
    facts = facts_of(build.pack)
    run = guard_run(build, context)
    links = links_of(build, context)
    load = _known(line_setting_a(build.drive.controller))
    notes = Notes("guard")
    judge_bms(build, notes, facts, load, run, context)
    judge_path(build, notes, facts, load, run)
    judge_feed(build, notes, facts)
    _past_continuous(notes, links, load, run)
    missing = tuple(
        path
        for path, gone in (
            ("guard.bms.i_cont_a", not build.guard.bms.i_cont_a.known),
            ("guard.fuse.rated_a", not build.guard.fuse.rated_a.known),
            ("guard.cable.section_m2", not build.guard.cable.section_m2.known),
            ("pack.series", facts is None),
        )
        if gone
    )
    charged = charge_of(build, facts)
    drawing = GuardDrawing(
        links,
        load,
        facts.full_v if facts else None,
        run.trip if run else None,
        aux_budget(build),
        charged,
        isolation_of(build),
        sequences(build, facts),
    )
    figures = (*_figures(build, links, load), *_more_figures(build, load, run, charged))
    return Result(figures, notes.done(), missing, drawing)


def _past_continuous(
    notes: Notes, links: tuple[Link, ...], load: float | None, run: GuardRun | None
) -> None:
    """Links that carry the line amps only for a while, when nothing worse was said of them: along
    the run or session their warmth follows the RMS current."""
    named = {p for f in notes.found if f.quantity == "a" and f.severity != "note" for p in f.parts}
    short = [
        x
        for x in links
        if load is not None and x.cont_a is not None and x.cont_a < load and x.path not in named
    ]
    if not short or load is None or run is None:
        return
    worked = rms(run.t_s, run.line_a)
    first = min(short, key=lambda x: x.cont_a or 0.0)
    limit = first.cont_a or 0.0
    names = ", ".join(f"{x.label} {q(x.cont_a or 0.0, 'a')}" for x in short)
    over = worked > limit
    notes.add(
        "caution" if over and run.session else "note",
        "past_cont",
        f"{first.label}: the line amps are for a while only",
        f"{q(load, 'a')} are set; for good it is {names}. {run.words} the current that warms them "
        f"is {q(worked, 'a')} RMS" + (", more than they carry for good." if over else "."),
        Source("computed", "RMS current over the time against continuous ratings"),
        measured=load,
        limit=limit,
        quantity="a",
        parts=tuple(x.path for x in short),
        fixes=(set_line_amps(limit),),
    )


def links_sorted(links: tuple[Link, ...]) -> list[tuple[str, float, str]]:
    """(label, continuous amps, path) of the links that have one, narrowest first."""
    return sorted(
        ((x.label, x.cont_a, x.path) for x in links if x.cont_a is not None), key=lambda r: r[1]
    )


def _figures(build: Build, links: tuple[Link, ...], load: float | None) -> tuple[Figure, ...]:
    g, facts = build.guard, facts_of(build.pack)
    narrow = links_sorted(links)
    cap, volts = build.drive.controller.c_bus_farad.amount, facts.full_v if facts else None
    r_pre = g.precharge.r_ohm.amount
    total = path_ohm(g)
    short = short_circuit_a(g, facts)
    fuse_ohm = g.fuse.r_ohm.or_else(0.0)
    return (
        figure(
            "narrowest",
            f"Narrowest: {narrow[0][0]}" if narrow else "Narrowest link",
            narrow[0][1] if narrow else None,
            "a",
            "least continuous current along the path",
            *(term(label, label, amps, "a", path) for label, amps, path in narrow[:4]),
        ),
        figure("load", "Line amps asked for", load, "a", "controller setting, held to its rating"),
        figure(
            "path_ohm",
            "Pack terminals to controller",
            total or None,
            "ohm",
            "BMS + fuse + isolator + plug + both cables, of those that are known",
            term("cable", "Both cables at 20 °C", cable_ohm(g.cable), "ohm"),
        ),
        figure(
            "short",
            "Prospective short circuit",
            short,
            "a",
            "Vfull / (Rpack + Rfuse): a short right behind the fuse",
            term("V", "Full", volts, "v"),
            term("R", "Pack and fuse", facts.r_ohm + fuse_ohm if facts else None, "ohm"),
        ),
        figure(
            "isolation",
            "Isolation, ohms per volt",
            isolation_of(build),
            "ratio",
            "R0 (V / V1' - V / V1) / V",
        ),
        figure(
            "precharge_s",
            "Precharge to 95 %",
            time_to_share_s(r_pre, cap, 0.95) if r_pre and cap else None,
            "s",
            "3 R C",
            term("R", "Resistor", r_pre, "ohm", "guard.precharge.r_ohm"),
            term("C", "Bus capacitance", cap, "farad", "drive.controller.c_bus_farad"),
        ),
        figure(
            "precharge_j",
            "Heat in the resistor, each time",
            fill_energy_j(cap, volts) / 3600.0 if cap and volts else None,
            "wh",
            "½ C V²",
        ),
    )


def _more_figures(
    build: Build, load: float | None, run: GuardRun | None, charged: Charge | None
) -> tuple[Figure, ...]:
    """Charging, and the warmth of cable, phase leads and plug."""
    g = build.guard
    end, amps = charger_v(g.charger), g.charger.i_a.amount
    known = amps is not None and not math.isnan(end)
    mains = (
        mains_amps(end, amps or 0.0, g.charger.efficiency.taken, g.charger.mains_v.taken)
        if known
        else None
    )
    stacked = g.charger.stacked or 1
    return (
        figure(
            "charge_s",
            "Charge time, from empty"
            if charged is None or charged.end_soc > FULL_ENOUGH
            else f"Charge ends at {charged.end_soc * 100:.0f} %, after",
            charged.total_s if charged else None,
            "s",
            "constant current to the end voltage, then constant voltage",
            term("end", "Ends at", charged.end_soc * 100 if charged else None, "pct"),
            term("CC", "At constant current", charged.cc_s if charged else None, "s"),
            term("CV", "At constant voltage", charged.cv_s if charged else None, "s"),
            term("I", "Charge current", amps, "a", "guard.charger.i_a"),
            term("V", f"End voltage, {stacked} supplies", _known(end), "v", "guard.charger.out_v"),
        ),
        figure("mains_a", "From the outlet", mains, "a", "V I / η / mains volts"),
        *_warm_figures(build, load, run),
    )


def _warm_figures(build: Build, load: float | None, run: GuardRun | None) -> tuple[Figure, ...]:
    g = build.guard
    out = []
    section, air = g.cable.section_m2.amount, g.cable.ambient_c.taken
    if section is not None and load is not None:
        steady = air + steady_rise_k(section, load, air)
        out.append(
            figure(
                "cable_c",
                "Battery cable at its warmest",
                peak_temp_c(section, run.t_s, run.line_a, air) if run else None,
                "c",
                "copper loss against still air, heat stored in the copper",
                term("for ever", "At the line amps for ever", _known(steady), "c"),
                term(
                    "W", "Lost in both cables at the line amps", load**2 * cable_ohm(g.cable), "w"
                ),
                term("M", f"Lug for {section * 1e6:.0f} mm²: M", lug_bolt(section), "ratio"),
            )
        )
    phase, warm = g.phase_cable.section_m2.amount, g.phase_cable.ambient_c.taken
    if phase is not None and run is not None:
        amps = [a / math.sqrt(2.0) for a in run.phase_a]
        out.append(
            figure(
                "phase_c",
                "Phase leads at their warmest",
                peak_temp_c(phase, run.t_s, amps, warm),
                "c",
                "the same, with phase amps RMS",
                term("I", "RMS over the time", rms(run.t_s, amps), "a"),
                term("M", "Lug: M", lug_bolt(phase), "ratio"),
            )
        )
    if g.plug.i_cont_a.amount and load is not None:
        worked = rms(run.t_s, run.line_a) if run else load
        out.append(
            figure(
                "plug_k",
                "Main plug, rise at the line amps",
                plug_rise_k(load, g.plug.i_cont_a.amount),
                "k",
                "30 K x (I / rated)²; common practice",
                term(
                    "run", "at the mean of a run", plug_rise_k(worked, g.plug.i_cont_a.amount), "k"
                ),
            )
        )
    return tuple(out)
