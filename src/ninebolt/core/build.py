"""The Build: everything that is known and chosen about one bike, in the order of the nine bolts."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ninebolt.core.parts.base import Part
from ninebolt.core.parts.cell import Cell
from ninebolt.core.parts.drive import Controller, Motor
from ninebolt.core.parts.frame import Bay, FrameChange, MassItem
from ninebolt.core.parts.guard import (
    Bms,
    Cable,
    Charger,
    Dcdc,
    Fuse,
    IsolationTest,
    Isolator,
    Plug,
    Precharge,
)
from ninebolt.core.parts.rolling import Gear, Road
from ninebolt.core.value import Value, choice, count, flag, many, num, part, text, texts

FORMAT_VERSION = 1
BOLTS = ("donor", "goal", "pack", "guard", "drive", "gear", "wire", "tune", "prove")


@dataclass(frozen=True, slots=True)
class Donor(Part):
    """The bike at the start. mass_kg is the donor as weighed, before anything comes off."""

    mass_kg: Value = num("Mass as weighed", lo=0, hi=500)
    kind: str = choice("Kind", ("gas_roller", "electric_moto", "bare_frame"))
    cg_x_m: Value = num("Its centre of mass, forward of the rear axle", lo=-1, hi=3, assume=0.66)
    cg_y_m: Value = num("Its centre of mass, above the ground", lo=0, hi=2, assume=0.55)
    wheel_radius_m: Value = num("Wheel radius, for the drawing", above=0.1, hi=0.6, assume=0.32)
    front_scale_kg: Value = num("Front axle on the scale, finished bike", above=0, hi=500)
    rear_scale_kg: Value = num("Rear axle on the scale, finished bike", above=0, hi=500)
    items: tuple[MassItem, ...] = many("Mass ledger", MassItem)
    bays: tuple[Bay, ...] = many("Bays", Bay)
    frame_changes: tuple[FrameChange, ...] = many("Frame changes", FrameChange)


@dataclass(frozen=True, slots=True)
class Goal:
    """What the bike is for. The numbers are wishes, so they carry no tolerance of their own."""

    use: str = choice("Use", ("trail", "street", "supermoto", "commute", "hill_climb", "drag"))
    rider_kg: Value = num("Rider", lo=0, hi=250, assume=80, spread=0.1)
    gear_kg: Value = num("Riding gear and luggage", lo=0, hi=150, assume=8, spread=0.3)
    top_speed_m_s: Value = num("Top speed wanted", above=0, hi=120)
    to_speed_m_s: Value = num("Speed of the standing start", above=0, hi=80, assume=26.8224)
    to_time_s: Value = num("Time wanted to that speed", above=0, hi=120)
    hill_pct: Value = num("Hill", lo=0, hi=100)
    hill_speed_m_s: Value = num("Speed wanted on the hill", above=0, hi=80)
    ride_m: Value = num("Ride on one charge", above=0, hi=1e6)
    cruise_m_s: Value = num("Speed of the ride", above=0, hi=80, assume=13.8889)
    budget_money: Value = num("Budget", above=0, hi=1e8)
    mass_max_kg: Value = num("Heaviest that the bike may be", above=0, hi=1000)


@dataclass(frozen=True, slots=True)
class OtherPack:
    """A second pack that is to be joined in parallel."""

    volts_v: Value = num("Its voltage, rested", above=0, hi=1000)
    r_ohm: Value = num("Its resistance", above=0, hi=10, help="unknown = like this pack's")
    capacity_ah: Value = num("Its capacity", above=0, hi=5000, help="unknown = like this pack's")


@dataclass(frozen=True, slots=True)
class Pack:
    """series and parallel count cells, modules included cell by cell."""

    cell: Cell = part("Cell", Cell)
    series: int | None = count("In series", 1, 200)
    parallel: int | None = count("In parallel", 1, 1000)
    interconnect_ohm: Value = num(
        "Strips and joints, whole pack", lo=0, hi=1, assume=0.004, spread=0.5
    )
    start_soc: Value = num("Charge at the start", above=0, hi=1, assume=1.0, spread=0.0)
    floor_v: Value = num(
        "Pack voltage floor", lo=0, hi=1000, help="unknown = the controller's cut-off"
    )
    case_kg: Value = num("Case, strips and wires", lo=0, hi=100, assume=3.0, spread=0.4)
    pitch_m: Value = num("Holder pitch", above=0, hi=1, detail=True)
    rested_v: Value = num("Pack voltage, rested", above=0, hi=1000, help="an hour without load")
    claimed_wh: Value = num("Energy that is claimed", above=0, hi=1e6, detail=True)
    other: OtherPack = part("Pack to join in parallel", OtherPack)


@dataclass(frozen=True, slots=True)
class Guard:
    """Battery to controller input, in the order of the current, then what feeds and fills."""

    bms: Bms = part("BMS", Bms)
    fuse: Fuse = part("Fuse", Fuse)
    isolator: Isolator = part("Isolator", Isolator)
    plug: Plug = part("Main plug", Plug)
    cable: Cable = part("Battery cable", Cable)
    precharge: Precharge = part("Precharge", Precharge)
    dcdc: Dcdc = part("Step-down converter", Dcdc)
    charger: Charger = part("Charger", Charger)
    isolation: IsolationTest = part("Isolation test", IsolationTest)


@dataclass(frozen=True, slots=True)
class Drive:
    """Controller and motor."""

    controller: Controller = part("Controller", Controller)
    motor: Motor = part("Motor", Motor)


@dataclass(frozen=True, slots=True)
class Lead:
    """One lead between controller and motor: marks are letters, colours are only colours."""

    controller_mark: str = text("Mark at the controller")
    controller_colour: str = text("Colour at the controller")
    motor_colour: str = text("Colour at the motor")
    confirmed: bool | None = flag("Confirmed by identification", False)


@dataclass(frozen=True, slots=True)
class Interlock:
    """A safety input of the controller."""

    name: str = text("Input")
    state: str = choice("State", ("open", "fitted", "bypassed"))


@dataclass(frozen=True, slots=True)
class Wire:
    """How it is hooked up."""

    phases: tuple[Lead, ...] = many("Phase leads", Lead)
    halls: tuple[Lead, ...] = many("Hall leads", Lead)
    interlocks: tuple[Interlock, ...] = many("Safety inputs", Interlock)
    done: tuple[str, ...] = texts("Hook-up steps done")
    lowest_live_m: Value = num("Lowest live point above the ground", lo=0, hi=2)


@dataclass(frozen=True, slots=True)
class ParamChoice:
    """A parameter set by hand instead of the recommended value."""

    name: str = text("Parameter")
    value: float = 0.0


@dataclass(frozen=True, slots=True)
class Tune:
    """Controller settings that differ from the recommendation, and the throttle curve.

    throttle: pairs of twist 0…1 and share of the full torque 0…1.
    """

    chosen: tuple[ParamChoice, ...] = many("Set by hand", ParamChoice)
    throttle: tuple[tuple[float, float], ...] = ((0.0, 0.0), (1.0, 1.0))
    regen_pct: Value = num("Regeneration at closed throttle", lo=0, hi=100, assume=0.0, spread=0.0)


@dataclass(frozen=True, slots=True)
class Prove:
    """How runs are read, and which log stands for this build."""

    rollout: bool | None = flag("One-foot rollout", False)
    log_id: str = text("Log shown beside the prediction")


@dataclass(frozen=True, slots=True)
class Mark:
    """A witness mark: the inputs that a bolt's computation used when it was signed off."""

    bolt: str = text("Bolt")
    digest: str = text("Digest")
    signed_at: str = text("Signed at")
    note: str = text("Note")
    inputs: dict[str, Any] | None = None


@dataclass(frozen=True, slots=True)
class Build:
    """One bike."""

    format_version: int = FORMAT_VERSION
    name: str = text("Name")
    note: str = text("Note")
    donor: Donor = part("Donor", Donor)
    goal: Goal = part("Goal", Goal)
    pack: Pack = part("Pack", Pack)
    guard: Guard = part("Guard", Guard)
    drive: Drive = part("Drive", Drive)
    gear: Gear = part("Gear", Gear)
    road: Road = part("Road and body", Road)
    wire: Wire = part("Wiring", Wire)
    tune: Tune = part("Tune", Tune)
    prove: Prove = part("Prove", Prove)
    marks: tuple[Mark, ...] = many("Witness marks", Mark)
