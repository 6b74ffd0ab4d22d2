"""A hub motor's axle in its dropouts: the torque that its flats and torque arms hold."""

from __future__ import annotations

# Pressure that a slot takes on an edge: half of 1.5 times the yield of plain steel (250 MPa) and of a
# 6061-T6 plate (240 MPa), which cracks when it gives, so a third. Handbook values, from memory.
BEARING_PA = {"steel": 187e6, "aluminium": 120e6}
ARM = "steel"


def flats_nm(metal: str, thick_m: float, flat_m: float) -> float:
    """Torque (N m) that one plate holds on the two flats of an axle: σ t L² / 4.

    Each flat bears on one half of its length, L/2, evenly: σ t L/2 at an arm of L/4, on two flats.
    The grip of the axle nut is not counted: it is lost when a washer settles.
    """
    return BEARING_PA[metal] * thick_m * flat_m**2 / 4.0


def holds_nm(
    metal: str, thick_m: float, flat_m: float, arms: int, arm_m: float
) -> tuple[float, float]:
    """(dropouts alone, with the arms): both dropouts, and each arm as a plate of its own."""
    alone = 2.0 * flats_nm(metal, thick_m, flat_m)
    return alone, alone + arms * flats_nm(ARM, arm_m, flat_m)
