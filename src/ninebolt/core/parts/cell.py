"""Cells, modules and blocks: the unit that a pack is made of."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.parts.base import Part
from ninebolt.core.value import Value, choice, count, curve, num

CHEMISTRIES = ("nickel_rich", "manganese_blend", "iron_phosphate", "lead_acid", "custom")
FOUND = ("unknown", *CHEMISTRIES[:-1])  # what a pack may be of that somebody found or bought
FORMS = ("cylindrical", "prismatic", "module", "block", "ready_made")


@dataclass(frozen=True, slots=True)
class Cell(Part):
    """One cell, or a module of inner_series x inner_parallel cells in one housing.

    Electrical values are per cell; mass and sizes are of the whole body (cell or module).
    """

    chemistry: str = choice("Chemistry", CHEMISTRIES)
    form: str = choice("Form", FORMS)
    inner_series: int | None = count("Cells in series inside the body", 1, 64, default=1)
    inner_parallel: int | None = count("Cells in parallel inside the body", 1, 200, default=1)
    capacity_ah: Value = num("Capacity", above=0, hi=2000)
    r0_ohm: Value = num("Ohmic resistance", above=0, hi=1, help="DC, at 25 °C")
    r1_ohm: Value = num("Slow (RC) resistance", lo=0, hi=1, assume=0.0, detail=True)
    tau_s: Value = num("Time constant of the slow part", above=0, hi=1e5, assume=15, detail=True)
    i_cont_a: Value = num("Continuous discharge current", above=0, hi=5000)
    i_peak_a: Value = num("Peak discharge current", above=0, hi=10000)
    i_charge_a: Value = num("Charge current limit", above=0, hi=5000, detail=True)
    full_v: Value = num("Full voltage", above=0, hi=20)
    nominal_v: Value = num("Nominal voltage", above=0, hi=20)
    empty_v: Value = num("Empty voltage", above=0, hi=20)
    ocv: tuple[tuple[float, float], ...] = curve(
        "Open-circuit curve",
        "pairs of charge 0…1 and volts; empty = typical for the chemistry",
        x=(0.0, 1.0),
        y=(0.1, 20.0),
        least=2,
    )
    temp_max_c: Value = num("Highest cell temperature", lo=-20, hi=120, assume=60, detail=True)
    heat_j_k: Value = num("Heat capacity of the body", above=0, hi=1e6, detail=True)
    diameter_m: Value = num("Diameter", lo=0.002, hi=1)
    length_m: Value = num("Length", lo=0.002, hi=2)
    width_m: Value = num("Width", lo=0.002, hi=2)
    height_m: Value = num("Height", lo=0.002, hi=2)

    @property
    def body_series(self) -> int:
        return self.inner_series or 1

    @property
    def body_parallel(self) -> int:
        return self.inner_parallel or 1
