"""Donor's findings: ledger, scale, centre of mass, frame, running gear, rules."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.mass import fitted_unweighed, moved_kg, rider_kg
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.running import made_for
from ninebolt.core.bolts.common import day_of
from ninebolt.core.bolts.donor.candidates import DAMAGED, envelopes
from ninebolt.core.bolts.donor.compare import BEFORE, OPEN, legal_open, must_change, questions
from ninebolt.core.bolts.donor.ledger import ledger, scale_of, weighed
from ninebolt.core.bolts.donor.limits import (
    BAY_BEYOND_M,
    CENTRE_M,
    CENTRE_SHARE,
    HEAVY_FRONT,
    HIGH_M,
    LIGHT_FRONT,
    RULES_DAYS,
    SAME_PART,
    SCALE_CAUTION,
    SCALE_SHARE,
    UNPLACED_KG,
)
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.codec import encode
from ninebolt.core.finding import Change, Fix, Source, listed, q, setting
from ninebolt.core.trace import plain

FRAME_WORDS = {
    "hole": "A hole weakens a tube most where it bends: no load-bearing tube without a sleeve",
    "cut": "A cut frame is another frame: ask whether it stays registrable before the saw",
    "weld": "A weld is judged by inspection and proof load by someone licensed to, not by its look",
}


@check("donor.unweighed", "ledger lines without a mass", parts=("donor",))
def unweighed(bike: Bike) -> Says | None:
    blank = [i.name or "item" for i in bike.build.donor.items if not i.mass_kg.known]
    if not blank:
        return None
    return Says(
        "caution",
        "A ledger line has no mass"
        if len(blank) == 1
        else f"{len(blank)} ledger lines have no mass",
        f"{listed(blank)}: not weighed, so counted as nothing. Put each on a scale.",
        len(blank),
        0,
    )


@check("donor.parts_unweighed", "fitted parts without a mass")
def parts_unweighed(bike: Bike) -> Says | None:
    blank = fitted_unweighed(bike.build)
    if not blank or bike.build.donor.mass_kg.amount is None:
        return None
    words = [words for _, words, _ in blank]
    return Says(
        "caution" if any(heavy for _, _, heavy in blank) else "note",
        f"Nobody knows what {', '.join(words[:-1]) + ' and ' if words[1:] else ''}{words[-1]} "
        f"weigh{'' if words[1:] else 's'}",
        "Counted as nothing: times, range and brakes come out too good, and the centre of mass is elsewhere. "
        "Put each on a scale, or give what its label or a like part has, as a guess.",
        len(blank),
        0,
    )


@check("donor.unplaced", "heavy lines of the ledger without a place", parts=("donor",))
def unplaced(bike: Bike) -> Says | None:
    loose = [r for r in ledger(bike) if not r.placed and r.kg]
    if sum(abs(r.kg) for r in loose) < UNPLACED_KG:
        return None
    return Says(
        "note",
        f"{len(loose)} line{'s' if len(loose) > 1 else ''} of the ledger {'have' if len(loose) > 1 else 'has'} "
        "no place",
        f"{listed([r.label or 'item' for r in loose])}: counted where the donor's own centre is. Front share, "
        "wheelie and lean follow from where it really sits.",
        sum(abs(r.kg) for r in loose),
        UNPLACED_KG,
        "kg",
    )


@check("donor.salvage", "a salvaged motor or pack is not fit to be used", parts=("donor",))
def salvage(bike: Bike) -> Iterator[Says]:
    for i, (part, found) in enumerate(zip(bike.build.donor.salvage, envelopes(bike), strict=True)):
        if found.verdict != "no":
            continue
        seen = part.damage if part.damage in DAMAGED else ""
        why = "; ".join(w for w in (seen, *found.usable[:2]) if w)
        yield Says(
            "caution",
            f"{found.name} is not fit to be used",
            f"{why}. Keep it out of the build, or strip it for what can be proved sound; a pack that was wet or "
            "crushed stands outside, away from what burns.",
            0,
            1,
            parts=(f"donor.salvage.{i}",),
            at=str(i),
        )


@check(
    "donor.salvage_odd",
    "what is written of a salvaged motor or pack cannot all be true",
    parts=("donor",),
)
def salvage_odd(bike: Bike) -> Iterator[Says]:
    for i, found in enumerate(envelopes(bike)):
        if found.odd:
            yield Says(
                "caution",
                f"What is written of {found.name} contradicts itself",
                f"{'; '.join(found.odd)}. Read it again before it is bought or charged.",
                parts=(f"donor.salvage.{i}",),
                at=str(i),
            )


@check(
    "donor.sums",
    "more came off than there was",
    parts=("donor",),
    source=Source("computed", "sum of the ledger"),
)
def sums(bike: Bike) -> Says | None:
    off, kg = -sum(r.kg for r in ledger(bike) if r.kg < 0), bike.build.donor.mass_kg.amount
    if kg is None or off < kg:
        return None
    return Says(
        "stop",
        "More came off than there was",
        f"{q(off, 'kg')} came off a donor of {q(kg, 'kg')}: a mass is wrong, or in another unit.",
        off,
        kg,
        "kg",
    )


@check(
    "donor.twice", "a part stands in the ledger that the build weighs by itself", parts=("donor",)
)
def twice(bike: Bike) -> Iterator[Says]:
    rows = ledger(bike)
    own = {r.label.lower(): r.kg for r in rows if r.kind == "fitted"}
    for r in rows:
        if r.kind != "added" or r.index is None or r.kg <= 0:
            continue
        name = r.label.lower()
        alike = {k for k, v in own.items() if abs(r.kg / v - 1.0) <= SAME_PART}
        words = {k: PACK_WORDS if k == "pack" else (k,) for k in own}
        called = {k for k, said in words.items() if any(w in name for w in said)}
        # The same name is enough for the heavy ones; the others must weigh alike too.
        heavy = {k for k in HEAVY if r.kg >= 0.5 * own.get(k, math.inf)}
        same = next((k for k in own if k in called and k in alike | heavy), None)
        if same is not None:
            kept = [x for i, x in enumerate(_items(bike)) if i != r.index]
            yield Says(
                "caution",
                f"The {same} may be counted twice",
                f"“{r.label}” with {q(r.kg, 'kg')} stands in the ledger, and the build adds its own "
                f"{same} with {q(own[same], 'kg')}. Take one of them out.",
                r.kg + own[same],
                own[same],
                "kg",
                at=str(r.index),
                fixes=(Fix(f"Take “{r.label}” out", (Change("donor.items", kept),)),),
            )


@check("donor.line_twice", "a line stands in the ledger twice", parts=("donor",))
def line_twice(bike: Bike) -> list[Says]:
    seen: dict[tuple[str, str, float], int] = {}
    out = []
    for i, item in enumerate(bike.build.donor.items):
        kg = item.mass_kg.amount
        if kg is None or not item.name.strip() or kg == 0.0:
            continue
        key = (item.name.strip().lower(), item.action, kg)
        if key not in seen:
            seen[key] = i
            continue
        kept = [x for j, x in enumerate(_items(bike)) if j != i]
        out.append(
            Says(
                "caution",
                f"“{item.name}” stands in the ledger twice",
                f"Both times {item.action}, with {q(kg, 'kg')}. If there are two of it, name them apart.",
                2 * kg,
                kg,
                "kg",
                fixes=(Fix(f"Take one “{item.name}” out", (Change("donor.items", kept),)),),
                at=str(i),
            )
        )
    return out


@check("donor.bay_place", "a bay lies outside of the bike", parts=("donor",))
def bay_place(bike: Bike) -> list[Says]:
    base, out = bike.build.road.wheelbase_m.taken, []
    for i, bay in enumerate(bike.build.donor.bays):
        x, y, half = bay.x_m.amount, bay.y_m.amount, 0.5 * (bay.height_m.amount or 0.0)
        why = ""
        if y is not None and y - half < 0.0:
            why = f"its lower edge {q(half - y, 'm')} under the ground"
        elif x is not None and not -BAY_BEYOND_M <= x <= base + BAY_BEYOND_M:
            why = (
                f"its middle {q(x, 'm')} forward of the rear axle, on a wheelbase of {q(base, 'm')}"
            )
        if why:
            out.append(
                Says(
                    "caution",
                    f"{bay.name or f'Bay {i + 1}'} lies outside of the bike",
                    f"It is written down with {why}. Balance, wheelie and the side view follow from it: measure "
                    "from the rear axle and from the ground to the bay's middle.",
                    y if y is not None and y - half < 0.0 else x,
                    half if y is not None and y - half < 0.0 else base,
                    "m",
                    at=str(i),
                )
            )
    return out


HEAVY = ("pack", "motor")
PACK_WORDS = ("pack", "battery", "batterie", "bateria", "akku", "accu", "cells")


def _items(bike: Bike) -> list[dict[str, object]]:
    return [encode(plain(i)) for i in bike.build.donor.items]


@check("donor.no_bay", "the bay is not measured", parts=("donor",))
def no_bay(bike: Bike) -> Says | None:
    if bike.build.donor.bays:
        return None
    return Says(
        "caution",
        "The bay is not measured",
        "Without the inside length, height and width nobody can say whether a pack goes in. Measure "
        "before money is spent.",
        0,
        1,
    )


@check("donor.scale_half", "one axle was weighed and the other not", parts=("donor",))
def scale_half(bike: Bike) -> Says | None:
    front, rear = bike.build.donor.front_scale_kg.known, bike.build.donor.rear_scale_kg.known
    if front == rear:
        return None
    return Says(
        "note",
        f"The {'rear' if front else 'front'} axle was not weighed",
        "One axle says neither what the bike weighs nor how it is shared. Weigh the other, the first one on a block of "
        "the scale's height: until then the ledger is not checked.",
        1,
        2,
    )


@check("donor.scale", "scale and ledger disagree", parts=("donor",))
def scale(bike: Bike) -> Says | None:
    axles, found, donor = scale_of(bike.build), weighed(bike), bike.build.donor
    if axles is None or found.bike is None:
        return None
    front, rear = axles
    kg, x, _ = found.bike
    total, base = front + rear, found.base
    off, shift = total - kg, front * base - kg * x
    if abs(off) <= SCALE_SHARE * kg and abs(shift) <= SCALE_SHARE * kg * base:
        return None
    old = donor.correction_kg.or_else(0.0)
    moment = donor.correction_kg_m.or_else(old * donor.cg_x_m.taken)
    return Says(
        "caution" if abs(off) > SCALE_CAUTION * kg else "note",
        "Scale and ledger disagree",
        f"The axles weigh {q(total, 'kg')}, the ledger says {q(kg, 'kg')} ({off / kg:+.1%}); the front "
        f"carries {front / total:.1%}, by the ledger {x / base:.1%}. A line is missing or wrong, or "
        "something changed since.",
        total,
        kg,
        "kg",
        fixes=(
            Fix(
                "Take the scale's word into the ledger",
                (
                    setting("donor.correction_kg", old + off, "measured"),
                    setting("donor.correction_kg_m", moment + shift, "measured"),
                ),
            ),
        ),
    )


@check("donor.heavy", "heavier than wanted", source=Source("build", "the goal of this build"))
def heavy(bike: Bike) -> Says | None:
    top, found = bike.build.goal.mass_max_kg.amount, weighed(bike).bike
    if top is None or found is None or found[0] <= top:
        return None
    return Says(
        "caution",
        "Heavier than wanted",
        f"The bike comes to {q(found[0], 'kg')}, {q(found[0] - top, 'kg')} over the wish.",
        found[0],
        top,
        "kg",
    )


@check(
    "donor.balance",
    "the ridden bike's balance is unsafe: light or heavy front, high mass",
    parts=("donor",),
)
def balance(bike: Bike) -> Says | None:
    found, road = weighed(bike), bike.build.road
    if found.ridden is not None:
        share, height = found.ridden[1] / found.base, found.ridden[2]
    elif (
        road.front_share.known or road.cg_height_m.known
    ):  # nothing is weighed: what the runs are told
        share, height = road.front_share.taken, road.cg_height_m.taken
    else:
        return None
    if share < LIGHT_FRONT:
        title, why, got, limit = (
            "The front is light",
            f"With the rider {share:.0%} are on the front: it steers light and lifts early under power. "
            "Move the pack forward or down.",
            share,
            LIGHT_FRONT,
        )
    elif share > HEAVY_FRONT:
        title, why, got, limit = (
            "The front is heavy",
            f"With the rider {share:.0%} are on the front: the rear slips under power and lifts under "
            "braking. Move the pack back.",
            share,
            HEAVY_FRONT,
        )
    elif height > HIGH_M:
        title, why, got, limit = (
            "The centre of mass is high",
            f"{q(height, 'm')} with the rider: it lifts and tips early. Put the pack lower.",
            height,
            HIGH_M,
        )
    else:
        return None
    return Says("caution", title, why, got, limit, "m" if limit is HIGH_M else "ratio")


@check(
    "donor.total_given", "the runs take another mass than the ledger adds up to", parts=("road",)
)
def total_given(bike: Bike) -> Says | None:
    build = bike.build
    given = build.road.total_kg.amount
    if given is None:
        return None
    own = moved_kg(build) + rider_kg(build.goal)
    if not math.isfinite(own) or abs(given / own - 1.0) <= SCALE_SHARE:
        return None
    return Says(
        "caution" if abs(given / own - 1.0) > SCALE_CAUTION else "note",
        "The runs take another mass than the ledger adds up to",
        f"{q(given, 'kg')} is given for bike and rider, the ledger comes to {q(own, 'kg')}. What is given stays when a "
        "part is changed: a heavier pack would not be felt.",
        given,
        own,
        "kg",
        fixes=(Fix("Use the ledger's sum", (Change("road.total_kg", None),)),),
    )


@check("donor.use_ledger", "the runs use another centre of mass than the ledger", parts=("road",))
def use_ledger(bike: Bike) -> Says | None:
    found, road = weighed(bike), bike.build.road
    if found.ridden is None:
        return None
    share, height = road.front_share.taken, road.cg_height_m.taken
    own, high = found.ridden[1] / found.base, found.ridden[2]
    if abs(own - share) <= CENTRE_SHARE and abs(high - height) <= CENTRE_M:
        return None
    return Says(
        "note",
        "The runs use another centre of mass than the ledger",
        f"Ledger and rider put {own:.0%} on the front at {q(high, 'm')} height; the runs take "
        f"{share:.0%} at {q(height, 'm')}.",
        own,
        share,
        fixes=(
            Fix(
                "Use the ledger's centre of mass",
                (
                    setting("road.front_share", round(own, 3), "measured", 0.05),
                    setting("road.cg_height_m", round(high, 3), "measured", 0.08),
                ),
            ),
        ),
    )


@check("donor.frame", "the frame is holed, cut or welded", parts=("donor",))
def frame(bike: Bike) -> Says | None:
    cuts = [c for c in bike.build.donor.frame_changes if c.kind != "bolt_on"]
    if not cuts:
        return None
    return Says(
        "caution",
        f"{len(cuts)} changes to the frame are not bolt-on"
        if cuts[1:]
        else "A change to the frame is not bolt-on",
        f"{listed([c.name or c.kind for c in cuts])}. {FRAME_WORDS[cuts[0].kind]}. Any of them "
        "can end the right to register the bike: ask the local authority.",
        len(cuts),
        0,
    )


@check("donor.frame_load", "a load-bearing change is not inspected", parts=("donor",))
def frame_load(bike: Bike) -> Says | None:
    cuts = [c for c in bike.build.donor.frame_changes if c.kind != "bolt_on"]
    loose = [c for c in cuts if c.bears_load and not c.inspected]
    if not loose:
        return None
    names = [c.name or c.kind for c in loose]
    each = [f"{n} at {c.place}" if c.place else n for n, c in zip(names, loose, strict=True)]
    return Says(
        "stop",
        f"{len(loose)} load-bearing changes are not inspected"
        if loose[1:]
        else "A load-bearing change is not inspected",
        f"{listed(each)}: not to be ridden until someone licensed "
        "to has inspected it (by eye, dye, proof load). Dropping the bike proves nothing.",
        len(loose),
        0,
    )


@check("donor.frame_open", "whether a change carries load is not said", parts=("donor",))
def frame_open(bike: Bike) -> Says | None:
    cuts = [c for c in bike.build.donor.frame_changes if c.kind != "bolt_on"]
    unsaid = [c.name or c.kind for c in cuts if c.bears_load is None and not c.inspected]
    if not unsaid:
        return None
    return Says(
        "caution",
        "Whether a change to the frame carries load is not said",
        f"{listed(unsaid)}: until it is known, take it as one that does. A cut, a hole or a weld in a tube that "
        "carries can part at speed: say whether it does, and have it inspected if so.",
        len(unsaid),
        0,
    )


@check(
    "donor.must_change",
    "running gear that the planned power, mass or speed outruns",
    parts=("donor.ratings",),
)
def must_change_first(bike: Bike) -> Says | None:
    rows = must_change(bike)
    first = [c for c in rows if c.verdict == BEFORE]
    if not first:
        return None
    each = [
        f"{c.what} {c.ratio:.2f} times ({c.reason})" if c.ratio else f"{c.what}: {c.reason}"
        for c in first
    ]
    words = listed(each, gap="; ")
    return Says(
        "caution",
        f"{len(first)} parts of the running gear come first"
        if first[1:]
        else "A part of the running gear comes first",
        f"{words}. More power on stock running gear is the classic trap: do these before riding, and "
        "write them down under upgrades.",
        len(first),
        0,
    )


@check("donor.gear_open", "what the running gear was made for is unknown", parts=("donor.ratings",))
def gear_open(bike: Bike) -> Says | None:
    rows = must_change(bike)
    unknown = [c.what for c in rows if c.verdict == OPEN]
    if not unknown or bike.build.donor.mass_kg.amount is None:
        return None
    was = made_for(bike)
    if performance_of(bike) is None and was.kg and was.speed_m_s and was.power_w:
        return Says(
            "caution",
            "What the running gear will be asked for is not known yet",
            f"The run does not compute yet, so nothing can be said of: {listed(unknown, 5)}. What the bike was made "
            "for is known; each bolt names what it still misses.",
            len(unknown),
            0,
        )
    return Says(
        "caution",
        "What the running gear was made for is unknown",
        f"Nothing can be said of: {listed(unknown, 5)}. Give power, speed and mass that the bike was "
        "made for (its maker's papers, or a like bike's), or what it was as it left the maker.",
        len(unknown),
        0,
    )


@check(
    "donor.rules_open",
    "the rules where it will be ridden are not looked up",
    parts=("donor.legal",),
)
def rules_open(bike: Bike) -> Says | None:
    if not legal_open(bike.build):
        return None
    return Says(
        "note",
        "The rules where it will be ridden are not looked up",
        "Vehicle class, power, speed and frame rules differ by place and change: look them up with a "
        "date before money is spent. The authority decides, not this program.",
        0,
        1,
    )


@check(
    "donor.rules",
    "points of the rules that the build does not keep",
    parts=("donor.legal",),
    source=Source("build", "rules as written down in this build"),
)
def rules(bike: Bike) -> Says | None:
    asked = [x for x in questions(bike) if x.open]
    law = bike.build.donor.legal
    told = (
        law.region.strip()
        or law.vehicle_class.strip()
        or any(v.known for v in (law.speed_max_m_s, law.power_max_w, law.mass_max_kg))
    )
    if not asked or not told:
        return None
    when = f", looked up {law.checked_on}" if law.checked_on else ", without a date"
    words = listed([f"{x.about}: rule {x.rule}, build {x.build}" for x in asked], gap="; ")
    return Says(
        "caution",
        f"{len(asked)} point{'s' if len(asked) > 1 else ''} to put to the authority",
        f"{law.region.strip() or 'No place noted'}{when}: {words}. Only the authority can say what is allowed.",
        len(asked),
        0,
    )


@check(
    "donor.rules_old",
    "the rules were looked up long ago, or on a day that is still to come",
    parts=("donor.legal",),
)
def rules_old(bike: Bike) -> Says | None:
    looked, today = day_of(bike.build.donor.legal.checked_on), day_of(bike.today)
    if looked is None or today is None:
        return None
    days = (today - looked).days
    if 0 <= days <= RULES_DAYS:
        return None
    return Says(
        "note",
        "The rules were looked up long ago"
        if days > 0
        else "The rules were looked up on a day to come",
        f"On {bike.build.donor.legal.checked_on.strip()}; today is {bike.today}. Rules change: look again before "
        "money is spent, and ask the authority.",
        float(days),
        RULES_DAYS,
    )
