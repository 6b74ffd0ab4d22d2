"""Tune's findings on the throttle: its curve, its readings, what it does to the tyre."""

from __future__ import annotations

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.bolts.tune.derived import throttle_share
from ninebolt.core.bolts.tune.limits import (
    EARLY_TWIST,
    FAULT_V,
    FULL_SHARE,
    HALL_MOST_V,
    LATE_SHARE,
    PUSH_SHARE,
    STEEP_TWIST,
    THROTTLE_SPAN_V,
)
from ninebolt.core.finding import Change, Fix
from ninebolt.core.simulate.thrust import instant

STRAIGHT = Fix("Use a straight curve", (Change("tune.throttle", [[0.0, 0.0], [1.0, 1.0]]),))
LAST = 0.8  # of the twist, where a late lunge begins
FINE = 40


@fact
def ground_at(bike: Bike) -> tuple[float, str] | None:
    """(twist, which of wheelie and grip) at which the ground ends the thrust from rest; None where it never does."""
    perf = bare_performance(bike)
    if perf is None:
        return None
    for i in range(1, FINE + 1):
        share = throttle_share(bike.build.tune.throttle, i / FINE)
        now = instant(perf.case, 0.0, perf.case.phase_a * share)
        if now.choke in ("wheelie", "grip"):
            return i / FINE, now.choke
    return None


@check("tune.curve_falls", "the throttle curve falls as one twists on")
def curve_falls(bike: Bike) -> Says | None:
    ys = [y for _, y in bike.build.tune.throttle]
    if all(b >= a for a, b in zip(ys, ys[1:], strict=False)):
        return None
    return Says(
        "stop",
        "The throttle curve falls as you twist on",
        f"It goes from {max(ys):.0%} back to {ys[-1]:.0%}: the bike slows while the hand asks for more.",
        ys[-1],
        max(ys),
        fixes=(STRAIGHT,),
    )


@check("tune.curve_early", "full torque comes before full twist")
def curve_early(bike: Bike) -> Says | None:
    early = next((x for x, y in bike.build.tune.throttle if y >= FULL_SHARE), 1.0)
    if early >= EARLY_TWIST:
        return None
    return Says(
        "caution",
        "Full torque comes before full twist",
        f"All of it is there at {early:.0%} of the twist; the rest of the grip does nothing.",
        early,
        EARLY_TWIST,
        fixes=(STRAIGHT,),
    )


@check("tune.curve_short", "full twist asks for less than all of the torque")
def curve_short(bike: Bike) -> Says | None:
    points = bike.build.tune.throttle
    most = max((y for _, y in points), default=1.0)
    if most >= FULL_SHARE:
        return None
    none = most <= PUSH_SHARE
    return Says(
        "stop" if none else "note",
        "The throttle curve gives no torque"
        if none
        else "Full twist does not ask for all of the torque",
        "At no twist does the bike drive: the curve has lost its points, or was never drawn."
        if none
        else f"At most {most:.0%}. Times, power and top speed here are computed with all of it: a bike set so is "
        "slower than what stands above, and a log of it does not bear the prediction out.",
        most,
        FULL_SHARE,
        fixes=(STRAIGHT,),
    )


@check("tune.curve_push", "torque with the throttle closed")
def curve_push(bike: Bike) -> Says | None:
    points = bike.build.tune.throttle
    if not points or points[0][1] <= PUSH_SHARE:
        return None
    return Says(
        "stop",
        "Torque with the throttle closed",
        f"The curve starts at {points[0][1]:.0%}: the bike pushes on when you let go.",
        points[0][1],
        PUSH_SHARE,
        fixes=(STRAIGHT,),
    )


@check("tune.curve_late", "most of the torque comes at the end of the twist")
def curve_late(bike: Bike) -> Says | None:
    points = bike.build.tune.throttle
    jump = throttle_share(points, 1.0) - throttle_share(points, LAST)
    if jump <= LATE_SHARE:
        return None
    return Says(
        "caution",
        "The drive lunges at the end of the twist",
        f"{jump:.0%} of all torque comes in the last fifth: a hand that reaches a little too far gets it at once.",
        jump,
        float(LATE_SHARE),
        fixes=(STRAIGHT,),
    )


@check("tune.curve_steep", "a small twist already lifts the wheel or slips the tyre")
def curve_steep(bike: Bike) -> Says | None:
    found = ground_at(bike)
    if found is None or found[0] >= STEEP_TWIST:
        return None
    at, what = found
    does = "lifts the front wheel" if what == "wheelie" else "breaks the rear tyre loose"
    share = throttle_share(bike.build.tune.throttle, at)
    softer = Fix(
        "Reach it at half twist",
        (Change("tune.throttle", [[0.0, 0.0], [0.5, round(share, 2)], [1.0, 1.0]]),),
    )
    return Says(
        "caution",
        "The start is too steep for the ground",
        f"{at:.0%} of the twist {does} from rest; only that much of the grip is for starting.",
        at,
        float(STEEP_TWIST),
        fixes=(softer,),
    )


@check("tune.throttle_open", "the throttle's readings at its ends are not measured")
def throttle_open(bike: Bike) -> Says | None:
    t = bike.build.tune
    gone = [
        w
        for w, v in (("at rest", t.throttle_rest_v), ("at full", t.throttle_full_v))
        if not v.known
    ]
    if not gone:
        return None
    return Says(
        "caution",
        "The throttle is not measured",
        f"Its reading {' and '.join(gone)} is not known: rest, full and fault limits stay what the controller has. "
        "Measure at the signal wire, wheel free, before it is learned by trial.",
        len(gone),
        0.0,
        parts=("tune",),
    )


@check("tune.throttle_span", "the throttle's two ends are close together, or swapped")
def throttle_span(bike: Bike) -> Says | None:
    t = bike.build.tune
    rest, full = t.throttle_rest_v.amount, t.throttle_full_v.amount
    if rest is None or full is None or full - rest >= THROTTLE_SPAN_V:
        return None
    if full <= rest:
        return Says(
            "stop",
            "The throttle reads more at rest than at full",
            f"{rest:.2f} V at rest, {full:.2f} V at full: learned so, it drives with the hand off.",
            rest,
            full,
            "v",
        )
    return Says(
        "caution",
        "The throttle moves its reading very little",
        f"{full - rest:.2f} V from end to end: noise alone moves the torque by several percent.",
        full - rest,
        float(THROTTLE_SPAN_V),
        "v",
    )


@check("tune.throttle_wire", "a broken throttle wire would read as rest, or a short as full")
def throttle_wire(bike: Bike) -> list[Says]:
    t, out = bike.build.tune, []
    rest, full, supply = (
        t.throttle_rest_v.amount,
        t.throttle_full_v.amount,
        t.throttle_supply_v.taken,
    )
    if rest is not None and rest < FAULT_V:
        out.append(
            Says(
                "caution", "A broken wire reads as rest",
                f"{rest:.2f} V at rest is close to nothing: the controller cannot tell a wire that is off.",
                rest, float(FAULT_V), "v", at="rest",
            )
        )  # fmt: skip
    if full is not None and full > supply - FAULT_V:
        out.append(
            Says(
                "stop", "A short to the supply reads as full throttle",
                f"{full:.2f} V at full of a {supply:.1f} V supply: a wire rubbed through would be full throttle.",
                full, supply - FAULT_V, "v", at="full",
            )
        )  # fmt: skip
    if t.throttle_kind == "hall twist" and t.throttle_supply_v.known and supply > HALL_MOST_V:
        out.append(
            Says(
                "caution", "The supply is high for a hall throttle",
                f"{supply:.1f} V, where most are made for 5 V: it can burn, and then reads as anything. Look up what "
                "it stands before it is plugged in.",
                supply, float(HALL_MOST_V), "v", at="supply",
            )
        )  # fmt: skip
    high = supply - FAULT_V
    if t.throttle_kind == "potentiometer" and full is not None and full <= high:
        out.append(
            Says(
                "note", "A potentiometer fails both ways",
                f"With its ground off it reads the whole supply, {supply:.1f} V: the fault limit must lie under that. "
                "A worn track jumps; look at it once a season.",
                full, high, "v", at="pot",
            )
        )  # fmt: skip
    return out
