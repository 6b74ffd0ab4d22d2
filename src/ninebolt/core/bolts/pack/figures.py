"""Pack: its figures. Three energies, each named: label, stored, usable."""

from __future__ import annotations

import math

from ninebolt.core.battery.ocv import interpolator
from ninebolt.core.battery.pack import PackFacts, sag_at, usable_wh
from ninebolt.core.bike.cells import (
    cell_curve,
    cell_full_v,
    cell_peukert,
    joints_ohm,
    strips_of,
    warm_share,
)
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.mass import pack_kg
from ninebolt.core.bike.path import floor_v
from ninebolt.core.bike.ride import load_a as line_a
from ninebolt.core.bike.session import SessionRow, one_run_k, session_rows
from ninebolt.core.bolts.common import figure, term
from ninebolt.core.bolts.pack.readings import check_figures
from ninebolt.core.build import Build
from ninebolt.core.finding import Figure, Source


def figures_of(bike: Bike, facts: PackFacts) -> tuple[Figure, ...]:
    """All figures of the bolt."""
    load = line_a(bike)
    return (
        *_figures(bike.build, facts, load),
        *power_figures(bike, facts, load, session_rows(bike)),
        *check_figures(bike.build, facts),
    )


def _sag(facts: PackFacts, rested_v: float, amps: float | None) -> float | None:
    """Volts at some amps; None where the pack cannot give them even into a short."""
    left = sag_at(facts, rested_v, amps) if amps else 0.0
    return left if left > 0.0 else None


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
            "label_wh",
            "Energy by label",
            facts.nominal_v * facts.capacity_ah,
            "wh",
            "nominal volts x Ah",
            term("V", "Nominal", facts.nominal_v, "v"),
            term("Ah", "Capacity", facts.capacity_ah, "ah"),
        ),
        figure(
            "energy",
            "Energy stored",
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
                joints_ohm(pack),
                "ohm",
                "pack.interconnect_ohm",
            ),
        ),
        figure(
            "sag",
            "Volts at the line amps",
            _sag(facts, start, load_a),
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


def power_figures(
    bike: Bike, facts: PackFacts, load_a: float | None, rows: tuple[SessionRow, ...]
) -> tuple[Figure, ...]:
    """Figures of limits and heat."""
    build = bike.build
    pack, cell = build.pack, build.pack.cell
    strips = strips_of(pack)
    share = warm_share(pack)
    least = min(facts.cont_a * share, strips[0] if strips else math.inf)
    heat = one_run_k(bike)
    out = [
        figure(
            "limit_a",
            "Continuous, as built",
            least,
            "a",
            "least of cells x temperature share, and strips",
            term("cells", "Cells", facts.cont_a, "a", "pack.cell.i_cont_a"),
            term("share", "At this temperature", share * 100, "pct", "pack.temp_c"),
            term(
                "strips", "All strips of a step", strips[0] if strips else None, "a", "pack.strips"
            ),
        ),
        figure(
            "c_rate",
            "C-rate at the line amps",
            load_a / facts.capacity_ah if load_a else None,
            "ratio",
            "I / Ah",
            term("I", "Line amps", load_a, "a", "drive.controller.line_a"),
            term("cell", "A cell", load_a / (pack.parallel or 1) if load_a else None, "a"),
            term("Ic", "Its continuous current", cell.i_cont_a.amount, "a", "pack.cell.i_cont_a"),
        ),
        _usable(build, facts, load_a),
        figure("run_rise", "Cells warm up in one run by", heat, "k", "∫ I² R dt / C", source=_HEAT),
    ]
    if strips:
        out.append(
            figure(
                "strips_ohm", "Strips, computed", strips[1], "ohm", "steps x ρ l / (w t) / strips"
            )
        )
    if rows:
        out.append(
            figure(
                "session_c",
                "Cells after the session",
                max(r.pack_c for r in rows),
                "c",
                "heat of each run, Newton cooling between",
                term("n", "Runs", len(rows), "ratio", "goal.runs"),
            )
        )
    return tuple(out)


_HEAT = Source("computed", "one lump, heat capacity from the cell or 950 J/(kg K)")


def _usable(build: Build, facts: PackFacts, load_a: float | None) -> Figure:
    load_w = 0.5 * load_a * facts.nominal_v if load_a else None
    known = load_w is not None and not math.isnan(facts.r_ohm)
    value = (
        usable_wh(
            cell_curve(build.pack.cell),
            build.pack.series or 1,
            facts.capacity_ah,
            facts.r_ohm + facts.slow_ohm,
            load_w or 0.0,
            floor_v(build),
            build.pack.start_soc.taken,
            cell_peukert(build.pack.cell),
        )
        if known
        else None
    )
    return figure(
        "usable",
        "Energy usable, at half the line amps",
        value,
        "wh",
        "∫ V(P) dQ to the floor",
        term("P", "Load", load_w, "w"),
        term("floor", "Not below", floor_v(build) or None, "v", "drive.controller.lvc_v"),
    )
