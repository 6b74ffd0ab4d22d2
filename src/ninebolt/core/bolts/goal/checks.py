"""Goal's findings: wishes that are missed, and why."""

from __future__ import annotations

import math

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.reach import estimated_kg
from ninebolt.core.bolts.common import day_of
from ninebolt.core.bolts.goal.need import need_of
from ninebolt.core.bolts.goal.wishes import Check, Give, spent, wishes
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Change, Fix, Source, q
from ninebolt.core.limits import Limit
from ninebolt.core.parts.goal import ride_speed

TEST_DAYS = Limit(7.0, "ratio", "days kept for test and fit before the date")
RIDE_TWICE = Limit(0.05, "ratio", "how far a ride by way and by time may stand apart")
WISH = Source("build", "the goal of this build")


@check("goal.short", "a wish is missed or nearly met", source=WISH)
def short(bike: Bike) -> list[Says]:
    found = wishes(bike)
    missed = [c for c in found.checks if c.met in ("no", "close") and c.quantity != "money"]
    return [_short(c, found.gives) for c in missed]


def _short(c: Check, gives: tuple[Give, ...]) -> Says:
    have, want = c.have or 0.0, c.want or 1.0
    missed = c.met == "no"
    return Says(
        "caution" if missed else "note",
        f"{c.label}: {'short of the goal' if missed else 'nearly there'}",
        f"{c.label} comes to {q(have, c.quantity)}, the goal is {q(want, c.quantity)} "
        f"({(have - want) / want:+.0%} against the goal).",
        have,
        want,
        c.quantity,
        fixes=_fixes(c, gives),
        at=c.key,
    )


def _fixes(c: Check, gives: tuple[Give, ...]) -> tuple[Fix, ...]:
    """Energy can be bought with cells in one press, if the bay has room."""
    for g in gives:
        if g.key == c.key and g.cells and g.possible and g.to:
            return (Fix(f"Go to {g.to:.0f} in parallel", (Change("pack.parallel", int(g.to)),)),)
    return ()


@check(
    "goal.deadline", "the date it is to be ready by does not hold, or cannot be judged", source=WISH
)
def deadline(bike: Bike) -> Says | None:
    goal = bike.build.goal
    if not goal.deadline.strip():
        return None
    start, end = day_of(goal.start_on), day_of(goal.deadline)
    counts = (goal.lead_days, goal.work_hours, goal.week_hours)
    if start is None or end is None or None in counts:
        return Says(
            "caution",
            "Nobody can say whether the date holds",
            "Give both dates as year-month-day, the longest delivery that is open, the hours of work left "
            "and the hours a week: what is not known is what comes late.",
        )
    today = day_of(bike.today)
    late = today is not None and today > start
    if today is not None and today > end:
        return Says(
            "caution",
            "The date has passed",
            f"It was to be ready by {goal.deadline.strip()}; today is {bike.today}. Set a new one, or take it out.",
            float((today - end).days),
            0.0,
        )
    start = today if late and today is not None else start
    lead, work, week = (float(n or 0) for n in counts)
    build_days = lead + math.ceil(7.0 * work / week)
    have = float((end - start).days)
    spare = have - build_days
    if spare >= TEST_DAYS:
        return None
    return Says(
        "caution",
        "The date does not hold" if spare < 0 else "No time is left to test",
        f"{lead:.0f} days of delivery and {work:.0f} h at {week:.0f} h a week are {build_days:.0f} days; "
        f"there are {have:.0f}{' from today on' if late else ''}, and {float(TEST_DAYS):.0f} belong to test and fit. "
        "Order what takes longest now, take what is on the shelf, or move the date.",
        build_days + TEST_DAYS,
        have,
    )


@check("goal.time_open", "the speed of the standing start is not reached", source=WISH)
def time_open(bike: Bike) -> Says | None:
    missed = next((c for c in wishes(bike).checks if c.key == "time"), None)
    if missed is None or missed.met != "unknown" or missed.want is None:
        return None
    perf = performance_of(bike)
    opens = f"The {perf.headline.opens} opens before. " if perf and perf.headline.opens else ""
    return Says(
        "caution" if perf else "note",
        "The speed of the standing start is not reached",
        f"{opens}The run does not get to that speed."
        if perf
        else "The build does not compute yet.",
        perf.top.speed_m_s if perf else 0.0,
        bike.build.goal.to_speed_m_s.taken,
        "m_s",
    )


@check("goal.ride_twice", "the ride is wished by way and by time, and they differ", source=WISH)
def ride_twice(bike: Bike) -> Says | None:
    goal = bike.build.goal
    way, time = goal.ride_m.amount, goal.ride_s.amount
    if way is None or time is None:
        return None
    by_time = time * ride_speed(goal)
    if abs(by_time / way - 1.0) <= RIDE_TWICE:
        return None
    return Says(
        "caution",
        "The ride is wished twice, and not alike",
        f"{q(way, 'm')} by the way; {q(time, 's')} at {q(ride_speed(goal), 'm_s')} are {q(by_time, 'm')}. Energy, "
        "range and heat are worked for the way. Keep one of the two, or set the speed of the ride.",
        by_time,
        way,
        "m",
        fixes=(Fix("Keep the way alone", (Change("goal.ride_s", None),)),),
    )


@check("goal.range_open", "a way is wished and no range can be told", source=WISH)
def range_open(bike: Bike) -> Says | None:
    missed = next((c for c in wishes(bike).checks if c.key == "range"), None)
    perf = performance_of(bike)
    if missed is None or missed.met != "unknown" or missed.want is None or perf is None:
        return None
    speed, top = perf.headline.cruise_m_s, perf.top.speed_m_s
    beyond = speed is not None and speed > top
    return Says(
        "caution",
        "The bike does not hold the speed of the ride"
        if beyond
        else "Nobody can say how far it gets",
        f"The ride is planned at {q(speed or 0.0, 'm_s')}, the bike holds {q(top, 'm_s')} for good: how far it gets at "
        "that cannot be told. Plan a slower ride, or a faster bike."
        if beyond
        else "Something that the range hangs on is not known.",
        speed,
        top,
        "m_s",
    )


@check(
    "goal.ground",
    "no power reaches the wished speed in the wished time",
    parts=("goal", "road"),
    source=Source("computed", "moments about the rear contact patch"),
)
def ground(bike: Bike) -> Says | None:
    need, goal = need_of(bike), bike.build.goal
    if need is None or not goal.to_time_s.known or need.time_w is not None:
        return None
    return Says(
        "caution",
        "No power reaches this speed in this time",
        f"The ground takes {q(need.ground_n, 'n')} from rest; {q(need.thrust_n or 0.0, 'n')} would be "
        f"needed for {q(goal.to_time_s.or_else(0.0), 's')}: the front lifts or the rear slips first. A "
        "longer wheelbase, a lower centre of mass or more time.",
        need.thrust_n,
        need.ground_n,
        "n",
    )


@check(
    "goal.bay",
    "the wished ride does not fit into the bay",
    parts=("donor", "pack"),
    source=Source("computed", "packed to scale in the bays as measured"),
)
def bay(bike: Bike) -> Says | None:
    found = wishes(bike)
    if found.verdict != "not with this bay":
        return None
    give = next(g for g in found.gives if not g.possible and g.cells)
    return Says(
        "caution",
        "The ride does not fit into this bay",
        f"It wants {give.to:.0f} in parallel and there is room for fewer. A second bay, denser cells, a "
        "shorter or a slower ride.",
        give.was,
        give.to,
    )


@check(
    "goal.budget",
    "the priced parts cost more than the budget",
    source=Source("build", "prices in this build"),
)
def budget(bike: Bike) -> Says | None:
    most, cost = bike.build.goal.budget_money.amount, spent(bike.build)
    if most is None or cost <= most:
        return None
    return Says(
        "caution",
        "Over the budget",
        f"The priced parts come to {cost:,.0f}, {cost - most:,.0f} over the budget of {most:,.0f}.",
        cost,
        most,
        "money",
    )


@check("goal.estimate", "needs are worked with an estimated drive and pack", parts=("goal",))
def estimate(bike: Bike) -> Says | None:
    kg = estimated_kg(bike.build)
    if need_of(bike) is None or kg <= 0.0:
        return None
    return Says(
        "note",
        "Drive and pack are not chosen: their mass is estimated",
        f"{q(kg, 'kg')} are added to the roller so that the needs are not understated. They go as soon as "
        "real parts are in.",
        kg,
        0.0,
        "kg",
    )
