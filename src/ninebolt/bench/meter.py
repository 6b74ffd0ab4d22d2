"""A meter at the bench bike: what it reads at each point, in the state that the bike is in. Each reading counts."""

from __future__ import annotations

import random
from collections.abc import Callable
from dataclasses import dataclass

from ninebolt.bench.motion import Bike
from ninebolt.errors import InputError
from ninebolt.units import GRAVITY_M_S2


@dataclass(frozen=True, slots=True)
class Reading:
    """What stood on the meter."""

    point: str
    label: str
    value: float
    quantity: str
    words: str = ""


@dataclass(frozen=True, slots=True)
class Point:
    """Where it is put, and with which setting."""

    key: str
    label: str
    quantity: str
    read: Callable[[Bike], float]


def _hall(lead: int) -> Callable[[Bike], float]:
    def read(b: Bike) -> float:
        if lead == 2 and "hall-dead" in b.faults:
            return 5.0
        return 2.5  # a square wave while the wheel is turned by hand, as a slow meter shows it

    return read


def _drop(b: Bike) -> float:
    return b.plug_ohm() * 30.0


POINTS: dict[str, Point] = {
    p.key: p
    for p in (
        Point("pack_rest", "Pack volts, nothing drawn", "v", lambda b: b.open_v()),
        Point("bus", "Volts at the controller", "v", lambda b: 0.0 if b.s.bms else b.s.bus_v),
        Point("inputs", "No safety input holds the drive, 1 = yes", "ratio", lambda b: 1.0),
        Point("weakest", "Weakest group, nothing drawn", "v", lambda b: min(_rested(b))),
        Point(
            "group_spread",
            "Greatest minus least group, nothing drawn",
            "v",
            lambda b: max(_rested(b)) - min(_rested(b)),
        ),
        Point(
            "weakest_load",
            "Weakest group at 30 A",
            "v",
            lambda b: min(_rested(b)) - 30.0 * _group_ohm(b),
        ),
        Point("plug_drop", "Volts across the plug at 30 A", "v", _drop),
        Point("throttle_rest", "Throttle signal, hand off", "v", lambda b: b.rest_v),
        Point("throttle_full", "Throttle signal, full twist", "v", lambda b: b.full_reading()),
        Point("hall_1", "Hall 1, wheel turned by hand, mean", "v", _hall(1)),
        Point("hall_2", "Hall 2, wheel turned by hand, mean", "v", _hall(2)),
        Point("hall_3", "Hall 3, wheel turned by hand, mean", "v", _hall(3)),
        Point(
            "hall_sequence",
            "Halls step in the order that the controller holds",
            "ratio",
            lambda b: (
                0.0
                if "hall-dead" in b.faults or ("hall-order" in b.faults and not b.turns_well())
                else 1.0
            ),
        ),
        Point(
            "phase_order",
            "Back-EMF follows the halls",
            "ratio",
            lambda b: 0.0 if "phase-swap" in b.faults else 1.0,
        ),
        Point("phase_ohm", "Two phases, ohms", "ohm", lambda b: 2 * b.truth.machine.r_ohm),
        Point(
            "push",
            "Wheel by hand, bike off: newtons at the tyre",
            "n",
            lambda b: (
                b.truth.body.mass_kg
                * GRAVITY_M_S2
                * b.truth.body.crr
                * (4.0 if "dragging-brake" in b.faults else 1.0)
            ),
        ),
        Point("trip", "Amps at which the BMS opened, on a load bank", "a", lambda b: _trip(b)),
        Point(
            "case_rise",
            "Case of the motor after 10 s at 50 A, rise",
            "k",
            lambda b: 9.0 if "hot-motor" in b.faults else 1.5,
        ),
    )
}


def _rested(b: Bike) -> list[float]:
    each = b.open_v() / b.truth.series
    out = [each] * b.truth.series
    if "weak-group" in b.faults and len(out) > 2:
        out[2] = each - 0.18
    return out


def _group_ohm(b: Bike) -> float:
    return b.truth.r0_ohm / b.truth.parallel * (10.0 if "weak-group" in b.faults else 1.0)


def _trip(b: Bike) -> float:
    most = b.build.guard.bms.i_cont_a.or_else(0.0)
    return most * (0.4 if "bms-trip" in b.faults else 1.0)


def measure(bike: Bike, key: str, rng: random.Random) -> Reading:
    """One reading, with the meter's own half percent. Raises InputError for a point that is none."""
    if key not in POINTS:
        raise InputError(
            "There is no such place to measure.", got=key[:40], expected=", ".join(POINTS)
        )
    p = POINTS[key]
    value = p.read(bike)
    if p.quantity != "ratio":
        value *= 1 + rng.gauss(0, 0.0025)
    return Reading(key, p.label, value, p.quantity)
