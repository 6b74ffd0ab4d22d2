"""How long a motor holds a current and how it cools: winding and case as two nodes, copper's growth with
heat in it; a controller as one."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ninebolt.core.copper import COPPER_PER_K, copper_factor

LONGEST_S = 12 * 3600.0  # held for half a day it is held for good
HALVINGS = 40


def seconds_until(
    copper_w: float,
    winding_case_k_w: float,
    case_air_k_w: float,
    winding_j_k: float,
    case_j_k: float,
    start_c: float,
    limit_c: float,
    air_c: float = 25.0,
) -> float:
    """Seconds from one temperature of winding and case until the winding reaches its limit; inf where
    it does not within LONGEST_S.

    copper_w: 1.5 R iq² at 20 °C. C_w dT_w = P k(T_w) - (T_w - T_c) / R_wc; C_c dT_c = (T_w - T_c) / R_wc
    - (T_c - T_air) / R_ca. k is linear, so the pair is solved in closed form.
    """
    if start_c >= limit_c:
        return 0.0
    to_case, to_air = 1.0 / winding_case_k_w, 1.0 / case_air_k_w
    a, b = (copper_w * COPPER_PER_K - to_case) / winding_j_k, to_case / winding_j_k
    c, d = to_case / case_j_k, -(to_case + to_air) / case_j_k
    f, g = copper_w * copper_factor(0.0) / winding_j_k, to_air * air_c / case_j_k
    mean, root = 0.5 * (a + d), math.sqrt(0.25 * (a - d) ** 2 + b * c)
    fast, slow = mean - root, mean + root
    det = a * d - b * c or 1e-30  # 0: it warms at an even rate, for ever
    ends = (b * g - d * f) / det  # where the winding would end, if it ends
    rise = a * start_c + b * start_c + f  # of the winding, at the start
    # T_w = ends + u e^(slow t) + v e^(fast t), through the start with its slope.
    u = (rise - fast * (start_c - ends)) / (slow - fast)
    v = start_c - ends - u

    def winding(t: float) -> float:
        return ends + u * math.exp(min(slow * t, 700.0)) + v * math.exp(fast * t)

    if winding(LONGEST_S) < limit_c:
        return math.inf
    low, high = 0.0, LONGEST_S
    for _ in range(HALVINGS):
        mid = 0.5 * (low + high)
        low, high = (mid, high) if winding(mid) < limit_c else (low, mid)
    return high


def steady_amps(
    r_ohm: float, winding_case_k_w: float, case_air_k_w: float, limit_c: float, air_c: float = 25.0
) -> float:
    """Peak phase amps held for good: at the limit 1.5 R k(T) I² flows through both heat paths."""
    path = winding_case_k_w + case_air_k_w
    return math.sqrt((limit_c - air_c) / (path * 1.5 * r_ohm * copper_factor(limit_c)))


def steady_c(
    copper_w: float, winding_case_k_w: float, case_air_k_w: float, air_c: float = 25.0
) -> tuple[float, float]:
    """(winding, case) where a current is held for good (°C); inf where it runs away. copper_w: 1.5 R I²
    at 20 °C. T = air + P k(T) (R_wc + R_ca), solved for T since k is linear."""
    path = winding_case_k_w + case_air_k_w
    grows = copper_w * COPPER_PER_K * path
    if grows >= 1.0:
        return math.inf, math.inf
    winding = (air_c + copper_w * copper_factor(0.0) * path) / (1.0 - grows)
    return winding, air_c + copper_w * copper_factor(winding) * case_air_k_w


def seconds_cooled(
    from_c: float,
    to_c: float,
    winding_case_k_w: float,
    case_air_k_w: float,
    winding_j_k: float,
    case_j_k: float,
    case_c: float,
    air_c: float = 25.0,
) -> float:
    """Seconds until a winding without current is down to a temperature; inf if never. The pair without heat
    is a sum of two decays."""
    if to_c <= air_c:
        return math.inf
    a, b = 1.0 / (winding_case_k_w * winding_j_k), 1.0 / (winding_case_k_w * case_j_k)
    d = b + 1.0 / (case_air_k_w * case_j_k)
    mean, root = 0.5 * (a + d), math.sqrt(0.25 * (a - d) ** 2 + a * b)
    fast, slow = mean + root, mean - root
    w, c = from_c - air_c, case_c - air_c
    u = (a * c - (a - fast) * w) / (fast - slow)  # of the slow decay: w' = -a w + a c at the start
    v = w - u

    def winding(t: float) -> float:
        return air_c + u * math.exp(-slow * t) + v * math.exp(-fast * t)

    low, high = 0.0, 4.0 * 3600.0
    if winding(high) > to_c:
        return math.inf
    for _ in range(HALVINGS):
        mid = 0.5 * (low + high)
        low, high = (mid, high) if winding(mid) > to_c else (low, mid)
    return high


def one_node_s(
    watts: float, k_w: float, j_k: float, limit_c: float, start_c: float, air_c: float
) -> float:
    """Seconds until one lump reaches its limit; inf if it never does: air + P R (1 - exp(-t / RC))."""
    ends = air_c + watts * k_w
    if start_c >= limit_c:
        return 0.0
    if ends <= limit_c:
        return math.inf
    return -k_w * j_k * math.log((ends - limit_c) / (ends - start_c))


def one_node_along(
    t_s: Sequence[float],
    watts: Sequence[float],
    k_w: float,
    j_k: float,
    start_c: float,
    air_c: float,
) -> list[float]:
    """Temperature (°C) of one lump at each time, its heat straight between the points: the closed form of
    one step with the mean of its ends."""
    out, c = [start_c], start_c
    for i in range(1, len(t_s)):
        ends = air_c + 0.5 * (watts[i - 1] + watts[i]) * k_w
        c = ends + (c - ends) * math.exp(-(t_s[i] - t_s[i - 1]) / (k_w * j_k))
        out.append(c)
    return out
