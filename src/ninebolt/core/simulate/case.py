"""Everything one straight-line run needs, as plain SI floats."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.battery.ocv import Curve
from ninebolt.core.drive.point import Machine
from ninebolt.core.vehicle.road import Body


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
    def effective_kg(self) -> float:
        """Mass with the rotating parts added."""
        return self.body.mass_kg + self.body.rotating_kg

    def line_limit(self) -> LineLimit:
        """The lowest fixed limit of pack current."""
        return min(self.limits, key=lambda x: x.amps, default=LineLimit("line", math.inf))
