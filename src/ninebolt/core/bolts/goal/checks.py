"""Goal's findings: wishes that are missed, and why."""

from __future__ import annotations

import math

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.reach import estimated_kg, reach
from ninebolt.core.bolts.common import day_of
from ninebolt.core.bolts.goal.need import need_of
from ninebolt.core.bolts.goal.wishes import Check, Give, spent, wishes
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Change, Fix, Source, listed, q
from ninebolt.core.limits import Limit
from ninebolt.core.parts.goal import Goal, ride_speed

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
    start, end, today = day_of(goal.start_on), day_of(goal.deadline), day_of(bike.today)
    if today is not None and end is not None and today > end:
        return Says(
            "caution",
            "The date has passed",
            f"It was to be ready by {goal.deadline.strip()}; today is {bike.today}. Set a new one, or take it out.",
            float((today - end).days),
            0.0,
        )
    if start is not None and end is not None and start > end:
        return Says(
            "caution",
            "The date lies before the work starts",
            f"Work starts on {goal.start_on.strip()}, it is to be ready by {goal.deadline.strip()}. Is a year wrong?",
            0.0,
            float((start - end).days),
        )
    late = today is not None and (start is None or today > start)
    begin = today if late else start
    blank = [] if begin else ["when work starts (year-month-day)"]
    blank += [] if end else ["the date itself (year-month-day)"]
    known, parts, open_work = _work(goal)
    blank += open_work
    have = float((end - begin).days) if begin and end else None
    if have is None or (blank and known <= have):
        return Says(
            "caution",
            "Nobody can say whether the date holds",
            f"Unknown: {listed(blank, 5)}. What is not known is what comes late.",
        )
    spare = have - known
    if spare >= TEST_DAYS:
        return None
    return Says(
        "caution",
        "The date does not hold" if spare < 0 else "No time is left to test",
        f"{' and '.join(parts)} are {known:.0f} days; there are {have:.0f}{' from today on' if late else ''}, and "
        f"{float(TEST_DAYS):.0f} belong to test and fit. "
        + (f"Unknown yet: {listed(blank, 5)}. " if blank else "")
        + "Order what takes longest now, take what is on the shelf, or move the date.",
        known + TEST_DAYS,
        have,
    )


def _work(goal: Goal) -> tuple[float, list[str], list[str]]:
    """(days until it is built as far as is known, of what they are, what is not known)."""
    lead, work, week = goal.lead_days, goal.work_hours, goal.week_hours
    days, parts, blank = 0.0, [], []
    if lead is None:
        blank.append("the longest delivery that is open")
    else:
        days, parts = float(lead), [f"{lead} days of delivery"]
    if work is not None and week:
        days += math.ceil(7.0 * work / week)
        parts.append(f"{work} h at {week} h a week")
    blank += ["the hours of work left"] if work is None else []
    blank += [] if week else ["the hours a week"]
    return days, parts, blank


@check("goal.half", "a wish is given by half", source=WISH)
def half(bike: Bike) -> list[Says]:
    goal = bike.build.goal
    rows = (
        (
            "hill",
            goal.hill_pct.known,
            goal.hill_speed_m_s.known,
            "A hill",
            "how fast it is to be climbed",
        ),
        (
            "speed",
            goal.hill_speed_m_s.known,
            goal.hill_pct.known,
            "A speed on the hill",
            "how steep it is",
        ),
    )
    return [
        Says(
            "note",
            f"{what} is wished, and not {rest}",
            "Until both are given nothing is judged of it.",
            at=key,
        )
        for key, given, other, what, rest in rows
        if given and not other
    ]


@check("goal.rider_open", "nobody says what the rider weighs", source=WISH)
def rider_open(bike: Bike) -> Says | None:
    rider = bike.build.goal.rider_kg
    if rider.known or performance_of(bike) is None:
        return None
    return Says(
        "note",
        "What the rider weighs is not known",
        f"{q(rider.taken, 'kg')} is taken. On a light bike the rider is more than half of what is moved: times, range, "
        "springs and brakes all hang on it. Step on a scale, in riding gear.",
        0,
        1,
    )


@check("goal.time_open", "the speed of the standing start is not reached", source=WISH)
def time_open(bike: Bike) -> Says | None:
    missed = next((c for c in wishes(bike).checks if c.key == "time"), None)
    if missed is None or missed.met != "unknown" or missed.want is None:
        return None
    perf, wish = performance_of(bike), bike.build.goal.to_speed_m_s.taken
    if perf is None:
        return Says(
            "note",
            "Whether the standing start is met is not known",
            "The build does not compute yet.",
            None,
            wish,
            "m_s",
        )
    opens = f"The {perf.headline.opens} opens before. " if perf.headline.opens else ""
    return Says(
        "caution",
        "The speed of the standing start is not reached",
        f"{opens}The run does not get to that speed.",
        perf.top.speed_m_s,
        wish,
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
    far = reach(bike)
    if far is not None and far.range_m is None:
        return Says(
            "note",
            "Down this grade no range can be told",
            "The road drives the bike: it draws nothing, and on the way back it pays. Plan the ride on the flat, or as "
            "the whole loop.",
        )
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
