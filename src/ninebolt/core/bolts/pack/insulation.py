"""What belongs between neighbours of different potential."""

from __future__ import annotations

from ninebolt.core.bike.cells import CLASS_B_V
from ninebolt.core.bolts.pack.limits import SIDES_V
from ninebolt.core.limits import Limit

SLEEVE_V = Limit(10.0, "v", "cells' own sleeves and end rings are enough up to")


def insulation_for(volts: float) -> str:
    """Common practice, no source."""
    if volts <= SLEEVE_V:
        return "the cells' own sleeves and end rings"
    if volts <= SIDES_V:
        return "a strip of insulating paper, 0.2 mm"
    if volts <= CLASS_B_V:
        return "a sheet of 0.5 mm fibre or aramid board over the whole side"
    return "a rigid sheet of 1 mm or more that stands past the cells on all sides"
