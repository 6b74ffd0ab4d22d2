"""Isolation of the pack from the frame, by the two-reading method, in the state it was read in."""

from __future__ import annotations

from ninebolt.core.bike.cells import CLASS_B_V
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.guard.limits import DC_ALONE, ISO_DC, ISO_JOINED, JOINED, READ_MORE
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.build import Build
from ninebolt.core.finding import q
from ninebolt.core.guard.isolation import isolation_ohm

PARTS = ("guard.isolation",)


def isolation_of(build: Build) -> float | None:
    """Measured isolation in ohms per volt of the pack; None until all five readings are there."""
    test = build.guard.isolation
    readings = (test.pack_v, test.minus_v, test.plus_v, test.known_ohm, test.loaded_v)
    if not all(v.known for v in readings):
        return None
    pack_v, minus, plus, known, loaded = (v.or_else(0.0) for v in readings)
    larger = max(minus, plus)
    if readings_off(build):
        return None
    if larger <= 0.0 or loaded <= 0.0:
        return None
    return isolation_ohm(pack_v, larger, loaded, known) / pack_v


def readings_off(build: Build) -> str:
    """Why the readings cannot belong to one pack; '' where they can, or none is there."""
    test = build.guard.isolation
    pack_v, minus, plus, loaded = (
        x.amount for x in (test.pack_v, test.minus_v, test.plus_v, test.loaded_v)
    )
    if pack_v is None or minus is None or plus is None:
        return ""
    if minus + plus > READ_MORE * pack_v:
        return (
            f"the two poles read {q(minus, 'v')} and {q(plus, 'v')} to the frame, together more than "
            f"the {q(pack_v, 'v')} between them"
        )
    if loaded is not None and loaded > READ_MORE * max(minus, plus):
        return (
            f"with the resistor across it the larger one rose to {q(loaded, 'v')} from "
            f"{q(max(minus, plus), 'v')}"
        )
    return ""


@check("guard.isolation_off", "the isolation readings contradict each other", parts=PARTS)
def isolation_off(bike: Bike) -> Says | None:
    why, facts = readings_off(bike.build), pack_facts(bike)
    pack_v = bike.build.guard.isolation.pack_v.amount
    if not why and pack_v is not None and facts is not None:
        low, high = facts.empty_v / READ_MORE, facts.full_v * READ_MORE
        if not low <= pack_v <= high:
            why = (
                f"the pack read {q(pack_v, 'v')}; this one has from {q(facts.empty_v, 'v')} to "
                f"{q(facts.full_v, 'v')}"
            )
    if not why:
        return None
    return Says(
        "caution",
        "The isolation readings contradict each other",
        f"It cannot be: {why}. One is misread, in another range, or of another pack, and what comes out "
        "of them says nothing of whether the frame is live. Read all five again, one hand, insulated probes.",
        0,
        0,
    )


@check("guard.isolation", "the pack leaks to the frame", parts=PARTS, source=ISO_DC)
def isolation(bike: Bike) -> Says | None:
    per_v, state = isolation_of(bike.build), bike.build.guard.isolation.state
    if per_v is None:
        return None
    joined = state != "DC side alone"
    limit = JOINED if joined else DC_ALONE
    if per_v >= limit:
        return None
    unsaid = " (taken as joined, since the state is not noted)" if state == "unknown" else ""
    leaks = per_v < DC_ALONE
    return Says(
        "stop" if leaks else "caution",
        "The pack leaks to the frame" if leaks else "With the inverter joined isolation is too low",
        f"{per_v:.0f} Ω per volt, measured with {'the inverter joined' if joined else state}{unsaid};"
        f" at least {limit:.0f} is asked, {DC_ALONE:.0f} of the DC side alone. A hand on the frame "
        "and one on a pole is then a circuit. Find the wet plug or the chafed lead first.",
        per_v,
        limit,
        source=ISO_JOINED if joined else ISO_DC,
    )


@check("guard.isolation_open", "isolation is not measured", parts=PARTS, source=ISO_DC)
def isolation_open(bike: Bike) -> Says | None:
    facts = pack_facts(bike)
    if isolation_of(bike.build) is not None or facts is None or facts.full_v <= CLASS_B_V:
        return None
    test = bike.build.guard.isolation
    if test.loaded_v.amount == 0.0 or (test.minus_v.amount == 0.0 and test.plus_v.amount == 0.0):
        return Says(
            "caution",
            "The meter read no volts to the frame",
            "Isolation is then better than this meter shows, or a probe did not touch bare metal, and that "
            "reads the same. Try the meter on the pack, scrape a bright spot on the frame, and read again; a "
            "larger known resistor leaves volts to read.",
            0,
            DC_ALONE,
        )
    return Says(
        "note",
        "Isolation is not measured yet",
        f"Above {q(CLASS_B_V, 'v')} measure each pole to the frame, then the larger again with a "
        "known resistor across it: insulated probes, one hand, no jewellery.",
        0,
        DC_ALONE,
    )


@check(
    "guard.isolation_half",
    "isolation is measured of the DC side alone, or nobody says in which state",
    parts=PARTS,
    source=ISO_JOINED,
)
def isolation_half(bike: Bike) -> Says | None:
    per_v, state = isolation_of(bike.build), bike.build.guard.isolation.state
    limit = DC_ALONE if state == "DC side alone" else JOINED
    if per_v is None or per_v < limit or state == "inverter joined":
        return None
    alone = state == "DC side alone"
    return Says(
        "note",
        "With the inverter joined isolation is not measured"
        if alone
        else "In which state isolation was measured is not noted",
        f"{per_v:.0f} Ω per volt {'of the DC side alone' if alone else 'as read'}. With controller and motor "
        f"joined {JOINED:.0f} are asked: a wet motor plug or a chafed phase lead shows only then. Read it again with "
        "them joined, and write down which it was.",
        per_v,
        JOINED,
    )
