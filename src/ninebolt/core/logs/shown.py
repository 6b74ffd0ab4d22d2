"""What a log shows in figures: way, power, energy and energy for the way, sag, resistance, temperatures, turns of the
wheel; of the whole ride and of one stretch of it. Half-widths are 95 %, of noise and sampling; what the sensors
themselves are off by is not in them."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ninebolt.core.limits import Limit
from ninebolt.core.logs.clock import usual_step
from ninebolt.core.logs.ride import (
    SMOOTH_S,
    STANDING_M_S,
    Floats,
    Ride,
    hole_s,
    smooth,
    speed_column,
    speed_noise,
    top_held,
)
from ninebolt.core.logs.traces import CHANNELS
from ninebolt.core.logs.trust import Wheel, rolled
from ninebolt.units import KM_H_PER_M_S, S_PER_H

Bools = npt.NDArray[np.bool_]
IDLE_A = Limit(3.0, "a", "line current under which the pack counts as resting")
STEADY_M_S2 = Limit(0.2, "m_s2", "change of speed under which a ride is steady")
LEAST_STEADY_S = Limit(10.0, "s", "of steady riding in a range of speed before it is shown")
LEAST_WAY_M = Limit(50.0, "m", "a shorter way gives no energy for the way")
TURNING_M_S = Limit(5.0, "m_s", "speed from which on turns and way are compared")
WHEEL_OFF = Limit(
    0.02, "ratio", "turns and way further apart: ratio or rolling radius is not as written"
)
BAND_M_S = 10.0 / KM_H_PER_M_S
BLOCK_S = 5.0
TEMPERATURES = ("motor_c", "controller_c", "cells_c")


@dataclass(frozen=True, slots=True)
class Shown:
    """One figure. u95: None where it has no half-width of its own."""

    key: str
    label: str
    value: float
    u95: float | None
    quantity: str
    note: str = ""


@dataclass(frozen=True, slots=True)
class AtSpeed:
    """Energy for the way in a range of speed, steadily ridden."""

    from_m_s: float
    to_m_s: float
    wh_km: float
    u95: float | None
    seconds: float


@dataclass(frozen=True, slots=True)
class Stretch:
    """Figures of a ride or a part of it. words: what is not in it, and why."""

    figures: tuple[Shown, ...]
    by_speed: tuple[AtSpeed, ...]
    words: tuple[str, ...]


def stretch(ride: Ride, start_s: float, end_s: float, wheel: Wheel | None = None) -> Stretch:
    """Figures between two times of a ride (s)."""
    t = ride.columns["t_s"]
    rows = (t >= start_s) & (t <= end_s)
    if rows.sum() < 4:
        return Stretch((), (), ("too short for figures",))
    cols = {k: v[rows] for k, v in ride.columns.items()}
    raw = speed_column(ride)[rows]
    at = cols["t_s"]
    ok = np.isfinite(raw)
    v = smooth(at, np.where(ok, raw, np.interp(at, at[ok], raw[ok])), SMOOTH_S)
    words: list[str] = []
    steps = np.diff(at)
    whole = steps <= hole_s(float(np.median(steps)))
    if not whole.all():
        words.append(
            f"in {float(steps[~whole].sum()):.1f} s nothing was logged: way and energy of them are not in it"
        )
    out, way, u_way = _way(at, raw, v, whole)
    power = cols["bus_v"] * cols["line_a"] if {"bus_v", "line_a"} <= set(cols) else None
    by_speed: tuple[AtSpeed, ...] = ()
    if power is None or np.isfinite(power).sum() < 4:
        words.append("volts and line amps are not both logged: no power and no energy")
    else:
        out += _energy(at, power, v, whole, (way, u_way))
        by_speed = _by_speed(at, power, v, whole)
    out += _volts(cols)
    for key in ("line_a", "phase_a"):
        out += _greatest(at, cols.get(key), key)
    for key in TEMPERATURES:
        out += _warmth(at, cols.get(key), key)
    out += _turns(at, raw, v, cols, wheel)
    return Stretch(tuple(out), by_speed, tuple(words))


def _way(t: Floats, raw: Floats, v: Floats, whole: Bools) -> tuple[list[Shown], float, float]:
    """(figures, way in m, its half-width)."""
    steps = np.where(whole, np.diff(t), 0.0)
    own = np.maximum(np.nan_to_num(raw), 0.0)
    way = float(np.sum(0.5 * (own[1:] + own[:-1]) * steps))
    u95 = 2.0 * speed_noise(raw) * math.sqrt(float(np.sum(steps**2)))
    moving = 0.5 * (v[1:] + v[:-1]) > STANDING_M_S
    seconds = float(steps[moving].sum())
    out = [
        Shown("way", "way", way, u95, "m"),
        Shown("moving", "time moving", seconds, None, "s"),
    ]
    if seconds > 0.0:
        out.append(Shown("mean_speed", "mean speed, moving", way / seconds, u95 / seconds, "m_s"))
    return out, way, u95


def _integral(t: Floats, y: Floats, whole: Bools) -> tuple[float, float]:
    """(integral over time, half-width): noise, and what every second sample alone would have missed."""
    ok = np.isfinite(y)
    filled = np.interp(t, t[ok], y[ok])
    steps = np.where(whole, np.diff(t), 0.0)
    total = float(np.sum(0.5 * (filled[1:] + filled[:-1]) * steps))
    thin = np.interp(t, t[::2], filled[::2])
    coarse = float(np.sum(0.5 * (thin[1:] + thin[:-1]) * steps))
    noise = speed_noise(filled) * math.sqrt(float(np.sum(steps**2)))
    return total, math.hypot(2.0 * noise, (total - coarse) / 3.0)


def _energy(
    t: Floats, power: Floats, v: Floats, whole: Bools, way: tuple[float, float]
) -> list[Shown]:
    joules, u_j = _integral(t, power, whole)
    ok = np.isfinite(power)
    steady = smooth(t, np.interp(t, t[ok], power[ok]), SMOOTH_S)
    returned = steady < -2.0 * speed_noise(power[ok])  # noise about nothing is no regeneration
    back, u_back = _integral(t, np.where(returned, power, 0.0), whole)
    best, u_best = top_held(t[ok], power[ok], speed_noise(power[ok]))
    moving = (0.5 * (v[1:] + v[:-1]) > STANDING_M_S) & whole
    seconds = float(np.diff(t)[moving].sum())
    ridden, u_ridden = _integral(t, power, whole & moving)
    out = [Shown("peak_w", "peak power out of the pack, held for 1 s", best, u_best, "w")]
    if seconds > 0.0:
        out.append(Shown("mean_w", "mean power, moving", ridden / seconds, u_ridden / seconds, "w"))
    out.append(Shown("energy", "energy out of the pack", joules / S_PER_H, u_j / S_PER_H, "wh"))
    if -back > u_back and -back > 0.001 * abs(joules):
        out.append(Shown("back", "of it come back", -back / S_PER_H, u_back / S_PER_H, "wh"))
    if way[0] >= LEAST_WAY_M:
        each = joules / S_PER_H / (way[0] / 1000.0)
        off = abs(each) * math.hypot(u_j / joules if joules else 0.0, way[1] / way[0])
        out.append(Shown("wh_km", "energy for the way", each, off, "wh_km"))
    return out


def _by_speed(t: Floats, power: Floats, v: Floats, whole: Bools) -> tuple[AtSpeed, ...]:
    """Wh/km in ranges of 10 km/h, over steady blocks of five seconds."""
    dt = usual_step(t)
    half = max(round(1.0 / dt), 1)
    n = len(t)
    low, high = np.maximum(np.arange(n) - half, 0), np.minimum(np.arange(n) + half, n - 1)
    change = np.abs((v[high] - v[low]) / (t[high] - t[low]))
    steady = (change < STEADY_M_S2) & (v > STANDING_M_S) & np.isfinite(power)
    pieces = steady[1:] & steady[:-1] & whole
    mids = 0.5 * (v[1:] + v[:-1])
    joules = np.where(pieces, 0.5 * (power[1:] + power[:-1]) * np.diff(t), 0.0)
    metres = np.where(pieces, mids * np.diff(t), 0.0)
    bands = np.where(pieces, mids // BAND_M_S, -1).astype(int)
    blocks = ((t[1:] - t[0]) // BLOCK_S).astype(int)
    out = []
    for band in range(int(bands.max(initial=-1)) + 1):
        here = bands == band
        seconds = float(np.diff(t)[here].sum())
        if seconds < LEAST_STEADY_S:
            continue
        e = np.bincount(blocks[here], joules[here])
        s = np.bincount(blocks[here], metres[here])
        e, s = e[s > 0.0], s[s > 0.0]
        total = float(e.sum() / s.sum())
        # of the ratio of two sums over blocks: Cochran, Sampling Techniques, 1977, ch. 6
        spread = float(np.sqrt(np.sum((e - total * s) ** 2) / max(len(e) - 1, 1) * len(e)))
        u95 = 2.0 * spread / float(s.sum()) if len(e) > 2 else None
        factor = 1000.0 / S_PER_H
        out.append(
            AtSpeed(
                band * BAND_M_S,
                (band + 1) * BAND_M_S,
                total * factor,
                None if u95 is None else u95 * factor,
                seconds,
            )
        )
    return tuple(out)


def _volts(cols: dict[str, Floats]) -> list[Shown]:
    """Volts at rest before the load, the lowest held for a second, and the gap."""
    if "bus_v" not in cols:
        return []
    ok = np.isfinite(cols["bus_v"])
    t, volts = cols["t_s"][ok], cols["bus_v"][ok]
    if len(volts) < 8:
        return []
    noise = speed_noise(volts)
    low, u_low = top_held(t, -volts, noise)
    out = [Shown("low_v", "lowest pack volts, held for 1 s", -low, u_low, "v")]
    if "line_a" not in cols:
        return out
    idle = np.abs(cols["line_a"][ok]) < IDLE_A
    loaded = np.flatnonzero(~idle)
    before = idle[: loaded[0]] if len(loaded) else idle
    if before.sum() < 4:
        return out
    resting = volts[: len(before)][before]
    rest, u_rest = float(resting.mean()), 2.0 * noise / math.sqrt(len(resting))
    sag = rest + low
    return [
        Shown("rest_v", "pack volts before the load", rest, u_rest, "v"),
        *out,
        Shown("sag", "sag", sag, math.hypot(u_low, u_rest), "v", f"{100 * sag / rest:.1f} %"),
    ]


def _greatest(t: Floats, y: Floats | None, key: str) -> list[Shown]:
    if y is None or np.isfinite(y).sum() < 8:
        return []
    ok = np.isfinite(y)
    best, u95 = top_held(t[ok], y[ok], speed_noise(y[ok]))
    return [
        Shown(f"most_{key}", f"most {CHANNELS[key][0]}, held for 1 s", best, u95, CHANNELS[key][1])
    ]


def _warmth(t: Floats, y: Floats | None, key: str) -> list[Shown]:
    """Highest temperature and how far it rose over what it began with."""
    if y is None or np.isfinite(y).sum() < 8:
        return []
    ok = np.isfinite(y)
    t, y = t[ok], y[ok]
    noise = speed_noise(y)
    first = y[t <= t[0] + 1.0]
    begun, u_begun = float(first.mean()), 2.0 * noise / math.sqrt(len(first))
    best, u95 = top_held(t, y, noise)
    label = CHANNELS[key][0]
    return [
        Shown(f"most_{key}", f"{label}, warmest", best, u95, "c"),
        Shown(f"rise_{key}", f"{label}, rise", best - begun, math.hypot(u95, u_begun), "k"),
    ]


def _turns(
    t: Floats, raw: Floats, v: Floats, cols: dict[str, Floats], wheel: Wheel | None
) -> list[Shown]:
    """Rolling circumference by way and turns, beside the written one; one look a second, since its error is slow."""
    rpm, pairs = cols.get("rpm"), 1
    if rpm is None and "erpm" in cols and wheel is not None and wheel.pole_pairs:
        rpm, pairs = cols["erpm"], wheel.pole_pairs
    if rpm is None or wheel is None or ("speed_m_s" not in cols and "lat_deg" not in cols):
        return []
    turning = np.isfinite(rpm) & np.isfinite(raw) & (v > TURNING_M_S) & (rpm > 0.0)
    if turning.sum() < 8 or float(np.ptp(t[turning])) < 2.0:
        return []
    own = rolled(rpm[turning] / pairs, wheel)
    ratio = raw[turning] / own
    middle = float(np.median(ratio))
    spread = 1.4826 * float(np.median(np.abs(ratio - middle)))
    looks = max(float(np.unique(np.floor(t[turning])).size), 2.0)
    u95 = 2.0 * 1.2533 * spread / math.sqrt(looks)
    written = 2.0 * math.pi * wheel.radius_m
    off = middle - 1.0
    note = f"{100 * off:+.1f} % to what is written"
    if abs(off) > max(WHEEL_OFF, u95):
        note += ": ratio, tyre or slip is not as written"
    return [
        Shown(
            "rolled",
            "rolling circumference by way and turns",
            written * middle,
            written * u95,
            "m",
            note,
        )
    ]
