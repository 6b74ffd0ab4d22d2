"""Sizes that several checks propose: the next voltage, a section of cable, the short circuit."""

from __future__ import annotations

import math
from collections.abc import Callable

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.path import cable_limit_c
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.guard.limits import VOLTS_DC
from ninebolt.core.finding import Fix, setting
from ninebolt.core.guard.conductors import SECTIONS_MM2, continuous_amps


def next_volts(what: str, path: str, need: float) -> Fix:
    """The least usual DC rating that is enough."""
    step = next((v for v in VOLTS_DC if v >= need), VOLTS_DC[-1])
    return Fix(f"{what} for {step:.0f} V DC", (setting(path, step, "label"),))


def section(path: str, what: str, enough: Callable[[float], bool]) -> Fix:
    """The least nominal section (m²) that is enough, else the largest."""
    fit = next((s for s in SECTIONS_MM2 if enough(s * 1e-6)), SECTIONS_MM2[-1])
    return Fix(f"Take {fit} mm² {what}", (setting(f"{path}.section_m2", fit * 1e-6, "label"),))


def larger_cable(bike: Bike, amps: float) -> Fix:
    """Battery cable that carries a current for good."""
    cable = bike.build.guard.cable
    ambient = cable.ambient_c.taken
    rise = max(cable_limit_c(cable) - ambient, 1.0)
    return section("guard.cable", "cable", lambda s: continuous_amps(s, rise, ambient) >= amps)


def short_circuit_a(bike: Bike) -> float | None:
    """Prospective short circuit right behind the fuse, where nothing but the pack's own resistance
    and the fuse's hold it back (A); None while the resistance is not known."""
    facts, fuse = pack_facts(bike), bike.build.guard.fuse
    if facts is None or math.isnan(facts.r_ohm):
        return None
    total = facts.r_ohm + (fuse.r_ohm.or_else(0.0) if fuse.there else 0.0)
    return facts.full_v / total if total > 0 else None
