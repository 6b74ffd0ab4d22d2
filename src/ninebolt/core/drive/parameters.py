"""The controller's parameter set as data: object index, name, unit, how it is stored.

Indices lie in the manufacturer-specific range 0x2000–0x5FFF of CiA 301. They are this project's own
generic controller's (the bench bike's), not any maker's.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class ParamSpec:
    """scale: stored integer = physical / scale. lo, hi: physical limits the device takes."""

    name: str
    label: str
    index: int
    quantity: str
    scale: float
    lo: float
    hi: float


PARAMS: tuple[ParamSpec, ...] = (
    ParamSpec("line_a", "Line amps", 0x2100, "a", 0.1, 0, 1000),
    ParamSpec("phase_a", "Phase amps, peak", 0x2101, "a", 0.1, 0, 2000),
    ParamSpec("fw_id_a", "Field-weakening current", 0x2102, "a", 0.1, 0, 1000),
    ParamSpec("lvc_v", "Low-voltage cut-off", 0x2103, "v", 0.01, 0, 600),
    ParamSpec("lvc_start_v", "Roll-back begins", 0x2104, "v", 0.01, 0, 600),
    ParamSpec("ovc_v", "Over-voltage cut-off", 0x2105, "v", 0.01, 0, 600),
    ParamSpec("ramp_s", "Throttle ramp", 0x2106, "s", 0.001, 0, 10),
    ParamSpec("regen_pct", "Regeneration", 0x2107, "pct", 0.1, 0, 100),
    ParamSpec("motor_c", "Motor temperature roll-back", 0x2108, "c", 0.1, 0, 200),
    ParamSpec("pole_pairs", "Pole pairs", 0x2109, "ratio", 1, 1, 100),
    ParamSpec("wheel_m", "Wheel circumference", 0x210A, "m", 0.001, 0.3, 4),
    ParamSpec("ratio", "Gear ratio", 0x210B, "ratio", 0.001, 0.1, 60),
    ParamSpec("speed_cap_m_s", "Speed cap", 0x210C, "m_s", 0.01, 0, 120),
)
BY_NAME = {p.name: p for p in PARAMS}


def raw(spec: ParamSpec, value: float) -> int:
    """Physical value as the stored integer."""
    return round(value / spec.scale)
