"""The step-down converter and the 12 V side."""

from __future__ import annotations

import math

from ninebolt.core.bike.cells import CLASS_B_V
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.path import coil_load_w, converter_load_w, used_down_to_v
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.blank import Blank, blank_says
from ninebolt.core.bolts.guard.limits import (
    CONVERTER_SHARE,
    NO_TWELVE_V,
    SET_V,
    TRIM_V,
    WITH_BATTERY_V,
    WITHOUT_BATTERY_V,
)
from ninebolt.core.bolts.guard.sizes import next_volts
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import BUILD, Change, Fix, Source, listed, q, setting
from ninebolt.core.parts.guard import Dcdc

PARTS = ("guard.dcdc",)


def _fitted(bike: Bike) -> Dcdc | None:
    dcdc = bike.build.guard.dcdc
    return None if dcdc.there is False else dcdc


@check("guard.dcdc_v", "the converter cannot take the full pack", parts=PARTS, source=BUILD)
def dcdc_v(bike: Bike) -> Says | None:
    dcdc, facts = _fitted(bike), pack_facts(bike)
    top = dcdc.in_max_v.amount if dcdc else None
    if facts is None or top is None or top >= facts.full_v:
        return None
    return Says(
        "stop",
        "The step-down converter cannot take the full pack",
        f"Its input ends at {q(top, 'v')}, the pack is {q(facts.full_v, 'v')} full. It fails, and "
        "may put pack voltage on the lights.",
        facts.full_v,
        top,
        "v",
        fixes=(next_volts("Take a converter", "guard.dcdc.in_max_v", facts.full_v),),
    )


@check("guard.dcdc_blank", "what the converter takes and gives is not all known", parts=PARTS)
def dcdc_blank(bike: Bike) -> Says | None:
    dcdc, facts = bike.build.guard.dcdc, pack_facts(bike)
    if not dcdc.there or facts is None:
        return None
    high, loaded = facts.full_v > CLASS_B_V, converter_load_w(bike.build) > 0.0
    rows = [
        Blank("the highest voltage it takes", dcdc.in_max_v.known),
        Blank("the lowest", dcdc.in_min_v.known, heavy=False),
        Blank("the voltage it gives", dcdc.out_v.known, heavy=False),
        Blank("the power it gives", dcdc.rated_w.known, heavy=loaded),
        Blank("whether its output is isolated", dcdc.isolated is not None, heavy=high),
    ]
    return blank_says(
        "What the step-down converter takes and gives is not all known",
        rows,
        f"The pack is {q(facts.full_v, 'v')} full; one made for less fails and may put pack voltage on the "
        "lights, one that is not isolated ties the frame to the pack, one that is small lets lights and "
        "coil drop out. Read its label before it is joined.",
    )


@check(
    "guard.dcdc_low", "the converter drops out before the pack is empty", parts=PARTS, source=BUILD
)
def dcdc_low(bike: Bike) -> Says | None:
    dcdc, facts = _fitted(bike), pack_facts(bike)
    low = dcdc.in_min_v.amount if dcdc else None
    if facts is None or low is None:
        return None
    ends = used_down_to_v(bike.build, facts.empty_v)
    if math.isnan(ends) or low <= ends:
        return None
    iso, cut_off = bike.build.guard.isolator, bike.build.drive.controller.lvc_v.known
    coil = iso.kind == "contactor" and iso.coil_feed == "converter"
    least = math.floor(ends)
    return Says(
        "stop" if coil else "caution",
        "The step-down converter drops out before the pack is empty",
        f"It needs {q(low, 'v')}; under load the pack is used down to {q(ends, 'v')}: the lights "
        + (
            "go out and the contactor it feeds opens at full current."
            if coil
            else "go out while riding."
        ),
        ends,
        low,
        "v",
        parts=("guard.dcdc", "drive.controller") if cut_off else PARTS,
        fixes=(
            Fix(
                f"Take a converter that works from {least:.0f} V",
                (setting("guard.dcdc.in_min_v", least, "label"),),
            ),
        )
        if least >= 1
        else (),
    )


@check(
    "guard.dcdc_earth",
    "the converter ties the pack's minus to the frame",
    parts=PARTS,
    source=Source(
        "standard", "UN R100 / R136, ISO 6469-3: class B is kept isolated from the frame"
    ),
)
def dcdc_earth(bike: Bike) -> Says | None:
    dcdc, facts = _fitted(bike), pack_facts(bike)
    if dcdc is None or dcdc.isolated is not False or facts is None or facts.full_v <= CLASS_B_V:
        return None
    return Says(
        "caution",
        "The converter ties the pack's minus to the frame",
        "Its input and output share their minus, and lights return through the frame: at "
        f"{q(facts.full_v, 'v')} one chafed plus lead is then a short, and a hand on it a circuit. "
        "Take an isolated one, or keep the whole 12 V side off the frame with a return of its own.",
        facts.full_v,
        CLASS_B_V,
        "v",
        fixes=(Fix("Take an isolated one", (Change("guard.dcdc.isolated", True),)),),
    )


@check("guard.dcdc_w", "the converter has little left", parts=PARTS)
def dcdc_w(bike: Bike) -> Says | None:
    dcdc, load = _fitted(bike), converter_load_w(bike.build)
    rated = dcdc.rated_w.amount if dcdc else None
    if load <= 0.0 or rated is None or load <= CONVERTER_SHARE * rated:
        return None
    return Says(
        "caution",
        "The converter has little left",
        f"{q(load, 'w')} of lights, horn and coil on {q(rated, 'w')}; lamps and horn surge at "
        "switch-on.",
        load,
        CONVERTER_SHARE * rated,
        "w",
    )


@check("guard.loads_blank", "lights or loads have no power", parts=PARTS)
def loads_blank(bike: Bike) -> Says | None:
    blank = [x.name or "load" for x in bike.build.guard.dcdc.loads if not x.power_w.known]
    if not blank:
        return None
    return Says(
        "caution",
        f"{len(blank)} lights or loads have no power"
        if blank[1:]
        else "A light or load has no power",
        f"{listed(blank)}: counted as nothing.",
        len(blank),
        0,
    )


@check("guard.surge", "all on at once, the converter folds", parts=PARTS)
def surge(bike: Bike) -> Says | None:
    dcdc = bike.build.guard.dcdc
    top = dcdc.surge_w.amount if dcdc.surge_w.known else dcdc.rated_w.amount
    if top is None or dcdc.there is False:
        return None
    coil = coil_load_w(bike.build, "converter")
    listed = sum(x.power_w.or_else(0.0) for x in dcdc.loads)
    all_on = coil + (listed if dcdc.loads else dcdc.load_w.or_else(0.0))
    jump = max((x.power_w.or_else(0.0) * (x.surge.taken - 1.0) for x in dcdc.loads), default=0.0)
    if all_on + jump <= top:
        return None
    return Says(
        "caution",
        "All on at once, the converter folds",
        f"{q(all_on, 'w')} with everything on, {q(all_on + jump, 'w')} at the worst switch-on; it "
        f"gives {q(top, 'w')}: lights dip, and a contactor coil on it drops out.",
        all_on + jump,
        top,
        "w",
    )


@check("guard.set_point", "the converter's voltage does not suit what it feeds", parts=PARTS)
def set_point(bike: Bike) -> Says | None:
    dcdc = bike.build.guard.dcdc
    out = dcdc.out_v.amount
    if out is None or dcdc.there is False:
        return None
    if not NO_TWELVE_V[0] <= out <= NO_TWELVE_V[1]:
        return _other_volts(out)
    if dcdc.aux_battery is None:
        return None
    low, high = WITH_BATTERY_V if dcdc.aux_battery else WITHOUT_BATTERY_V
    if low - TRIM_V <= out <= high + TRIM_V:
        return None
    to = float(low if dcdc.aux_battery else SET_V)
    return Says(
        "caution",
        "The converter's voltage does not suit what it feeds",
        f"{q(out, 'v')} "
        + (
            f"does not charge a 12 V battery: {q(low, 'v')} to {q(high, 'v')}."
            if dcdc.aux_battery
            else f"without a battery: about {q(SET_V, 'v')} is kind to lamps and horn."
        ),
        out,
        to,
        "v",
        fixes=(Fix(f"Set it to {to:g} V", (setting("guard.dcdc.out_v", to, "measured", 0.01),)),),
    )


def _other_volts(out: float) -> Says:
    """Of a converter that gives something else than 12 V."""
    over = out > NO_TWELVE_V[1]
    return Says(
        "stop" if over else "caution",
        "The converter does not give 12 V",
        f"{q(out, 'v')}: "
        + (
            "lamps, horn and a 12 V coil burn out at once."
            if over
            else "lamps glow and a 12 V coil does not pull in; right only where everything on it is made for that."
        ),
        out,
        NO_TWELVE_V[1 if over else 0],
        "v",
        fixes=(
            Fix("Take one of 12 V", (setting("guard.dcdc.out_v", float(SET_V), "label", 0.05),)),
        ),
    )


@check("guard.no_dcdc", "something wants 12 V and there is no converter", parts=PARTS)
def no_dcdc(bike: Bike) -> Says | None:
    g, facts = bike.build.guard, pack_facts(bike)
    if g.dcdc.there is not False or facts is None:
        return None
    coil = g.isolator.coil_v.amount if g.isolator.there else None
    wants = [x.name or "a load" for x in g.dcdc.loads]
    if coil is not None and coil < LOW_V:
        wants.append("the isolator's coil")
    if not wants:
        return None
    return Says(
        "caution",
        "Nothing makes the 12 V",
        f"{listed(wants)}: fed by what? Never from some of the cells: their groups empty first, and "
        "the next charge fills the others past full.",
        0,
        1,
    )


LOW_V = 30.0  # what runs below this does not run from the pack itself
