"""What the volts of groups say of themselves, beside how far they lie apart."""

from __future__ import annotations

import math

from ninebolt.core.bike.cells import cell_empty_v, cell_full_v
from ninebolt.core.bolts.pack.checks.charge import dead_v
from ninebolt.core.bolts.pack.limits import OVER_V
from ninebolt.core.parts.pack import Pack


def volts_say(pack: Pack, at: int, low: float, top: int, high: float, still: bool) -> str:
    """What the volts of the lowest group and the highest say, however close together they lie; '' where all is well.

    at, top: their numbers, from 1; low, high (V); still: nothing is drawn, so that volts are the cells' own.
    """
    dead, empty, full = dead_v(pack), cell_empty_v(pack.cell), cell_full_v(pack.cell)
    if low < dead:
        return (
            f"Group {at} is under {dead:.1f} V: scrap. It is not charged and not ridden: it can burn when charged. "
            "Pack outdoors, away from what burns."
        )
    if still and high > full + OVER_V:
        return (
            f"Group {top} stands over its full {full:.2f} V: over-charged. Charger off, outdoors, nobody beside it; "
            "find out what let it."
        )
    if still and low < empty:
        return (
            f"Group {at} is under its empty {empty:.2f} V: no riding. Small current, watched, and it is given up where "
            "it sinks again in a day."
        )
    if math.isnan(empty) or math.isnan(full):
        return "How full that is nobody knows: the cell's kind is not given under Pack."
    return ""
