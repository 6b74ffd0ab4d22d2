"""What brakes take up: energy of a stop, heat of the rotor in one, in several, and down a hill."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.vehicle.road import Body, road_load
from ninebolt.units import GRAVITY_M_S2

# A ring of steel with holes, as motorcycles have them. Common practice, no source.
RING_M, THICK_M, SOLID = 0.036, 0.0032, 0.80
STEEL_KG_M3, STEEL_J_KG_K = 7800.0, 480.0  # handbook values, from memory
INTO_ROTOR = 0.9  # the rest goes into pads and caliper. Common practice, no source.
# Both faces, in the wind of riding, with what a hot ring radiates. Common practice, no source.
COOLING_W_M2_K = 100.0
# The iron ring of a drum: it heats inside and cools outside only, through the hub. Common practice, no source.
DRUM_WIDE_M, DRUM_THICK_M, DRUM_COOLING_W_M2_K = 0.030, 0.007, 60.0
IRON_KG_M3, IRON_J_KG_K = 7200.0, 500.0  # handbook values, from memory


@dataclass(frozen=True, slots=True)
class Rotor:
    """A ring that heats. j_k: heat capacity; w_k: what it gives off."""

    j_k: float
    w_k: float


def ring_kg(diameter_m: float) -> float:
    """Mass of the ring from its diameter (kg)."""
    return math.pi * (diameter_m - RING_M) * RING_M * THICK_M * STEEL_KG_M3 * SOLID


def drum_kg(inner_m: float) -> float:
    """Mass of a drum's iron ring from its inner diameter (kg)."""
    return math.pi * (inner_m + DRUM_THICK_M) * DRUM_THICK_M * DRUM_WIDE_M * IRON_KG_M3


def drum_of(inner_m: float | None, kg: float | None) -> Rotor | None:
    """From what is known of it; None where neither is."""
    mass = kg if kg is not None else None if inner_m is None else drum_kg(inner_m)
    if mass is None:
        return None
    area = mass / (IRON_KG_M3 * DRUM_THICK_M)
    return Rotor(mass * IRON_J_KG_K, DRUM_COOLING_W_M2_K * area)


def rotor_of(diameter_m: float | None, kg: float | None) -> Rotor | None:
    """A disc from what is known of it; None where neither is."""
    if diameter_m is not None and diameter_m <= RING_M:
        return None
    mass = kg if kg is not None else None if diameter_m is None else ring_kg(diameter_m)
    if mass is None:
        return None
    area = mass / (STEEL_KG_M3 * SOLID * THICK_M) * 2.0
    return Rotor(mass * STEEL_J_KG_K, COOLING_W_M2_K * area)


def stop_j(mass_kg: float, rotating_kg: float, speed_m_s: float) -> float:
    """½ (m + J/r²) v²: what a stop from a speed turns into heat (J)."""
    return 0.5 * (mass_kg + rotating_kg) * speed_m_s**2


def brakes_share(body: Body, speed_m_s: float, decel_m_s2: float) -> float:
    """Share of a stop that the brakes do themselves; air and road do the rest. The air's mean over a stop
    at even braking is half of what it is at the start, since v² falls evenly over the way."""
    load = road_load(body, speed_m_s)
    helps = 0.5 * load.aero_n + load.rolling_n
    return max(0.0, 1.0 - helps / (body.mass_kg * decel_m_s2)) if decel_m_s2 > 0 else 1.0


def after_stops_c(rotor: Rotor, joules: float, count: int, each_s: float, air_c: float) -> float:
    """Rotor after so many stops, one every so many seconds (°C): each adds E/C, between them it cools
    with the time constant C/w. The sum of a geometric row, in closed form."""
    rise = INTO_ROTOR * joules / rotor.j_k
    keeps = math.exp(-each_s * rotor.w_k / rotor.j_k)
    return air_c + rise * (count if keeps >= 1.0 else (1.0 - keeps**count) / (1.0 - keeps))


def descent_c(rotor: Rotor, watts: float, seconds: float, air_c: float) -> float:
    """Rotor after braking at a power for so long (°C)."""
    ends = INTO_ROTOR * watts / rotor.w_k
    return air_c + ends * (1.0 - math.exp(-seconds * rotor.w_k / rotor.j_k))


def front_share(share: float, cg_m: float, base_m: float, decel_m_s2: float) -> float:
    """Share of the braking that the front wheel does, both tyres used alike: its load share, weight
    shifted forward."""
    return min(1.0, share + cg_m / base_m * decel_m_s2 / GRAVITY_M_S2)


def hardest_m_s2(share: float, cg_m: float, base_m: float, grip_mu: float) -> float:
    """Hardest braking (m/s²): where the rear wheel leaves the ground, or the tyres let go."""
    return GRAVITY_M_S2 * min(grip_mu, (1.0 - share) * base_m / cg_m)
