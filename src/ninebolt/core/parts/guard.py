"""Parts between the cells and the controller, and the charger."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.parts.base import Part
from ninebolt.core.value import Value, choice, count, num


@dataclass(frozen=True, slots=True)
class Bms(Part):
    """Battery management system. discharge: through its switch, or bypassed."""

    discharge: str = choice("Discharge path", ("through", "bypassed"))
    series: int | None = count("Cells in series it watches", 1, 200)
    i_cont_a: Value = num("Continuous discharge current", above=0, hi=5000)
    i_peak_a: Value = num("Peak discharge current", above=0, hi=10000)
    peak_s: Value = num("Time at peak before it opens", above=0, hi=600, assume=5)
    i_charge_a: Value = num("Charge current limit", above=0, hi=2000)
    balance_a: Value = num("Balance current", lo=0, hi=20, detail=True)
    cell_low_v: Value = num("Opens below, per cell", above=0, hi=5)
    cell_high_v: Value = num("Opens above, per cell", above=0, hi=5)
    r_ohm: Value = num("Resistance of its switch", lo=0, hi=0.1, assume=0.0008, spread=0.5)
    width_m: Value = num("Width", above=0, hi=1, detail=True)
    height_m: Value = num("Height", above=0, hi=1, detail=True)
    length_m: Value = num("Length", above=0, hi=1, detail=True)


@dataclass(frozen=True, slots=True)
class Fuse(Part):
    """Main fuse, next to the pack."""

    rated_a: Value = num("Rated current", above=0, hi=5000)
    dc_v: Value = num("Rated DC voltage", above=0, hi=2000)
    breaking_a: Value = num("Breaking capacity", above=0, hi=1e6)
    r_ohm: Value = num("Resistance", lo=0, hi=0.1, assume=0.0003, spread=0.5, detail=True)


@dataclass(frozen=True, slots=True)
class Isolator(Part):
    """What opens the pack by hand or key."""

    kind: str = choice("Kind", ("contactor", "breaker", "unplug"))
    i_cont_a: Value = num("Continuous current", above=0, hi=5000)
    dc_v: Value = num("Rated DC voltage", above=0, hi=2000)
    coil_v: Value = num("Coil voltage", above=0, hi=200, detail=True)
    r_ohm: Value = num("Contact resistance", lo=0, hi=0.1, assume=0.0003, spread=0.5, detail=True)


@dataclass(frozen=True, slots=True)
class Cable(Part):
    """Main battery cable, both conductors alike."""

    section_m2: Value = num("Copper section", above=0, hi=1e-3)
    length_m: Value = num("Length pack to controller, one way", above=0, hi=10)
    temp_max_c: Value = num("Insulation limit", lo=40, hi=300, assume=105, detail=True)
    ambient_c: Value = num("Air around it", lo=-40, hi=90, assume=30, detail=True)


@dataclass(frozen=True, slots=True)
class Plug(Part):
    """Main power connector, both poles."""

    i_cont_a: Value = num("Continuous current", above=0, hi=2000)
    i_peak_a: Value = num("Peak current", above=0, hi=5000)
    dc_v: Value = num("Rated DC voltage", above=0, hi=2000)
    r_ohm: Value = num("Contact resistance, both poles", lo=0, hi=0.1, assume=0.0004, spread=0.5)


@dataclass(frozen=True, slots=True)
class Precharge(Part):
    """Resistor that fills the controller's capacitors before the contactor closes."""

    r_ohm: Value = num("Resistor", above=0, hi=1e5)
    rated_w: Value = num("Rated power", above=0, hi=1000)


@dataclass(frozen=True, slots=True)
class IsolationTest:
    """Readings of the two-reading voltmeter method, high-resistance meter, contactor closed."""

    pack_v: Value = num("Pack voltage", above=0, hi=2000)
    minus_v: Value = num("Minus pole to frame", lo=0, hi=2000)
    plus_v: Value = num("Plus pole to frame", lo=0, hi=2000)
    known_ohm: Value = num("Known resistor", above=0, hi=1e8, help="about 500 Ω per volt of pack")
    loaded_v: Value = num("The larger reading, with the resistor across it", above=0, hi=2000)


@dataclass(frozen=True, slots=True)
class Dcdc(Part):
    """Step-down converter for lights and horn."""

    in_min_v: Value = num("Lowest input voltage", above=0, hi=1000)
    in_max_v: Value = num("Highest input voltage", above=0, hi=1000)
    out_v: Value = num("Output voltage", above=0, hi=60)
    rated_w: Value = num("Rated power", above=0, hi=5000)
    load_w: Value = num("Load of lights and horn", lo=0, hi=5000)


@dataclass(frozen=True, slots=True)
class Charger(Part):
    """Charger, or stacked supplies as one."""

    out_v: Value = num("End voltage", above=0, hi=1000)
    i_a: Value = num("Charge current", above=0, hi=500)
    efficiency: Value = num("Efficiency", above=0, hi=1, assume=0.9, spread=0.05, detail=True)
