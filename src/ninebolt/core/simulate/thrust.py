"""Thrust at the tyre at one instant, and which link of the load path chokes it."""

from __future__ import annotations

import math
from typing import NamedTuple

from ninebolt.core.battery.ocv import interpolator
from ninebolt.core.copper import copper_factor
from ninebolt.core.drive.point import Point, Solver, Supply
from ninebolt.core.simulate.case import RunCase
from ninebolt.units import GRAVITY_M_S2

CHOKES = (
    "cells",
    "BMS",
    "path",
    "line",
    "phase",
    "volts",
    "heat",
    "grip",
    "wheelie",
    "throttle",
)
DERATE_K = 20.0  # phase amps fall linearly to zero over the last 20 K. Common practice, no source.


class State(NamedTuple):
    """speed (m/s), distance (m), charge 0…1, slow voltage of the pack (V), winding and case °C."""

    speed: float
    distance: float
    soc: float
    slow_v: float
    winding_c: float
    case_c: float


class Instant(NamedTuple):
    """What happens at one state. drive_n: thrust as held; free_n: what the drive could push."""

    accel: float
    thrust_n: float
    free_n: float
    choke: str
    point: Point
    shaft_nm: float
    load_n: float


class ThrustModel:
    """RunCase made ready: instant(state, t) is called some thousand times a run."""

    def __init__(self, case: RunCase) -> None:
        self.case = case
        self.solver = Solver(case.machine)
        self.volts = interpolator(case.ocv)
        body = case.body
        weight = body.mass_kg * GRAVITY_M_S2
        cos, sin = math.cos(body.slope_rad), math.sin(body.slope_rad)
        self.aero = 0.5 * body.air_kg_m3 * body.cda_m2
        self.rolling_n = body.crr * weight * cos
        self.grade_n = weight * sin
        self.mass = body.mass_kg
        self.mass_eff = case.effective_kg
        self.wheelie_a = GRAVITY_M_S2 * (
            cos * body.front_share * body.wheelbase_m / body.cg_height_m - sin
        )
        self.wheelie_k = body.drag_height_m / (body.mass_kg * body.cg_height_m)
        lever, mu = body.cg_height_m / body.wheelbase_m, body.grip_mu
        self.grip_room = (1.0 - mu * lever) * body.mass_kg if mu < math.inf else 0.0
        self.grip_static = mu * (weight * cos * (1.0 - body.front_share) + lever * self.grade_n)
        self.grip_aero = mu * body.drag_height_m / body.wheelbase_m
        self.r_pack, self.r_slow = case.pack_ohm, case.slow_ohm
        self.gear = case.ratio / case.radius_m
        limit = case.line_limit()
        self.limit_a, self.limit_choke = limit.amps, limit.choke
        self.floor_v = case.floor_v
        self.heat = case.thermal

    def current_cap(self, t: float, winding_c: float) -> tuple[float, str]:
        """Phase amps allowed by setting, throttle, ramp and heat, and which of them it is."""
        case = self.case
        cap, choke = case.phase_a, "phase"
        share = case.throttle
        if case.ramp_s > 0.0 and t < case.ramp_s:
            share *= t / case.ramp_s
        if share < 1.0:
            cap, choke = cap * share, "throttle"
        if self.heat is not None and winding_c > self.heat.temp_max_c - DERATE_K:
            left = max(0.0, (self.heat.temp_max_c - winding_c) / DERATE_K)
            if case.phase_a * left < cap:
                cap, choke = case.phase_a * left, "heat"
        return cap, choke

    def supply(self, soc: float, slow_v: float) -> tuple[Supply, str]:
        """Pack behind its resistance, with the lowest line limit and the class it belongs to."""
        e = self.case.series * self.volts(soc) - slow_v
        if soc <= 0.0:
            return Supply(e, self.r_pack, 0.0), "cells"
        limit, choke = self.limit_a, self.limit_choke
        if self.r_pack > 0.0:
            by_floor = (e - max(self.floor_v, 0.5 * e)) / self.r_pack
            if by_floor < limit:
                limit, choke = max(by_floor, 0.0), "cells"
        elif e <= self.floor_v:
            limit, choke = 0.0, "cells"
        return Supply(e, self.r_pack, limit), choke

    def winding_ohm(self, winding_c: float) -> float:
        return self.case.machine.r_ohm * copper_factor(winding_c)

    def wheel_n(self, shaft_nm: float) -> float:
        """Thrust from shaft torque; losses help when the wheel drives the motor."""
        eta = self.case.efficiency
        return shaft_nm * self.gear * (eta if shaft_nm >= 0.0 else 1.0 / eta)

    def drag(self, motor_rad_s: float) -> float:
        """Drag torque of the motor; at rest it only holds back, it does not pull."""
        return self.case.drag_nm + self.case.drag_nm_s_rad * motor_rad_s

    def instant(self, s: State, t: float) -> Instant:
        """Acceleration, thrust and choke at a state."""
        motor = s.speed * self.gear
        supply, line_choke = self.supply(s.soc, s.slow_v)
        cap, cap_choke = self.current_cap(t, s.winding_c)
        r = self.winding_ohm(s.winding_c)
        point = self.solver.solve(r, motor * self.case.machine.pole_pairs, supply, cap)
        choke = (
            cap_choke
            if point.bound == "current"
            else (line_choke if point.bound == "line" else "volts")
        )
        shaft = point.torque_nm - self.drag(motor)
        free = self.wheel_n(shaft)
        aero = self.aero * s.speed * s.speed
        load = aero + self.rolling_n + self.grade_n
        accel = (free - load) / self.mass_eff
        held, ground_choke = self.ground_limit(aero, load)
        if accel > held:
            accel, choke = held, ground_choke
        if s.speed <= 0.0 and accel < 0.0:
            accel = 0.0
        return Instant(accel, accel * self.mass_eff + load, free, choke, point, shaft, load)

    def ground_limit(self, aero_n: float, load_n: float) -> tuple[float, str]:
        """The least of wheelie and grip acceleration, as core.vehicle.road has it."""
        held, choke = self.wheelie_a - self.wheelie_k * aero_n, "wheelie"
        if self.grip_room > 0.0:
            grip = (self.grip_static + self.grip_aero * aero_n - load_n) / self.grip_room
            if grip < held:
                return grip, "grip"
        return held, choke

    def held_back(self, now: Instant, motor_rad_s: float) -> Point:
        """The operating point when the rider holds the grip or wheelie limit, not full torque."""
        if now.free_n <= now.thrust_n:
            return now.point
        shaft = now.thrust_n / (self.gear * self.case.efficiency)
        return self.solver.at_torque(
            self.solver.r_m,
            motor_rad_s * self.case.machine.pole_pairs,
            Supply(self.solver.e_v, self.solver.r_s, math.inf),
            max(shaft + self.drag(motor_rad_s), 0.0),
        )

    def start_state(self) -> State:
        temp = self.case.start_temp_c
        return State(0.0, 0.0, self.case.start_soc, 0.0, temp, temp)
