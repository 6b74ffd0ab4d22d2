"""Filling the controller's capacitors: whether, through what, how long, and how it is made safe."""

from __future__ import annotations

import math

from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.guard.limits import (
    AS_NONE,
    FILL_LEAST_S,
    FILL_S,
    FILLED,
    HELD_DOWN,
    PULSE_W,
    RESISTORS_OHM,
    RESISTORS_W,
)
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Change, Fix, Source, q, setting
from ninebolt.core.guard.precharge import fill_energy_j, peak_w, time_to_share_s, with_load

PARTS = ("guard.precharge",)
RC = Source("computed", "-R C ln(1 - share)")
Filling = tuple[PackFacts, float, float | None]  # pack, ohms, farads


def filling(bike: Bike) -> Filling | None:
    """What fills through what; None without a pack or without a resistor."""
    facts, pre = pack_facts(bike), bike.build.guard.precharge
    r = pre.r_ohm.amount if pre.there else None
    return None if facts is None or r is None else (facts, r, _farad(bike))


def _farad(bike: Bike) -> float | None:
    return bike.build.drive.controller.c_bus_farad.amount


def proposed(volts: float, farad: float | None) -> tuple[float, float] | None:
    """(ohms, watts) that fill the capacitors fast enough, at a pulse that a usual resistor stands;
    None while the capacitance is not known."""
    if farad is None:
        return None
    for ohm in RESISTORS_OHM:
        seconds = time_to_share_s(ohm, farad, FILLED)
        watts = next((w for w in RESISTORS_W if PULSE_W * w >= peak_w(ohm, volts)), None)
        if FILL_LEAST_S <= seconds <= FILL_S and watts is not None:
            return ohm, watts
    return None


def _fit(volts: float, farad: float | None) -> tuple[Fix, ...]:
    pick = proposed(volts, farad)
    if pick is None:
        return ()
    ohm, watts = pick
    return (
        Fix(
            f"Fit {ohm:.0f} Ω, {watts:.0f} W",
            (
                setting("guard.precharge.r_ohm", ohm, "label", 0.05),
                setting("guard.precharge.rated_w", watts, "label", 0.0),
                Change("guard.precharge.presence", "fitted"),
            ),
        ),
    )


@check(
    "guard.no_precharge",
    "capacitors are closed onto without precharge, or nobody has looked",
    parts=PARTS,
)
def no_precharge(bike: Bike) -> Says | None:
    g, facts = bike.build.guard, pack_facts(bike)
    pre, kind = g.precharge, g.isolator.kind
    if facts is None or (pre.there and pre.r_ohm.known):
        return None
    farad, contact = _farad(bike), g.isolator.there is not False and kind == "contactor"
    if kind == "unplug" and g.plug.pre_mates:
        return None
    energy = (
        f"{q(fill_energy_j(farad, facts.full_v), 'j')} jump across it"
        if farad
        else ("how much is unknown while the controller's capacitance is")
    )
    if pre.there is None:
        return Says(
            "caution",
            "Precharge is not looked at",
            f"Behind the contact lie the controller's capacitors ({energy} at "
            f"{q(facts.full_v, 'v')}). Say what fills them first, or that nothing does.",
            0,
            1,
            fixes=_fit(facts.full_v, farad),
        )
    what = "contactor pits or welds shut" if contact else "contact arcs and pits at each closing"
    return Says(
        "stop" if contact else "caution",
        "There is no precharge",
        f"Closing onto empty capacitors at {q(facts.full_v, 'v')}, {energy}; the {what}. "
        + (
            "A resistor across it for a second is enough."
            if kind != "unplug"
            else "Take a plug with a pre-mating or anti-spark contact, or a resistor by key."
        ),
        0,
        1,
        fixes=_fit(facts.full_v, farad),
    )  # fmt: skip


@check(
    "guard.precharge_blank",
    "capacitance behind the contact is unknown",
    parts=("drive.controller",),
)
def precharge_blank(bike: Bike) -> Says | None:
    found = filling(bike)
    if found is None or found[2] is not None:
        return None
    return Says(
        "caution",
        "How long precharge takes is unknown",
        "The controller's bus capacitance is not given: read it off its capacitors, or watch the bus "
        "with a meter and wait until it stands.",
        0,
        1,
    )


@check(
    "guard.precharge_w",
    "the resistor's pulse or a stuck load is more than it stands",
    parts=PARTS,
    source=Source("computed", "V² / R against ten times the rating for a second; ½ C V²"),
)
def precharge_w(bike: Bike) -> Says | None:
    found, rated = filling(bike), bike.build.guard.precharge.rated_w.amount
    if found is None or rated is None:
        return None
    facts, r, farad = found
    pulse = peak_w(r, facts.full_v)
    if pulse <= PULSE_W * rated:
        return None
    return Says(
        "caution",
        "The precharge resistor is small for its pulse",
        f"{q(pulse, 'w')} at the first instant on {q(rated, 'w')}; it stands ten times its rating "
        "for a second, and nothing of it for good: a load that is on, or a shorted controller, burns "
        "it. Keep converter and lights off until the contactor is in.",
        pulse,
        PULSE_W * rated,
        "w",
        fixes=_fit(facts.full_v, farad),
    )


@check("guard.precharge_rating", "the resistor's power is unknown", parts=PARTS)
def precharge_rating(bike: Bike) -> Says | None:
    found = filling(bike)
    if found is None or bike.build.guard.precharge.rated_w.known:
        return None
    facts, r, _ = found
    pulse = peak_w(r, facts.full_v)
    want = next((w for w in RESISTORS_W if PULSE_W * w >= pulse), RESISTORS_W[-1])
    return Says(
        "caution",
        "What power the precharge resistor stands is unknown",
        f"{q(pulse, 'w')} go into it at the first instant; a wire-wound one of {q(want, 'w')} stands that "
        "for a second, a small film one bursts or burns open, and the contactor closes on an empty bus.",
        0,
        1,
        fixes=(
            Fix(f"It stands {want:.0f} W", (setting("guard.precharge.rated_w", want, "label"),)),
        ),
    )


@check("guard.precharge_slow", "precharge takes long", parts=PARTS, source=RC)
def precharge_slow(bike: Bike) -> Says | None:
    found = filling(bike)
    if found is None or found[2] is None:
        return None
    facts, r, farad = found
    seconds = time_to_share_s(r, farad or 0.0, FILLED)
    if seconds <= FILL_S:
        return None
    return Says(
        "note",
        "Precharge takes long",
        f"{q(seconds, 's')} to {FILLED:.0%}.",
        seconds,
        FILL_S,
        "s",
        fixes=_fit(facts.full_v, farad),
    )


@check(
    "guard.precharge_wait",
    "the contactor closes before the capacitors are full",
    parts=PARTS,
    source=RC,
)
def precharge_wait(bike: Bike) -> Says | None:
    found, wait = filling(bike), bike.build.guard.precharge.delay_s.amount
    if found is None or found[2] is None or wait is None:
        return None
    _, r, farad = found
    full = time_to_share_s(r, farad or 0.0, FILLED)
    if wait >= full:
        return None
    stands = 1.0 - math.exp(-wait / (r * (farad or 1.0)))
    to = math.ceil(full * 15) / 10
    empty = bike.build.guard.isolator.kind == "contactor" and stands < AS_NONE
    return Says(
        "stop" if empty else "caution",
        "The contactor closes before the capacitors are full",
        f"After {q(wait, 's')} they stand at {stands:.0%}; {FILLED:.0%} takes {q(full, 's')}. The "
        "rest jumps across the contacts.",
        wait,
        full,
        "s",
        fixes=(Fix(f"Wait {to:.1f} s", (setting("guard.precharge.delay_s", to, "label"),)),),
    )


@check(
    "guard.precharge_load",
    "a load is on while the capacitors fill",
    parts=("guard.precharge", "guard.dcdc"),
    source=Source("computed", "V² - E V + R P = 0"),
)
def precharge_load(bike: Bike) -> Says | None:
    found, on = filling(bike), bike.build.guard.precharge.load_w.taken
    if found is None or on <= 0.0:
        return None
    facts, r, _ = found
    filled = with_load(r, facts.full_v, on)
    return Says(
        "stop" if filled.share < HELD_DOWN else "caution",
        "A load is on while the capacitors fill",
        f"{q(on, 'w')} behind {q(r, 'ohm')} holds them at {filled.share:.0%} of the pack, and "
        f"{q(filled.stays_w, 'w')} stays in the resistor. Keep it off until the contactor is in.",
        filled.share * 100,
        FILLED * 100,
        "pct",
        fixes=(Fix("Keep it off", (setting("guard.precharge.load_w", 0.0, "label"),)),),
    )
