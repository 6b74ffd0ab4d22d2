"""The model learns from logged runs and coast-downs: what they say of drag, rolling, pack, driveline and grip; adopted
as measured; tried on a run that was held back."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import combinations
from typing import Any

import numpy as np

from ninebolt.core.bike.case import assemble
from ninebolt.core.bike.plausible import MASS_SPREAD
from ninebolt.core.build import Build
from ninebolt.core.logs.align import one_ride
from ninebolt.core.logs.coast import LEAST_DROP, LEAST_S, find_coasts
from ninebolt.core.logs.ride import Ride, analyse, speed_column, speed_noise, the_launch
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.fit import Fit, Fitted, Trace, fit, ridden_in
from ninebolt.core.simulate.run import Stop, run
from ninebolt.errors import FormatError, InputError
from ninebolt.services import workshop
from ninebolt.services.house import House
from ninebolt.services.learned import PATHS
from ninebolt.services.log_setup import setup_of
from ninebolt.services.moved import in_words, of_the_bike
from ninebolt.store.database import session
from ninebolt.store.sessions import list_sessions
from ninebolt.units import KM_H_PER_M_S

MOST_LOGS = 12
MOST_SAMPLES = 400
VOLT_NOISE = 0.3
Air = tuple[float | None, float | None]  # wind from ahead (m/s) and slope (%) a log was ridden in


@dataclass(frozen=True, slots=True)
class Learned:
    """One value. path: where it would be adopted, '' where the build has no single field for it."""

    name: str
    label: str
    quantity: str
    path: str
    before: float
    value: float
    half95: float
    told: bool


@dataclass(frozen=True, slots=True)
class HeldBack:
    """A run that the fit did not see: its time over its distance, predicted before and after."""

    name: str
    distance_m: float
    logged_s: float
    before_s: float
    after_s: float


@dataclass(frozen=True, slots=True)
class CoastUsed:
    """A coast-down that was learned from. seen_shut: the log shows the throttle shut; else only who rode says so."""

    name: str
    from_m_s: float
    to_m_s: float
    seconds: float
    seen_shut: bool


@dataclass(frozen=True, slots=True)
class Calibration:
    """What the runs say. together: pairs that cannot be told apart, in words. left_open: what was taken as given.
    changes: what adopting would change."""

    runs: tuple[str, ...]
    coasts: tuple[CoastUsed, ...]
    left_open: tuple[str, ...]
    values: tuple[Learned, ...]
    together: tuple[str, ...]
    rms_m_s: float
    held: HeldBack | None
    changes: tuple[dict[str, Any], ...]
    sentence: str


def calibrate(
    house: House,
    build_id: str,
    log_ids: list[str],
    hold_back: bool = True,
    coasting: list[str] | None = None,
    motor_turns: bool = True,
) -> Calibration:
    """Fit on the runs from rest of log_ids, the last held back where there are two or more, and on the coast-downs of
    coasting. motor_turns: false where the chain was off. Raises InputError while the build does not compute,
    FormatError for a log that holds no launch or no coast-down, NotFoundError for one that is gone."""
    coasting = coasting or []
    if not 1 <= len(log_ids) + len(coasting) <= MOST_LOGS:
        raise InputError(
            "Choose the logs to learn from.",
            got=str(len(log_ids) + len(coasting)),
            expected=f"1 to {MOST_LOGS}",
        )
    for ids in (log_ids, coasting):
        twice = next((i for i in ids if ids.count(i) > 1), None)
        if twice is not None:
            raise InputError(
                "One log counts once: twice it would seem twice as sure.", got=twice[:40]
            )
    build = workshop.shown_build(house, build_id)
    made = assemble(build)
    if made.case is None:
        raise InputError(
            "The build does not compute yet.", got="missing " + ", ".join(made.missing)
        )
    airs = _airs(house, build, build_id)
    rides, rolls = ([house.rolled(build, i) for i in ids] for ids in (log_ids, coasting))
    alike = (*_one_ride_each(rides), *_one_ride_each(rolls))
    traces = [trace_of(r, airs.get(i, (None, None))) for r, i in zip(rides, log_ids, strict=True)]
    keep = len(traces) - 1 if hold_back and len(traces) > 1 else len(traces)
    free_kg = None if motor_turns else build.gear.wheel_kg_m2.taken / made.case.radius_m**2
    coasts: list[CoastUsed] = []
    slowed: list[Trace] = []
    for log_id, roll in zip(coasting, rolls, strict=True):
        used, own = _coasts_of(roll, airs.get(log_id, (None, None)), free_kg)
        # ridden there and back in turn
        slowed += [
            replace(tr, way=-1.0 if (len(slowed) + k) % 2 else 1.0) for k, tr in enumerate(own)
        ]
        coasts += used
    found = fit(made.case, [*traces[:keep], *slowed], spreads(build))
    held = _held(made.case, found, rides[keep], traces[keep]) if keep < len(traces) else None
    values = tuple(_learned(build, f) for f in found.values)
    words = tuple(f"{PATHS[a][1]} and {PATHS[b][1].lower()}" for a, b in found.together)
    other = _another_bike(house, build_id, [*log_ids, *coasting])
    changes = () if other else tuple(_change(build, v) for v in values if v.path and v.told)
    return Calibration(
        tuple(r.name for r in rides[:keep]),
        tuple(coasts),
        (*other, *alike, *_left_open((log_ids, coasting), airs, coasts, motor_turns, found.sky)),
        values,
        words,
        found.rms_m_s,
        held,
        changes,
        _said(values, held),
    )


def _one_ride_each(rides: list[Ride]) -> tuple[str, ...]:
    """Which of them may be one ride. Raises InputError for two that hold the same samples."""
    out = []
    for first, second in combinations(rides, 2):
        match one_ride(first, second):
            case "the same":
                raise InputError(
                    "Two of these logs hold one ride: twice it would seem twice as sure.",
                    got=f"{first.name}, {second.name}",
                    todo="Leave one of them out.",
                )
            case "perhaps":
                out.append(
                    f"{first.name} and {second.name} are as near to each other as their noise. If two loggers wrote "
                    "one ride, leave one out: it counts as two here, and seems surer than it is."
                )
    return tuple(out)


def _another_bike(house: House, build_id: str, log_ids: list[str]) -> tuple[str, ...]:
    """Of each log that was ridden before something of the bike was changed: what. From such nothing is adopted."""
    out = []
    for log_id in log_ids:
        moved = of_the_bike(setup_of(house, build_id, log_id).moved)
        if moved:
            out.append(
                f"A log was ridden before the bike was changed ({in_words(moved)}): today's bike is fitted to it, so "
                "nothing is taken into the build. Ride again, or go back to the bike that was ridden."
            )
    return tuple(dict.fromkeys(out))


def _airs(house: House, build: Build, build_id: str) -> dict[str, Air]:
    """Wind and slope of each log as far as somebody wrote them down: of the chosen log on Prove, of others in the trial
    of a session that they belong to."""
    out: dict[str, Air] = {}
    with session(house.path) as db:
        for row in list_sessions(db, build_id):
            for trial in row.doc["trials"]:
                if trial.get("log_id"):
                    out[trial["log_id"]] = (trial.get("wind_m_s"), trial.get("slope_pct"))
    prove = build.prove
    if prove.log_id:
        wind, slope = out.get(prove.log_id, (None, None))
        own, level = prove.wind_m_s.amount, prove.slope_pct.amount
        out[prove.log_id] = (wind if own is None else own, slope if level is None else level)
    return out


def _left_open(
    logs: tuple[list[str], list[str]],
    airs: dict[str, Air],
    coasts: list[CoastUsed],
    motor_turns: bool,
    sky: tuple[float, float, float, float] | None,
) -> tuple[str, ...]:
    out = []
    for k, word in ((0, "In what wind"), (1, "On what slope")):
        runs, rolled = (sum(airs.get(i, (None, None))[k] is None for i in ids) for ids in logs)
        if runs:
            out.append(
                f"{word} {runs} of the runs from rest {'was' if runs == 1 else 'were'} ridden nobody says: the build's "
                "own road is taken, and what it is off by is learned as drag."
            )
        if rolled and sky is not None:
            value, half = (f"{x:.2g} {('m/s', '%')[k]}" for x in sky[2 * k : 2 * k + 2])
            out.append(
                f"{word} {rolled} of the coast-downs {'was' if rolled == 1 else 'were'} ridden nobody says: {value} "
                f"± {half} is learned from them, as there and back in turn."
            )
    blind = sum(not c.seen_shut for c in coasts)
    if blind:
        out.append(
            f"{blind} coast-down{'s show' if blind > 1 else ' shows'} neither throttle nor amps: a dragging brake "
            "would be learned as drag."
        )
    if coasts:
        out.append(
            "The motor turns with the wheel in them, so its own drag is in the slowing."
            if motor_turns
            else "The chain was off in them: of the motor they say nothing."
        )
    return tuple(out)


def _coasts_of(ride: Ride, air: Air, free_kg: float | None) -> tuple[list[CoastUsed], list[Trace]]:
    """Raises FormatError where the ride holds none."""
    found = find_coasts(ride)
    if not found:
        raise FormatError(
            "No coast-down was found.",
            where=ride.name,
            expected=f"{LEAST_S:.0f} s or more of slowing, by {LEAST_DROP * KM_H_PER_M_S:.0f} km/h or more, "
            "throttle shut, no brake",
            todo="Ride up to speed, shut the throttle and let it roll, there and back.",
        )
    t, v = ride.columns["t_s"], speed_column(ride)
    noise = max(speed_noise(v), 0.03)
    used, traces = [], []
    for c in sorted(found, key=lambda c: c.first):
        thin = max(1, (c.last - c.first) // MOST_SAMPLES)
        rows = slice(c.first, c.last, thin)
        used.append(CoastUsed(ride.name, c.from_m_s, c.to_m_s, c.seconds, c.seen_shut))
        # its first speed is a smoothed one: what it is off by is part of the fit
        speeds = [c.from_m_s, *v[rows].tolist()[1:]]
        traces.append(
            Trace(
                (t[rows] - t[c.first]).tolist(),
                speeds,
                noise,
                kind="coast",
                wind_m_s=air[0],
                grade_pct=air[1],
                free_kg=free_kg,
            )
        )
    return used, traces


def spreads(build: Build) -> dict[str, float]:
    """How far each value may be off, by what the build says of it."""
    return {
        "cda_m2": build.road.cda_m2.spread, "crr": build.road.crr.spread, "mass_kg": MASS_SPREAD,
        "r0_ohm": build.pack.cell.r0_ohm.spread,
        "efficiency": build.gear.efficiency.spread if build.gear.efficiency.known else 0.03,
        "grip_mu": build.gear.tyre.grip_mu.spread,
    }  # fmt: skip


def trace_of(ride: Ride, air: Air = (None, None)) -> Trace:
    """The fastest launch of a ride, from half a second before it to the peak of its speed. Raises FormatError where it
    holds none."""
    report = analyse(ride)
    launch = the_launch(report)
    t, v = ride.columns["t_s"], speed_column(ride)
    keep = (t >= launch.t0_s - 0.5) & (t <= launch.end_s) & np.isfinite(v)
    thin = max(1, int(keep.sum()) // MOST_SAMPLES)
    own_t, own_v = (t[keep] - launch.t0_s)[::thin], v[keep][::thin]
    volts = ride.columns.get("bus_v")
    own_b = (
        volts[keep][::thin] if volts is not None and bool(np.isfinite(volts[keep]).all()) else None
    )
    return Trace(
        own_t.tolist(), own_v.tolist(), max(report.noise_m_s, 0.03), own_b.tolist() if own_b is not None else None,
        VOLT_NOISE, wind_m_s=air[0], grade_pct=air[1],
    )  # fmt: skip


def _learned(build: Build, f: Fitted) -> Learned:
    path, label, quantity = PATHS[f.name]
    if f.name == "r0_ohm":  # the case holds it at the pack's temperature; the field is at 25 °C
        at_25 = build.pack.cell.r0_ohm.taken / f.before
        return Learned(
            f.name,
            label,
            quantity,
            path,
            f.before * at_25,
            f.value * at_25,
            f.half95 * at_25,
            f.told,
        )
    if f.name == "mass_kg" and build.road.total_kg.known:
        path = "road.total_kg"
    return Learned(f.name, label, quantity, path, f.before, f.value, f.half95, f.told)


def _change(build: Build, v: Learned) -> dict[str, Any]:
    if v.path == "donor.correction_kg":  # what the ledger does not hold, found by riding
        off = build.donor.correction_kg.or_else(0.0) + v.value - v.before
        amount = {"amount": round(off, 3), "origin": "measured", "tolerance": None}
        return {"path": v.path, "value": amount}
    tolerance = round(max(v.half95 / abs(v.value), 0.002), 4)
    return {
        "path": v.path,
        "value": {"amount": float(f"{v.value:.5g}"), "origin": "measured", "tolerance": tolerance},
    }


def _held(before: RunCase, found: Fit, ride: Ride, trace: Trace) -> HeldBack | None:
    report = analyse(ride)
    split = next(
        (s.split for s in reversed(report.splits) if s.split.kind == "distance" and s.split.time_s),
        None,
    )
    if split is None or split.time_s is None:
        return None
    times = [
        run(ridden_in(c, trace), Stop(distance_m=split.mark, seconds=180.0)).series.t_s[-1]
        for c in (before, found.case)
    ]
    return HeldBack(ride.name, split.mark, split.time_s, times[0], times[1])


def _said(values: tuple[Learned, ...], held: HeldBack | None) -> str:
    told = [v.label.lower() for v in values if v.told]
    words = (
        f"The runs tell {', '.join(told)}."
        if told
        else "The runs tell nothing that was not known before."
    )
    if held is not None:
        off = [100 * (s / held.logged_s - 1) for s in (held.before_s, held.after_s)]
        words += (
            f" {held.name}, not used: predicted {off[0]:+.1f} % off before, {off[1]:+.1f} % after."
        )
    return words
