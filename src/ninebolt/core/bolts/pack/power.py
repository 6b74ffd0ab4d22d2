"""Pack: what it may give – by cell, strip and temperature – and what heat that makes."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.battery.heat import repeated
from ninebolt.core.battery.ocv import interpolator
from ninebolt.core.battery.pack import PackFacts, power_at, sag_at, usable_wh
from ninebolt.core.battery.sag import volts_at_power
from ninebolt.core.bike.cells import cell_curve, warm_share
from ninebolt.core.bike.path import floor_v
from ninebolt.core.bike.session import SessionRow, lump_j_k, one_run_k
from ninebolt.core.bike.shape import body_of, steps_of
from ninebolt.core.bolts.common import Context, Notes, figure, term
from ninebolt.core.build import Build
from ninebolt.core.finding import PRACTICE, Figure, Fix, Source, q, setting
from ninebolt.core.guard.conductors import strip_amps, strip_ohm
from ninebolt.core.match.fill import Round
from ninebolt.core.parts.pack import Pack

SOCS = (1.0, 0.8, 0.6, 0.4, 0.2, 0.1)
MOST_RUNS = 500
STRIP_RISE_K = 30.0  # strips must not warm the cells. Common practice, no source.
CELL_LIFE_SHARE = 0.8  # of the peak current; run there often, cells age fast. Common practice.


@dataclass(frozen=True, slots=True)
class SagRow:
    """At one charge: volts at rest, under the line amps at once and settled, and most power."""

    soc: float
    rest_v: float
    load_v: float
    settled_v: float
    power_w: float


@dataclass(frozen=True, slots=True)
class AtPower:
    """The pack at a power: current, per cell and as C-rate, volts. verdict: ok, warm, over,
    never."""

    power_w: float
    amps: float | None
    cell_a: float | None
    c_rate: float | None
    volts: float | None
    verdict: str


def sag_rows(build: Build, facts: PackFacts, load_a: float | None) -> tuple[SagRow, ...]:
    """Sag and power over the charge; empty while the resistance is unknown."""
    if math.isnan(facts.r_ohm):
        return ()
    s, volts, floor = (
        build.pack.series or 0,
        interpolator(cell_curve(build.pack.cell)),
        floor_v(build),
    )
    i = load_a or 0.0
    return tuple(
        SagRow(
            soc,
            s * volts(soc),
            sag_at(facts, s * volts(soc), i),
            sag_at(facts, s * volts(soc), i, settled=True),
            power_at(facts, s * volts(soc), floor),
        )
        for soc in SOCS
    )


def at_power(build: Build, facts: PackFacts, power_w: float) -> AtPower:
    """Current, per cell and C-rate, that a power asks at the start charge (C3)."""
    pack = build.pack
    e = (pack.series or 0) * interpolator(cell_curve(pack.cell))(pack.start_soc.taken)
    v = volts_at_power(e, facts.r_ohm, power_w) if not math.isnan(facts.r_ohm) else e
    if v is None or v <= 0:
        return AtPower(power_w, None, None, None, None, "never")
    amps = power_w / v
    verdict = "over" if amps > facts.peak_a else "warm" if amps > facts.cont_a else "ok"
    each = amps / (pack.parallel or 1)
    return AtPower(power_w, amps, each, amps / facts.capacity_ah, v, verdict)


def strip_limits(pack: Pack) -> tuple[float, float] | None:
    """(amps that all strips of one step carry, ohms of all steps); None while not measured."""
    s = pack.strips
    width, thick = s.width_m.amount, s.thick_m.amount
    body = body_of(pack)
    pitch = body.pitch_m if isinstance(body, Round) else None
    length = s.length_m.or_else(pitch or math.nan)
    if width is None or thick is None or math.isnan(length):
        return None
    each = s.each or (pack.parallel or 1)
    amps = each * strip_amps(s.metal, width, thick, STRIP_RISE_K)
    ohm = max(steps_of(pack) - 1, 1) * strip_ohm(s.metal, width, thick, length) / each
    return amps, ohm


def thickness_for(pack: Pack, amps: float) -> float | None:
    """Thickness that the strips need for a current at their width (m); None without a width."""
    s = pack.strips
    if s.width_m.amount is None:
        return None
    each = s.each or (pack.parallel or 1)
    low, high = 1e-5, 0.01
    for _ in range(40):
        mid = math.sqrt(low * high)
        enough = each * strip_amps(s.metal, s.width_m.amount, mid, STRIP_RISE_K) >= amps
        low, high = (low, mid) if enough else (mid, high)
    return high if high < 0.0099 else None


def power_figures(
    build: Build,
    facts: PackFacts,
    load_a: float | None,
    rows: tuple[SessionRow, ...],
    context: Context,
) -> tuple[Figure, ...]:
    """Figures of limits and heat."""
    pack, cell = build.pack, build.pack.cell
    strips = strip_limits(pack)
    share = warm_share(pack)
    least = min(facts.cont_a * share, strips[0] if strips else math.inf)
    heat = one_run_k(build, context)
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
        )
        if known
        else None
    )
    return figure(
        "usable",
        "Usable at half the line amps",
        value,
        "wh",
        "∫ V(P) dQ to the floor",
        term("P", "Load", load_w, "w"),
        term("floor", "Not below", floor_v(build) or None, "v", "drive.controller.lvc_v"),
    )


def judge_power(
    build: Build, notes: Notes, facts: PackFacts, load_a: float | None, rows: tuple[SessionRow, ...]
) -> None:
    """Strips, temperature, life, and the session's heat."""
    pack, cell = build.pack, build.pack.cell
    strips = strip_limits(pack)
    if strips and load_a and load_a > strips[0] * 1.5:
        _thin_strips(build, notes, strips[0], load_a)
    share = warm_share(pack)
    if share < 1.0:
        temp = pack.temp_c.taken
        notes.add(
            "caution",
            "temperature",
            "Too cold or too hot for full current",
            f"At {q(temp, 'c')} the cells may give {share:.0%} of their rating; the runs are held "
            "to that.",
            PRACTICE,
            measured=share * 100,
            limit=100,
            quantity="pct",
            parts=("pack",),
        )
    each = load_a / (pack.parallel or 1) if load_a else 0.0
    peak = cell.i_peak_a.amount
    if peak and facts.cont_a < (load_a or 0.0) <= facts.peak_a and each > CELL_LIFE_SHARE * peak:
        notes.add(
            "note",
            "life",
            "The cells are run near their peak",
            f"{q(each, 'a')} a cell of {q(peak, 'a')} peak at every full throttle: they age fast; "
            "expect resistance to grow within a season.",
            PRACTICE,
            measured=each,
            limit=CELL_LIFE_SHARE * peak,
            quantity="a",
            parts=("pack.cell",),
        )
    if rows:
        _session_heat(build, notes, rows)


def _thin_strips(build: Build, notes: Notes, amps: float, load_a: float) -> None:
    need = thickness_for(build.pack, load_a / 1.4)
    fixes: tuple[Fix, ...] = ()
    if need is not None:
        fixes = (
            Fix(
                f"Take strips {need * 1000:.2f} mm thick",
                (setting("pack.strips.thick_m", need, "label"),),
            ),
        )
    notes.add(
        "caution",
        "strips",
        "The strips between the groups are thin",
        f"All strips of a step carry {q(amps, 'a')} for a rise of {STRIP_RISE_K:.0f} K; full "
        f"throttle asks {q(load_a, 'a')}. They heat the cells they are welded to.",
        Source("computed", "ρ of the metal, still air on one face"),
        measured=load_a,
        limit=amps,
        quantity="a",
        parts=("pack.strips",),
        fixes=fixes,
    )


def _session_heat(build: Build, notes: Notes, rows: tuple[SessionRow, ...]) -> None:
    limit = build.pack.cell.temp_max_c.taken
    over = next((i for i, r in enumerate(rows) if r.pack_c > limit), None)
    lump = lump_j_k(build)
    if over is not None:
        notes.add(
            "stop",
            "session_heat",
            "The cells get too hot in the session",
            f"In run {over + 1} they pass {q(limit, 'c')}. Rest longer, fewer runs, or more cells "
            "in parallel.",
            Source("computed", "one lump with Newton cooling"),
            measured=rows[over].pack_c,
            limit=limit,
            quantity="c",
            parts=("pack", "goal"),
        )
    elif lump:
        _longer(build, notes, rows, lump, limit)


def _longer(
    build: Build, notes: Notes, rows: tuple[SessionRow, ...], lump: float, limit: float
) -> None:
    """The same runs until the pack is empty: do the cells stay cool that long?"""
    pack, start = build.pack, build.pack.temp_c.taken
    spent = (pack.start_soc.taken - rows[-1].soc) / len(rows)
    count = int(pack.start_soc.taken / spent) if spent > 0 else len(rows)
    heat = (rows[0].pack_c - start) * lump
    temps = repeated(
        start,
        start,
        [heat] * min(count, MOST_RUNS),
        build.goal.rest_s.taken,
        lump,
        pack.air_k_w.taken,
    )
    over = next((i for i, t in enumerate(temps, 1) if t > limit), None)
    if over is not None:
        notes.add(
            "note",
            "session_long",
            "A longer session would overheat the cells",
            f"{len(rows)} runs end at {q(rows[-1].pack_c, 'c')}; the charge lasts for {count}, but "
            f"in run {over} they would pass {q(limit, 'c')}.",
            Source("computed", "one lump with Newton cooling, equal runs"),
            measured=temps[-1],
            limit=limit,
            quantity="c",
            parts=("pack",),
        )
