"""What a wish asks of the wheel: power and thrust for a time to a speed, energy for a ride."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ninebolt.core.vehicle.road import Body, grip_accel, road_load, road_loads, wheelie_accel
from ninebolt.units import GRAVITY_M_S2

ROWS = 80
MOST_W = 2e6


def ground_thrust_n(body: Body, speed_m_s: float) -> float:
    """Most thrust that neither lifts the front wheel nor slips the rear one (N)."""
    load = road_load(body, speed_m_s)
    accel = min(wheelie_accel(body, load.aero_n), grip_accel(body, load))
    return body.mass_kg * accel + load.total_n if math.isfinite(accel) else math.inf


Rows = npt.NDArray[np.float64]  # columns: speed, what the ground takes, road load


def _speeds(to_speed: float) -> list[float]:
    return [to_speed * (i + 0.5) / ROWS for i in range(ROWS)]


def _rows(body: Body, to_speed: float) -> Rows:
    speeds = np.array(_speeds(to_speed))
    load = road_loads(body, speeds)
    accel = np.minimum(wheelie_accel(body, load.aero_n), grip_accel(body, load))
    return np.column_stack((speeds, body.mass_kg * accel + load.total_n, load.total_n))


def _time(rows: Rows, momentum: float, power_w: float) -> float:
    """t = ∫ m dv / (F - load); momentum: mass times the step of speed."""
    push = np.minimum(power_w / rows[:, 0], rows[:, 1]) - rows[:, 2]
    return math.inf if push.min() <= 0.0 else float(np.sum(momentum / push))


def time_with_power(body: Body, to_speed: float, power_w: float) -> float:
    """Time from rest with constant power at the wheel, held to what the ground takes (s); inf if
    the speed is never reached."""
    momentum = (body.mass_kg + body.rotating_kg) * to_speed / ROWS
    return _time(_rows(body, to_speed), momentum, power_w)


def power_for_time(body: Body, to_speed: float, seconds: float) -> float | None:
    """Least constant wheel power that reaches a speed in a time (W); None where even endless power
    would slip or lift a wheel."""
    momentum, rows = (body.mass_kg + body.rotating_kg) * to_speed / ROWS, _rows(body, to_speed)
    low, high = 0.0, MOST_W
    if _time(rows, momentum, high) > seconds:
        return None
    for _ in range(40):
        mid = 0.5 * (low + high)
        low, high = (low, mid) if _time(rows, momentum, mid) <= seconds else (mid, high)
    return high


def thrust_for_time(body: Body, to_speed: float, seconds: float) -> float:
    """Constant thrust that reaches a speed in a time (N), with the mean road load on the way."""
    speeds = np.array(_speeds(to_speed))
    mean = float(np.mean(road_loads(body, speeds).total_n))
    return (body.mass_kg + body.rotating_kg) * to_speed / seconds + mean


def stop_and_go_n(body: Body, speed_m_s: float, each_m: float) -> float:
    """Mean thrust of a ride that stops every so many metres, nothing won back (N): road load plus
    the kinetic energy thrown away at each stop."""
    kinetic = 0.5 * (body.mass_kg + body.rotating_kg) * speed_m_s**2
    return road_load(body, speed_m_s).total_n + kinetic / each_m


def hill_run_j(body: Body, climb_m: float, grade_pct: float, speed_m_s: float) -> float:
    """Energy at the wheel of one run up a hill from rest to a speed (J); the way down costs
    nothing."""
    slope = math.atan(max(grade_pct, 0.1) / 100.0)
    way = climb_m / math.sin(slope)
    load = road_load(body, speed_m_s)
    kinetic = 0.5 * (body.mass_kg + body.rotating_kg) * speed_m_s**2
    lift = body.mass_kg * GRAVITY_M_S2 * climb_m
    return lift + (0.5 * load.aero_n + load.rolling_n) * way + kinetic


def logged_n(body: Body, t_s: Sequence[float], speed_m_s: Sequence[float]) -> float | None:
    """Mean thrust of a logged ride over its way, braking counted as nothing won back (N)."""
    mass = body.mass_kg + body.rotating_kg
    work = way = 0.0
    for i in range(1, len(t_s)):
        dt = t_s[i] - t_s[i - 1]
        if dt <= 0.0:
            continue
        v = 0.5 * (speed_m_s[i] + speed_m_s[i - 1])
        push = mass * (speed_m_s[i] - speed_m_s[i - 1]) / dt + road_load(body, v).total_n
        work += max(0.0, push * v) * dt
        way += v * dt
    return work / way if way > 1.0 else None
