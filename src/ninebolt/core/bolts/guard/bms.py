"""Judgements of the Guard bolt: the BMS against pack, controller and session; bypass; altered
board."""

from __future__ import annotations

import math

from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bike.cells import CLASS_B_V, cell_empty_v, cell_full_v
from ninebolt.core.bike.opening import GuardRun, highest_without_trip
from ninebolt.core.bike.path import bms_peak_a
from ninebolt.core.bolts.common import Context, Notes
from ninebolt.core.bolts.guard.swaps import bms_for
from ninebolt.core.build import Build
from ninebolt.core.finding import BUILD, PRACTICE, Change, Fix, Source, q, set_line_amps, setting
from ninebolt.core.guard.trip import Trip

BMS_TOO_LARGE = 2.5  # BMS over cell continuous: protects nothing. Common practice, no source.
PAST_FULL_V = 0.08  # room above full before a BMS opens. Common practice, no source.
PAST_HOT_K = 5.0  # room above the cells' limit before a BMS opens. Common practice, no source.
BALANCE_H = 48.0  # a tenth of the pack is balanced within two days. Common practice, no source.


def judge_bms(
    build: Build,
    notes: Notes,
    facts: PackFacts | None,
    load: float | None,
    run: GuardRun | None,
    context: Context,
) -> None:
    """All checks of the BMS."""
    _series(build, notes, context)
    _altered(build, notes)
    _limits(build, notes, facts)
    if build.guard.bms.discharge == "bypassed":
        _bypass(build, notes)
        return
    _heat(build, notes, run)
    _current(build, notes, facts, load, run.trip if run else None, context)
    if run and run.session_trip:
        _session(build, notes, run, context)


def _series(build: Build, notes: Notes, context: Context) -> None:
    watched, series = build.guard.bms.series, build.pack.series
    if watched is None or series is None or watched == series:
        return
    notes.add(
        "stop",
        "bms_series",
        "The BMS is for another number of cells",
        f"It watches {watched} in series, the pack has {series}. It would not start, or leave "
        "cells unwatched.",
        BUILD,
        measured=watched,
        limit=series,
        parts=("guard.bms", "pack"),
        fixes=(
            Fix(f"Take a BMS for {series} in series", (Change("guard.bms.series", series),)),
            *bms_for(build, context, build.guard.bms.i_cont_a.or_else(0.0)),
        ),
    )


def _altered(build: Build, notes: Notes) -> None:
    """An altered board is not trusted until three tests are recorded (D5)."""
    bms = build.guard.bms
    if not bms.altered:
        return
    open_tests = [
        (word, name)
        for word, name, passed in (
            ("load", "load_tested", bms.load_tested),
            ("trip", "trip_tested", bms.trip_tested),
            ("over-voltage", "over_tested", bms.over_tested),
        )
        if not passed
    ]
    if open_tests:
        words = ", ".join(w for w, _ in open_tests)
        notes.add(
            "stop",
            "bms_altered",
            "An altered BMS board is not trusted yet",
            f"Open: {words} test. Load: its current for ten minutes, hot spots read. Trip: it "
            "opens at the current it should. Over-voltage: a bench supply on one group makes it "
            "stop the charge. Until then it counts as no BMS.",
            PRACTICE,
            measured=3 - len(open_tests),
            limit=3,
            parts=("guard.bms",),
            fixes=tuple(
                Fix(f"The {w} test has passed", (Change(f"guard.bms.{name}", True),))
                for w, name in open_tests[:1]
            ),
        )


def _limits(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    """Cut-offs, temperature and balancing against the cells."""
    bms, cell = build.guard.bms, build.pack.cell
    full, empty = cell_full_v(cell), cell_empty_v(cell)
    high, low = bms.cell_high_v.amount, bms.cell_low_v.amount
    if high is not None and not math.isnan(full) and not full - 0.005 <= high <= full + PAST_FULL_V:
        over = high > full
        notes.add(
            "stop" if over else "caution",
            "bms_high",
            "The BMS lets cells go past full"
            if over
            else "The BMS stops before the cells are full",
            f"It opens at {q(high, 'v')} a cell; full is {q(full, 'v')}. Another chemistry?",
            BUILD,
            measured=high,
            limit=full,
            quantity="v",
            parts=("guard.bms", "pack.cell"),
        )
    lvc, series = build.drive.controller.lvc_v.amount, build.pack.series
    if low is not None and lvc is not None and series and lvc / series < low:
        notes.add(
            "caution",
            "bms_low",
            "The BMS opens before the controller's cut-off",
            f"The controller stops at {q(lvc / series, 'v')} a cell, the BMS opens at "
            f"{q(low, 'v')}: the bike dies at once instead of fading.",
            BUILD,
            measured=lvc / series,
            limit=low,
            quantity="v",
            parts=("guard.bms", "drive.controller"),
            fixes=(
                Fix(
                    f"Set the cut-off to {(low + 0.1) * series:.1f} V",
                    (setting("drive.controller.lvc_v", round((low + 0.1) * series, 1)),),
                ),
            ),
        )
    if low is not None and not math.isnan(empty) and low < empty - 0.35:
        notes.add(
            "caution",
            "bms_deep",
            "The BMS lets cells go far below empty",
            f"{q(low, 'v')} against {q(empty, 'v')}: by the time it opens, the weakest is harmed.",
            BUILD,
            measured=low,
            limit=empty,
            quantity="v",
            parts=("guard.bms",),
        )
    _sensing(build, notes, facts)


def _heat(build: Build, notes: Notes, run: GuardRun | None) -> None:
    """The BMS's own temperature limit: above what the cells stand, or reached while riding."""
    bms, stands = build.guard.bms, build.pack.cell.temp_max_c.taken
    opens = bms.temp_max_c.amount
    if opens is None or bms.temp_sensors == 0:
        return
    if opens > stands + PAST_HOT_K:
        notes.add(
            "caution",
            "bms_hot",
            "The BMS lets the cells get hotter than they stand",
            f"It opens at {q(opens, 'c')}, the cells end at {q(stands, 'c')}, and the hottest cell "
            "is seldom the one with the sensor.",
            BUILD,
            measured=opens,
            limit=stands,
            quantity="c",
            parts=("guard.bms", "pack.cell"),
            fixes=(Fix(f"Set it to {stands:.0f} °C", (setting("guard.bms.temp_max_c", stands),)),),
        )
    reached = next((i for i, c in enumerate(run.cells_c if run else ()) if c >= opens), None)
    if run is not None and reached is not None:
        notes.add(
            "stop",
            "bms_warm",
            "The BMS opens for heat while riding",
            f"By the end of run {reached + 1} the cells are at {q(run.cells_c[reached], 'c')}; it "
            f"opens at {q(opens, 'c')}. Rest longer, fewer runs, or more cells in parallel.",
            Source("computed", "one lump with Newton cooling"),
            measured=run.cells_c[reached],
            limit=opens,
            quantity="c",
            parts=("guard.bms", "goal", "pack"),
        )


def _sensing(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    bms = build.guard.bms
    if bms.temp_sensors == 0 and facts and facts.full_v > CLASS_B_V:
        notes.add(
            "caution",
            "bms_blind",
            "The BMS does not know how warm the cells are",
            "Without a sensor among the cells neither charging in frost nor a hot group is "
            "stopped.",
            PRACTICE,
            measured=0,
            limit=1,
            parts=("guard.bms",),
        )
    if bms.balance_a.amount and facts:
        hours = 0.1 * facts.capacity_ah / bms.balance_a.amount
        if hours > BALANCE_H:
            notes.add(
                "note",
                "balance",
                "Balancing is slow for a pack of this size",
                f"A tenth of {q(facts.capacity_ah, 'ah')} at {q(bms.balance_a.amount, 'a')} takes "
                f"{hours:.0f} hours: start with groups that are level.",
                PRACTICE,
                measured=hours * 3600.0,
                limit=BALANCE_H * 3600.0,
                quantity="s",
                parts=("guard.bms",),
            )


def _bypass(build: Build, notes: Notes) -> None:
    """Plannable, never silent (D3)."""
    stand, fuse, lvc = build.guard.stand_for, build.guard.fuse, build.drive.controller.lvc_v
    lacks = [
        words
        for words, there in (
            ("a DC fuse", fuse.rated_a.known and fuse.dc_v.known),
            ("the controller's low-voltage cut-off", lvc.known),
            ("cell voltages that can be read while riding", stand.cell_volts),
            ("a cell temperature that can be read while riding", stand.cell_temp),
            ("charging through the BMS", stand.charge_watch),
        )
        if not there
    ]
    notes.add(
        "caution",
        "bypass",
        "Discharge goes around the BMS",
        "While riding nothing watches single cells: not too low a cell, not over-current, not "
        "heat. A weak cell can still be driven into reversal, a short is left to the fuse alone, "
        "and the controller's cut-off sees only the sum.",
        PRACTICE,
        parts=("guard.bms",),
        measured=0,
        limit=1,
        fixes=(Fix("Put the BMS back in the path", (Change("guard.bms.discharge", "through"),)),),
    )
    if lacks or not stand.accepted:
        what = ", ".join(lacks) if lacks else "your word that you have read what it no longer does"
        notes.add(
            "stop",
            "bypass_open",
            "What must stand in for the BMS is not there",
            f"Missing: {what}.",
            PRACTICE,
            measured=len(lacks) + (not stand.accepted),
            limit=0,
            parts=("guard.stand_for",),
        )


def _current(
    build: Build,
    notes: Notes,
    facts: PackFacts | None,
    load: float | None,
    trip: Trip | None,
    context: Context,
) -> None:
    bms = build.guard.bms
    cont = bms.i_cont_a.amount
    if cont is None:
        return
    peak = bms.i_peak_a.or_else(cont)
    set_cont = set_line_amps(cont)
    if load is not None and load > peak:
        notes.add(
            "stop",
            "bms_peak",
            "The BMS opens at full throttle",
            f"Line amps {q(load, 'a')} exceed the BMS's peak {q(peak, 'a')}; it will cut out at "
            f"once. Set {q(cont, 'a')}, or fit a BMS of {q(load, 'a')} or more.",
            BUILD,
            measured=load,
            limit=peak,
            quantity="a",
            parts=("guard.bms", "drive.controller"),
            fixes=(set_cont, *bms_for(build, context, load)),
        )
    elif trip is not None:
        notes.add(
            "stop",
            "bms_trip",
            "The BMS cuts out on a full-throttle run",
            f"Line amps {q(trip.line_a, 'a')} exceed its continuous {q(cont, 'a')}; after "
            f"{q(bms.peak_s.taken, 's')} of that it opens near {q(trip.speed_m_s, 'm_s')}. Set "
            f"{q(cont, 'a')}, or fit a BMS of {q(trip.line_a, 'a')} or more.",
            BUILD,
            measured=trip.line_a,
            limit=cont,
            quantity="a",
            parts=("guard.bms", "drive.controller"),
            fixes=(
                *_highest(build, context, cont),
                set_cont,
                *bms_for(build, context, trip.line_a),
            ),
        )
    elif load is not None and load > cont:
        notes.add(
            "caution",
            "bms_cont",
            "Line amps are above the BMS's continuous current",
            f"{q(load, 'a')} against {q(cont, 'a')}: one run passes, a long hill may not.",
            BUILD,
            measured=load,
            limit=cont,
            quantity="a",
            parts=("guard.bms",),
            fixes=(set_cont,),
        )
    if facts and math.isfinite(facts.cont_a) and cont > BMS_TOO_LARGE * facts.cont_a:
        notes.add(
            "caution",
            "bms_large",
            "The BMS is too large to protect these cells",
            f"It opens above {q(cont, 'a')}; the cells stand {q(facts.cont_a, 'a')}. Let the "
            "controller hold the current, and choose a BMS nearer to the cells.",
            PRACTICE,
            measured=cont,
            limit=BMS_TOO_LARGE * facts.cont_a,
            quantity="a",
            parts=("guard.bms",),
        )


def _highest(build: Build, context: Context, cont: float) -> tuple[Fix, ...]:
    """The largest setting that a run passes, if it is worth more than the continuous one (D2)."""
    made, _ = context.look(build)
    if made.case is None:
        return ()
    peak_s = build.guard.bms.peak_s.taken
    amps = highest_without_trip(made.case, cont, bms_peak_a(build.guard), peak_s)
    if amps <= cont:
        return ()
    return (set_line_amps(amps),)


def _session(build: Build, notes: Notes, run: GuardRun, context: Context) -> None:
    opens, cont = run.session_trip, build.guard.bms.i_cont_a.or_else(0.0)
    assert opens is not None
    notes.add(
        "stop",
        "bms_session",
        "The BMS cuts out later in the session",
        f"{run.words} it opens in run {opens.run} after {q(opens.t_s, 's')}, near "
        f"{q(opens.speed_m_s, 'm_s')} at {q(opens.line_a, 'a')}: the rests are too short for it to "
        f"forget. Set {q(cont, 'a')}, rest longer, or fit a BMS of {q(opens.line_a, 'a')}.",
        BUILD,
        measured=opens.line_a,
        limit=cont,
        quantity="a",
        parts=("guard.bms", "goal"),
        fixes=(
            set_line_amps(cont),
            *bms_for(build, context, opens.line_a),
        ),
    )
