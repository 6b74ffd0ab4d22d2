"""One logged ride: smooth without shifting, find the launches, integrate, split, say how sure.

Uncertainties are 95 % half-widths from the logger's rate and the noise seen in its own speed; they
do not know of a wrong clock or a wrong scale.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ninebolt.core.logs.geodesy import step_lengths
from ninebolt.core.vehicle.splits import Split, splits_of
from ninebolt.errors import FormatError

Floats = npt.NDArray[np.float64]

STANDING_M_S = 0.7
MOVING_M_S = 4.0
SMOOTH_S = 0.5
TOP_S = 1.0  # a top speed is held for so long
SHOWN_ROWS = 600


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


@dataclass(frozen=True, slots=True)
class MeasuredSplit:
    """A split with its 95 % half-width."""

    split: Split
    u95_s: float | None


@dataclass(frozen=True, slots=True)
class RideReport:
    """What one ride shows. t/speed/distance are of the chosen launch, thinned for drawing."""

    name: str
    rate_hz: float
    noise_m_s: float
    launches: tuple[Launch, ...]
    chosen: int
    splits: tuple[MeasuredSplit, ...]
    top_speed_m_s: float
    top_u95_m_s: float
    pack_ohm: float | None
    t_s: list[float]
    speed_m_s: list[float]
    distance_m: list[float]
    issues: tuple[str, ...]
    twist: tuple[
        float, ...
    ] = ()  # share of the moving time in each tenth of the throttle, where it was logged


def top_held(t: Floats, raw: Floats, noise: float) -> tuple[float, float]:
    """(top speed, half its 95 % interval): the best mean over a second, or over three samples where a second holds
    fewer.

    The greatest of several noisy means lies above the true one: what so many independent windows on the plateau add is
    taken off (three quarters of the usual bound, sd sqrt(2 ln n)), and half of it joins the half-width.
    """
    count = min(max(round(TOP_S / float(np.median(np.diff(t)))), 3), len(raw))
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
    steps = step_lengths(ride.columns["lat_deg"], ride.columns["lon_deg"])
    between = steps / np.diff(ride.columns["t_s"])
    padded = np.concatenate(([between[0]], between, [between[-1]]))
    return 0.5 * (padded[1:] + padded[:-1])


def smooth(t: Floats, y: Floats, window_s: float) -> Floats:
    """Local quadratic fit in a centred window (Savitzky-Golay on an even grid): no time shift.

    Source: Savitzky and Golay, Anal. Chem. 36 (1964) 1627.
    """
    dt = float(np.median(np.diff(t)))
    half = round(0.5 * window_s / dt)
    if half < 2 or len(y) < 2 * half + 1:
        return y.astype(np.float64)
    k = np.arange(-half, half + 1, dtype=np.float64)
    basis = np.vstack([np.ones_like(k), k, k * k]).T
    kernel = np.linalg.pinv(basis)[0]
    inner = np.convolve(y, kernel[::-1], mode="valid")
    return np.concatenate((y[:half], inner, y[-half:]))


def speed_noise(y: Floats) -> float:
    """Standard deviation of white noise on a smooth signal, from third differences (robust)."""
    if len(y) < 8:
        return 0.0
    third = np.diff(y, 3)
    spread = float(np.median(np.abs(third - np.median(third)))) * 1.4826
    return spread / math.sqrt(20.0)


def find_launches(t: Floats, v: Floats, raw: Floats, noise: float) -> tuple[Launch, ...]:
    """Each standing start: speed under 0.7 m/s, then through 4 m/s without standing again.

    v is smooth and only finds the places; the start itself is read from the raw speed, because
    smoothing rounds the corner where the bike leaves the line.
    """
    out = []
    i, n = 0, len(t)
    while i < n:
        standing = np.flatnonzero(v[i:] < STANDING_M_S)
        if not len(standing):
            break
        first = i + int(standing[0])
        moving = np.flatnonzero(v[first:] > MOVING_M_S)
        if not len(moving):
            break
        up = first + int(moving[0])
        last_still = first + int(np.flatnonzero(v[first:up] < STANDING_M_S)[-1])
        stops = np.flatnonzero(v[up:] < STANDING_M_S)
        end = up + int(stops[0]) if len(stops) else n - 1
        peak = up + int(np.argmax(v[up : end + 1]))
        t0, u95 = _start_time(t, raw, last_still, up, noise)
        if peak > up:
            out.append(Launch(t0, float(t[peak]), float(v[peak]), u95))
        i = end + 1
    return tuple(out)


def _start_time(t: Floats, v: Floats, still: int, up: int, noise: float) -> tuple[float, float]:
    """Where a line through the first metres per second meets zero; its 95 % half-width.

    The line cannot see a throttle that is rolled on. The last sample at rest can, as well as the
    sampling allows: half the distance between the two joins the half-width.
    """
    dt = float(np.median(np.diff(t)))
    low = max(still - round(0.6 / dt), 0)
    rows = [i for i in range(low, up + 1) if 4.0 * noise + 0.3 < v[i] < MOVING_M_S + 1.0]
    rows = rows if len(rows) >= 2 else [max(up - 1, 0), up]
    x, y = t[rows], v[rows]
    slope, cut = np.polyfit(x - x[0], y, 1)
    at_rest = [i for i in range(low, rows[0] + 1) if v[i] <= 3.0 * noise + 0.05]
    rest = float(t[at_rest[-1]]) if at_rest else float(t[low])
    if slope <= 0.1:
        return rest, float(t[up] - rest)
    t0 = min(max(float(x[0] - cut / slope), float(t[low])), float(t[rows[0]]))
    spread = noise / slope * math.sqrt(1.0 / len(rows) + _lever(x, t0))
    rolled_on = max(t0 - rest - dt, 0.0)
    return t0, 2.0 * math.hypot(spread, 0.1 * dt) + 0.5 * rolled_on


def _lever(x: Floats, at: float) -> float:
    """(at - mean)² / sum of squares: how far an extrapolation reaches beyond its points."""
    squares = float(np.sum((x - x.mean()) ** 2))
    return (at - float(x.mean())) ** 2 / squares if squares > 0.0 else 1.0


def analyse(ride: Ride, rollout: bool = False, extra_speed: float | None = None) -> RideReport:
    """Splits, top speed and pack resistance of a ride. Raises FormatError if it never launches."""
    t = ride.columns["t_s"]
    if len(t) < 5:
        raise FormatError(
            "The log is too short.",
            where=ride.name,
            got=f"{len(t)} usable rows",
            expected="at least 5",
        )
    raw = speed_column(ride)
    noise = speed_noise(raw)
    v = smooth(t, raw, SMOOTH_S)
    launches = find_launches(t, v, raw, noise)
    if not launches:
        raise FormatError(
            "No standing start was found.",
            where=ride.name,
            got=f"speeds from {float(raw.min()):.1f} to {float(raw.max()):.1f} m/s",
            expected=f"standing below {STANDING_M_S} m/s, then above {MOVING_M_S} m/s",
            todo="Log a second or more at rest before the run, and check the speed unit.",
        )
    chosen = max(range(len(launches)), key=lambda k: launches[k].peak_m_s)
    launch = launches[chosen]
    ts, vs, xs = _from_launch(t, v, raw, launch)
    accel = np.gradient(vs, ts)
    splits = splits_of(ts.tolist(), xs.tolist(), vs.tolist(), accel.tolist(), rollout, extra_speed)
    dt = float(np.median(np.diff(t)))
    inside = (t >= launch.t0_s) & (t <= launch.end_s + 2.0)
    top, top_u95 = top_held(t[inside], raw[inside], noise)
    thin = max(1, len(ts) // SHOWN_ROWS)
    return RideReport(
        ride.name,
        1.0 / dt,
        noise,
        launches,
        chosen,
        tuple(MeasuredSplit(s, _u95(s, launch, noise, dt, ts, vs)) for s in splits),
        top,
        top_u95,
        pack_resistance(ride, launch),
        ts[::thin].tolist(),
        vs[::thin].tolist(),
        xs[::thin].tolist(),
        ride.issues,
        twist_shares(ride, raw),
    )


def _from_launch(
    t: Floats, v: Floats, raw: Floats, launch: Launch
) -> tuple[Floats, Floats, Floats]:
    """Time from the launch, smooth speed and distance, to the peak of speed and two seconds beyond.

    Distance adds up the raw speed: its noise averages out, and no corner is rounded.
    """
    keep = (t > launch.t0_s + 1e-6) & (t <= launch.end_s + 2.0)
    ts = np.concatenate(([0.0], t[keep] - launch.t0_s))
    own = np.concatenate(([0.0], np.maximum(raw[keep], 0.0)))
    xs = np.concatenate(([0.0], np.cumsum(0.5 * (own[1:] + own[:-1]) * np.diff(ts))))
    return ts, np.concatenate(([0.0], np.maximum(v[keep], 0.0))), xs


def _u95(
    split: Split, launch: Launch, noise: float, dt: float, ts: Floats, vs: Floats
) -> float | None:
    """95 % half-width of a split: start time, distance noise, speed noise where it is crossed."""
    if split.time_s is None:
        return None
    speed = float(np.interp(split.time_s, ts, vs))
    if split.kind == "distance":
        wander = noise * math.sqrt(max(split.time_s, dt) * dt)
        own = 2.0 * wander / max(speed, 0.5)
    else:
        slope = float(np.interp(split.time_s, ts, np.gradient(vs, ts)))
        own = 2.0 * noise / math.sqrt(max(SMOOTH_S / dt, 1.0)) / max(slope, 0.05)
    return math.sqrt(launch.u95_s**2 + own**2 + (0.1 * dt) ** 2)


def pack_resistance(ride: Ride, launch: Launch) -> float | None:
    """Resistance seen at the controller: minus the slope of volts on amps over the run (ohm)."""
    if not {"bus_v", "line_a"} <= set(ride.columns):
        return None
    t = ride.columns["t_s"]
    keep = (t >= launch.t0_s - 0.5) & (t <= launch.end_s)
    amps, volts = ride.columns["line_a"][keep], ride.columns["bus_v"][keep]
    ok = np.isfinite(amps) & np.isfinite(volts)
    if ok.sum() < 10 or float(np.ptp(amps[ok])) < 10.0:
        return None
    return -float(np.polyfit(amps[ok], volts[ok], 1)[0])
