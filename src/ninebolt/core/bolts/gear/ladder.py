"""Gear: the ladder of sprocket pairs, each as it will really run."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.build import Build
from ninebolt.core.parts.goal import ride_speed
from ninebolt.core.parts.rolling import Gear
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.run import Stop, reached_s, run
from ninebolt.core.simulate.steady import drawn, top_speed
from ninebolt.core.simulate.thrust import instant
from ninebolt.core.vehicle.chain import PITCH_M, TEETH, kept_chain, meets_again
from ninebolt.units import RPM_PER_RAD_S

REACH = 2  # steps of the rear sprocket up and down


@dataclass(frozen=True, slots=True)
class Rung:
    """One sprocket pair. launch_n: what the drive could push from rest, before grip and wheelie.

    same_rpm_m_s: at the motor speed of today's top speed, which another ratio need not reach. move_m: that
    the axle goes back with today's chain, None while its run is not known. meets: turns of the front sprocket
    until a tooth meets the same link. why: what speaks against the pair; '' if nothing.
    """

    front: int
    rear: int
    ratio: float
    top_speed_m_s: float
    top_choke: str
    same_rpm_m_s: float
    launch_n: float
    launch_choke: str
    accel_m_s2: float
    to_time_s: float | None
    wh_m: float | None
    motor_rpm: float
    chain_m_s: float | None
    move_m: float | None
    meets: int | None
    why: str
    current: bool


def _rung(build: Build, case: RunCase, top_now: float, front: int, rear: int, ratio: float) -> Rung:
    own = dataclasses.replace(case, ratio=ratio)
    top, now, gear = top_speed(own), instant(own, 0.0), build.gear
    wish, speed = build.goal.to_speed_m_s.taken, ride_speed(build.goal)
    done = run(own, Stop(speed_m_s=wish, seconds=60.0)) if top.speed_m_s > wish else None
    at, pitch = drawn(own, speed), PITCH_M.get(gear.chain)
    rpm = top.speed_m_s * ratio / case.radius_m * RPM_PER_RAD_S
    fits = bool(pitch and front and rear)
    return Rung(
        front,
        rear,
        ratio,
        top.speed_m_s,
        top.choke,
        top_now * case.ratio / ratio,
        now.free_n,
        now.choke,
        float(now.accel),
        reached_s(done, wish) if done else None,
        at.power_w / speed / 3600.0 if at and at.shaft_nm > 0 else None,
        rpm,
        top.speed_m_s / (2 * math.pi * case.radius_m) * rear * pitch if fits and pitch else None,
        _move(gear, pitch, front, rear) if fits and pitch else None,
        meets_again(front, rear, gear.run.links) if fits else None,
        _why(build, front, rear, rpm),
        ratio == case.ratio
        and (front or 0, rear or 0) == (gear.front_teeth or 0, gear.rear_teeth or 0),
    )


def _move(gear: Gear, pitch: float, front: int, rear: int) -> float | None:
    """How far back the axle goes with the chain that is on."""
    at, links = gear.run.centre_m.amount, gear.run.links
    if at is None or links is None:
        return None
    move = kept_chain(pitch, front, rear, at, links).move_m
    return move if math.isfinite(move) else None


def _why(build: Build, front: int, rear: int, rpm: float) -> str:
    """What speaks against a pair."""
    gear, most = build.gear, build.drive.motor.rpm_max_rpm.amount
    run, out = gear.run, []
    if run.front_most and front > run.front_most:
        out.append(f"{front} in front does not clear")
    if run.rear_most and rear > run.rear_most:
        out.append(f"{rear} behind does not clear")
    pitch = PITCH_M.get(gear.chain)
    move = _move(gear, pitch, front, rear) if pitch and front and rear else None
    back, forward = run.slot_m.amount, run.forward_m.amount
    if move is not None and back is not None and move > back:
        out.append("this chain is too long")
    if move is not None and forward is not None and -move > forward:
        out.append("this chain is too short")
    if most is not None and rpm > most:
        out.append("the motor is past its highest speed")
    return "; ".join(out)


@dataclass(frozen=True, slots=True)
class WheelRow:
    """A hub in another wheel, which is its ratio. kg_m2 of the wheel is left as it is."""

    radius_m: float
    top_speed_m_s: float
    top_choke: str
    launch_n: float
    to_time_s: float | None
    current: bool


WHEELS = (0.75, 0.85, 1.0, 1.15, 1.3)


@fact
def wheels(bike: Bike) -> tuple[WheelRow, ...]:
    """Wheel sizes of a hub around its own; empty for a mid-drive, and while the bike does not compute."""
    perf, build = bare_performance(bike), bike.build
    if perf is None or build.drive.motor.kind != "hub" or build.gear.front_teeth:
        return ()
    wish = build.goal.to_speed_m_s.taken
    rows = []
    for share in WHEELS:
        own = dataclasses.replace(perf.case, radius_m=perf.case.radius_m * share)
        top, now = top_speed(own), instant(own, 0.0)
        done = run(own, Stop(speed_m_s=wish, seconds=60.0)) if top.speed_m_s > wish else None
        rows.append(
            WheelRow(
                own.radius_m, top.speed_m_s, top.choke, now.free_n,
                reached_s(done, wish) if done else None, share == 1.0,
            )
        )  # fmt: skip
    return tuple(rows)


def pairs_around(gear: Gear) -> set[tuple[int, int]]:
    """Pairs near the one that is fitted, of sizes that are made for the chain."""
    f, r = gear.front_teeth, gear.rear_teeth
    if f is None or r is None:
        return set()
    least_f, most_f, least_r, most_r = TEETH.get(gear.chain, (5, 60, 10, 120))
    step = max(1, round(r / 24))
    near = {(f + a, r) for a in (-1, 1)} | {(f, r + k * step) for k in range(-REACH, REACH + 1)}
    made = {(a, b) for a, b in near if least_f <= a <= most_f and least_r <= b <= most_r}
    return made | {(f, r)}


@fact
def ladder(bike: Bike) -> tuple[Rung, ...]:
    """The pairs around the one that is fitted; empty while the bike does not compute."""
    perf, build = bare_performance(bike), bike.build
    if perf is None:
        return ()
    gear, case, now = build.gear, perf.case, perf.top.speed_m_s
    pairs = set() if gear.ratio.known else pairs_around(gear)
    if not pairs:
        f, r = gear.front_teeth, gear.rear_teeth
        return (_rung(build, case, now, f or 0, r or 0, case.ratio),)
    reduction = gear.reduction.taken
    rungs = [_rung(build, case, now, a, b, reduction * b / a) for a, b in pairs]
    return tuple(sorted(rungs, key=lambda x: (x.ratio, x.front)))
