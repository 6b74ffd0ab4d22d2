"""The operating point of motor, controller and pack together: the kernel's solver with names."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import numpy.typing as npt

from ninebolt.core.kernel import kernel
from ninebolt.core.kernel import point as at

BOUNDS = ("current", "line", "volts")


@dataclass(frozen=True, slots=True)
class Machine:
    """Motor and controller as the solver needs them; SI, peak amps, line to neutral. r_switch_ohm: a switch and
    the lead to the motor, what stands outside the winding. fw_a: how far id may go below zero, for field weakening and
    for the reluctance torque of a salient rotor."""

    pole_pairs: int
    flux_vs: float
    r_ohm: float
    ld_h: float
    lq_h: float
    knee_a: float
    modulation: float
    r_switch_ohm: float
    fixed_w: float
    fw_a: float


@dataclass(frozen=True, slots=True)
class Supply:
    """Open-circuit volts behind the slow part, series ohms to the controller, line-amp limit."""

    e_v: float
    r_ohm: float
    limit_a: float


class Point(NamedTuple):
    """One operating point. bound: 'current', 'line' or 'volts'."""

    torque_nm: float
    iq_a: float
    id_a: float
    bus_v: float
    line_a: float
    copper_w: float
    controller_w: float
    bound: str


def machine_numbers(m: Machine, c: npt.NDArray[np.float64]) -> None:
    """Write the machine into the places of a case's array."""
    c[at.POLE_PAIRS], c[at.FLUX_VS], c[at.R_OHM] = m.pole_pairs, m.flux_vs, m.r_ohm
    c[at.LD_H], c[at.LQ_H], c[at.KNEE_A] = m.ld_h, m.lq_h, m.knee_a
    c[at.MODULATION], c[at.R_SWITCH_OHM] = m.modulation, m.r_switch_ohm
    c[at.FIXED_W], c[at.FW_A] = m.fixed_w, m.fw_a


class Solver:
    """Most torque at one electrical speed (rad/s) under current, line and voltage limits."""

    def __init__(self, machine: Machine) -> None:
        self.m = machine
        self.c = np.zeros(at.NUMBERS)
        machine_numbers(machine, self.c)
        self.c.setflags(write=False)

    def power(self, we: float, iq: float, id_: float) -> float:
        """DC power into the controller at cold resistance (W)."""
        return self._at(kernel().dc_power_w, we, iq, id_)

    def volts_needed(self, we: float, iq: float, id_: float) -> float:
        """Smallest bus voltage that makes these currents at cold resistance."""
        return self._at(kernel().volts_needed, we, iq, id_)

    def _at(self, what: Callable[..., float], we: float, iq: float, id_: float) -> float:
        given = (self.m.r_ohm, self.m.flux_vs, we, iq, id_)
        return float(what(self.c, *(float(x) for x in given)))

    def solve(self, machine_r: float, we: float, supply: Supply, current_a: float) -> Point:
        """Most torque with |i| <= current_a. machine_r: phase ohms at temperature."""
        iq, id_, flux, bound = kernel().solve(
            self.c,
            *(float(x) for x in (machine_r, we, supply.e_v, supply.r_ohm)),
            float(supply.limit_a),
            float(current_a),
        )
        return self._point(machine_r, we, supply, (iq, id_, flux), BOUNDS[bound])

    def at_torque(self, machine_r: float, we: float, supply: Supply, torque_nm: float) -> Point:
        """The operating point that makes a given torque, limits not looked at but weakened where
        the voltage asks."""
        given = (machine_r, we, supply.e_v, supply.r_ohm, torque_nm)
        found = kernel().at_torque(self.c, *(float(x) for x in given))
        return self._point(machine_r, we, supply, found, "current")

    def _point(
        self, r: float, we: float, supply: Supply, found: tuple[float, float, float], bound: str
    ) -> Point:
        iq, id_, flux = found
        k = kernel()
        power = float(k.dc_power_w(self.c, r, flux, we, iq, id_))
        bus = float(k.bus_v(supply.e_v, supply.r_ohm, power))
        square, m = iq * iq + id_ * id_, self.m
        torque = 1.5 * m.pole_pairs * (flux + (m.ld_h - m.lq_h) * id_) * iq
        line = power / bus if bus > 0.0 else 0.0
        lost = 1.5 * m.r_switch_ohm * square + m.fixed_w
        return Point(torque, iq, id_, bus, line, 1.5 * r * square, lost, bound)


def phase_amps(iq_a: float, id_a: float) -> float:
    """Peak amplitude of the phase current."""
    return math.hypot(iq_a, id_a)
