"""Tune: each parameter, its recommended value, the constraint that it comes from."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.cells import cell_empty_v
from ninebolt.core.bike.chain import advice
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.gearing import gear_ratio, wheel_radius_m
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bike.running import top_mode
from ninebolt.core.bolts.tune.limits import CAP_SHARE, OVER_FULL, RAMP_S, ROLLBACK_V_PER_CELL
from ninebolt.core.build import Build
from ninebolt.core.drive.constants import amps_peak
from ninebolt.core.drive.parameters import PARAMS
from ninebolt.core.simulate.headline import Performance


@dataclass(frozen=True, slots=True)
class ParamRow:
    """A recommended value, the constraint that it comes from, and what is set by hand instead.

    bound: 'most' when going above is unsafe, 'least' when going below is, '' when it is a fact.
    """

    name: str
    label: str
    index: int
    quantity: str
    recommended: float
    constraint: str
    bound: str
    chosen: float | None
    value: float
    lo: float
    hi: float


def recommended(bike: Bike) -> list[tuple[str, float, str, str]]:
    """(name, value, constraint, bound) for every parameter that the build decides."""
    out: list[tuple[str, float, str, str]] = []
    build, perf, facts = bike.build, performance_of(bike), pack_facts(bike)
    c, m, g = build.drive.controller, build.drive.motor, build.guard
    chosen = advice(bike)
    if chosen:
        out.append(("line_a", chosen.amps, f"the chain: {chosen.words}", "most"))
    phase = _phase(build)
    if phase:
        out.append(("phase_a", math.floor(phase[0]), phase[1], "most"))
    out.append(("fw_id_a", c.fw_id_a.taken, "the build's setting; off for comparisons", "most"))
    if facts and not math.isnan(facts.empty_v):
        series = build.pack.series or 0
        low = max(facts.empty_v, series * (g.bms.cell_low_v.or_else(0.0) + 0.05))
        why = (
            "a little before the BMS opens"
            if low > facts.empty_v
            else f"{series} cells at {cell_empty_v(build.pack.cell):.2f} V"
        )
        out.append(("lvc_v", round(low, 2), why, "least"))
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
    lift = perf is not None and perf.envelope.choke[0] in ("wheelie", "grip")
    ramp = max(c.ramp_s.taken, RAMP_S if lift else 0.0)
    out.append(
        (
            "ramp_s",
            ramp,
            "the front wheel lifts or the tyre slips from rest" if lift else "the build's setting",
            "least",
        )
    )
    out.append(("regen_pct", build.tune.regen_pct.taken, "the build's choice", ""))
    out.append(("motor_c", m.temp_max_c.taken - 20.0, "20 K before the winding's limit", "most"))
    out += _facts(bike, perf)
    return out


def _phase(build: Build) -> tuple[float, str] | None:
    c, m = build.drive.controller, build.drive.motor
    options = [
        (amps_peak(c.phase_max_a.or_else(math.inf), c.amp_basis), "the controller's rating"),
        (amps_peak(m.phase_max_a.or_else(math.inf), m.amp_basis), "the motor's peak"),
    ]
    best = min(options)
    return best if math.isfinite(best[0]) else None


def _facts(bike: Bike, perf: Performance | None) -> list[tuple[str, float, str, str]]:
    out: list[tuple[str, float, str, str]] = []
    build = bike.build
    pairs, radius, ratio = build.drive.motor.pole_pairs, wheel_radius_m(build), gear_ratio(build)
    if pairs is not None:
        out.append(("pole_pairs", float(pairs), "the motor", ""))
    if not math.isnan(radius):
        out.append(("wheel_m", 2 * math.pi * radius, "rolling circumference, for the display", ""))
    if not math.isnan(ratio):
        out.append(("ratio", ratio, "sprockets and reduction", ""))
    if perf:
        out.append(_cap(bike, perf))
    return out


def _cap(bike: Bike, perf: Performance) -> tuple[str, float, str, str]:
    """The speed cap: a little above what it reaches, unless brakes or tyres are not fit for that."""
    free, mode = perf.top.speed_m_s * CAP_SHARE, top_mode(bike)
    if mode is not None and mode.speed_m_s is not None and mode.speed_m_s < free:
        return "speed_cap_m_s", mode.speed_m_s, f"brakes and tyres: {mode.why[0]}", "most"
    return "speed_cap_m_s", free, f"{CAP_SHARE - 1:.0%} above the top speed computed", "most"


@fact
def rows_of(bike: Bike) -> tuple[ParamRow, ...]:
    """All parameters in the order of their index, with what is set by hand in place."""
    chosen = {p.name: p.value for p in bike.build.tune.chosen}
    made = {r[0]: r for r in recommended(bike)}
    rows = []
    for spec in PARAMS:
        if spec.name not in made:
            continue
        name, value, why, bound = made[spec.name]
        by_hand = chosen.get(name)
        rows.append(
            ParamRow(
                name,
                spec.label,
                spec.index,
                spec.quantity,
                value,
                why,
                bound,
                by_hand,
                value if by_hand is None else by_hand,
                spec.lo,
                spec.hi,
            )
        )
    return tuple(rows)
