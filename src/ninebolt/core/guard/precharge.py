"""Filling the controller's capacitors through a resistor: RC closed forms."""

from __future__ import annotations

import math


def time_to_share_s(r_ohm: float, c_farad: float, share: float) -> float:
    """Time until the capacitor stands at a share of the source voltage: -R C ln(1 - share)."""
    return -r_ohm * c_farad * math.log(1.0 - share)


def fill_energy_j(c_farad: float, volts: float) -> float:
    """Heat in the resistor for one fill, whatever its value: ½ C V²."""
    return 0.5 * c_farad * volts * volts


def peak_w(r_ohm: float, volts: float) -> float:
    """Power in the resistor at the first instant, and for good if the load is on."""
    return volts * volts / r_ohm
