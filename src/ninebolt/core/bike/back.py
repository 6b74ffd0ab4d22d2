"""What may flow back into the pack while the motor brakes."""

from __future__ import annotations

import math

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.ride import bare_performance, pack_facts
from ninebolt.core.limits import Limit
from ninebolt.core.simulate.regen import Braking, ChargeLimit, braking

FROST_C = Limit(0.0, "c", "no charging of lithium cells below")
COLD_C = Limit(10.0, "c", "charging with reduced current below")
GRIP_SHARE = Limit(0.7, "ratio", "of the rear tyre's grip that motor braking may use by itself")
COLD_SHARE = Limit(0.5, "ratio", "of the charge current that is left between those two")
LITHIUM = ("nickel_rich", "manganese_blend", "iron_phosphate")


@fact
def charge_limit(bike: Bike) -> ChargeLimit | None:
    """Least of BMS and cells, in the cold less or nothing; None while neither is known."""
    build, facts = bike.build, pack_facts(bike)
    bms, cell, pack = build.guard.bms, build.pack.cell, build.pack
    if facts is None:
        return None
    found: list[tuple[float, str]] = []
    if bms.i_charge_a.amount is not None and bms.there and bms.discharge == "through":
        found.append((bms.i_charge_a.amount, "BMS charge limit"))
    if cell.i_charge_a.amount is not None:
        found.append((cell.i_charge_a.amount * (pack.parallel or 1), "cells' charge limit"))
    if not found:
        return None
    amps, link = min(found)
    cold = pack.temp_c.taken
    if cell.chemistry in LITHIUM and cold < COLD_C:
        amps = 0.0 if cold < FROST_C else amps * COLD_SHARE
        link = "cold cells"
    return ChargeLimit(amps, facts.full_v, link)


@fact
def motor_braking(bike: Bike) -> Braking | None:
    """At the set share of the phase amps, within what may flow back; None while that is not known."""
    perf, limit = bare_performance(bike), charge_limit(bike)
    share = bike.build.tune.regen_pct.taken / 100.0
    if perf is None or limit is None:
        return None
    return braking(perf.case, share, limit, perf.envelope.speed_m_s)


@fact
def free_braking(bike: Bike) -> Braking | None:
    """The same if nothing held the current back: what a controller does that has no limit of its own."""
    perf, facts = bare_performance(bike), pack_facts(bike)
    share = bike.build.tune.regen_pct.taken / 100.0
    if perf is None or facts is None or share <= 0.0:
        return None
    return braking(perf.case, share, ChargeLimit(math.inf, math.inf, ""), perf.envelope.speed_m_s)
