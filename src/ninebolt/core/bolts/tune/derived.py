"""Tune: the parameters beyond the first few, each from what decides it."""

from __future__ import annotations

import math

from ninebolt.core.bike.back import charge_limit
from ninebolt.core.bike.cells import cell_ah
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.hold import for_good_a, hold_s
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bike.running import AIR_C
from ninebolt.core.bolts.tune.limits import (
    CONTROLLER_BELOW_K,
    FADE_M_S,
    FAULT_V,
    FIRST_M_S,
    FIRST_PCT,
    FIRST_RAMP_S,
    FULL_TAPER_V,
    HEADROOM_V,
    MOTOR_STOP_K,
    RAMP_DOWN_S,
    ROAD_PCT,
    STALL_S,
    TRIP_OVER,
)
from ninebolt.core.bolts.tune.written import Made, by_hand, written
from ninebolt.core.drive.constants import amps_peak, kv_dc_bus
from ninebolt.core.setting.ours import CURVE_POINTS, MODES
from ninebolt.core.value import Value


def throttle_share(points: tuple[tuple[float, float], ...], twist: float) -> float:
    """Share of the torque at a twist, linear between the points."""
    if not points or twist <= points[0][0]:
        return points[0][1] if points else twist
    for (x0, y0), (x1, y1) in zip(points, points[1:], strict=False):
        if twist <= x1:
            return y0 + (y1 - y0) * (twist - x0) / (x1 - x0)
    return points[-1][1]


def derived(bike: Bike, so_far: dict[str, float]) -> list[Made]:
    """Every parameter that `so_far` (name to recommended value) does not hold yet; what is set by hand counts as it
    is set."""
    so_far = so_far | {n: v for n, v in by_hand(bike).items() if n in so_far}
    return [
        *_battery(bike),
        *_motor(bike, so_far),
        *_throttle(bike),
        *_modes(bike, so_far),
        *_rest(bike, so_far),
    ]


def _battery(bike: Bike) -> list[Made]:
    build, limit = bike.build, charge_limit(bike)
    amps, link = (
        (limit.amps, limit.link) if limit else (0.0, "what the pack takes back is not known")
    )
    out: list[Made] = [("regen_line_a", math.floor(amps), link, "most")]
    one, p = cell_ah(build.pack), build.pack.parallel
    if one is not None and p:
        out.append(("capacity_ah", one * p, "the pack as it is, for the charge scale", ""))
    if build.pack.series:
        out.append(("series", float(build.pack.series), "the pack's cells in series", ""))
    return out


def _motor(bike: Bike, so_far: dict[str, float]) -> list[Made]:
    m, made = bike.build.drive.motor, written(bike)
    out: list[Made] = []
    peak = so_far.get("phase_a")
    good = for_good_a(made.case) if made else None
    told = amps_peak(m.phase_cont_a.taken, m.amp_basis) if m.phase_cont_a.known else None
    rows = [
        (x, why)
        for x, why in ((told, "the motor's own rating"), (good, "what its winding sheds for good"))
        if x
    ]
    if rows and peak is not None:
        amps, why = min(rows)
        amps, why = (amps, why) if amps < peak else (peak, "no more than its peak")
        out.append(("phase_cont_a", math.floor(amps), why, "most"))
    warm = hold_s(made.case, AIR_C) if made else None
    if warm is not None:
        short = min(warm if math.isfinite(warm) else 60.0, 60.0)
        out.append(
            ("phase_peak_s", math.floor(short), "until the winding's limit, from cold", "most")
        )
    out.append(
        (
            "motor_stop_c",
            m.temp_max_c.taken - MOTOR_STOP_K,
            "just before the winding's limit",
            "most",
        )
    )
    seen = m.temp_sensor
    if seen is False:
        out.append(("temp_sensor", 0.0, "there is none in the winding", ""))
    out += _constants(bike)
    return out


def _constants(bike: Bike) -> list[Made]:
    m = bike.build.drive.motor
    rows: list[tuple[str, Value]] = [
        ("r_phase_ohm", m.r_phase_ohm),
        ("l_phase_henry", m.l_phase_henry),
    ]
    out: list[Made] = [
        (name, v.amount, f"the motor, {v.origin}; an identification run measures it", "")
        for name, v in rows
        if v.amount is not None
    ]
    if m.kv_rpm_v.amount is not None:
        kv = kv_dc_bus(m.kv_rpm_v.amount, m.kv_convention)
        out.append(
            (
                "kv_rpm_v",
                kv,
                f"the motor, {m.kv_rpm_v.origin}; an identification run measures it",
                "",
            )
        )
    return out


def _throttle(bike: Bike) -> list[Made]:
    t = bike.build.tune
    out: list[Made] = []
    rest, full = t.throttle_rest_v.amount, t.throttle_full_v.amount
    if rest is not None:
        out.append(("throttle_low_v", rest + HEADROOM_V, "measured at rest, and a little", "least"))
        low = max(rest - FAULT_V, 0.0)
        out.append(
            ("throttle_fault_low_v", low, "under the reading at rest: a wire is off", "most")
        )
    if full is not None:
        out.append(
            ("throttle_high_v", full - HEADROOM_V, "measured at full, less a little", "most")
        )
        high = min(full + FAULT_V, 0.5 * (full + t.throttle_supply_v.taken))
        out.append(
            (
                "throttle_fault_high_v",
                high,
                "over the reading at full: a short to the supply",
                "least",
            )
        )
    out.append(("dead_pct", 3.0, "what a grip's own play gives", "most"))
    for i in range(CURVE_POINTS):
        share = throttle_share(t.throttle, i / (CURVE_POINTS - 1))
        out.append((f"curve_{i + 1}_pct", 100.0 * share, "the curve above", ""))
    out.append(("ramp_down_s", float(RAMP_DOWN_S), "shuts with the hand", "most"))
    out.append(("creep_pct", 0.0, "nothing pushes with the hand off", "most"))
    out.append(("brake_rule", 0.0, "the brake always wins", "most"))
    return out


def _modes(bike: Bike, so_far: dict[str, float]) -> list[Made]:
    top, ramp = so_far.get("speed_cap_m_s"), so_far.get("ramp_s", 0.0)
    regen = so_far.get("regen_pct", 0.0)
    shares = (float(FIRST_PCT), float(ROAD_PCT), 100.0)
    out: list[Made] = []
    for i, (name, share) in enumerate(zip(MODES, shares, strict=True), 1):
        first = i == 1
        out.append((f"mode_{i}_pct", share, f"{name}: {share:.0f} % of the amps", "most"))
        if top is not None:
            speed = min(float(FIRST_M_S), top) if first else top
            why = "a first ride on a new bike" if first else "the speed cap"
            out.append((f"mode_{i}_m_s", speed, why, "most"))
        out.append(
            (
                f"mode_{i}_ramp_s",
                max(ramp, float(FIRST_RAMP_S)) if first else ramp,
                f"{name}",
                "least",
            )
        )
        out.append((f"mode_{i}_regen_pct", min(regen, 10.0) if first else regen, f"{name}", "most"))
    out.append(("start_mode", 1.0, "it always starts in the gentlest", "most"))
    return out


def _rest(bike: Bike, so_far: dict[str, float]) -> list[Made]:
    build, facts = bike.build, pack_facts(bike)
    c = build.drive.controller
    out: list[Made] = [("regen_fade_m_s", float(FADE_M_S), "lets go at walking pace", "least")]
    if facts:
        full = facts.full_v - FULL_TAPER_V * (build.pack.series or 0)
        out.append(
            (
                "regen_full_v",
                round(full, 2),
                "0.05 V a cell before full: a full pack takes nothing",
                "most",
            )
        )
    limit = c.temp_max_c.taken - CONTROLLER_BELOW_K
    out.append(("controller_c", limit, "10 K before the controller's own limit", "most"))
    if "phase_a" in so_far:
        most = so_far["phase_a"] * TRIP_OVER
        out.append(
            (
                "phase_trip_a",
                math.floor(most),
                f"{float(TRIP_OVER):g} times the peak phase amps",
                "most",
            )
        )
    out.append(
        ("stall_s", float(STALL_S), "one phase carries it all while the wheel is held", "most")
    )
    return out
