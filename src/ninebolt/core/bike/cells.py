"""The pack's cells: curve, volts, limits, resistance at temperature; the pack in whole numbers."""

from __future__ import annotations

import math

from ninebolt.core.battery.ocv import EMPTY_V, FULL_V, NOMINAL_V, Curve, curve_for
from ninebolt.core.battery.pack import PEUKERT, PackFacts, energy_between
from ninebolt.core.battery.temperature import current_share, resistance_factor
from ninebolt.core.bike.shape import body_of, steps_of
from ninebolt.core.guard.conductors import strip_amps, strip_ohm
from ninebolt.core.limits import Limit
from ninebolt.core.match.fill import Round
from ninebolt.core.parts.cell import Cell
from ninebolt.core.parts.pack import Pack

STRIP_RISE_K = Limit(30.0, "k", "rise of a strip: it must not warm the cells it is welded to")
SUM_OFF = Limit(
    0.02, "ratio", "groups, leads and terminals of one pack apart: two meters differ by less"
)
DEAD_V = Limit(2.0, "v", "a nickel-rich or manganese group under this is scrap")
LVC_HIGH_V = Limit(3.3, "v", "cut-off per nickel-rich cell above which much stays unused")
SAFE_V = Limit(5.0, "v", "measured at the controller before a hand goes in, every time")
CLASS_B_V = 60.0  # DC, upper end of voltage class A. ISO 6469-3, UN Regulations 100 and 136.


def cell_curve(cell: Cell) -> Curve:
    return curve_for(cell.chemistry, cell.ocv)


def cell_full_v(cell: Cell) -> float:
    return cell.full_v.or_else(FULL_V.get(cell.chemistry, math.nan))


def cell_nominal_v(cell: Cell) -> float:
    return cell.nominal_v.or_else(NOMINAL_V.get(cell.chemistry, math.nan))


def cell_peukert(cell: Cell) -> float:
    """Exponent by which it gives less at a high current; 1 where it gives all that it holds."""
    return PEUKERT.get(cell.chemistry, 1.0)


def cell_empty_v(cell: Cell) -> float:
    return cell.empty_v.or_else(EMPTY_V.get(cell.chemistry, math.nan))


def cell_peak_a(cell: Cell) -> float:
    """Peak current of one cell, else its continuous, else inf."""
    return cell.i_peak_a.or_else(cell.i_cont_a.or_else(math.inf))


def sorted_in(pack: Pack) -> bool:
    """Whether the groups as sorted stand for the whole pack: as many groups, of as many cells, each
    with its capacity."""
    groups = pack.sorted_groups
    if not groups or len(groups) != pack.series:
        return False
    return all(g.capacity_ah.known and len(g.cells) in (0, pack.parallel) for g in groups)


def cell_ah(pack: Pack) -> float | None:
    """Capacity of one cell; with sorted groups the smallest group's, by its cells in parallel: it
    ends the discharge."""
    if sorted_in(pack):
        return min(g.capacity_ah.taken for g in pack.sorted_groups) / (pack.parallel or 1)
    return pack.cell.capacity_ah.amount


def cell_r0_ohm(pack: Pack) -> float:
    """Ohmic resistance of one cell at the pack's temperature, from the sorted groups where there are
    any; nan if unknown."""
    r0 = pack.cell.r0_ohm.taken
    if sorted_in(pack) and all(g.r_ohm.known for g in pack.sorted_groups):
        r0 = sum(g.r_ohm.taken for g in pack.sorted_groups)
        r0 *= (pack.parallel or 1) / (pack.series or 1)
    return r0 * resistance_factor(pack.temp_c.taken)


def warm_share(pack: Pack) -> float:
    """Share of their rated current that the cells may give at the pack's temperature."""
    return current_share(pack.temp_c.taken, pack.cell.temp_max_c.taken)


def strips_of(pack: Pack) -> tuple[float, float] | None:
    """(amps that all strips of one step carry for a rise of STRIP_RISE_K, ohms of all steps); None
    while not measured. Copper, nickel, steel or aluminium; a bus bar is one thick strip."""
    s, body = pack.strips, body_of(pack)
    width, thick = s.width_m.amount, s.thick_m.amount
    pitch = body.pitch_m if isinstance(body, Round) else None
    length = s.length_m.or_else(pitch or math.nan)
    if width is None or thick is None or math.isnan(length):
        return None
    each = s.each or (pack.parallel or 1)
    amps = each * strip_amps(s.metal, width, thick, STRIP_RISE_K)
    ohm = max(steps_of(pack) - 1, 1) * strip_ohm(s.metal, width, thick, length) / each
    return amps, ohm


def joints_ohm(pack: Pack) -> float:
    """What joins the cells: as measured or from a sheet, else the strips as computed, else as guessed or
    assumed."""
    given, strips = pack.interconnect_ohm, strips_of(pack)
    if strips is None or (given.known and given.origin != "guess"):
        return given.taken
    return strips[1]


def facts_of(pack: Pack) -> PackFacts | None:
    """Whole-pack values; None while the number in series or the chemistry is unknown, for without volts nothing can be
    judged. What else is unknown is nan, and currents inf: a pack of unknown Ah is no less live."""
    s, cell = pack.series, pack.cell
    curve = cell_curve(cell)
    if s is None or not curve:
        return None
    p = math.nan if pack.parallel is None else float(pack.parallel)
    ah = cell_ah(pack)
    ah = math.nan if ah is None else ah
    known = not math.isnan(p)
    return PackFacts(
        full_v=s * cell_full_v(cell),
        nominal_v=s * cell_nominal_v(cell),
        empty_v=s * cell_empty_v(cell),
        capacity_ah=p * ah,
        energy_wh=s * p * energy_between(curve, ah),
        cont_a=p * cell.i_cont_a.or_else(math.inf) if known else math.inf,
        peak_a=p * cell_peak_a(cell) if known else math.inf,
        r_ohm=s / p * cell_r0_ohm(pack) + joints_ohm(pack),
        slow_ohm=s / p * cell.r1_ohm.taken,
    )
