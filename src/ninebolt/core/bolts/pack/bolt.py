"""Pack: which cells, how many, in what order, and will they go in?"""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.cells import cell_curve
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.layout import Fitted, Option, fitted, options_at_hand
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bike.session import SessionRow, session_rows
from ninebolt.core.bolts.common import Result
from ninebolt.core.bolts.pack import checks
from ninebolt.core.bolts.pack.assembly import Assembly, guide
from ninebolt.core.bolts.pack.figures import figures_of
from ninebolt.core.bolts.pack.power import SagRow, sag_rows
from ninebolt.core.bolts.register import judge
from ninebolt.core.parts.pack import Pack

__all__ = ["PackDrawing", "assess", "checks"]


@dataclass(frozen=True, slots=True)
class PackDrawing:
    """The layout in the bays (None while not measured), sag over charge, the planned session, and
    the guide to assembly. at_hand: what the cells at hand make."""

    series: int
    parallel: int
    fitted: Fitted | None
    sag: tuple[SagRow, ...]
    load_a: float | None
    session: tuple[SessionRow, ...]
    assembly: Assembly | None
    at_hand: tuple[Option, ...]


def missing_of(pack: Pack) -> tuple[str, ...]:
    """Paths of what the pack does not compute without; the last one is only its sag."""
    return tuple(
        path
        for path, gone in (
            ("pack.series", pack.series is None),
            ("pack.parallel", pack.parallel is None),
            ("pack.cell.capacity_ah", not pack.cell.capacity_ah.known),
            ("pack.cell.ocv", not cell_curve(pack.cell)),
            ("pack.cell.r0_ohm", not pack.cell.r0_ohm.known),
        )
        if gone
    )


def assess(bike: Bike) -> Result:
    pack, facts = bike.build.pack, pack_facts(bike)
    missing = missing_of(pack)
    figures = () if facts is None else figures_of(bike, facts)
    return Result(figures, judge("pack", bike), missing, drawing)


@fact
def drawing(bike: Bike) -> PackDrawing | None:
    pack, facts = bike.build.pack, pack_facts(bike)
    made = options_at_hand(bike.build)
    if facts is None:
        return PackDrawing(0, 0, None, (), None, (), None, made) if made else None
    fit, load = fitted(bike), load_a(bike)
    return PackDrawing(
        pack.series or 0,
        pack.parallel or 0,
        fit,
        sag_rows(bike.build, facts, load),
        load,
        session_rows(bike),
        guide(bike.build, facts, fit, load),
        made,
    )
