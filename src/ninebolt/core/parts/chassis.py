"""What the frame carries and steers with: brakes, springs, steering, chain run, hub axle, seat."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from ninebolt.core.parts.base import Fitting, Part
from ninebolt.core.value import Value, choice, count, num, reading

DROPOUTS = ("unknown", "steel", "aluminium")


@dataclass(frozen=True, slots=True)
class Brake(Fitting):
    """One wheel's brake."""

    TELLING: ClassVar[tuple[str, ...]] = ("rotor_m", "rotor_kg")

    kind: str = choice("Kind", ("disc", "drum"))
    rotor_m: Value = reading("Rotor diameter", above=0, hi=0.6, help="of a drum its inner one")
    rotor_kg: Value = num(
        "Mass of the rotor's ring",
        above=0,
        hi=10,
        help="what heats, without carrier or hub; unknown = from the diameter",
    )


@dataclass(frozen=True, slots=True)
class Suspension(Part):
    """Springs of a fork or a shock. A fork's rate is that of both legs together."""

    rate_n_m: Value = num("Spring rate", above=0, hi=500000, help="a fork: both legs together")
    travel_m: Value = reading("Travel at the wheel", above=0, hi=0.5)
    preload_m: Value = num("Preload of the spring", lo=0, hi=0.1, assume=0.0, spread=0.5, own=True)
    leverage: Value = num(
        "Wheel travel over shock travel", above=0.2, hi=6, assume=1.0, spread=0.1, detail=True
    )
    longer_m: Value = reading(
        "Longer than the donor's by",
        lo=-0.2,
        hi=0.2,
        assume=0.0,
        spread=0.0,
        help="minus: shorter",
        own=True,
    )


@dataclass(frozen=True, slots=True)
class Steering:
    """Head and fork as the donor stood, without rider."""

    rake_deg: Value = reading("Rake", above=5, hi=50, help="head angle from the vertical, measured")
    offset_m: Value = reading(
        "Offset of the front axle",
        lo=-0.02,
        hi=0.15,
        assume=0.05,
        spread=0.3,
        help="ahead of the steering axis, clamps and axle lead together",
    )
    front_radius_m: Value = reading("Radius of the front wheel", above=0.1, hi=0.6)
    clearance_m: Value = reading("Ground clearance", lo=0, hi=0.6)


@dataclass(frozen=True, slots=True)
class ChainRun:
    """From sprocket to sprocket, and what room there is for other ones."""

    centre_m: Value = reading("From sprocket shaft to axle", above=0.1, hi=1.5)
    links: int | None = count("Links of the chain, teeth of the belt", 40, 400)
    slot_m: Value = reading(
        "Axle can move back by", lo=0, hi=0.2, help="left in the slot from where it stands"
    )
    forward_m: Value = reading("Axle can move forward by", lo=0, hi=0.2)
    stands_n: Value = num(
        "Pull it stands",
        above=0,
        hi=200_000,
        detail=True,
        help="of a chain its tensile strength, from its sheet; of a belt the pull that its maker's table allows for "
        "its width at the front pulley",
    )
    front_most: int | None = count("Largest front sprocket that clears", 5, 60)
    rear_most: int | None = count("Largest rear sprocket that clears", 10, 200)
    offset_m: Value = reading(
        "Chain line out by", lo=0, hi=0.1, detail=True, help="straight edge on the rear sprocket"
    )


@dataclass(frozen=True, slots=True)
class HubAxle:
    """Axle of a hub motor in its dropouts."""

    flat_m: Value = reading(
        "Length of the flats in the dropout",
        above=0,
        hi=0.1,
        help="along the slot: 14 mm round with 10 mm across the flats has 9.8 mm",
    )
    dropout_m: Value = reading("Thickness of one dropout", above=0, hi=0.05)
    metal: str = choice("Dropouts are of", DROPOUTS)
    arms: int | None = count("Torque arms", 0, 4)
    arm_m: Value = reading("Thickness of a torque arm", above=0, hi=0.05, assume=0.008, spread=0.25)


@dataclass(frozen=True, slots=True)
class RiderFit:
    """The rider on the bike."""

    seat_m: Value = reading("Seat height of the donor, nobody on", above=0.2, hi=1.4)
    inseam_m: Value = reading("Inseam of the rider, without boots", above=0.3, hi=1.3)
