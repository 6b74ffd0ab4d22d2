"""Tyre size on the wall -> rolling radius; speed symbol -> km/h."""

from __future__ import annotations

import re

from ninebolt.units import INCH_M, KM_H_PER_M_S

# Speed symbols and km/h. UN Regulation 75, from memory.
SPEED_SYMBOL_KM_H: dict[str, int] = {
    "B": 50,
    "F": 80,
    "G": 90,
    "J": 100,
    "K": 110,
    "L": 120,
    "M": 130,
    "N": 140,
    "P": 150,
    "Q": 160,
    "R": 170,
    "S": 180,
    "T": 190,
    "U": 200,
    "H": 210,
    "V": 240,
    "W": 270,
}

# '110/90-18', '140/70 R17'
_METRIC = re.compile(r"^\s*(\d{2,3})\s*/\s*(\d{2,3})\s*[-RrBb ]\s*[Rr]?\s*(\d{1,2}(?:\.\d)?)")
# '2.75-17', '3.00 - 21'
_INCH = re.compile(r"^\s*(\d{1,2}\.\d{1,2})\s*[-xX]\s*(\d{1,2})")

# A loaded tyre rolls on a little less than its free radius. Common practice, no source.
ROLLING_SHARE = 0.97


def free_radius(code: str) -> float | None:
    """Unloaded radius (m) from a size code; None if it is not understood.

    Metric: rim/2 + width x aspect. Inch: the section is as high as wide (ISO 4249 series, from
    memory).
    """
    if match := _METRIC.match(code):
        width, aspect, rim = (float(g) for g in match.groups())
        return rim * INCH_M / 2 + width / 1000.0 * aspect / 100.0
    if match := _INCH.match(code):
        width, rim = (float(g) for g in match.groups())
        return rim * INCH_M / 2 + width * INCH_M
    return None


def rolling_radius(code: str) -> float | None:
    """Radius the bike rolls on (m), from the size code."""
    free = free_radius(code)
    return None if free is None else free * ROLLING_SHARE


def symbol_speed(symbol: str) -> float | None:
    """Speed of a symbol in m/s."""
    km_h = SPEED_SYMBOL_KM_H.get(symbol.strip().upper())
    return None if km_h is None else km_h / KM_H_PER_M_S
