"""How warm battery cable and phase leads get along the run or session, each worked out once."""

from __future__ import annotations

import math

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.opening import opening
from ninebolt.core.guard.conductors import peak_temp_c


@fact
def cable_peak_c(bike: Bike) -> float | None:
    """Battery cable at its warmest (°C); None while its section or the run is unknown."""
    cable, run = bike.build.guard.cable, opening(bike)
    m2 = cable.section_m2.amount
    if run is None or m2 is None:
        return None
    return peak_temp_c(m2, run.t_s, run.line_a, cable.ambient_c.taken)


@fact
def leads_peak_c(bike: Bike) -> float | None:
    """Phase leads at their warmest (°C), with phase amps RMS."""
    cable, run = bike.build.guard.phase_cable, opening(bike)
    m2 = cable.section_m2.amount
    if run is None or m2 is None:
        return None
    amps = [a / math.sqrt(2.0) for a in run.phase_a]
    return peak_temp_c(m2, run.t_s, amps, cable.ambient_c.taken)
