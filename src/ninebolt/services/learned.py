"""What is learned from runs, and where in a build it is adopted."""

from __future__ import annotations

# Name in the fit -> (path, label, quantity).
PATHS = {
    "cda_m2": ("road.cda_m2", "Drag area", "m2"),
    "crr": ("road.crr", "Rolling resistance", "ratio"),
    "mass_kg": ("donor.correction_kg", "Mass, rider on", "kg"),
    "r0_ohm": ("pack.cell.r0_ohm", "Cell resistance", "ohm"),
    "efficiency": ("gear.efficiency", "Driveline efficiency", "ratio"),
    "grip_mu": ("gear.tyre.grip_mu", "Grip of the rear tyre", "ratio"),
}
LEARNED = (*(path for path, _, _ in PATHS.values()), "donor.correction_kg_m")
