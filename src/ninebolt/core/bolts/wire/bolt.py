"""Wire: how is it hooked up? The order of work, the colour-to-phase map, what is left open."""

from __future__ import annotations

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bolts.common import Result, figure
from ninebolt.core.bolts.register import judge
from ninebolt.core.bolts.wire import checks
from ninebolt.core.bolts.wire.sheet import (
    WireDrawing,
    branches_of,
    hall_rows,
    inputs_of,
    nodes_of,
    phase_rows,
    steps_of,
)

__all__ = ["WireDrawing", "assess", "checks"]


def assess(bike: Bike) -> Result:
    build, wire = bike.build, bike.build.wire
    steps, phases, halls = steps_of(build), phase_rows(build), hall_rows(build)
    missing = () if phases else ("wire.phases",)
    figures = (
        figure(
            "steps_done",
            "Steps done",
            sum(s.done for s in steps),
            "ratio",
            f"of {len(steps)} in the hook-up list",
        ),
        figure(
            "confirmed",
            "Leads confirmed",
            sum(r.confirmed for r in (*phases, *halls)),
            "ratio",
            f"of {len(phases) + len(halls)} mapped",
        ),
        figure(
            "lowest",
            "Lowest live point",
            wire.lowest_live_m.amount,
            "m",
            "height above the ground; deeper water reaches it",
        ),
    )
    return Result(figures, judge("wire", bike), missing, drawing)


@fact
def drawing(bike: Bike) -> WireDrawing:
    build = bike.build
    return WireDrawing(
        nodes_of(build), branches_of(build), inputs_of(build),
        steps_of(build), phase_rows(build), hall_rows(build),
    )  # fmt: skip
