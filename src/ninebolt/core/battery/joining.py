"""Two packs or groups joined in parallel: what flows at once, for how long, and how they share."""

from __future__ import annotations

import math
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Joining:
    """peak_a: at the first instant. tau_s: time constant. moved_ah: until they are level.
    heat_wh: turned to heat in the joint. share: of the first pack under load."""

    peak_a: float
    tau_s: float
    moved_ah: float
    heat_wh: float
    share: float


def join(delta_v: float, r1_ohm: float, r2_ohm: float, f1_farad: float, f2_farad: float) -> Joining:
    """Each pack as a capacitor behind a resistance.

    f: coulombs per volt of open-circuit voltage near where they stand. i0 = ΔV / ΣR,
    tau = ΣR C1 C2 / (C1 + C2), heat = ½ C1 C2 / (C1 + C2) ΔV². Closed forms of the RC circuit;
    over a wide ΔV the curve bends and tau is only an order of size.
    """
    total = r1_ohm + r2_ohm
    both = f1_farad * f2_farad / (f1_farad + f2_farad)
    return Joining(
        abs(delta_v) / total,
        total * both,
        both * abs(delta_v) / 3600.0,
        0.5 * both * delta_v**2 / 3600.0,
        r2_ohm / total,
    )


def level_time_s(delta_v: float, within_v: float, total_ohm: float, both_farad: float) -> float:
    """Time for a difference to fall to within_v through a resistance: tau ln(ΔV / within)."""
    if abs(delta_v) <= within_v:
        return 0.0
    return total_ohm * both_farad * math.log(abs(delta_v) / within_v)


def lift_time_s(delta_v: float, amps: float, farad: float) -> float:
    """Time for a charger of constant current to lift the lower pack by the difference: C ΔV / I."""
    return farad * abs(delta_v) / amps
