"""Guard: what protects the pack, and what will cut out first?"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bolts.common import Context, Notes, Result, figure, term
from ninebolt.core.bolts.guard_judge import isolation_of, judge_all
from ninebolt.core.bolts.pack import facts_of
from ninebolt.core.build import Build
from ninebolt.core.finding import Figure
from ninebolt.core.guard.precharge import fill_energy_j, time_to_share_s
from ninebolt.core.guard.trip import Trip, first_trip
from ninebolt.core.simulate.assemble import (
    FUSE_RUN_FACTOR,
    cable_cont_a,
    cable_ohm,
    line_setting_a,
    path_ohm,
    take,
)


@dataclass(frozen=True, slots=True)
class Link:
    """One link of the load path; amps None = unknown. choke: the class it belongs to."""

    path: str
    label: str
    choke: str
    cont_a: float | None
    peak_a: float | None
    volts: float | None
    drop_v: float | None
    present: bool


@dataclass(frozen=True, slots=True)
class GuardDrawing:
    """Load path from the cells to the controller, with what it is asked to carry."""

    links: tuple[Link, ...]
    load_a: float | None
    full_v: float | None
    trip: Trip | None


def _known(x: float) -> float | None:
    return x if math.isfinite(x) else None


def links_of(build: Build) -> tuple[Link, ...]:
    """Links in the order of the current."""
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
            drop(take(g.bms, "r_ohm")) if through else 0.0,
            g.bms.i_cont_a.known,
        ),
        Link(
            "guard.fuse",
            "Fuse",
            "path",
            fuse,
            fuse * FUSE_RUN_FACTOR if fuse else None,
            g.fuse.dc_v.amount,
            drop(take(g.fuse, "r_ohm")),
            g.fuse.rated_a.known,
        ),
        Link(
            "guard.isolator",
            g.isolator.kind.capitalize(),
            "path",
            g.isolator.i_cont_a.amount,
            None,
            g.isolator.dc_v.amount,
            drop(take(g.isolator, "r_ohm")),
            g.isolator.i_cont_a.known,
        ),
        Link(
            "guard.plug",
            "Main plug",
            "path",
            g.plug.i_cont_a.amount,
            g.plug.i_peak_a.amount,
            g.plug.dc_v.amount,
            drop(take(g.plug, "r_ohm")),
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
    _, perf = context.look(build)
    links = links_of(build)
    load = _known(line_setting_a(build.drive.controller))
    trip = None
    bms = build.guard.bms
    if perf and bms.discharge == "through" and bms.i_cont_a.amount is not None:
        s = perf.run.series
        peak = bms.i_peak_a.or_else(math.inf)
        # The run is held at the BMS's peak; asked for more, the BMS opens when it gets there.
        opens_at = 0.999 * peak if load is not None and load > peak else math.inf
        trip = first_trip(
            s.t_s, s.line_a, s.speed_m_s, bms.i_cont_a.amount, opens_at, take(bms, "peak_s")
        )
    notes = Notes("guard")
    judge_all(build, notes, facts, links_sorted(links), load, trip)
    missing = tuple(
        path
        for path, gone in (
            ("guard.bms.i_cont_a", not bms.i_cont_a.known),
            ("guard.fuse.rated_a", not build.guard.fuse.rated_a.known),
            ("guard.cable.section_m2", not build.guard.cable.section_m2.known),
            ("pack.series", facts is None),
        )
        if gone
    )
    drawing = GuardDrawing(links, load, facts.full_v if facts else None, trip)
    return Result(_figures(build, links, load), notes.done(), missing, drawing)


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
    short = (
        volts / (facts.r_ohm + total) if facts and volts and not math.isnan(facts.r_ohm) else None
    )
    charge_h = None
    if facts and g.charger.i_a.amount:
        charge_h = facts.capacity_ah / g.charger.i_a.amount * 3600.0 * 1.15
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
            total,
            "ohm",
            "BMS + fuse + isolator + plug + both cables",
            term("cable", "Both cables at 20 °C", cable_ohm(g.cable), "ohm"),
        ),
        figure(
            "short",
            "Prospective short circuit",
            short,
            "a",
            "Vfull / Rtotal",
            term("V", "Full", volts, "v"),
            term("R", "Pack and path", facts.r_ohm + total if facts else None, "ohm"),
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
        figure(
            "charge_s",
            "Charge time, empty to full",
            charge_h,
            "s",
            "Ah / A x 1.15 for taper",
            term("I", "Charge current", g.charger.i_a.amount, "a", "guard.charger.i_a"),
        ),
    )
