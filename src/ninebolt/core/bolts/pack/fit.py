"""Pack: does it go in, what limits it, what collides, what must be insulated from what?"""

from __future__ import annotations

from ninebolt.core.bike.cells import CLASS_B_V, cell_full_v
from ninebolt.core.bike.layout import Fitted
from ninebolt.core.bike.shape import body_of, corners_of, guest_of, keep_box, space_of, spaces_of
from ninebolt.core.bolts.common import Notes
from ninebolt.core.build import Build
from ninebolt.core.finding import PRACTICE, Change, Fix, Source, q
from ninebolt.core.match.fill import MOST, Block, body_sizes, slack, too_small
from ninebolt.core.match.layout import creepage_m
from ninebolt.core.match.space import crosses_itself

SIDES_V = 25.0  # neighbours further apart get a sheet of their own. Common practice, no source.
TO_SCALE = Source("computed", "packed to scale in the bays as measured")


def judge_bays(build: Build, notes: Notes) -> None:
    """Outlines that cannot be used, kept-free boxes without a size, padding that leaves nothing."""
    for i, bay in enumerate(build.donor.bays):
        name, path = bay.name or f"bay {i + 1}", f"donor.bays.{i}"
        corners = corners_of(bay)
        if bay.outline and crosses_itself(corners):
            notes.add(
                "stop",
                f"outline_{i}",
                f"The outline of {name} crosses itself",
                f"{len(corners)} corners do not make a closed outline. Put them in order round "
                "the bay.",
                TO_SCALE,
                measured=len(corners),
                limit=3,
                parts=(path,),
            )
        blank = [k.name or k.kind for k in bay.keep_outs if keep_box(k) is None]
        if blank:
            notes.add(
                "caution",
                f"keep_{i}",
                f"{', '.join(blank[:3])}: not measured",
                "What must stay free without a length and height is not kept free. Measure it.",
                PRACTICE,
                measured=len(blank),
                limit=0,
                parts=(path,),
            )
        space = space_of(bay)
        if space is not None and space.half_z <= 0:
            notes.add(
                "stop",
                f"narrow_{i}",
                f"Nothing is left inside {name}",
                f"It is {q(space.width_m, 'm')} wide; walls and padding take "
                f"{q(2 * space.clear_m, 'm')}.",
                TO_SCALE,
                measured=space.width_m,
                limit=2 * space.clear_m,
                quantity="m",
                parts=(path,),
            )


def judge_fit(build: Build, notes: Notes, fit: Fitted | None) -> None:
    """Does it go in, what limits it, what collides, what lies in two bays."""
    judge_bays(build, notes)
    if fit is None:
        return
    crashed = [(b, h) for b in fit.bays for h in b.hand if h.hits]
    if crashed:
        bay, hand = crashed[0]
        deep = max(h.deep_m for h in hand.hits)
        notes.add(
            "stop",
            "collides",
            "A body put down by hand collides"
            if len(crashed) == 1
            else f"{len(crashed)} bodies put down by hand collide",
            f"In {bay.name} {hand.kind} {hand.index + 1} stands in "
            f"{', '.join(h.what for h in hand.hits[:3])} by {q(deep, 'm')}.",
            TO_SCALE,
            measured=deep,
            limit=0.0,
            quantity="m",
            parts=("pack.placed",),
            fixes=(Fix("Lay it out by rule again", (Change("pack.placed", []),)),),
        )
    whole = build.pack.cell.form == "ready_made" or fit.needed == 1
    body = body_of(build.pack)
    if whole and isinstance(body, Block) and not fit.by_hand:
        _judge_whole(build, notes, body)
    elif body and any(too_small(space, body) for _, space in spaces_of(build)):
        _absurd(notes, min(body_sizes(body)))
    elif fit.short > 0:
        _too_many(build, notes, fit)
    elif not crashed:
        _goes_in(build, notes, fit)
    if build.pack.bms_in_bay and not fit.by_hand:
        _judge_guest(build, notes, fit)
    if fit.split and fit.short <= 0:
        notes.add(
            "caution",
            "split",
            f"{len(fit.split)} groups lie in two bays",
            "Their cells are joined through a cable between the bays, which then carries the "
            "current of half a group and has a fuse-less fault path. Keep groups whole if you can.",
            PRACTICE,
            measured=len(fit.split),
            limit=0,
            parts=("pack",),
        )
    _judge_sides(build, notes, fit)


def _absurd(notes: Notes, least_m: float) -> None:
    """A size in another unit than was meant; nothing is laid out with it."""
    notes.add(
        "stop",
        "cell_size",
        "The cell's size cannot be right",
        f"At {q(least_m, 'm')} across, more than {MOST:,} would go into the bay. Typed in another "
        "unit than was meant? Write the unit behind the number.",
        TO_SCALE,
        measured=least_m,
        quantity="m",
        parts=("pack.cell",),
    )


def _growth_words(fit: Fitted) -> str:
    best = max((g for b in fit.bays for g in b.growth), key=lambda g: g.more, default=None)
    if best is None or best.more <= 0:
        return ""
    return f" {q(0.01, 'm')} more {best.size} would bring {best.more}."


def _too_many(build: Build, notes: Notes, fit: Fitted) -> None:
    pack = build.pack
    own = next((o for o in fit.options if o.series == pack.series), None)
    most = own.parallel if own else 0
    fixes = (Fix(f"Go to {most} in parallel", (Change("pack.parallel", most),)),) if most else ()
    shown = fit.bays[0]
    notes.add(
        "stop",
        "fit",
        "The pack does not go in",
        f"The bays take {fit.capacity} bodies ({shown.pattern}, {shown.axis}); "
        f"{pack.series}s{pack.parallel}p needs {fit.needed}. "
        f"{'Most in parallel: ' + str(most) if most else 'Not even one string fits'}."
        + _growth_words(fit),
        TO_SCALE,
        measured=fit.needed,
        limit=fit.capacity,
        parts=("donor.bays.0", "pack.cell"),
        fixes=fixes if not fit.by_hand else (),
    )


def _goes_in(build: Build, notes: Notes, fit: Fitted) -> None:
    room = fit.capacity - fit.needed
    notes.add(
        "note",
        "fits",
        "The pack goes in",
        f"{fit.needed} bodies in bays for {fit.capacity}; {room} places are left for "
        "BMS and cable." + _growth_words(fit),
        TO_SCALE,
        measured=fit.needed,
        limit=fit.capacity,
    )


def _judge_whole(build: Build, notes: Notes, body: Block) -> None:
    """A ready-made pack against each bay, before it is ordered (C9)."""
    tried = []
    for i, space in spaces_of(build):
        turn, margin, _ = slack(space, body)
        gap = build.donor.bays[i].seat_gap_m.taken
        raised = slack(space.grown(y_m=gap), body)[1] if gap > 0 else margin
        tried.append((margin, raised, i, turn))
    margin, raised, i, turn = max(tried)
    bay = build.donor.bays[i]
    name = bay.name or f"bay {i + 1}"
    if margin >= 0:
        notes.add(
            "note",
            "fits",
            "The pack goes in",
            f"In {name} it has {q(margin, 'm')} to spare at its tightest, padding already taken "
            "off.",
            TO_SCALE,
            measured=margin,
            limit=0.0,
            quantity="m",
            parts=(f"donor.bays.{i}",),
        )
    elif raised >= 0:
        notes.add(
            "caution",
            "fit_seat",
            "The pack goes in only under a seat extender",
            f"{name} is {q(-margin, 'm')} too low; an extender of "
            f"{q(bay.seat_gap_m.taken, 'm')} leaves {q(raised, 'm')}. Check the rider's reach "
            "to the ground before ordering.",
            TO_SCALE,
            measured=-margin,
            limit=0.0,
            quantity="m",
            parts=(f"donor.bays.{i}",),
        )
    else:
        notes.add(
            "stop",
            "fit",
            "The pack does not go in",
            f"Turned as best it can ({turn}), it is {q(-margin, 'm')} too large for {name}. Do not "
            "order it.",
            TO_SCALE,
            measured=-margin,
            limit=0.0,
            quantity="m",
            parts=(f"donor.bays.{i}", "pack.cell"),
        )


def _judge_guest(build: Build, notes: Notes, fit: Fitted) -> None:
    if any(b.guest is not None for b in fit.bays):
        return
    unknown = guest_of(build) is None
    notes.add(
        "caution" if unknown else "stop",
        "bms_place",
        "The size of the BMS is not known" if unknown else "There is no room for the BMS",
        "A BMS is often bigger than expected; give its length, width and height."
        if unknown
        else "In no bay does its box stand free. Leave cells out, or mount it elsewhere where air "
        "reaches it and its cover still goes on.",
        TO_SCALE,
        measured=0,
        limit=1,
        parts=("guard.bms",),
        fixes=() if unknown else (Fix("Mount it elsewhere", (Change("pack.bms_in_bay", False),)),),
    )


def insulation_for(volts: float) -> str:
    """What belongs between neighbours at this potential difference. Common practice, no source."""
    if volts <= 10.0:
        return "the cells' own sleeves and end rings"
    if volts <= 25.0:
        return "a strip of insulating paper, 0.2 mm"
    if volts <= CLASS_B_V:
        return "a sheet of 0.5 mm fibre or aramid board over the whole side"
    return "a rigid sheet of 1 mm or more that stands past the cells on all sides"


def _judge_sides(build: Build, notes: Notes, fit: Fitted) -> None:
    per = cell_full_v(build.pack.cell) * build.pack.cell.body_series
    beside = [s for s in fit.sides if not s.ends]
    ends = [s for s in fit.sides if s.ends]
    worst = (max((s.steps for s in beside), default=0) + 1) * per
    through = (max((s.steps for s in ends), default=0) + 1) * per
    if max(worst, through) <= SIDES_V:
        return
    top = max(worst, through)
    apart = sum((s.steps + 1) * per > SIDES_V for s in beside)
    words = (
        f"{apart} neighbours in a layer differ by over {q(SIDES_V, 'v')}, at most {q(worst, 'v')}: "
        f"between them belongs {insulation_for(worst)}."
        if apart
        else f"In a layer neighbours differ by at most {q(worst, 'v')}."
    )
    if ends:
        words += f" Between the layers it is {q(through, 'v')}: {insulation_for(through)}."
    notes.add(
        "caution" if apart and worst > CLASS_B_V else "note",
        "sides",
        "Groups of different potential lie side by side",
        f"{words} Along any surface at least {q(creepage_m(top), 'm')}.",
        Source("memory", "IEC 60664-1, pollution degree 2, from memory; sheet by common practice"),
        measured=top,
        limit=SIDES_V,
        quantity="v",
        parts=("pack",),
    )
