"""How long a motor holds a current: winding and case as two nodes, copper's growth with heat in it."""

from __future__ import annotations

import math

from ninebolt.core.copper import COPPER_PER_K, copper_factor

LONGEST_S = 1800.0  # held as long as this it is held for good
HALVINGS = 48


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
