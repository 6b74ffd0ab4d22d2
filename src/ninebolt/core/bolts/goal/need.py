"""Goal: what the wishes ask of wheel, pack and purse, at each voltage class."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import cast

import numpy as np

from ninebolt.core.bike.cells import cell_full_v, cell_nominal_v
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.reach import (
    PACK_TO_WHEEL,
    planned_body,
    ride_distance,
    run_wh,
    wh_per_m,
)
from ninebolt.core.bike.ride import assembled
from ninebolt.core.build import Build
from ninebolt.core.guard.conductors import BURST, SECTIONS_MM2, continuous_amps
from ninebolt.core.parts.drive import Controller
from ninebolt.core.parts.goal import ride_speed
from ninebolt.core.vehicle.need import ground_thrust_n, power_for_time, thrust_for_time
from ninebolt.core.vehicle.road import Body, road_loads

SAG_SHARE = 0.90  # volts under load over nominal volts. Common practice, no source.
USABLE_SHARE = 0.90  # energy used before the cut-off. Common practice, no source.
CLASSES_V = (60.0, 72.0, 84.0, 96.0)
CABLE_RISE_K, CABLE_AIR_C = 75.0, 30.0


@dataclass(frozen=True, slots=True)
class Need:
    """What the wishes ask. top_w, hill_w, time_w: power at the wheel; thrust_n: constant thrust of
    the standing start; ground_n: what the ground takes from rest. ride_wh: energy out of the pack
    for the wished ride, wh_per_m: the same by distance (None for hill runs), run_wh: of one run."""

    top_w: float | None
    hill_w: float | None
    time_w: float | None
    thrust_n: float | None
    ground_n: float
    ride_m: float | None
    ride_wh: float | None
    wh_per_m: float | None
    run_wh: float | None
    wish_w: float | None = None

    @property
    def most_w(self) -> float | None:
        """The largest power that any wish asks."""
        return max(
            [w for w in (self.top_w, self.hill_w, self.time_w, self.wish_w) if w is not None],
            default=None,
        )


@dataclass(frozen=True, slots=True)
class VoltageRow:
    """One voltage class: what its pack would have to give, and what is to be had for it.

    parallel: cells for energy and current both. controller: the lightest on the shelf that stands
    the full pack and these line amps; controllers: how many do.
    """

    nominal_v: float
    full_v: float | None
    series: int | None
    parallel: int | None
    line_a: float | None
    need_wh: float | None
    need_ah: float | None
    pack_kg: float | None
    pack_money: float | None
    money_per_kwh: float | None
    cable_mm2: int | None
    controller: str
    controllers: int
    controller_kg: float | None
    controller_money: float | None


@dataclass(frozen=True, slots=True)
class Answer:
    """What the goal takes, in the words one shops with: volts, energy, amps out of the pack, peak amps
    in a phase for the thrust from rest (with this build's motor and gearing), and money for what has a price of
    cells and controller (priced names them). None where it is not known or nothing asks for it."""

    nominal_v: float | None
    need_wh: float | None
    line_a: float | None
    phase_a: float | None
    money: float | None
    priced: tuple[str, ...]
    own: bool


def answer(bike: Bike, need: Need, rows: tuple[VoltageRow, ...]) -> Answer:
    """At the class of the pack that is planned; without one at the cheapest for which there is a
    controller."""
    pack = bike.build.pack
    own_v = None if pack.series is None else pack.series * cell_nominal_v(pack.cell)
    own = own_v is not None and not math.isnan(own_v)
    if own:
        row = min(rows, key=lambda r: abs(r.nominal_v - (own_v or 0.0)))
    else:
        had = [r for r in rows if r.controllers] or list(rows)
        row = min(had, key=_dear)
    prices = {"cells": row.pack_money, "controller": row.controller_money}
    parts = {name: money for name, money in prices.items() if money is not None}
    return Answer(
        row.nominal_v if own or row.line_a is not None else None,
        row.need_wh,
        row.line_a,
        _phase_a(bike, need),
        sum(parts.values()) if parts else None,
        tuple(parts),
        own,
    )


def _dear(row: VoltageRow) -> tuple[int, float]:
    """What has no price is not cheap."""
    prices = (row.pack_money, row.controller_money)
    return prices.count(None), sum(p or 0.0 for p in prices)


def _phase_a(bike: Bike, need: Need) -> float | None:
    """Peak phase amps that give the thrust of the standing start; None without motor or gearing."""
    case = assembled(bike).case
    if case is None or need.thrust_n is None:
        return None
    torque = need.thrust_n * case.radius_m / case.ratio / case.efficiency + case.drag_nm
    return torque / (1.5 * case.machine.pole_pairs * case.machine.flux_vs)


def powers(body: Body, speeds: Sequence[float], grade_pct: float | None = None) -> list[float]:
    """Power that the road takes at each speed (W)."""
    if grade_pct is not None:
        body = dataclasses.replace(body, grade_pct=grade_pct)
    column = np.asarray(speeds, dtype=np.float64)
    return cast(list[float], (road_loads(body, column).total_n * column).tolist())


def power(body: Body, speed: float, grade_pct: float | None = None) -> float:
    """Power that the road takes (W)."""
    return powers(body, (speed,), grade_pct)[0]


@fact
def need_of(bike: Bike) -> Need | None:
    """All that the wishes ask; None without a mass."""
    build, body = bike.build, planned_body(bike)
    if body is None:
        return None
    goal = build.goal
    target, hill, hill_v = goal.top_speed_m_s.amount, goal.hill_pct.amount, goal.hill_speed_m_s
    seconds, to_speed = goal.to_time_s.amount, goal.to_speed_m_s.taken
    distance = ride_distance(build)
    per_m, one = wh_per_m(bike, ride_speed(goal)), run_wh(bike)
    ride = None
    if one is not None:
        ride = one * (goal.runs or 1)
    elif per_m is not None and distance is not None:
        ride = per_m * distance
    return Need(
        power(body, target) if target else None,
        power(body, hill_v.amount, hill) if hill is not None and hill_v.amount else None,
        power_for_time(body, to_speed, seconds) if seconds else None,
        thrust_for_time(body, to_speed, seconds) if seconds else None,
        ground_thrust_n(body, 0.0),
        distance,
        ride,
        per_m,
        one,
        goal.power_w.amount,
    )


def voltage_rows(bike: Bike, need: Need) -> tuple[VoltageRow, ...]:
    """60, 72, 84 and 96 V beside each other, for the same power and energy."""
    build, shelf = bike.build, bike.shelf.of("controller", Controller)
    return tuple(_row(build, need, v, shelf) for v in CLASSES_V)


def _row(build: Build, need: Need, volts: float, shelf: tuple[Controller, ...]) -> VoltageRow:
    cell = build.pack.cell
    cell_v, most = cell_nominal_v(cell), need.most_w
    amps = most / PACK_TO_WHEEL / (volts * SAG_SHARE) if most else None
    wh = need.ride_wh / USABLE_SHARE if need.ride_wh else None
    step = cell.body_series
    series = None if math.isnan(cell_v) else max(1, round(volts / cell_v / step)) * step
    full_v = cell_full_v(cell)
    full = None if series is None or math.isnan(full_v) else series * full_v
    parallel = _parallel(build, series, amps, wh)
    kg = money = None
    if series and parallel:
        bodies = series * parallel / (cell.body_series * cell.body_parallel)
        if cell.mass_kg.amount is not None:
            kg = bodies * cell.mass_kg.amount + build.pack.case_kg.taken
        if cell.price_money.amount is not None:
            money = bodies * cell.price_money.amount
    held = _kwh(build, series, parallel)
    fits = sorted(
        (c for c in shelf if _stands(c, full, amps)), key=lambda c: c.mass_kg.or_else(math.inf)
    )
    best = fits[0] if fits else None
    return VoltageRow(
        volts,
        full,
        series,
        parallel,
        amps,
        wh,
        wh / volts if wh else None,
        kg,
        money,
        money / held if money is not None and held else None,
        _cable(amps),
        best.name if best else "",
        len(fits),
        best.mass_kg.amount if best else None,
        best.price_money.amount if best else None,
    )


def _kwh(build: Build, series: int | None, parallel: int | None) -> float | None:
    ah, v = build.pack.cell.capacity_ah.amount, cell_nominal_v(build.pack.cell)
    if series is None or parallel is None or ah is None or math.isnan(v):
        return None
    return series * parallel * ah * v / 1000.0


def _parallel(build: Build, series: int | None, amps: float | None, wh: float | None) -> int | None:
    """Cells in parallel that give both the energy and the current."""
    cell, one = build.pack.cell, _kwh(build, series, 1)
    if one is None:
        return None
    wants = [1.0]
    if wh:
        wants.append(wh / 1000.0 / one)
    peak = cell.i_peak_a.or_else(cell.i_cont_a.or_else(math.inf))
    if amps and math.isfinite(peak):
        wants.append(amps / peak)
    step = cell.body_parallel
    return math.ceil(max(wants) / step - 1e-9) * step


def _stands(c: Controller, full: float | None, amps: float | None) -> bool:
    top, line = c.v_max_v.amount, c.line_max_a.amount
    if top is None or line is None or full is None or amps is None:
        return False
    return top >= full and line >= amps


def _cable(amps: float | None) -> int | None:
    if amps is None:
        return None
    for mm2 in SECTIONS_MM2:
        if BURST * continuous_amps(mm2 * 1e-6, CABLE_RISE_K, CABLE_AIR_C) >= amps:
            return mm2
    return None
