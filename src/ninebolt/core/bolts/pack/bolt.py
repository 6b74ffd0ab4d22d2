"""Pack: which cells, how many, in what order, and will they go in?"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.battery.ocv import interpolator
from ninebolt.core.battery.pack import PackFacts, sag_at
from ninebolt.core.bike.cells import (
    CLASS_B_V,
    cell_curve,
    cell_full_v,
    cell_peak_a,
    facts_of,
)
from ninebolt.core.bike.layout import Fitted, fitted
from ninebolt.core.bike.mass import pack_kg
from ninebolt.core.bike.path import line_setting_a
from ninebolt.core.bike.session import SessionRow, planned_session, session_rows
from ninebolt.core.bolts.common import Context, Notes, Result, figure, term
from ninebolt.core.bolts.pack.assembly import Assembly, guide, judge_assembly
from ninebolt.core.bolts.pack.fit import judge_fit
from ninebolt.core.bolts.pack.power import SagRow, judge_power, power_figures, sag_rows
from ninebolt.core.bolts.pack.readings import check_figures, judge_checks, judge_stand_in
from ninebolt.core.build import Build
from ninebolt.core.finding import PRACTICE, Change, Figure, Fix, Source, q, set_line_amps


@dataclass(frozen=True, slots=True)
class PackDrawing:
    """The layout in the bays (None while not measured), sag over charge, the planned session, and
    the guide to assembly."""

    series: int
    parallel: int
    fitted: Fitted | None
    sag: tuple[SagRow, ...]
    load_a: float | None
    session: tuple[SessionRow, ...]
    assembly: Assembly


def assess(build: Build, context: Context) -> Result:
    pack, notes = build.pack, Notes("pack")
    facts = facts_of(pack)
    missing = tuple(
        path
        for path, gone in (
            ("pack.series", pack.series is None),
            ("pack.parallel", pack.parallel is None),
            ("pack.cell.capacity_ah", not pack.cell.capacity_ah.known),
            ("pack.cell.ocv", not cell_curve(pack.cell)),
            ("pack.cell.r0_ohm", not pack.cell.r0_ohm.known),
        )
        if gone
    )
    if facts is None:
        return Result((), (), missing, None)
    load = line_setting_a(build.drive.controller)
    load_a = load if math.isfinite(load) else None
    made, _ = context.look(build)
    rows = session_rows(build, planned_session(build, made.case))
    fit = fitted(build, facts)
    _judge_electrical(build, notes, facts, load_a)
    judge_power(build, notes, facts, load_a, rows)
    judge_fit(build, notes, fit)
    judge_checks(build, notes, facts)
    judge_stand_in(build, notes, facts)
    judge_assembly(build, notes, facts)
    drawing = PackDrawing(
        pack.series or 0,
        pack.parallel or 0,
        fit,
        sag_rows(build, facts, load_a),
        load_a,
        rows,
        guide(build, facts, fit, load_a),
    )
    figures = (
        *_figures(build, facts, load_a),
        *power_figures(build, facts, load_a, rows, context),
        *check_figures(build, facts),
    )
    return Result(figures, notes.done(), missing, drawing)


def _figures(build: Build, facts: PackFacts, load_a: float | None) -> tuple[Figure, ...]:
    pack, kg = build.pack, pack_kg(build)
    s, p, cell = pack.series, pack.parallel, pack.cell
    terms_s = term("S", "In series", s, "ratio", "pack.series")
    terms_p = term("P", "In parallel", p, "ratio", "pack.parallel")
    volts = interpolator(cell_curve(cell))
    start = (s or 0) * volts(pack.start_soc.taken)
    return (
        figure(
            "full_v",
            "Full",
            facts.full_v,
            "v",
            "S x full volts per cell",
            terms_s,
            term("Vf", "Full, per cell", cell_full_v(cell), "v", "pack.cell.full_v"),
        ),
        figure("nominal_v", "Nominal", facts.nominal_v, "v", "S x nominal volts per cell", terms_s),
        figure("empty_v", "Empty", facts.empty_v, "v", "S x empty volts per cell", terms_s),
        figure(
            "energy",
            "Energy",
            facts.energy_wh,
            "wh",
            "S P x Ah x mean open-circuit volts",
            terms_s,
            terms_p,
            term(
                "Ah", "Capacity of a cell", cell.capacity_ah.amount, "ah", "pack.cell.capacity_ah"
            ),
        ),
        figure("capacity", "Capacity", facts.capacity_ah, "ah", "P x Ah", terms_p),
        figure(
            "cont_a",
            "Continuous",
            facts.cont_a,
            "a",
            "P x cell continuous",
            terms_p,
            term("Ic", "Cell continuous", cell.i_cont_a.amount, "a", "pack.cell.i_cont_a"),
        ),
        figure(
            "peak_a",
            "Peak",
            facts.peak_a,
            "a",
            "P x cell peak",
            terms_p,
            term("Ip", "Cell peak", cell.i_peak_a.amount, "a", "pack.cell.i_peak_a"),
        ),
        figure(
            "r",
            "Resistance",
            facts.r_ohm,
            "ohm",
            "S/P x r + strips and joints",
            terms_s,
            terms_p,
            term("r", "Cell", cell.r0_ohm.amount, "ohm", "pack.cell.r0_ohm"),
            term(
                "ri",
                "Strips and joints",
                pack.interconnect_ohm.taken,
                "ohm",
                "pack.interconnect_ohm",
            ),
        ),
        figure(
            "sag",
            "Volts at the line amps",
            sag_at(facts, start, load_a) if load_a else None,
            "v",
            "S ocv - I R",
            term("I", "Line amps", load_a, "a", "drive.controller.line_a"),
            term("R", "Resistance", facts.r_ohm, "ohm"),
        ),
        figure("mass", "Mass", kg or None, "kg", "bodies x mass + case"),
        figure(
            "density",
            "Energy per mass",
            facts.energy_wh / kg if kg else None,
            "wh_kg",
            "energy / mass",
            term("E", "Energy", facts.energy_wh, "wh"),
            term("m", "Mass", kg or None, "kg"),
        ),
    )


def _judge_electrical(build: Build, notes: Notes, facts: PackFacts, load_a: float | None) -> None:
    pack = build.pack
    s, p, cell = pack.series or 1, pack.parallel or 1, pack.cell
    if s % cell.body_series or p % cell.body_parallel:
        notes.add(
            "stop",
            "modules",
            "The counts do not come out in whole modules",
            f"A module holds {cell.body_series}s{cell.body_parallel}p; {s}s{p}p cannot be made of "
            "whole ones.",
            PRACTICE,
            measured=s,
            limit=cell.body_series,
        )
    if load_a is not None and load_a > facts.peak_a:
        need = math.ceil(load_a / cell_peak_a(cell))
        notes.add(
            "stop",
            "peak",
            "Line amps are more than the cells can give",
            f"{q(load_a, 'a')} over {p} cells is {q(load_a / p, 'a')} each; their peak is "
            f"{q(cell_peak_a(cell), 'a')}. Set {q(facts.peak_a, 'a')}, or put {need} in parallel.",
            Source("build", "cell data in this build"),
            measured=load_a,
            limit=facts.peak_a,
            quantity="a",
            parts=("pack.cell", "drive.controller"),
            fixes=(
                set_line_amps(facts.peak_a),
                Fix(f"Go to {need} in parallel", (Change("pack.parallel", need),)),
            ),
        )
    elif load_a is not None and load_a > facts.cont_a:
        notes.add(
            "caution",
            "cont",
            "Cells run above their continuous current at full line amps",
            f"{q(load_a / p, 'a')} a cell against {q(facts.cont_a / p, 'a')} continuous: fine for "
            "seconds, warm and short-lived as a habit.",
            Source("build", "cell data in this build"),
            measured=load_a,
            limit=facts.cont_a,
            quantity="a",
            parts=("pack.cell",),
            fixes=(set_line_amps(facts.cont_a),),
        )
    if not math.isnan(facts.r_ohm) and load_a and load_a * facts.r_ohm > 0.2 * facts.nominal_v:
        notes.add(
            "caution",
            "sag",
            "The pack sags by more than a fifth",
            f"{q(load_a, 'a')} through {q(facts.r_ohm, 'ohm')} drops "
            f"{q(load_a * facts.r_ohm, 'v')} of {q(facts.nominal_v, 'v')}.",
            PRACTICE,
            measured=load_a * facts.r_ohm,
            limit=0.2 * facts.nominal_v,
            quantity="v",
        )
    if facts.full_v > CLASS_B_V:
        notes.add(
            "note",
            "class_b",
            "Above 60 V DC: voltage class B",
            f"{q(facts.full_v, 'v')} can kill, and a pack cannot be switched off: cover what is "
            "live, one hand, no jewellery, a way to cut power within reach. Local codes apply.",
            Source("standard", "ISO 6469-3, UN R100 / R136: class B above 60 V DC"),
            measured=facts.full_v,
            limit=CLASS_B_V,
            quantity="v",
        )
