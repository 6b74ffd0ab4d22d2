"""Balance leads, hold points, housing, straps."""

from __future__ import annotations

import math
import statistics

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.layout import fitted
from ninebolt.core.bike.mass import pack_kg
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bolts.pack.assembly import guide, taps_of
from ninebolt.core.bolts.pack.limits import CRASH_G, HOLD_G
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Change, Fix, Source, listed, q, setting
from ninebolt.units import GRAVITY_M_S2


@check(
    "pack.taps",
    "a balance lead does not read one cell more than the one before",
    parts=("pack", "guard.bms"),
)
def taps(bike: Bike) -> Says | None:
    if pack_facts(bike) is None:
        return None
    rows = taps_of(bike.build)
    bad = [t for t in rows if t.fits is False]
    if not bad:
        return None
    t, before = bad[0], next((x for x in rows if x.lead == bad[0].lead - 1), None)
    step = (t.read_v or 0.0) - ((before.read_v if before else 0.0) or 0.0)
    what = _why(t.lead, {x.lead: x.read_v for x in rows if x.read_v is not None})
    return Says(
        "stop",
        "Do not plug the BMS in: a balance lead is wrong",
        f"Lead {t.lead} reads {q(t.read_v or 0.0, 'v')}, expected near {q(t.expected_v, 'v')}; the "
        f"step from the one before is {q(step, 'v')}: {what}. {len(bad)} step"
        f"{'s are' if len(bad) > 1 else ' is'} not of one cell.",
        t.read_v,
        t.expected_v,
        "v",
    )


def _why(lead: int, read: dict[int, float]) -> str:
    """What a lead that reads wrong most likely is, by the leads beside it. read: volts by lead, this one among them."""
    steps = [read[k] - read[k - 1] for k in read if k - 1 in read]
    cell_v = statistics.median(steps) if steps else 0.0
    here, before, above = read[lead], read.get(lead - 1, 0.0 if lead else None), read.get(lead + 1)
    if len(read) > 2 and max(read.values()) < 6.0:
        return "these look like volts of single groups; a lead is read against minus"
    if before is None or cell_v <= 0.0:
        return (
            "its cell is dead, or the joint is bad"
            if lead
            else "it is not at minus, or the meter is not"
        )
    step, near = here - before, 0.3 * cell_v
    if above is not None and abs(above - before - 2.0 * cell_v) < near:
        if abs(here) < 0.1 * cell_v or step < 0.0:
            return "it hangs on nothing: its wire is broken, or off its cell"
        if step > 0.25 * cell_v:
            return "the two cells beside it are right together: a bad joint of the lead, or it sits elsewhere"
    if (
        above is not None
        and abs(here - before - 2.0 * cell_v) < near
        and abs(above - before - cell_v) < near
    ):
        return f"leads {lead} and {lead + 1} are swapped"
    if abs(step) < 0.25 * cell_v:
        return "its group is shorted, or both leads sit on one point"
    if step < 0.0:
        return "the leads are swapped"
    return (
        "a lead is skipped: two cells lie between them"
        if step > 1.5 * cell_v
        else "its cell is dead, or the joint is bad"
    )


@check(
    "pack.taps_unread",
    "fewer balance leads are read than there are",
    parts=("pack", "guard.bms"),
)
def taps_unread(bike: Bike) -> Says | None:
    pack = bike.build.pack
    if not pack.tap_v or not pack.series or pack_facts(bike) is None:
        return None
    read = {round(k) for k, _ in pack.tap_v}
    first = 0 if 0 in read else 1  # the lead at minus may go without saying
    gone = [k for k in range(first, pack.series + 1) if k not in read]
    beyond = sorted(k for k in read if k > pack.series)
    if not gone and not beyond:
        return None
    words = []
    if gone:
        words.append(
            f"lead{'s' if len(gone) > 1 else ''} {listed([str(k) for k in gone], 6)} not read"
        )
    if beyond:
        words.append(f"lead {beyond[0]} is one too many for {pack.series} cells")
    return Says(
        "stop",
        "Do not plug the BMS in: not every balance lead is read",
        f"{'; '.join(words)}. {pack.series} cells in series have {pack.series + 1} leads; each must be "
        "read against minus before the plug goes in.",
        len(read),
        pack.series + 1,
    )


@check(
    "pack.source_other",
    "where the cells come from and what they are do not go together",
    parts=("pack",),
)
def source_other(bike: Bike) -> Says | None:
    pack = bike.build.pack
    lead = pack.cell.chemistry == "lead_acid"
    if (
        pack_facts(bike) is None
        or pack.cell.chemistry == "custom"
        or (pack.source == "lead_acid") == lead
    ):
        return None
    if lead and pack.source not in ("new_cells", "salvaged_cells", "vehicle_modules"):
        return None
    said, are = pack.source.replace("_", " "), pack.cell.chemistry.replace("_", " ")
    return Says(
        "caution",
        "Lead-acid blocks or lithium cells?",
        f"The pack is said to be {said}, its cells are {are}: "
        "what is asked of balance leads, charging and cold differs. Say which it is.",
        0,
        1,
    )


@check(
    "pack.taps_open",
    "a BMS is to be plugged in and no balance lead has been read",
    parts=("pack", "guard.bms"),
)
def taps_open(bike: Bike) -> Says | None:
    pack = bike.build.pack
    bought = pack.source == "ready_made" or pack.cell.chemistry == "lead_acid"
    if pack.tap_v or bought or not pack.series or pack_facts(bike) is None:
        return None
    if bike.build.guard.bms.there is False:
        return None
    return Says(
        "note",
        "No balance lead is read yet",
        f"The BMS stays unplugged until all {pack.series + 1} leads are read against minus, each one cell "
        "above the one before: a swapped or dead lead burns the BMS or the loom.",
        0,
        pack.series + 1,
    )


@check("pack.hold", "a step is ticked over a hold point that is open", parts=("pack",))
def hold(bike: Bike) -> Says | None:
    facts = pack_facts(bike)
    if facts is None:
        return None
    steps = guide(bike.build, facts, fitted(bike), load_a(bike)).steps
    open_hold = next((i for i, s in enumerate(steps) if s.hold and not s.done), len(steps))
    over = [s for s in steps[open_hold + 1 :] if s.done]
    if not over:
        return None
    held = steps[open_hold]
    kept = [s.key for s in steps[:open_hold] if s.done]
    return Says(
        "stop",
        "A step is ticked over an open hold point",
        f"“{over[0].title}” is ticked, “{held.title}” is not: {held.detail} Nothing goes on until it "
        "is measured.",
        len(over),
        0,
        fixes=(Fix("Take the later ticks back", (Change("pack.done", kept),)),),
    )


def _pulls(bike: Bike) -> tuple[float, list[tuple[str, float]]] | None:
    """What straps and tray must hold (N): while riding, and each way in a crash; None while the pack is unweighed."""
    weight = pack_kg(bike.build) * GRAVITY_M_S2
    return (HOLD_G * weight, [(word, g * weight) for word, g in CRASH_G]) if weight else None


def _each(pulls: list[tuple[str, float]]) -> str:
    return ", ".join(f"{word} {q(n, 'n')}" for word, n in pulls)


@check("pack.strap", "the straps do not hold the pack", parts=("pack",))
def strap(bike: Bike) -> Says | None:
    force, pulls = bike.build.pack.strap_n.amount, _pulls(bike)
    if pulls is None or force is None or force >= pulls[0]:
        return None
    need, crash = pulls
    return Says(
        "caution",
        "The straps do not hold the pack",
        f"They stand {q(force, 'n')}; {HOLD_G:.0f} times {q(pack_kg(bike.build), 'kg')} while riding is "
        f"{q(need, 'n')}. In a crash the tray itself must hold: {_each(crash)}.",
        force,
        need,
        "n",
        fixes=(Fix(f"Strap it for {need:.0f} N", (setting("pack.strap_n", math.ceil(need)),)),),
    )


@check("pack.strap_crash", "the straps hold the pack while riding, not in a crash", parts=("pack",))
def strap_crash(bike: Bike) -> Says | None:
    force, pulls = bike.build.pack.strap_n.amount, _pulls(bike)
    if pulls is None or force is None or force < pulls[0]:
        return None
    short = [(word, n) for word, n in pulls[1] if n > force]
    if not short:
        return None
    return Says(
        "note",
        "In a crash the straps alone do not hold the pack",
        f"They stand {q(force, 'n')}, enough while riding. In a crash it is {_each(short)}: what they lack the walls "
        "of the tray must take, and its bolts; a pack that leaves the bike tears its leads and meets the rider.",
        force,
        max(n for _, n in short),
        "n",
    )


@check("pack.strap_open", "how the pack is held is not written down", parts=("pack",))
def strap_open(bike: Bike) -> Says | None:
    pulls = _pulls(bike)
    if pulls is None or bike.build.pack.strap_n.known or pack_facts(bike) is None:
        return None
    return Says(
        "note",
        "How the pack is held down is not written down",
        f"Straps and tray: {q(pulls[0], 'n')} in every direction while riding; in a crash {_each(pulls[1])}.",
        0,
        1,
    )


@check(
    "pack.metal_box",
    "a metal box round the cells lacks liner, bond or vent",
    parts=("pack",),
    source=Source("practice", "bonding as in ISO 6469-3 and UN R136; liner and vent: practice"),
)
def metal_box(bike: Bike) -> Says | None:
    pack, facts = bike.build.pack, pack_facts(bike)
    if facts is None or pack.housing != "metal":
        return None
    lacks = [
        word
        for word, there in (
            ("an insulating liner", pack.liner),
            ("a bond to the frame", pack.bonded),
            ("a way out for gas", pack.vent),
        )
        if not there
    ]
    if not lacks:
        return None
    unsaid = [
        w
        for w, v in (("liner", pack.liner), ("bond", pack.bonded), ("vent", pack.vent))
        if v is None
    ]
    asked = f" Not looked at: {', '.join(unsaid)}." if unsaid else ""
    return Says(
        "stop" if not pack.liner else "caution",
        "A metal box round cells lacks " + ", ".join(lacks),
        f"{q(facts.full_v, 'v')} behind thin sleeves in a conductive box: one chafed cell makes the "
        f"box live, two make a short circuit. Line it, bond it, let gas out.{asked}",
        len(lacks),
        0,
    )


@check(
    "pack.sealed",
    "a housing that is not of metal has no way out for gas, or nobody looked",
    parts=("pack",),
)
def sealed(bike: Bike) -> Says | None:
    pack = bike.build.pack
    if pack_facts(bike) is None or pack.housing in ("unknown", "metal") or pack.vent:
        return None
    if pack.vent is None:
        return Says(
            "note",
            "Whether gas finds a way out of the housing is not said",
            "A cell that vents fills it in a moment: a flap, a plug that gives or a membrane, away from the rider.",
        )
    return Says(
        "caution",
        "The housing has no way out for gas",
        "A cell that vents fills it in a moment, and a tight housing bursts. A flap, a plug that gives or a membrane, "
        "on the side away from the rider.",
    )


@check("pack.housing_open", "what the housing is made of is unknown", parts=("pack",))
def housing_open(bike: Bike) -> Says | None:
    pack = bike.build.pack
    if pack_facts(bike) is None or pack.housing != "unknown":
        return None
    return Says(
        "note",
        "What the housing is made of is not said",
        "A metal one needs a liner, a bond to the frame and a way out for gas; any needs the last.",
        0,
        1,
    )
