"""Numbers in, numbers out: the operating point of motor, controller and pack, with sag solved.

This file is loaded twice: plain, and with JIT set to numba's compiler (see __init__). It therefore
holds only what both understand: floats, flat arrays, tuples, no classes. A case is the array `c`,
its places are the constants below; `xs`, `ys` are the open-circuit table of one cell.

Equations (field-oriented, amplitudes peak, resistance and inductance line to neutral):
  vq = R iq + we (Ld id + lam)      vd = R id - we Lq iq      |v| <= m V / sqrt(3)
  T  = 1.5 p (lam + (Ld - Lq) id) iq
  P  = 1.5 (vd id + vq iq) + 1.5 Rsw (id² + iq²) + P0 = V I        V = E - Rs I
The currents are those of most torque: most torque per ampere while neither line nor voltage binds
(with a salient rotor that takes id < 0), then along the voltage limit as far as it gains. id is
never above 0 nor below -fw_a.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any, TypeVar

F = TypeVar("F", bound=Callable[..., Any])
if "JIT" not in globals():

    def JIT(function: F) -> F:
        """Plain: the function as it stands."""
        return function

    INLINE = JIT


# Places in the case's array. A name ends in its unit.
(
    SERIES,
    PACK_OHM,
    SLOW_OHM,
    TAU_S,
    PER_COULOMB,
    FLOOR_V,
    LIMIT_A,
    LIMIT_CHOKE,
    POLE_PAIRS,
    FLUX_VS,
    R_OHM,
    LD_H,
    LQ_H,
    KNEE_A,
    MODULATION,
    R_SWITCH_OHM,
    FIXED_W,
    FW_A,
    PHASE_A,
    THROTTLE,
    RAMP_S,
    HAS_HEAT,
    WINDING_CASE_K_W,
    CASE_AIR_K_W,
    WINDING_J_K,
    CASE_J_K,
    TEMP_MAX_C,
    AIR_C,
    GEAR,
    EFFICIENCY,
    DRAG_NM,
    DRAG_NM_S_RAD,
    AERO_KG_M,
    ROLLING_N,
    GRADE_N,
    MASS_EFF_KG,
    WHEELIE_M_S2,
    WHEELIE_PER_KG,
    GRIP_ROOM_KG,
    GRIP_STATIC_N,
    GRIP_AERO,
    WIND_M_S,
    CAP_M_S,
) = range(43)
NUMBERS = 43

# Chokes in their order, as everywhere.
CELLS, BMS, PATH, LINE, PHASE, VOLTS, HEAT, GRIP, WHEELIE, DRIVER = range(10)
BY_CURRENT, BY_LINE, BY_VOLTS = range(3)  # what bounds an operating point
DISTANCE, SPEED, TIME, STALLED, STEPS = range(5)  # how a run ends

ROOT3 = math.sqrt(3.0)
LAST_V = 2e-4  # that near, one more of Newton's steps lands within a millionth of a volt
DERATE_K = 20.0  # phase amps fall linearly to zero over the last 20 K. Common practice, no source.
GOLDEN = 0.5 * (math.sqrt(5.0) - 1.0)


@JIT
def ocv_v(xs: Any, ys: Any, soc: float) -> float:
    """Open-circuit volts of a cell, linear between the points, held at both ends."""
    last = len(xs) - 1
    if soc >= xs[last]:
        return float(ys[last])
    if soc <= xs[0]:
        return float(ys[0])
    low, high = 0, last
    while high - low > 1:
        mid = (low + high) // 2
        if xs[mid] <= soc:
            low = mid
        else:
            high = mid
    return float(ys[low] + (ys[high] - ys[low]) * (soc - xs[low]) / (xs[high] - xs[low]))


@JIT
def phase_cap(c: Any, t: float, winding_c: float) -> tuple[float, int]:
    """(phase amps allowed by setting, throttle, ramp and heat, which of them it is)."""
    cap, choke = float(c[PHASE_A]), PHASE
    share = float(c[THROTTLE])
    if c[RAMP_S] > 0.0 and t < c[RAMP_S]:
        share *= t / c[RAMP_S]
    if share < 1.0:
        cap, choke = cap * share, DRIVER
    if c[HAS_HEAT] > 0.0 and winding_c > c[TEMP_MAX_C] - DERATE_K:
        left = max(0.0, (c[TEMP_MAX_C] - winding_c) / DERATE_K)
        if c[PHASE_A] * left < cap:
            cap, choke = c[PHASE_A] * left, HEAT
    return cap, choke


@JIT
def supply(c: Any, xs: Any, ys: Any, soc: float, slow_v: float) -> tuple[float, float, int]:
    """(open volts behind the slow part, least limit of pack current, the choke it belongs to)."""
    e = c[SERIES] * ocv_v(xs, ys, soc) - slow_v
    if soc <= 0.0:
        return e, 0.0, CELLS
    limit, choke = float(c[LIMIT_A]), int(c[LIMIT_CHOKE])
    if c[PACK_OHM] > 0.0:
        by_floor = (e - max(c[FLOOR_V], 0.5 * e)) / c[PACK_OHM]
        if by_floor < limit:
            limit, choke = max(by_floor, 0.0), CELLS
    elif e <= c[FLOOR_V]:
        limit, choke = 0.0, CELLS
    return e, limit, choke


@JIT
def wheel_n(c: Any, shaft_nm: float) -> float:
    """Thrust from shaft torque; losses help when the wheel drives the motor."""
    eta = c[EFFICIENCY] if shaft_nm >= 0.0 else 1.0 / c[EFFICIENCY]
    return float(shaft_nm * c[GEAR] * eta)


@JIT
def dc_power_w(c: Any, r: float, flux: float, we: float, iq: float, id_: float) -> float:
    """DC power into the controller. r: phase ohms at temperature; flux: with saturation."""
    emf = we * (flux + (c[LD_H] - c[LQ_H]) * id_) * iq
    return float(1.5 * ((r + c[R_SWITCH_OHM]) * (iq * iq + id_ * id_) + emf) + c[FIXED_W])


@JIT
def bus_v(e: float, rs: float, power_w: float) -> float:
    """Bus voltage at a power, held at half of E where the pack cannot give it."""
    inside = e * e - 4.0 * rs * power_w
    return 0.5 * (e + math.sqrt(inside)) if inside > 0.0 else 0.5 * e


@JIT
def volts_needed(c: Any, r: float, flux: float, we: float, iq: float, id_: float) -> float:
    """Smallest bus voltage that makes these currents."""
    vq = r * iq + we * (c[LD_H] * id_ + flux)
    vd = r * id_ - we * c[LQ_H] * iq
    return float(ROOT3 * math.sqrt(vq * vq + vd * vd) / c[MODULATION])


@INLINE
def gap_v(
    c: Any, r: float, flux: float, we: float, e: float, rs: float, iq: float, id_: float
) -> tuple[float, float, float]:
    """(bus volts needed less bus volts there are, its slope over iq, its slope over id)."""
    m = c[MODULATION]
    lx = c[LD_H] - c[LQ_H]
    vq = r * iq + we * (c[LD_H] * id_ + flux)
    vd = r * id_ - we * c[LQ_H] * iq
    size = math.sqrt(vq * vq + vd * vd)
    rt = r + c[R_SWITCH_OHM]
    power = 1.5 * (rt * (iq * iq + id_ * id_) + we * (flux + lx * id_) * iq) + c[FIXED_W]
    inside = e * e - 4.0 * rs * power
    root = math.sqrt(inside) if inside > 0.0 else 0.0
    gap = ROOT3 * size / m - 0.5 * (e + root)
    by_q = by_d = 0.0
    if size > 0.0:
        by_q = ROOT3 / m * (vq * r - vd * we * c[LQ_H]) / size
        by_d = ROOT3 / m * (vq * we * c[LD_H] + vd * r) / size
    if root > 0.0:
        by_q += rs * 1.5 * (2.0 * rt * iq + we * (flux + lx * id_)) / root
        by_d += rs * 1.5 * (2.0 * rt * id_ + we * lx * iq) / root
    return gap, by_q, by_d


@JIT
def larger_root(a: float, b: float, k: float) -> float:
    """Larger real root of a x² + b x + k (nan if none), safe for a = 0 and for cancellation."""
    if a == 0.0:
        return -k / b if b != 0.0 else math.inf
    inside = b * b - 4.0 * a * k
    if inside < 0.0:
        return math.nan
    root = math.sqrt(inside)
    if b < 0.0:
        return (root - b) / (2.0 * a)
    return -2.0 * k / (b + root) if b + root != 0.0 else 0.0


@JIT
def crossing(y: Any, new: Any, h: float, k: Any, i: int, mark: float) -> float:
    """Share of a step after which the cubic of state i meets a mark that it is past at the end."""
    m0, m1 = h * k[0, i], h * k[6, i]
    c3, c2 = 2.0 * (y[i] - new[i]) + m0 + m1, 3.0 * (new[i] - y[i]) - 2.0 * m0 - m1
    low, high = 0.0, 1.0
    for _ in range(40):
        u = 0.5 * (low + high)
        if ((c3 * u + c2) * u + m0) * u + y[i] >= mark:
            high = u
        else:
            low = u
    return high


@JIT
def iq_at_volts(c: Any, r: float, flux: float, we: float, id_: float, bus: float) -> float:
    """Largest iq that a bus voltage allows at this id; nan if none."""
    vm = c[MODULATION] * bus / ROOT3
    b = we * (c[LD_H] * id_ + flux)
    k = r * id_
    return larger_root(
        r * r + (we * c[LQ_H]) ** 2, 2.0 * (r * b - we * c[LQ_H] * k), b * b + k * k - vm * vm
    )


@JIT
def iq_at_gap(
    c: Any, r: float, flux: float, we: float, e: float, rs: float, high: float, id_: float
) -> float:
    """Largest iq up to high whose voltage need is met at this id; 0 if none is."""
    gap, by_q, _ = gap_v(c, r, flux, we, e, rs, high, id_)
    if gap <= 0.0:
        return high
    return iq_below(c, r, flux, we, e, rs, high, id_, gap, by_q)


@JIT
def iq_below(
    c: Any,
    r: float,
    flux: float,
    we: float,
    e: float,
    rs: float,
    high: float,
    id_: float,
    gap: float,
    by_q: float,
) -> float:
    """As iq_at_gap, where the gap and its slope at high are known and too large. Newton, held
    between what is too little and what is too much."""
    x, low = high, 0.0
    guess = max(high - gap / by_q, 0.0) if by_q > 0.0 else 0.5 * high
    near = iq_at_volts(c, r, flux, we, id_, bus_v(e, rs, dc_power_w(c, r, flux, we, guess, id_)))
    if 0.0 < near < high:
        x = near
        gap, by_q, _ = gap_v(c, r, flux, we, e, rs, x, id_)
    elif gap_v(c, r, flux, we, e, rs, 0.0, id_)[0] >= 0.0:
        return 0.0
    for _ in range(80):
        if abs(gap) < 1e-9:
            break
        if gap > 0.0:
            high = min(high, x)
        else:
            low = max(low, x)
        step = x - gap / by_q if by_q > 0.0 else low
        inside = low < step < high
        x = step if inside else 0.5 * (low + high)
        if (inside and abs(gap) < LAST_V) or high - low < 1e-12 * high:
            break
        gap, by_q, _ = gap_v(c, r, flux, we, e, rs, x, id_)
    return x


@JIT
def most_per_amp(c: Any, flux: float, amps: float) -> float:
    """The id of most torque at a current amplitude, within 0 and -fw_a. 0 for a round rotor."""
    lx = c[LD_H] - c[LQ_H]
    if lx >= 0.0 or c[FW_A] <= 0.0 or amps <= 0.0:
        return 0.0
    best = (math.sqrt(flux * flux + 8.0 * lx * lx * amps * amps) - flux) / (4.0 * lx)
    return float(max(best, -c[FW_A], -amps))


@JIT
def at_power(
    c: Any, r: float, flux: float, we: float, power_w: float, amps: float
) -> tuple[float, float]:
    """(iq, id) of most torque per ampere that draw a power, up to a current amplitude."""
    if c[LD_H] >= c[LQ_H] or c[FW_A] <= 0.0:
        rt = r + c[R_SWITCH_OHM]
        iq = larger_root(1.5 * rt, 1.5 * we * flux, c[FIXED_W] - power_w)
        return (max(iq, 0.0) if iq == iq else 0.0), 0.0
    low, high = 0.0, amps
    iq, id_ = 0.0, 0.0
    for _ in range(60):
        mid = 0.5 * (low + high)
        id_ = most_per_amp(c, flux, mid)
        iq = math.sqrt(max(mid * mid - id_ * id_, 0.0))
        if dc_power_w(c, r, flux, we, iq, id_) > power_w:
            high = mid
        else:
            low = mid
    return iq, id_


@JIT
def gains(
    c: Any, r: float, flux: float, we: float, e: float, rs: float, iq: float, id_: float
) -> float:
    """Slope of the torque over id along the voltage limit (its sign is what counts)."""
    _, by_q, by_d = gap_v(c, r, flux, we, e, rs, iq, id_)
    lx = c[LD_H] - c[LQ_H]
    return float(lx * iq * by_q - (flux + lx * id_) * by_d)


@JIT
def most_per_volt(
    c: Any,
    r: float,
    flux: float,
    we: float,
    e: float,
    rs: float,
    amps: float,
    low_id: float,
    high_id: float,
) -> tuple[float, float]:
    """(iq, id) of most torque on the voltage limit between two id, the lower already past it."""
    low, high = low_id, high_id
    for _ in range(50):
        mid = 0.5 * (low + high)
        iq = iq_at_gap(c, r, flux, we, e, rs, amps, mid)
        if iq > 0.0 and gains(c, r, flux, we, e, rs, iq, mid) > 0.0:
            low = mid
        else:
            high = mid
    return iq_at_gap(c, r, flux, we, e, rs, amps, low), low


@JIT
def iq_within(
    c: Any, r: float, flux: float, we: float, e: float, rs: float, amps: float, id_: float
) -> float:
    """Most iq at this id within the current circle and the voltage."""
    top = math.sqrt(max(amps * amps - id_ * id_, 0.0))
    return iq_at_gap(c, r, flux, we, e, rs, top, id_)


@JIT
def salient_weakened(
    c: Any, r: float, flux: float, we: float, e: float, rs: float, amps: float, from_id: float
) -> tuple[float, float]:
    """As weakened, for a salient rotor: reluctance torque can pay even past the point where the
    field is gone, so all id are looked through, by golden section."""
    lx = c[LD_H] - c[LQ_H]
    low, high = -min(c[FW_A], amps), from_id
    a, b = high - GOLDEN * (high - low), low + GOLDEN * (high - low)
    at_a = (flux + lx * a) * iq_within(c, r, flux, we, e, rs, amps, a)
    at_b = (flux + lx * b) * iq_within(c, r, flux, we, e, rs, amps, b)
    for _ in range(48):
        if at_a > at_b or (at_a <= 0.0 and at_b <= 0.0):
            high, b, at_b = b, a, at_a
            a = high - GOLDEN * (high - low)
            at_a = (flux + lx * a) * iq_within(c, r, flux, we, e, rs, amps, a)
        else:
            low, a, at_a = a, b, at_b
            b = low + GOLDEN * (high - low)
            at_b = (flux + lx * b) * iq_within(c, r, flux, we, e, rs, amps, b)
    id_ = 0.5 * (low + high)
    return iq_within(c, r, flux, we, e, rs, amps, id_), id_


@JIT
def weakened(
    c: Any, r: float, flux: float, we: float, e: float, rs: float, amps: float, from_id: float
) -> tuple[float, float]:
    """(iq, id) of most torque where the voltage binds: on the current circle as far as the voltage
    lets it, or past that where more weakening gains no more."""
    if c[LD_H] < c[LQ_H]:
        return salient_weakened(c, r, flux, we, e, rs, amps, from_id)
    reach = min(c[FW_A], amps, flux / c[LD_H])
    low, high = -reach, from_id
    if low >= high:
        return iq_at_gap(c, r, flux, we, e, rs, amps, from_id), from_id
    edge = math.sqrt(max(amps * amps - reach * reach, 0.0))
    gap, _, _ = gap_v(c, r, flux, we, e, rs, edge, low)
    if gap > 0.0:
        iq, id_ = iq_at_gap(c, r, flux, we, e, rs, edge, low), low
    else:
        f_low, f_high = gap, 1.0
        top = math.sqrt(max(amps * amps - high * high, 0.0))
        f_high, _, _ = gap_v(c, r, flux, we, e, rs, top, high)
        if f_high <= 0.0:
            return top, high
        side = 0
        id_ = low
        for _ in range(80):  # regula falsi, Illinois variant, on the current circle
            id_ = (low * f_high - high * f_low) / (f_high - f_low)
            iq = math.sqrt(max(amps * amps - id_ * id_, 0.0))
            gap, _, _ = gap_v(c, r, flux, we, e, rs, iq, id_)
            if abs(gap) < 1e-10 or high - low < 1e-12 * reach:
                break
            if gap > 0.0:
                high, f_high = id_, gap
                if side > 0:
                    f_low *= 0.5
                side = 1
            else:
                low, f_low = id_, gap
                if side < 0:
                    f_high *= 0.5
                side = -1
        iq = math.sqrt(max(amps * amps - id_ * id_, 0.0))
    if iq > 0.0 and gains(c, r, flux, we, e, rs, iq, id_) > 0.0:
        return most_per_volt(c, r, flux, we, e, rs, amps, id_, from_id)
    return iq, id_


@JIT
def weakened_to_line(
    c: Any,
    r: float,
    flux: float,
    we: float,
    bus: float,
    power_w: float,
    amps: float,
    from_id: float,
) -> tuple[float, float, bool]:
    """(iq, id, found) on the voltage limit of this bus that draw exactly a power. More weakening
    lets more iq through, so power rises with -id."""
    low, high = -min(c[FW_A], amps, flux / c[LD_H]), from_id
    if low >= high:
        return 0.0, 0.0, False
    for _ in range(60):
        mid = 0.5 * (low + high)
        iq = iq_at_volts(c, r, flux, we, mid, bus)
        if iq > 0.0 and dc_power_w(c, r, flux, we, iq, mid) > power_w:
            low = mid
        else:
            high = mid
        if high - low < 1e-13 * amps:
            break
    iq = iq_at_volts(c, r, flux, we, low, bus)
    ok = (
        iq > 0.0 and abs(dc_power_w(c, r, flux, we, iq, low) - power_w) <= 1e-4 * abs(power_w) + 1.0
    )
    return iq, low, ok


@JIT
def currents(
    c: Any, r: float, flux: float, we: float, e: float, rs: float, limit_a: float, amps: float
) -> tuple[float, float, int]:
    """(iq, id, bound) of most torque at electrical speed we with one flux."""
    id_ = most_per_amp(c, flux, amps)
    iq = math.sqrt(max(amps * amps - id_ * id_, 0.0))
    bound = BY_CURRENT
    power = dc_power_w(c, r, flux, we, iq, id_)
    if rs > 0.0:
        limit_a = min(limit_a, 0.5 * e / rs)  # more current would only bring less power
    line_w = (e - rs * limit_a) * limit_a if limit_a < math.inf else math.inf
    if power > line_w:
        bound = BY_LINE
        iq, id_ = at_power(c, r, flux, we, line_w, amps)
    gap, by_q, _ = gap_v(c, r, flux, we, e, rs, iq, id_)
    if gap <= 0.0:
        return iq, id_, bound
    if c[FW_A] <= 0.0:
        return iq_below(c, r, flux, we, e, rs, iq, 0.0, gap, by_q), 0.0, BY_VOLTS
    start = id_
    iq, id_ = weakened(c, r, flux, we, e, rs, amps, start)
    if dc_power_w(c, r, flux, we, iq, id_) > line_w:
        q, d, found = weakened_to_line(c, r, flux, we, e - rs * limit_a, line_w, amps, start)
        if found:
            return q, d, BY_LINE
    return iq, id_, BY_VOLTS


@JIT
def flux_left(c: Any, iq: float) -> float:
    """Flux linkage at iq: whole up to the knee, then torque grows as knee (1 + ln(iq / knee))."""
    knee = c[KNEE_A]
    if iq <= knee:
        return float(c[FLUX_VS])
    return float(c[FLUX_VS] * knee / iq * (1.0 + math.log(iq / knee)))


@JIT
def solve(
    c: Any, r: float, we: float, e: float, rs: float, limit_a: float, amps: float
) -> tuple[float, float, float, int]:
    """(iq, id, flux, bound): most torque at electrical speed we (rad/s) with |i| <= amps, a supply
    of e volts behind rs ohms and a limit of pack current. r: phase ohms at temperature."""
    flux = float(c[FLUX_VS])
    iq, id_, bound = currents(c, r, flux, we, e, rs, limit_a, amps)
    if c[KNEE_A] < math.inf:
        for _ in range(30):
            left = flux_left(c, iq)
            if abs(left - flux) < 1e-12 * c[FLUX_VS]:
                break
            flux = left
            iq, id_, bound = currents(c, r, flux, we, e, rs, limit_a, amps)
    return iq, id_, flux, bound


@JIT
def at_torque(
    c: Any, r: float, we: float, e: float, rs: float, torque_nm: float
) -> tuple[float, float, float]:
    """(iq, id, flux) that make a torque; weakened where the voltage asks, no limits looked at."""
    k = 1.5 * c[POLE_PAIRS]
    lx = c[LD_H] - c[LQ_H]
    flux = float(c[FLUX_VS])
    iq, id_ = torque_nm / (k * flux), 0.0
    if iq > c[KNEE_A]:
        iq = c[KNEE_A] * math.exp(min(iq / c[KNEE_A] - 1.0, 50.0))
        flux = flux_left(c, iq)
    for _ in range(12):
        want = most_per_amp(c, flux, math.sqrt(iq * iq + id_ * id_)) if lx < 0.0 else 0.0
        bus = bus_v(e, rs, dc_power_w(c, r, flux, we, iq, id_))
        vm = c[MODULATION] * bus / ROOT3
        a, b = r * iq + we * flux, we * c[LQ_H] * iq
        inner = a * a + b * b - vm * vm
        if inner > 0.0 and c[FW_A] > 0.0:
            need = larger_root((we * c[LD_H]) ** 2 + r * r, 2.0 * (we * c[LD_H] * a - r * b), inner)
            want = min(want, need) if need == need else -c[FW_A]
        want = max(want, -c[FW_A])
        new = torque_nm / (k * (flux + lx * want)) if lx != 0.0 else iq
        if abs(want - id_) < 1e-9 * (1.0 + abs(iq)) and abs(new - iq) < 1e-9 * (1.0 + abs(iq)):
            break
        iq, id_ = new, want
    return iq, id_, flux
