"""The main plug: rating, warmth, seating, poles, condition."""

from __future__ import annotations

import math

from ninebolt.core.bike.cells import CLASS_B_V
from ninebolt.core.bike.chain import advice
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.opening import opening
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bolts.guard.limits import PLUG_HOT_K, PLUG_WARM_K
from ninebolt.core.bolts.guard.sizes import next_volts
from ninebolt.core.bolts.guard.swaps import swaps_for
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import BUILD, Change, Fix, Source, q, setting
from ninebolt.core.guard.conductors import PLUG_DROP_V, plug_rise_k
from ninebolt.core.parts.guard import Plug

PARTS = ("guard.plug",)
USED = ("ready_made", "vehicle_modules")  # packs that come with a plug, and with a past


def _fitted(bike: Bike) -> Plug | None:
    plug = bike.build.guard.plug
    return plug if plug.there else None


@check("guard.plug_open", "the main plug is not looked at, or its ratings are blank", parts=PARTS)
def plug_open(bike: Bike) -> Says | None:
    plug, facts = bike.build.guard.plug, pack_facts(bike)
    if plug.there is False or facts is None:
        return None
    if plug.there is None:
        return Says(
            "caution",
            "The main plug is not looked at",
            "Which plug it is, how hard it is driven and how it is seated decides whether it melts. "
            "Say which, or that there is none.",
            0,
            1,
            fixes=swaps_for(bike, "guard.plug")[:1],
        )
    rows = [("continuous current", plug.i_cont_a), ("DC voltage", plug.dc_v)]
    load, cont = load_a(bike), plug.i_cont_a.amount
    if load is not None and cont is not None and load > cont:
        rows.append(("peak current", plug.i_peak_a))
    blank = [words for words, v in rows if not v.known]
    if not blank:
        return None
    return Says(
        "caution",
        f"The main plug's {' and '.join(blank)} {'is' if len(blank) == 1 else 'are'} unknown",
        "A plug that looks the part may be rated for a third of it. Look it up before first power.",
        len(rows) - len(blank),
        len(rows),
    )


@check("guard.plug_v", "the plug's voltage is below the full pack", parts=PARTS, source=BUILD)
def plug_v(bike: Bike) -> Says | None:
    plug, facts = _fitted(bike), pack_facts(bike)
    volts = plug.dc_v.amount if plug else None
    if facts is None or volts is None or volts >= facts.full_v:
        return None
    return Says(
        "stop",
        "The main plug is not rated for this voltage",
        f"{q(volts, 'v')} DC against {q(facts.full_v, 'v')} full: opened under load it can weld or "
        "burn.",
        facts.full_v,
        volts,
        "v",
        fixes=(next_volts("Fit a main plug", "guard.plug.dc_v", facts.full_v),),
    )


@check(
    "guard.plug_a",
    "line amps exceed the plug's peak, or its contacts get hot at the current that flows",
    parts=PARTS,
    source=Source("practice", "30 K at its rated current, growing with the square"),
)
def plug_a(bike: Bike) -> Says | None:
    plug, load, run = _fitted(bike), load_a(bike), opening(bike)
    cont = plug.i_cont_a.amount if plug else None
    if plug is None or cont is None or load is None:
        return None
    worked = run.worked_a if run else load
    rise, over = (
        plug_rise_k(worked, cont, plug.r_ohm.amount),
        load > plug.i_peak_a.or_else(math.inf),
    )
    if rise <= PLUG_WARM_K and not over:
        return None
    worn = plug.r_ohm.known and plug_rise_k(worked, cont) <= PLUG_WARM_K and not over
    want = math.ceil(max(worked, load * cont / plug.i_peak_a.or_else(math.inf)) / 10.0) * 10.0
    changes = [setting("guard.plug.i_cont_a", want, "label")]
    if plug.i_peak_a.known:
        peak = max(load, want * (plug.i_peak_a.amount or 0.0) / cont)
        changes.append(setting("guard.plug.i_peak_a", math.ceil(peak), "label"))
    chosen = advice(bike)
    peak_words = f" Its peak is {q(plug.i_peak_a.or_else(0.0), 'a')}." if over else ""
    return Says(
        "stop" if rise > PLUG_HOT_K else "caution",
        "The main plug resists too much" if worn else "The main plug is small for the line amps",
        f"{q(load, 'a')} asked, {q(worked, 'a')} RMS over the riding, against {q(cont, 'a')}: its "
        f"contacts rise by about {q(rise, 'k')}.{peak_words} "
        + (
            f"A sound one of this size has {q(PLUG_DROP_V / cont, 'ohm')}: replace it. "
            if worn
            else ""
        )
        + "A plug not pushed home burns at the "
        "first full throttle.",
        load if over else rise,
        plug.i_peak_a.amount if over else PLUG_WARM_K,
        "a" if over else "k",
        fixes=(
            *(() if worn else (Fix(f"Fit one of {want:.0f} A", tuple(changes)),)),
            *((chosen.fix,) if chosen else ()),
        ),
    )


@check("guard.plug_seat", "nothing shows that the plug is home, or nobody knows", parts=PARTS)
def plug_seat(bike: Bike) -> Says | None:
    plug = _fitted(bike)
    if plug is None or plug.seated not in ("by feel", "unknown"):
        return None
    feel = plug.seated == "by feel"
    return Says(
        "caution",
        "Nothing shows that the main plug is home"
        if feel
        else "How one sees that the main plug is home is unknown",
        "A plug that is not pushed home arcs and melts at the first full throttle. Paint a line "
        "across both halves, or write down the depth.",
        0,
        1,
        fixes=(Fix("I have painted a line", (Change("guard.plug.seated", "witness line"),)),),
    )


@check("guard.plug_poles", "the plug goes in the wrong way round, or nobody knows", parts=PARTS)
def plug_poles(bike: Bike) -> Says | None:
    plug, facts = _fitted(bike), pack_facts(bike)
    if plug is None or plug.keyed or facts is None:
        return None
    wrong = plug.keyed is False
    return Says(
        "stop" if wrong else "caution",
        "The main plug goes in the wrong way round"
        if wrong
        else "Whether the main plug is keyed is unknown",
        f"{q(facts.full_v, 'v')} the wrong way round destroys the controller and its capacitors. Fit "
        "a keyed plug, or different plugs for both poles; meter the poles before the first time.",
        0,
        1,
        fixes=swaps_for(bike, "guard.plug")[:1]
        if wrong
        else (Fix("It goes in one way only", (Change("guard.plug.keyed", True),)),),
    )


@check("guard.plug_burnt", "the plug has arced or melted", parts=PARTS)
def plug_burnt(bike: Bike) -> Says | None:
    plug = _fitted(bike)
    if plug is None or plug.condition not in ("arced", "melted"):
        return None
    return Says(
        "stop",
        f"The main plug has {plug.condition}: replace it, both halves",
        "Its springs are soft and its contacts pitted: cleaned, it looks right and burns at the next "
        "full throttle. Look for why: seating, crimp, current.",
        0,
        1,
        fixes=(Fix("It is replaced, both halves", (Change("guard.plug.condition", "sound"),)),),
    )


@check("guard.plug_worn", "nobody has looked at a used main plug", parts=PARTS)
def plug_worn(bike: Bike) -> Says | None:
    plug, build = _fitted(bike), bike.build
    used = build.pack.source in USED or any(s.kind == "pack" for s in build.donor.salvage)
    if plug is None or plug.condition != "unknown" or not used or pack_facts(bike) is None:
        return None
    return Says(
        "note",
        "Is the main plug sound?",
        "The pack has been in use before: whether its plug has arced or melted nobody says. Look into both halves.",
        0,
        1,
        fixes=(Fix("Both halves are sound", (Change("guard.plug.condition", "sound"),)),),
    )


@check("guard.no_plug", "there is no main plug", parts=("guard.plug", "guard.isolator"))
def no_plug(bike: Bike) -> Says | None:
    g, facts = bike.build.guard, pack_facts(bike)
    if g.plug.there is not False or facts is None:
        return None
    alone = g.isolator.kind == "unplug" or not g.isolator.there
    return Says(
        "stop" if alone else "note",
        "There is no plug to part pack and bike",
        "The pack is to be cut off by unplugging it, and there is nothing to unplug."
        if alone
        else f"Its leads carry {q(facts.full_v, 'v')} up to the isolator whenever anybody works on the bike: "
        "the isolator belongs at the pack's own pole, and the leads behind caps.",
        facts.full_v,
        CLASS_B_V,
        "v",
    )
