"""What held the bike at each instant of a log, told from what was measured and the limits in force; beside the
prediction at the same speed, and why the two part."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ninebolt.core.limits import Limit
from ninebolt.core.logs.ride import Floats, Ride
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.thrust import derates_from_c, emf_share, instant
from ninebolt.core.vehicle.road import grip_accel, road_load, wheelie_accel
from ninebolt.units import RPM_PER_RAD_S

FULL_TWIST = Limit(0.95, "ratio", "throttle from which on it counts as fully open")
AT_LIMIT = Limit(0.95, "ratio", "share of a limit from which on it counts as reached")
VOLTS_END = Limit(
    0.8, "ratio", "share of the bus that the motor's own volts take up where volts hold it"
)
AT_FLOOR = Limit(1.02, "ratio", "pack volts over the cut-off within which the cells hold it")
RATIO_OFF = Limit(0.02, "ratio", "rpm over speed against the written ratio")
SAG_OFF = Limit(0.15, "ratio", "resistance seen in a log against the planned one")
FLAT = Limit(0.03, "ratio", "spread of amps that stay level under some limit")
FLAT_S = 0.7
MOVING_M_S = 1.5
LEAST_SHARE = 0.04  # of the time looked at, less is no disagreement worth a word
UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True)
class Parted:
    """A stretch of disagreement. from_m_s, to_m_s: speeds between which it lies; seconds: how long in all."""

    logged: str
    predicted: str
    from_m_s: float
    to_m_s: float
    seconds: float
    sentence: str


@dataclass(frozen=True, slots=True)
class Held:
    """Columns of equal length: time from the start (s), speed (m/s), what held it by the log, what would by the
    prediction at that speed. why: in words, per kind of disagreement; blind: what the log does not show."""

    t_s: list[float]
    speed_m_s: list[float]
    logged: list[str]
    predicted: list[str]
    parted: tuple[Parted, ...]
    why: tuple[str, ...]
    blind: tuple[str, ...]


def held_by(ride: Ride, case: RunCase, t0: float, t1: float, speed: Floats, ratio: float) -> Held:
    """From one time of a log to another. speed: of every row (m/s); ratio: as written, of motor to wheel."""
    t = ride.columns["t_s"]
    rows = np.flatnonzero((t >= t0) & (t <= t1) & np.isfinite(speed) & (speed > MOVING_M_S))
    step = max(1, len(rows) // 400)
    rows = rows[::step]
    v = speed[rows]
    seen = {k: ride.columns[k][rows] for k in SEEN if k in ride.columns}
    accel = np.gradient(speed, t)[rows] if len(t) > 2 else np.zeros(len(rows))
    logged = [_one(i, v, accel, seen, case) for i in range(len(rows))]
    predicted = [instant(case, float(x)).choke for x in v]
    flat = _flat(t[rows], seen, logged)
    for i in flat[0]:
        logged[i] = "line"
    why = [*_explained(v, seen, case, ratio), *flat[1]]
    if "throttle" in seen and logged.count("throttle") > LEAST_SHARE * len(logged):
        part = logged.count("throttle") / len(logged)
        why.append(
            f"the throttle was not full in {100 * part:.0f} % of it: that part tells nothing of limits"
        )
    blind = tuple(words for key, words in BLIND.items() if key not in seen)
    parted = _parted(t[rows], v, logged, predicted, case, seen)
    return Held((t[rows] - t0).tolist(), v.tolist(), logged, predicted, parted, tuple(why), blind)


SEEN = ("bus_v", "line_a", "phase_a", "rpm", "throttle", "motor_c")
BLIND = {
    "throttle": "no throttle: a lifted hand looks like a limit",
    "line_a": "no line amps: neither controller nor BMS limit can be seen",
    "phase_a": "no phase amps: the motor's limit cannot be seen",
    "bus_v": "no pack volts: neither sag nor the end of the volts can be seen",
    "motor_c": "no motor temperature: a derate cannot be told from a limit",
}


def _one(i: int, v: Floats, accel: Floats, seen: dict[str, Floats], case: RunCase) -> str:
    """The choke at one row; unknown where nothing measured stands at a limit."""

    def at(key: str) -> float:
        return float(seen[key][i]) if key in seen else math.nan

    if at("throttle") < FULL_TWIST:
        return "throttle"
    if v[i] >= AT_LIMIT * case.cap_m_s:
        return "throttle"  # a speed cap is a hand on it
    own = case.phase_a
    hot = at("motor_c") > derates_from_c(case)
    if hot and at("phase_a") < AT_LIMIT * own:
        return "heat"
    limit = case.line_limit()
    if at("line_a") >= AT_LIMIT * limit.amps:
        return limit.choke
    if at("phase_a") >= AT_LIMIT * own:
        return "phase"
    if at("bus_v") <= case.floor_v * AT_FLOOR:
        return "cells"
    load = road_load(case.body, float(v[i]))
    ground = min(
        (wheelie_accel(case.body, load.aero_n), "wheelie"), (grip_accel(case.body, load), "grip")
    )
    if accel[i] >= AT_LIMIT * ground[0]:
        return ground[1]
    if at("bus_v") > 0.0 and emf_share(case, float(v[i]), at("bus_v")) >= VOLTS_END:
        return "volts"
    return UNKNOWN


def _flat(t: Floats, seen: dict[str, Floats], logged: list[str]) -> tuple[list[int], list[str]]:
    """Rows at which line amps stay level under no written limit, and what that says."""
    if "line_a" not in seen or len(t) < 5:
        return [], []
    amps = seen["line_a"]
    rows: list[int] = []
    i = 0
    levels: list[float] = []
    while i < len(t):
        j = i
        while (
            j + 1 < len(t)
            and logged[j + 1] == UNKNOWN
            and logged[i] == UNKNOWN
            and amps[i] > 20.0
            and abs(amps[j + 1] - amps[i]) <= FLAT * amps[i]
        ):
            j += 1
        if t[j] - t[i] >= FLAT_S:
            rows += range(i, j + 1)
            levels.append(float(np.median(amps[i : j + 1])))
        i = j + 1
    if not levels:
        return [], []
    return rows, [
        f"line amps stay level at {np.median(levels):.0f} A, which is no limit of this build: another profile, a BMS "
        "that limits, or a setting that was never written"
    ]


def _explained(v: Floats, seen: dict[str, Floats], case: RunCase, ratio: float) -> list[str]:
    """Gearing, sag and derate against what is written."""
    out = []
    if "rpm" in seen and math.isfinite(ratio):
        quick = v > 5.0
        if quick.sum() >= 5:
            real = float(np.median(seen["rpm"][quick] / RPM_PER_RAD_S * case.radius_m / v[quick]))
            if abs(real / ratio - 1.0) > RATIO_OFF:
                out.append(
                    f"rpm over speed says a ratio of {real:.2f}, the build says {ratio:.2f}: gearing or tyre is not as "
                    "written, or the wheel spun"
                )
    if {"bus_v", "line_a"} <= seen.keys():
        a, b = seen["line_a"], seen["bus_v"]
        ok = np.isfinite(a) & np.isfinite(b)
        if ok.sum() >= 8 and float(np.ptp(a[ok])) > 20.0:
            ohm = -float(np.polyfit(a[ok], b[ok], 1)[0])
            planned = case.pack_ohm
            if planned > 0.0 and ohm > (1.0 + SAG_OFF) * planned + case.slow_ohm:
                out.append(
                    f"it sags by {1e3 * ohm:.0f} mΩ where {1e3 * planned:.0f} mΩ are planned: cold or tired cells, "
                    "or a joint that warms"
                )
    if "motor_c" in seen:
        top = float(np.nanmax(seen["motor_c"])) if np.isfinite(seen["motor_c"]).any() else math.nan
        if top > derates_from_c(case):
            out.append(f"the motor reached {top:.0f} °C: the derate had begun")
    return out


def _parted(
    t: Floats,
    v: Floats,
    logged: Sequence[str],
    predicted: Sequence[str],
    case: RunCase,
    seen: dict[str, Floats],
) -> tuple[Parted, ...]:
    """Where log and prediction name another choke, longest first."""
    if len(t) < 3:
        return ()
    dt = np.gradient(t)
    pairs: dict[tuple[str, str], list[int]] = {}
    for i, (a, b) in enumerate(zip(logged, predicted, strict=True)):
        if a not in (b, UNKNOWN, "throttle"):
            pairs.setdefault((a, b), []).append(i)
    out = []
    for (a, b), rows in pairs.items():
        seconds = float(dt[rows].sum())
        if seconds < LEAST_SHARE * float(dt.sum()):
            continue
        low, high = float(v[rows].min()), float(v[rows].max())
        out.append(Parted(a, b, low, high, seconds, _why(a, b, rows, case, seen)))
    return tuple(sorted(out, key=lambda p: -p.seconds))


def _why(a: str, b: str, rows: list[int], case: RunCase, seen: dict[str, Floats]) -> str:
    if a in ("line", "BMS") and b not in ("line", "BMS"):
        amps = float(np.median(seen["line_a"][rows])) if "line_a" in seen else math.nan
        return f"pack current held it at {amps:.0f} A; {case.line_limit().amps:.0f} A are written"
    if a == "cells":
        return "the pack sagged to the cut-off, sooner than planned"
    if a == "volts":
        return "the volts ended sooner: more sag, a lower charge at the start, or a longer-turning motor than written"
    if a == "phase":
        return "phase amps held it longer: less sag than planned, or a heavier bike"
    if a in ("wheelie", "grip"):
        return "the ground held it where the drive was expected to: lighter, or more thrust than planned"
    return "the motor's heat held it: the derate started"
