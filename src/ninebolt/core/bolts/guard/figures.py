"""Guard: its figures."""

from __future__ import annotations

import math

from ninebolt.core.bike.chain import ChainLink, advice, chain
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.opening import GuardRun, opening
from ninebolt.core.bike.path import cable_ohm, charger_v, path_ohm
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bike.warm import cable_peak_c, leads_peak_c
from ninebolt.core.bolts.common import figure, term
from ninebolt.core.bolts.guard.checks.isolation import isolation_of
from ninebolt.core.bolts.guard.feed import charge_of
from ninebolt.core.bolts.guard.limits import FILLED
from ninebolt.core.bolts.guard.sizes import short_circuit_a
from ninebolt.core.finding import Figure
from ninebolt.core.guard.charging import Charge, mains_amps
from ninebolt.core.guard.conductors import lug_bolt, plug_rise_k, steady_rise_k
from ninebolt.core.guard.precharge import fill_energy_j, time_to_share_s

FULL_ENOUGH = 0.95  # a charge that ends lower has the wrong end voltage, and says where it ends


def figures_of(bike: Bike) -> tuple[Figure, ...]:
    """All figures of the bolt."""
    load = load_a(bike)
    return (
        *_figures(bike, chain(bike), load),
        *_more_figures(bike, load, opening(bike), charge_of(bike)),
    )


def _known(x: float) -> float | None:
    return x if math.isfinite(x) else None


def links_sorted(links: tuple[ChainLink, ...]) -> list[tuple[str, float, str]]:
    """(label, continuous amps, path) of the links that have one, narrowest first."""
    return sorted(
        ((x.label, x.cont_a, x.path) for x in links if x.cont_a is not None), key=lambda r: r[1]
    )


def _figures(bike: Bike, links: tuple[ChainLink, ...], load: float | None) -> tuple[Figure, ...]:
    build, g, facts = bike.build, bike.build.guard, pack_facts(bike)
    narrow, chosen = links_sorted(links), advice(bike)
    cap, volts = build.drive.controller.c_bus_farad.amount, facts.full_v if facts else None
    r_pre = g.precharge.r_ohm.amount
    total = path_ohm(g)
    short = short_circuit_a(bike)
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
        figure(
            "advice",
            "Line amps to set",
            chosen.amps if chosen else None,
            "a",
            f"least over the links: {chosen.words}" if chosen else "",
            *(
                term(x.label, x.label, x.allows_a, "a", x.path)
                for x in links
                if x.allows_a is not None
            ),
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
            time_to_share_s(r_pre, cap, FILLED) if r_pre and cap else None,
            "s",
            "3 R C",
            term("R", "Resistor", r_pre, "ohm", "guard.precharge.r_ohm"),
            term("C", "Bus capacitance", cap, "farad", "drive.controller.c_bus_farad"),
        ),
        figure(
            "precharge_j",
            "Heat in the resistor, each time",
            fill_energy_j(cap, volts) if cap and volts else None,
            "j",
            "½ C V²",
        ),
    )


def _more_figures(
    bike: Bike, load: float | None, run: GuardRun | None, charged: Charge | None
) -> tuple[Figure, ...]:
    """Charging, and the warmth of cable, phase leads and plug."""
    build = bike.build
    g = build.guard
    end, amps = charger_v(g.charger), g.charger.i_a.amount
    known = g.charger.there is not False and amps is not None and not math.isnan(end)
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
        *_warm_figures(bike, load, run),
    )


def _warm_figures(bike: Bike, load: float | None, run: GuardRun | None) -> tuple[Figure, ...]:
    g = bike.build.guard
    out = []
    section, air = g.cable.section_m2.amount, g.cable.ambient_c.taken
    if section is not None and load is not None:
        steady = air + steady_rise_k(section, load, air)
        out.append(
            figure(
                "cable_c",
                "Battery cable at its warmest",
                cable_peak_c(bike),
                "c",
                "copper loss against still air, heat stored in the copper",
                term("for ever", "At the line amps for ever", _known(steady), "c"),
                term(
                    "W", "Lost in both cables at the line amps", load**2 * cable_ohm(g.cable), "w"
                ),
                term("M", f"Lug for {section * 1e6:.0f} mm²: M", lug_bolt(section), "ratio"),
            )
        )
    phase = g.phase_cable.section_m2.amount
    if phase is not None and run is not None:
        out.append(
            figure(
                "phase_c",
                "Phase leads at their warmest",
                leads_peak_c(bike),
                "c",
                "the same, with phase amps RMS",
                term("I", "RMS over the time", run.worked_phase_a / math.sqrt(2.0), "a"),
                term("M", "Lug: M", lug_bolt(phase), "ratio"),
            )
        )
    if g.plug.i_cont_a.amount and load is not None:
        worked = run.worked_a if run else load
        out.append(
            figure(
                "plug_k",
                "Main plug, rise at the line amps",
                plug_rise_k(load, g.plug.i_cont_a.amount, g.plug.r_ohm.amount),
                "k",
                "30 K x (I / rated)²; common practice",
                term(
                    "run",
                    "at the mean of a run",
                    plug_rise_k(worked, g.plug.i_cont_a.amount, g.plug.r_ohm.amount),
                    "k",
                ),
            )
        )
    return tuple(out)
