"""The dictionary of this project's own generic controller, which the bench bike is: parameters, what it
shows while it runs, its routines. Other controllers' objects are mapped to these meanings.

Indices lie in the manufacturer-specific range 0x2000–0x5FFF of CiA 301; they are nobody else's.
"""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.setting.objects import (
    I8,
    I16,
    REAL32,
    TEXT,
    TYPES,
    U8,
    U16,
    U32,
    Address,
    Dictionary,
    Obj,
)

VENDOR, PRODUCT, REVISION = 0x00009B01, 0x0001, 0x00010004
NODE_CONTROLLER, NODE_BMS = 0x10, 0x11
BMS_PRODUCT = 0x0002
SAVE, LOAD = 0x65766173, 0x64616F6C  # "save" and "load", CiA 301 objects 1010h and 1011h
CURVE_POINTS = 11
MODES = ("first ride", "road", "strip")


@dataclass(frozen=True, slots=True)
class ParamSpec:
    """scale: stored number = physical / scale. lo, hi: physical limits the device takes. power: takes effect
    after the supply was off. words: what its whole numbers are called, from lo up. raises: more of it means
    more force, heat or volts, so it is written after what lowers them."""

    name: str
    label: str
    group: str
    index: int
    sub: int
    quantity: str
    type: int
    scale: float
    lo: float
    hi: float
    default: float
    power: bool = False
    words: tuple[str, ...] = ()
    raises: bool = False

    @property
    def at(self) -> Address:
        return self.index, self.sub


def _p(
    name: str, label: str, group: str, at: int, quantity: str, kind: int, scale: float,
    span: tuple[float, float], default: float, *, sub: int = 0, power: bool = False,
    words: tuple[str, ...] = (), raises: bool = False,
) -> ParamSpec:  # fmt: skip
    return ParamSpec(
        name, label, group, at, sub, quantity, kind, scale, *span, default, power, words, raises
    )


_BATTERY = (
    _p("lvc_v", "Low-voltage cut-off", "battery", 0x2101, "v", U16, 0.01, (0, 600), 40),
    _p("lvc_start_v", "Roll-back begins", "battery", 0x2102, "v", U16, 0.01, (0, 600), 42),
    _p(
        "ovc_v",
        "Over-voltage cut-off",
        "battery",
        0x2103,
        "v",
        U16,
        0.01,
        (0, 600),
        60,
        raises=True,
    ),
    _p("line_a", "Line amps", "battery", 0x2104, "a", U16, 0.1, (0, 1000), 20, raises=True),
    _p(
        "regen_line_a",
        "Line amps, charging",
        "battery",
        0x2105,
        "a",
        U16,
        0.1,
        (0, 1000),
        0,
        raises=True,
    ),
    _p(
        "capacity_ah",
        "Capacity for the charge scale",
        "battery",
        0x2106,
        "ah",
        U16,
        0.1,
        (0, 1000),
        20,
    ),
)
_MOTOR = (
    _p("pole_pairs", "Pole pairs", "motor", 0x2201, "ratio", U8, 1, (1, 100), 4, power=True),
    _p("phase_a", "Phase amps, peak", "motor", 0x2202, "a", U16, 0.1, (0, 2000), 40, raises=True),
    _p("phase_cont_a", "Phase amps, for good", "motor", 0x2203, "a", U16, 0.1, (0, 2000), 30, raises=True),
    _p("phase_peak_s", "Seconds at peak", "motor", 0x2204, "s", U16, 0.1, (0, 600), 5, raises=True),
    _p("fw_id_a", "Field-weakening current", "motor", 0x2205, "a", U16, 0.1, (0, 1000), 0, raises=True),
    _p("sensor", "Rotor sensor", "motor", 0x2206, "ratio", U8, 1, (0, 2), 1, power=True,
       words=("none", "halls", "encoder")),
    *(
        _p(f"hall_{i}_deg", f"Hall edge {i}", "motor", 0x2207, "deg", U16, 0.1, (0, 360), 60.0 * (i - 1), sub=i)
        for i in range(1, 7)
    ),
    _p("hall_offset_deg", "Hall offset", "motor", 0x2208, "deg", I16, 0.1, (-180, 180), 0),
    _p("direction", "Direction, 1 or -1", "motor", 0x2209, "ratio", I8, 1, (-1, 1), 1),
    _p("temp_sensor", "Sensor in the winding", "motor", 0x220A, "ratio", U8, 1, (0, 3), 0, power=True,
       words=("none", "falling ohms", "rising ohms", "digital")),
    _p("motor_c", "Motor temperature roll-back", "motor", 0x220B, "c", I16, 0.1, (0, 200), 100, raises=True),
    _p("motor_stop_c", "Motor temperature cut-out", "motor", 0x220C, "c", I16, 0.1, (0, 220), 120, raises=True),
    _p("r_phase_ohm", "Phase resistance", "motor", 0x220D, "ohm", U32, 1e-6, (0, 10), 0.02, power=True),
    _p("l_phase_henry", "Phase inductance", "motor", 0x220E, "henry", U32, 1e-9, (0, 0.05), 1e-4, power=True),
    _p("kv_rpm_v", "KV, rpm a volt of the bus", "motor", 0x220F, "rpm_v", REAL32, 1, (1, 5000), 50, power=True),
)  # fmt: skip
_THROTTLE = (
    _p("throttle_low_v", "Twist at rest", "throttle", 0x2301, "v", U16, 0.001, (0, 12), 0.9),
    _p("throttle_high_v", "Twist at full", "throttle", 0x2302, "v", U16, 0.001, (0, 12), 4.1),
    _p("throttle_fault_low_v", "Fault below", "throttle", 0x2303, "v", U16, 0.001, (0, 12), 0.5),
    _p("throttle_fault_high_v", "Fault above", "throttle", 0x2304, "v", U16, 0.001, (0, 12), 4.6),
    _p("dead_pct", "Dead zone at rest", "throttle", 0x2305, "pct", U8, 0.5, (0, 40), 3),
    *(
        _p(f"curve_{i}_pct", f"Torque at {10 * (i - 1)} % of twist", "throttle", 0x2306, "pct", U8, 0.5,
           (0, 100), 10.0 * (i - 1), sub=i, raises=True)
        for i in range(1, CURVE_POINTS + 1)
    ),
    _p("ramp_s", "Throttle ramp", "throttle", 0x2307, "s", U16, 0.001, (0, 10), 0.3),
    _p("ramp_down_s", "Throttle ramp, closing", "throttle", 0x2308, "s", U16, 0.001, (0, 2), 0.1),
    _p("creep_pct", "Creep at closed throttle", "throttle", 0x2309, "pct", U8, 0.5, (0, 20), 0, raises=True),
    _p("brake_rule", "Brake and throttle together", "throttle", 0x230A, "ratio", U8, 1, (0, 2), 0,
       words=("brake cuts the drive", "brake halves it", "drive goes on")),
)  # fmt: skip
_MODES = tuple(
    p
    for i, name in enumerate(MODES, 1)
    for p in (
        _p(f"mode_{i}_pct", f"Power, {name}", "modes", 0x2400 + i, "pct", U8, 0.5, (0, 100), 100, sub=1, raises=True),
        _p(f"mode_{i}_m_s", f"Speed, {name}", "modes", 0x2400 + i, "m_s", U16, 0.01, (0, 120), 20, sub=2, raises=True),
        _p(f"mode_{i}_ramp_s", f"Ramp, {name}", "modes", 0x2400 + i, "s", U16, 0.001, (0, 10), 0.3, sub=3),
        _p(f"mode_{i}_regen_pct", f"Regeneration, {name}", "modes", 0x2400 + i, "pct", U8, 0.5, (0, 100), 0, sub=4,
           raises=True),
    )
)  # fmt: skip
_REST = (
    _p("start_mode", "Mode at switch-on", "modes", 0x2400, "ratio", U8, 1, (1, 3), 1),
    _p("wheel_m", "Wheel circumference", "speed", 0x2501, "m", U16, 0.001, (0.3, 4), 2),
    _p("ratio", "Gear ratio", "speed", 0x2502, "ratio", U16, 0.001, (0.1, 60), 6),
    _p("speed_cap_m_s", "Speed cap", "speed", 0x2503, "m_s", U16, 0.01, (0, 120), 15, raises=True),
    _p("regen_pct", "Regeneration", "braking", 0x2601, "pct", U8, 0.5, (0, 100), 0, raises=True),
    _p("regen_fade_m_s", "Braking fades below", "braking", 0x2602, "m_s", U16, 0.01, (0, 20), 1.4),
    _p("regen_full_v", "Braking fades from pack volts", "braking", 0x2603, "v", U16, 0.01, (0, 600), 58, raises=True),
    _p("controller_c", "Controller roll-back", "protections", 0x2701, "c", I16, 0.1, (0, 150), 75, raises=True),
    _p("phase_trip_a", "Phase amps, trip", "protections", 0x2702, "a", U16, 0.1, (0, 3000), 80, raises=True),
    _p("stall_s", "Stalled for", "protections", 0x2703, "s", U16, 0.01, (0.1, 10), 1, raises=True),
    _p("series", "Cells in series, for the display", "display", 0x2801, "ratio", U8, 1, (1, 200), 13),
    _p("units", "Display in", "display", 0x2802, "ratio", U8, 1, (0, 1), 0, words=("km/h", "mph")),
)  # fmt: skip
PARAMS: tuple[ParamSpec, ...] = (*_BATTERY, *_MOTOR, *_THROTTLE, *_MODES, *_REST)
BY_NAME = {p.name: p for p in PARAMS}
BY_AT = {p.at: p for p in PARAMS}


@dataclass(frozen=True, slots=True)
class Shown:
    """Something that the controller shows while it runs."""

    name: str
    label: str
    at: Address
    quantity: str
    type: int
    scale: float


LIVE: tuple[Shown, ...] = (
    Shown("bus_v", "Volts", (0x3001, 0), "v", U16, 0.01),
    Shown("line_a", "Line amps", (0x3002, 0), "a", I16, 0.1),
    Shown("phase_a", "Phase amps", (0x3003, 0), "a", U16, 0.1),
    Shown("rpm", "Motor speed", (0x3004, 0), "rpm", I16, 1),
    Shown("throttle_v", "Throttle", (0x3005, 0), "v", U16, 0.001),
    Shown("throttle_pct", "Twist as read", (0x3006, 0), "pct", U8, 0.5),
    Shown("motor_c", "Winding", (0x3007, 0), "c", I16, 0.1),
    Shown("controller_c", "Controller", (0x3008, 0), "c", I16, 0.1),
    Shown("state", "State", (0x3009, 0), "ratio", U8, 1),
    Shown("fault", "Fault code", (0x300A, 0), "ratio", U8, 1),
    Shown("speed_m_s", "Speed by its settings", (0x300B, 0), "m_s", U16, 0.01),
)
# What another controller's objects can be said to show. The numbers of its states are its own and are not.
SHOWABLE = {f"live.{s.name}": s for s in LIVE if s.name != "state"}
STATES = ("ready", "driving", "braking", "identifying", "fault", "waiting for a power cycle")
IDENTIFY = {
    "start": (0x3101, 0), "step": (0x3102, 0), "r_phase_ohm": (0x3103, 1), "l_phase_henry": (0x3103, 2),
    "kv_rpm_v": (0x3103, 3), "hall_order": (0x3103, 4), "hall_offset_deg": (0x3103, 5), "direction": (0x3103, 6),
}  # fmt: skip
IDENTIFY_GO = 0x47  # "G": started only by this number
IDENTIFY_STOP = 0  # ended at any time by this one: the motor is let go
STEPS = (
    "not started",
    "resistance",
    "inductance",
    "turning",
    "halls",
    "done",
    "broken off",
    "stopped",
)
GROUP_V, BMS_A, BMS_C, BMS_STATE = 0x3201, (0x3202, 0), (0x3203, 0), (0x3204, 0)
BMS_STATES = (
    "closed",
    "open: amps",
    "open: group low",
    "open: group high",
    "open: hot",
    "open: short",
)
IDENTITY = {
    "vendor": (0x1018, 1),
    "product": (0x1018, 2),
    "revision": (0x1018, 3),
    "serial": (0x1018, 4),
}
DEVICE_NAME, HARDWARE, FIRMWARE = (0x1008, 0), (0x1009, 0), (0x100A, 0)
STORE, RESTORE = (0x1010, 1), (0x1011, 1)


def raw(spec: ParamSpec, value: float) -> int | float:
    """Physical value as the stored number."""
    return value / spec.scale if TYPES[spec.type].form == "real" else round(value / spec.scale)


def physical(spec: ParamSpec, stored: float) -> float:
    """Stored number as the physical value, without the digits that its scale does not hold."""
    return float(f"{stored * spec.scale:.9g}")


def step_of(spec: ParamSpec) -> float:
    """What two values must differ by, physically, to be two."""
    return spec.scale if TYPES[spec.type].form == "whole" else 1e-6 * max(abs(spec.hi), 1.0)


def _object(p: ParamSpec) -> Obj:
    return Obj(p.index, p.sub, p.label, p.type, "rw", raw(p, p.lo), raw(p, p.hi), raw(p, p.default))


def _fixed() -> list[Obj]:
    rows = [
        Obj(0x1000, 0, "Device type", U32, "ro", default=0),
        Obj(0x1001, 0, "Error register", U8, "ro", default=0),
        Obj(*DEVICE_NAME, "Device name", TEXT, "const", default="Bench controller"),
        Obj(*HARDWARE, "Hardware version", TEXT, "const", default="B"),
        Obj(*FIRMWARE, "Software version", TEXT, "const", default="1.4"),
        Obj(*STORE, "Store all", U32, "rw", default=1),
        Obj(*RESTORE, "Restore all", U32, "rw", default=1),
    ]
    numbers = (VENDOR, PRODUCT, REVISION, 1)
    rows += [
        Obj(*at, name.capitalize(), U32, "ro", default=number)
        for (name, at), number in zip(IDENTITY.items(), numbers, strict=True)
    ]
    rows += [Obj(*s.at, s.label, s.type, "ro", default=0) for s in LIVE]
    rows += [
        Obj(*IDENTIFY["start"], "Identify", U8, "wo"),
        Obj(*IDENTIFY["step"], "Identify, step", U8, "ro", default=0),
        *(
            Obj(*IDENTIFY[n], f"Identified {n}", REAL32, "ro", default=0.0)
            for n in (
                "r_phase_ohm",
                "l_phase_henry",
                "kv_rpm_v",
                "hall_order",
                "hall_offset_deg",
                "direction",
            )
        ),
    ]
    return rows


def _ours() -> Dictionary:
    rows = [*_fixed(), *(_object(p) for p in PARAMS)]
    return Dictionary(
        "Bench controller",
        {o.at: o for o in sorted(rows, key=lambda o: o.at)},
        VENDOR,
        PRODUCT,
        REVISION,
    )


OURS = _ours()


def bms_dictionary(series: int) -> Dictionary:
    """Group volts in millivolts, amps in tenths, cell temperature, state."""
    rows = [Obj(GROUP_V, i, f"Group {i}", U16, "ro") for i in range(1, series + 1)]
    rows += [
        Obj(*BMS_A, "Amps", 0x03, "ro"),
        Obj(*BMS_C, "Cells", 0x03, "ro"),
        Obj(*BMS_STATE, "State", 0x05, "ro"),
    ]
    rows += [Obj(*at, n.capitalize(), U32, "ro") for n, at in IDENTITY.items()]
    return Dictionary("Bench BMS", {o.at: o for o in rows}, VENDOR, BMS_PRODUCT, REVISION)
