"""Steady figures: thrust envelope with its choke, top speed, energy per distance, range."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

from ninebolt.core.battery.pack import usable_wh
from ninebolt.core.drive.point import Supply
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.thrust import Instant, State, ThrustModel


@dataclass(frozen=True, slots=True)
class Envelope:
    """Columns over road speed at the start charge: thrust as held, road load, choke, currents."""

    speed_m_s: list[float]
    thrust_n: list[float]
    load_n: list[float]
    power_w: list[float]
    line_a: list[float]
    phase_a: list[float]
    bus_v: list[float]
    choke: list[str]


def _settled(case: RunCase) -> ThrustModel:
    """The model with the slow resistance already in the pack's: how it stands after a while."""
    return ThrustModel(
        dataclasses.replace(case, interconnect_ohm=case.interconnect_ohm + case.slow_ohm)
    )


def _at(model: ThrustModel, speed: float) -> Instant:
    """Instant at a speed with the charge and temperature of the start, throttle fully open."""
    temp = model.case.start_temp_c
    return model.instant(State(speed, 0.0, model.case.start_soc, 0.0, temp, temp), math.inf)


def envelope(case: RunCase, to_speed: float, rows: int = 81) -> Envelope:
    """Most thrust at each of rows speeds from rest to to_speed."""
    model = ThrustModel(case)
    out = Envelope([], [], [], [], [], [], [], [])
    for i in range(rows):
        speed = to_speed * i / (rows - 1)
        now = _at(model, speed)
        point = model.held_back(now, speed * model.gear)
        out.speed_m_s.append(speed)
        out.thrust_n.append(now.thrust_n)
        out.load_n.append(now.load_n)
        out.power_w.append(now.thrust_n * speed)
        out.line_a.append(point.line_a)
        out.phase_a.append(math.hypot(point.iq_a, point.id_a))
        out.bus_v.append(point.bus_v)
        out.choke.append(now.choke)
    return out


@dataclass(frozen=True, slots=True)
class TopSpeed:
    """speed (m/s) at which thrust meets road load, and the link that stops it there."""

    speed_m_s: float
    choke: str


def top_speed(case: RunCase) -> TopSpeed:
    """Highest steady speed at the start charge with the slow voltage settled; 0 if it cannot move.

    Past it the drive cannot hold speed. Scans upward, then halves the last interval.
    """
    model = _settled(case)
    high, step, speed = 0.0, 5.0, 0.0
    below = None
    while speed <= 140.0:
        now = _at(model, speed)
        if now.accel <= 0.0 and (below is not None or speed > 0.0):
            high = speed
            break
        below, speed = speed, speed + step
    if below is None or (below == 0.0 and _at(model, 0.0).accel <= 0.0):
        return TopSpeed(0.0, _at(model, 0.0).choke)
    low = below
    if high == 0.0:
        return TopSpeed(low, _at(model, low).choke)
    for _ in range(18):
        mid = 0.5 * (low + high)
        low, high = (mid, high) if _at(model, mid).accel > 0.0 else (low, mid)
    return TopSpeed(low, _at(model, high).choke)


@dataclass(frozen=True, slots=True)
class Cruise:
    """Steady riding on the flat or the case's grade. wh_per_m at the controller's terminals."""

    speed_m_s: float
    battery_w: float
    line_a: float
    wh_per_m: float
    usable_wh: float
    range_m: float


def cruise(case: RunCase, speed_m_s: float, extra_w: float = 0.0) -> Cruise | None:
    """Energy and range at a steady speed; None if the drive cannot hold it.

    extra_w: lights and other loads. Energy is drawn at constant power until the pack meets its
    floor or is empty, so the resistance losses are in it.
    """
    model = _settled(case)
    now = _at(model, speed_m_s)
    if now.accel < 0.0 or speed_m_s <= 0.0:
        return None
    motor = speed_m_s * model.gear
    shaft = now.load_n / (model.gear * case.efficiency) + model.drag(motor)
    supply = Supply(case.series * model.volts(case.start_soc), model.r_pack, math.inf)
    point = model.solver.at_torque(
        model.winding_ohm(case.start_temp_c), motor * case.machine.pole_pairs, supply, shaft
    )
    power = point.bus_v * point.line_a + extra_w
    usable = usable_wh(
        case.ocv,
        case.series,
        case.pack_ah,
        case.pack_ohm + case.slow_ohm,
        power,
        case.floor_v,
        case.start_soc,
    )
    per_m = power / speed_m_s / 3600.0
    return Cruise(speed_m_s, power, power / point.bus_v, per_m, usable, usable / per_m)
