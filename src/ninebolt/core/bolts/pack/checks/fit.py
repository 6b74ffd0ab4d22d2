"""Does it go in, what limits it, what collides, what must be insulated from what?"""

from __future__ import annotations

import math

from ninebolt.core.bike.cells import CLASS_B_V, cell_full_v
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.layout import Fitted, fitted
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bike.shape import (
    body_of,
    corners_of,
    guest_of,
    keep_box,
    space_of,
    spaces_of,
)
from ninebolt.core.bolts.pack.insulation import insulation_for
from ninebolt.core.bolts.pack.limits import CELL_DENSE, CELL_LIGHT, OUTLINE_SLACK, SIDES_V
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Change, Fix, Source, listed, q
from ninebolt.core.match.fill import MOST, Block, body_sizes, slack, too_small
from ninebolt.core.match.layout import creepage_m
from ninebolt.core.match.space import crosses_itself

TO_SCALE = Source("computed", "packed to scale in the bays as measured")


@check("pack.outline", "the outline of a bay crosses itself", source=TO_SCALE)
def outline(bike: Bike) -> list[Says]:
    out = []
    for i, bay in enumerate(bike.build.donor.bays):
        corners = corners_of(bay)
        if bay.outline and crosses_itself(corners):
            out.append(
                Says(
                    "stop",
                    f"The outline of {bay.name or f'bay {i + 1}'} crosses itself",
                    f"{len(corners)} corners do not make a closed outline. Put them in order round the "
                    "bay.",
                    len(corners),
                    3,
                    parts=(f"donor.bays.{i}",),
                    at=str(i),
                )
            )
    return out


@check(
    "pack.outline_size",
    "the outline of a bay is larger than its length and height",
    source=TO_SCALE,
)
def outline_size(bike: Bike) -> list[Says]:
    out = []
    for i, bay in enumerate(bike.build.donor.bays):
        if not bay.outline:
            continue
        xs, ys = zip(*bay.outline, strict=True)
        for word, has, told in (
            ("long", max(xs) - min(xs), bay.length_m.amount),
            ("high", max(ys) - min(ys), bay.height_m.amount),
        ):
            if told is not None and has > OUTLINE_SLACK * told:
                out.append(
                    Says(
                        "caution",
                        f"The outline of {bay.name or f'bay {i + 1}'} is larger than the bay",
                        f"It is {q(has, 'm')} {word}, the bay {q(told, 'm')}. The pack is laid out in the outline: "
                        "measure which of them is right before a cell is bought.",
                        has,
                        told,
                        "m",
                        at=f"{i}.{word}",
                    )
                )
    return out


@check("pack.cells_short", "fewer cells are at hand than the pack takes", parts=("pack",))
def cells_short(bike: Bike) -> Says | None:
    pack = bike.build.pack
    have, each = pack.cells_at_hand, pack.cell.body_series * pack.cell.body_parallel
    if have is None or not pack.series or not pack.parallel:
        return None
    need = math.ceil(pack.series * pack.parallel / max(each, 1))
    if have >= need:
        return None
    return Says(
        "caution",
        "There are fewer cells than the pack takes",
        f"{pack.series}S{pack.parallel}P takes {need}; {have} are at hand, {need - have} short. The counts that they "
        "make are listed; a group with fewer cells than the others is the first to be empty.",
        have,
        need,
    )


@check("pack.pitch", "the holder's pitch is less than a cell", parts=("pack.cell",))
def pitch(bike: Bike) -> Says | None:
    pack = bike.build.pack
    asked, cell = pack.pitch_m.amount, pack.cell.diameter_m.amount
    if asked is None or cell is None or pack.cell.form != "cylindrical" or asked >= cell:
        return None
    return Says(
        "caution",
        "The holder's pitch is less than a cell",
        f"{q(asked, 'm')} from cell to cell, {q(cell, 'm')} each: they do not go in. Reckoned with cells that "
        "touch; they should not, a chafed sleeve joins two cans.",
        asked,
        cell,
        "m",
    )


@check("pack.keep", "what must stay free in a bay is not measured")
def keep(bike: Bike) -> list[Says]:
    out = []
    for i, bay in enumerate(bike.build.donor.bays):
        blank = [k.name or k.kind for k in bay.keep_outs if keep_box(k) is None]
        if blank:
            out.append(
                Says(
                    "caution",
                    f"{listed(blank)}: not measured",
                    "What must stay free without a length and height is not kept free. Measure it.",
                    len(blank),
                    0,
                    parts=(f"donor.bays.{i}",),
                    at=str(i),
                )
            )
    return out


@check("pack.narrow", "walls and padding leave nothing of a bay", source=TO_SCALE)
def narrow(bike: Bike) -> list[Says]:
    out = []
    for i, bay in enumerate(bike.build.donor.bays):
        space = space_of(bay)
        if space is not None and space.half_z <= 0:
            out.append(
                Says(
                    "stop",
                    f"Nothing is left inside {bay.name or f'bay {i + 1}'}",
                    f"It is {q(space.width_m, 'm')} wide; walls and padding take "
                    f"{q(2 * space.clear_m, 'm')}.",
                    space.width_m,
                    2 * space.clear_m,
                    "m",
                    parts=(f"donor.bays.{i}",),
                    at=str(i),
                )
            )
    return out


@check("pack.no_fit_known", "whether the pack goes in cannot be said", parts=("donor", "pack.cell"))
def no_fit_known(bike: Bike) -> Says | None:
    if pack_facts(bike) is None or fitted(bike) is not None:
        return None
    rooms, body = spaces_of(bike.build), body_of(bike.build.pack)
    what = [w for w, gone in (("the bay", not rooms), ("the cell's size", body is None)) if gone]
    return Says(
        "caution",
        "Whether the pack goes in is not known",
        f"Not measured: {' and '.join(what) or 'something'}. Cardboard first: measure before money is "
        "spent.",
        0,
        1,
    )


def _crashed(fit: Fitted) -> list[tuple[str, str, int, tuple[str, ...], float]]:
    return [
        (b.name, h.kind, h.index, tuple(x.what for x in h.hits), max(x.deep_m for x in h.hits))
        for b in fit.bays
        for h in b.hand
        if h.hits
    ]


@check("pack.collides", "a body put down by hand collides", parts=("pack.placed",), source=TO_SCALE)
def collides(bike: Bike) -> Says | None:
    fit = fitted(bike) if pack_facts(bike) else None
    crashed = _crashed(fit) if fit else []
    if not crashed:
        return None
    bay, kind, index, what, deep = crashed[0]
    return Says(
        "stop",
        "A body put down by hand collides"
        if len(crashed) == 1
        else f"{len(crashed)} bodies put down by hand collide",
        f"In {bay} {kind} {index + 1} stands in {listed(what)} by {q(deep, 'm')}.",
        deep,
        0.0,
        "m",
        fixes=(Fix("Lay it out by rule again", (Change("pack.placed", []),)),),
    )


def _whole(bike: Bike, fit: Fitted) -> Block | None:
    """The one box that the pack is, where it is one and laid out by rule."""
    body = body_of(bike.build.pack)
    one = bike.build.pack.cell.form == "ready_made" or fit.needed == 1
    return body if one and isinstance(body, Block) and not fit.by_hand else None


@check("pack.cell_size", "a cell size that cannot be right", parts=("pack.cell",), source=TO_SCALE)
def cell_size(bike: Bike) -> Says | None:
    fit, body = fitted(bike) if pack_facts(bike) else None, body_of(bike.build.pack)
    if fit is None or body is None or _whole(bike, fit) is not None:
        return None
    if not any(too_small(space, body) for _, space in spaces_of(bike.build)):
        return None
    least = min(body_sizes(body))
    return Says(
        "stop",
        "The cell's size cannot be right",
        f"At {q(least, 'm')} across, more than {MOST:,} would go into the bay. Typed in another unit "
        "than was meant? Write the unit behind the number.",
        least,
        None,
        "m",
    )


@check("pack.cell_mass", "a cell mass that cannot be right", parts=("pack.cell",))
def cell_mass(bike: Bike) -> Says | None:
    body, kg = body_of(bike.build.pack), bike.build.pack.cell.mass_kg.amount
    if body is None or kg is None:
        return None
    dense = kg / math.prod(body_sizes(body))
    if CELL_LIGHT <= dense <= CELL_DENSE:
        return None
    return Says(
        "stop",
        "The cell's mass cannot be right",
        f"{q(kg, 'kg')} in its size would be {q(dense, 'kg_m3')}. Typed in another unit than was "
        "meant? Write the unit behind the number.",
        dense,
        CELL_DENSE if dense > CELL_DENSE else CELL_LIGHT,
        "kg_m3",
    )


def _growth_words(fit: Fitted) -> str:
    best = max((g for b in fit.bays for g in b.growth), key=lambda g: g.more, default=None)
    if best is None or best.more <= 0:
        return ""
    return f" {q(0.01, 'm')} more {best.size} would bring {best.more}."


def _best_bay(bike: Bike, body: Block) -> tuple[float, float, int, str]:
    """(margin, margin under the seat extender, bay, turn) of the bay with the most room."""
    tried = []
    for i, space in spaces_of(bike.build):
        turn, margin, _ = slack(space, body)
        gap = bike.build.donor.bays[i].seat_gap_m.taken
        raised = slack(space.grown(y_m=gap), body)[1] if gap > 0 and margin < 0 else margin
        tried.append((margin, raised, i, turn))
    return max(tried)


@check("pack.fit", "the pack does not go in", parts=("donor.bays.0", "pack.cell"), source=TO_SCALE)
def fit_in(bike: Bike) -> Says | None:
    fit = fitted(bike) if pack_facts(bike) else None
    if fit is None or cell_size(bike) is not None:
        return None
    whole, pack = _whole(bike, fit), bike.build.pack
    if whole is not None:
        margin, raised, i, turn = _best_bay(bike, whole)
        bay = bike.build.donor.bays[i].name or f"bay {i + 1}"
        if margin >= 0 or raised >= 0:
            return None
        return Says(
            "stop",
            "The pack does not go in",
            f"Turned as best it can ({turn}), it is {q(-margin, 'm')} too large for {bay}, its outline "
            "and what must stay free counted. Do not order it.",
            -margin,
            0.0,
            "m",
            parts=(f"donor.bays.{i}", "pack.cell"),
        )
    if fit.short <= 0:
        return None
    own = next((o for o in fit.options if o.series == pack.series), None)
    most = own.parallel if own else 0
    fixes = (Fix(f"Go to {most} in parallel", (Change("pack.parallel", most),)),) if most else ()
    shown = fit.bays[0]
    return Says(
        "stop",
        "The pack does not go in",
        f"The bays take {fit.capacity} bodies ({shown.pattern}, {shown.axis}); "
        f"{pack.series}s{pack.parallel}p needs {fit.needed}. "
        f"{'Most in parallel: ' + str(most) if most else 'Not even one string fits'}."
        + _growth_words(fit),
        fit.needed,
        fit.capacity,
        fixes=fixes if not fit.by_hand else (),
    )


@check("pack.fit_seat", "the pack goes in only under a seat extender", source=TO_SCALE)
def fit_seat(bike: Bike) -> Says | None:
    fit = fitted(bike) if pack_facts(bike) else None
    whole = _whole(bike, fit) if fit else None
    if whole is None:
        return None
    margin, raised, i, _ = _best_bay(bike, whole)
    bay = bike.build.donor.bays[i]
    if margin >= 0 or raised < 0:
        return None
    return Says(
        "caution",
        "The pack goes in only under a seat extender",
        f"{bay.name or f'bay {i + 1}'} is {q(-margin, 'm')} too low; an extender of "
        f"{q(bay.seat_gap_m.taken, 'm')} leaves {q(raised, 'm')}. Check the rider's reach to the ground "
        "before ordering.",
        -margin,
        0.0,
        "m",
        parts=(f"donor.bays.{i}",),
    )


@check("pack.fits", "the pack goes in", source=TO_SCALE)
def fits(bike: Bike) -> Says | None:
    fit = fitted(bike) if pack_facts(bike) else None
    if fit is None or _crashed(fit) or cell_size(bike) is not None:
        return None
    whole = _whole(bike, fit)
    if whole is not None:
        margin, _, i, _ = _best_bay(bike, whole)
        if margin < 0:
            return None
        name = bike.build.donor.bays[i].name or f"bay {i + 1}"
        return Says(
            "note",
            "The pack goes in",
            f"In {name} it has {q(margin, 'm')} to spare at its tightest, padding already taken off.",
            margin,
            0.0,
            "m",
            parts=(f"donor.bays.{i}",),
        )
    if fit.short > 0:
        return None
    return Says(
        "note",
        "The pack goes in",
        f"{fit.needed} bodies in bays for {fit.capacity}; {fit.capacity - fit.needed} places are left "
        "for BMS and cable." + _growth_words(fit),
        fit.needed,
        fit.capacity,
    )


@check(
    "pack.bms_place",
    "no room for the BMS, or its size is unknown",
    parts=("guard.bms",),
    source=TO_SCALE,
)
def bms_place(bike: Bike) -> Says | None:
    fit, pack = fitted(bike) if pack_facts(bike) else None, bike.build.pack
    if fit is None or bike.build.guard.bms.there is False:
        return None
    unknown = guest_of(bike.build, anywhere=True) is None
    if unknown:
        return Says(
            "caution" if pack.bms_in_bay else "note",
            "The size of the BMS is not known",
            "A BMS is often bigger than expected; give its length, width and height, also where it is "
            "mounted outside the bay: its cover must still go on.",
            0,
            1,
        )
    if not pack.bms_in_bay or fit.by_hand or any(b.guest is not None for b in fit.bays):
        return None
    return Says(
        "stop",
        "There is no room for the BMS",
        "In no bay does its box stand free. Leave cells out, or mount it elsewhere where air reaches "
        "it and its cover still goes on.",
        0,
        1,
        fixes=(Fix("Mount it elsewhere", (Change("pack.bms_in_bay", False),)),),
    )


@check(
    "pack.bms_cover",
    "a BMS outside the bay is larger than its place",
    parts=("guard.bms",),
    source=TO_SCALE,
)
def bms_cover(bike: Bike) -> Says | None:
    pack, body = bike.build.pack, guest_of(bike.build, anywhere=True)
    if pack.bms_in_bay or body is None or bike.build.guard.bms.there is False:
        return None
    room = tuple(v.amount for v in (pack.bms_room_l_m, pack.bms_room_w_m, pack.bms_room_h_m))
    if any(x is None for x in room):
        return Says(
            "note",
            "Where the BMS goes is not measured",
            f"It is {q(body.length_m, 'm')} x {q(body.width_m, 'm')} x {q(body.height_m, 'm')} and not "
            "in a bay: measure the place, with its cover on.",
            0,
            1,
        )
    have = sorted((x or 0.0 for x in room), reverse=True)
    want = sorted((body.length_m, body.width_m, body.height_m), reverse=True)
    short = max(w - h for w, h in zip(want, have, strict=True))
    if short <= 0:
        return None
    return Says(
        "stop",
        "The BMS does not go where it is to go",
        f"It is {q(short, 'm')} too large for its place with the cover on.",
        short,
        0.0,
        "m",
    )


@check("pack.split", "groups lie in two bays", parts=("pack",))
def split(bike: Bike) -> Says | None:
    fit = fitted(bike) if pack_facts(bike) else None
    if fit is None or not fit.split or fit.short > 0:
        return None
    return Says(
        "caution",
        "A group lies in two bays"
        if len(fit.split) == 1
        else f"{len(fit.split)} groups lie in two bays",
        "Their cells are joined through a cable between the bays, which then carries the current of "
        "half a group and has a fuse-less fault path. Keep groups whole if you can.",
        len(fit.split),
        0,
    )


@check(
    "pack.sides_open",
    "cells are to be joined and nobody has laid out what lies beside what",
    parts=("pack",),
)
def sides_open(bike: Bike) -> Says | None:
    pack, facts = bike.build.pack, pack_facts(bike)
    if (
        facts is None
        or fitted(bike) is not None
        or pack.source in BOUGHT
        or math.isnan(facts.full_v)
    ):
        return None
    return Says(
        "note",
        "What lies beside what is not known",
        "Without a layout any two neighbours may be the whole pack apart: "
        f"{insulation_for(facts.full_v)} between all groups, at least "
        f"{q(creepage_m(facts.full_v), 'm')} along any surface. Measure the bay and the cell to see "
        "the weak places.",
        facts.full_v,
        SIDES_V,
        "v",
    )


BOUGHT = ("ready_made", "lead_acid")


@check(
    "pack.sides",
    "neighbours of very different potential",
    parts=("pack",),
    source=Source(
        "memory", "IEC 60664-1, pollution degree 3, from memory; sheet by common practice"
    ),
)
def sides(bike: Bike) -> Says | None:
    fit, cell = fitted(bike) if pack_facts(bike) else None, bike.build.pack.cell
    if fit is None:
        return None
    per = cell_full_v(cell) * cell.body_series
    beside = [s for s in fit.sides if not s.ends]
    ends = [s for s in fit.sides if s.ends]
    worst = (max((s.steps for s in beside), default=0) + 1) * per
    through = (max((s.steps for s in ends), default=0) + 1) * per
    if max(worst, through) <= SIDES_V:
        return None
    apart = sum((s.steps + 1) * per > SIDES_V for s in beside)
    words = (
        f"{apart} neighbours in a layer differ by over {q(SIDES_V, 'v')}, at most {q(worst, 'v')}: "
        f"between them belongs {insulation_for(worst)}."
        if apart
        else f"In a layer neighbours differ by at most {q(worst, 'v')}."
    )
    if ends:
        words += f" Between the layers it is {q(through, 'v')}: {insulation_for(through)}."
    top = max(worst, through)
    return Says(
        "caution" if apart and worst > CLASS_B_V else "note",
        "Groups of different potential lie side by side",
        f"{words} Along any surface at least {q(creepage_m(top), 'm')}.",
        top,
        SIDES_V,
        "v",
    )
