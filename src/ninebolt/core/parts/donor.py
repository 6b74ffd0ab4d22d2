"""The bike at the start, and the candidates for it."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.parts.base import Part
from ninebolt.core.parts.candidate import Chassis, Salvage
from ninebolt.core.parts.drive import Controller, Motor
from ninebolt.core.parts.frame import Bay, FrameChange, Legal, MassItem, Upgrade
from ninebolt.core.parts.guard import Bms, Fuse, Plug
from ninebolt.core.parts.pack import Pack
from ninebolt.core.parts.rolling import Gear
from ninebolt.core.value import Value, choice, many, num, part, reading


@dataclass(frozen=True, slots=True)
class Stock:
    """An electric donor as it left the maker, and what it did before anything was changed."""

    pack: Pack = part("Stock pack", Pack)
    bms: Bms = part("Stock BMS", Bms)
    controller: Controller = part("Stock controller", Controller)
    motor: Motor = part("Stock motor", Motor)
    gear: Gear = part("Stock gearing", Gear)
    plug: Plug = part("Stock plug", Plug)
    fuse: Fuse = part("Stock fuse", Fuse)
    cap_m_s: Value = num("Speed cap in its controller", above=0, hi=150)
    top_m_s: Value = reading("Top speed, measured by satellite", above=0, hi=150)
    to_time_s: Value = reading("Time of a standing start, measured", above=0, hi=120)
    to_m_s: Value = num(
        "to a speed of", above=0, hi=80, help="unknown = the speed of the standing start on Goal"
    )
    ride_m: Value = reading("Ride on one charge, measured", above=0, hi=1e6)


@dataclass(frozen=True, slots=True)
class Ratings:
    """What the donor's running gear was made for."""

    power_w: Value = num("Power it was made for", above=0, hi=1e6)
    speed_m_s: Value = num("Speed it was made for", above=0, hi=150)
    gross_kg: Value = num("Mass it was made for, rider on", above=0, hi=2000)
    thrust_n: Value = num(
        "Thrust it was made for", above=0, hi=20000, detail=True, help="unknown = worked from power"
    )


@dataclass(frozen=True, slots=True)
class Donor(Part):
    """mass_kg is the donor as weighed, before anything comes off."""

    mass_kg: Value = reading("Mass as weighed", lo=0, hi=500)
    kind: str = choice("Kind", ("gas_roller", "electric_moto", "bare_frame"))
    frame: str = choice(
        "Frame", ("unknown", "cradle", "perimeter", "step_through"), help="for the drawing"
    )
    cg_x_m: Value = num("Its centre of mass, forward of the rear axle", lo=-1, hi=3, assume=0.66)
    cg_y_m: Value = num("Its centre of mass, above the ground", lo=0, hi=2, assume=0.55)
    wheel_radius_m: Value = reading("Wheel radius, for the drawing", above=0.1, hi=0.6, assume=0.32)
    ratings: Ratings = part("What it was made for", Ratings)
    stock: Stock = part("As it left the maker, electric", Stock)
    front_scale_kg: Value = reading("Front axle on the scale", above=0, hi=500)
    rear_scale_kg: Value = reading("Rear axle on the scale", above=0, hi=500)
    correction_kg: Value = num("Scale correction", lo=-300, hi=300, detail=True)
    correction_kg_m: Value = num("Scale correction, moment", lo=-600, hi=600, detail=True)
    items: tuple[MassItem, ...] = many("Mass ledger", MassItem)
    bays: tuple[Bay, ...] = many("Bays", Bay, most=3)
    frame_changes: tuple[FrameChange, ...] = many("Frame changes", FrameChange)
    upgrades: tuple[Upgrade, ...] = many("Upgrades of the running gear", Upgrade)
    legal: Legal = part("Rules as looked up", Legal)
    candidates: tuple[Chassis, ...] = many("Donor candidates", Chassis)
    salvage: tuple[Salvage, ...] = many("Salvaged motor or pack candidates", Salvage)
