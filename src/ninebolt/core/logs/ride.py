"""One logged ride: smooth without shifting, find the launches, integrate, split, say how sure.

Uncertainties are 95 % half-widths from the logger's rate and the noise seen in its own speed; they
do not know of a wrong clock or a wrong scale.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
import numpy.typing as npt

from ninebolt.core.logs.clock import thinned, usual_step
from ninebolt.core.logs.heights import slope_by_height
from ninebolt.core.logs.places import Track, track_of
from ninebolt.core.logs.start import Noise, start_of
from ninebolt.core.vehicle.splits import Split, splits_of
from ninebolt.errors import FormatError
from ninebolt.units import S_PER_H

Floats = npt.NDArray[np.float64]

STANDING_M_S = 0.7
MOVING_M_S = 4.0
SMOOTH_S = 0.5
CHARGE_COUNTS_S = 30.0
TOLD_OHM = 0.5  # share of a resistance that its half-width may be, or nothing is said
NO_START = "no standing start in it, so no times from rest; the top speed is that of the whole ride"
TOP_S = 1.0  # a top speed is held for so long
SHOWN_ROWS = 600
REST_S = 0.8  # of rest before a start, in the fit
START_M_S = 6.0  # up to which a start is fitted
LEAST_ROWS = 4


@dataclass(frozen=True, slots=True)
class Ride:
    """Columns of equal length in SI; t_s rises. There is speed_m_s, or lat_deg and lon_deg.

    issues: what the reader could not use, in words.
    """

    name: str
    columns: dict[str, Floats]
    issues: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Launch:
    """t0_s: when it left the line, in the log's time. u95_s: how sure that is."""

    t0_s: float
    end_s: float
    peak_m_s: float
    u95_s: float
    row: int = -1  # with positions: from here on the way is taken from the path …
    covered_m: float = 0.0  # … where so much of it lay behind


@dataclass(frozen=True, slots=True)
class MeasuredSplit:
    """A split with its 95 % half-width."""

    split: Split
    u95_s: float | None


@dataclass(frozen=True, slots=True)
class RideReport:
    """What one ride shows. t/speed/distance are of the chosen launch, thinned for drawing; of the whole ride where it
    holds no standing start (a coast-down, a pass at speed, a loop begun under way), which has no splits either."""

    name: str
    rate_hz: float
    noise_m_s: float
    launches: tuple[Launch, ...]
    chosen: int
    splits: tuple[MeasuredSplit, ...]
    top_speed_m_s: float
    top_u95_m_s: float
    pack_ohm: float | None
    pack_ohm_u95: float | None
    t_s: list[float]
    speed_m_s: list[float]
    distance_m: list[float]
    issues: tuple[str, ...]
    twist: tuple[
        float, ...
    ] = ()  # share of the moving time in each tenth of the throttle, where it was logged
    quality: Literal["good", "fair", "poor"] = "good"
    quality_why: tuple[str, ...] = ()
    slope_pct: float | None = None  # by the log's own heights, along the chosen launch
    slope_u95: float | None = None
    # What of the bike was changed since it was ridden, in words, '' for nothing that a run reads; and the report
    # without that, the same object whatever was changed.
    moved: str = ""
    plain: RideReport | None = field(default=None, compare=False, repr=False)


def top_held(t: Floats, raw: Floats, noise: float) -> tuple[float, float]:
    """(top speed, half its 95 % interval): the best mean over a second, or over three samples where a second holds
    fewer.

    The greatest of several noisy means lies above the true one: what so many independent windows on the plateau add is
    taken off (three quarters of the usual bound, sd sqrt(2 ln n)), and half of it joins the half-width.
    """
    count = min(max(round(TOP_S / usual_step(t)), 3), len(raw))
    means = np.convolve(raw, np.ones(count) / count, "valid")
    best, sd = float(means.max()), noise / math.sqrt(count)
    windows = max(float(np.sum(means > best - 2.5 * sd)) / count, 1.0)
    above = 0.75 * sd * math.sqrt(2.0 * math.log(windows))
    return best - above, 2.0 * math.hypot(sd, 0.5 * above)


def twist_shares(ride: Ride, speed: Floats) -> tuple[float, ...]:
    """Share of the moving time in each tenth of the throttle; () where no throttle was logged."""
    if "throttle" not in ride.columns:
        return ()
    moving = np.isfinite(ride.columns["throttle"]) & (speed > STANDING_M_S)
    if moving.sum() < 2:
        return ()
    counts, _ = np.histogram(
        np.clip(ride.columns["throttle"][moving], 0.0, 1.0), bins=10, range=(0.0, 1.0)
    )
    return tuple((counts / counts.sum()).tolist())


def speed_column(ride: Ride) -> Floats:
    """Speed as logged, or from positions where none was logged (m/s)."""
    if "speed_m_s" in ride.columns:
        return ride.columns["speed_m_s"]
    if not {"lat_deg", "lon_deg"} <= set(ride.columns):
        raise FormatError(
            "There is neither a speed nor a position column.",
            where=ride.name,
            got=", ".join(ride.columns) or "nothing",
            expected="a speed column, or latitude and longitude",
            todo="Say which column holds the speed.",
        )
    return track(ride).speed


def track(ride: Ride) -> Track:
    """The way of a ride with positions."""
    return track_of(ride.columns["t_s"], ride.columns["lat_deg"], ride.columns["lon_deg"])


def smooth(t: Floats, y: Floats, window_s: float) -> Floats:
    """Local quadratic fit in a centred window (Savitzky-Golay on an even grid): no time shift.

    Source: Savitzky and Golay, Anal. Chem. 36 (1964) 1627.
    """
    dt = usual_step(t)
    half = round(0.5 * window_s / dt)
    if half < 2 or len(y) < 2 * half + 1:
        return y.astype(np.float64)
    k = np.arange(-half, half + 1, dtype=np.float64)
    basis = np.vstack([np.ones_like(k), k, k * k]).T
    kernel = np.linalg.pinv(basis)[0]
    inner = np.convolve(y, kernel[::-1], mode="valid")
    return np.concatenate((y[:half], inner, y[-half:]))


def summed(t: Floats, y: Floats) -> Floats:
    """What y adds up to over time since the first sample, by trapezia: a way from speeds, a charge from currents."""
    return np.concatenate(([0.0], np.cumsum(0.5 * (y[1:] + y[:-1]) * np.diff(t))))


def speed_noise(y: Floats) -> float:
    """Standard deviation of white noise on a smooth signal, from third differences (robust)."""
    if len(y) < 8:
        return 0.0
    third = thinned(np.diff(y, 3))
    spread = float(np.median(np.abs(third - np.median(third)))) * 1.4826
    return spread / math.sqrt(20.0)


def find_launches(
    t: Floats, v: Floats, raw: Floats, noise: float, way: Track | None = None
) -> tuple[Launch, ...]:
    """Each standing start: speed under 0.7 m/s, then through 4 m/s without standing again.

    v is smooth and only finds the places; the start itself is fitted to the raw speed, or to the raw
    positions where there are only those, because smoothing rounds the corner where the bike leaves the line.
    """
    out = []
    i, n, dt = 0, len(t), usual_step(t)
    still, quick = np.flatnonzero(v < STANDING_M_S), np.flatnonzero(v > MOVING_M_S)
    while i < n:
        first = _from(still, i)
        up = None if first is None else _from(quick, first)
        if first is None or up is None:
            break
        last_still = int(still[np.searchsorted(still, up) - 1])
        stop = _from(still, up)
        end = n - 1 if stop is None else stop
        peak = up + int(np.argmax(v[up : end + 1]))
        if peak > up:
            out.append(_launch((t, raw, dt), last_still, up, peak, noise, way))
        i = end + 1
    return tuple(out)


def _from(places: npt.NDArray[np.intp], at: int) -> int | None:
    """The first of rising places that is not before one; None where there is none."""
    k = int(np.searchsorted(places, at))
    return int(places[k]) if k < len(places) else None


def _launch(
    log: tuple[Floats, Floats, float],
    still: int,
    up: int,
    peak: int,
    noise: float,
    way: Track | None,
) -> Launch:
    """The start fitted over the first metres, from a second of rest before. log: times, speeds, usual step."""
    t, raw, dt = log
    first = max(still - max(round(REST_S / dt), 2), 0)
    quick = np.flatnonzero(raw[still : peak + 1] > START_M_S)
    last = still + max(int(quick[0]) if len(quick) else peak - still, LEAST_ROWS)
    last = min(last, peak, len(t) - 1) + 1
    low, high = float(t[first]), float(t[min(up, last - 1)])
    rows = slice(first, last)
    if way is None:
        start = start_of(t[rows], raw[rows], "speed", Noise(max(noise, 0.01)), low, high)
        return Launch(start.t0_s, float(t[peak]), float(raw[peak]), start.u95_s)
    along, smooth_along = way.along(first, last)
    start = start_of(t[rows], along, "place", way.noise, low, high)
    under_way = int(np.searchsorted(t[rows], start.t0_s)) + max(round(0.7 / dt), 1)
    at = min(under_way, last - first - 1)
    covered = float(smooth_along[at]) - start.zero
    return Launch(start.t0_s, float(t[peak]), float(raw[peak]), start.u95_s, first + at, covered)


def analyse(
    ride: Ride,
    rollout: bool = False,
    extra_speed: float | None = None,
    wanted: int | None = None,
) -> RideReport:
    """Splits, top speed and pack resistance of a ride. wanted: which launch, from 1; None, or one that is not there,
    for the fastest. Raises FormatError if nothing in it moves."""
    t = ride.columns["t_s"]
    if len(t) < 5:
        raise FormatError(
            "The log is too short.",
            where=ride.name,
            got=f"{len(t)} usable rows",
            expected="at least 5",
        )
    way = None if "speed_m_s" in ride.columns or "lat_deg" not in ride.columns else track(ride)
    raw = speed_column(ride) if way is None else way.speed
    noise = speed_noise(raw) if way is None else way.speed_noise
    v = smooth(t, raw, SMOOTH_S)
    launches = find_launches(t, v, raw, noise, way)
    if not launches:
        return _under_way(ride, v, raw, noise)
    fastest = max(range(len(launches)), key=lambda k: launches[k].peak_m_s)
    chosen = wanted - 1 if wanted is not None and 1 <= wanted <= len(launches) else fastest
    launch = launches[chosen]
    ts, vs, xs = _from_launch(t, v, raw, launch, way)
    accel = np.gradient(vs, ts)
    splits = splits_of(ts, xs, vs, accel, rollout, extra_speed)
    dt = usual_step(t)
    inside = (t >= launch.t0_s) & (t <= launch.end_s + 2.0)
    top, top_u95 = top_held(t[inside], raw[inside], noise)
    thin = max(1, len(ts) // SHOWN_ROWS)
    ohms = pack_resistance(ride, launch)
    return RideReport(
        ride.name,
        1.0 / dt,
        noise,
        launches,
        chosen,
        tuple(MeasuredSplit(s, _u95(s, launch, noise, dt, (ts, vs, accel), way)) for s in splits),
        top,
        top_u95,
        *ohms,
        ts[::thin].tolist(),
        vs[::thin].tolist(),
        xs[::thin].tolist(),
        ride.issues,
        twist_shares(ride, raw),
        *_quality(ride, t[inside], noise, launch),
        *slope_by_height(
            t,
            ride.columns.get("altitude_m", np.full(len(t), math.nan)),
            launch.t0_s,
            launch.end_s,
            float(np.interp(launch.end_s - launch.t0_s, ts, xs)),
        ),
    )


def _under_way(ride: Ride, v: Floats, raw: Floats, noise: float) -> RideReport:
    """A ride without a standing start: its top speed, its whole length."""
    t = ride.columns["t_s"]
    if not float(v.max()) > MOVING_M_S:
        raise FormatError(
            "Nothing moves in this log.",
            where=ride.name,
            got=f"speeds from {float(raw.min()):.1f} to {float(raw.max()):.1f} m/s",
            expected=f"a ride faster than {MOVING_M_S} m/s",
            todo="Check the unit of the speed.",
        )
    top, top_u95 = top_held(t, raw, noise)
    own = np.maximum(raw, 0.0)
    way = summed(t, own)
    thin = max(1, len(t) // SHOWN_ROWS)
    ohms = pack_resistance(ride, None)
    return RideReport(
        ride.name,
        1.0 / usual_step(t),
        noise,
        (),
        0,
        (),
        top,
        top_u95,
        *ohms,
        t[::thin].tolist(),
        v[::thin].tolist(),
        way[::thin].tolist(),
        (*ride.issues, NO_START),
        twist_shares(ride, raw),
        *_quality(ride, t, noise, None),
    )


def the_launch(report: RideReport) -> Launch:
    """The chosen launch. Raises FormatError where the ride holds none."""
    if report.launches:
        return report.launches[report.chosen]
    raise FormatError(
        "No standing start was found.",
        where=report.name,
        got=f"a ride under way, up to {report.top_speed_m_s:.1f} m/s",
        expected=f"standing below {STANDING_M_S} m/s, then above {MOVING_M_S} m/s",
        todo="Log a second or more at rest before the run.",
    )


def hole_s(dt: float) -> float:
    """From how long on a step between two samples is a hole in the log, where one is usually dt. Common practice."""
    return max(3.0 * dt, 0.5)


def _quality(
    ride: Ride, t: Floats, noise: float, launch: Launch | None
) -> tuple[Literal["good", "fair", "poor"], tuple[str, ...]]:
    """How far a log of this kind may be leant on, and why not further. Limits: common practice, no source."""
    steps = np.diff(t)
    dt, gap = float(np.median(steps)), float(steps.max())
    start = launch.u95_s if launch is not None else 0.0
    poor = [
        (gap > hole_s(dt), f"a gap of {gap:.2f} s in the {'run' if launch else 'ride'}"),
        (start > 0.3, f"the start is only known to ± {start:.2f} s"),
        (dt > 0.6, f"{1.0 / dt:.1f} samples a second"),
        (noise > 1.0, f"speed noise of {noise:.2f} m/s"),
    ]
    fair = [
        ("speed_m_s" not in ride.columns, "speed is from positions"),
        (0.11 < dt <= 0.6, f"{1.0 / dt:.1f} samples a second"),
        (0.25 < noise <= 1.0, f"speed noise of {noise:.2f} m/s"),
        (0.12 < start <= 0.3, f"the start is known to ± {start:.2f} s"),
    ]
    for word, rows in (("poor", poor), ("fair", fair)):
        why = tuple(text for bad, text in rows if bad)
        if why:
            return ("poor" if word == "poor" else "fair"), why
    return "good", ()


def _from_launch(
    t: Floats, v: Floats, raw: Floats, launch: Launch, way: Track | None
) -> tuple[Floats, Floats, Floats]:
    """Time from the launch, smooth speed and distance, to the peak of speed and two seconds beyond.

    Distance adds up the raw speed: its noise averages out, and no corner is rounded.
    """
    keep = (t > launch.t0_s + 1e-6) & (t <= launch.end_s + 2.0)
    ts = np.concatenate(([0.0], t[keep] - launch.t0_s))
    own = np.concatenate(([0.0], np.maximum(raw[keep], 0.0)))
    xs = summed(ts, own)
    if way is not None:
        xs = _on_the_way(t, launch, way, keep, ts, xs)
    return ts, np.concatenate(([0.0], np.maximum(v[keep], 0.0))), xs


def _on_the_way(
    t: Floats, launch: Launch, way: Track, keep: npt.NDArray[np.bool_], ts: Floats, xs: Floats
) -> Floats:
    """Way along the path from the row where it is well under way; before it, by the speed, scaled to meet there."""
    path = np.concatenate((np.zeros(launch.row), way.way(launch.row, launch.covered_m)))
    rows = np.flatnonzero(keep)
    joined = float(np.interp(t[launch.row] - launch.t0_s, ts, xs))
    scale = launch.covered_m / joined if joined > 0.0 else 1.0
    own = np.concatenate(([0.0], path[rows]))
    early = np.concatenate(([True], rows < launch.row))
    return np.maximum.accumulate(np.where(early, xs * scale, own))


def _u95(
    split: Split,
    launch: Launch,
    noise: float,
    dt: float,
    run: tuple[Floats, Floats, Floats],
    way: Track | None,
) -> float | None:
    """95 % half-width of a split: start time, distance noise, speed noise where it is crossed. run: times, speeds,
    accelerations."""
    if split.time_s is None:
        return None
    ts, vs, accel = run
    speed = float(np.interp(split.time_s, ts, vs))
    if split.kind == "distance":
        wander = noise * math.sqrt(max(split.time_s, dt) * dt)
        if way is not None:
            wander = math.sqrt(2.0 * way.noise.white**2 * dt + way.noise.walk * split.time_s)
        own = 2.0 * wander / max(speed, 0.5)
    else:
        slope = float(np.interp(split.time_s, ts, accel))
        seen = noise if way is not None else noise / math.sqrt(max(SMOOTH_S / dt, 1.0))
        own = 2.0 * seen / max(slope, 0.05)
    return math.sqrt(launch.u95_s**2 + own**2 + (0.1 * dt) ** 2)


def pack_resistance(ride: Ride, launch: Launch | None) -> tuple[float | None, float | None]:
    """(resistance seen at the controller, its 95 % half-width), minus the slope of volts on amps over the run or the
    whole ride (ohm). None where the amps hardly move, or what they tell is no surer than half of it.

    Over more than half a minute the charge drawn is a second variable, since the open volts fall with it; in a shorter
    stretch it cannot be told from the slow part of the cells. What is left over is alike from one sample to the next,
    so it counts as fewer samples: n (1 - ρ)/(1 + ρ), ρ between neighbours. Source of that: Bartlett, J. Roy. Stat. Soc.
    98 (1935) 536.
    """
    if not {"bus_v", "line_a"} <= set(ride.columns):
        return None, None
    t = ride.columns["t_s"]
    keep = np.ones(len(t), dtype=bool)
    if launch is not None:
        keep = (t >= launch.t0_s - 0.5) & (t <= launch.end_s)
    amps, volts, at = ride.columns["line_a"][keep], ride.columns["bus_v"][keep], t[keep]
    ok = np.isfinite(amps) & np.isfinite(volts)
    amps, volts, at = amps[ok], volts[ok], at[ok]
    if len(amps) < 10 or float(np.ptp(amps)) < 10.0:
        return None, None
    columns = [amps, np.ones(len(amps))]
    if at[-1] - at[0] > CHARGE_COUNTS_S:
        columns.append(summed(at, amps) / S_PER_H)
    m = np.column_stack(columns)
    found = np.linalg.lstsq(m, volts, rcond=None)[0]
    rest = volts - m @ found
    square = float(rest @ rest)
    alike = float(rest[1:] @ rest[:-1]) / square if square > 0.0 else 0.0
    alike = min(max(alike, 0.0), 0.99)
    spare = max((len(amps) - m.shape[1]) * (1.0 - alike) / (1.0 + alike), 1.0)
    own = float(np.linalg.pinv(m.T @ m)[0, 0]) * len(amps)
    value, u95 = -float(found[0]), 2.0 * math.sqrt(square / len(amps) / spare * own)
    return (value, u95) if value > 0.0 and u95 < TOLD_OHM * value else (None, None)
