"""Numbers in, numbers out: thrust at one instant, one run, the envelope, top speed.

Loaded twice, as point.py says; POINT is then the compiled point module.

The run is integrated by Dormand and Prince's pair 5(4) (J. Comp. Appl. Math. 6 (1980) 19). The step
follows the estimated error, so the stiffest thing in the bike sets it; where the choke changes, a
step ends on the change. Local error at most TOLERANCE of each state per step.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any, TypeVar

import numpy as np

from ninebolt.core.kernel import point as plain_point
from ninebolt.core.kernel.point import (
    AERO_KG_M,
    AIR_C,
    BY_CURRENT,
    BY_LINE,
    CAP_M_S,
    CASE_AIR_K_W,
    CASE_J_K,
    DISTANCE,
    DRAG_NM,
    DRAG_NM_S_RAD,
    DRIVER,
    EFFICIENCY,
    FIXED_W,
    FLOOR_V,
    FW_A,
    GEAR,
    GRADE_N,
    GRIP,
    GRIP_AERO,
    GRIP_ROOM_KG,
    GRIP_STATIC_N,
    HAS_HEAT,
    LD_H,
    LIMIT_A,
    LQ_H,
    MASS_EFF_KG,
    NUMBERS,
    PACK_OHM,
    PER_COULOMB,
    PHASE_A,
    POLE_PAIRS,
    R_OHM,
    R_SWITCH_OHM,
    RAMP_S,
    ROLLING_N,
    SLOW_OHM,
    SPEED,
    STALLED,
    STEPS,
    TAU_S,
    TIME,
    VOLTS,
    WHEELIE,
    WHEELIE_M_S2,
    WHEELIE_PER_KG,
    WIND_M_S,
    WINDING_CASE_K_W,
    WINDING_J_K,
)

F = TypeVar("F", bound=Callable[..., Any])
if "JIT" not in globals():

    def JIT(function: F) -> F:
        """Plain: the function as it stands."""
        return function

    INLINE = JIT


POINT = globals().get("POINT", plain_point)
ocv_v = POINT.ocv_v
dc_power_w = POINT.dc_power_w
bus_v = POINT.bus_v
solve = POINT.solve
at_torque = POINT.at_torque
volts_needed = POINT.volts_needed
phase_cap = POINT.phase_cap
supply = POINT.supply
wheel_n = POINT.wheel_n
crossing = POINT.crossing

COPPER_PER_K = 0.00393  # IEC 60028, from 20 °C
TOLERANCE = 1e-5
STEP_MAX_S = 0.7
LATE_STEP_MAX_S = 2.5
ROW_EACH_S = 0.15  # how close rows lie once they are filled in
LATE_S = 4.0
FIRST_STEP_S = 0.1
GROWTH = 5.0  # of a step from one to the next, at most
STEP_MIN_S = 1e-7
AT_ONCE_S = 5e-5  # a change that near to an end of a step is at its end
LANDED_S = 1e-10  # how close a run ends to its mark
NEAR_S = 1e-3  # as close to it, the slopes at hand tell the rest better than that
MOST_STEPS = 60_000
NEAR_SHARE = (
    0.5**7
)  # of a step: as near as its own cubic, bent by the change, can tell where that lies
CHANGE_SHARE = 0.5**13  # of the step that ends there: what may lie past the change
LAST_SHARE = 0.9997  # a change that close to the end of a step is at its end
STILL_S = 2.0
STATES = 6  # speed, distance, charge, slow volts, winding, case
POWERS = 9
OVER_CAP_M_S = 0.01  # past a speed cap by more than this the drive gives nothing
SEEN = 8  # what is recorded beside the states
COLUMNS = 15  # t, x, v, a, thrust, bus, line, iq, id, torque, charge, winding, case, choke, slow


@INLINE
def instant(
    c: Any,
    xs: Any,
    ys: Any,
    v: float,
    soc: float,
    slow_v: float,
    winding_c: float,
    t: float,
    own_a: float,
) -> tuple[
    float,
    float,
    float,
    int,
    float,
    float,
    float,
    float,
    float,
    float,
    float,
    float,
    float,
    float,
    float,
]:
    """(acceleration, thrust as held, thrust the drive could push, choke, iq, id, bus V, line A,
    torque, copper W, controller W, shaft torque as held, road load N, aero N, open volts of the pack).

    own_a: phase amps asked instead of the setting's, inf for none. Where the ground holds back, the
    operating point is the one that the rider needs, not full torque.
    """
    motor = v * c[GEAR]
    we = motor * c[POLE_PAIRS]
    e, limit, line_choke = supply(c, xs, ys, soc, slow_v)
    cap, cap_choke = phase_cap(c, t, winding_c)
    if v > c[CAP_M_S] + OVER_CAP_M_S:
        own_a = 0.0
    if own_a < cap:
        cap, cap_choke = own_a, DRIVER
    r = c[R_OHM] * (1.0 + COPPER_PER_K * (winding_c - 20.0))
    rs = float(c[PACK_OHM])
    iq, id_, flux, bound = solve(c, r, we, e, rs, limit, cap)
    choke = cap_choke if bound == BY_CURRENT else line_choke if bound == BY_LINE else VOLTS
    k = 1.5 * c[POLE_PAIRS]
    lx = c[LD_H] - c[LQ_H]
    torque = k * (flux + lx * id_) * iq
    drag = c[DRAG_NM] + c[DRAG_NM_S_RAD] * motor
    shaft = torque - drag
    free = wheel_n(c, shaft)
    air = v + c[WIND_M_S]
    aero = c[AERO_KG_M] * air * abs(air)
    load = aero + c[ROLLING_N] + c[GRADE_N]
    accel = (free - load) / c[MASS_EFF_KG]
    held, ground = c[WHEELIE_M_S2] - c[WHEELIE_PER_KG] * aero, WHEELIE
    if c[GRIP_ROOM_KG] > 0.0:
        grip = (c[GRIP_STATIC_N] + c[GRIP_AERO] * aero - load) / c[GRIP_ROOM_KG]
        if grip < held:
            held, ground = grip, GRIP
    if v >= c[CAP_M_S] and held > 0.0:  # no faster, but nothing that brakes where the road pushes
        held, ground = max(0.0, (wheel_n(c, -drag) - load) / c[MASS_EFF_KG]), DRIVER
    if accel > held:
        accel, choke = held, ground
    thrust = accel * c[MASS_EFF_KG] + load
    # The ground holds a bike that the drive cannot move: what it pushes with stays its own, its drag pushes no way.
    if v <= 0.0 and accel < 0.0:
        accel, thrust, free = 0.0, max(thrust, 0.0), max(free, 0.0)
    if free > thrust:
        shaft = thrust / (c[GEAR] * c[EFFICIENCY])
        iq, id_, flux = at_torque(c, r, we, e, rs, max(shaft + drag, 0.0))
        torque = k * (flux + lx * id_) * iq
    square = iq * iq + id_ * id_
    power = dc_power_w(c, r, flux, we, iq, id_)
    bus = bus_v(e, rs, power)
    line = power / bus if bus > 0.0 else 0.0
    if soc <= 0.0:
        line = 0.0
    return (
        accel,
        thrust,
        free,
        choke,
        iq,
        id_,
        bus,
        line,
        torque,
        1.5 * r * square,
        1.5 * c[R_SWITCH_OHM] * square + c[FIXED_W],
        torque - drag if v > 0.0 else max(torque - drag, 0.0),
        load,
        aero,
        e + slow_v,
    )


@JIT
def rates(c: Any, xs: Any, ys: Any, y: Any, t: float, k: Any, i: int) -> int:
    """Fill row i of k with the time derivatives of the states, the powers and what is recorded; the
    choke, and 16 more where the cells are empty."""
    v, soc = max(y[0], 0.0), y[2]
    now = instant(c, xs, ys, v, soc, y[3], y[4], t, math.inf)
    accel, thrust, choke, iq, id_ = now[0], now[1], now[3], now[4], now[5]
    bus, line, torque, copper = now[6], now[7], now[8], now[9]
    control, shaft, aero, open_v = now[10], now[11], now[13], now[14]
    motor = v * c[GEAR]
    dragged = (c[DRAG_NM] + c[DRAG_NM_S_RAD] * motor) * motor
    k[i, 0] = accel
    k[i, 1] = v
    k[i, 2] = -line * c[PER_COULOMB]
    k[i, 3] = (line * c[SLOW_OHM] - y[3]) / c[TAU_S]
    k[i, 4] = k[i, 5] = 0.0
    if c[HAS_HEAT] > 0.0:
        flow = (y[4] - y[5]) / c[WINDING_CASE_K_W]
        k[i, 4] = (copper - flow) / c[WINDING_J_K]
        k[i, 5] = (flow + dragged - (y[5] - c[AIR_C]) / c[CASE_AIR_K_W]) / c[CASE_J_K]
    empty = soc <= 0.0
    k[i, 6] = open_v * line
    k[i, 7] = line * line * c[PACK_OHM] + y[3] * line
    k[i, 8] = 0.0 if empty else control
    k[i, 9] = 0.0 if empty else copper
    k[i, 10] = dragged
    k[i, 11] = shaft * motor - thrust * v
    k[i, 12] = aero * v
    k[i, 13] = c[ROLLING_N] * v
    k[i, 14] = c[GRADE_N] * v
    k[i, 15], k[i, 16], k[i, 17], k[i, 18] = accel, thrust, bus, line
    k[i, 19], k[i, 20], k[i, 21], k[i, 22] = iq, id_, torque, choke
    return choke + (16 if empty else 0)


ALL = STATES + POWERS
WIDTH = ALL + SEEN
# Dormand-Prince 5(4).
_A21 = 1 / 5
_A31, _A32 = 3 / 40, 9 / 40
_A41, _A42, _A43 = 44 / 45, -56 / 15, 32 / 9
_A51, _A52, _A53, _A54 = 19372 / 6561, -25360 / 2187, 64448 / 6561, -212 / 729
_A61, _A62, _A63, _A64, _A65 = 9017 / 3168, -355 / 33, 46732 / 5247, 49 / 176, -5103 / 18656
_B1, _B3, _B4, _B5, _B6 = 35 / 384, 500 / 1113, 125 / 192, -2187 / 6784, 11 / 84
_E1, _E3, _E4 = 71 / 57600, -71 / 16695, 71 / 1920
_E5, _E6, _E7 = -17253 / 339200, 22 / 525, -1 / 40


@JIT
def stride(
    c: Any, xs: Any, ys: Any, y: Any, t: float, h: float, k: Any, w: Any, new: Any
) -> tuple[float, int]:
    """One step of h from y into new; k[0] is known, k[6] becomes the slope at the end. (error in
    units of the tolerance, choke at the end)."""
    for i in range(STATES):
        w[i] = y[i] + h * _A21 * k[0, i]
    rates(c, xs, ys, w, t + h / 5, k, 1)
    for i in range(STATES):
        w[i] = y[i] + h * (_A31 * k[0, i] + _A32 * k[1, i])
    rates(c, xs, ys, w, t + h * 3 / 10, k, 2)
    for i in range(STATES):
        w[i] = y[i] + h * (_A41 * k[0, i] + _A42 * k[1, i] + _A43 * k[2, i])
    rates(c, xs, ys, w, t + h * 4 / 5, k, 3)
    for i in range(STATES):
        w[i] = y[i] + h * (_A51 * k[0, i] + _A52 * k[1, i] + _A53 * k[2, i] + _A54 * k[3, i])
    rates(c, xs, ys, w, t + h * 8 / 9, k, 4)
    for i in range(STATES):
        w[i] = y[i] + h * (
            _A61 * k[0, i] + _A62 * k[1, i] + _A63 * k[2, i] + _A64 * k[3, i] + _A65 * k[4, i]
        )
    rates(c, xs, ys, w, t + h, k, 5)
    for i in range(ALL):
        new[i] = y[i] + h * (
            _B1 * k[0, i] + _B3 * k[2, i] + _B4 * k[3, i] + _B5 * k[4, i] + _B6 * k[5, i]
        )
    if new[0] < 0.0:
        new[0] = 0.0
    if new[2] < 0.0:
        new[2] = 0.0
    choke = rates(c, xs, ys, new, t + h, k, 6)
    worst = 0.0
    for i in range(STATES):
        wrong = h * abs(
            _E1 * k[0, i]
            + _E3 * k[2, i]
            + _E4 * k[3, i]
            + _E5 * k[4, i]
            + _E6 * k[5, i]
            + _E7 * k[6, i]
        )
        worst = max(worst, wrong / (TOLERANCE * (1.0 + abs(y[i]))))
    return worst, choke


@JIT
def between(y: Any, new: Any, h: float, k: Any, u: float, w: Any) -> None:
    """States after a share u of a step, on the cubic that fits both ends."""
    for i in range(STATES):
        w[i] = (
            (2 * u**3 - 3 * u**2 + 1) * y[i]
            + (u**3 - 2 * u**2 + u) * h * k[0, i]
            + (3 * u**2 - 2 * u**3) * new[i]
            + (u**3 - u**2) * h * k[6, i]
        )


@JIT
def change_at(
    c: Any,
    xs: Any,
    ys: Any,
    y: Any,
    new: Any,
    t: float,
    h: float,
    k: Any,
    w: Any,
    choke: int,
    low: float,
) -> float:
    """Share of a step, past low, after which the choke is no longer what it was."""
    high, narrow = LAST_SHARE, NEAR_SHARE
    if low > 0.0:
        between(y, new, h, k, low, w)
        if rates(c, xs, ys, w, t + low * h, k, 5) != choke:
            low, high = 0.0, low
        narrow = max(CHANGE_SHARE, 0.5 * AT_ONCE_S / h)
    while high - low > narrow:
        u = 0.5 * (low + high)
        between(y, new, h, k, u, w)
        if rates(c, xs, ys, w, t + u * h, k, 5) == choke:
            low = u
        else:
            high = u
    return high


@JIT
def put_row(y: Any, k: Any, i: int, t: float, out: Any, n: int) -> None:
    """Write a state and what happens there as row n."""
    out[n, 0], out[n, 1], out[n, 2] = t, y[1], y[0]
    out[n, 3], out[n, 4], out[n, 5], out[n, 6] = k[i, 15], k[i, 16], k[i, 17], k[i, 18]
    out[n, 7], out[n, 8], out[n, 9] = k[i, 19], k[i, 20], k[i, 21]
    out[n, 10], out[n, 11], out[n, 12], out[n, 13] = y[2], y[4], y[5], k[i, 22]
    out[n, 14] = y[3]


@JIT
def run(
    c: Any,
    xs: Any,
    ys: Any,
    start: Any,
    distance_m: float,
    speed_m_s: float,
    seconds: float,
    coarse: float,
) -> tuple[Any, int, Any]:
    """(a row of COLUMNS a step, how it ended, states and energies at the end) from a start state at
    full throttle until a distance, a speed or a time. coarse: factor on the longest step."""
    y, new, w = np.zeros(ALL), np.zeros(ALL), np.zeros(ALL)
    k = np.zeros((7, WIDTH))
    for i in range(STATES):
        y[i] = start[i]
    out = np.empty((256, COLUMNS))
    t, n, still, h = 0.0, 0, 0.0, FIRST_STEP_S
    choke = rates(c, xs, ys, y, t, k, 0)
    put_row(y, k, 0, t, out, 0)
    n = 1
    ended = TIME
    for _ in range(MOST_STEPS):
        if t >= seconds - 1e-9:
            return out[:n], ended, y
        most = (STEP_MAX_S if t < LATE_S else LATE_STEP_MAX_S) * coarse
        h = min(h, most, seconds - t)
        if t < c[RAMP_S]:
            h = min(h, c[RAMP_S] / 20.0, c[RAMP_S] - t + 1e-12)
        if y[0] <= 0.0:
            h = min(h, STILL_S - still + 1e-9)
        rest, v = distance_m - y[1], y[0]
        if (
            v + 0.5 * max(k[0, 0], 0.0) * h
        ) * h > rest:  # a little past the mark, from where it is landed on without another step
            inside = v * v + 2.0 * k[0, 0] * rest
            h = min(h, 2.0 * rest / (v + math.sqrt(max(inside, 0.0))) + 0.5 * NEAR_S)
        worst, after = stride(c, xs, ys, y, t, h, k, w, new)
        taken, low = h, 0.0
        for _ in range(6):  # each time less of the step lies past the change
            if after == choke or taken <= 2e-6:
                break
            last = max(min(LAST_SHARE, 1.0 - AT_ONCE_S / taken), 0.0)
            between(y, new, taken, k, last, w)
            if rates(c, xs, ys, w, t + last * taken, k, 5) == choke:
                break  # it changes at the very end of the step
            u = change_at(c, xs, ys, y, new, t, taken, k, w, choke, low)
            if u * taken <= AT_ONCE_S and worst <= 1.0:
                break  # it changes at the very beginning
            told = 2.0 * NEAR_SHARE * taken
            taken = max(u * taken, 1e-6)
            low = max(1.0 - told / taken, 0.0)
            worst, after = stride(c, xs, ys, y, t, taken, k, w, new)
        if worst > 1.0 and taken > STEP_MIN_S:
            h = max(taken * max(0.2, 0.9 * worst**-0.2), STEP_MIN_S)
            continue
        over = new[1] >= distance_m or new[0] >= speed_m_s
        if over:
            taken = land(c, xs, ys, y, t, taken, k, w, new, distance_m, speed_m_s)
            ended = DISTANCE if new[1] >= distance_m - 1e-7 else SPEED
        still = still + taken if new[0] <= 0.0 else 0.0
        if n == len(out):
            more = np.empty((2 * n, COLUMNS))
            more[:n] = out
            out = more
        for i in range(ALL):
            y[i] = new[i]
        for i in range(WIDTH):
            k[0, i] = k[6, i]
        t += taken
        choke = after
        put_row(y, k, 0, t, out, n)
        n += 1
        if over:
            return out[:n], ended, y
        if still > STILL_S:
            return out[:n], STALLED, y
        grow = GROWTH if worst <= 0.0 else min(GROWTH, 0.9 * worst**-0.2)
        h = max(h if taken < h else h * max(grow, 0.2), 1e-5)
    return out[:n], STEPS, y


@JIT
def fill(c: Any, xs: Any, ys: Any, rows: Any, each_s: float) -> Any:
    """The rows with more between them where they are further apart than each_s: states on the cubic
    that fits both ends, what happens there from the case."""
    n = len(rows)
    for i in range(1, n):
        n += int((rows[i, 0] - rows[i - 1, 0]) / each_s)
    out = np.empty((n, COLUMNS))
    y, new, w = np.zeros(ALL), np.zeros(ALL), np.zeros(ALL)
    k = np.zeros((7, WIDTH))
    out[0] = rows[0]
    states_of(rows, 0, y)
    rates(c, xs, ys, y, rows[0, 0], k, 0)
    m = 1
    for i in range(1, len(rows)):
        t, h = rows[i - 1, 0], rows[i, 0] - rows[i - 1, 0]
        states_of(rows, i, new)
        parts = int(h / each_s)
        if parts > 0:
            rates(c, xs, ys, y, t, k, 0)
            rates(c, xs, ys, new, t + h, k, 6)
        for j in range(1, parts + 1):
            u = j / (parts + 1)
            between(y, new, h, k, u, w)
            rates(c, xs, ys, w, t + u * h, k, 5)
            put_row(w, k, 5, t + u * h, out, m)
            m += 1
        out[m] = rows[i]
        m += 1
        for q in range(STATES):
            y[q] = new[q]
    return out


@JIT
def states_of(rows: Any, i: int, y: Any) -> None:
    """Take the states out of a row."""
    y[0], y[1], y[2] = rows[i, 2], rows[i, 1], rows[i, 10]
    y[3], y[4], y[5] = rows[i, 14], rows[i, 11], rows[i, 12]


@JIT
def land(
    c: Any,
    xs: Any,
    ys: Any,
    y: Any,
    t: float,
    h: float,
    k: Any,
    w: Any,
    new: Any,
    distance_m: float,
    speed_m_s: float,
) -> float:
    """The step that ends on the stop mark: found on the cubic, then by Newton with whole steps."""
    i = 1 if new[1] >= distance_m else 0
    mark = distance_m if i == 1 else speed_m_s
    both = i == 1 and new[0] >= speed_m_s  # in one step: the one that comes first
    if both and crossing(y, new, h, k, 0, speed_m_s) < crossing(y, new, h, k, 1, distance_m):
        i, mark = 0, speed_m_s
    taken = h
    for trip in range(4):
        slope = new[0] if i == 1 else k[6, 0]
        off = (mark - new[i]) / slope if slope > 0.0 else 0.0
        if abs(off) <= LANDED_S:
            break
        if abs(off) <= NEAR_S:  # the rest by the slopes at both ends of the step
            for q in range(ALL):
                new[q] += off * (k[6, q] + 0.5 * off * (k[6, q] - k[0, q]) / taken)
            new[2] = max(new[2], 0.0)
            rates(c, xs, ys, new, t + taken + off, k, 6)
            return taken + off
        taken = crossing(y, new, h, k, i, mark) * h if trip == 0 else max(taken + off, 1e-12)
        stride(c, xs, ys, y, t, taken, k, w, new)
    return taken


@JIT
def envelope(c: Any, xs: Any, ys: Any, soc: float, temp_c: float, speeds: Any) -> Any:
    """Rows of (thrust, load, line A, phase A, bus V, choke, iq, id, copper W, controller W, shaft,
    free thrust) at speeds, throttle open for long."""
    out = np.empty((len(speeds), 12))
    for i in range(len(speeds)):
        now = instant(c, xs, ys, speeds[i], soc, 0.0, temp_c, math.inf, math.inf)
        out[i, 0], out[i, 1], out[i, 2] = now[1], now[12], now[7]
        out[i, 3], out[i, 4], out[i, 5] = math.hypot(now[4], now[5]), now[6], now[3]
        out[i, 6], out[i, 7], out[i, 8] = now[4], now[5], now[9]
        out[i, 9], out[i, 10], out[i, 11] = now[10], now[11], now[2]
    return out


@JIT
def pulls(c: Any, xs: Any, ys: Any, soc: float, temp_c: float, v: float, asked: Any) -> Any:
    """Thrusts (N) that the drive could push at a speed, for each of the phase amps asked."""
    out = np.empty(len(asked))
    for i in range(len(asked)):
        out[i] = instant(c, xs, ys, v, soc, 0.0, temp_c, math.inf, asked[i])[2]
    return out


@JIT
def top_speed(c: Any, xs: Any, ys: Any, soc: float, temp_c: float) -> tuple[float, int]:
    """(highest steady speed, the choke that holds it there). The case's slow resistance is to be in
    its pack resistance. Past it the drive cannot hold speed; 0 if it cannot move."""
    first = instant(c, xs, ys, 0.0, soc, 0.0, temp_c, math.inf, math.inf)
    low, high, step = 0.0, 0.0, 2.5
    found = False
    speed = step
    while speed <= 140.0:
        if instant(c, xs, ys, speed, soc, 0.0, temp_c, math.inf, math.inf)[0] <= 0.0:
            high, found = speed, True
            break
        low = speed
        speed += step
    if low == 0.0 and first[0] <= 0.0:
        return 0.0, first[3]
    if not found:
        return low, instant(c, xs, ys, low, soc, 0.0, temp_c, math.inf, math.inf)[3]
    for _ in range(40):
        mid = 0.5 * (low + high)
        if instant(c, xs, ys, mid, soc, 0.0, temp_c, math.inf, math.inf)[0] > 0.0:
            low = mid
        else:
            high = mid
    return low, instant(c, xs, ys, high, soc, 0.0, temp_c, math.inf, math.inf)[3]


def warm() -> None:
    """Call each entry once with arrays like those it gets, so that it is compiled or loaded: an array that may be
    written is another type to the compiler than one that may not, and would be compiled for at the first press."""
    c = np.ones(NUMBERS)
    c[RAMP_S] = c[HAS_HEAT] = c[FW_A] = c[FLOOR_V] = 0.0
    c[LIMIT_A] = c[PHASE_A] = 10.0
    c.setflags(write=False)
    xs, ys = np.array([0.0, 1.0]), np.array([30.0, 40.0])
    speeds = np.array([0.0, 1.0])
    start = np.array([0.0, 0.0, 1.0, 0.0, 20.0, 20.0])
    rows, _, _ = run(c, xs, ys, start, 1.0, 100.0, 0.1, 1.0)
    fill(c, xs, ys, rows, ROW_EACH_S)
    envelope(c, xs, ys, 1.0, 20.0, speeds)
    pulls(c, xs, ys, 1.0, 20.0, 1.0, speeds)
    top_speed(c, xs, ys, 1.0, 20.0)
    instant(c, xs, ys, 1.0, 1.0, 0.0, 20.0, 1.0, math.inf)
    solve(c, 1.0, 1.0, 40.0, 1.0, 10.0, 10.0)
    at_torque(c, 1.0, 1.0, 40.0, 1.0, 1.0)
    volts_needed(c, 1.0, 1.0, 1.0, 1.0, 0.0)
    dc_power_w(c, 1.0, 1.0, 1.0, 1.0, 0.0)
