"""The operating point of motor, controller and pack together, with sag solved.

Equations (field-oriented, amplitudes peak, resistance and inductance line to neutral):
  vq = R iq + we (Ld id + lam)      vd = R id - we Lq iq      |v| <= m V / sqrt(3)
  T  = 1.5 p (lam + (Ld - Lq) id) iq
  P  = 1.5 (vd id + vq iq) + 1.5 Rsw (id² + iq²) + P0 = V I        V = E - Rs I
id is negative only as far as the voltage limit asks (field weakening), down to -fw_a.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import NamedTuple

from ninebolt.core.drive.constants import saturation

ROOT3 = math.sqrt(3.0)


@dataclass(frozen=True, slots=True)
class Machine:
    """Motor and controller as the solver needs them; SI, peak amps, line to neutral."""

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


def _larger_root(a: float, b: float, c: float) -> float:
    """Larger real root of a x² + b x + c (nan if none), safe for a = 0 and for cancellation."""
    if a == 0.0:
        return -c / b if b != 0.0 else math.inf
    inside = b * b - 4.0 * a * c
    if inside < 0.0:
        return math.nan
    root = math.sqrt(inside)
    return (root - b) / (2.0 * a) if b < 0.0 else -2.0 * c / (b + root) if b + root else 0.0


def _illinois(
    f: Callable[[float], float], low: float, high: float, f_low: float, f_high: float
) -> float:
    """Root of a rising f between low (f <= 0) and high (f >= 0): regula falsi, Illinois variant."""
    side, x = 0, low
    tol = 1e-8 * (high - low)
    for _ in range(60):
        span = f_high - f_low
        if span <= 0.0:
            return 0.5 * (low + high)
        x = (low * f_high - high * f_low) / span
        y = f(x)
        if abs(y) < 1e-6:
            return x
        if y > 0.0:
            high, f_high = x, y
            if side > 0:
                f_low *= 0.5
            side = 1
        else:
            low, f_low = x, y
            if side < 0:
                f_high *= 0.5
            side = -1
        if high - low < tol:
            return x
    return x


def _root(
    f: Callable[[float], float], low: float, high: float, f_low: float, f_high: float, guess: float
) -> float:
    """As _illinois, first closing in on a guess (the root found at the instant before)."""
    if f_low >= 0.0:
        return low
    reach = 0.004 * (high - low)
    for x in (guess, guess - reach, guess + reach):
        if low < x < high:
            y = f(x)
            if abs(y) < 1e-6:
                return x
            if y > 0.0:
                high, f_high = x, y
            else:
                low, f_low = x, y
    return _illinois(f, low, high, f_low, f_high)


class Solver:
    """Finds the most torque at one electrical speed under current, line and voltage limits."""

    __slots__ = ("e_v", "flux", "guess_id", "guess_iq", "m", "r_m", "r_s", "we")

    def __init__(self, machine: Machine) -> None:
        self.m = machine
        self.flux = machine.flux_vs
        self.r_m = machine.r_ohm
        self.r_s = self.we = self.e_v = self.guess_iq = self.guess_id = 0.0

    def power(self, iq: float, id_: float) -> float:
        """DC power into the controller."""
        m = self.m
        r = self.r_m + m.r_switch_ohm
        emf = self.we * (self.flux + (m.ld_h - m.lq_h) * id_) * iq
        return 1.5 * (r * (iq * iq + id_ * id_) + emf) + m.fixed_w

    def bus_v(self, power_w: float) -> float:
        """Bus voltage at a power, held at half of E where the pack cannot give it."""
        inside = self.e_v * self.e_v - 4.0 * self.r_s * power_w
        return 0.5 * (self.e_v + (math.sqrt(inside) if inside > 0.0 else 0.0))

    def volts_needed(self, iq: float, id_: float) -> float:
        """Smallest bus voltage that makes these currents."""
        m = self.m
        vq = self.r_m * iq + self.we * (m.ld_h * id_ + self.flux)
        vd = self.r_m * id_ - self.we * m.lq_h * iq
        return ROOT3 * math.sqrt(vq * vq + vd * vd) / m.modulation

    def iq_at_volts(self, id_: float, bus_v: float) -> float:
        """Largest iq that a bus voltage allows at this id; nan if none."""
        m, r, we = self.m, self.r_m, self.we
        vm = m.modulation * bus_v / ROOT3
        b = we * (m.ld_h * id_ + self.flux)
        c = r * id_
        return _larger_root(
            r * r + (we * m.lq_h) ** 2,
            2.0 * (r * b - we * m.lq_h * c),
            b * b + c * c - vm * vm,
        )

    def id_at_volts(self, iq: float, bus_v: float) -> float:
        """The id nearest to zero that lets iq through; nan if none."""
        m, r, we = self.m, self.r_m, self.we
        vm = m.modulation * bus_v / ROOT3
        a = r * iq + we * self.flux
        b = we * m.lq_h * iq
        inner = a * a + b * b - vm * vm
        if inner <= 0.0:
            return 0.0
        root = _larger_root((we * m.ld_h) ** 2 + r * r, 2.0 * (we * m.ld_h * a - r * b), inner)
        return min(root, 0.0)

    def solve(self, machine_r: float, we: float, supply: Supply, current_a: float) -> Point:
        """Most torque at electrical speed we (rad/s) with |i| <= current_a. machine_r: phase ohms
        at temperature."""
        self.r_m, self.we = machine_r, we
        self.e_v, self.r_s = supply.e_v, supply.r_ohm
        self.flux = self.m.flux_vs
        point = self._solve(supply, current_a)
        if self.m.knee_a < math.inf:
            for _ in range(12):
                left = self.m.flux_vs * saturation(point[0], self.m.knee_a)
                if abs(left - self.flux) < 1e-9 * self.m.flux_vs:
                    break
                self.flux = left
                point = self._solve(supply, current_a)
        return self._point(*point)

    def _solve(self, supply: Supply, current_a: float) -> tuple[float, float, str]:
        bound, iq = "current", current_a
        power = self.power(iq, 0.0)
        line_w = math.inf
        if supply.limit_a < math.inf:
            line_w = (self.e_v - self.r_s * supply.limit_a) * supply.limit_a
        if power > line_w:
            bound, iq = "line", self._iq_at_power(line_w)
        over = self.gap(iq, 0.0)
        if over <= 0.0:
            return iq, 0.0, bound
        if self.m.fw_a <= 0.0:
            return self._root_iq(0.0, iq, over), 0.0, "volts"
        return self._weakened(supply, current_a, line_w)

    def gap(self, iq: float, id_: float) -> float:
        """Bus voltage needed for these currents less the bus voltage there is (V)."""
        # volts_needed and bus_v(power) in one piece: this is where a run spends its time.
        m, we, r, e = self.m, self.we, self.r_m, self.e_v
        vq = r * iq + we * (m.ld_h * id_ + self.flux)
        vd = r * id_ - we * m.lq_h * iq
        emf = we * (self.flux + (m.ld_h - m.lq_h) * id_) * iq
        p = 1.5 * ((r + m.r_switch_ohm) * (iq * iq + id_ * id_) + emf) + m.fixed_w
        inside = e * e - 4.0 * self.r_s * p
        need = ROOT3 * math.sqrt(vq * vq + vd * vd) / m.modulation
        return need - 0.5 * (e + (math.sqrt(inside) if inside > 0.0 else 0.0))

    def _root_iq(self, id_: float, high: float, over: float) -> float:
        """Largest iq whose voltage need is met at this id; 0 if none is."""
        low_gap = self.gap(0.0, id_)
        if low_gap >= 0.0:
            return 0.0
        found = _root(lambda iq: self.gap(iq, id_), 0.0, high, low_gap, over, self.guess_iq)
        self.guess_iq = found
        return found

    def _iq_at_power(self, power_w: float) -> float:
        r = self.r_m + self.m.r_switch_ohm
        iq = _larger_root(1.5 * r, 1.5 * self.we * self.flux, self.m.fixed_w - power_w)
        return max(iq, 0.0) if iq == iq else 0.0

    def _weakened(
        self, supply: Supply, current_a: float, line_w: float
    ) -> tuple[float, float, str]:
        """Currents with field weakening: held by the line limit, else by the voltage."""
        reach = min(self.m.fw_a, current_a, self.flux / self.m.ld_h)
        iq, id_ = self._weakened_to_volts(current_a, reach)
        if self.power(iq, id_) > line_w:
            held = self._weakened_to_line(self.e_v - self.r_s * supply.limit_a, line_w, reach)
            if held is not None:
                return (*held, "line")
        return iq, id_, "volts"

    def _weakened_to_volts(self, current_a: float, reach: float) -> tuple[float, float]:
        """Most iq within the circle and the voltage: at full weakening, or where the two meet."""
        square = current_a * current_a
        edge = math.sqrt(max(square - reach * reach, 0.0))
        over = self.gap(edge, -reach)
        if over > 0.0:
            return self._root_iq(-reach, edge, over), -reach
        top = self.gap(current_a, 0.0)
        if top <= 0.0:
            return current_a, 0.0
        id_ = _root(
            lambda d: self.gap(math.sqrt(square - d * d), d), -reach, 0.0, over, top, self.guess_id
        )
        self.guess_id = id_
        return math.sqrt(square - id_ * id_), id_

    def _weakened_to_line(
        self, bus_v: float, line_w: float, reach: float
    ) -> tuple[float, float] | None:
        """Currents on the voltage limit of this bus that draw exactly line_w; None if out of
        reach. More weakening lets more iq through, so power rises with -id."""

        def short(id_: float) -> float:
            iq = self.iq_at_volts(id_, bus_v)
            return line_w - self.power(iq, id_) if iq > 0.0 else line_w

        at_reach, at_zero = short(-reach), short(0.0)
        if at_reach > 0.0 or at_zero < 0.0:
            return None
        id_ = _illinois(short, -reach, 0.0, at_reach, at_zero)
        return self.iq_at_volts(id_, bus_v), id_

    def _point(self, iq: float, id_: float, bound: str) -> Point:
        m = self.m
        power = self.power(iq, id_)
        bus = self.bus_v(power)
        square = iq * iq + id_ * id_
        torque = 1.5 * m.pole_pairs * (self.flux + (m.ld_h - m.lq_h) * id_) * iq
        return Point(
            torque,
            iq,
            id_,
            bus,
            power / bus if bus > 0.0 else 0.0,
            1.5 * self.r_m * square,
            1.5 * m.r_switch_ohm * square + m.fixed_w,
            bound,
        )

    def at_torque(self, machine_r: float, we: float, supply: Supply, torque_nm: float) -> Point:
        """The operating point that makes a given torque (>= 0), limits not looked at but weakened
        where the voltage asks."""
        self.r_m, self.we, self.flux = machine_r, we, self.m.flux_vs
        self.e_v, self.r_s = supply.e_v, supply.r_ohm
        iq = torque_nm / (1.5 * self.m.pole_pairs * self.flux)
        if iq > self.m.knee_a:
            iq = self.m.knee_a * math.exp(iq / self.m.knee_a - 1.0)
            self.flux *= saturation(iq, self.m.knee_a)
        id_ = 0.0
        for _ in range(4):
            needed = self.id_at_volts(iq, self.bus_v(self.power(iq, id_)))
            id_ = max(needed, -self.m.fw_a) if needed == needed else -self.m.fw_a
        return self._point(iq, id_, "current")
