"""Sprockets, tyre and the bike as a body on the road."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.parts.base import Part
from ninebolt.core.parts.chassis import (
    Brake,
    ChainRun,
    HubAxle,
    RiderFit,
    Steering,
    Suspension,
)
from ninebolt.core.parts.goal import USE_CRR
from ninebolt.core.value import Value, choice, count, num, part, reading, text

CHAIN_SIZES = ("415", "420", "428", "520", "530", "belt 8 mm", "belt 11 mm", "belt 14 mm", "none")


@dataclass(frozen=True, slots=True)
class Tyre(Part):
    """Tyre on its rim. code: size as moulded on its wall, such as 110/90-18 or 2.75-17."""

    code: str = text("Size on the wall")
    speed_symbol: str = text("Speed symbol on the wall", help="one letter, such as M or R")
    load_index: int | None = count("Load index on the wall", 0, 130)
    rolling_radius_m: Value = reading(
        "Rolling radius",
        above=0.05,
        hi=1,
        help="measured with the rider on; else from the size",
        own=True,
    )
    grip_mu: Value = num("Grip", above=0, hi=3, assume=0.9, spread=0.2)
    rim_m: Value = reading("Inner width of the rim", above=0, hi=0.3, own=True)
    gap_m: Value = reading(
        "Room for its width",
        above=0,
        hi=0.5,
        own=True,
        help="between fork or swing-arm legs, or chain",
    )
    over_m: Value = reading(
        "Room over its tread",
        lo=0,
        hi=0.5,
        own=True,
        detail=True,
        help="to mudguard, swing-arm or fork bridge, where it is least",
    )


@dataclass(frozen=True, slots=True)
class Sprocket(Part):
    """A sprocket or pulley on the shelf; the pair that is fitted is told by its teeth."""

    teeth: int | None = count("Teeth", 5, 200)
    chain: str = choice("Chain or belt", CHAIN_SIZES)
    place: str = choice("Goes to", ("front", "rear"))


@dataclass(frozen=True, slots=True)
class Chain(Part):
    """A chain or toothed belt on the shelf, as it is sold; a chain is cut to the links that it needs."""

    chain: str = choice("Size", CHAIN_SIZES)
    links: int | None = count("Links, of a belt teeth", 40, 400)
    stands_n: Value = num(
        "Pull it stands", above=0, hi=200_000, help="tensile strength; of a belt its pull"
    )


@dataclass(frozen=True, slots=True)
class Gear(Part):
    """Driven line from the motor shaft to the tyre."""

    front_teeth: int | None = count("Front teeth", 5, 60)
    rear_teeth: int | None = count("Rear teeth", 10, 200)
    chain: str = choice("Chain or belt", CHAIN_SIZES, help="of a toothed belt its pitch")
    reduction: Value = num("Reduction inside the motor", above=0, hi=50, assume=1.0, spread=0.0)
    ratio: Value = num(
        "Total ratio, if given", above=0, hi=100, detail=True, help="replaces teeth and reduction"
    )
    efficiency: Value = num("Driveline efficiency", above=0.1, hi=1, assume=0.95, spread=0.03)
    wheel_kg_m2: Value = num("Wheel inertia, both", lo=0, hi=20, assume=0.9, spread=0.4)
    tyre: Tyre = part("Rear tyre", Tyre)
    front_tyre: Tyre = part("Front tyre", Tyre)
    front_brake: Brake = part("Front brake", Brake)
    rear_brake: Brake = part("Rear brake", Brake)
    fork: Suspension = part("Fork", Suspension)
    shock: Suspension = part("Shock", Suspension)
    steering: Steering = part("Steering and stance", Steering)
    run: ChainRun = part("Chain run", ChainRun)
    hub: HubAxle = part("Hub axle and dropouts", HubAxle)
    fit: RiderFit = part("Rider on the bike", RiderFit)


@dataclass(frozen=True, slots=True)
class Road(Part):
    """Body in the air and on the ground. drag_height_m unknown = height of the centre of mass."""

    total_kg: Value = num(
        "Total mass, if given", above=0, hi=2000, detail=True, help="replaces the ledger and rider"
    )
    cda_m2: Value = num("Drag area CdA", lo=0, hi=5, assume=0.55, spread=0.2)
    crr: Value = num(
        "Rolling resistance", lo=0, hi=0.5, assume=0.018, spread=0.35, assume_by=USE_CRR
    )
    air_kg_m3: Value = num("Air density", lo=0, hi=3, assume=1.20, spread=0.04)
    grade_pct: Value = num("Grade", lo=-60, hi=100, assume=0.0, spread=0.0)
    wind_m_s: Value = num(
        "Wind from ahead",
        lo=-30,
        hi=30,
        assume=0.0,
        spread=0.0,
        detail=True,
        help="minus: from behind",
    )
    cg_height_m: Value = num("Height of the centre of mass", above=0, hi=2, assume=0.75, spread=0.1)
    wheelbase_m: Value = reading("Wheelbase", above=0.3, hi=3, assume=1.42, spread=0.02)
    front_share: Value = num("Front axle share", lo=0.05, hi=0.95, assume=0.47, spread=0.06)
    drag_height_m: Value = num("Height where the air pushes", lo=0, hi=2, detail=True)
