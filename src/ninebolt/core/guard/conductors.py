"""Copper conductors: AWG, resistance at temperature, drop, steady temperature rise."""

from __future__ import annotations

import math

from ninebolt.core.copper import COPPER_OHM_M, COPPER_PER_K, copper_factor

STRANDING = 1.02  # stranded wire is longer than its cable. Common practice, no source.
AIR_W_M2_K = 12.0  # still air, convection and radiation together. Common practice, no source.
INSULATION_M = 0.0012


def awg_diameter_m(gauge: int) -> float:
    """Diameter of a solid wire (m). ASTM B258: 0.127 mm x 92^((36 - n)/39)."""
    return 0.127e-3 * math.pow(92.0, (36 - gauge) / 39.0)


def awg_section_m2(gauge: int) -> float:
    """Section of a gauge (m²); 0 = 1/0, -1 = 2/0 and so on."""
    return math.pi / 4.0 * awg_diameter_m(gauge) ** 2


def copper_ohm(section_m2: float, length_m: float, temp_c: float = 20.0) -> float:
    """Resistance of a stranded conductor of this metal section (ohm)."""
    return COPPER_OHM_M * STRANDING * length_m / section_m2 * copper_factor(temp_c)


def steady_rise_k(section_m2: float, amps: float, ambient_c: float) -> float:
    """Steady temperature rise of one insulated conductor in still air (K); inf if it runs away.

    I² R(T) per metre = h pi d (T - Tair), d over the insulation; linear in T, so it solves at once.
    """
    metal_d = math.sqrt(4.0 * section_m2 / math.pi) * 1.12
    shed = AIR_W_M2_K * math.pi * (metal_d + 2.0 * INSULATION_M)
    r20 = COPPER_OHM_M * STRANDING / section_m2
    heat = amps * amps * r20
    left = shed - heat * COPPER_PER_K
    return math.inf if left <= 0.0 else heat * (1.0 + COPPER_PER_K * (ambient_c - 20.0)) / left


def continuous_amps(section_m2: float, rise_k: float, ambient_c: float) -> float:
    """Current that brings the conductor up by rise_k (A)."""
    metal_d = math.sqrt(4.0 * section_m2 / math.pi) * 1.12
    shed = AIR_W_M2_K * math.pi * (metal_d + 2.0 * INSULATION_M)
    r_hot = COPPER_OHM_M * STRANDING / section_m2 * copper_factor(ambient_c + rise_k)
    return math.sqrt(shed * rise_k / r_hot)
