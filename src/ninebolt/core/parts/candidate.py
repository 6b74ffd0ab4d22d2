"""Things looked at before money changes hands: a chassis, a salvaged motor, a salvaged pack."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.parts.base import Part
from ninebolt.core.parts.cell import FOUND
from ninebolt.core.parts.drive import AMP_BASIS
from ninebolt.core.value import Value, choice, count, flag, num, reading, text

CONDITIONS = ("unknown", "straight", "worn", "bent", "cracked")
PAPERS = ("unknown", "registered", "papers without plate", "off-road only", "no papers")
FRAME_METALS = ("unknown", "steel", "aluminium")
DAMAGE = ("unknown", "none seen", "wet", "crushed or burnt", "shaft or housing damaged")
SENSORS = ("unknown", "hall", "encoder", "resolver", "none")


@dataclass(frozen=True, slots=True)
class Chassis(Part):
    """A bike or frame on offer."""

    year: int | None = count("Year made", 1950, 2100)
    frame_metal: str = choice("Frame", FRAME_METALS)
    condition: str = choice("Frame, seen and measured", CONDITIONS)
    crashed: bool | None = flag("It has been crashed")
    papers: str = choice("Papers", PAPERS)
    bay_length_m: Value = reading("Bay, length", above=0, hi=2)
    bay_height_m: Value = reading("Bay, height", above=0, hi=2)
    bay_width_m: Value = reading("Bay, width", above=0, hi=1)
    power_w: Value = num("Power it was made for", above=0, hi=1e6)
    speed_m_s: Value = num("Speed it was made for", above=0, hi=150)
    gross_kg: Value = num("Mass it was made for, rider on", above=0, hi=2000)
    work_money: Value = num("Repairs it needs", lo=0, hi=1e6)


@dataclass(frozen=True, slots=True)
class Salvage(Part):
    """A motor or pack out of a wreck: what its label and a first look say."""

    kind: str = choice("Kind", ("motor", "pack"))
    damage: str = choice("Damage", DAMAGE)
    serial: str = text("Serial or part number on it")
    volts_v: Value = num("Voltage on the label", above=0, hi=1000)
    rated_w: Value = num("Power on the label", above=0, hi=1e6)
    amps_a: Value = num("Current on the label", above=0, hi=5000)
    amp_basis: str = choice("A motor's amps are", AMP_BASIS)
    kv_rpm_v: Value = num("Motor: rpm per volt", above=0, hi=5000)
    pole_pairs: int | None = count("Motor: pole pairs", 1, 100)
    r_phase_ohm: Value = num("Motor: phase resistance", above=0, hi=10)
    l_phase_henry: Value = num("Motor: phase inductance", above=0, hi=1)
    sensor: str = choice("Motor: sensor", SENSORS)
    shaft: str = text("Motor: shaft and how the sprocket sits")
    chemistry: str = choice("Pack: chemistry", FOUND)
    series: int | None = count("Pack: cells in series", 1, 200)
    capacity_ah: Value = num("Pack: capacity on the label", above=0, hi=5000)
    rested_v: Value = reading("Pack: voltage, rested", above=0, hi=1000)
    lowest_v: Value = reading("Pack: lowest group, rested", lo=0, hi=5)
    highest_v: Value = reading("Pack: highest group, rested", lo=0, hi=5)
    has_bms: bool | None = flag("Pack: its BMS is there and answers")
