"""Riding with a borrowed pack: the cap that it brings, and what does not fit it (C16)."""

from __future__ import annotations

import math

from ninebolt.core.bike.cells import cell_full_v, cell_nominal_v
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bolts.pack.limits import STAND_IN_C, STAND_IN_CELL_V, STAND_IN_MOST_C
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import BUILD, Source, q, set_line_amps
from ninebolt.core.parts.pack import StandIn

PARTS = ("pack.stand_in", "drive.controller")


def _named(bike: Bike) -> StandIn | None:
    """The stand-in, if anything is written of it."""
    s = bike.build.pack.stand_in
    told = (
        s.name.strip()
        or s.series
        or any(v.known for v in (s.full_v, s.capacity_ah, s.i_cont_a, s.plug_a))
    )
    return s if told else None


def full_v(bike: Bike, s: StandIn) -> float | None:
    """Its full volts: as given, else by its cells."""
    if s.full_v.amount is not None:
        return s.full_v.amount
    each = cell_full_v(bike.build.pack.cell)
    return None if s.series is None or math.isnan(each) else s.series * each


@check("pack.stand_in_wh", "rides are shorter with the stand-in", parts=PARTS[:1])
def stand_in_wh(bike: Bike) -> Says | None:
    s, facts, cell = bike.build.pack.stand_in, pack_facts(bike), bike.build.pack.cell
    volts, ah = full_v(bike, s), s.capacity_ah.amount
    share = cell_nominal_v(cell) / cell_full_v(cell)
    if facts is None or volts is None or ah is None or math.isnan(share):
        return None
    wh = ah * volts * share
    if wh >= facts.energy_wh:
        return None
    return Says(
        "note",
        "With the stand-in pack rides are shorter",
        f"It holds about {q(wh, 'wh')}, the planned one {q(facts.energy_wh, 'wh')}: about "
        f"{wh / facts.energy_wh:.0%} of the ride.",
        wh,
        facts.energy_wh,
        "wh",
        source=Source("computed", "Ah x nominal volts of the same chemistry"),
    )


@check("pack.stand_in", "line amps are above what the stand-in gives", parts=PARTS)
def stand_in(bike: Bike) -> Says | None:
    s, load = bike.build.pack.stand_in, load_a(bike)
    limits = [x for x in (s.i_cont_a.amount, s.plug_a.amount) if x is not None]
    if not limits or load is None or load <= min(limits):
        return None
    return Says(
        "caution",
        "The stand-in pack wants a cap",
        f"It and its plug give {q(min(limits), 'a')} for good, the line amps are set to "
        f"{q(load, 'a')}. Cap them while it is fitted, and set them back after.",
        load,
        min(limits),
        "a",
        fixes=(set_line_amps(min(limits)),),
    )


@check("pack.stand_in_open", "what current the stand-in gives is unknown", parts=PARTS)
def stand_in_open(bike: Bike) -> Says | None:
    s, load = _named(bike), load_a(bike)
    if s is None or s.i_cont_a.known:
        return None
    ah = s.capacity_ah.amount
    if ah is None or load is None:
        return Says(
            "caution",
            "What current the stand-in pack gives is unknown",
            "Nor its capacity: read both off its label before it is plugged in, or its BMS opens in "
            "the first corner.",
            0,
            1,
        )
    rate, cap = load / ah, STAND_IN_C * ah
    over = rate > STAND_IN_C
    return Says(
        "caution" if over else "note",
        "The stand-in pack is asked for much" if over else "The stand-in pack's current is unknown",
        f"{q(load, 'a')} from {q(ah, 'ah')} is {rate:.1f} C; without a rating plan on at most "
        f"{STAND_IN_C:g} C, {q(cap, 'a')}.",
        load,
        cap,
        "a",
        fixes=(set_line_amps(cap),) if over else (),
    )


@check(
    "pack.stand_in_v",
    "the stand-in is above the controller's ceiling",
    parts=PARTS,
    source=BUILD,
)
def stand_in_v(bike: Bike) -> Says | None:
    s, top = bike.build.pack.stand_in, bike.build.drive.controller.v_max_v.amount
    full = full_v(bike, s)
    if full is None or top is None or full <= top:
        return None
    return Says(
        "stop",
        "The stand-in pack is above the controller's ceiling",
        f"{q(full, 'v')} full against {q(top, 'v')}.",
        full,
        top,
        "v",
    )


@check("pack.stand_in_s", "the stand-in has another number of cells", parts=PARTS[:1])
def stand_in_s(bike: Bike) -> Says | None:
    s, series = bike.build.pack.stand_in, bike.build.pack.series
    if s.series is None or series is None or s.series == series:
        return None
    return Says(
        "caution",
        "The stand-in pack has another number of cells",
        f"{s.series} against {series} in series: low-voltage cut-off, display and charger are set for "
        "the other one. Use a profile of its own.",
        s.series,
        series,
    )


@check("pack.stand_in_odd", "numbers of the stand-in cannot both be true", parts=PARTS[:1])
def stand_in_odd(bike: Bike) -> Says | None:
    s = bike.build.pack.stand_in
    volts, ah, amps = s.full_v.amount, s.capacity_ah.amount, s.i_cont_a.amount
    low, high = STAND_IN_CELL_V
    if s.series and volts is not None and not low <= volts / s.series <= high:
        return Says(
            "caution",
            "Cells and volts of the stand-in do not agree",
            f"{q(volts, 'v')} full over {s.series} in series are {q(volts / s.series, 'v')} a cell. Read its label, "
            "and measure it, before it is plugged in.",
            volts / s.series,
            high,
            "v",
        )
    if ah is not None and amps is not None and amps / ah > STAND_IN_MOST_C:
        return Says(
            "caution",
            "No pack gives what is written of the stand-in",
            f"{q(amps, 'a')} for good out of {q(ah, 'ah')} is {amps / ah:.0f} C: a burst, or a slip of a digit.",
            amps / ah,
            float(STAND_IN_MOST_C),
        )
    return None
