"""A motor measured at the bench: KV, resistance, inductance, rewinding."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.copper import copper_factor

TELLS = (
    0.5  # half-width of a measured value from which on it tells nothing; common practice, no source
)


CLAMP = 0.02  # of its reading, by which a clamp meter is off; common practice, no source
AC_V = 0.003  # by which a meter's AC volts are off near nothing; common practice, no source


@dataclass(frozen=True, slots=True)
class Measured:
    """A value with the half-width of its uncertainty (relative) and how it was worked."""

    value: float
    spread: float
    words: str


def kv_from_spin(
    rpm: float, volts: float, volts_spread: float = 0.01, rpm_spread: float = 0.005
) -> Measured:
    """KV from free running at a battery voltage: a little low, since drag takes some volts (R i is small)."""
    return Measured(rpm / volts, math.hypot(volts_spread, rpm_spread), "rpm / V, running free")


def kv_from_drill(rpm: float, volts_ac_rms: float) -> Measured:
    """KV from the back-EMF between two leads on a drill: peak is √2 times what an AC meter shows. The shape of
    the wave (a trapezoid) leaves some percent."""
    spread = math.hypot(0.04, AC_V / volts_ac_rms)
    return Measured(rpm / (volts_ac_rms * math.sqrt(2.0)), spread, "rpm / (√2 V), line to line")


def phase_ohm(
    volts: float, amps: float, lead_volts: float = 0.0, winding_c: float = 20.0
) -> Measured:
    """Resistance of one phase at 20 °C from a known current through two of them.

    volts: at the same two leads while the current flows; lead_volts: what the meter shows with its tips on one
    another at that current, taken off. R = (V - V0) / I / 2, back to 20 °C by copper.
    """
    line_to_line = (volts - lead_volts) / amps
    return Measured(
        line_to_line / 2.0 / copper_factor(winding_c),
        0.02 + 0.002 / max(volts - lead_volts, 1e-3),
        "(V - V of the leads) / I / 2",
    )


def pack_ohm(v1: float, a1: float, v2: float, a2: float, reading_v: float = 0.1) -> Measured:
    """Resistance between two readings under load: (V1 - V2) / (I2 - I1), the meter off by reading_v and the clamp by
    CLAMP of each reading. Raises ValueError where they do not say one."""
    if abs(a2 - a1) < 1e-9 or (v1 - v2) / (a2 - a1) <= 0.0:
        raise ValueError("volts must fall as amps rise")
    drop = abs(v1 - v2)
    return Measured(
        (v1 - v2) / (a2 - a1),
        math.hypot(
            math.sqrt(2.0) * reading_v / max(drop, 1e-6),
            math.hypot(CLAMP * a1, CLAMP * a2) / abs(a2 - a1),
            0.03,
        ),
        "(V1 - V2) / (I2 - I1)",
    )


def phase_henry(volts: float, amps: float, seconds: float, ohm: float) -> Measured:
    """Inductance of one phase from a step of voltage over two: the current reaches I after t.

    i(t) = V / 2R (1 - exp(-t R / L)), solved for L; for a time well under L / R it is V t / 2 I.
    """
    ends = volts / (2.0 * ohm)
    if amps >= ends:
        raise ValueError("the current is past what the resistance lets through")
    return Measured(-seconds * ohm / math.log(1.0 - amps / ends), 0.1, "step over two phases")
