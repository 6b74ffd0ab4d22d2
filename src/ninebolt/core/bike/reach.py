"""How far one charge goes for the ride that is wished: one number, for the headline and the goal."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.battery.pack import PackFacts, usable_wh
from ninebolt.core.bike.cells import cell_ah, cell_curve, cell_peukert
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.mass import pack_kg, total_kg
from ninebolt.core.bike.path import aux_load_w
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.build import Build
from ninebolt.core.limits import Limit
from ninebolt.core.parts.goal import Goal, ground_crr, ride_speed
from ninebolt.core.vehicle.need import hill_run_j, logged_n, stop_and_go_n
from ninebolt.core.vehicle.road import Body, road_load
from ninebolt.units import S_PER_H

PACK_TO_WHEEL = Limit(
    0.84, "ratio", "pack to tyre under load: motor 90 %, controller 97 %, chain 96 %"
)
# Least energy a kilometre by use, for a ridden bike of 150 kg; it grows with the mass.
USE_WH_KM = {
    "trail": Limit(45.0, "ratio", "Wh/km on a trail: soft ground, climbs, braking"),
    "hill_climb": Limit(50.0, "ratio", "Wh/km of hill climbing, the way there and back included"),
    "supermoto": Limit(45.0, "ratio", "Wh/km of supermoto: braking and pulling out"),
    "stunt": Limit(
        50.0, "ratio", "Wh/km of stunt riding: short pulls on one wheel, braking, turning"
    ),
}
USE_KG = 150.0
# What a roller will weigh more once it has a drive, while none is chosen. Common practice.
PACK_KG = Limit(22.0, "kg", "a pack that is not chosen yet")
DRIVE_KG = Limit(18.0, "kg", "motor and controller that are not chosen yet")


@dataclass(frozen=True, slots=True)
class Reach:
    """One charge: distance, energy a metre and usable energy for the duty, and how it was worked."""

    range_m: float | None
    wh_per_m: float
    usable_wh: float
    words: str


def estimated_kg(build: Build) -> float:
    """Mass of drive and pack that a gas roller or bare frame is still to get and nobody has chosen."""
    if build.donor.kind == "electric_moto" or build.road.total_kg.known:
        return 0.0
    drive = build.drive.motor.mass_kg.known or build.drive.motor.kv_rpm_v.known
    return (0.0 if pack_kg(build) else PACK_KG) + (0.0 if drive else DRIVE_KG)


@fact
def planned_body(bike: Bike) -> Body | None:
    """The bike on the road while motor and pack may still be unknown; None without a mass."""
    build = bike.build
    mass = total_kg(build) + estimated_kg(build)
    if math.isnan(mass):
        return None
    road = build.road
    height = road.cg_height_m.taken
    return Body(
        mass,
        0.0,
        road.cda_m2.taken,
        ground_crr(road.crr, build.goal),
        road.air_kg_m3.taken,
        road.grade_pct.taken,
        height,
        road.wheelbase_m.taken,
        road.front_share.taken,
        build.gear.tyre.grip_mu.taken,
        road.drag_height_m.or_else(height),
    )


def ride_distance(build: Build) -> float | None:
    """The wished ride: by distance, else by time at its speed."""
    goal = build.goal
    if goal.ride_m.amount is not None:
        return goal.ride_m.amount
    return goal.ride_s.amount * ride_speed(goal) if goal.ride_s.amount is not None else None


def wh_per_m(bike: Bike, speed: float) -> float | None:
    """Energy out of the pack by distance at a speed, for the duty and the use that are planned; None
    for hill runs and while the log for a logged ride is not there."""
    goal, body, perf = bike.build.goal, planned_body(bike), bare_performance(bike)
    if body is None:
        return None
    extra = aux_load_w(bike.build) / speed / S_PER_H
    steady = perf.cruise if perf else None
    if goal.duty == "steady" and steady is not None and steady.speed_m_s == speed:
        found: float | None = steady.wh_per_m - extra
    else:
        thrust = _thrust(bike, body, speed)
        found = None if thrust is None else thrust / PACK_TO_WHEEL / S_PER_H
    if found is None:
        return None
    return no_less_than_its_use(goal, body.mass_kg, found) + extra


def no_less_than_its_use(goal: Goal, mass_kg: float, found: float) -> float:
    """Energy a metre (Wh), at least what the use of the bike takes; a logged ride is what it is."""
    least = USE_WH_KM.get(goal.use)
    if least is None or goal.duty == "logged":
        return found
    return max(found, least / 1000.0 * mass_kg / USE_KG)


def _thrust(bike: Bike, body: Body, speed: float) -> float | None:
    duty = bike.build.goal.duty
    if duty == "steady":
        return road_load(body, speed).total_n
    if duty == "stop_and_go":
        return stop_and_go_n(body, speed, bike.build.goal.stop_each_m.taken)
    if duty == "logged" and bike.ride is not None:
        return logged_n(body, bike.ride.t_s, bike.ride.speed_m_s)
    return None


def run_wh(bike: Bike) -> float | None:
    """Energy out of the pack for one hill run; None for other duties."""
    goal, body = bike.build.goal, planned_body(bike)
    if goal.duty != "hill_runs" or goal.hill_pct.amount is None or body is None:
        return None
    speed = goal.hill_speed_m_s.or_else(ride_speed(goal))
    joule = hill_run_j(body, goal.climb_m.taken, goal.hill_pct.amount, speed)
    return joule / PACK_TO_WHEEL / S_PER_H


@fact
def reach(bike: Bike) -> Reach | None:
    """One charge; None while the bike does not compute, cannot hold the speed, or has no duty that
    is ridden by distance."""
    build, perf = bike.build, bare_performance(bike)
    if perf is None or perf.cruise is None:
        return None
    if perf.cruise.range_m is None:
        return Reach(None, 0.0, perf.cruise.usable_wh, "the road drives the bike")
    speed = ride_speed(build.goal)
    per_m = wh_per_m(bike, speed)
    if per_m is None or per_m <= 0.0:
        return None
    case, pack = perf.case, build.pack
    usable = usable_wh(
        cell_curve(pack.cell),
        case.series,
        (cell_ah(pack) or 0.0) * case.parallel,
        case.pack_ohm + case.slow_ohm,
        per_m * speed * S_PER_H,
        case.floor_v,
        case.start_soc,
        case.peukert,
    )
    words = f"{build.goal.use.replace('_', ' ')}, {build.goal.duty.replace('_', ' ')}"
    return Reach(usable / per_m, per_m, usable, words)


def unused_wh(bike: Bike, facts: PackFacts, cut_off_v: float) -> tuple[float, float]:
    """(energy that a cut-off leaves in the pack at the speed of the ride, usable energy down to empty), Wh."""
    far, pack = reach(bike), bike.build.pack
    power = far.wh_per_m * ride_speed(bike.build.goal) * S_PER_H if far else 0.0
    curve, ah = cell_curve(pack.cell), (cell_ah(pack) or 0.0) * (pack.parallel or 1)
    perf = bare_performance(bike)
    ohm = perf.case.pack_ohm + perf.case.slow_ohm if perf else facts.r_ohm
    with_it, without = (
        usable_wh(
            curve,
            pack.series or 1,
            ah,
            ohm,
            power,
            floor,
            peukert=cell_peukert(pack.cell),
        )
        for floor in (cut_off_v, facts.empty_v)
    )
    return max(without - with_it, 0.0), without
