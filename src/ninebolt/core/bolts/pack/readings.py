"""Pack: is what is claimed possible, how full is it, do its groups and modules belong together, and
may another pack be joined to it?"""

from __future__ import annotations

import math

from ninebolt.core.battery.joining import Joining, join, level_time_s, lift_time_s
from ninebolt.core.battery.ocv import interpolator, soc_at
from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.battery.series import SeriesString, string_of
from ninebolt.core.bike.cells import cell_curve, cell_full_v, cell_nominal_v
from ninebolt.core.bolts.common import Notes, figure, term
from ninebolt.core.build import Build
from ninebolt.core.finding import BUILD, PRACTICE, Change, Figure, Fix, Source, q, setting

CELL_READING_V = 0.010  # what a meter and a short rest leave open, per cell. Common practice.
CLAIM_SLACK = 0.08  # labels round up. Common practice, no source.
NEAR_SOC = 0.05
JOIN_SPREAD_V = 0.010  # cells this near at rest may be joined. Common practice, no source.
HOLD_SPREAD_V = 0.050  # further apart than this: hold, bring them level first. Common practice.
LEVEL_V = 0.1  # packs this near may be joined hard. Common practice, no source.


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


def judge_checks(build: Build, notes: Notes, facts: PackFacts) -> None:
    """Findings of claim, charge, groups, modules and joining."""
    claimed = build.pack.claimed_wh.amount
    if claimed is not None and claimed > facts.energy_wh * (1 + CLAIM_SLACK):
        notes.add(
            "caution",
            "claim",
            "More energy is claimed than volts times amp-hours give",
            f"{q(claimed, 'wh')} claimed, {q(facts.energy_wh, 'wh')} computed: "
            f"{claimed / facts.energy_wh - 1:+.0%} of the computed.",
            Source("computed", "S P x Ah x mean open-circuit volts"),
            measured=claimed,
            limit=facts.energy_wh,
            quantity="wh",
            parts=("pack",),
        )
    _judge_rest(build, notes, facts)
    _judge_groups(build, notes)
    _judge_modules(build, notes)
    _judge_mixing(build, notes, facts)
    joined = joining_of(build, facts)
    if joined is not None:
        _judge_joining(build, notes, facts, joined)


def _judge_joining(build: Build, notes: Notes, facts: PackFacts, joined: Joining) -> None:
    delta = abs((build.pack.rested_v.amount or 0) - (build.pack.other.volts_v.amount or 0))
    # The lower pack is charged by the higher one: its charge limit counts.
    charge = build.pack.cell.i_charge_a.amount
    limit = charge * (build.pack.parallel or 1) if charge is not None else facts.capacity_ah
    close = delta * 0.2 * limit / joined.peak_a if joined.peak_a > 0 else delta
    if joined.peak_a > 0.2 * limit:
        level = {"amount": build.pack.rested_v.amount, "origin": "measured", "tolerance": 0.002}
        notes.add(
            "stop" if joined.peak_a > limit else "caution",
            "join",
            "Do not join these packs yet",
            f"{q(delta, 'v')} apart drives {q(joined.peak_a, 'a')} at the first touch and takes "
            f"about {q(3 * joined.tau_s, 's')} to level. Bring them within {q(close, 'v')} with a "
            "charger first, or join through a resistor.",
            Source("computed", "ΔV / ΣR"),
            measured=joined.peak_a,
            limit=0.2 * limit,
            quantity="a",
            parts=("pack.other",),
            fixes=(Fix("They have been charged level", (Change("pack.other.volts_v", level),)),),
        )
    if abs(joined.share - 0.5) > 0.1:
        notes.add(
            "note",
            "join_share",
            "The packs will not share alike",
            f"This one carries {joined.share:.0%} of the current; watch its own limit, not the "
            "sum.",
            Source("computed", "R₂ / (R₁ + R₂)"),
            measured=joined.share,
            limit=0.5,
        )


def _judge_rest(build: Build, notes: Notes, facts: PackFacts) -> None:
    rested = build.pack.rested_v.amount
    if rested is None:
        return
    if rested > facts.full_v * 1.005:
        notes.add(
            "stop",
            "overfull",
            "The pack stands above full",
            f"{q(rested, 'v')} against {q(facts.full_v, 'v')}: overcharged, or another series "
            "count than written. Do not charge it; find out outdoors.",
            PRACTICE,
            measured=rested,
            limit=facts.full_v,
            quantity="v",
            parts=("pack",),
        )
    elif rested < facts.empty_v:
        notes.add(
            "stop",
            "underempty",
            "The pack rests below empty",
            f"{q(rested, 'v')} against {q(facts.empty_v, 'v')}: some cells are over-discharged, or "
            "the series count is not as written. Read every group before anything else.",
            PRACTICE,
            measured=rested,
            limit=facts.empty_v,
            quantity="v",
            parts=("pack",),
        )


def _judge_groups(build: Build, notes: Notes) -> None:
    """Group voltages as read (C7, D14): spread, the outlier, and any that stands past full."""
    rows = build.pack.group_v
    if len(rows) < 2:
        return
    full = cell_full_v(build.pack.cell)
    volts = [v for _, v in rows]
    spread, mean = max(volts) - min(volts), sum(volts) / len(volts)
    top = max(rows, key=lambda r: r[1])
    far = max(rows, key=lambda r: abs(r[1] - mean))
    if max(volts) > full + 0.02:
        notes.add(
            "stop",
            "group_over",
            "Stop charging: a group stands past full",
            f"Group {top[0]:.0f} reads {q(max(volts), 'v')}, full is {q(full, 'v')}.",
            PRACTICE,
            measured=max(volts),
            limit=full,
            quantity="v",
            parts=("pack",),
        )
    elif spread > JOIN_SPREAD_V:
        notes.add(
            "stop" if spread > HOLD_SPREAD_V else "caution",
            "group_spread",
            "The groups stand apart",
            f"{q(spread, 'v')} between the highest and the lowest; group {far[0]:.0f} is furthest "
            f"off at {q(far[1], 'v')}. Within {q(JOIN_SPREAD_V, 'v')} they may be joined; over "
            f"{q(HOLD_SPREAD_V, 'v')} hold, and charge each to the same voltage first.",
            PRACTICE,
            measured=spread,
            limit=JOIN_SPREAD_V,
            quantity="v",
            parts=("pack",),
        )


def _judge_modules(build: Build, notes: Notes) -> None:
    string = string_of_modules(build)
    if string is None:
        return
    names = [m.name or f"module {i + 1}" for i, m in enumerate(build.pack.modules)]
    if string.lost_share > 0.02:
        notes.add(
            "caution",
            "string",
            "Unequal modules in series cost capacity",
            f"{string.lost_share:.1%} of their mean is lost: {names[string.empty_first]} is empty "
            f"first, {names[string.full_first]} is full first. Charge them level one by one, or "
            "swap the weakest.",
            Source("computed", "the smallest ends the discharge, the fullest the charge"),
            measured=string.lost_share * 100,
            limit=2.0,
            quantity="pct",
            parts=("pack.modules",),
        )
    ohms = [m.r_ohm.amount for m in build.pack.modules if m.r_ohm.amount is not None]
    if len(ohms) > 1 and max(ohms) > 1.5 * sum(ohms) / len(ohms):
        mean = sum(ohms) / len(ohms)
        notes.add(
            "caution",
            "string_r",
            "One module resists more than the others",
            f"{q(max(ohms), 'ohm')} against a mean of {q(mean, 'ohm')}: it sags first and warms "
            "most. Read its joints again before blaming its cells.",
            PRACTICE,
            measured=max(ohms),
            limit=1.5 * mean,
            quantity="ohm",
            parts=("pack.modules",),
        )


def _judge_mixing(build: Build, notes: Notes, facts: PackFacts) -> None:
    """What must not be mixed in parallel, with the reason."""
    pack, other = build.pack, build.pack.other
    if other.series is not None and pack.series is not None and other.series != pack.series:
        notes.add(
            "stop",
            "mix_series",
            "Packs of different series count are never joined in parallel",
            f"{other.series} cells against {pack.series}: full ones differ by "
            f"{q(abs(other.series - pack.series) * cell_full_v(pack.cell), 'v')}, and one would "
            "charge the other without end.",
            PRACTICE,
            measured=other.series,
            limit=pack.series,
            parts=("pack.other",),
        )
    elif other.chemistry not in ("unknown", pack.cell.chemistry):
        notes.add(
            "stop",
            "mix_chemistry",
            "Different chemistries are never joined in parallel",
            f"{other.chemistry.replace('_', ' ')} and {pack.cell.chemistry.replace('_', ' ')} have "
            "different curves: at one voltage they stand at different charge, and current flows "
            "between them at rest.",
            PRACTICE,
            measured=1,
            limit=0,
            parts=("pack.other",),
        )
    ah = other.capacity_ah.amount
    if ah is not None and not 0.8 <= ah / facts.capacity_ah <= 1.25:
        notes.add(
            "note",
            "mix_size",
            "The packs differ in size",
            f"{q(ah, 'ah')} beside {q(facts.capacity_ah, 'ah')}: allowed, but the current splits "
            "by resistance, not by size; compare amps per amp-hour of each.",
            PRACTICE,
            measured=ah,
            limit=facts.capacity_ah,
            quantity="ah",
            parts=("pack.other",),
        )


def _stand_in_wh(build: Build, notes: Notes, facts: PackFacts) -> None:
    """How much shorter rides are with the stand-in."""
    s, cell = build.pack.stand_in, build.pack.cell
    share = cell_nominal_v(cell) / cell_full_v(cell)
    volts = s.full_v.amount
    if volts is None and s.series is not None:
        volts = s.series * cell_full_v(cell)
    if s.capacity_ah.amount is None or volts is None or math.isnan(share):
        return
    wh = s.capacity_ah.amount * volts * share
    if wh < facts.energy_wh:
        notes.add(
            "note",
            "stand_in_wh",
            "With the stand-in pack rides are shorter",
            f"It holds about {q(wh, 'wh')}, the planned one {q(facts.energy_wh, 'wh')}: about "
            f"{wh / facts.energy_wh:.0%} of the ride.",
            Source("computed", "Ah x nominal volts of the same chemistry"),
            measured=wh,
            limit=facts.energy_wh,
            quantity="wh",
            parts=("pack.stand_in",),
        )


def judge_stand_in(build: Build, notes: Notes, facts: PackFacts) -> None:
    """Riding with a borrowed pack: the cap that it brings, and what does not fit it (C16)."""
    s, c = build.pack.stand_in, build.drive.controller
    _stand_in_wh(build, notes, facts)
    limits = [x for x in (s.i_cont_a.amount, s.plug_a.amount) if x is not None]
    if limits and c.line_a.amount is not None and c.line_a.amount > min(limits):
        cap = math.floor(min(limits))
        notes.add(
            "caution",
            "stand_in",
            "The stand-in pack wants a cap",
            f"It and its plug give {q(min(limits), 'a')} for good, the line amps are set to "
            f"{q(c.line_a.amount, 'a')}. Cap them while it is fitted, and set them back after.",
            PRACTICE,
            measured=c.line_a.amount,
            limit=min(limits),
            quantity="a",
            parts=("pack.stand_in", "drive.controller"),
            fixes=(Fix(f"Cap line amps at {cap} A", (setting("drive.controller.line_a", cap),)),),
        )
    full, top = s.full_v.amount, c.v_max_v.amount
    if full is not None and top is not None and full > top:
        notes.add(
            "stop",
            "stand_in_v",
            "The stand-in pack is above the controller's ceiling",
            f"{q(full, 'v')} full against {q(top, 'v')}.",
            BUILD,
            measured=full,
            limit=top,
            quantity="v",
            parts=("pack.stand_in",),
        )
    if s.series is not None and build.pack.series is not None and s.series != build.pack.series:
        notes.add(
            "caution",
            "stand_in_s",
            "The stand-in pack has another number of cells",
            f"{s.series} against {build.pack.series} in series: low-voltage cut-off, display and "
            "charger are set for the other one. Use a profile of its own.",
            PRACTICE,
            measured=s.series,
            limit=build.pack.series,
            parts=("pack.stand_in",),
        )
