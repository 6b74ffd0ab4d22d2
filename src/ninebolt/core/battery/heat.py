"""Heat of a pack as one lump: what one run adds, what repeated runs come to, how it cools."""

from __future__ import annotations

import math
from collections.abc import Sequence

CELL_J_KG_K = 950.0  # heat capacity of lithium cells by mass. From memory, typical 900 to 1050.


def rise_k(heat_j: float, lump_j_k: float) -> float:
    """Temperature rise of the lump if nothing is lost (K)."""
    return heat_j / lump_j_k


def after_rest(
    temp_c: float, air_c: float, rest_s: float, lump_j_k: float, air_k_w: float
) -> float:
    """Newton cooling: Ta + (T - Ta) exp(-t / RC)."""
    return air_c + (temp_c - air_c) * math.exp(-rest_s / (lump_j_k * air_k_w))


def repeated(
    start_c: float,
    air_c: float,
    heats_j: Sequence[float],
    rest_s: float,
    lump_j_k: float,
    air_k_w: float,
) -> list[float]:
    """Temperature at the end of each of several runs with rests between (°C)."""
    out, now = [], start_c
    for heat in heats_j:
        now += rise_k(heat, lump_j_k)
        out.append(now)
        now = after_rest(now, air_c, rest_s, lump_j_k, air_k_w)
    return out


def settled_peak_c(
    air_c: float, heat_j: float, rest_s: float, lump_j_k: float, air_k_w: float
) -> float:
    """Where the peaks of endless equal runs end up (°C): geometric series, dT / (1 -
    exp(-t/RC))."""
    kept = math.exp(-rest_s / (lump_j_k * air_k_w))
    return math.inf if kept >= 1.0 else air_c + rise_k(heat_j, lump_j_k) / (1.0 - kept)
