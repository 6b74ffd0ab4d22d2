"""Prove's findings: no log, log against prediction, a slow logger, resistance, the run's own books."""

from __future__ import annotations

import math

from ninebolt.core.bike.cells import joints_ohm
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.path import path_ohm
from ninebolt.core.bike.ride import bare_performance, pack_facts, uncapped_m_s
from ninebolt.core.bolts.prove.fitted import AMPS
from ninebolt.core.bolts.prove.gates import gate_states
from ninebolt.core.bolts.prove.splits import (
    QUARTER,
    SLOPE_SURE,
    chosen_ride,
    fair_half,
    held_closed,
    split_rows,
    weather,
)
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.build import MISHAPS
from ninebolt.core.finding import Fix, Source, inside, listed, q, setting
from ninebolt.core.limits import Limit
from ninebolt.core.logs.trust import MISTAKEN
from ninebolt.core.simulate.run import BOOKS_CLOSE

APART = Limit(0.05, "ratio", "a logged split this far from the predicted one")
CARRIED = Limit(0.01, "ratio", "of a logged time that wind and slope may give before it is said")
LEAST_HZ = Limit(4.0, "ratio", "samples a second under which short splits are guesses")
UNIT_NEAR = Limit(0.2, "ratio", "how near a log's top speed lies to that of a mistaken unit")
UNIT_LEAST = Limit(
    1.6, "ratio", "top speed of a log over the predicted one from which that is asked"
)
OHM_APART = Limit(0.2, "ratio", "pack and path in the log over what is written")


@check(
    "prove.books",
    "the energy of the predicted run does not add up",
    source=Source("computed", "(cells - all losses - kinetic) / cells"),
)
def books(bike: Bike) -> Says | None:
    perf = bare_performance(bike)
    if perf is None or perf.run.books_close:
        return None
    off = abs(perf.run.energy.imbalance)
    return Says(
        "caution",
        "The books of the predicted run do not close",
        f"{off:.1%} of the energy out of the cells is not found again: do not trust its times. Look for a "
        "value that is far from any bike's.",
        off,
        BOOKS_CLOSE,
    )


@check("prove.no_log", "no run is logged")
def no_log(bike: Bike) -> Says | None:
    if bare_performance(bike) is None or chosen_ride(bike) is not None:
        return None
    return Says(
        "note",
        "No run is logged yet",
        "Import a GPS log of a standing start, a second or more at rest before it. One run proves little; "
        "three in a row say how far they spread.",
        0,
        1,
    )


@check("prove.no_start", "the chosen log holds no run from rest")
def no_start(bike: Bike) -> Says | None:
    ride = chosen_ride(bike)
    if bare_performance(bike) is None or ride is None or ride.launches:
        return None
    return Says(
        "note",
        "The chosen log holds no run from rest",
        f"{ride.name} shows a ride under way: its top speed, and what Traces and Learn make of it. Of times from "
        "rest it says nothing. Choose, or log, one with a second or more at rest before the run.",
        0,
        1,
    )


@check("prove.unit", "the logged speed is off by as much as a wrong unit")
def unit(bike: Bike) -> Says | None:
    ride, reaches = chosen_ride(bike), uncapped_m_s(bike)  # a cap may have been off
    if ride is None or not reaches > 0.0:
        return None
    share = ride.top_speed_m_s / reaches
    over = [u for u, f in MISTAKEN.items() if f > 1.5 and abs(share / f - 1.0) < UNIT_NEAR]
    if not over or share < UNIT_LEAST:
        return None
    return Says(
        "caution",
        "Is the logged speed in another unit?",
        f"It tops out at {q(ride.top_speed_m_s, 'm_s')}, {share:.1f} times what this bike can: as {over[0]} would read "
        "under m/s. Import it again and say the unit; until then its times and speeds are another bike's.",
        ride.top_speed_m_s,
        reaches,
        "m_s",
    )


@check(
    "prove.agrees",
    "logged and predicted splits agree or part",
    source=Source("computed", "logged and predicted run, same marks"),
)
def agrees(bike: Bike) -> Says | None:
    both = [r for r in split_rows(bike) if r.diff is not None]
    if not both or bike.since:
        return None  # or ridden with another bike: prove.before
    # Judged by the split that parts most, in units of what may be: a tenth off at 60 ft is no proof.
    off = [
        r for r in both
        if abs(r.diff or 0.0) > APART
        and abs((r.fair_s or r.logged_s or 0.0) - (r.predicted_s or 0.0)) > (fair_half(bike, r) or r.u95_s or 0.0)
    ]  # fmt: skip
    far = [r for r in both if r.kind == "distance"] or both
    worst = max(off, key=lambda r: abs(r.diff or 0.0)) if off else far[-1]
    apart = bool(off)
    aired = ""
    if worst.fair_s:
        half = f", sure to ±{q(fair_half(bike, worst) or 0.0, 's')}" if apart else ""
        aired = f", {q(worst.fair_s, 's')} with wind and slope taken off{half}"
    told = worst.u95_s is not None and not (worst.fair_s and apart)
    sure = f", sure to ±{q(worst.u95_s or 0.0, 's')}" if told else ""
    return Says(
        "caution" if apart else "note",
        "The log and the prediction part" if apart else "The log bears the prediction out",
        f"{worst.name}: {q(worst.logged_s or 0, 's')} logged{sure}{aired}, {q(worst.predicted_s or 0, 's')} "
        f"predicted ({worst.diff or 0.0:+.1%} of the prediction); {len(off)} of {len(both)} splits part."
        + (
            " Look for drag, mass, resistance or a throttle that is not as written."
            if apart
            else ""
        ),
        worst.fair_s or worst.logged_s,
        worst.predicted_s,
        "s",
    )


@check(
    "prove.before",
    "the log was ridden before the bike was changed",
    source=Source("computed", "the build as it stood when the log came in"),
)
def before(bike: Bike) -> Says | None:
    if not bike.since:
        return None
    return Says(
        "caution",
        "The log is of the bike as it was before",
        f"Since it was ridden: {bike.since}. It neither bears this prediction out nor speaks against it, and meets no "
        "wish. Ride again; on Traces it stands beside the bike that was ridden.",
        0,
        1,
    )


@check(
    "prove.as_ridden",
    "nobody says what wind or slope the log was ridden in",
    source=Source("computed", "the build's run in wind and on a slope"),
)
def as_ridden(bike: Bike) -> Says | None:
    sky, prove = weather(bike), bike.build.prove
    names = [
        (prove.wind_m_s, "in what wind", sky.per_m_s if sky else None, "1 m/s from ahead"),
        (prove.slope_pct, "on what slope", sky.per_pct if sky else None, "1 % uphill"),
    ]
    open_ = [(word, cost, what) for value, word, cost, what in names if value.amount is None]
    ride = chosen_ride(bike)
    if sky is None or not open_ or ride is None or not ride.launches:
        return None
    costs = [
        f"{what} costs this bike {q(cost, 's')}" for _, cost, what in open_ if cost is not None
    ]
    told = ", ".join(costs) or "it is not reached"
    return Says(
        "note",
        f"Nobody says {' or '.join(w for w, _, _ in open_)} the log was ridden",
        f"In that its times stand as ridden. Over the {QUARTER} {told}. Write down what a flag or a wind "
        "meter said and what a level shows; two ways, there and back, cancel most of it.",
        parts=("prove",),
    )


@check(
    "prove.heights",
    "the log's own heights say another slope than is written, or one that nobody wrote",
    source=Source("computed", "difference of logged heights over the way of the run"),
)
def heights(bike: Bike) -> Says | None:
    ride, said = chosen_ride(bike), bike.build.prove.slope_pct
    if bare_performance(bike) is None or ride is None or ride.slope_pct is None:
        return None
    slope, half = ride.slope_pct, ride.slope_u95 or 0.0
    written = said.or_else(0.0)
    sure = max(abs(written) * said.spread, SLOPE_SURE) if said.known else 0.0
    if abs(slope - written) <= math.hypot(half, sure):
        return None
    down = "fall" if slope < 0 else "rise"
    return Says(
        "caution",
        f"The log's heights {down} along the run",
        f"By them it was ridden on {q(slope, 'pct')} ± {q(half, 'pct')}, "
        + (
            f"{q(written, 'pct')} is written down."
            if said.known
            else "and no slope is written down."
        )
        + " A run downhill is no proof.",
        slope,
        written,
        "pct",
        fixes=(
            Fix(
                "Take the slope from the log's heights",
                (
                    setting(
                        "prove.slope_pct", round(slope, 2), "measured", round(half / abs(slope), 3)
                    ),
                ),
            ),
        ),
        parts=("prove",),
    )


@check(
    "prove.carried",
    "wind and slope carry much of the logged time",
    source=Source("computed", "the build's run in the log's wind and slope, and in its own"),
)
def carried(bike: Bike) -> Says | None:
    sky = weather(bike)
    if sky is None or not sky.given:
        return None
    rows = [r for r in split_rows(bike) if r.fair_s and r.logged_s and r.kind == "distance"]
    if not rows:
        return None
    last = rows[-1]
    share = (last.fair_s or 0.0) / (last.logged_s or 1.0) - 1.0
    if share <= CARRIED:
        return None
    return Says(
        "caution",
        "Wind or slope carried this run",
        f"{last.name}: {q(last.logged_s or 0, 's')} as ridden would be {q(last.fair_s or 0, 's')} on the build's own "
        "road, by the model. A run with the wind or downhill is no proof: ride it both ways on one day.",
        share,
        CARRIED,
        "ratio",
        parts=("prove",),
    )


@check("prove.rode_on", "the log rides on past where the bike is computed to cut out")
def rode_on(bike: Bike) -> Says | None:
    held, perf = held_closed(bike), performance_of(bike)
    if not held or perf is None or perf.headline.opens_s is None:
        return None
    return Says(
        "caution",
        f"The log rides on where the {held} was to open",
        f"By its numbers the {held} opens {q(perf.headline.opens_s, 's')} into a full-throttle run, and "
        "in the log it did not: the trip values here are not the ones in the bike, or it was ridden in "
        f"a lower mode. The predictions beside the log are those of the bike with the {held} held closed.",
        perf.headline.opens_s,
        0.0,
        "s",
    )


@check("prove.rate", "the logger is slow")
def rate(bike: Bike) -> Says | None:
    ride = chosen_ride(bike)
    if bare_performance(bike) is None or ride is None or ride.rate_hz >= LEAST_HZ:
        return None
    return Says(
        "caution",
        "The logger is slow",
        f"{ride.rate_hz:.1f} samples a second: short splits are guesses. Ten or more are usual.",
        ride.rate_hz,
        LEAST_HZ,
    )


@check(
    "prove.pack_ohm",
    "pack and path resist differently than written",
    source=Source("computed", "regression of volts on amps"),
)
def pack_ohm(bike: Bike) -> Says | None:
    ride, facts, build = chosen_ride(bike), pack_facts(bike), bike.build
    if bare_performance(bike) is None or ride is None or ride.pack_ohm is None or facts is None:
        return None
    path = path_ohm(build.guard)
    have = facts.r_ohm + path
    half = ride.pack_ohm_u95 or 0.0
    if not abs(ride.pack_ohm - have) > max(OHM_APART * have, half):
        return None
    inner = ride.pack_ohm - path - joints_ohm(build.pack)
    each = inner * (build.pack.parallel or 1) / (build.pack.series or 1)
    return Says(
        "caution",
        "Pack and path resist differently than written",
        f"{q(ride.pack_ohm, 'ohm')} ± {q(half, 'ohm')} in the log, {q(have, 'ohm')} in the build.",
        ride.pack_ohm,
        have,
        "ohm",
        fixes=(
            Fix(
                f"Take {each * 1000:.1f} mΩ per cell from the log",
                (setting("pack.cell.r0_ohm", each, "measured", 0.1),),
            ),
        )
        if inner > 0
        else (),
    )


@check(
    "prove.no_cause",
    "an incident or a failure stands in the book without a cause",
    parts=("prove",),
)
def no_cause(bike: Bike) -> Says | None:
    left = [
        e.what or e.kind for e in bike.build.prove.book if e.kind in MISHAPS and not e.cause.strip()
    ]
    if not left:
        return None
    return Says(
        "caution",
        f"{left[-1]}: cause not known",
        "What failed once and was not understood fails again, mostly at speed. Find the cause (Faults), write it "
        "into the book, and ride slowly until then.",
        len(left),
        0,
    )


@check("prove.quarantine", "the bike is not to be ridden before it was looked at", parts=("prove",))
def quarantine(bike: Bike) -> Says | None:
    why = bike.build.prove.quarantine
    if not why:
        return None
    return Says(
        "stop",
        "Not to be ridden before it was looked at",
        f"{why}. Look at frame, welds, axle, bars, plugs, pack case, group volts; ride slowly; then lift this.",
        1.0,
        0.0,
    )


@check("prove.gate", "a gate of commissioning failed", parts=("prove",))
def gate(bike: Bike) -> list[Says]:
    return [
        Says(
            "stop" if s.gate.hold else "caution",
            f"Failed: {s.gate.title}",
            (
                f"Read {q(s.value, s.gate.quantity)}. "
                if s.value is not None and s.gate.quantity
                else ""
            )
            + f"Look in this order: {'; '.join(s.gate.causes)}."
            + (f" {s.gate.caution}" if s.gate.caution else ""),
            s.value if s.value is not None else 0.0,
            s.gate.high
            if s.gate.high is not None
            else s.gate.low
            if s.gate.low is not None
            else 1.0,
            s.gate.quantity or "ratio",
            at=s.gate.key,
        )
        for s in gate_states(bike)
        if s.state == "failed"
    ]


@check(
    "prove.gate_parts",
    "a gate was passed on another part than is fitted now, or at fewer line amps than are set now",
    parts=("prove", "drive.controller", "drive.motor", "pack"),
)
def gate_parts(bike: Bike) -> Says | None:
    again = [s for s in gate_states(bike) if s.others]
    if not again:
        return None
    parts = list(dict.fromkeys(x for s in again for x in s.others))
    return Says(
        "caution",
        f"Another {listed(parts, 9)} than the bike was commissioned with",
        f"Open again: {listed([inside(s.gate.title) for s in again], 30, '; ')}. "
        + (
            "What stayed cool and level at fewer amps says nothing of more."
            if parts == [AMPS]
            else "What was read on the old one says nothing of this one: its poles, its phases, its throttle ends."
        ),
        len(again),
        0,
    )


@check("prove.gate_order", "a gate was entered over an open one before it", parts=("prove",))
def gate_order(bike: Bike) -> Says | None:
    # Those that were passed on another part are named by prove.gate_parts.
    over = [s for s in gate_states(bike) if s.state == "blocked" and s.at and not s.others]
    if not over:
        return None
    many = len(over) > 1
    return Says(
        "caution",
        f"{len(over)} gates do not count yet"
        if many
        else f"Does not count yet: {over[0].gate.title}",
        f"A gate before {'them' if many else 'it'} that protects a hand or the inverter is open: "
        f"{_title(bike, over[0].behind)}."
        + (
            f" Behind it: {listed([inside(s.gate.title) for s in over], 30, '; ')}." if many else ""
        ),
        len(over),
        0,
    )


def _title(bike: Bike, key: str) -> str:
    return next((s.gate.title for s in gate_states(bike) if s.gate.key == key), key)


@check("prove.gates_open", "commissioning is not complete", parts=("prove",))
def gates_open(bike: Bike) -> Says | None:
    states = gate_states(bike)
    left = [s for s in states if s.state != "passed"]
    if not left or bare_performance(bike) is None:
        return None
    return Says(
        "caution",
        "The bike is not commissioned",
        f"{len(states) - len(left)} of {len(states)} gates are passed; next: {inside(left[0].gate.title)}. "
        "No full run before them.",
        len(states) - len(left),
        len(states),
    )
