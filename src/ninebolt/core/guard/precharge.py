"""Filling the controller's capacitors through a resistor: RC closed forms."""

from __future__ import annotations

import math
from dataclasses import dataclass


def time_to_share_s(r_ohm: float, c_farad: float, share: float) -> float:
    """Time until the capacitor stands at a share of the source voltage: -R C ln(1 - share)."""
    return -r_ohm * c_farad * math.log(1.0 - share)


def fill_energy_j(c_farad: float, volts: float) -> float:
    """Heat in the resistor for one fill, whatever its value: ½ C V²."""
    return 0.5 * c_farad * volts * volts


def peak_w(r_ohm: float, volts: float) -> float:
    """Power in the resistor at the first instant, and for good if the load is on."""
    return volts * volts / r_ohm


@dataclass(frozen=True, slots=True)
class LoadedFill:
    """Filling while a load is on: share of the pack voltage reached in the end, power that stays in
    the resistor (W). A load of constant power may hold it down altogether: share 0."""

    share: float
    stays_w: float


def with_load(r_ohm: float, volts: float, load_w: float) -> LoadedFill:
    """Constant-power load behind the resistor: V² - E V + R P = 0, else stuck at the bottom.

    Source: Kirchhoff's voltage law. Starting from empty capacitors the converter holds the voltage
    at its own start-up threshold if no root exists; the resistor then carries nearly E²/R.
    """
    inside = volts * volts - 4.0 * r_ohm * load_w
    if inside < 0.0:
        return LoadedFill(0.0, peak_w(r_ohm, volts))
    v = 0.5 * (volts + math.sqrt(inside))
    return LoadedFill(v / volts, (volts - v) ** 2 / r_ohm)
