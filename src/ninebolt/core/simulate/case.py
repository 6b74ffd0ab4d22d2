"""Everything one straight-line run needs, as plain SI floats."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt

from ninebolt.core.battery.ocv import Curve, interpolator
from ninebolt.core.drive.point import Machine, machine_numbers
from ninebolt.core.kernel import point as at
from ninebolt.core.vehicle.road import Body
from ninebolt.units import GRAVITY_M_S2

FASTEST_S = 0.005  # a slow part faster than this is plain resistance to everything here
CHOKES = ("cells", "BMS", "path", "line", "phase", "volts", "heat", "grip", "wheelie", "throttle")
Floats = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Thermal:
    """Winding-case-air; None in RunCase means temperatures stay where they are."""

    winding_case_k_w: float
    case_air_k_w: float
    winding_j_k: float
    case_j_k: float
    temp_max_c: float
    air_c: float = 25.0


@dataclass(frozen=True, slots=True)
class LineLimit:
    """A limit of pack current and the choke class that it belongs to."""

    choke: str
    amps: float


@dataclass(frozen=True, slots=True)
class RunCase:
    """Cell values are per cell; interconnect and path are for the whole pack and both poles."""

    ocv: Curve
    series: int
    parallel: int
    capacity_ah: float
    r0_ohm: float
    r1_ohm: float
    tau_s: float
    interconnect_ohm: float
    path_ohm: float
    start_soc: float
    floor_v: float
    limits: tuple[LineLimit, ...]
    machine: Machine
    phase_a: float
    body: Body
    ratio: float
    radius_m: float
    efficiency: float
    drag_nm: float
    drag_nm_s_rad: float
    throttle: float = 1.0
    ramp_s: float = 0.0
    thermal: Thermal | None = None
    start_temp_c: float = 20.0
    held: tuple[LineLimit, ...] = ()  # what opens where more than this flows on and on
    cap_m_s: float = math.inf  # road speed at which the controller gives no more than holds it
    peukert: float = 1.0  # what of its capacity a pack gives at a high current; 1 for all of it

    @property
    def pack_ohm(self) -> float:
        """Ohmic resistance from the cells to the controller."""
        return self.series * self.r0_ohm / self.parallel + self.interconnect_ohm + self.path_ohm

    @property
    def slow_ohm(self) -> float:
        return self.series * self.r1_ohm / self.parallel

    @property
    def pack_ah(self) -> float:
        return self.capacity_ah * self.parallel

    @property
    def rests_v(self) -> float:
        """Open-circuit volts of the pack at its start charge."""
        return self.series * interpolator(self.ocv)(self.start_soc)

    @property
    def effective_kg(self) -> float:
        """Mass with the rotating parts added."""
        return self.body.mass_kg + self.body.rotating_kg

    def line_limit(self) -> LineLimit:
        """The lowest fixed limit of pack current."""
        return min(self.limits, key=lambda x: x.amps, default=LineLimit("line", math.inf))


_last: tuple[RunCase, tuple[Floats, Floats, Floats]] | None = None


def numbers(case: RunCase) -> tuple[Floats, Floats, Floats]:
    """The case as the kernel takes it: (places of kernel.point, charges and volts of the table). The same case again
    is known without looking at all of it."""
    global _last
    last = _last
    if last is None or last[0] is not case:
        last = _last = (case, _numbers(case))
    return last[1]


@lru_cache(maxsize=256)
def _numbers(case: RunCase) -> tuple[Floats, Floats, Floats]:
    c = np.zeros(at.NUMBERS)
    machine_numbers(case.machine, c)
    quick = case.tau_s < FASTEST_S
    c[at.SERIES], c[at.PER_COULOMB] = case.series, 1.0 / (case.pack_ah * 3600.0)
    c[at.PACK_OHM] = case.pack_ohm + (case.slow_ohm if quick else 0.0)
    c[at.SLOW_OHM], c[at.TAU_S] = (0.0, 1.0) if quick else (case.slow_ohm, case.tau_s)
    limit = case.line_limit()
    c[at.FLOOR_V], c[at.LIMIT_A] = case.floor_v, limit.amps
    c[at.LIMIT_CHOKE] = CHOKES.index(limit.choke)
    c[at.PHASE_A], c[at.THROTTLE], c[at.RAMP_S] = case.phase_a, case.throttle, case.ramp_s
    c[at.GEAR], c[at.EFFICIENCY] = case.ratio / case.radius_m, case.efficiency
    c[at.DRAG_NM], c[at.DRAG_NM_S_RAD] = case.drag_nm, case.drag_nm_s_rad
    c[at.CAP_M_S] = case.cap_m_s
    _heat_numbers(case.thermal, c)
    _body_numbers(case, c)
    c.setflags(write=False)
    table = np.array(case.ocv, dtype=np.float64)
    return c, np.ascontiguousarray(table[:, 0]), np.ascontiguousarray(table[:, 1])


def _heat_numbers(th: Thermal | None, c: Floats) -> None:
    if th is None:
        return
    c[at.HAS_HEAT], c[at.TEMP_MAX_C], c[at.AIR_C] = 1.0, th.temp_max_c, th.air_c
    c[at.WINDING_CASE_K_W], c[at.CASE_AIR_K_W] = th.winding_case_k_w, th.case_air_k_w
    c[at.WINDING_J_K], c[at.CASE_J_K] = th.winding_j_k, th.case_j_k


def _body_numbers(case: RunCase, c: Floats) -> None:
    body = case.body
    weight = body.mass_kg * GRAVITY_M_S2
    cos, sin = math.cos(body.slope_rad), math.sin(body.slope_rad)
    lever, mu = body.cg_height_m / body.wheelbase_m, body.grip_mu
    c[at.WIND_M_S] = body.wind_m_s
    c[at.AERO_KG_M] = 0.5 * body.air_kg_m3 * body.cda_m2
    c[at.ROLLING_N], c[at.GRADE_N] = body.crr * weight * cos, weight * sin
    c[at.MASS_EFF_KG] = case.effective_kg
    c[at.WHEELIE_M_S2] = GRAVITY_M_S2 * (
        cos * body.front_share * body.wheelbase_m / body.cg_height_m - sin
    )
    c[at.WHEELIE_PER_KG] = body.drag_height_m / (body.mass_kg * body.cg_height_m)
    if mu < math.inf:
        c[at.GRIP_ROOM_KG] = (1.0 - mu * lever) * body.mass_kg
        c[at.GRIP_STATIC_N] = mu * (weight * cos * (1.0 - body.front_share) + lever * weight * sin)
        c[at.GRIP_AERO] = mu * body.drag_height_m / body.wheelbase_m
