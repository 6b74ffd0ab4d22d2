"""What the chassis comes to: axle loads, springs, stance, hub axle, chain, rider."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.gearing import wheel_radius_m
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.bike.running import fastest, made_for, ridden_body
from ninebolt.core.bolts.gear.limits import AXLE_STAYS_M, BOOT_M, RAKE_USUAL_DEG, SAG_SHARE
from ninebolt.core.finding import q
from ninebolt.core.parts.chassis import Suspension
from ninebolt.core.parts.rolling import Gear, Tyre
from ninebolt.core.simulate.thrust import instant
from ninebolt.core.vehicle.axle import holds_nm
from ninebolt.core.vehicle.chain import (
    BELT_PITCH_M,
    PITCH_M,
    TENSILE_N,
    exact_links,
    new_chain,
    pull_n,
    slack_m,
    teeth_in_mesh,
)
from ninebolt.core.vehicle.stance import Stance, rate_for, sag_m, sprung_n, stance
from ninebolt.core.vehicle.tyre import grown_m, index_load_kg, rolling_radius

SEAT_SHARE = 0.42  # where one sits, of the wheelbase. Common practice, no source.


@dataclass(frozen=True, slots=True)
class AxleLoad:
    """One axle with the rider on, against what its tyre carries; None while that is not read. grown_m: how much taller
    the tyre stands at top speed."""

    end: str
    kg: float
    carries_kg: float | None
    grown_m: float | None


@dataclass(frozen=True, slots=True)
class Springs:
    """One end. more: sprung weight over the donor's. sag_m and share while rate and travel are known;
    rate_n_m: the rate that gives the sag aimed at; damping: rebound over the donor's, √(k m)."""

    end: str
    load_n: float
    more: float | None
    sag_m: float | None
    share: float | None
    rate_n_m: float | None
    damping: float | None


@dataclass(frozen=True, slots=True)
class Standing:
    """Before and after the fork and shock that are fitted; nobody on. Radii of the wheels."""

    before: Stance
    after: Stance
    front_m: float
    rear_m: float


@dataclass(frozen=True, slots=True)
class HubHold:
    """Torque of a hub on its axle against what dropouts alone and with their arms hold."""

    torque_nm: float
    alone_nm: float | None
    holds_nm: float | None


@dataclass(frozen=True, slots=True)
class ChainPull:
    """Hardest pull of the chain or belt, what it stands (tensile strength of a chain, allowed pull of a belt; None: its
    maker's tables decide), and length and slack where its run is known. mesh: teeth of the front one that hold a
    belt."""

    belt: bool
    pull_n: float
    stands_n: float | None
    mesh: float | None
    links_exact: float | None
    links: int | None
    move_m: float | None
    slack_m: tuple[float, float] | None


@dataclass(frozen=True, slots=True)
class Seat:
    """Seat height with nobody and with the rider on, and what his leg has over it (minus: is short)."""

    seat_m: float
    ridden_m: float
    spare_m: float | None


def reaches(bike: Bike) -> str:
    """What the bike reaches, or is wished to, in words, without an end."""
    speed = q(fastest(bike) or 0.0, "m_s")
    return f"the bike reaches {speed}" if bare_performance(bike) else f"{speed} is wished"


def from_top(bike: Bike) -> str:
    """Of a stop: from where."""
    return "from top speed" if bare_performance(bike) else "from the wished speed"


@fact
def axle_loads(bike: Bike) -> tuple[AxleLoad, ...]:
    """Both axles, ridden; empty while the mass is unknown."""
    body, gear, speed = ridden_body(bike), bike.build.gear, fastest(bike)
    if body is None:
        return ()
    shares = (
        ("rear", 1.0 - body.front_share, gear.tyre),
        ("front", body.front_share, gear.front_tyre),
    )
    return tuple(
        AxleLoad(
            end,
            body.mass_kg * share,
            index_load_kg(tyre.load_index),
            grown_m(tyre.code.strip(), speed) if speed is not None else None,
        )
        for end, share, tyre in shares
    )


@fact
def springs(bike: Bike) -> tuple[Springs, ...]:
    """Front and rear; empty while the mass is unknown."""
    body, gear, was = ridden_body(bike), bike.build.gear, made_for(bike)
    if body is None:
        return ()
    rake = gear.steering.rake_deg.or_else(0.0)
    return (
        _springs("front", gear.fork, body.mass_kg, body.front_share, was.kg, rake),
        _springs("rear", gear.shock, body.mass_kg, 1.0 - body.front_share, was.kg, 0.0),
    )


def _springs(
    end: str, part: Suspension, kg: float, share: float, was_kg: float | None, rake: float
) -> Springs:
    load = sprung_n(kg, share, end)
    then = sprung_n(was_kg, share, end) if was_kg else None
    more = load / then if then else None
    rate, travel = part.rate_n_m.amount, part.travel_m.amount
    lever, held = part.leverage.taken, part.preload_m.taken
    sag = sag_m(load, rate, held, lever, rake) if rate else None
    aimed = rate_for(load, SAG_SHARE * travel, held, lever, rake) if travel else None
    if aimed is None and rate and more:
        aimed = rate * more
    stiffer = aimed / rate if aimed and rate else more
    damping = math.sqrt(stiffer * more) if stiffer and more else None
    return Springs(
        end, load, more, sag, sag / travel if sag is not None and travel else None, aimed, damping
    )


@fact
def standing(bike: Bike) -> Standing | None:
    """How it stands before and after; None while rake or a wheel is unknown."""
    gear, road = bike.build.gear, bike.build.road
    steer, rear, front = gear.steering, wheel_radius_m(bike.build), _front_m(bike)
    rake = steer.rake_deg.amount
    if rake is None or front is None or math.isnan(rear):
        return None
    base = road.wheelbase_m.taken
    fixed = rake, steer.offset_m.taken, front, rear, base
    drop = gear.shock.longer_m.taken * gear.shock.leverage.taken
    seat = SEAT_SHARE * base
    return Standing(
        stance(*fixed, 0.0, 0.0, seat),
        stance(*fixed, gear.fork.longer_m.taken, drop, seat),
        front,
        rear,
    )


def _front_m(bike: Bike) -> float | None:
    gear = bike.build.gear
    return gear.steering.front_radius_m.amount or rolling_radius(gear.front_tyre.code)


def stance_blanks(bike: Bike) -> list[str]:
    """What is missing for `standing`, in words."""
    return [
        words
        for words, known in (
            ("the rake", bike.build.gear.steering.rake_deg.known),
            ("the front wheel's radius", _front_m(bike) is not None),
            ("the rear wheel's radius", not math.isnan(wheel_radius_m(bike.build))),
        )
        if not known
    ]


def like_most_deg(bike: Bike) -> float:
    """How far the head turns, nose up plus, with wheels of one size and a usual rake where none is measured."""
    gear, base = bike.build.gear, bike.build.road.wheelbase_m.taken
    rake = gear.steering.rake_deg.or_else(RAKE_USUAL_DEG)
    drop = gear.shock.longer_m.taken * gear.shock.leverage.taken
    return stance(rake, 0.0, 0.3, 0.3, base, gear.fork.longer_m.taken, drop, 0.0).pitch_deg


@fact
def hub_hold(bike: Bike) -> HubHold | None:
    """None for a mid-drive, and while the bike does not compute."""
    perf, hub = bare_performance(bike), bike.build.gear.hub
    if perf is None or bike.build.drive.motor.kind != "hub" or bike.build.gear.front_teeth:
        return None
    torque = instant(perf.case, 0.0).free_n * perf.case.radius_m
    flat, thick = hub.flat_m.amount, hub.dropout_m.amount
    if flat is None or thick is None or hub.metal == "unknown":
        return HubHold(torque, None, None)
    return HubHold(torque, *holds_nm(hub.metal, thick, flat, hub.arms or 0, hub.arm_m.taken))


@fact
def chain_pull(bike: Bike) -> ChainPull | None:
    """None without a chain, and while the bike does not compute."""
    perf, gear = bare_performance(bike), bike.build.gear
    pitch, rear, front = PITCH_M.get(gear.chain), gear.rear_teeth, gear.front_teeth
    if perf is None or pitch is None or not rear or not front:
        return None
    torque = max(0.0, *perf.envelope.thrust_n) * perf.case.radius_m  # none where it does not move
    at = gear.run.centre_m.amount
    fit = _fit(gear, pitch, front, rear, at) if at else None
    belt = gear.chain in BELT_PITCH_M
    return ChainPull(
        belt,
        pull_n(torque, pitch, rear),
        gear.run.stands_n.amount if gear.run.stands_n.known else TENSILE_N.get(gear.chain),
        teeth_in_mesh(pitch, front, rear, at) if belt and at else None,
        exact_links(pitch, front, rear, at) if at else None,
        fit[0] if fit else None,
        fit[1] if fit else None,
        slack_m(at) if at and not belt else None,
    )


def _fit(gear: Gear, pitch: float, front: int, rear: int, at: float) -> tuple[int, float] | None:
    room = gear.run.slot_m.or_else(pitch), gear.run.forward_m.or_else(float(AXLE_STAYS_M))
    step = 1 if gear.chain in BELT_PITCH_M else 2
    found = new_chain(pitch, front, rear, at, room, step)
    return (found.links, found.move_m) if found else None


@fact
def seat(bike: Bike) -> Seat | None:
    """None while the seat is not measured."""
    fit, at = bike.build.gear.fit, standing(bike)
    if fit.seat_m.amount is None:
        return None
    extender = max((b.seat_gap_m.taken for b in bike.build.donor.bays), default=0.0)
    high = fit.seat_m.amount + extender + (at.after.seat_up_m if at else 0.0)
    sags = [s.sag_m for s in springs(bike) if s.sag_m is not None]
    ridden = high - (sum(sags) / len(sags) if len(sags) == 2 else 0.0)
    leg = fit.inseam_m.amount
    return Seat(high, ridden, leg + BOOT_M - ridden if leg is not None else None)


def tyres(gear: Gear) -> tuple[tuple[str, str, Tyre], ...]:
    """(end, path, tyre)."""
    return (("rear", "gear.tyre", gear.tyre), ("front", "gear.front_tyre", gear.front_tyre))
