"""Guard: charging in numbers, and the 12 V side in numbers."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.battery.ocv import interpolator
from ninebolt.core.bike.cells import cell_curve
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.path import charger_v, coil_load_w, converter_load_w
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.build import Build
from ninebolt.core.guard.charging import Charge, charge


@fact
def charge_of(bike: Bike) -> Charge | None:
    """Empty to full with this charger (C15); None while something is unknown."""
    build, facts = bike.build, pack_facts(bike)
    amps, end = build.guard.charger.i_a.amount, charger_v(build.guard.charger)
    if build.guard.charger.there is False or facts is None or amps is None:
        return None
    if math.isnan(end) or math.isnan(facts.r_ohm) or math.isnan(facts.capacity_ah):
        return None
    volts, series = interpolator(cell_curve(build.pack.cell)), build.pack.series or 1
    cut = build.guard.charger.cut_a.or_else(0.05 * facts.capacity_ah)
    r = facts.r_ohm + facts.slow_ohm
    return charge(lambda s: series * volts(s), r, facts.capacity_ah, end, amps, cut, 0.0)


@dataclass(frozen=True, slots=True)
class AuxBudget:
    """Lights and horn: mean and all-on power, worst switch-on, what is left of the converter."""

    mean_w: float
    all_on_w: float
    worst_w: float
    rated_w: float | None
    live_when_off: bool


def aux_budget(build: Build) -> AuxBudget:
    """The 12 V side in numbers."""
    dcdc = build.guard.dcdc
    all_on = sum(x.power_w.or_else(0.0) for x in dcdc.loads) or dcdc.load_w.or_else(0.0)
    all_on += coil_load_w(build, "converter")
    jumps = [x.power_w.or_else(0.0) * (x.surge.taken - 1.0) for x in dcdc.loads]
    return AuxBudget(
        converter_load_w(build),
        all_on,
        all_on + max(jumps, default=0.0),
        dcdc.rated_w.amount,
        dcdc.feed == "before the contactor",
    )
