"""Pack: the order of assembly with its hold points, and the volts expected on each balance lead."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.battery.ocv import interpolator
from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bike.cells import CLASS_B_V, cell_curve, cell_empty_v, cell_full_v
from ninebolt.core.bike.layout import Fitted
from ninebolt.core.bike.mass import pack_kg
from ninebolt.core.bike.shape import per_group, steps_of
from ninebolt.core.bolts.pack.insulation import insulation_for
from ninebolt.core.bolts.pack.limits import (
    HOLD_G,
    JOIN_SPREAD_V,
    QUARTER,
    TAP_HIGH_V,
    TAP_LOW_V,
    TAP_ZERO_V,
)
from ninebolt.core.bolts.pack.power import thickness_for
from ninebolt.core.build import Build
from ninebolt.core.finding import q
from ninebolt.core.match.accept import HOLD_SPREAD_V
from ninebolt.units import GRAVITY_M_S2

LIVE = (
    "Stored energy cannot be switched off: cover what is live, one hand, no jewellery, a fire plan."
)


@dataclass(frozen=True, slots=True)
class Step:
    """One step. hold: nothing goes on until it is measured. caution: what matters there."""

    key: str
    title: str
    detail: str
    hold: bool
    caution: str
    done: bool


@dataclass(frozen=True, slots=True)
class Tap:
    """One balance lead, counted from the pack's minus: volts expected and read, and if it fits."""

    lead: int
    expected_v: float
    read_v: float | None
    fits: bool | None


@dataclass(frozen=True, slots=True)
class Assembly:
    """The guide: steps in order and the balance leads."""

    steps: tuple[Step, ...]
    taps: tuple[Tap, ...]


def cell_now_v(build: Build) -> float:
    """Volts of one cell as it stands: from the rested reading, else at the start charge."""
    pack = build.pack
    if pack.rested_v.amount is not None and pack.series:
        return pack.rested_v.amount / pack.series
    return interpolator(cell_curve(pack.cell))(pack.start_soc.taken)


def taps_of(build: Build) -> tuple[Tap, ...]:
    """Balance lead k stands at k cells above minus. A reading fits if the step from the lead before
    it is a cell's voltage."""
    series = build.pack.series or 0
    each = cell_now_v(build)
    read = {round(k): v for k, v in build.pack.tap_v}
    low, high = cell_empty_v(build.pack.cell) - TAP_LOW_V, cell_full_v(build.pack.cell) + TAP_HIGH_V
    out = []
    for k in range(series + 1):
        got, before = read.get(k), read.get(k - 1, 0.0 if k <= 1 else None)
        fits = None
        if got is not None:
            if k == 0:
                fits = abs(got) < TAP_ZERO_V
            elif before is not None:
                fits = low <= got - before <= high
        out.append(Tap(k, k * each, got, fits))
    return tuple(out)


def guide(build: Build, facts: PackFacts, fit: Fitted | None, load_a: float | None) -> Assembly:
    """The steps for this pack, in order."""
    made = _ready(build) if build.pack.source == "ready_made" else _built(build, facts, fit, load_a)
    done = set(build.pack.done)
    steps = tuple(Step(k, t, d, h, c, k in done) for k, t, d, h, c in made)
    return Assembly(steps, taps_of(build))


Row = tuple[str, str, str, bool, str]


def _ready(build: Build) -> list[Row]:
    expected = (build.pack.series or 0) * cell_now_v(build)
    return [
        (
            "look",
            "Look at it and read its label",
            "Case whole, no smell, series count and volts as ordered.",
            True,
            LIVE,
        ),
        (
            "volts",
            "Read its voltage at the plug",
            f"Expected near {q(expected, 'v')}. Much lower: do not charge it, send it back.",
            True,
            "",
        ),
        _strap(build),
        (
            "plug",
            "Push the plug home and mark it",
            "Paint a line across both halves: if it moves, the line breaks.",
            True,
            "A plug not pushed home burns at the first full throttle.",
        ),
    ]


def _built(build: Build, facts: PackFacts, fit: Fitted | None, load_a: float | None) -> list[Row]:
    return [*_groups_rows(build, fit), *_string_rows(build, facts, load_a), *_closing_rows(build)]


def _groups_rows(build: Build, fit: Fitted | None) -> list[Row]:
    pack = build.pack
    steps, each, now = steps_of(pack), per_group(pack), cell_now_v(build)
    reject = ""
    if pack.source in ("salvaged_cells", "vehicle_modules"):
        reject = " Salvage that is dented, swollen, wet or below its empty voltage is not used."
    word = "group" if pack.cell.form == "cylindrical" else "body"
    return [
        (
            "measure",
            "Measure every cell or module",
            f"Rested an hour. Within {q(JOIN_SPREAD_V, 'v')} of each other they may be joined; "
            f"over {q(HOLD_SPREAD_V, 'v')} hold.{reject}",
            True,
            "Outdoors or on stone for cells of unknown past; sand at hand.",
        ),
        (
            "rings",
            "Insulate each cell end and side",
            f"{steps * each} rings on the positive ends, sleeves whole; {_sheets(build, fit)}.",
            False,
            "",
        ),
        (
            "groups",
            f"Join each {word} in parallel first",
            f"{steps} times {each}. Each then reads {q(now, 'v')}; one that falls away within a "
            "day has a bad cell.",
            True,
            LIVE,
        ),
    ]


def _string_rows(build: Build, facts: PackFacts, load_a: float | None) -> list[Row]:
    pack, now = build.pack, cell_now_v(build)
    return [
        (
            "strips",
            "Make the strips",
            _strip_words(build, load_a),
            False,
            "Weld at half charge or less; no weld on the cell's can beside the positive end.",
        ),
        (
            "series",
            "Join the groups in series, from minus up",
            "One joint at a time, the rest covered. It grows by "
            f"{q(now * pack.cell.body_series, 'v')} a step to {q(facts.full_v, 'v')} full.",
            False,
            f"Past {q(CLASS_B_V, 'v')} it can kill: insulated tools, one hand, someone within "
            "call.",
        ),
        (
            "leads",
            "Fit the balance leads, minus first",
            f"{(pack.series or 0) + 1} leads in order; the BMS stays unplugged.",
            False,
            "A lead on the wrong group puts several cells on one input: it burns.",
        ),
        (
            "taps",
            "Read every balance lead before the BMS is plugged in",
            f"Each step {q(now, 'v')}, rising without a gap.",
            True,
            "",
        ),
    ]


def _closing_rows(build: Build) -> list[Row]:
    return [
        (
            "fuse",
            "Fuse at the pack's own pole",
            "The lead between pole and fuse is protected by nothing: as short as it can be, "
            "sleeved twice.",
            True,
            LIVE,
        ),
        (
            "relief",
            "Relieve every lead of strain",
            "Clamp within a hand's width of each joint; no edge, no hinge, no bend under four "
            "diameters.",
            False,
            "",
        ),
        _strap(build),
        ("housing", "Close the housing", _housing_words(build), True, ""),
    ]


def _sheets(build: Build, fit: Fitted | None) -> str:
    per = cell_full_v(build.pack.cell) * build.pack.cell.body_series
    if fit is None or not fit.sides:
        return "a ring or paper under every strip"
    worst = (max(s.steps for s in fit.sides) + 1) * per
    return f"where groups {q(worst, 'v')} apart lie side by side, {insulation_for(worst)}"


def _strip_words(build: Build, load_a: float | None) -> str:
    s = build.pack.strips
    if load_a is None:
        return "Set the line amps first: they say what a strip must carry."
    each = s.each or (build.pack.parallel or 1)
    need = thickness_for(build.pack, load_a / QUARTER)
    what = f"{q(load_a, 'a')} over {each} strips is {q(load_a / each, 'a')} each"
    if need is None:
        return f"{what}. Give a strip's width to see the section that it needs."
    width, metal = s.width_m.or_else(0.0), s.metal.replace("_", " ")
    return (
        f"{what}: {metal} {q(width, 'm')} wide wants {q(need, 'm')} of thickness, a section of "
        f"{q(width * need, 'm2')}."
    )


def _strap(build: Build) -> Row:
    kg = pack_kg(build)
    words = "Weigh it, then strap it for five times its weight."
    if kg:
        force = HOLD_G * kg * GRAVITY_M_S2
        words = (
            f"Straps and tray hold {q(force, 'n')} in every direction, {HOLD_G:.0f} times its "
            f"{q(kg, 'kg')}."
        )
    caution = "A loose pack tears its leads off: short circuit."
    return ("strap", "Strap it down", words, True, caution)


def _housing_words(build: Build) -> str:
    if build.pack.housing == "metal":
        return (
            "Liner on all inner faces, edges rolled; the case bonded to the frame; a way out for "
            "gas that points away from the rider."
        )
    return (
        "A way out for gas that points away from the rider, drain at the lowest point, no screw "
        "that can reach a cell."
    )
