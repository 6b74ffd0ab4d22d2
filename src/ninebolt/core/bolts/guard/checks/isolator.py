"""What opens the pack by hand or key: contactor, breaker, or pulling the plug."""

from __future__ import annotations

import math

from ninebolt.core.bike.cells import CLASS_B_V
from ninebolt.core.bike.chain import advice
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.opening import opening
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bolts.blank import Blank, blank_says
from ninebolt.core.bolts.guard.limits import COIL_SHARE, SET_V
from ninebolt.core.bolts.guard.sizes import next_volts
from ninebolt.core.bolts.guard.swaps import swaps_for
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import BUILD, REGEN_OFF, Change, Fix, Source, listed, q, setting
from ninebolt.core.guard.fuse import BREAKER, least_rating
from ninebolt.core.parts.guard import Isolator

PARTS = ("guard.isolator",)


def _fitted(bike: Bike) -> Isolator | None:
    iso = bike.build.guard.isolator
    return iso if iso.there else None


def _brakes(bike: Bike) -> bool:
    return bike.build.tune.regen_pct.taken > 0.0


@check("guard.no_isolator", "nothing opens the pack, or nobody has looked", parts=PARTS)
def no_isolator(bike: Bike) -> Says | None:
    iso, facts = bike.build.guard.isolator, pack_facts(bike)
    if iso.there:
        return None
    volts = f" {q(facts.full_v, 'v')} stay on the controller." if facts else ""
    if iso.there is None:
        return Says(
            "caution",
            "How the pack is cut off is not looked at",
            f"Contactor, breaker or a plug made for it: say which, or that there is none.{volts}",
            0,
            1,
            fixes=swaps_for(bike, "guard.isolator")[:1],
        )
    return Says(
        "stop",
        "Nothing cuts the pack off",
        f"Without an isolator within reach a runaway cannot be ended, and no work is safe.{volts}",
        0,
        1,
        fixes=swaps_for(bike, "guard.isolator")[:2],
    )


@check("guard.isolator_blank", "what the isolator carries or breaks is not all known", parts=PARTS)
def isolator_blank(bike: Bike) -> Says | None:
    iso, facts = _fitted(bike), pack_facts(bike)
    if iso is None or facts is None or iso.rated_for == "AC only":
        return None
    rows = [("DC voltage", iso.dc_v.known), ("continuous current", iso.i_cont_a.known)]
    if iso.kind == "breaker":
        rows.append(("kind of current on the label", iso.rated_for != "unknown"))
    if iso.kind != "unplug":
        rows.append(("breaking capacity", iso.breaking_a.known))
        if _brakes(bike):
            rows.append(("breaking in either direction", iso.both_ways is not None))
    blank = [name for name, known in rows if not known]
    if not blank:
        return None
    return Says(
        "caution",
        f"The {iso.kind}'s {listed(blank)} {'is' if len(blank) == 1 else 'are'} unknown",
        f"It must carry the line amps and open {q(facts.full_v, 'v')} DC under load; most switches and "
        "breakers are made for alternating current. Read its label before first power.",
        len(rows) - len(blank),
        len(rows),
        fixes=swaps_for(bike, "guard.isolator")[:1],
    )


@check(
    "guard.isolator_v", "the isolator's DC rating is below the full pack", parts=PARTS, source=BUILD
)
def isolator_v(bike: Bike) -> Says | None:
    iso, facts = _fitted(bike), pack_facts(bike)
    volts = iso.dc_v.amount if iso else None
    if iso is None or facts is None or volts is None or volts >= facts.full_v:
        return None
    return Says(
        "stop",
        f"The {iso.kind} is not rated for this voltage",
        f"{q(volts, 'v')} DC against {q(facts.full_v, 'v')} full: opened under load it can weld or "
        "burn.",
        facts.full_v,
        volts,
        "v",
        fixes=(next_volts(f"Fit a {iso.kind}", "guard.isolator.dc_v", facts.full_v),),
    )


@check(
    "guard.isolator_break",
    "the isolator cannot break the current that flows",
    parts=PARTS,
    source=BUILD,
)
def isolator_break(bike: Bike) -> Says | None:
    iso, flows = _fitted(bike), load_a(bike)
    breaks = iso.breaking_a.amount if iso and iso.kind != "unplug" else None
    if iso is None or breaks is None or flows is None or flows <= breaks:
        return None
    want = math.ceil(flows / 10.0) * 10.0
    return Says(
        "stop",
        f"The {iso.kind} cannot break what flows",
        f"It opens {q(breaks, 'a')}; at full throttle {q(flows, 'a')} flow. What it carries closed says "
        "nothing of what it can open: a runaway would not be ended, its contacts weld or burn.",
        flows,
        breaks,
        "a",
        fixes=(
            Fix(
                f"Fit a {iso.kind} that breaks {want:.0f} A",
                (setting("guard.isolator.breaking_a", want, "label"),),
            ),
            *swaps_for(bike, "guard.isolator")[:1],
        ),
    )


@check(
    "guard.isolator_one_way",
    "the isolator breaks current in one direction only",
    parts=(*PARTS, "tune.regen_pct"),
)
def isolator_one_way(bike: Bike) -> Says | None:
    iso = _fitted(bike)
    if iso is None or iso.kind == "unplug" or iso.both_ways is not False:
        return None
    if not _brakes(bike):
        return Says(
            "note",
            f"The {iso.kind} breaks current in one direction only",
            "Its marked pole goes to the pack's plus; the other way round its magnets blow the arc inwards.",
        )
    return Says(
        "stop",
        f"The {iso.kind} cannot break the current of braking",
        "Its magnets put an arc out in one direction only, and braking by the motor sends current the other "
        "way: opened then, it may burn on. One for either direction, or no braking by the motor.",
        fixes=(
            *swaps_for(bike, "guard.isolator")[:1],
            REGEN_OFF,
        ),
    )


@check(
    "guard.isolator_a",
    "the isolator is small for the current that flows",
    parts=PARTS,
    source=BUILD,
)
def isolator_a(bike: Bike) -> Says | None:
    iso, load, run = _fitted(bike), load_a(bike), opening(bike)
    cont = iso.i_cont_a.amount if iso else None
    if iso is None or cont is None or load is None or load <= cont:
        return None
    worked = run.worked_a if run else load
    if worked <= cont:
        return None  # in bursts only: said of the chain as a whole
    want = math.ceil(worked / 10.0) * 10.0
    chosen = advice(bike)
    return Says(
        "caution",
        f"The {iso.kind} is small for the line amps",
        f"{q(worked, 'a')} {'RMS flow' if run else 'are set'} against {q(cont, 'a')} continuous: its contacts heat and "
        "tire.",
        worked,
        cont,
        "a",
        fixes=(
            Fix(f"Fit one of {want:.0f} A", (setting("guard.isolator.i_cont_a", want, "label"),)),
            *((chosen.fix,) if chosen else ()),
        ),
    )


@check(
    "guard.breaker_run",
    "the breaker opens along the run or session",
    parts=PARTS,
    source=Source("memory", "thermal-magnetic band after IEC 60947-2, or the curve given"),
)
def breaker_run(bike: Bike) -> Says | None:
    iso, run = _fitted(bike), opening(bike)
    opens = run.breaker if run else None
    rated = iso.i_cont_a.amount if iso else None
    if iso is None or run is None or opens is None or rated is None:
        return None
    want = least_rating(run.t_s, run.line_a, iso.opens or BREAKER)
    return Says(
        "stop",
        "The breaker opens on a full-throttle run",
        f"{q(opens.line_a, 'a')} is {opens.line_a / rated:.1f} times its {q(rated, 'a')}; by the "
        f"middle of its curve it opens after {q(opens.t_s, 's')}{opens.words} near "
        f"{q(opens.speed_m_s, 'm_s')}, a warm one sooner.",
        opens.line_a,
        rated,
        "a",
        fixes=(
            Fix(
                f"Fit a {want:.0f} A breaker",
                (setting("guard.isolator.i_cont_a", want, "label"),),
            ),
        ),
    )


@check("guard.isolator_ac", "the isolator is made for alternating current", parts=PARTS)
def isolator_ac(bike: Bike) -> Says | None:
    iso, facts = bike.build.guard.isolator, pack_facts(bike)
    if iso.rated_for != "AC only" or iso.there is False:
        return None
    return Says(
        "stop",
        f"The {iso.kind} is made for alternating current",
        "An AC arc goes out at every zero crossing; a DC arc has none and burns on. Fit one with a "
        "DC rating at this voltage.",
        0,
        facts.full_v if facts else None,
        "v",
        fixes=swaps_for(bike, "guard.isolator")[:1],
    )


@check("guard.unplug", "isolation is by pulling the plug", parts=PARTS)
def unplug(bike: Bike) -> Says | None:
    iso, facts = _fitted(bike), pack_facts(bike)
    if iso is None or iso.kind != "unplug" or facts is None or facts.full_v <= CLASS_B_V:
        return None
    return Says(
        "note",
        "Isolation is by pulling the plug",
        "Never under load, and never as the only way to stop: a gloved hand must reach another one "
        "(kill switch to the controller) while riding.",
        facts.full_v,
        CLASS_B_V,
        "v",
    )


@check(
    "guard.coil_loop",
    "the contactor's coil is fed from behind itself",
    parts=("guard.isolator", "guard.dcdc"),
)
def coil_loop(bike: Bike) -> Says | None:
    iso, dcdc = _fitted(bike), bike.build.guard.dcdc
    if iso is None or iso.kind != "contactor":
        return None
    if iso.coil_feed != "converter" or dcdc.feed != "behind the contactor":
        return None
    return Says(
        "stop",
        "The contactor can never close",
        "Its coil is fed by the converter, and the converter gets its power only behind the "
        "contactor. Feed the coil before it, or from a 12 V battery.",
        0,
        1,
        source=Source("build", "feeds as written in this build"),
    )


@check("guard.coil_blank", "what the contactor's coil needs is not all known", parts=PARTS)
def coil_blank(bike: Bike) -> Says | None:
    iso = _fitted(bike)
    if iso is None or iso.kind != "contactor" or pack_facts(bike) is None:
        return None
    rows = [
        Blank("its coil's voltage", iso.coil_v.known),
        Blank("its coil's power", iso.coil_w.known, heavy=False),
        Blank("what feeds the coil", iso.coil_feed != "unknown", heavy=False),
        Blank(
            "where the converter that feeds the coil is connected",
            iso.coil_feed != "converter" or bike.build.guard.dcdc.feed != "unknown",
            heavy=False,
        ),
        Blank("whether the key must be on for it to close", iso.key_first is not None, heavy=False),
    ]
    return blank_says(
        "What the contactor's coil needs is not all known",
        rows,
        "On too many volts it burns, on too few it drops out at full current and arcs; without the key in its "
        "circuit nobody can switch the bike off.",
    )


@check(
    "guard.coil_battery",
    "the coil is fed by a 12 V battery that is not there",
    parts=("guard.isolator", "guard.dcdc"),
)
def coil_battery(bike: Bike) -> Says | None:
    iso, battery = _fitted(bike), bike.build.guard.dcdc.aux_battery
    if iso is None or iso.kind != "contactor" or iso.coil_feed != "auxiliary battery" or battery:
        return None
    gone = battery is False
    return Says(
        "stop" if gone else "caution",
        "The coil's 12 V battery is not there" if gone else "Is there a 12 V battery for the coil?",
        "The contactor is to be held by a 12 V battery, and "
        + ("there is none: it never closes." if gone else "nobody says that there is one.")
        + " Fed by the converter instead, the coil goes before the contactor.",
        0,
        1,
        fixes=(Fix("The converter feeds it", (Change("guard.isolator.coil_feed", "converter"),)),),
    )


@check("guard.coil_v", "the coil does not fit what feeds it", parts=PARTS, source=BUILD)
def coil_v(bike: Bike) -> Says | None:
    iso, facts = _fitted(bike), pack_facts(bike)
    if iso is None or iso.kind != "contactor":
        return None
    feed = {
        "converter": bike.build.guard.dcdc.out_v.amount,
        "pack": facts.full_v if facts else None,
        "auxiliary battery": float(SET_V),
    }.get(iso.coil_feed)
    coil = iso.coil_v.amount
    if feed is None or coil is None or abs(feed - coil) <= COIL_SHARE * coil:
        return None
    return Says(
        "stop" if feed > coil else "caution",
        "The coil does not fit what feeds it",
        f"A coil for {q(coil, 'v')} on {q(feed, 'v')}: it burns, or drops out and arcs.",
        feed,
        coil,
        "v",
    )


@check("guard.coil_diode", "the coil's spike goes nowhere, or nobody knows", parts=PARTS)
def coil_diode(bike: Bike) -> Says | None:
    iso = _fitted(bike)
    if iso is None or iso.kind != "contactor":
        return None
    if iso.suppression == "diode":
        return Says(
            "note",
            "A bare diode slows the contacts",
            "The coil's current dies away slowly in it, the contacts part slowly, and a DC arc burns the longer. A "
            "zener in line with the diode lets go fast; its volts must suit the key switch.",
            1,
            2,
        )
    if iso.suppression not in ("none", "unknown"):
        return None
    none = iso.suppression == "none"
    return Says(
        "caution" if none else "note",
        "The coil has no suppression" if none else "Whether the coil has suppression is unknown",
        "Each time it opens, the coil's spike goes into the key switch and the converter. A diode "
        "with a zener across it lets go fast; a bare diode slows the contacts.",
        0,
        1,
    )


@check("guard.key_order", "the contactor closes without the key", parts=PARTS)
def key_order(bike: Bike) -> Says | None:
    iso = _fitted(bike)
    if iso is None or iso.kind != "contactor" or iso.key_first is not False:
        return None
    return Says(
        "caution",
        "The contactor closes without the key",
        "Key, precharge, wait, contactor, in this order; key off opens it again.",
        0,
        1,
    )
