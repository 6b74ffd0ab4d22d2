"""How long a motor holds a current: winding and case as two nodes, copper's growth with heat in it."""

from __future__ import annotations

import math

from ninebolt.core.copper import copper_factor

STEP_S = 0.05
LONGEST_S = 1800.0  # held as long as this it is held for good


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
    - (T_c - T_air) / R_ca. Midpoint rule.
    """
    winding, case, t = start_c, start_c, 0.0

    def rates(w: float, c: float) -> tuple[float, float]:
        flow = (w - c) / winding_case_k_w
        return (
            (copper_w * copper_factor(w) - flow) / winding_j_k,
            (flow - (c - air_c) / case_air_k_w) / case_j_k,
        )

    if winding >= limit_c:
        return 0.0
    while t < LONGEST_S:
        a, b = rates(winding, case)
        half = rates(winding + a * STEP_S / 2, case + b * STEP_S / 2)
        after = winding + half[0] * STEP_S
        if after >= limit_c:
            return t + STEP_S * (limit_c - winding) / (after - winding)
        winding, case, t = after, case + half[1] * STEP_S, t + STEP_S
    return math.inf
