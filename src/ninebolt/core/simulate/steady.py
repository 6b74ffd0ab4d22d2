"""Steady figures: thrust envelope with its choke, top speed, energy per distance, range."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

import numpy as np

from ninebolt.core.battery.pack import usable_wh
from ninebolt.core.copper import copper_factor
from ninebolt.core.drive.point import Solver, Supply
from ninebolt.core.kernel import kernel
from ninebolt.core.simulate.case import CHOKES, RunCase, numbers
from ninebolt.core.simulate.thrust import instant
from ninebolt.core.vehicle.road import road_load


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


def settled(case: RunCase) -> RunCase:
    """The case as it stands after a while: the slow resistance already in the pack's, and no more line amps than
    what opens in time lets through for good."""
    return dataclasses.replace(
        case,
        interconnect_ohm=case.interconnect_ohm + case.slow_ohm,
        r1_ohm=0.0,
        limits=(*case.limits, *case.held),
    )


def envelope(case: RunCase, to_speed: float, rows: int = 81) -> Envelope:
    """Most thrust at each of rows speeds from rest to to_speed, about evenly: two lie right under and right
    over a speed cap."""
    c, xs, ys = numbers(case)
    speeds = np.linspace(0.0, float(to_speed), rows)
    last = int(np.searchsorted(speeds, case.cap_m_s, "right")) - 1
    if 0 < last < rows - 1:
        speeds[last], speeds[last + 1] = case.cap_m_s * (1.0 - UNDER), case.cap_m_s + OVER_M_S
    out = kernel().envelope(c, xs, ys, float(case.start_soc), float(case.start_temp_c), speeds)
    thrust, load, line, phase, bus = (out[:, i].tolist() for i in range(5))
    return Envelope(
        speeds.tolist(),
        thrust,
        load,
        (out[:, 0] * speeds).tolist(),
        line,
        phase,
        bus,
        [CHOKES[int(k)] for k in out[:, 5]],
    )


OVER_M_S = 0.02  # past a cap far enough for the drive to give nothing
UNDER = 1e-9  # share of a cap by which the bike is still under it
SAME_M_S = 1e-6  # two speeds that halving leaves apart


@dataclass(frozen=True, slots=True)
class TopSpeed:
    """speed (m/s) at which thrust meets road load, and the link that stops it there."""

    speed_m_s: float
    choke: str


def top_speed(case: RunCase) -> TopSpeed:
    """Highest steady speed at the start charge, slow voltage settled; 0 if it cannot move."""
    c, xs, ys = numbers(settled(case))
    speed, choke = kernel().top_speed(c, xs, ys, float(case.start_soc), float(case.start_temp_c))
    at_cap = abs(float(speed) - case.cap_m_s) < SAME_M_S
    return TopSpeed(case.cap_m_s if at_cap else float(speed), CHOKES[choke])


def top_weakened(case: RunCase, fw_a: float) -> float:
    """Top speed (m/s) with another field-weakening current."""
    machine = dataclasses.replace(case.machine, fw_a=fw_a)
    return top_speed(dataclasses.replace(case, machine=machine)).speed_m_s


@dataclass(frozen=True, slots=True)
class Cruise:
    """Steady riding on the flat or the case's grade. wh_per_m at the controller's terminals.

    range_m: None where the road drives the bike, so that nothing is drawn."""

    speed_m_s: float
    battery_w: float
    line_a: float
    wh_per_m: float
    usable_wh: float
    range_m: float | None


@dataclass(frozen=True, slots=True)
class Drawn:
    """What steady riding draws, lights not counted. shaft_nm below zero: the road drives the bike."""

    power_w: float
    bus_v: float
    shaft_nm: float
    phase_a: float
    controller_w: float


def drawn(case: RunCase, speed_m_s: float) -> Drawn | None:
    """Power at the controller's terminals at a steady speed, cells settled; None where the drive
    cannot hold it."""
    still = settled(case)
    if speed_m_s <= 0.0 or instant(still, speed_m_s).accel < 0.0:
        return None
    gear, motor = case.ratio / case.radius_m, speed_m_s * case.ratio / case.radius_m
    load = road_load(case.body, speed_m_s).total_n
    eta = case.efficiency if load >= 0.0 else 1.0 / case.efficiency
    shaft = load / (gear * eta) + case.drag_nm + case.drag_nm_s_rad * motor
    e = case.rests_v
    point = Solver(case.machine).at_torque(
        case.machine.r_ohm * copper_factor(case.start_temp_c),
        motor * case.machine.pole_pairs,
        Supply(e, still.pack_ohm, math.inf),
        max(shaft, 0.0),
    )
    return Drawn(
        point.bus_v * point.line_a,
        point.bus_v,
        shaft,
        math.hypot(point.iq_a, point.id_a),
        point.controller_w,
    )


def cruise(case: RunCase, speed_m_s: float, extra_w: float = 0.0) -> Cruise | None:
    """Energy and range at a steady speed; None if the drive cannot hold it.

    extra_w: lights and other loads. Energy is drawn at constant power until the pack meets its
    floor or is empty, so the resistance losses are in it.
    """
    at = drawn(case, speed_m_s)
    if at is None:
        return None
    power = at.power_w + extra_w
    usable = usable_wh(
        case.ocv,
        case.series,
        case.pack_ah,
        settled(case).pack_ohm,
        power,
        case.floor_v,
        case.start_soc,
        case.peukert,
    )
    per_m = power / speed_m_s / 3600.0
    reach = usable / per_m if at.shaft_nm > 0.0 and per_m > 0.0 else None
    return Cruise(speed_m_s, power, power / at.bus_v, per_m, usable, reach)
