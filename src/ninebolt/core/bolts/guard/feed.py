"""Judgements of the Guard bolt: charger, converter and lights, isolation."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.battery.ocv import interpolator
from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bike.cells import CLASS_B_V, cell_curve, cell_full_v
from ninebolt.core.bike.path import charger_v, coil_load_w, converter_load_w, used_down_to_v
from ninebolt.core.bolts.common import Notes
from ninebolt.core.bolts.guard.isolator import next_volts
from ninebolt.core.build import Build
from ninebolt.core.finding import BUILD, PRACTICE, Change, Fix, Source, q, setting
from ninebolt.core.guard.charging import Charge, charge, mains_amps
from ninebolt.core.guard.isolation import MIN_OHM_PER_V, isolation_ohm

OUTLET_SHARE = 0.8  # for hours on end. Common practice, no source.
WITH_BATTERY_V = (13.5, 13.8)  # float voltage of a 12 V battery. Common practice, no source.
WITHOUT_BATTERY_V = (11.8, 12.6)  # lamps and horn alone. Common practice, no source.


def judge_feed(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    """Charger, converter, lights, isolation."""
    _charger(build, notes, facts)
    _stacked(build, notes, facts)
    _outlet(build, notes)
    _dcdc(build, notes, facts)
    _loads(build, notes)
    _set_point(build, notes)
    _isolation(build, notes, facts)


def charge_of(build: Build, facts: PackFacts | None) -> Charge | None:
    """Empty to full with this charger (C15); None while something is unknown."""
    amps, end = build.guard.charger.i_a.amount, charger_v(build.guard.charger)
    if facts is None or amps is None or math.isnan(end) or math.isnan(facts.r_ohm):
        return None
    volts, series = interpolator(cell_curve(build.pack.cell)), build.pack.series or 1
    cut = build.guard.charger.cut_a.or_else(0.05 * facts.capacity_ah)
    r = facts.r_ohm + facts.slow_ohm
    return charge(lambda s: series * volts(s), r, facts.capacity_ah, end, amps, min(cut, amps), 0.0)


def _charger(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    charger, cell = build.guard.charger, build.pack.cell
    out, amps = charger_v(charger), charger.i_a.amount
    if facts and not math.isnan(out) and abs(out - facts.full_v) > 0.006 * facts.full_v:
        high = out > facts.full_v
        series, each = build.pack.series or 1, charger.stacked or 1
        other = high or facts.full_v - out > 0.5 * cell_full_v(cell)
        notes.add(
            "stop" if other else "caution",
            "charger_v",
            "The charger is for another pack" if other else "The charger does not fill the pack",
            f"It ends at {q(out, 'v')}, {series} cells are full at {q(facts.full_v, 'v')} "
            f"({q(out / series, 'v')} a cell against {q(cell_full_v(cell), 'v')}).",
            BUILD,
            measured=out,
            limit=facts.full_v,
            quantity="v",
            parts=("guard.charger",),
            fixes=(
                Fix(
                    f"Take a charger of {facts.full_v:.1f} V"
                    if each == 1
                    else f"Take {each} supplies of {facts.full_v / each:.2f} V",
                    (setting("guard.charger.out_v", facts.full_v / each, "label", 0.003),),
                ),
            ),
        )
    limit = build.guard.bms.i_charge_a.amount
    if amps is not None and limit is not None and amps > limit:
        notes.add(
            "stop",
            "charger_a",
            "The BMS opens while charging",
            f"The charger gives {q(amps, 'a')}, the BMS takes {q(limit, 'a')}.",
            BUILD,
            measured=amps,
            limit=limit,
            quantity="a",
            parts=("guard.charger", "guard.bms"),
            fixes=(Fix(f"Charge at {limit:.0f} A", (setting("guard.charger.i_a", limit),)),),
        )
    cell_limit = cell.i_charge_a.amount
    if amps is not None and cell_limit is not None and build.pack.parallel:
        most = cell_limit * build.pack.parallel
        if amps > most:
            notes.add(
                "stop",
                "charger_cells",
                "The charger is too strong for the cells",
                f"{q(amps / build.pack.parallel, 'a')} a cell against {q(cell_limit, 'a')}.",
                BUILD,
                measured=amps,
                limit=most,
                quantity="a",
                parts=("guard.charger",),
                fixes=(Fix(f"Charge at {most:.0f} A", (setting("guard.charger.i_a", most),)),),
            )


def _stacked(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    """Supplies in series (C14)."""
    charger = build.guard.charger
    count = charger.stacked or 1
    if count < 2 or facts is None:
        return
    if charger.floating is not True:
        notes.add(
            "stop",
            "stacked",
            "Stacked supplies must float",
            f"{count} supplies in series put {q(facts.full_v, 'v')} between their outputs: where "
            "an output is tied to earth or case, the second one is shorted. Each needs an isolated "
            "output, and a diode across it against being driven backwards.",
            PRACTICE,
            measured=count,
            limit=1,
            parts=("guard.charger",),
            fixes=(Fix("Checked: their outputs float", (Change("guard.charger.floating", True),)),),
        )


def _outlet(build: Build, notes: Notes) -> None:
    charger = build.guard.charger
    amps, outlet, end = charger.i_a.amount, charger.outlet_a.amount, charger_v(charger)
    if amps is None or outlet is None or math.isnan(end):
        return
    draw = mains_amps(end, amps, charger.efficiency.taken, charger.mains_v.taken)
    if draw > OUTLET_SHARE * outlet:
        most = math.floor(amps * OUTLET_SHARE * outlet / draw)
        notes.add(
            "stop" if draw > outlet else "caution",
            "outlet",
            "The outlet is small for this charger",
            f"It draws {q(draw, 'a')} for hours from an outlet of {q(outlet, 'a')}; for good an "
            f"outlet gives {OUTLET_SHARE:.0%} of that. Local wiring rules decide.",
            PRACTICE,
            measured=draw,
            limit=OUTLET_SHARE * outlet,
            quantity="a",
            parts=("guard.charger",),
            fixes=(Fix(f"Charge at {most:.0f} A", (setting("guard.charger.i_a", most),)),)
            if most >= 1
            else (),
        )


def _loads(build: Build, notes: Notes) -> None:
    """Surge at switch-on and loads without a number (D15)."""
    dcdc = build.guard.dcdc
    blank = [x.name or "load" for x in dcdc.loads if not x.power_w.known]
    if blank:
        notes.add(
            "caution",
            "loads_blank",
            f"{len(blank)} lights or loads have no power",
            f"{', '.join(blank[:4])}: counted as nothing.",
            PRACTICE,
            measured=len(blank),
            limit=0,
            parts=("guard.dcdc",),
        )
    top = dcdc.surge_w.amount if dcdc.surge_w.known else dcdc.rated_w.amount
    if not dcdc.loads or top is None:
        return
    all_on = sum(x.power_w.or_else(0.0) for x in dcdc.loads) + coil_load_w(build, "converter")
    jump = max(x.power_w.or_else(0.0) * (x.surge.taken - 1.0) for x in dcdc.loads)
    if all_on + jump > top:
        notes.add(
            "caution",
            "surge",
            "All on at once, the converter folds",
            f"{q(all_on, 'w')} with everything on, {q(all_on + jump, 'w')} at the worst switch-on; "
            f"it gives {q(top, 'w')}: lights dip, and a contactor coil on it drops out.",
            PRACTICE,
            measured=all_on + jump,
            limit=top,
            quantity="w",
            parts=("guard.dcdc",),
        )


def _set_point(build: Build, notes: Notes) -> None:
    """12 V or 13.5 to 13.8 V follows whether there is a battery to charge."""
    dcdc = build.guard.dcdc
    out = dcdc.out_v.amount
    if out is None or dcdc.aux_battery is None or not 10.0 <= out <= 16.0:
        return
    low, high = WITH_BATTERY_V if dcdc.aux_battery else WITHOUT_BATTERY_V
    if low - 0.05 <= out <= high + 0.05:
        return
    to = low if dcdc.aux_battery else 12.0
    notes.add(
        "caution",
        "set_point",
        "The converter's voltage does not suit what it feeds",
        f"{q(out, 'v')} "
        + (
            f"does not charge a 12 V battery: {q(low, 'v')} to {q(high, 'v')}."
            if dcdc.aux_battery
            else "without a battery: about 12 V is kind to lamps and horn."
        ),
        PRACTICE,
        measured=out,
        limit=to,
        quantity="v",
        parts=("guard.dcdc",),
        fixes=(Fix(f"Set it to {to:g} V", (setting("guard.dcdc.out_v", to, "measured", 0.01),)),),
    )


@dataclass(frozen=True, slots=True)
class AuxBudget:
    """Lights and horn: mean and all-on power, worst switch-on, what is left of the converter."""

    mean_w: float
    all_on_w: float
    worst_w: float
    rated_w: float | None
    live_when_off: bool


def aux_budget(build: Build) -> AuxBudget:
    """The 12 V side in numbers."""
    dcdc = build.guard.dcdc
    all_on = sum(x.power_w.or_else(0.0) for x in dcdc.loads) or dcdc.load_w.or_else(0.0)
    all_on += coil_load_w(build, "converter")
    jumps = [x.power_w.or_else(0.0) * (x.surge.taken - 1.0) for x in dcdc.loads]
    return AuxBudget(
        converter_load_w(build),
        all_on,
        all_on + max(jumps, default=0.0),
        dcdc.rated_w.amount,
        dcdc.feed == "before the contactor",
    )


def _dcdc(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    dcdc = build.guard.dcdc
    top = dcdc.in_max_v.amount
    if facts and top is not None and top < facts.full_v:
        notes.add(
            "stop",
            "dcdc_v",
            "The step-down converter cannot take the full pack",
            f"Its input ends at {q(top, 'v')}, the pack is {q(facts.full_v, 'v')} full. It fails, "
            "and may put pack voltage on the lights.",
            BUILD,
            measured=facts.full_v,
            limit=top,
            quantity="v",
            parts=("guard.dcdc",),
            fixes=(next_volts("Take a converter", "guard.dcdc.in_max_v", facts.full_v),),
        )
    _dcdc_low(build, notes, facts)
    _dcdc_isolated(build, notes, facts)
    load, rated = converter_load_w(build), dcdc.rated_w.amount
    if load > 0.0 and rated is not None and load > 0.8 * rated:
        notes.add(
            "caution",
            "dcdc_w",
            "The converter has little left",
            f"{q(load, 'w')} of lights, horn and coil on {q(rated, 'w')}; lamps and horn surge at "
            "switch-on.",
            PRACTICE,
            measured=load,
            limit=0.8 * rated,
            quantity="w",
            parts=("guard.dcdc",),
        )


def _dcdc_low(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    """A converter that drops out under sag takes the lights with it, and a coil that it feeds."""
    low = build.guard.dcdc.in_min_v.amount
    if facts is None or low is None:
        return
    ends = used_down_to_v(build, facts.empty_v)
    if math.isnan(ends) or low <= ends:
        return
    iso, cut_off = build.guard.isolator, build.drive.controller.lvc_v.known
    coil = iso.kind == "contactor" and iso.coil_feed == "converter"
    notes.add(
        "stop" if coil else "caution",
        "dcdc_low",
        "The step-down converter drops out before the pack is empty",
        f"It needs {q(low, 'v')}; under load the pack is used down to {q(ends, 'v')}: the lights "
        + (
            "go out and the contactor it feeds opens at full current."
            if coil
            else "go out while riding."
        ),
        BUILD,
        measured=ends,
        limit=low,
        quantity="v",
        parts=("guard.dcdc", "drive.controller") if cut_off else ("guard.dcdc",),
        fixes=(
            Fix(
                f"Take a converter that works from {math.floor(ends):.0f} V",
                (setting("guard.dcdc.in_min_v", math.floor(ends), "label"),),
            ),
        )
        if ends >= 1.0
        else (),
    )


def _dcdc_isolated(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    """A converter with a common minus ties the pack to the frame through the lights (D15)."""
    if build.guard.dcdc.isolated is not False or facts is None or facts.full_v <= CLASS_B_V:
        return
    notes.add(
        "caution",
        "dcdc_earth",
        "The converter ties the pack's minus to the frame",
        f"Its input and output share their minus, and lights return through the frame: at "
        f"{q(facts.full_v, 'v')} one chafed plus lead is then a short, and a hand on it a circuit. "
        "Take an isolated one, or keep the whole 12 V side off the frame with a return of its own.",
        Source("standard", "UN R100 / R136, ISO 6469-3: class B is kept isolated from the frame"),
        measured=facts.full_v,
        limit=CLASS_B_V,
        quantity="v",
        parts=("guard.dcdc",),
        fixes=(Fix("Take an isolated one", (Change("guard.dcdc.isolated", True),)),),
    )


def isolation_of(build: Build) -> float | None:
    """Measured isolation in ohms per volt of the pack; None until all five readings are there."""
    test = build.guard.isolation
    readings = (test.pack_v, test.minus_v, test.plus_v, test.known_ohm, test.loaded_v)
    if not all(v.known for v in readings):
        return None
    pack_v, minus, plus, known, loaded = (v.or_else(0.0) for v in readings)
    larger = max(minus, plus)
    if larger <= 0.0 or loaded <= 0.0:
        return None
    return isolation_ohm(pack_v, larger, loaded, known) / pack_v


def _isolation(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    per_v = isolation_of(build)
    source = Source("standard", "UN R100 / R136, ISO 6469-3: at least 100 Ω/V for DC")
    if per_v is not None and per_v < MIN_OHM_PER_V:
        notes.add(
            "stop",
            "isolation",
            "The pack leaks to the frame",
            f"{per_v:.0f} Ω per volt; at least {MIN_OHM_PER_V:.0f} is asked. A hand on the frame "
            "and one on a pole is then a circuit. Find the wet plug or the chafed lead first.",
            source,
            measured=per_v,
            limit=MIN_OHM_PER_V,
            parts=("guard.isolation",),
        )
    elif per_v is None and facts and facts.full_v > CLASS_B_V:
        notes.add(
            "note",
            "isolation_open",
            "Isolation is not measured yet",
            f"Above {q(CLASS_B_V, 'v')} measure each pole to the frame, then the larger again with "
            "a known resistor across it: insulated probes, one hand, no jewellery.",
            source,
            measured=0,
            limit=MIN_OHM_PER_V,
            parts=("guard.isolation",),
        )
