"""Findings on springs, steering and seat."""

from __future__ import annotations

from collections.abc import Iterator

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.gear.chassis import like_most_deg, seat, springs, stance_blanks, standing
from ninebolt.core.bolts.gear.limits import (
    CLEARANCE_LEAST_M,
    NO_FOOT_M,
    RAKE_MOVED_DEG,
    SAG_DEEP_M,
    SAG_FRONT,
    SAG_REAR,
    SAG_SHARE,
    SPRUNG_MORE,
    TIPTOE_M,
    TRAIL_LEAST_M,
    TRAIL_MOST_M,
    TRAIL_STOP_M,
)
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Fix, Source, listed, q, setting

PLANE = Source("computed", "plane geometry of head, fork and wheels")
PART = {"front": "gear.fork", "rear": "gear.shock"}


@check("gear.springs", "springs sag too much or too little with the rider on")
def sag(bike: Bike) -> Iterator[Says]:
    for s in springs(bike):
        least, most = SAG_FRONT if s.end == "front" else SAG_REAR
        if s.share is None or s.sag_m is None or least <= s.share <= most:
            continue
        soft = s.share > most
        deep = s.share >= 0.6
        rate = s.rate_n_m or 0.0
        yield Says(
            "stop" if s.share >= 0.95 else "caution",
            f"The {s.end} spring is too {'soft' if soft else 'stiff'} for this mass",
            f"{q(s.sag_m, 'm')} of sag with the rider on, {s.share:.0%} of the travel; {least:.0%} to {most:.0%} "
            f"rides well. {q(rate, 'n_m')} gives {SAG_SHARE:.0%}"
            + (f", and rebound about {s.damping:.2f} times as firm." if s.damping else ".")
            + (" It bottoms on the first bump." if deep else ""),
            s.share,
            most if soft else least,
            fixes=(Fix("Take that rate", (setting(f"{PART[s.end]}.rate_n_m", round(rate)),)),),
            parts=(PART[s.end],),
            at=s.end,
        )


@check("gear.springs_open", "the sprung weight has grown and the springs are not known")
def sag_open(bike: Bike) -> Says | None:
    grown = [s for s in springs(bike) if s.share is None and s.more and s.more > SPRUNG_MORE]
    if not grown:
        return None
    worst = max(grown, key=lambda s: s.more or 0.0)
    words = " and ".join(f"{s.end} {s.more:.2f} times" for s in grown)
    return Says(
        "note",
        "The springs carry more than the donor's did",
        f"Sprung weight {words} that of the donor: rates by the same factor keep the sag, rebound by its root "
        "or so. Measure sag with the rider on, or type rate and travel.",
        worst.more,
        SPRUNG_MORE,
        parts=tuple(PART[s.end] for s in grown),
    )


@check("gear.springs_half", "a spring rate is known, and its travel or leverage is not")
def sag_half(bike: Bike) -> Iterator[Says]:
    gear = bike.build.gear
    for s in springs(bike):
        part = gear.fork if s.end == "front" else gear.shock
        blank = [
            words
            for words, known in (
                ("the travel of the wheel", part.travel_m.known),
                ("its leverage", s.end == "front" or part.leverage.known),
            )
            if not known
        ]
        if s.sag_m is None or not part.rate_n_m.known or not blank:
            continue
        deep = s.sag_m > SAG_DEEP_M
        yield Says(
            "caution" if deep else "note",
            f"How deep the {s.end} sags is not all known",
            f"Unknown: {', '.join(blank)}. By its rate it sags {q(s.sag_m, 'm')} with the rider on"
            + (
                ", reckoned with a spring that moves as far as the wheel"
                if len(blank) > 1 or "leverage" in blank[0]
                else ""
            )
            + (": more than any wheel has to spare. Is a unit or a decimal wrong?" if deep else ".")
            + " Measure how far the wheel moves from full droop to the stop, and the spring with it.",
            s.sag_m,
            SAG_DEEP_M,
            "m",
            parts=(PART[s.end],),
            at=s.end,
        )


@check("gear.stance", "rake, trail or clearance have come to where it handles badly", source=PLANE)
def geometry(bike: Bike) -> Says | None:
    at = standing(bike)
    if at is None:
        return None
    now, was = at.after, at.before
    moved, out = now.rake_deg - was.rake_deg, []
    if now.trail_m < TRAIL_LEAST_M:
        out.append(
            f"trail {q(now.trail_m, 'm')}, under {q(TRAIL_LEAST_M, 'm')}: it shakes its head"
            + (", and does not steer straight by itself" if now.trail_m < TRAIL_STOP_M else "")
        )
    if now.trail_m > TRAIL_MOST_M:
        out.append(f"trail {q(now.trail_m, 'm')}, over {q(TRAIL_MOST_M, 'm')}: it flops into turns")
    if abs(moved) > RAKE_MOVED_DEG:
        out.append(
            f"the head has moved by {q(moved, 'deg')}: a "
            + ("longer shock" if moved > 0 else "longer fork")
            + " brings it back"
        )
    if not out:
        return None
    return Says(
        "stop" if now.trail_m < TRAIL_STOP_M else "caution",
        "Fork and shock do not match",
        f"Rake {q(was.rake_deg, 'deg')} → {q(now.rake_deg, 'deg')}, trail {q(was.trail_m, 'm')} → "
        f"{q(now.trail_m, 'm')}: {'; '.join(out)}.",
        now.trail_m,
        TRAIL_LEAST_M if now.trail_m < TRAIL_LEAST_M else TRAIL_MOST_M,
        "m",
        parts=("gear.fork", "gear.shock"),
    )


@check("gear.stance_open", "fork or shock are not the donor's and the stance is not all measured")
def geometry_open(bike: Bike) -> Says | None:
    gear = bike.build.gear
    fork, shock = gear.fork.longer_m.taken, gear.shock.longer_m.taken
    if standing(bike) is not None or (not fork and not shock):
        return None
    moved = like_most_deg(bike)
    return Says(
        "caution",
        "What the other fork does to the steering is not known",
        f"The fork is {q(fork, 'm')} and the shock {q(shock, 'm')} longer than the donor's"
        + (f": on a bike like most the head moves by about {q(moved, 'deg')}. " if moved else ". ")
        + f"Measure {listed(stance_blanks(bike), gap=' and ')}: trail decides whether it shakes its head at speed.",
        fork or shock,
        None,
        "m",
        parts=("gear.steering",),
    )


@check("gear.clearance", "there is little room under the bike", parts=("gear.steering",))
def clearance(bike: Bike) -> Says | None:
    free, at = bike.build.gear.steering.clearance_m.amount, standing(bike)
    if free is None or bike.build.goal.use not in ("trail", "hill_climb"):
        return None
    now = free + (at.after.clearance_up_m if at else 0.0)
    if now >= CLEARANCE_LEAST_M:
        return None
    return Says(
        "caution",
        "Little room under the bike",
        f"{q(now, 'm')} for a trail: what hangs lowest is hit first. Is that the pack?",
        now,
        CLEARANCE_LEAST_M,
        "m",
    )


@check("gear.seat", "the rider's feet do not reach the ground", parts=("gear.fit",))
def reach(bike: Bike) -> Says | None:
    found = seat(bike)
    if found is None or found.spare_m is None or found.spare_m >= TIPTOE_M:
        return None
    none = found.spare_m < NO_FOOT_M
    return Says(
        "caution",
        "A foot does not reach the ground" if none else "Tiptoe on both sides",
        f"The seat is at {q(found.ridden_m, 'm')} with the rider on, the leg is {q(-found.spare_m, 'm')} short. "
        "A heavy bike that tips at rest cannot be held: lower the seat extender, or shorten fork and shock alike.",
        found.spare_m,
        TIPTOE_M,
        "m",
    )
