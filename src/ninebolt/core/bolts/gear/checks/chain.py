"""Findings on the chain or belt: speed, pull, length, line."""

from __future__ import annotations

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.blank import Blank, blank_says
from ninebolt.core.bolts.gear.chassis import chain_pull
from ninebolt.core.bolts.gear.checks.ratio import current
from ninebolt.core.bolts.gear.limits import (
    AXLE_STAYS_M,
    BELT_STOP,
    BELT_WATCH,
    CHAIN_LINE_M,
    CHAIN_MAX_M_S,
    CHAIN_STOP,
    CHAIN_WATCH,
    LENGTH_SOURCE,
    MESH_STOP,
    MESH_WATCH,
    SLOT_MOST_M,
    TENSILE_SOURCE,
)
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Change, Fix, q
from ninebolt.core.vehicle.chain import BELT_PITCH_M, PITCH_M, TENSILE_N


@check("gear.chain", "the chain runs very fast", parts=("gear",))
def speed(bike: Bike) -> Says | None:
    now = current(bike)
    if now is None or now.chain_m_s is None or now.chain_m_s <= CHAIN_MAX_M_S:
        return None
    if _what(bike) == "belt":
        return None
    return Says(
        "caution",
        "The chain runs very fast",
        f"{q(now.chain_m_s, 'm_s')} at top speed.",
        now.chain_m_s,
        CHAIN_MAX_M_S,
        "m_s",
    )


@check(
    "gear.chain_pull",
    "the hardest pull comes near what the chain stands",
    parts=("gear",),
    source=TENSILE_SOURCE,
)
def pull(bike: Bike) -> Says | None:
    found = chain_pull(bike)
    if found is None or found.stands_n is None or found.belt or found.pull_n <= 0.0:
        return None
    spare, size = found.stands_n / found.pull_n, bike.build.gear.chain
    if spare >= CHAIN_WATCH:
        return None
    same = [c for c in TENSILE_N if PITCH_M[c] == PITCH_M[size] and TENSILE_N[c] > found.stands_n]
    to = next((c for c in same if TENSILE_N[c] >= CHAIN_WATCH * found.pull_n), None)
    return Says(
        "stop" if spare < CHAIN_STOP else "caution",
        "The chain is weak for this pull",
        f"{q(found.pull_n, 'n')} in the tight run against {q(found.stands_n, 'n')} that a {size} chain is "
        f"sure to stand, {spare:.1f} times: jolts and wear take the rest. A chain that snaps locks the wheel or "
        "takes a leg. A heavier chain, a reinforced one, or a larger rear sprocket.",
        spare,
        CHAIN_STOP if spare < CHAIN_STOP else CHAIN_WATCH,
        fixes=(_heavier(bike, to),) if to else (),
    )


def _heavier(bike: Bike, to: str) -> Fix:
    """What is written of the old chain's strength goes with it."""
    own = bike.build.gear.run.stands_n.known
    old = (Change("gear.run.stands_n", None),) if own else ()
    return Fix(f"Fit a {to} chain", (Change("gear.chain", to), *old))


@check("gear.chain_size", "there is a sprocket and nobody says which chain", parts=("gear",))
def size(bike: Bike) -> Says | None:
    gear, now = bike.build.gear, current(bike)
    if now is None or gear.chain in PITCH_M or not gear.rear_teeth or gear.ratio.known:
        return None
    return Says(
        "note",
        "The chain's size is not given",
        "Its pull, its speed and its length cannot be judged. It is stamped on the side plates; of a toothed belt, "
        "choose its pitch, which is printed on its back.",
    )


@check(
    "gear.belt_mesh", "too few teeth of the front pulley hold the belt", parts=("gear", "gear.run")
)
def mesh(bike: Bike) -> Says | None:
    found, gear = chain_pull(bike), bike.build.gear
    if found is None or found.mesh is None or found.mesh >= MESH_WATCH:
        return None
    jumps = not found.mesh >= MESH_STOP  # also where the pulleys do not go beside one another
    return Says(
        "stop" if jumps else "caution",
        "The belt jumps" if jumps else "Few teeth hold the belt",
        f"Of the {gear.front_teeth} teeth in front {max(found.mesh, 0.0) if found.mesh == found.mesh else 0.0:.1f} "
        "are in the belt. Under six it wears fast, under four it jumps teeth under torque. A larger front pulley, or "
        "a longer way from shaft to axle.",
        found.mesh if found.mesh == found.mesh else 0.0,
        MESH_STOP if jumps else MESH_WATCH,
        "count",
    )


@check(
    "gear.belt_pull",
    "a belt carries the pull, and what its maker allows is unknown or leaves no room",
    parts=("gear", "gear.run"),
)
def belt(bike: Bike) -> Says | None:
    found, now = chain_pull(bike), current(bike)
    if found is None or now is None or not found.belt:
        return None
    if found.stands_n is not None:
        return _belt_allowed(found.pull_n, found.stands_n)
    if not bike.build.gear.run.centre_m.known:
        unknown = " Measure from shaft to axle: how many teeth hold it decides as well."
    else:
        unknown = ""
    return Says(
        "note",
        "The belt is to be found in its maker's tables",
        f"It has to carry {q(found.pull_n, 'n')} in the tight run, up to {q(now.chain_m_s or 0.0, 'm_s')}: look up the "
        f"width for that at {bike.build.gear.front_teeth} teeth, with the factor for shocks, and write down what it "
        "stands. A belt wants its tension set by a gauge or by its tone, guards on both pulleys, and no stones "
        f"between.{unknown}",
    )


def _belt_allowed(pull_n: float, stands_n: float) -> Says | None:
    spare = stands_n / pull_n
    if spare >= BELT_WATCH:
        return None
    over = spare < BELT_STOP
    return Says(
        "stop" if over else "caution",
        "The belt is pulled harder than it is allowed"
        if over
        else "The belt has no room for shocks",
        f"{q(pull_n, 'n')} in the tight run against {q(stands_n, 'n')} that its maker allows: landings, stones and a "
        f"wheel that grips again ask for {BELT_WATCH:g} times. A belt that strips its teeth leaves the bike without "
        "drive and without regen. A wider belt, a larger front pulley, or fewer phase amps.",
        spare,
        BELT_STOP if over else BELT_WATCH,
    )


@check("gear.chain_length", "the axle cannot go where the chain needs it", source=LENGTH_SOURCE)
def length(bike: Bike) -> Says | None:
    gear, found = bike.build.gear, chain_pull(bike)
    now = current(bike)
    run = gear.run
    if found is None or now is None or not run.centre_m.known:
        return None
    back, forward = run.slot_m.amount, run.forward_m.amount
    if now.move_m is None:
        if run.links is not None:
            return _says_short(bike, found.links, found.links_exact)
        return None
    if back is not None and now.move_m > back:
        return Says(
            "caution",
            f"The {_what(bike)} is too long for the slot",
            f"With {run.links} {_pieces(bike)} the axle goes back {q(now.move_m, 'm')}, the slot has "
            f"{q(back, 'm')} left. " + _instead(found.links, bike),
            now.move_m,
            back,
            "m",
            fixes=_links(found.links, bike),
        )
    if forward is not None and -now.move_m > forward:
        return _says_short(bike, found.links, found.links_exact)
    return _slot_open(bike, now.move_m, found.links, found.links_exact)


def _slot_open(bike: Bike, move_m: float, links: int | None, exact: float | None) -> Says | None:
    """The axle has to go where nobody has measured whether it can: further than any slot is long, it cannot."""
    run, what = bike.build.gear.run, _what(bike)
    if move_m < -AXLE_STAYS_M and not run.forward_m.known:
        if -move_m > SLOT_MOST_M:
            return _says_short(bike, links, exact)
        return Says(
            "caution",
            f"Whether the {what} reaches round is not known",
            f"With {run.links} {_pieces(bike)} the axle has to go forward {q(-move_m, 'm')}; how far the slot lets it "
            f"is not measured. {_instead(links, bike)}",
            -move_m,
            None,
            "m",
            fixes=_links(links, bike),
        )
    if move_m > AXLE_STAYS_M and not run.slot_m.known:
        never = move_m > SLOT_MOST_M
        return Says(
            "caution" if never else "note",
            f"The {what} is too long for any slot"
            if never
            else f"Whether the slot takes up the {what} is not known",
            f"With {run.links} {_pieces(bike)} the axle goes back {q(move_m, 'm')}; how much slot is left is not "
            f"measured. {_instead(links, bike)}",
            move_m,
            None,
            "m",
            fixes=_links(links, bike),
        )
    return None


@check("gear.chain_odd", "a chain of an odd number of links", parts=("gear.run",))
def odd(bike: Bike) -> Says | None:
    links = bike.build.gear.run.links
    if links is None or links % 2 == 0 or _what(bike) == "belt" or current(bike) is None:
        return None
    return Says(
        "note",
        f"{links} links are an odd number",
        "Inner and outer links take turns: an odd number closes only with a cranked half link, which stands about a "
        "fifth less. Count again, or take one more or one less and move the axle.",
        links,
        links + 1,
    )


def _what(bike: Bike) -> str:
    return "belt" if bike.build.gear.chain in BELT_PITCH_M else "chain"


def _pieces(bike: Bike) -> str:
    return "teeth" if _what(bike) == "belt" else "links"


def _instead(links: int | None, bike: Bike) -> str:
    if links:
        return f"{links} {_pieces(bike)} fit."
    even = "" if _what(bike) == "belt" else " even"
    return f"No{even} number of {_pieces(bike)} fits: change a sprocket by a tooth."


def _links(links: int | None, bike: Bike) -> tuple[Fix, ...]:
    what = f"A {_what(bike)} of {links} {_pieces(bike)}"
    return (Fix(what, (Change("gear.run.links", links),)),) if links else ()


def _says_short(bike: Bike, links: int | None, exact: float | None) -> Says:
    return Says(
        "stop",
        f"The {_what(bike)} does not reach round",
        f"This pair needs {exact or 0.0:.1f} {_pieces(bike)} where the axle stands. {_instead(links, bike)} Both "
        "adjusters move alike; check the line after.",
        fixes=_links(links, bike),
    )


@check("gear.chain_line", "the chain runs out of line", parts=("gear.run",))
def line(bike: Bike) -> Says | None:
    out = bike.build.gear.run.offset_m.amount
    if out is None or out <= CHAIN_LINE_M or bike.build.gear.chain not in PITCH_M:
        return None
    return Says(
        "caution",
        "The chain runs out of line",
        f"Out by {q(out, 'm')}: shim the sprocket or the motor by that, then sight along it in both planes. A "
        "chain out of line wears to one side and comes off under load.",
        out,
        CHAIN_LINE_M,
        "m",
    )


@check("gear.run_open", "the run of the chain is not measured", parts=("gear",))
def run_open(bike: Bike) -> Says | None:
    run, now = bike.build.gear.run, current(bike)
    if now is None or now.chain_m_s is None:
        return None
    rows = [
        Blank("from the front to the rear shaft", run.centre_m.known, heavy=False),
        Blank("the links of the chain", run.links is not None, heavy=False),
        Blank("how far the sprockets stand out of line", run.offset_m.known, heavy=False),
    ]
    return blank_says(
        "The run of the chain is not all measured",
        rows,
        "Whether the axle has room for this pair, how much slack there is and whether the chain runs straight "
        "is not judged; one that runs out of line climbs the teeth.",
    )
