"""Tune: each parameter, its recommended value, the constraint that it comes from."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.gearing import gear_ratio, wheel_radius_m
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.tune.derived import derived
from ninebolt.core.bolts.tune.limits import (
    CAP_SHARE,
    GENTLE_RAMP_S,
    OVER_FULL,
    RAMP_S,
    ROLLBACK_V_PER_CELL,
)
from ninebolt.core.bolts.tune.windows import regen_share, windows
from ninebolt.core.bolts.tune.written import (
    Written,
    amps,
    by_hand,
    fit_mode,
    least_cut_off,
    weakening,
    written,
)
from ninebolt.core.drive.constants import amps_peak
from ninebolt.core.setting.ours import PARAMS


@dataclass(frozen=True, slots=True)
class ParamRow:
    """A recommended value, the constraint that it comes from, and what is set by hand instead.

    bound: 'most' when going above is unsafe, 'least' when going below is, '' when it is a fact. least, most:
    within what it may lie. build: what the build computes with, at path; '' where it holds none.
    """

    name: str
    label: str
    index: int
    sub: int
    quantity: str
    recommended: float
    constraint: str
    bound: str
    chosen: float | None
    value: float
    group: str
    power: bool
    words: tuple[str, ...]
    lo: float
    hi: float
    least: float | None
    most: float | None
    build: float | None
    path: str


# Parameters that the build holds itself, which is what its figures are computed with.
IN_BUILD = {
    "line_a": "drive.controller.line_a",
    "phase_a": "drive.controller.phase_a",
    "fw_id_a": "drive.controller.fw_id_a",
    "lvc_v": "drive.controller.lvc_v",
    "ramp_s": "drive.controller.ramp_s",
    "regen_pct": "tune.regen_pct",
    "speed_cap_m_s": "tune.cap_m_s",
}


def recommended(bike: Bike) -> list[tuple[str, float, str, str]]:
    """(name, value, constraint, bound) for every parameter that the build decides."""
    out: list[tuple[str, float, str, str]] = []
    build, made, facts = bike.build, written(bike), pack_facts(bike)
    c, m = build.drive.controller, build.drive.motor
    gentle = build.tune.margin == "gentle"
    out += amps(bike)
    out.append(weakening(bike))
    if facts and not math.isnan(facts.empty_v):
        series = build.pack.series or 0
        low = least_cut_off(bike, facts)[0]
        out.append(
            (
                "lvc_start_v",
                round(low + ROLLBACK_V_PER_CELL * series, 2),
                "0.15 V a cell above the cut-off: fades, does not cut",
                "least",
            )
        )
        top = c.v_max_v.or_else(math.inf)
        out.append(
            (
                "ovc_v",
                round(min(OVER_FULL * facts.full_v, top), 2),
                "2 % above full, held to the controller's ceiling",
                "most",
            )
        )
    lift = made is not None and made.lunges
    ramp = max(RAMP_S if lift else 0.0, GENTLE_RAMP_S if gentle else 0.0)
    why = (
        "the front wheel lifts or the tyre slips from rest"
        if lift
        else "nothing lifts or slips from rest"
    )
    out.append(
        ("ramp_s", ramp, "a first ride" if gentle and ramp == GENTLE_RAMP_S else why, "least")
    )
    back, link = regen_share(bike)
    out.append(("regen_pct", math.floor(100.0 * back), link, "most"))
    out.append(("motor_c", m.temp_max_c.taken - 20.0, "20 K before the winding's limit", "most"))
    out += _facts(bike, made)
    return out + derived(bike, {name: value for name, value, _, _ in out})


def _facts(bike: Bike, made: Written | None) -> list[tuple[str, float, str, str]]:
    out: list[tuple[str, float, str, str]] = []
    build = bike.build
    pairs, radius, ratio = build.drive.motor.pole_pairs, wheel_radius_m(build), gear_ratio(build)
    if pairs is not None:
        out.append(("pole_pairs", float(pairs), "the motor", ""))
    if not math.isnan(radius):
        out.append(("wheel_m", 2 * math.pi * radius, "rolling circumference, for the display", ""))
    if not math.isnan(ratio):
        out.append(("ratio", ratio, "sprockets and reduction", ""))
    if made:
        out.append(_cap(bike, made))
    return out


def _cap(bike: Bike, made: Written) -> tuple[str, float, str, str]:
    """The speed cap: a little above what it reaches, unless brakes or tyres are not fit for that."""
    free, mode, wish = (
        made.top_m_s * CAP_SHARE,
        fit_mode(bike),
        bike.build.tune.cap_m_s.amount,
    )
    safe = free if mode is None or mode.speed_m_s is None else min(free, mode.speed_m_s)
    if wish is not None and wish < safe:
        return "speed_cap_m_s", wish, "the cap that is wanted", "most"
    if mode is not None and mode.speed_m_s is not None and mode.speed_m_s < free:
        return "speed_cap_m_s", mode.speed_m_s, f"brakes and tyres: {mode.why[0]}", "most"
    return "speed_cap_m_s", free, f"{CAP_SHARE - 1:.0%} above the top speed computed", "most"


@fact
def rows_of(bike: Bike) -> tuple[ParamRow, ...]:
    """All parameters in the order of their index, with what is set by hand in place."""
    chosen = by_hand(bike)
    made = {r[0]: r for r in recommended(bike)}
    made |= {
        n: (n, v, "identified, or set by hand", "") for n, v in chosen.items() if n not in made
    }
    rows, limits = [], windows(bike)
    for spec in PARAMS:
        if spec.name not in made:
            continue
        name, value, why, bound = made[spec.name]
        own, window = chosen.get(name), limits.get(name)
        rows.append(
            ParamRow(
                name,
                spec.label,
                spec.index,
                spec.sub,
                spec.quantity,
                value,
                why,
                bound,
                own,
                value if own is None else own,
                spec.group,
                spec.power,
                spec.words,
                spec.lo,
                spec.hi,
                window.least if window else None,
                window.most if window else None,
                _in_build(bike, name),
                IN_BUILD.get(name, ""),
            )
        )
    return tuple(rows)


def _in_build(bike: Bike, name: str) -> float | None:
    c = bike.build.drive.controller
    values = {
        "line_a": c.line_a,
        "phase_a": c.phase_a,
        "fw_id_a": c.fw_id_a,
        "lvc_v": c.lvc_v,
        "ramp_s": c.ramp_s,
        "regen_pct": bike.build.tune.regen_pct,
    }
    found = values.get(name)
    if found is None or found.amount is None:
        return None
    return amps_peak(found.amount, c.amp_basis) if name == "phase_a" else found.amount
