"""Parts between the cells and the controller, what feeds the lights, and the charger."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from ninebolt.core.parts.base import Fitting
from ninebolt.core.value import (
    Value,
    choice,
    count,
    curve,
    flag,
    many,
    num,
    part,
    reading,
    text,
)


@dataclass(frozen=True, slots=True)
class Bms(Fitting):
    """Battery management system. discharge: through its switch, or bypassed."""

    TELLING: ClassVar[tuple[str, ...]] = ("i_cont_a", "i_peak_a")

    discharge: str = choice("Discharge path", ("through", "bypassed"), own=True)
    series: int | None = count("Cells in series it watches", 1, 200)
    i_cont_a: Value = num("Continuous discharge current", above=0, hi=5000)
    i_peak_a: Value = num("Peak discharge current", above=0, hi=10000)
    peak_s: Value = num("Time at peak before it opens", above=0, hi=600, assume=5)
    i_charge_a: Value = num("Charge current limit", above=0, hi=2000)
    common_port: bool | None = flag("Charge and discharge go through one port", detail=True)
    balance_a: Value = num("Balance current", lo=0, hi=20, detail=True)
    cell_low_v: Value = num("Opens below, per cell", above=0, hi=5)
    cell_high_v: Value = num("Opens above, per cell", above=0, hi=5)
    temp_sensors: int | None = count("Temperature sensors", 0, 64, detail=True)
    temp_max_c: Value = num("Opens above a cell temperature of", lo=20, hi=120, detail=True)
    r_ohm: Value = num("Resistance of its switch", lo=0, hi=0.1, assume=0.0008, spread=0.5)
    length_m: Value = num("Length", above=0, hi=1, detail=True)
    width_m: Value = num("Width", above=0, hi=1, detail=True)
    height_m: Value = num("Height", above=0, hi=1, detail=True)
    altered: bool | None = flag("The board has been altered", False, detail=True)
    test_load_a: Value = reading("Altered board: it carried", above=0, hi=10000, detail=True)
    test_load_s: Value = reading("Altered board: for a time of", above=0, hi=1e5, detail=True)
    test_hot_c: Value = reading("Altered board: hottest spot then", lo=-40, hi=400, detail=True)
    test_trip_a: Value = reading("Altered board: it opened at", above=0, hi=20000, detail=True)
    test_over_v: Value = reading(
        "Altered board: it ended the charge at, per cell", above=0, hi=10, detail=True
    )


@dataclass(frozen=True, slots=True)
class StandFor:
    """What stands in for a BMS whose discharge path is bypassed. None of it is assumed."""

    cell_volts: bool | None = flag("Cell voltages can be read while riding", False)
    cell_temp: bool | None = flag("A cell temperature can be read while riding", False)
    charge_watch: bool | None = flag("Charging still goes through the BMS", False)
    accepted: bool | None = flag("I have read what no longer protects the pack", False)


@dataclass(frozen=True, slots=True)
class Fuse(Fitting):
    """Main fuse, next to the pack. curve: time in seconds over current, as a multiple of rating."""

    TELLING: ClassVar[tuple[str, ...]] = ("rated_a",)

    rated_a: Value = num("Rated current", above=0, hi=5000)
    dc_v: Value = num("Rated DC voltage", above=0, hi=2000)
    breaking_a: Value = num("Breaking capacity", above=0, hi=1e6)
    r_ohm: Value = num("Resistance", lo=0, hi=0.1, assume=0.0003, spread=0.5, detail=True)
    from_pack_m: Value = reading(
        "Cable from the pack's pole to it", lo=0, hi=5, own=True, detail=True
    )
    melts: tuple[tuple[float, float], ...] = curve(
        "Time-current curve",
        "multiple of the rating and seconds; empty = a typical one",
        x=(1.0, 100.0),
        y=(1e-4, 1e6),
        least=2,
    )


@dataclass(frozen=True, slots=True)
class Isolator(Fitting):
    """What opens the pack by hand or key; a breaker also opens by itself. curve: time in seconds
    over current, as a multiple of its rating."""

    TELLING: ClassVar[tuple[str, ...]] = ("i_cont_a", "dc_v")

    kind: str = choice("Kind", ("contactor", "breaker", "unplug"))
    i_cont_a: Value = num("Continuous current", above=0, hi=5000)
    dc_v: Value = num("Rated DC voltage", above=0, hi=2000)
    breaking_a: Value = num("Breaking capacity", above=0, hi=1e6, detail=True)
    rated_for: str = choice("Its label rates it for", ("unknown", "DC", "AC only"))
    both_ways: bool | None = flag("It opens the current in either direction", detail=True)
    coil_v: Value = num("Coil voltage", above=0, hi=200, detail=True)
    coil_w: Value = num("Coil power, holding", lo=0, hi=200, detail=True)
    coil_feed: str = choice(
        "Coil fed from",
        ("unknown", "converter", "pack", "auxiliary battery"),
        detail=True,
        own=True,
    )
    suppression: str = choice(
        "Coil suppression", ("unknown", "none", "diode", "diode and zener", "built in"), detail=True
    )
    key_first: bool | None = flag("The key must be on for it to close", detail=True)
    r_ohm: Value = num("Contact resistance", lo=0, hi=0.1, assume=0.0003, spread=0.5, detail=True)
    opens: tuple[tuple[float, float], ...] = curve(
        "A breaker's time-current curve",
        "multiple of the rating and seconds; empty = a typical one",
        x=(1.0, 100.0),
        y=(1e-4, 1e6),
        least=2,
    )


@dataclass(frozen=True, slots=True)
class Cable(Fitting):
    """A cable, all its conductors alike."""

    TELLING: ClassVar[tuple[str, ...]] = ("section_m2",)

    section_m2: Value = num("Copper section", above=0, hi=1e-3, help="mm², or a gauge: AWG 2")
    length_m: Value = reading("Length, one way", above=0, hi=10, own=True)
    temp_max_c: Value = num("Insulation limit", lo=40, hi=300, assume=105, detail=True)
    ambient_c: Value = num("Air around it", lo=-40, hi=90, assume=30, detail=True, own=True)
    outer_m: Value = num("Outer diameter", above=0, hi=0.1, detail=True)
    bend_m: Value = num("Tightest bend, inside radius", above=0, hi=1, detail=True, own=True)


@dataclass(frozen=True, slots=True)
class Plug(Fitting):
    """Main power connector, both poles."""

    TELLING: ClassVar[tuple[str, ...]] = ("i_cont_a", "i_peak_a")

    i_cont_a: Value = num("Continuous current", above=0, hi=2000)
    i_peak_a: Value = num("Peak current", above=0, hi=5000)
    dc_v: Value = num("Rated DC voltage", above=0, hi=2000)
    r_ohm: Value = num("Contact resistance, both poles", lo=0, hi=0.1, assume=0.0004, spread=0.5)
    seated: str = choice(
        "How one sees that it is home",
        ("unknown", "by feel", "witness line", "measured depth"),
        own=True,
    )
    keyed: bool | None = flag("It cannot be plugged the wrong way round")
    pre_mates: bool | None = flag("It has a pre-mating or anti-spark contact", detail=True)
    condition: str = choice(
        "Its contacts, seen", ("unknown", "sound", "arced", "melted"), detail=True
    )


@dataclass(frozen=True, slots=True)
class Precharge(Fitting):
    """Resistor that fills the controller's capacitors before the contactor closes."""

    TELLING: ClassVar[tuple[str, ...]] = ("r_ohm",)

    r_ohm: Value = num("Resistor", above=0, hi=1e5)
    rated_w: Value = num("Rated power", above=0, hi=1000)
    delay_s: Value = num("Wait before the contactor closes", lo=0, hi=60, own=True)
    load_w: Value = num(
        "Load behind it while filling",
        lo=0,
        hi=5000,
        assume=0.0,
        spread=0.0,
        own=True,
        detail=True,
        help="converter or lights that are on too early",
    )


@dataclass(frozen=True, slots=True)
class IsolationTest:
    """Readings of the two-reading voltmeter method, with a high-resistance meter."""

    state: str = choice("Measured with", ("unknown", "DC side alone", "inverter joined"))

    pack_v: Value = reading("Pack voltage", above=0, hi=2000)
    minus_v: Value = reading("Minus pole to frame", lo=0, hi=2000)
    plus_v: Value = reading("Plus pole to frame", lo=0, hi=2000)
    known_ohm: Value = reading(
        "Known resistor", above=0, hi=1e8, help="about 500 Ω per volt of pack"
    )
    loaded_v: Value = reading("The larger reading, with the resistor across it", lo=0, hi=2000)


@dataclass(frozen=True, slots=True)
class AuxLoad:
    """One 12 V load."""

    name: str = text("Name")
    power_w: Value = num("Power when on", lo=0, hi=2000)
    duty: Value = num("Share of the time", lo=0, hi=1, assume=1.0, spread=0.0)
    surge: Value = num("Surge at switch-on, times", lo=1, hi=20, assume=1.0, spread=0.0)


@dataclass(frozen=True, slots=True)
class Dcdc(Fitting):
    """Step-down converter for lights and horn."""

    TELLING: ClassVar[tuple[str, ...]] = ("rated_w", "in_max_v", "out_v")

    in_min_v: Value = num("Lowest input voltage", above=0, hi=1000)
    in_max_v: Value = num("Highest input voltage", above=0, hi=1000)
    out_v: Value = num("Output voltage", above=0, hi=60)
    rated_w: Value = num("Rated power", above=0, hi=5000)
    surge_w: Value = num("Power for a moment", above=0, hi=10000, detail=True)
    load_w: Value = num(
        "Load of lights and horn", lo=0, hi=5000, own=True, help="if the loads are not listed"
    )
    loads: tuple[AuxLoad, ...] = many("Loads", AuxLoad)
    feed: str = choice("Fed", ("unknown", "behind the contactor", "before the contactor"), own=True)
    aux_battery: bool | None = flag("There is a 12 V battery to charge")
    isolated: bool | None = flag("Its output is isolated from its input", detail=True)


@dataclass(frozen=True, slots=True)
class Charger(Fitting):
    """Charger, or several supplies stacked in series. out_v is of one supply."""

    TELLING: ClassVar[tuple[str, ...]] = ("out_v", "i_a")

    out_v: Value = num("End voltage of one", above=0, hi=1000)
    stacked: int | None = count("Supplies in series", 1, 8, default=1)
    floating: bool | None = flag("Stacked: outputs are isolated from mains and each other")
    i_a: Value = num("Charge current", above=0, hi=500)
    cut_a: Value = num("Ends at a current of", above=0, hi=100, detail=True)
    efficiency: Value = num("Efficiency", above=0, hi=1, assume=0.9, spread=0.05, detail=True)
    mains_v: Value = num("Mains voltage", above=50, hi=500, assume=230, spread=0.05, own=True)
    outlet_a: Value = num("The outlet gives", above=0, hi=100, own=True)
    coldest_c: Value = num("Coldest that the pack is charged at", lo=-40, hi=60, own=True)


@dataclass(frozen=True, slots=True)
class Guard:
    """Battery to controller input, in the order of the current, then what feeds and fills."""

    bms: Bms = part("BMS", Bms)
    stand_for: StandFor = part("In place of a bypassed BMS", StandFor)
    fuse: Fuse = part("Fuse", Fuse)
    isolator: Isolator = part("Isolator", Isolator)
    plug: Plug = part("Main plug", Plug)
    cable: Cable = part("Battery cable", Cable)
    phase_cable: Cable = part("Phase leads", Cable)
    precharge: Precharge = part("Precharge", Precharge)
    dcdc: Dcdc = part("Step-down converter", Dcdc)
    charger: Charger = part("Charger", Charger)
    isolation: IsolationTest = part("Isolation test", IsolationTest)
