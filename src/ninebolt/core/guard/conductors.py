"""Conductors: resistance at temperature, drop, temperature rise steady and along a run, strips."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from ninebolt.core.copper import COPPER_OHM_M, COPPER_PER_K, copper_factor

STRANDING = 1.02  # stranded wire is longer than its cable. Common practice, no source.
AIR_W_M2_K = 12.0  # still air, convection and radiation together. Common practice, no source.
INSULATION_M = 0.0012
COPPER_J_M3_K = 3.45e6  # heat capacity of copper by volume, 8960 kg/m³ x 385 J/(kg K). From memory.
PLUG_RISE_K = 30.0  # a contact's rise at its rated current. Common practice, no source.
# Over both poles of a sound plug at its rated current. Common practice, no source.
PLUG_DROP_V = 0.06
BEND_OUTER = 4.0  # least bend radius of a flexible cable over its outer diameter. Common practice.
BURST = 1.6  # full throttle comes in bursts, over continuous amps. Common practice, no source.
SECTIONS_MM2 = (10, 16, 25, 35, 50, 70, 95)  # IEC 60228 nominal sections

# Resistivity at 20 °C (ohm metre) and growth per kelvin. Copper: IEC 60028; others from memory.
METALS = {
    "copper": (COPPER_OHM_M, COPPER_PER_K),
    "nickel": (6.99e-8, 0.0060),
    "nickel_plated_steel": (1.30e-7, 0.0050),
    "aluminium": (2.82e-8, 0.0039),
}
# Copper section up to (mm²) and the bolt its lug is usually made for. Common practice, no source.
LUGS = ((6.0, 5), (10.0, 6), (25.0, 8), (50.0, 8), (70.0, 10), (120.0, 12))


def copper_ohm(section_m2: float, length_m: float, temp_c: float = 20.0) -> float:
    """Resistance of a stranded conductor of this metal section (ohm)."""
    return COPPER_OHM_M * STRANDING * length_m / section_m2 * copper_factor(temp_c)


def shed_w_k(section_m2: float) -> float:
    """Heat that a metre of insulated conductor gives to still air, per kelvin (W/K)."""
    metal_d = math.sqrt(4.0 * section_m2 / math.pi) * 1.12
    return AIR_W_M2_K * math.pi * (metal_d + 2.0 * INSULATION_M)


def steady_rise_k(section_m2: float, amps: float, ambient_c: float) -> float:
    """Steady temperature rise of one insulated conductor in still air (K); inf if it runs away.

    I² R(T) per metre = h pi d (T - Tair), d over the insulation; linear in T, so it solves at once.
    """
    shed = shed_w_k(section_m2)
    r20 = COPPER_OHM_M * STRANDING / section_m2
    heat = amps * amps * r20
    left = shed - heat * COPPER_PER_K
    return math.inf if left <= 0.0 else heat * (1.0 + COPPER_PER_K * (ambient_c - 20.0)) / left


def continuous_amps(section_m2: float, rise_k: float, ambient_c: float) -> float:
    """Current that brings the conductor up by rise_k (A)."""
    shed = shed_w_k(section_m2)
    r_hot = COPPER_OHM_M * STRANDING / section_m2 * copper_factor(ambient_c + rise_k)
    return math.sqrt(shed * rise_k / r_hot)


def peak_temp_c(
    section_m2: float, t_s: Sequence[float], amps: Sequence[float], ambient_c: float
) -> float:
    """Highest temperature of one insulated conductor along a run, from the air's (°C).

    C dT/dt = I² r(T) - h pi d (T - Tair) per metre, stepped with each interval's mean square.
    """
    shed = shed_w_k(section_m2)
    store = section_m2 * COPPER_J_M3_K
    r20 = COPPER_OHM_M * STRANDING / section_m2
    square = np.asarray(amps, dtype=float) ** 2
    dt = np.diff(np.asarray(t_s, dtype=float))
    heat = 0.5 * (square[1:] + square[:-1]) * r20
    k = (shed - heat * COPPER_PER_K) / store  # at or below 0 it runs away: no steady end
    tame = k > 0.0
    ends = ambient_c + heat * copper_factor(ambient_c) / np.where(tame, k * store, 1.0)
    keeps = np.exp(np.where(tame, -k * dt, 0.0))
    warms = heat / store * dt
    now = peak = ambient_c
    for calm, end, keep, warm in zip(
        tame.tolist(), ends.tolist(), keeps.tolist(), warms.tolist(), strict=True
    ):
        now = end + (now - end) * keep if calm else now + warm * copper_factor(now)
        if now > peak:
            peak = now
    return peak


def rms(t_s: Sequence[float], amps: Sequence[float]) -> float:
    """Root of the mean square over time."""
    if len(t_s) < 2 or t_s[-1] <= t_s[0]:
        return 0.0
    t, a = np.asarray(t_s, dtype=float), np.asarray(amps, dtype=float) ** 2
    return math.sqrt(float((a[1:] + a[:-1]) @ np.diff(t)) / 2.0 / (t_s[-1] - t_s[0]))


def strip_ohm(metal: str, width_m: float, thick_m: float, length_m: float) -> float:
    """Resistance of one flat strip at 20 °C (ohm): rho l / (w t)."""
    return METALS[metal][0] * length_m / (width_m * thick_m)


def strip_amps(
    metal: str, width_m: float, thick_m: float, rise_k: float, ambient_c: float = 30.0
) -> float:
    """Current that warms a strip by rise_k in still air; one face lies on the cells (A)."""
    rho, per_k = METALS[metal]
    hot = rho * (1.0 + per_k * (ambient_c + rise_k - 20.0)) / (width_m * thick_m)
    return math.sqrt(AIR_W_M2_K * (width_m + 2.0 * thick_m) * rise_k / hot)


def plug_rise_k(amps: float, rated_a: float, r_ohm: float | None = None) -> float:
    """Rise of a contact at a current: heat goes with the square. r_ohm: of this plug, where it is known; a sound one
    drops PLUG_DROP_V at its rated current, one that resists more is hotter by as much."""
    sound = PLUG_RISE_K * (amps / rated_a) ** 2
    return sound if r_ohm is None else sound * max(1.0, r_ohm * rated_a / PLUG_DROP_V)


def lug_bolt(section_m2: float) -> int:
    """Bolt (M…) of the usual lug for a section."""
    mm2 = section_m2 * 1e6
    return next((bolt for most, bolt in LUGS if mm2 <= most + 1e-9), 16)
