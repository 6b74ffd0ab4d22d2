"""Numbers of cells and strips that cannot be so: unlike any, or against the cell's own resistance."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ninebolt.core.bike.cells import cell_empty_v, cell_full_v
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.bolts.usual import Usual, over, span, unusual_says
from ninebolt.core.finding import Source, q
from ninebolt.core.limits import Limit

CHARGE_H = span("ratio", 0.02, 6.0, "amps over amp-hours that a cell may be charged with")
SLOW = span("ratio", 0.0, 8.0, "slow resistance of a cell over its ohmic one")
CELL_J_KG_K = span("ratio", 600.0, 1500.0, "J/(kg K) of a cell")
STRIP_WIDE = span("m", 0.002, 0.1, "width of a strip")
WELDED = span("m", 5e-5, 0.0006, "thickness of a strip that is welded to a round cell")
BOLTED = span("m", 5e-5, 0.012, "thickness of a bar that is bolted")
LEAST_V = Limit(0.0, "v", "what is left between full and empty volts at the peak current")


@check("pack.usual", "a number of cell or strips is unlike any", parts=("pack.cell", "pack.strips"))
def usual(bike: Bike) -> Iterator[Says]:
    pack = bike.build.pack
    cell, strips = pack.cell, pack.strips
    rows = [
        Usual("strip_wide", "The strips' width", strips.width_m, *STRIP_WIDE),
        Usual(
            "strip_thick",
            "The strips' thickness",
            strips.thick_m,
            *(WELDED if cell.form == "cylindrical" else BOLTED),
        ),
        Usual(
            "charge",
            "The cell's charge current over its amp-hours",
            over(cell.i_charge_a, cell.capacity_ah),
            *CHARGE_H,
        ),
        Usual(
            "slow",
            "The cell's slow resistance over its ohmic one",
            over(cell.r1_ohm, cell.r0_ohm),
            *SLOW,
        ),
        Usual(
            "heat",
            "The cell's heat capacity per kilogram",
            over(cell.heat_j_k, cell.mass_kg),
            *CELL_J_KG_K,
        ),
    ]
    return unusual_says(rows)


@check(
    "pack.peak_off",
    "the cell's own resistance does not let its peak current through",
    parts=("pack.cell",),
    source=Source("computed", "full volts - amps x ohmic resistance < empty volts"),
)
def peak_off(bike: Bike) -> Says | None:
    cell = bike.build.pack.cell
    peak, ohm = cell.i_peak_a.or_else(cell.i_cont_a.or_else(math.nan)), cell.r0_ohm.amount
    room = cell_full_v(cell) - cell_empty_v(cell)
    if ohm is None or not room - peak * ohm < LEAST_V:
        return None
    return Says(
        "caution",
        "The cell cannot give the current that is written of it",
        f"At {q(peak, 'a')} its {q(ohm, 'ohm')} take {q(peak * ohm, 'v')}, more than the {q(room, 'v')} between "
        f"full and empty: it would be empty at once, from full. One of the two is misread, or in another unit; "
        f"until that is known no limit of the cells protects them.",
        peak,
        room / ohm,
        "a",
    )
