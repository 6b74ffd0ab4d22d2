"""Pack: which cells, how many, and will they go in?"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.battery.ocv import interpolator
from ninebolt.core.battery.pack import PackFacts, energy_between, power_at, sag_at
from ninebolt.core.bolts.common import CLASS_B_V, Context, Notes, Result, figure, term
from ninebolt.core.bolts.pack_checks import check_figures, judge_checks
from ninebolt.core.build import Build, Pack
from ninebolt.core.finding import PRACTICE, Change, Figure, Fix, Source, q, setting
from ninebolt.core.match.fit import Fit, Slot, fit_boxes, fit_round
from ninebolt.core.parts.frame import Bay
from ninebolt.core.simulate.assemble import (
    cell_curve,
    cell_empty_v,
    cell_full_v,
    cell_nominal_v,
    cell_peak_a,
    floor_v,
    line_setting_a,
    pack_kg,
    take,
)

WALL_M = 0.0005  # holder wall between round cells when no pitch is given. Common practice.
SOCS = (1.0, 0.8, 0.6, 0.4, 0.2, 0.1)


@dataclass(frozen=True, slots=True)
class SagRow:
    """At one charge: volts at rest, under the line amps at once and settled, and most power."""

    soc: float
    rest_v: float
    load_v: float
    settled_v: float
    power_w: float


@dataclass(frozen=True, slots=True)
class PackDrawing:
    """The fullest pattern in the first bay, to scale in metres; needed bodies are placed first."""

    bay: dict[str, float] | None
    face: str
    body_m: tuple[float, float]
    round: bool
    slots: tuple[Slot, ...]
    needed: int
    capacity: int
    layers: int
    pattern: str
    axis: str
    series: int
    parallel: int
    sag: tuple[SagRow, ...]
    load_a: float | None


def facts_of(pack: Pack) -> PackFacts | None:
    """Whole-pack values; None while the cell or the numbers in series and parallel are unknown."""
    s, p, cell = pack.series, pack.parallel, pack.cell
    curve = cell_curve(cell)
    if s is None or p is None or cell.capacity_ah.amount is None or not curve:
        return None
    ah = cell.capacity_ah.amount
    return PackFacts(
        full_v=s * cell_full_v(cell),
        nominal_v=s * cell_nominal_v(cell),
        empty_v=s * cell_empty_v(cell),
        capacity_ah=p * ah,
        energy_wh=s * p * energy_between(curve, ah),
        cont_a=p * cell.i_cont_a.or_else(math.inf),
        peak_a=p * cell_peak_a(cell),
        r_ohm=s / p * cell.r0_ohm.or_else(math.nan) + take(pack, "interconnect_ohm"),
        slow_ohm=s / p * take(cell, "r1_ohm"),
    )


def inside(bay: Bay) -> dict[str, float] | None:
    """Free inside of a bay after padding (m); None while a size is unknown."""
    sizes = {
        "length": bay.length_m.amount,
        "height": bay.height_m.amount,
        "width": bay.width_m.amount,
    }
    pad = 2.0 * take(bay, "padding_m")
    return {k: v - pad for k, v in sizes.items() if v is not None} if all(sizes.values()) else None


def body_fits(pack: Pack, free: dict[str, float]) -> list[Fit]:
    """Patterns of this pack's bodies in the free space, fullest first; empty if sizes unknown."""
    cell = pack.cell
    if cell.form == "cylindrical":
        if cell.diameter_m.amount is None or cell.length_m.amount is None:
            return []
        d = cell.diameter_m.amount
        pitch = max(pack.pitch_m.or_else(d + WALL_M), d)
        return fit_round(free, d, cell.length_m.amount, pitch)
    sizes = [cell.length_m.amount, cell.width_m.amount, cell.height_m.amount]
    if any(x is None for x in sizes):
        return []
    a, b, c = (x or 0.0 for x in sizes)
    return fit_boxes(free, (a, b, c))


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
    drawing = _drawing(build, facts, load_a)
    _judge_electrical(build, notes, facts, load_a)
    _judge_fit(build, notes, drawing)
    judge_checks(build, notes, facts)
    figures = (*_figures(build, facts, load_a), *check_figures(build, facts))
    return Result(figures, notes.done(), missing, drawing)


def _drawing(build: Build, facts: PackFacts, load_a: float | None) -> PackDrawing:
    pack = build.pack
    s, p = pack.series or 0, pack.parallel or 0
    volts = interpolator(cell_curve(pack.cell))
    floor = floor_v(build)
    sag = (
        tuple(
            SagRow(
                soc,
                s * volts(soc),
                sag_at(facts, s * volts(soc), load_a or 0.0),
                sag_at(facts, s * volts(soc), load_a or 0.0, settled=True),
                power_at(facts, s * volts(soc), floor),
            )
            for soc in SOCS
        )
        if not math.isnan(facts.r_ohm)
        else ()
    )
    free = inside(build.donor.bays[0]) if build.donor.bays else None
    fits = body_fits(pack, free) if free and min(free.values()) > 0 else []
    needed = math.ceil(s * p / (pack.cell.body_series * pack.cell.body_parallel))
    best = fits[0] if fits else Fit("", "width", 0, 0, 0, "length-height", ())
    round_ = pack.cell.form == "cylindrical"
    size = _face_size(pack, best, round_)
    return PackDrawing(
        free,
        best.face,
        size,
        round_,
        best.slots[:2000],
        needed,
        best.capacity,
        best.layers,
        best.pattern,
        best.axis,
        s,
        p,
        sag,
        load_a,
    )


def _face_size(pack: Pack, fit: Fit, round_: bool) -> tuple[float, float]:
    if round_:
        d = pack.cell.diameter_m.or_else(0.0)
        return d, d
    if "x" in fit.pattern:
        a, b, _ = fit.pattern.split("x")
        return float(a) / 1000.0, float(b) / 1000.0
    return 0.0, 0.0


def _figures(build: Build, facts: PackFacts, load_a: float | None) -> tuple[Figure, ...]:
    pack = build.pack
    s, p, cell = pack.series, pack.parallel, pack.cell
    terms_s = term("S", "In series", s, "ratio", "pack.series")
    terms_p = term("P", "In parallel", p, "ratio", "pack.parallel")
    volts = interpolator(cell_curve(cell))
    start = (s or 0) * volts(take(pack, "start_soc"))
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
                take(pack, "interconnect_ohm"),
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
        figure("mass", "Mass", pack_kg(build) or None, "kg", "bodies x mass + case"),
    )


def _judge_electrical(build: Build, notes: Notes, facts: PackFacts, load_a: float | None) -> None:
    pack = build.pack
    s, p, cell = pack.series or 1, pack.parallel or 1, pack.cell
    if s % cell.body_series or p % cell.body_parallel:
        notes.add(
            "stop",
            "modules",
            "The counts do not come out in whole modules",
            f"A module holds {cell.body_series}s{cell.body_parallel}p; {s}s{p}p cannot be made "
            "of whole ones.",
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
                Fix(
                    f"Set line amps to {facts.peak_a:.0f} A",
                    (setting("drive.controller.line_a", math.floor(facts.peak_a)),),
                ),
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
            fixes=(
                Fix(
                    f"Set line amps to {facts.cont_a:.0f} A",
                    (setting("drive.controller.line_a", math.floor(facts.cont_a)),),
                ),
            ),
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


def _judge_fit(build: Build, notes: Notes, drawing: PackDrawing) -> None:
    if drawing.bay is None or not drawing.pattern:
        return
    bodies_per_p = drawing.needed / max(drawing.parallel, 1)
    room = drawing.capacity - drawing.needed
    if room < 0:
        most = int(drawing.capacity / bodies_per_p)
        fixes = (
            (Fix(f"Go to {most} in parallel", (Change("pack.parallel", most),)),)
            if most >= 1
            else ()
        )
        notes.add(
            "stop",
            "fit",
            "The pack does not go in",
            f"The bay takes {drawing.capacity} bodies ({drawing.pattern}, lying along its "
            f"{drawing.axis}); {drawing.series}s{drawing.parallel}p needs {drawing.needed}. "
            f"{'Most in parallel: ' + str(most) if most else 'Not even one string fits'}.",
            Source("computed", "packed to scale in the bay as measured"),
            measured=drawing.needed,
            limit=drawing.capacity,
            parts=("donor.bays.0", "pack.cell"),
            fixes=fixes,
        )
    else:
        notes.add(
            "note",
            "fits",
            "The pack goes in",
            f"{drawing.needed} bodies in a bay for {drawing.capacity}; {room} places are left for "
            "the BMS and cable.",
            Source("computed", "packed to scale in the bay as measured"),
            measured=drawing.needed,
            limit=drawing.capacity,
        )
