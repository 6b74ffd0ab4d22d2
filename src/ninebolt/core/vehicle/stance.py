"""How the bike stands: springs and sag, rake and trail with another fork or shock."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.units import GRAVITY_M_S2

UNSPRUNG_KG = {"front": 15.0, "rear": 20.0}  # wheel and half its suspension. Common practice.


@dataclass(frozen=True, slots=True)
class Stance:
    """How it stands, nobody on it. seat and clearance are how much they rose (m)."""

    rake_deg: float
    trail_m: float
    wheelbase_m: float
    seat_up_m: float
    clearance_up_m: float
    pitch_deg: float


def wheel_rate(rate_n_m: float, leverage: float, rake_deg: float = 0.0) -> float:
    """Spring rate felt at the wheel, upward (N/m). A shock: k / leverage². A fork leans with the rake:
    k / cos²."""
    return rate_n_m / (leverage**2 * math.cos(math.radians(rake_deg)) ** 2)


def sag_m(load_n: float, rate_n_m: float, preload_m: float, leverage: float, rake: float) -> float:
    """How far a wheel goes in under a load (m), from full length; preload is counted at the spring."""
    felt = wheel_rate(rate_n_m, leverage, rake)
    held = rate_n_m * preload_m / (leverage * math.cos(math.radians(rake)))
    return max(0.0, (load_n - held) / felt)


def sprung_n(ridden_kg: float, share: float, end: str) -> float:
    """Weight on one end's springs with the rider on (N)."""
    return max(0.0, ridden_kg * share - UNSPRUNG_KG[end]) * GRAVITY_M_S2


def rate_for(
    load_n: float, sag: float, preload_m: float, leverage: float, rake_deg: float
) -> float:
    """Spring rate that gives a sag (N/m)."""
    cos = math.cos(math.radians(rake_deg))
    return load_n / (sag / (leverage**2 * cos**2) + preload_m / (leverage * cos))


def trail_m(rake_deg: float, offset_m: float, radius_m: float) -> float:
    """Trail on the ground: (R sin ε - d) / cos ε."""
    rake = math.radians(rake_deg)
    return (radius_m * math.sin(rake) - offset_m) / math.cos(rake)


def stance(
    rake_deg: float,
    offset_m: float,
    front_m: float,
    rear_m: float,
    base_m: float,
    fork_longer_m: float,
    rear_drop_m: float,
    seat_x_m: float,
) -> Stance:
    """The bike with a fork longer by so much, and the rear wheel lower in the frame by so much.

    Exact plane geometry: the axles are moved in the frame (the front one along the fork), then the frame is
    turned until both wheels stand. seat_x_m: forward of the rear axle; clearance is read half way.
    """
    rake = math.radians(rake_deg)
    ax, ay = 0.0, rear_m - rear_drop_m
    bx = base_m + fork_longer_m * math.sin(rake)
    by = front_m - fork_longer_m * math.cos(rake)
    long = math.hypot(bx - ax, by - ay)
    base = math.sqrt(long**2 - (front_m - rear_m) ** 2)
    turn = math.atan2(front_m - rear_m, base) - math.atan2(by - ay, bx - ax)  # nose up is plus

    def rise(x: float, y: float) -> float:
        return rear_m + (x - ax) * math.sin(turn) + (y - ay) * math.cos(turn) - y

    new = rake_deg + math.degrees(turn)
    return Stance(
        new,
        trail_m(new, offset_m, front_m),
        base,
        rise(seat_x_m, 0.9),
        rise(0.5 * base_m, 0.3),
        math.degrees(turn),
    )
