"""What temperature does to a cell: resistance and the current it may give."""

from __future__ import annotations

import math

from ninebolt.units import KELVIN_AT_0_C

GAS_J_MOL_K = 8.314462618  # molar gas constant, exact since 2019 (SI brochure)
ACTIVATION_J_MOL = 20_000.0  # of a lithium cell's resistance. From memory, typical.
REFERENCE_C = 25.0
COLD_C, FROZEN_C = 10.0, -10.0
COLD_SHARE = 0.3  # of the rated current at FROZEN_C. Common practice, no source.
HOT_K = 10.0  # current falls to nothing over the last 10 K. Common practice, no source.


def resistance_factor(temp_c: float) -> float:
    """Resistance at a temperature over that at 25 °C: exp(Ea/R (1/T - 1/T25)). Arrhenius' law."""
    t, t25 = temp_c + KELVIN_AT_0_C, REFERENCE_C + KELVIN_AT_0_C
    return math.exp(ACTIVATION_J_MOL / GAS_J_MOL_K * (1.0 / t - 1.0 / t25))


def current_share(temp_c: float, temp_max_c: float) -> float:
    """Share of the rated discharge current that a cell may give at a temperature, 0…1."""
    hot = min(1.0, max(0.0, (temp_max_c - temp_c) / HOT_K))
    cold = COLD_SHARE + (1.0 - COLD_SHARE) * (temp_c - FROZEN_C) / (COLD_C - FROZEN_C)
    return min(hot, 1.0, max(COLD_SHARE, cold))
