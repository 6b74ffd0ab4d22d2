"""The pack's cells: curve, volts, limits, resistance at temperature; the pack in whole numbers."""

from __future__ import annotations

import math

from ninebolt.core.battery.ocv import EMPTY_V, FULL_V, NOMINAL_V, Curve, curve_for
from ninebolt.core.battery.pack import PackFacts, energy_between
from ninebolt.core.battery.temperature import current_share, resistance_factor
from ninebolt.core.parts.cell import Cell
from ninebolt.core.parts.pack import Pack

CLASS_B_V = 60.0  # DC, upper end of voltage class A. ISO 6469-3, UN Regulations 100 and 136.


def cell_curve(cell: Cell) -> Curve:
    return curve_for(cell.chemistry, cell.ocv)


def cell_full_v(cell: Cell) -> float:
    return cell.full_v.or_else(FULL_V.get(cell.chemistry, math.nan))


def cell_nominal_v(cell: Cell) -> float:
    return cell.nominal_v.or_else(NOMINAL_V.get(cell.chemistry, math.nan))


def cell_empty_v(cell: Cell) -> float:
    return cell.empty_v.or_else(EMPTY_V.get(cell.chemistry, math.nan))


def cell_peak_a(cell: Cell) -> float:
    """Peak current of one cell, else its continuous, else inf."""
    return cell.i_peak_a.or_else(cell.i_cont_a.or_else(math.inf))


def cell_r0_ohm(pack: Pack) -> float:
    """Ohmic resistance of one cell at the pack's temperature; nan if unknown."""
    return pack.cell.r0_ohm.taken * resistance_factor(pack.temp_c.taken)


def warm_share(pack: Pack) -> float:
    """Share of their rated current that the cells may give at the pack's temperature."""
    return current_share(pack.temp_c.taken, pack.cell.temp_max_c.taken)


def facts_of(pack: Pack) -> PackFacts | None:
    """Whole-pack values; None while the cell or the numbers in series and parallel are unknown."""
    s, p, cell = pack.series, pack.parallel, pack.cell
    curve = cell_curve(cell)
    if s is None or p is None or cell.capacity_ah.amount is None or not curve:
        return None
    ah = cell.capacity_ah.amount
    return PackFacts(
        full_v=s * cell_full_v(cell),
        nominal_v=s * cell_nominal_v(cell),
        empty_v=s * cell_empty_v(cell),
        capacity_ah=p * ah,
        energy_wh=s * p * energy_between(curve, ah),
        cont_a=p * cell.i_cont_a.or_else(math.inf),
        peak_a=p * cell_peak_a(cell),
        r_ohm=s / p * cell_r0_ohm(pack) + pack.interconnect_ohm.taken,
        slow_ohm=s / p * cell.r1_ohm.taken,
    )
