"""Tyre size on the wall -> rolling radius; speed symbol -> km/h."""

from __future__ import annotations

import re
from dataclasses import dataclass

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

# '110/90-18', '140/70 R17', '120/70ZR17'
_METRIC = re.compile(
    r"^\s*(\d{2,3})\s*/\s*(\d{2,3})\s*(?:-|[Zz]?[RrBb]\s*-?|\s)\s*[Rr]?\s*(\d{1,2}(?:\.\d)?)"
)
# '2.75-17', '3.00 - 21'
_INCH = re.compile(r"^\s*(\d{1,2}\.\d{1,2})\s*[-xX×]\s*(\d{1,2})(?![.\d])")
# '2 3/4-17', '2-17'
_MIXED = re.compile(r"^\s*(\d{1,2})(?:\s+(\d)/(\d))?\s*-\s*(\d{1,2})(?![.\d])")
# '26x4.0', '20 x 2.125', '17x2.25': the class or rim first, then the width
_CLASS = re.compile(r"^\s*(\d{2}(?:\.5)?)\s*[xX×]\s*(\d{1,2}(?:[.,]\d{1,3})?)(?![-\d]|\s+\d/)")
# Bead seat (mm) of the inch classes that name an outer size. ISO 5775-1, from memory.
BEAD_MM = {20.0: 406, 24.0: 507, 26.0: 559, 27.5: 584, 29.0: 622}
# No tyre of a two-wheeler is outside these: aspect (%), section (m), half of the seat (m). Common practice, no source.
ASPECT, SECTION_M, SEAT_M = (20.0, 115.0), (0.02, 0.36), (0.06, 0.36)
WIDEST_RIM_IN = 2.0  # '17x1.6' is a rim of 17 inches, 1.6 wide: no tyre is so narrow

# A loaded tyre rolls on a little less than its free radius. Common practice, no source.
ROLLING_SHARE = 0.97
# Share by which a tyre's free radius grows at 40 m/s, and with the square of the speed: its own weight pulls it
# outward. Cross-ply ('-' in its size) and radial ('R'). Common practice, no source.
GROWN_AT_M_S, GROWN_CROSS, GROWN_RADIAL = 40.0, 0.015, 0.005


@dataclass(frozen=True, slots=True)
class Size:
    """A tyre's size: section and its height, radius of what it sits on (m); rim in inches, None in another system."""

    section_m: float
    height_m: float
    seat_m: float
    rim_in: float | None


def _size(code: str) -> Size | None:
    """A size code; None where it is not understood, or is of no tyre.

    Metric: section x aspect. Inch: the section is as high as wide (ISO 4249 series, from memory). Class x width
    (26x4.0): half the bead seat and the width.
    """
    if is_rim(code):
        return None
    if match := _METRIC.match(code):
        width, aspect, rim = (float(g) for g in match.groups())
        if not ASPECT[0] <= aspect <= ASPECT[1]:
            return None
        found = Size(width / 1000.0, width / 1000.0 * aspect / 100.0, rim * INCH_M / 2, rim)
    elif match := _INCH.match(code):
        width, rim = (float(g) * INCH_M for g in match.groups())
        found = Size(width, width, rim / 2, rim / INCH_M)
    elif match := _MIXED.match(code):
        whole, over, under, rim = (float(g or 0) for g in match.groups())
        width = (whole + (over / under if under else 0.0)) * INCH_M
        found = Size(width, width, rim * INCH_M / 2, rim)
    elif match := _CLASS.match(code):
        size, width = float(match.group(1)), float(match.group(2).replace(",", ".")) * INCH_M
        seat = BEAD_MM.get(size)
        found = Size(width, width, seat / 2000.0 if seat else size * INCH_M / 2, None)
    else:
        return None
    within = (
        SECTION_M[0] <= found.section_m <= SECTION_M[1] and SEAT_M[0] <= found.seat_m <= SEAT_M[1]
    )
    return found if within else None


def free_radius(code: str) -> float | None:
    """Unloaded radius (m) from a size code; None if it is not understood."""
    found = _size(code)
    return None if found is None else found.seat_m + found.height_m


def rim_in(code: str) -> float | None:
    """Diameter of the rim a tyre goes on (in), None for a size that is not understood, or of another system."""
    found = _size(code)
    return None if found is None else found.rim_in


def grown_m(code: str, speed_m_s: float) -> float | None:
    """By how much a tyre stands taller at a speed (m of radius); None for a size that is not understood."""
    free = free_radius(code)
    share = GROWN_RADIAL if re.search(r"\d\s*[Zz]?[Rr]", code) else GROWN_CROSS
    return None if free is None else free * share * (speed_m_s / GROWN_AT_M_S) ** 2


def is_rim(code: str) -> bool:
    """Whether this is the size of a rim, such as 17x1.6, and not of a tyre."""
    match = _CLASS.match(code)
    if match is None:
        return False
    narrow = float(match.group(2).replace(",", ".")) < WIDEST_RIM_IN
    return narrow and float(match.group(1)) not in BEAD_MM


def rolling_radius(code: str) -> float | None:
    """Radius the bike rolls on (m), from the size code."""
    free = free_radius(code)
    return None if free is None else free * ROLLING_SHARE


def symbol_speed(symbol: str) -> float | None:
    """Speed of a symbol in m/s."""
    km_h = SPEED_SYMBOL_KM_H.get(symbol.strip().upper())
    return None if km_h is None else km_h / KM_H_PER_M_S


# Load index -> kg a tyre carries. ISO 4251-1 / UN R75, from memory; each step is a fortieth of a decade
# on the standard's row of preferred numbers.
_LOADS = (
    "45 46.2 47.5 48.7 50 51.5 53 54.5 56 58 60 61.5 63 65 67 69 71 73 75 77.5 80 82.5 85 87.5 90 92.5 95 "
    "97.5 100 103 106 109 112 115 118 121 125 128 132 136 140 145 150 155 160 165 170 175 180 185 190 195 "
    "200 206 212 218 224 230 236 243 250 257 265 272 280 290 300 307 315 325 335 345 355 365 375 387 400 "
    "412 425 437 450"
)  # fmt: skip
LOAD_INDEX_KG = tuple(float(x) for x in _LOADS.split())


def index_load_kg(index: int | None) -> float | None:
    """What a tyre of a load index carries (kg); None outside the table."""
    return LOAD_INDEX_KG[index] if index is not None and index < len(LOAD_INDEX_KG) else None


def section_m(code: str) -> float | None:
    """Width of the section (m) from a size code; None if it is not understood."""
    found = _size(code)
    return None if found is None else found.section_m
