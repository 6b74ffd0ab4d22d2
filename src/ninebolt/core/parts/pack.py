"""The pack: cells in series and parallel, how they are joined, placed, measured and housed."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.parts.cell import FOUND, Cell
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
    texts,
)

SOURCES = ("new_cells", "salvaged_cells", "vehicle_modules", "ready_made", "lead_acid")
METALS = ("copper", "nickel", "nickel_plated_steel", "aluminium")
HOUSINGS = ("unknown", "plastic", "wood_or_fibre", "metal")
TURNS = ("lwh", "lhw", "wlh", "whl", "hlw", "hwl")


@dataclass(frozen=True, slots=True)
class OtherPack:
    """A second pack that is to be joined in parallel."""

    volts_v: Value = reading("Its voltage, rested", above=0, hi=1000)
    r_ohm: Value = num("Its resistance", above=0, hi=10, help="unknown = like this pack's")
    capacity_ah: Value = num("Its capacity", above=0, hi=5000, help="unknown = like this pack's")
    series: int | None = count("Its cells in series", 1, 200)
    chemistry: str = choice("Its chemistry", FOUND)
    join_ohm: Value = num("Resistor to join them through", above=0, hi=1000)
    level_a: Value = num("Charger to lift the lower one", above=0, hi=200)


@dataclass(frozen=True, slots=True)
class ModuleReading:
    """One measured module or group before it goes into the series string."""

    name: str = text("Name")
    volts_v: Value = reading("Voltage, rested", above=0, hi=200)
    capacity_ah: Value = num("Capacity", above=0, hi=2000)
    r_ohm: Value = num("Resistance", above=0, hi=1)


@dataclass(frozen=True, slots=True)
class SortedGroup:
    """One parallel group of the sorting that stands for this pack."""

    cells: tuple[str, ...] = texts("Cells in it")
    capacity_ah: Value = num("Its capacity", above=0, hi=5000)
    r_ohm: Value = num("Its resistance", above=0, hi=10)


@dataclass(frozen=True, slots=True)
class StandIn:
    """A borrowed or smaller pack to ride with until the real one is there."""

    name: str = text("Name")
    series: int | None = count("Cells in series", 1, 200)
    full_v: Value = num("Full voltage", above=0, hi=1000)
    capacity_ah: Value = num("Capacity", above=0, hi=5000)
    i_cont_a: Value = num("Continuous current of pack or its BMS", above=0, hi=5000)
    plug_a: Value = num("Continuous current of its plug", above=0, hi=2000)


@dataclass(frozen=True, slots=True)
class Strips:
    """What joins the groups: strips from one parallel group to the next."""

    metal: str = choice("Metal", METALS)
    width_m: Value = num("Width of a strip", above=0, hi=0.2)
    thick_m: Value = num("Thickness", above=0, hi=0.01)
    length_m: Value = num("Length between the groups", above=0, hi=0.5, help="unknown = the pitch")
    each: int | None = count(
        "Strips from a group to the next", 1, 200, help="unknown = one for each cell in parallel"
    )


@dataclass(frozen=True, slots=True)
class Placed:
    """A body put down by hand. Its middle is measured from the bay's middle; turn says which of its
    own length, width, height lies along the bike, up and across. cols, rows, layers: a block of
    cells in a holder, counted along the bike, up and across."""

    kind: str = choice("What it is", ("body", "block", "bms"))
    bay: int | None = count("Bay", 1, 3, default=1)
    x_m: Value = reading("Forward of the bay's middle", lo=-2, hi=2, assume=0.0, spread=0.0)
    y_m: Value = reading("Above the bay's middle", lo=-2, hi=2, assume=0.0, spread=0.0)
    z_m: Value = reading("Right of the centre line", lo=-1, hi=1, assume=0.0, spread=0.0)
    turn: str = choice("Length, width and height lie", TURNS, help="along the bike, up, across")
    cols: int | None = count("Cells along the bike", 1, 200, default=1)
    rows: int | None = count("Cells up", 1, 200, default=1)
    layers: int | None = count("Cells across", 1, 50, default=1)


@dataclass(frozen=True, slots=True)
class Pack:
    """series and parallel count cells, modules included cell by cell."""

    source: str = choice("Where the cells come from", SOURCES)
    cell: Cell = part("Cell", Cell)
    series: int | None = count("In series", 1, 200)
    parallel: int | None = count("In parallel", 1, 1000)
    cells_at_hand: int | None = count("Cells or modules at hand", 1, 100_000, help="what they make")
    interconnect_ohm: Value = num(
        "Strips and joints, whole pack", lo=0, hi=1, assume=0.004, spread=0.5
    )
    strips: Strips = part("Strips", Strips)
    start_soc: Value = num("Charge at the start", above=0, hi=1, assume=1.0, spread=0.0)
    temp_c: Value = num(
        "Cell temperature at the start", lo=-30, hi=70, assume=25.0, spread=0.0, detail=True
    )
    air_k_w: Value = num(
        "Heat path pack to air", above=0, hi=50, assume=0.8, spread=0.5, detail=True
    )
    floor_v: Value = num(
        "Pack voltage floor", lo=0, hi=1000, help="unknown = the controller's cut-off"
    )
    case_kg: Value = num("Case, strips and wires", lo=0, hi=100, assume=3.0, spread=0.4)
    case_money: Value = num("Case, strips and wires, price", lo=0, hi=1e6, detail=True)
    pitch_m: Value = num("Holder pitch", above=0, hi=1, detail=True)
    housing: str = choice("Housing", HOUSINGS)
    liner: bool | None = flag("The housing has an insulating liner", detail=True)
    bonded: bool | None = flag("A metal housing is bonded to the frame", detail=True)
    vent: bool | None = flag("The housing has a way out for gas", detail=True)
    strap_n: Value = num(
        "Straps or clamps hold, together", above=0, hi=1e5, help="force they stand", detail=True
    )
    bms_in_bay: bool | None = flag("The BMS goes into the bay", False)
    placed: tuple[Placed, ...] = many("Put down by hand", Placed, most=400)
    rested_v: Value = reading("Pack voltage, rested", above=0, hi=1000, help="an hour without load")
    loaded_v: Value = reading("Pack voltage under load", above=0, hi=1000, detail=True)
    loaded_a: Value = reading("Current under that load", above=0, hi=5000, detail=True)
    claimed_wh: Value = num("Energy that is claimed", above=0, hi=1e6, detail=True)
    group_v: tuple[tuple[float, float], ...] = curve(
        "Group voltages",
        "number of the group and its volts, one pair a line",
        x=(1.0, 400.0),
        y=(0.0, 20.0),
    )
    tap_v: tuple[tuple[float, float], ...] = curve(
        "Balance leads against minus",
        "number of the lead and its volts, one pair a line",
        x=(0.0, 400.0),
        y=(-1000.0, 1000.0),
    )
    other: OtherPack = part("Pack to join in parallel", OtherPack)
    modules: tuple[ModuleReading, ...] = many("Modules or groups as measured", ModuleReading)
    sorted_groups: tuple[SortedGroup, ...] = many("Groups as sorted", SortedGroup)
    bms_room_l_m: Value = reading(
        "Place of a BMS outside the bay, length", above=0, hi=2, detail=True
    )
    bms_room_w_m: Value = reading("Its width", above=0, hi=2, detail=True)
    bms_room_h_m: Value = reading("Its height, cover on", above=0, hi=2, detail=True)
    stand_in: StandIn = part("Stand-in pack", StandIn)
    done: tuple[str, ...] = texts("Assembly steps done")
