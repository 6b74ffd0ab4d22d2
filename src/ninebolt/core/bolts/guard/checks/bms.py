"""The BMS: there or not, made for this pack, its limits, what it does along the run, the bypass."""

from __future__ import annotations

import math

from ninebolt.core.bike.cells import CLASS_B_V, cell_empty_v, cell_full_v
from ninebolt.core.bike.chain import advice, protected_least
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.opening import opening
from ninebolt.core.bike.path import bms_peak_a
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bolts.blank import Blank, blank_says
from ninebolt.core.bolts.guard.limits import (
    ABOVE_OPENING_V,
    BALANCE_S,
    BMS_TOO_LARGE,
    BOARD_HOT_C,
    DEEP_V,
    LOAD_TEST_S,
    PAST_FULL_V,
    PAST_HOT_K,
    READING_V,
    TRIP_TEST_SHARE,
)
from ninebolt.core.bolts.guard.swaps import bms_for, swaps_for
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import BUILD, Change, Fix, Source, q, setting
from ninebolt.core.parts.guard import Bms

LUMP = Source("computed", "one lump with Newton cooling")
PARTS = ("guard.bms",)


def _through(bike: Bike) -> Bms | None:
    """The BMS if discharge runs through it and it is there."""
    bms = bike.build.guard.bms
    return bms if bms.discharge == "through" and bms.there else None


@check("guard.no_bms", "there is no BMS, or nobody has looked", parts=PARTS)
def no_bms(bike: Bike) -> Says | None:
    g = bike.build.guard
    if g.bms.there:
        return None
    if g.bms.there is None:
        return Says(
            "caution",
            "The BMS is not looked at",
            "Whether single cells are watched decides whether one weak group can be driven into "
            "reversal or past full. Say which BMS it is, or that there is none.",
            0, 1,
            fixes=swaps_for(bike, "guard.bms")[:1],
        )  # fmt: skip
    lacks = _stand_ins(bike)
    return Says(
        "stop" if lacks else "caution",
        "There is no BMS",
        "Nothing watches single cells, in riding or in charging. "
        + (
            f"Missing in its place: {', '.join(lacks)}."
            if lacks
            else "What stands in for it is recorded; it is you who acts on it, each time."
        ),
        0, 1,
        parts=("guard.bms", "guard.stand_for"),
        fixes=swaps_for(bike, "guard.bms")[:1],
    )  # fmt: skip


@check("guard.bms_blank", "what the BMS does and allows is not all known", parts=PARTS)
def bms_blank(bike: Bike) -> Says | None:
    bms = bike.build.guard.bms
    if not bms.there or pack_facts(bike) is None:
        return None
    rows = [
        Blank("how many cells in series it watches", bms.series is not None),
        Blank("the upper limit of a cell", bms.cell_high_v.known),
        Blank("the lower limit of a cell", bms.cell_low_v.known),
        Blank("the charge current it takes", bms.i_charge_a.known, heavy=False),
        Blank("its temperature sensors", bms.temp_sensors is not None, heavy=False),
    ]
    if bms.temp_sensors:
        rows.append(Blank("the cell temperature at which it opens", bms.temp_max_c.known, False))
    if _through(bike):
        load, cont = load_a(bike), bms.i_cont_a.amount
        past = load is not None and cont is not None and load > cont
        rows += [
            Blank("its continuous current", bms.i_cont_a.known),
            Blank("the current at which it opens", bms.i_peak_a.known),
            Blank("for how long it stands its peak", bms.peak_s.known, heavy=past),
        ]
    return blank_says(
        "What the BMS does is not all known",
        rows,
        "Until it is, nobody can say when it opens, or whether it keeps a cell from harm. Its sheet says, "
        "or a test with a bench supply.",
    )


def _stand_ins(bike: Bike) -> list[str]:
    """What must stand in for a BMS and is not there."""
    g, lvc = bike.build.guard, bike.build.drive.controller.lvc_v
    stand = g.stand_for
    rows = [
        ("a DC fuse", bool(g.fuse.there) and g.fuse.dc_v.known),
        ("the controller's low-voltage cut-off", lvc.known),
        ("cell voltages that can be read while riding", stand.cell_volts),
        ("a cell temperature that can be read while riding", stand.cell_temp),
        (
            "charging through the BMS" if g.bms.there else "cell voltages watched while charging",
            stand.charge_watch,
        ),
        ("your word that you have read what it no longer does", stand.accepted),
    ]
    return [words for words, there in rows if not there]


@check("guard.bms_series", "the BMS watches another number of cells", parts=("guard.bms", "pack"))
def bms_series(bike: Bike) -> Says | None:
    bms, series = bike.build.guard.bms, bike.build.pack.series
    if bms.series is None or series is None or bms.series == series or bms.there is False:
        return None
    return Says(
        "stop",
        "The BMS is for another number of cells",
        f"It watches {bms.series} in series, the pack has {series}. It would not start, or leave "
        "cells unwatched.",
        bms.series,
        series,
        source=BUILD,
        fixes=(
            Fix(f"Take a BMS for {series} in series", (Change("guard.bms.series", series),)),
            *bms_for(bike, bms.i_cont_a.or_else(0.0)),
        ),
    )


@check("guard.bms_altered", "an altered BMS board lacks a measured test", parts=PARTS)
def bms_altered(bike: Bike) -> Says | None:
    bms, full = bike.build.guard.bms, cell_full_v(bike.build.pack.cell)
    if not bms.altered or bms.there is False:
        return None
    rated = bms.i_cont_a.amount
    wrong = [w for w, ok in _board_tests(bms, rated, full) if not ok]
    if not wrong:
        return None
    return Says(
        "stop",
        "An altered BMS board is not trusted yet",
        f"{'; '.join(wrong)}. Measure: load at its current for ten minutes with the hottest spot "
        "read; the current at which it opens; the cell volts at which it ends a charge, from a "
        "bench supply on one group. Until then it counts as no BMS.",
        len(_board_tests(bms, rated, full)) - len(wrong),
        len(_board_tests(bms, rated, full)),
    )


def _board_tests(bms: Bms, rated: float | None, full: float) -> list[tuple[str, bool]]:
    """(what is wrong, is it right) of the three tests, by their measured values."""
    load, held = bms.test_load_a.amount, bms.test_load_s.amount
    trip, over, hot = bms.test_trip_a.amount, bms.test_over_v.amount, bms.test_hot_c.amount
    should = bms.i_peak_a.or_else(rated or math.inf)
    return [
        (
            "load test: not measured" if load is None or held is None else
            f"load test: {q(load, 'a')} for {q(held, 's')}, wanted {q(rated or 0.0, 'a')} for "
            f"{q(LOAD_TEST_S, 's')}",
            load is not None and held is not None and load >= (rated or 0.0) and held >= LOAD_TEST_S,
        ),
        (
            "hottest spot: not read" if hot is None else f"hottest spot {q(hot, 'c')}",
            hot is not None and hot <= BOARD_HOT_C,
        ),
        (
            "trip test: not measured" if trip is None else
            f"it opened at {q(trip, 'a')}, it should by {q(should, 'a')}",
            trip is not None and trip <= TRIP_TEST_SHARE * should,
        ),
        (
            "over-voltage test: not measured" if over is None else
            f"it ended the charge at {q(over, 'v')} a cell, full is {q(full, 'v')}",
            over is not None and not math.isnan(full) and over <= full + PAST_FULL_V,
        ),
    ]  # fmt: skip


@check(
    "guard.bms_high",
    "the BMS's upper cell limit is not a little above full",
    parts=("guard.bms", "pack.cell"),
    source=BUILD,
)
def bms_high(bike: Bike) -> Says | None:
    high, full = bike.build.guard.bms.cell_high_v.amount, cell_full_v(bike.build.pack.cell)
    if high is None or math.isnan(full) or full - READING_V <= high <= full + PAST_FULL_V:
        return None
    over = high > full
    title = "lets cells go past full" if over else "stops before the cells are full"
    return Says(
        "stop" if over else "caution",
        f"The BMS {title}",
        f"It opens at {q(high, 'v')} a cell; full is {q(full, 'v')}. Another chemistry?",
        high,
        full,
        "v",
    )


@check(
    "guard.bms_low",
    "the controller's cut-off lies below the BMS's",
    parts=("guard.bms", "drive.controller"),
    source=BUILD,
)
def bms_low(bike: Bike) -> Says | None:
    low, lvc = bike.build.guard.bms.cell_low_v.amount, bike.build.drive.controller.lvc_v.amount
    series = bike.build.pack.series
    if low is None or lvc is None or not series or lvc / series >= low:
        return None
    to = round((low + ABOVE_OPENING_V) * series, 1)
    return Says(
        "caution",
        "The BMS opens before the controller's cut-off",
        f"The controller stops at {q(lvc / series, 'v')} a cell, the BMS opens at {q(low, 'v')}: "
        "the bike dies at once instead of fading.",
        lvc / series,
        low,
        "v",
        fixes=(Fix(f"Set the cut-off to {to:.1f} V", (setting("drive.controller.lvc_v", to),)),),
    )


@check("guard.bms_deep", "the BMS lets cells go far below empty", parts=PARTS, source=BUILD)
def bms_deep(bike: Bike) -> Says | None:
    low, empty = bike.build.guard.bms.cell_low_v.amount, cell_empty_v(bike.build.pack.cell)
    if low is None or math.isnan(empty) or low >= empty - DEEP_V:
        return None
    return Says(
        "caution",
        "The BMS lets cells go far below empty",
        f"{q(low, 'v')} against {q(empty, 'v')}: by the time it opens, the weakest is harmed.",
        low,
        empty - DEEP_V,
        "v",
    )


@check("guard.bms_blind", "the BMS has no temperature sensor", parts=PARTS)
def bms_blind(bike: Bike) -> Says | None:
    bms, facts = bike.build.guard.bms, pack_facts(bike)
    if bms.temp_sensors != 0 or facts is None or facts.full_v <= CLASS_B_V:
        return None
    return Says(
        "caution",
        "The BMS does not know how warm the cells are",
        "Without a sensor among the cells neither charging in frost nor a hot group is stopped.",
        0,
        1,
    )


@check("guard.balance", "balancing takes days", parts=PARTS)
def balance(bike: Bike) -> Says | None:
    amps, facts = bike.build.guard.bms.balance_a.amount, pack_facts(bike)
    if not amps or facts is None:
        return None
    seconds = 0.1 * facts.capacity_ah / amps * 3600.0
    if not seconds > BALANCE_S:
        return None
    return Says(
        "note",
        "Balancing is slow for a pack of this size",
        f"A tenth of {q(facts.capacity_ah, 'ah')} at {q(amps, 'a')} takes {q(seconds, 's')}: start "
        "with groups that are level.",
        seconds,
        BALANCE_S,
        "s",
    )


@check("guard.bypass", "discharge goes around the BMS", parts=PARTS)
def bypass(bike: Bike) -> Says | None:
    if bike.build.guard.bms.discharge != "bypassed":
        return None
    return Says(
        "caution",
        "Discharge goes around the BMS",
        "While riding nothing watches single cells: not too low a cell, not over-current, not "
        "heat. A weak cell can still be driven into reversal, a short is left to the fuse alone, "
        "and the controller's cut-off sees only the sum.",
        0,
        1,
        fixes=(Fix("Put the BMS back in the path", (Change("guard.bms.discharge", "through"),)),),
    )


@check("guard.bypass_open", "a bypass lacks what must stand in", parts=("guard.stand_for",))
def bypass_open(bike: Bike) -> Says | None:
    bms = bike.build.guard.bms
    if bms.discharge != "bypassed" or bms.there is False:
        return None
    lacks = _stand_ins(bike)
    if not lacks:
        return None
    return Says(
        "stop",
        "What must stand in for the BMS is not there",
        f"Missing: {', '.join(lacks)}.",
        len(lacks),
        0,
    )


@check(
    "guard.bms_hot",
    "the BMS's heat limit lies above what the cells stand",
    parts=("guard.bms", "pack.cell"),
    source=BUILD,
)
def bms_hot(bike: Bike) -> Says | None:
    bms, stands = _through(bike), bike.build.pack.cell.temp_max_c.taken
    opens = bms.temp_max_c.amount if bms and bms.temp_sensors != 0 else None
    if opens is None or opens <= stands + PAST_HOT_K:
        return None
    return Says(
        "caution",
        "The BMS lets the cells get hotter than they stand",
        f"It opens at {q(opens, 'c')}, the cells end at {q(stands, 'c')}, and the hottest cell is "
        "seldom the one with the sensor.",
        opens,
        stands + PAST_HOT_K,
        "c",
        fixes=(Fix(f"Set it to {stands:.0f} °C", (setting("guard.bms.temp_max_c", stands),)),),
    )


@check(
    "guard.bms_warm",
    "the BMS opens for heat in the planned riding",
    parts=("guard.bms", "goal", "pack"),
    source=LUMP,
)
def bms_warm(bike: Bike) -> Says | None:
    bms, run = _through(bike), opening(bike)
    opens = bms.temp_max_c.amount if bms and bms.temp_sensors != 0 else None
    if opens is None or run is None:
        return None
    reached = next((i for i, c in enumerate(run.cells_c) if c >= opens), None)
    if reached is None:
        return None
    return Says(
        "stop",
        "The BMS opens for heat while riding",
        f"By the end of run {reached + 1} the cells are at {q(run.cells_c[reached], 'c')}; it opens "
        f"at {q(opens, 'c')}. Rest longer, fewer runs, or more cells in parallel.",
        run.cells_c[reached],
        opens,
        "c",
    )


def _line_fix(bike: Bike) -> tuple[Fix, ...]:
    chosen = advice(bike)
    return (chosen.fix,) if chosen else ()


@check(
    "guard.bms_peak",
    "line amps exceed the BMS's peak: it opens at full throttle",
    parts=("guard.bms", "drive.controller"),
    source=BUILD,
)
def bms_peak(bike: Bike) -> Says | None:
    bms, load = _through(bike), load_a(bike)
    if bms is None or load is None or bms.i_cont_a.amount is None:
        return None
    peak = bms_peak_a(bike.build.guard)
    if load <= peak:
        return None
    beyond = (
        f"the BMS's peak {q(peak, 'a')}; it will cut out at once"
        if bms.i_peak_a.known
        else f"the {q(peak, 'a')} that the BMS bears for good, and nobody knows that it bears more: "
        "count on it to cut out at once"
    )
    return Says(
        "stop",
        "The BMS opens at full throttle",
        f"Line amps {q(load, 'a')} exceed {beyond}. {_instead(bike, load)}",
        load,
        peak,
        "a",
        fixes=(*_line_fix(bike), *bms_for(bike, load)),
    )


def _instead(bike: Bike, amps: float) -> str:
    """What to set or fit: the one line-amp number of the build."""
    chosen = advice(bike)
    fit = f"fit a BMS of {q(amps, 'a')} or more"
    if chosen is None:
        return f"{fit[0].upper()}{fit[1:]}."
    return f"Set {q(chosen.amps, 'a')} ({chosen.words}), or {fit}."


@check(
    "guard.bms_trip",
    "the BMS opens on one full-throttle run",
    parts=("guard.bms", "drive.controller"),
    source=BUILD,
)
def bms_trip(bike: Bike) -> Says | None:
    bms, run, load = _through(bike), opening(bike), load_a(bike)
    if bms is None or run is None or run.trip is None or bms.i_cont_a.amount is None:
        return None
    cont = bms.i_cont_a.amount
    if load is not None and load > bms_peak_a(bike.build.guard):
        return None  # said already: it opens at once
    trip = run.trip
    return Says(
        "stop",
        "The BMS cuts out on a full-throttle run",
        f"Line amps {q(trip.line_a, 'a')} exceed its continuous {q(cont, 'a')}; after "
        f"{q(bms.peak_s.taken, 's')} of that{'' if bms.peak_s.known else ' (taken: nobody knows how long)'} "
        f"it opens near {q(trip.speed_m_s, 'm_s')}. "
        f"{_instead(bike, trip.line_a)}",
        trip.line_a,
        cont,
        "a",
        fixes=(*_line_fix(bike), *bms_for(bike, trip.line_a)),
    )


@check("guard.bms_session", "the BMS opens later in the session", parts=("guard.bms", "goal"))
def bms_session(bike: Bike) -> Says | None:
    bms, run = _through(bike), opening(bike)
    opens = run.session_trip if run else None
    if bms is None or run is None or opens is None:
        return None
    return Says(
        "stop",
        "The BMS cuts out later in the session",
        f"{run.words} it opens in run {opens.run} after {q(opens.t_s, 's')}, near "
        f"{q(opens.speed_m_s, 'm_s')} at {q(opens.line_a, 'a')}: the rests are too short for it to "
        f"forget. Rest longer, or: {_instead(bike, opens.line_a)}",
        opens.line_a,
        bms.i_cont_a.amount,
        "a",
        source=BUILD,
        fixes=(*_line_fix(bike), *bms_for(bike, opens.line_a)),
    )


@check("guard.bms_cont", "line amps exceed the BMS's continuous current", parts=PARTS, source=BUILD)
def bms_cont(bike: Bike) -> Says | None:
    bms, load, run = _through(bike), load_a(bike), opening(bike)
    cont = bms.i_cont_a.amount if bms else None
    if bms is None or cont is None or load is None or load <= cont:
        return None
    if load > bms_peak_a(bike.build.guard) or (run is not None and run.trip is not None):
        return None
    return Says(
        "caution",
        "Line amps are above the BMS's continuous current",
        f"{q(load, 'a')} against {q(cont, 'a')}: one run passes, a long hill may not. "
        f"{_instead(bike, load)}",
        load,
        cont,
        "a",
        fixes=_line_fix(bike),
    )


@check(
    "guard.bms_large",
    "the BMS would open only above what the rest of the chain stands",
    parts=PARTS,
)
def bms_large(bike: Bike) -> Says | None:
    bms, facts = _through(bike), pack_facts(bike)
    cont = bms.i_cont_a.amount if bms else None
    if cont is None or facts is None:
        return None
    weakest = protected_least(bike)
    rows = [(facts.cont_a, "the cells")] if math.isfinite(facts.cont_a) else []
    if weakest is not None and weakest.cont_a is not None:
        rows.append((weakest.cont_a, f"the {weakest.label.lower()}"))
    if not rows:
        return None
    stands, what = min(rows)
    if cont <= BMS_TOO_LARGE * stands:
        return None
    return Says(
        "caution",
        f"The BMS is too large to protect {what}",
        f"It opens above {q(cont, 'a')}; {what} stand{'s' if what != 'the cells' else ''} "
        f"{q(stands, 'a')} for good. Let the controller hold the current, and choose a BMS nearer "
        "to that.",
        cont,
        BMS_TOO_LARGE * stands,
        "a",
    )
