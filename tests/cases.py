"""Run cases typed in as plain numbers, and an independent reference for them.

The reference shares no code with the program: it solves sag, current, voltage and power limits by
bracketing and integrates with SciPy's DOP853. Only the numbers of the case are common.
"""

from __future__ import annotations

import dataclasses
import math
from typing import Any

import numpy as np
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from ninebolt.core.battery.ocv import TYPICAL
from ninebolt.core.drive.constants import flux_linkage
from ninebolt.core.drive.point import Machine
from ninebolt.core.simulate.case import LineLimit, RunCase
from ninebolt.core.vehicle.road import Body

G = 9.80665


def plain_case(**changes: Any) -> RunCase:
    """A middling 96 V bike; machine_* and body_* change the inner parts."""
    machine = Machine(5, flux_linkage(50, 5), 0.008, 90e-6, 90e-6, math.inf, 0.95, 0.0012, 25, 0.0)
    body = Body(220, 15.0, 0.55, 0.018, 1.2, 0.0, 0.75, 1.42, 0.47, 0.9, 0.75)
    inner: dict[str, Any] = {"machine": machine, "body": body}
    for key in list(changes):
        part, _, name = key.partition("_")
        if part in inner and name:
            inner[part] = dataclasses.replace(inner[part], **{name: changes.pop(key)})
    numbers: dict[str, Any] = {
        "ocv": TYPICAL["nickel_rich"],
        "series": 26,
        "parallel": 12,
        "capacity_ah": 4.5,
        "r0_ohm": 0.014,
        "r1_ohm": 0.006,
        "tau_s": 20.0,
        "interconnect_ohm": 0.004,
        "path_ohm": 0.002,
        "start_soc": 1.0,
        "floor_v": 70.0,
        "limits": (LineLimit("line", 250.0),),
        "phase_a": 500.0,
        "ratio": 5.0,
        "radius_m": 0.30,
        "efficiency": 0.95,
        "drag_nm": 0.3,
        "drag_nm_s_rad": 0.0008,
        **inner,
    }
    return RunCase(**{**numbers, **changes})


class Reference:
    """The same equations, solved another way."""

    def __init__(self, case: RunCase) -> None:
        self.c = case
        self.xs, self.ys = np.array(case.ocv).T

    def electric(self, we: float, iq: float, id_: float) -> tuple[float, float]:
        """(DC power, volts needed)."""
        m = self.c.machine
        vq = m.r_ohm * iq + we * (m.ld_h * id_ + m.flux_vs)
        vd = m.r_ohm * id_ - we * m.lq_h * iq
        loss = 1.5 * m.r_switch_ohm * (iq**2 + id_**2) + m.fixed_w
        return 1.5 * (vd * id_ + vq * iq) + loss, math.sqrt(3) * math.hypot(vd, vq) / m.modulation

    def ok(self, e: float, we: float, iq: float, id_: float, limit: float) -> float:
        """Positive while sag, line limit, floor and voltage limit are all kept."""
        c = self.c
        power, need = self.electric(we, iq, id_)
        r = c.series * c.r0_ohm / c.parallel + c.interconnect_ohm + c.path_ohm
        top = min(limit, (e - max(c.floor_v, e / 2)) / r)
        room_w = (e - r * top) * top - power
        inside = e * e - 4 * r * power
        bus = 0.5 * (e + math.sqrt(inside)) if inside > 0 else 0.5 * e
        return min(room_w / 1000.0, bus - need)

    def best_iq(self, e: float, we: float, limit: float) -> tuple[float, float]:
        """Most iq over all allowed id, by nested search; (iq, id)."""
        c = self.c

        def most(id_: float) -> float:
            top = math.sqrt(max(c.phase_a**2 - id_**2, 0.0))
            if self.ok(e, we, top, id_, limit) >= 0:
                return top
            if self.ok(e, we, 0.0, id_, limit) < 0:
                return 0.0
            return float(brentq(lambda q: self.ok(e, we, q, id_, limit), 0.0, top, xtol=1e-9))

        at_zero = most(0.0)
        if c.machine.fw_a == 0.0 or at_zero >= c.phase_a:
            return at_zero, 0.0
        low, high = -min(c.machine.fw_a, c.phase_a), 0.0
        for _ in range(60):  # golden section on a one-peaked function of id
            a, b = high - 0.618034 * (high - low), low + 0.618034 * (high - low)
            low, high = (low, b) if most(a) > most(b) else (a, high)
        id_ = 0.5 * (low + high)
        return (most(id_), id_) if most(id_) > at_zero else (at_zero, 0.0)

    def rates(self, t: float, s: np.ndarray) -> list[float]:
        c, b = self.c, self.c.body
        v, _, soc, slow = s
        motor = v * c.ratio / c.radius_m
        we = motor * c.machine.pole_pairs
        e = c.series * float(np.interp(soc, self.xs, self.ys)) - slow
        limit = min((x.amps for x in c.limits), default=1e9)
        iq, id_ = self.best_iq(e, we, limit)
        torque = 1.5 * c.machine.pole_pairs * c.machine.flux_vs * iq
        drag = c.drag_nm + c.drag_nm_s_rad * motor
        free = (torque - drag) * c.efficiency * c.ratio / c.radius_m
        slope = math.atan(b.grade_pct / 100)
        weight = b.mass_kg * G
        aero = 0.5 * b.air_kg_m3 * b.cda_m2 * v * v
        roll, grade = b.crr * weight * math.cos(slope), weight * math.sin(slope)
        accel = (free - aero - roll - grade) / (b.mass_kg + b.rotating_kg)

        def front_load(a: float) -> float:
            return float(
                weight * math.cos(slope) * b.front_share
                - (b.cg_height_m * (b.mass_kg * a + grade) + b.drag_height_m * aero) / b.wheelbase_m
            )

        def slip_room(a: float) -> float:
            ground = b.mass_kg * a + aero + roll + grade
            return float(b.grip_mu * (weight * math.cos(slope) - front_load(a)) - ground)

        held = brentq(front_load, -50, 200)
        if math.isfinite(b.grip_mu) and slip_room(200.0) < 0:
            held = min(held, brentq(slip_room, -50, 200))
        if accel > held:
            accel = held
            thrust = held * (b.mass_kg + b.rotating_kg) + aero + roll + grade
            torque = thrust * c.radius_m / (c.ratio * c.efficiency) + drag
            iq, id_ = torque / (1.5 * c.machine.pole_pairs * c.machine.flux_vs), 0.0
        power, _ = self.electric(we, iq, id_)
        r = c.series * c.r0_ohm / c.parallel + c.interconnect_ohm + c.path_ohm
        amps = power / (0.5 * (e + math.sqrt(max(e * e - 4 * r * power, 0))))
        r1 = c.series * c.r1_ohm / c.parallel
        return [accel, v, -amps / (c.parallel * c.capacity_ah * 3600), (amps * r1 - slow) / c.tau_s]

    def times(self, distances: list[float], rtol: float = 1e-7) -> list[float]:
        """Times to the distances (s)."""

        def make(mark: float) -> Any:
            def event(t: float, s: np.ndarray) -> float:
                return float(s[1] - mark)

            return event

        events = [make(d) for d in distances]
        events[-1].terminal = True
        done = solve_ivp(
            self.rates,
            (0, 120),
            [0.0, 0.0, self.c.start_soc, 0.0],
            method="DOP853",
            rtol=rtol,
            atol=1e-8,
            events=events,
        )
        return [float(e[0]) for e in done.t_events]
