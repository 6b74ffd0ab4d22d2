"""Numbers of one part of the guard that contradict each other."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.order import Row, order_says
from ninebolt.core.bolts.register import Says, check

CONT, PEAK = "continuous", "for a while"


@check(
    "guard.order",
    "numbers of one part stand the wrong way round",
    parts=("guard.bms", "guard.plug", "guard.dcdc", "guard.charger"),
)
def order(bike: Bike) -> Iterator[Says]:
    g = bike.build.guard
    parts = (
        ("bms", "BMS", g.bms, (
            Row("a", ((CONT, g.bms.i_cont_a), (PEAK, g.bms.i_peak_a))),
            Row("a", (("lets in", g.bms.i_charge_a), ("lets out", g.bms.i_cont_a))),
            Row("v", (("opens low at", g.bms.cell_low_v), ("high at", g.bms.cell_high_v)), level=False),
        )),
        ("plug", "main plug", g.plug, (Row("a", ((CONT, g.plug.i_cont_a), (PEAK, g.plug.i_peak_a))),)),
        ("dcdc", "step-down converter", g.dcdc, (
            Row("w", ((CONT, g.dcdc.rated_w), (PEAK, g.dcdc.surge_w))),
            Row("v", (("input from", g.dcdc.in_min_v), ("to", g.dcdc.in_max_v)), level=False),
        )),
        ("charger", "charger", g.charger, (
            Row("a", (("ends at", g.charger.cut_a), ("charges with", g.charger.i_a)), level=False),
        )),
    )  # fmt: skip
    for key, name, part, rows in parts:
        said = order_says(name, rows, key) if part.there is not False else None
        if said:
            yield replace(said, parts=(f"guard.{key}",))
