"""The model learns from logged runs: what they say of drag, rolling, pack and driveline; adopted as measured; tried on
a run that was held back."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from ninebolt.core.bike.case import assemble
from ninebolt.core.build import Build
from ninebolt.core.logs.ride import Ride, analyse, speed_column
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.fit import Fit, Fitted, Trace, fit
from ninebolt.core.simulate.run import Stop, run
from ninebolt.errors import InputError
from ninebolt.services import workshop
from ninebolt.services.house import House

MASS_SPREAD = 0.02  # of what a scale and a rider's clothes make, where the ledger says nothing
MOST_LOGS = 12
MOST_SAMPLES = 400
VOLT_NOISE = 0.3
PATHS = {
    "cda_m2": ("road.cda_m2", "Drag area", "m2"),
    "crr": ("road.crr", "Rolling resistance", "ratio"),
    "mass_kg": ("", "Mass, rider on", "kg"),
    "r0_ohm": ("pack.cell.r0_ohm", "Cell resistance", "ohm"),
    "efficiency": ("gear.efficiency", "Driveline efficiency", "ratio"),
}


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
class Calibration:
    """What the runs say. together: pairs that cannot be told apart, in words. changes: what adopting would change."""

    runs: tuple[str, ...]
    values: tuple[Learned, ...]
    together: tuple[str, ...]
    rms_m_s: float
    held: HeldBack | None
    changes: tuple[dict[str, Any], ...]
    sentence: str


def calibrate(
    house: House, build_id: str, log_ids: list[str], hold_back: bool = True
) -> Calibration:
    """Fit on the logs given, the last held back where there are two or more. Raises InputError while the build does
    not compute or a log has no launch, NotFoundError for a log that is gone."""
    if not 1 <= len(log_ids) <= MOST_LOGS:
        raise InputError(
            "Choose the logs to learn from.", got=str(len(log_ids)), expected=f"1 to {MOST_LOGS}"
        )
    build = workshop.shown_build(house, build_id)
    made = assemble(build)
    if made.case is None:
        raise InputError(
            "The build does not compute yet.", got="missing " + ", ".join(made.missing)
        )
    rides = [house.rolled(build, i) for i in log_ids]
    traces = [trace_of(r) for r in rides]
    keep = len(traces) - 1 if hold_back and len(traces) > 1 else len(traces)
    found = fit(made.case, traces[:keep], spreads(build))
    held = _held(made.case, found, rides[keep], traces[keep]) if keep < len(traces) else None
    values = tuple(_learned(build, f) for f in found.values)
    words = tuple(f"{PATHS[a][1]} and {PATHS[b][1].lower()}" for a, b in found.together)
    changes = tuple(_change(v) for v in values if v.path and v.told)
    return Calibration(
        tuple(r.name for r in rides[:keep]),
        values,
        words,
        found.rms_m_s,
        held,
        changes,
        _said(values, held),
    )


def spreads(build: Build) -> dict[str, float]:
    """How far each value may be off, by what the build says of it."""
    return {
        "cda_m2": build.road.cda_m2.spread, "crr": build.road.crr.spread, "mass_kg": MASS_SPREAD,
        "r0_ohm": build.pack.cell.r0_ohm.spread,
        "efficiency": build.gear.efficiency.spread if build.gear.efficiency.known else 0.03,
    }  # fmt: skip


def trace_of(ride: Ride) -> Trace:
    """The fastest launch of a ride, from half a second before it to the peak of its speed."""
    report = analyse(ride)
    launch = report.launches[report.chosen]
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
        VOLT_NOISE,
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
    return Learned(f.name, label, quantity, path, f.before, f.value, f.half95, f.told)


def _change(v: Learned) -> dict[str, Any]:
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
        run(c, Stop(distance_m=split.mark, seconds=180.0)).series.t_s[-1]
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
