"""Drive's findings on heat: what motor and controller hold, and for how long."""

from __future__ import annotations

import math

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.reach import ride_distance
from ninebolt.core.bolts.drive.heat import BoxRow, HeatRow, box_rows, heat_view, held
from ninebolt.core.bolts.drive.limits import TOP_HELD_S
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.drive.constants import amps_peak
from ninebolt.core.finding import BUILD, Source, q
from ninebolt.core.parts.goal import ride_speed

MOTOR = ("drive.motor",)
NODES = Source("computed", "winding, case and air as two nodes; the controller as one")
RIDING = {
    "run": "on one full-throttle run",
    "session": "in the planned session",
    "climb": "on the hill that is wished",
    "ride": "at the speed of the ride",
    "top": "near top speed",
}


def _row(bike: Bike, key: str) -> HeatRow | None:
    """The row of a way of riding in which the winding gets to its limit; None if it does not."""
    view = heat_view(bike)
    rows = view.rows if view else ()
    return next((r for r in rows if r.key == key and r.limit_s), None)


def _takes_s(bike: Bike, key: str) -> float:
    """Seconds that a held way of riding lasts by the wish; inf where nobody says."""
    goal = bike.build.goal
    if key == "climb":
        speed, grade = goal.hill_speed_m_s.amount, goal.hill_pct.amount
        if not speed or not grade:
            return math.inf
        return goal.climb_m.taken / math.sin(math.atan(grade / 100.0)) / speed
    distance = ride_distance(bike.build)
    return math.inf if distance is None else distance / ride_speed(goal)


def _unsensed(bike: Bike) -> str:
    """What follows where nothing reads the winding."""
    sensed = bike.build.drive.motor.temp_sensor
    if sensed:
        return (
            "Its sensor makes the controller take amps back: the bike gets slower, the motor lives."
        )
    return (
        "No sensor reads the winding, so nothing takes the amps back: its insulation burns."
        if sensed is False
        else "Whether a sensor reads the winding is not known; without one its insulation burns."
    )


@check(
    "drive.run_heat",
    "the winding reaches its limit in a full-throttle run or the planned session",
    parts=MOTOR,
    source=NODES,
)
def run_heat(bike: Bike) -> Says | None:
    view = heat_view(bike)
    row = _row(bike, "run") or _row(bike, "session")
    if view is None or row is None:
        return None
    after = f"after {q(row.limit_s or 0.0, 's')}" if row.key == "run" else "before its last run"
    return Says(
        "stop" if bike.build.drive.motor.temp_sensor is False else "caution",
        f"The motor gets too hot {RIDING[row.key]}",
        f"{after[0].upper()}{after[1:]} the winding is at {q(row.winding_c or 0.0, 'c')} of "
        f"{q(view.limit_c, 'c')}. {_unsensed(bike)} Fewer phase amps, longer rests, or more cooling.",
        row.winding_c,
        view.limit_c,
        "c",
    )


@check("drive.hill_heat", "the motor does not hold the hill that is wished", parts=("drive.motor",))
def hill_heat(bike: Bike) -> Says | None:
    view, goal = heat_view(bike), bike.build.goal
    row = _row(bike, "climb")
    if view is None or row is None or row.limit_s is None:
        return None
    takes = _takes_s(bike, "climb")
    if row.limit_s > 5.0 * takes:
        return None
    short = row.limit_s < takes
    best = max(view.cooling, key=lambda k: k.cont_a)
    return Says(
        "caution" if short else "note",
        "The motor overheats on the hill" if short else "The hill is held for a while",
        f"{q(row.phase_a or 0.0, 'a')} in the phases take the winding from cold to {q(view.limit_c, 'c')} in "
        f"{q(row.limit_s, 's')}; {q(goal.climb_m.taken, 'm')} of height take {q(takes, 's')}. Shorter gearing asks for "
        f"less current; {best.label} holds {q(best.cont_a, 'a')} for good.",
        row.limit_s,
        takes,
        "s",
    )


@check(
    "drive.ride_heat",
    "the motor does not hold the speed of the ride, or top speed only for a while",
    parts=MOTOR,
    source=NODES,
)
def ride_heat(bike: Bike) -> Says | None:
    view, ride, top = heat_view(bike), _row(bike, "ride"), _row(bike, "top")
    takes = _takes_s(bike, "ride")
    if view is None:
        return None
    if ride is not None and ride.limit_s is not None and ride.limit_s < takes:
        for_it = f"; the ride takes {q(takes, 's')}" if math.isfinite(takes) else ""
        return Says(
            "caution",
            "The motor overheats at the speed of the ride",
            f"{q(ride.phase_a or 0.0, 'a')} in the phases and its drag take the winding from cold to "
            f"{q(view.limit_c, 'c')} in {q(ride.limit_s, 's')}{for_it}. {_unsensed(bike)}",
            ride.limit_s,
            takes,
            "s",
        )
    if top is None or top.limit_s is None or top.limit_s > TOP_HELD_S:
        return None
    return Says(
        "note",
        "Top speed is held for a while only",
        f"Near it {q(top.phase_a or 0.0, 'a')} in the phases and its drag take the winding from cold to "
        f"{q(view.limit_c, 'c')} in {q(top.limit_s, 's')}. {_unsensed(bike)}",
        top.limit_s,
        TOP_HELD_S,
        "s",
    )


@check(
    "drive.cont",
    "the speed of the ride asks more phase amps than the motor is rated for",
    parts=MOTOR,
    source=BUILD,
)
def cont(bike: Bike) -> Says | None:
    m = bike.build.drive.motor
    rated = amps_peak(m.phase_cont_a.or_else(math.nan), m.amp_basis)
    ride = next((h for h in held(bike) if h.key == "ride"), None)
    if ride is None or ride.at is None or not ride.at.phase_a > rated:
        return None
    return Says(
        "caution",
        "The ride asks more than the motor's continuous phase amps",
        f"{q(ride.at.phase_a, 'a')} peak at {q(ride.speed_m_s, 'm_s')} against {q(rated, 'a')} that it "
        "is rated for on and on. Shorter gearing asks for less current at the same speed.",
        ride.at.phase_a,
        rated,
        "a",
    )


@check(
    "drive.box_heat",
    "the controller reaches its limit in riding that is planned",
    parts=("drive.controller",),
    source=NODES,
)
def box_heat(bike: Bike) -> Says | None:
    limit = bike.build.drive.controller.temp_max_c.taken
    hot = [r for r in box_rows(bike) if _too_hot(bike, r)]
    if not hot:
        return None
    first = hot[0]
    return Says(
        "note" if first.key == "top" else "caution",
        f"The controller gets too hot {RIDING[first.key]}",
        f"After {q(first.limit_s or 0.0, 's')} its switches are at {q(limit, 'c')}. One that watches itself takes amps "
        "back there, one that does not fails short, and the wheel locks or runs. Fewer phase amps, a plate and paste "
        "under it, or air over it.",
        first.limit_s,
        None,
        "s",
    )


def _too_hot(bike: Bike, row: BoxRow) -> bool:
    """Does it get to its limit within what that riding lasts?"""
    if row.limit_s is None:
        return False
    if row.key in ("climb", "ride"):
        return row.limit_s < _takes_s(bike, row.key)
    return row.key != "top" or row.limit_s <= TOP_HELD_S
