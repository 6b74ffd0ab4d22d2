"""Pack: charge from volts, joining with another pack, the string of measured modules."""

from __future__ import annotations

import math

from ninebolt.core.battery.joining import Joining, join, level_time_s, lift_time_s
from ninebolt.core.battery.ocv import interpolator, soc_at
from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.battery.series import SeriesString, string_of
from ninebolt.core.bike.cells import cell_curve, cell_full_v
from ninebolt.core.bolts.common import figure, term
from ninebolt.core.bolts.pack.limits import CELL_READING_V, LEVEL_V, NEAR_SOC
from ninebolt.core.build import Build
from ninebolt.core.finding import Figure


def check_figures(build: Build, facts: PackFacts) -> tuple[Figure, ...]:
    """Charge from volts, and the figures of joining and of the series string, where read."""
    pack, series = build.pack, build.pack.series or 1
    out = []
    rested = pack.rested_v.amount
    if rested is not None:
        low, mid, high = charge_of(build, rested / series, CELL_READING_V)
        out.append(
            figure(
                "soc_rest",
                "Charge, from rested volts",
                mid * 100,
                "pct",
                "open-circuit curve read backwards",
                term("V", "Volts per cell", rested / series, "v", "pack.rested_v"),
                term("from", "if the reading is 10 mV high", low * 100, "pct"),
                term("to", "if it is 10 mV low", high * 100, "pct"),
            )
        )
    loaded = _loaded(build, facts)
    if loaded is not None:
        out.append(loaded)
    joined = joining_of(build, facts)
    if joined is not None:
        out += _join_figures(build, facts, joined)
    string = string_figure(build)
    return tuple(out if string is None else [*out, string])


def _loaded(build: Build, facts: PackFacts) -> Figure | None:
    """Charge from volts under load: the drop is added back, its uncertainty carried along (C17)."""
    pack, series = build.pack, build.pack.series or 1
    volts, amps = pack.loaded_v.amount, pack.loaded_a.amount
    if volts is None or amps is None or math.isnan(facts.r_ohm):
        return None
    r = facts.r_ohm + facts.slow_ohm
    rest = (volts + amps * r) / series
    open_v = amps * r / series * pack.cell.r0_ohm.spread + CELL_READING_V
    low, mid, high = charge_of(build, rest, open_v)
    return figure(
        "soc_load",
        "Charge, from volts under load",
        mid * 100,
        "pct",
        "(V + I R) / S, open-circuit curve read backwards",
        term("V", "Volts under load", volts, "v", "pack.loaded_v"),
        term("I", "Current", amps, "a", "pack.loaded_a"),
        term("R", "Resistance, settled", r, "ohm"),
        term("from", "at the worst", low * 100, "pct"),
        term("to", "at the best", high * 100, "pct"),
    )


def _join_figures(build: Build, facts: PackFacts, joined: Joining) -> list[Figure]:
    other = build.pack.other
    delta = (build.pack.rested_v.amount or 0.0) - (other.volts_v.amount or 0.0)
    through, farads = other.join_ohm.amount, _farads(build, facts)
    total = facts.r_ohm + other.r_ohm.or_else(facts.r_ohm) + (through or 0.0)
    both = farads[0] * farads[1] / (farads[0] + farads[1])
    amps = other.level_a.amount
    return [
        figure(
            "join_peak",
            "Current when joined",
            joined.peak_a,
            "a",
            "ΔV / ΣR",
            term("heat", "Heat until level", joined.heat_wh, "wh"),
            term("moved", "Charge moved", joined.moved_ah, "ah"),
        ),
        figure("join_tau", "Time constant of levelling", joined.tau_s, "s", "ΣR C₁C₂ / (C₁ + C₂)"),
        figure(
            "join_share",
            "This pack's share of the load",
            joined.share * 100,
            "pct",
            "R₂ / (R₁ + R₂)",
        ),
        figure(
            "join_r",
            "Until within 0.1 V, through the resistor",
            level_time_s(delta, LEVEL_V, total, both) if through else None,
            "s",
            "τ ln(ΔV / 0.1 V)",
            term("R", "Resistor", through, "ohm", "pack.other.join_ohm"),
            term("I", "Current at first", abs(delta) / total if through else None, "a"),
            term(
                "P", "Its power at first", delta**2 / total**2 * through if through else None, "w"
            ),
        ),
        figure(
            "join_lift",
            "Until level, with a charger on the lower one",
            lift_time_s(delta, amps, farads[1] if delta > 0 else farads[0]) if amps else None,
            "s",
            "C ΔV / I",
            term("I", "Charger", amps, "a", "pack.other.level_a"),
        ),
    ]


def charge_of(build: Build, cell_v: float, open_v: float) -> tuple[float, float, float]:
    """Charge 0…1 at a rested cell voltage that is sure to ±open_v: lowest, likely, highest."""
    curve = cell_curve(build.pack.cell)
    return soc_at(curve, cell_v - open_v), soc_at(curve, cell_v), soc_at(curve, cell_v + open_v)


def _farads(build: Build, facts: PackFacts) -> tuple[float, float]:
    """Coulombs per volt of this pack and the other near where this one stands."""
    pack, other = build.pack, build.pack.other
    series = pack.series or 1
    curve = cell_curve(pack.cell)
    soc = soc_at(curve, (pack.rested_v.amount or 0.0) / series)
    volts = interpolator(curve)
    low, high = max(soc - NEAR_SOC, 0.0), min(soc + NEAR_SOC, 1.0)
    slope = max(series * (volts(high) - volts(low)) / (high - low), 1e-3)
    return facts.capacity_ah * 3600.0 / slope, other.capacity_ah.or_else(
        facts.capacity_ah
    ) * 3600.0 / slope


def joining_of(build: Build, facts: PackFacts) -> Joining | None:
    """What happens when the other pack is joined; None while its voltage is not read."""
    own, theirs = build.pack.rested_v.amount, build.pack.other.volts_v.amount
    if own is None or theirs is None or math.isnan(facts.r_ohm):
        return None
    mine, other = _farads(build, facts)
    r2 = build.pack.other.r_ohm.or_else(facts.r_ohm)
    return join(own - theirs, facts.r_ohm, r2, mine, other)


def string_of_modules(build: Build) -> SeriesString | None:
    """The measured modules as one string; None with fewer than two known capacities."""
    modules, cell = build.pack.modules, build.pack.cell
    rows = [m for m in modules if m.capacity_ah.amount is not None]
    if len(rows) < 2:
        return None
    curve, full = cell_curve(cell), cell_full_v(cell)
    socs = [
        soc_at(curve, m.volts_v.amount / max(cell.body_series, 1)) if m.volts_v.amount else 1.0
        for m in rows
    ]
    assert full > 0
    return string_of([m.capacity_ah.or_else(0.0) for m in rows], socs)


def string_figure(build: Build) -> Figure | None:
    string = string_of_modules(build)
    if string is None:
        return None
    return figure(
        "string_ah",
        "Usable charge of the modules in series",
        string.usable_ah,
        "ah",
        "min(C (1 - s)) + min(C s) over the modules",
        term("lost", "Lost against their mean", string.lost_share * 100, "pct"),
        term("spread", "Spread of capacity", string.spread * 100, "pct"),
    )
