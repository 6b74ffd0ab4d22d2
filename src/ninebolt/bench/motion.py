"""The bench bike moves: the physics of a run, step by step, with what was written into its controller and what is
wrong with it.

What it does not imitate: ripple and noise of the switches, a tyre that slides, a rider's balance, gears that lash.
"""

from __future__ import annotations

import dataclasses
import math
import random
from dataclasses import dataclass, field

from ninebolt.bench.truth import hidden_truth
from ninebolt.core.bike.case import assemble
from ninebolt.core.bike.path import lead_ohm
from ninebolt.core.build import Build
from ninebolt.core.copper import copper_factor
from ninebolt.core.kernel import kernel
from ninebolt.core.setting.ours import CURVE_POINTS, STEPS
from ninebolt.core.simulate.case import LineLimit, RunCase, numbers
from ninebolt.core.simulate.regen import ChargeLimit, braking
from ninebolt.core.value import Value
from ninebolt.errors import InputError
from ninebolt.units import RPM_PER_RAD_S

STEP_S = 0.01
HALL_EDGES = (0.0, 60.0, 120.0, 180.0, 240.0, 300.0)
SWAPPED = (0.0, 120.0, 60.0, 180.0, 300.0, 240.0)
STAND_KG = 4.0  # a free wheel's mass at the tyre, where the build names none
CONTROLLER_K_W, CONTROLLER_J_K = 0.22, 900.0
AIR_C = 25.0
# Fault codes of this controller.
NO_FAULT, F_THROTTLE, F_HALL, F_LOW_V, F_OVER_V, F_MOTOR_HOT, F_AMPS, F_STALL, F_NOT_AT_REST, F_HALL_ORDER = (
    0, 3, 5, 2, 4, 7, 8, 9, 6, 10,
)  # fmt: skip
IDENTIFY_S = (1.0, 1.0, 2.0, 1.5)  # resistance, inductance, turning, halls


@dataclass
class Hand:
    """What the person does: twist and brake 0…1, wheel free on a stand, grade in percent."""

    throttle: float = 0.0
    brake: bool = False
    stand: bool = True
    grade_pct: float = 0.0


@dataclass
class State:
    """Everything that moves."""

    t_s: float = 0.0
    speed_m_s: float = 0.0
    distance_m: float = 0.0
    soc: float = 1.0
    slow_v: float = 0.0
    winding_c: float = AIR_C
    case_c: float = AIR_C
    controller_c: float = AIR_C
    plug_c: float = AIR_C
    bus_v: float = 0.0
    line_a: float = 0.0
    phase_a: float = 0.0
    torque_nm: float = 0.0
    choke: int = 9
    share: float = 0.0
    over_s: float = 0.0
    hot_s: float = 0.0
    stall_s: float = 0.0
    fault: int = NO_FAULT
    bms: int = 0
    key: bool = True
    identify: int = 0
    identify_s: float = 0.0
    read_v: float = 0.9
    read_pct: float = 0.0


@dataclass
class Bike:
    """One live bench bike. settings: physical values by the name of the parameter."""

    build: Build
    seed: int = 1
    settings: dict[str, float] = field(default_factory=dict)
    faults: set[str] = field(default_factory=set)
    hand: Hand = field(default_factory=Hand)
    s: State = field(default_factory=State)

    def __post_init__(self) -> None:
        made = assemble(self.build)
        if made.case is None:
            raise InputError(
                "The bench bike needs a build that computes.",
                got="missing " + ", ".join(made.missing),
            )
        rng = random.Random(self.seed)
        uncapped = dataclasses.replace(made.case, cap_m_s=math.inf)  # its cap is in the settings
        self.truth = hidden_truth(uncapped, rng, [])
        self.rest_v, self.full_v = 0.85 + rng.uniform(-0.05, 0.05), 4.15 + rng.uniform(-0.05, 0.05)
        self.offset_deg = round(rng.uniform(-15.0, 15.0), 1)
        self.rng = rng
        self.s.soc = self.truth.start_soc
        self.s.bus_v = self.open_v()
        self._case: tuple[tuple[object, ...], RunCase] | None = None

    # What is there, faults and all

    def group_share(self) -> float:
        """Capacity left of the weakest group, over the others'."""
        return 0.35 if "weak-group" in self.faults else 1.0

    def halls(self) -> tuple[float, ...]:
        return SWAPPED if {"hall-order", "phase-swap"} & self.faults else HALL_EDGES

    def full_reading(self) -> float:
        return self.full_v - (1.0 if "throttle-range" in self.faults else 0.0)

    def plug_ohm(self) -> float:
        return self.truth.path_ohm * 0.2 + (0.03 if "hot-plug" in self.faults else 0.0)

    def open_v(self) -> float:
        """Volts of the pack at rest."""
        c, xs, ys = numbers(self.truth)
        return float(
            kernel().instant(c, xs, ys, 0.0, self.s.soc, self.s.slow_v, 25.0, math.inf, 0.0)[6]
        )

    def case(self) -> RunCase:
        """The truth as the settings and faults make it."""
        g = self.settings
        key = (
            *(g.get(n, -1.0) for n in ("line_a", "phase_a", "fw_id_a")),
            round(self.hand.grade_pct, 2), self.hand.stand, frozenset(self.faults), self._peak_ended(),
        )  # fmt: skip
        if self._case is None or self._case[0] != key:
            self._case = (key, self._made())
        return self._case[1]

    def _peak_ended(self) -> bool:
        return self.s.over_s > self.settings.get("phase_peak_s", math.inf)

    def _made(self) -> RunCase:
        t, g = self.truth, self.settings
        line = LineLimit("line", g.get("line_a", math.inf))
        phase = g.get("phase_a", t.phase_a)
        if self._peak_ended():
            phase = min(phase, g.get("phase_cont_a", phase))
        body = dataclasses.replace(
            t.body,
            grade_pct=0.0 if self.hand.stand else self.hand.grade_pct,
            crr=t.body.crr * (4.0 if "dragging-brake" in self.faults else 1.0),
        )
        machine = dataclasses.replace(t.machine, fw_a=g.get("fw_id_a", 0.0))
        thermal = t.thermal
        if thermal is not None and "hot-motor" in self.faults:
            thermal = dataclasses.replace(
                thermal, case_air_k_w=thermal.case_air_k_w * 6, case_j_k=thermal.case_j_k / 6
            )
        extra = self.plug_ohm() - t.path_ohm * 0.2
        return dataclasses.replace(
            t, limits=(line,), phase_a=max(phase, 0.1), body=body, machine=machine, thermal=thermal,
            path_ohm=t.path_ohm + extra, floor_v=0.0, ramp_s=0.0, throttle=1.0,
        )  # fmt: skip

    # One step

    def step(self, dt: float = STEP_S) -> None:
        """Move on by dt seconds (at most a few hundredths)."""
        s = self.s
        s.t_s += dt
        powered = s.key and s.bms == 0
        self._read_throttle()
        if not powered:
            s.share = 0.0
        elif self.identifying():
            self._identifying(dt)
        asked = self._asked(dt) if powered else 0.0
        self._move(asked, dt)
        self._heat(dt)
        if powered:
            self._watch(dt)
        self._bms(dt)

    def _read_throttle(self) -> None:
        s, g = self.s, self.settings
        s.read_v = (
            self.rest_v
            + self.hand.throttle * (self.full_reading() - self.rest_v)
            + self.rng.gauss(0, 0.004)
        )
        low, high = g.get("throttle_low_v", 0.9), g.get("throttle_high_v", 4.1)
        twist = (s.read_v - low) / max(high - low, 0.05)
        dead = g.get("dead_pct", 0.0) / 100.0
        twist = 0.0 if twist <= dead else (twist - dead) / (1.0 - dead)
        s.read_pct = 100.0 * min(max(twist, 0.0), 1.0)

    def _asked(self, dt: float) -> float:
        """Phase amps that the throttle asks for, after curve, mode and ramps."""
        s, g = self.s, self.settings
        if s.fault or self.identifying():
            s.share = 0.0
            return 0.0
        share = self._curve(s.read_pct / 100.0)
        mode = int(g.get("start_mode", 3))
        share *= g.get(f"mode_{mode}_pct", 100.0) / 100.0
        share = max(share, g.get("creep_pct", 0.0) / 100.0)
        if self.hand.brake:
            share *= (0.0, 0.5, 1.0)[min(int(g.get("brake_rule", 0)), 2)]
        cap = (
            min(g.get("speed_cap_m_s", math.inf), g.get(f"mode_{mode}_m_s", math.inf))
            * self._speed_error()
        )
        if s.speed_m_s > cap:
            share = 0.0
        up = max(g.get("ramp_s", 0.0), g.get(f"mode_{mode}_ramp_s", 0.0))
        down = g.get("ramp_down_s", 0.0)
        if share > s.share:
            s.share = share if up <= 0 else min(share, s.share + dt / up)
        else:
            s.share = share if down <= 0 else max(share, s.share - dt / down)
        return s.share * self.case().phase_a * self._rolled_back()

    def _curve(self, twist: float) -> float:
        x = twist * (CURVE_POINTS - 1)
        i = min(int(x), CURVE_POINTS - 2)
        a, b = (self.settings.get(f"curve_{k + 1}_pct", 10.0 * k) for k in (i, i + 1))
        return (a + (b - a) * (x - i)) / 100.0

    def _rolled_back(self) -> float:
        """Share that low volts and heat leave."""
        s, g = self.s, self.settings
        out = 1.0
        start, stop = g.get("lvc_start_v", 0.0), g.get("lvc_v", 0.0)
        if s.bus_v < start:
            out = min(out, max(0.05, (s.bus_v - stop) / max(start - stop, 0.1)))
        hot, cut = g.get("motor_c", 999.0), g.get("motor_stop_c", 999.0)
        if self.settings.get("temp_sensor", 1) and s.winding_c > hot:
            out = min(out, max(0.0, (cut - s.winding_c) / max(cut - hot, 1.0)))
        if s.controller_c > g.get("controller_c", 999.0):
            out = min(out, 0.5)
        return out

    def _speed_error(self) -> float:
        """True speed over the speed that the controller believes, by wheel and ratio."""
        g, t = self.settings, self.truth
        believed = g.get("wheel_m", 2 * math.pi * t.radius_m) / max(g.get("ratio", t.ratio), 0.01)
        true = 2 * math.pi * t.radius_m / t.ratio
        return true / believed if believed > 0 else 1.0

    def believed_m_s(self) -> float:
        return self.s.speed_m_s / self._speed_error()

    def turns_well(self) -> bool:
        """Whether the controller's idea of the rotor fits the motor."""
        believed = tuple(self.settings.get(f"hall_{i}_deg", HALL_EDGES[i - 1]) for i in range(1, 7))
        poles = int(self.settings.get("pole_pairs", self.truth.machine.pole_pairs))
        return believed == self.halls() and poles == self.truth.machine.pole_pairs

    def _move(self, asked: float, dt: float) -> None:
        s, case = self.s, self.case()
        c, xs, ys = numbers(case)
        lame = asked > 0.0 and not self.turns_well()
        now = kernel().instant(
            c,
            xs,
            ys,
            s.speed_m_s,
            s.soc,
            s.slow_v,
            s.winding_c,
            math.inf,
            0.05 * asked if lame else asked,
        )
        accel, s.choke, s.phase_a, s.bus_v, s.line_a = now[0], now[3], now[4], now[6], now[7]
        s.torque_nm = now[8]
        if lame:
            s.phase_a, s.line_a = asked, 0.3 * asked
        if self.hand.stand:
            rolls = self.truth.body.rotating_kg or STAND_KG
            accel = (now[2] - 3.0 * (s.speed_m_s > 0)) / rolls
        accel -= self._regen(dt) + (4.0 if self.hand.brake and s.speed_m_s > 0 else 0.0)
        s.speed_m_s = max(0.0, s.speed_m_s + accel * dt)
        s.distance_m += 0.0 if self.hand.stand else s.speed_m_s * dt
        amps = s.line_a + 0.4
        s.soc = min(1.0, max(0.0, s.soc - amps * dt / (self.truth.pack_ah * 3600.0)))
        tau = max(self.truth.tau_s, 0.05)
        s.slow_v += (self.truth.slow_ohm * s.line_a - s.slow_v) * min(dt / tau, 1.0)

    def _regen(self, dt: float) -> float:
        """Deceleration by the motor with the throttle shut."""
        s, g = self.s, self.settings
        share = g.get("regen_pct", 0.0) / 100.0
        if (
            share <= 0
            or s.share > 0
            or s.fault
            or not s.key
            or s.bms
            or s.speed_m_s < g.get("regen_fade_m_s", 0.0)
        ):
            return 0.0
        if self.hand.stand or s.bus_v > g.get("regen_full_v", math.inf):
            return 0.0
        limit = ChargeLimit(g.get("regen_line_a", math.inf), g.get("ovc_v", math.inf), "setting")
        here = dataclasses.replace(self.case(), start_soc=s.soc)
        done = braking(here, share, limit, [s.speed_m_s])
        s.line_a = -done.back_a[0]
        s.phase_a = share * here.phase_a
        return done.force_n[0] / here.effective_kg

    def _heat(self, dt: float) -> None:
        s, m = self.s, self.truth.machine
        ohm = m.r_ohm * copper_factor(s.winding_c)
        copper = 1.5 * ohm * s.phase_a**2
        th = self.case().thermal
        if th is not None:
            across = (s.winding_c - s.case_c) / th.winding_case_k_w
            out = (s.case_c - AIR_C) / th.case_air_k_w
            s.winding_c += (copper - across) * dt / th.winding_j_k
            s.case_c += (across - out) * dt / th.case_j_k
        lost = 1.5 * m.r_switch_ohm * s.phase_a**2 + (m.fixed_w if s.key else 0.0)
        s.controller_c += (lost - (s.controller_c - AIR_C) / CONTROLLER_K_W) * dt / CONTROLLER_J_K
        s.plug_c += (self.plug_ohm() * s.line_a**2 - (s.plug_c - AIR_C) / 4.0) * dt / 60.0
        peak = self.settings.get("phase_cont_a", math.inf)
        s.over_s = s.over_s + dt if s.phase_a > peak else max(0.0, s.over_s - dt)

    # What trips

    def _watch(self, dt: float) -> None:
        s, g = self.s, self.settings
        if s.fault:
            return
        low, high = g.get("throttle_fault_low_v", 0.0), g.get("throttle_fault_high_v", 99.0)
        s.stall_s = (
            s.stall_s + dt if s.phase_a > 5 and s.speed_m_s < 0.15 and not self.hand.stand else 0.0
        )
        for code, wrong in (
            (F_THROTTLE, not low <= s.read_v <= high),
            (F_HALL, "hall-dead" in self.faults and (s.share > 0.02 or s.speed_m_s > 0.3)),
            (F_HALL_ORDER, not self.turns_well() and s.share > 0.1),
            (F_LOW_V, s.bus_v < g.get("lvc_v", 0.0) - 0.5),
            (F_OVER_V, s.bus_v > g.get("ovc_v", math.inf)),
            (
                F_MOTOR_HOT,
                bool(g.get("temp_sensor", 1)) and s.winding_c > g.get("motor_stop_c", 999.0),
            ),
            (F_AMPS, s.phase_a > g.get("phase_trip_a", math.inf)),
            (F_STALL, s.stall_s > g.get("stall_s", math.inf) + 1.0),
        ):
            if wrong:
                s.fault = code
                return

    def _bms(self, dt: float) -> None:
        s, bms = self.s, self.build.guard.bms
        if s.bms or bms.discharge == "bypassed" or not bms.there:
            return
        scale = 0.4 if "bms-trip" in self.faults else 1.0
        most = bms.i_cont_a.or_else(math.inf) * scale
        peak = bms.i_peak_a.or_else(most / scale * 2 if math.isfinite(most) else math.inf) * scale
        s.hot_s = s.hot_s + dt if s.line_a > most else max(0.0, s.hot_s - dt)
        weak = min(self.groups())
        low, high = bms.cell_low_v.or_else(0.0), bms.cell_high_v.or_else(math.inf)
        if s.line_a > peak or s.hot_s > bms.peak_s.taken:
            s.bms = 1
        elif weak < low:
            s.bms = 2
        elif max(self.groups()) > high + 0.01 and s.line_a < 0:
            s.bms = 3

    def groups(self) -> list[float]:
        """Volts of each group under what flows now."""
        n = self.truth.series
        each = (self.s.bus_v + self.s.line_a * self.truth.path_ohm) / n if n else 0.0
        out = [each] * n
        if "weak-group" in self.faults and n > 2:
            sag = self.truth.r0_ohm / self.truth.parallel * max(self.s.line_a, 0.0)
            out[2] = max(0.0, each - 0.18 - 9.0 * sag)
        return out

    def identifying(self) -> bool:
        return 0 < self.s.identify < 5

    def _identifying(self, dt: float) -> None:
        s = self.s
        if self.hand.throttle > 0.02 or not self.hand.stand or "hall-dead" in self.faults:
            s.identify, s.fault = 6, F_NOT_AT_REST if "hall-dead" not in self.faults else F_HALL
            return
        s.identify_s += dt
        s.speed_m_s = 1.5 if s.identify == 3 else 0.0
        if s.identify_s >= IDENTIFY_S[s.identify - 1]:
            s.identify, s.identify_s = s.identify + 1, 0.0
            s.speed_m_s = 0.0

    def let_go(self) -> None:
        """The routine is ended from outside, where it runs."""
        if self.identifying():
            self.s.identify = STEPS.index("stopped")

    def identified(self) -> dict[str, float]:
        """What the routine measured: the truth, and what a measurement is off."""
        m = self.truth.machine
        rng = random.Random(self.seed + 77)
        near = {n: 1 + rng.gauss(0, 0.01) for n in ("r", "l", "kv")}
        kv = RPM_PER_RAD_S / (math.sqrt(3.0) * m.pole_pairs * m.flux_vs)
        order = 132465 if self.halls() == SWAPPED else 123456
        return {
            "r_phase_ohm": (m.r_ohm + lead_ohm(self.build.guard)) * near["r"],
            "l_phase_henry": m.ld_h * near["l"], "kv_rpm_v": kv * near["kv"],
            "hall_order": float(order), "hall_offset_deg": self.offset_deg,
            "direction": -1.0 if "phase-swap" in self.faults else 1.0,
        }  # fmt: skip

    # What a person does beside riding

    def power_cycle(self) -> None:
        """Key off and on, BMS closed again."""
        s = self.s
        s.fault, s.bms, s.identify, s.share, s.over_s, s.hot_s = NO_FAULT, 0, 0, 0.0, 0.0, 0.0

    def wait(self, seconds: float) -> None:
        """Let bench time pass at once."""
        for _ in range(round(min(seconds, 3600.0) / STEP_S)):
            self.step()


def start_settings(build: Build, told: dict[str, float]) -> dict[str, float]:
    """What the controller came with: `told` are the device's defaults, the motor's facts as it was bought with it."""
    m = build.drive.motor
    out = dict(told)
    facts: list[tuple[str, Value | int | None]] = [
        ("pole_pairs", m.pole_pairs),
        ("kv_rpm_v", m.kv_rpm_v),
    ]
    for name, value in facts:
        amount = value.amount if isinstance(value, Value) else value
        if amount is not None:
            out[name] = float(amount)
    return out
