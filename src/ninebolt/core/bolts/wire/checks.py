"""Wire's findings: leads, safety inputs, water, the order of the work."""

from __future__ import annotations

import re
from collections.abc import Iterator

from ninebolt.core.bike.cells import CLASS_B_V
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.interlocks import SAFETY_INPUTS, input_states
from ninebolt.core.bike.ride import bare_performance, pack_facts
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.bolts.usual import Usual, span, unusual_says
from ninebolt.core.bolts.wire.sheet import LeadRow, phase_rows, steps_of
from ninebolt.core.build import Build
from ninebolt.core.finding import Change, Fix, Source, q
from ninebolt.core.limits import Limit

PHASES = 3
LIVE_M = span("m", 0.05, 1.2, "height of the lowest live point of a motorcycle")
AXLE_M = Limit(0.25, "m", "live points lower than this stand in water at a ford")


def _used_twice(rows: tuple[LeadRow, ...]) -> bool:
    marks = [r.controller_mark for r in rows if r.controller_mark]
    return len(marks) != len(set(marks)) or len({r.motor_colour for r in rows}) < len(rows)


@check("wire.twice", "a phase lead is used twice")
def twice(bike: Bike) -> Says | None:
    rows = phase_rows(bike.build)
    if not _used_twice(rows):
        return None
    marks = [r.controller_mark for r in rows if r.controller_mark]
    return Says(
        "stop",
        "A phase lead is used twice",
        f"The map has {len(rows)} rows for marks {', '.join(marks)}; each letter and each motor lead goes "
        "once.",
        len(set(marks)),
        len(rows),
    )


@check("wire.colour", "wired colour to colour, and not confirmed", parts=("wire",))
def colour(bike: Bike) -> Says | None:
    rows = phase_rows(bike.build)
    loose = [r for r in rows if not r.confirmed]
    if not rows or _used_twice(rows) or not loose or not all(r.same_colour for r in rows):
        return None
    return Says(
        "caution",
        "Wired colour to colour, and not confirmed",
        "Makers do not agree which colour is U. A wrong order stutters, cogs or runs backwards. Run the "
        "identification, wheel free, chain off, then confirm.",
        len(rows) - len(loose),
        len(rows),
    )


@check("wire.confirm", "phase or hall order not confirmed", parts=("wire",))
def confirm(bike: Bike) -> Says | None:
    rows = phase_rows(bike.build)
    if len(rows) < PHASES and (rows or bare_performance(bike) is not None):
        return Says(
            "note",
            "Not every phase lead is in the map",
            f"{len(rows)} of {PHASES}. Write down which of the controller's goes to which of the motor's, by mark and "
            "by colour, before they are joined: two changed over run backwards, or stutter at full current.",
            len(rows),
            PHASES,
        )
    loose = [r for r in rows if not r.confirmed]
    halls = [h for h in bike.build.wire.halls if not h.confirmed]
    if not loose and halls:
        return Says(
            "note",
            "Hall order not confirmed yet",
            f"{len(halls)} of {len(bike.build.wire.halls)} hall leads. With one pair changed over the motor stutters "
            "at full current, or runs backwards. An identification run settles it.",
            len(bike.build.wire.halls) - len(halls),
            len(bike.build.wire.halls),
        )
    if not loose or _used_twice(rows) or all(r.same_colour for r in rows):
        return None
    return Says(
        "note",
        "Phase order not confirmed yet",
        f"{len(loose)} of {len(rows)} leads. An identification run settles it; colour is never identity.",
        len(rows) - len(loose),
        len(rows),
    )


@check("wire.input", "a safety input is open or bypassed", parts=("wire",))
def inputs(bike: Bike) -> list[Says]:
    return [
        _input(bike.build, name, state)
        for name, state in input_states(bike.build).items()
        if state != "fitted"
    ]


def _input(build: Build, name: str, state: str) -> Says:
    lost = "what it is there to stop goes on"
    if name in SAFETY_INPUTS:
        lost = f"nothing stops the wheel {'when you brake' if 'brake' in name else 'in that case'}"
    return Says(
        "caution",
        f"{name.capitalize()}: {state}",
        f"The {name} input is {state}; {lost}. It is not ready for the road until this is fitted or replaced.",
        0,
        1,
        fixes=(_fit_input(build, name),),
        at=re.sub(r"\W+", "_", name),
    )


@check("wire.ford", "a live point sits low")
def ford(bike: Bike) -> Says | None:
    low = bike.build.wire.lowest_live_m.amount
    if low is None or low >= AXLE_M:
        return None
    return Says(
        "caution",
        "A live point sits low",
        f"{q(low, 'm')} above the ground: water over that reaches it.",
        low,
        AXLE_M,
        "m",
    )


@check("wire.usual", "the lowest live point is where no bike has it")
def usual(bike: Bike) -> Iterator[Says]:
    low = bike.build.wire.lowest_live_m
    return unusual_says(
        [Usual("lowest_live_m", "The height of the lowest live point", low, *LIVE_M)]
    )


@check("wire.ford_open", "how high the lowest live point sits is not measured")
def ford_open(bike: Bike) -> Says | None:
    facts = pack_facts(bike)
    if facts is None or facts.full_v <= CLASS_B_V or bike.build.wire.lowest_live_m.known:
        return None
    return Says(
        "note",
        "How deep it may go is not known",
        f"Measure how high the lowest live point sits, open plug or terminal: water over it is in "
        f"{q(facts.full_v, 'v')}.",
        0,
        1,
    )


@check(
    "wire.order",
    "the fuse is in before the rest is done",
    source=Source("standard", "ISO 6469-3: class B above 60 V DC"),
)
def order(bike: Bike) -> Says | None:
    steps, facts, done = steps_of(bike.build), pack_facts(bike), bike.build.wire.done
    early = [s for s in steps if not s.done and not s.live]
    if "fuse" not in [s.key for s in steps if s.done] or not early:
        return None
    if facts is None or facts.full_v <= CLASS_B_V:
        return None
    return Says(
        "stop",
        "The fuse is in before the rest is done",
        f"Open before it: {early[0].title}. Pull the fuse; {q(facts.full_v, 'v')} is live while you work.",
        len(early),
        0,
        fixes=(
            Fix("Mark the fuse as out", (Change("wire.done", [k for k in done if k != "fuse"]),)),
        ),
    )


def _fit_input(build: Build, name: str) -> Fix:
    rows = [{"name": n, "state": s} for n, s in input_states(build).items() if n != name]
    return Fix(
        f"Mark the {name} as fitted",
        (Change("wire.interlocks", [*rows, {"name": name, "state": "fitted"}]),),
    )
