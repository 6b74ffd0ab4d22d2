"""Gear's findings on numbers that cannot be so: unlike any bike, or against each other."""

from __future__ import annotations

from collections.abc import Iterator

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.gearing import tyre_radius_m, wheel_radius_m
from ninebolt.core.bolts.gear.limits import RADIUS_OFF, RATIO_OFF, ROTOR_OF_WHEEL
from ninebolt.core.bolts.order import Row, order_says
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.bolts.usual import Usual, span, unusual_says
from ninebolt.core.finding import Change, Fix, q

EFFICIENCY = span(
    "ratio", 0.6, 1.0, "share of the motor's power that chain or gears bring to the wheel"
)
WHEELS = span("kg_m2", 0.05, 4.0, "inertia of both wheels")
GRIP = span("ratio", 0.2, 1.6, "grip of a tyre, mud to racing slick")
CDA = span("m2", 0.15, 1.5, "drag area of a ridden bike")
CRR = span("ratio", 0.003, 0.35, "rolling resistance, racing tyre to deep sand")
AIR = span("kg_m3", 0.6, 1.6, "density of air where one rides")
BASE = span("m", 0.9, 1.8, "wheelbase of a motorcycle")
HIGH = span("m", 0.3, 1.2, "height of the centre of mass, rider on")
RAKE = span("deg", 15.0, 40.0, "rake of a motorcycle")


@check("gear.usual", "a number of gearing, tyre or road is unlike any", parts=("gear", "road"))
def usual(bike: Bike) -> Iterator[Says]:
    g, r = bike.build.gear, bike.build.road
    return unusual_says(
        [
            Usual("efficiency", "The driveline's efficiency", g.efficiency, *EFFICIENCY),
            Usual("wheel_kg_m2", "The wheels' inertia", g.wheel_kg_m2, *WHEELS),
            Usual("grip_mu", "The rear tyre's grip", g.tyre.grip_mu, *GRIP),
            Usual("cda_m2", "The drag area", r.cda_m2, *CDA),
            Usual("crr", "The rolling resistance", r.crr, *CRR),
            Usual("air_kg_m3", "The air", r.air_kg_m3, *AIR),
            Usual("wheelbase_m", "The wheelbase", r.wheelbase_m, *BASE),
            Usual("cg_height_m", "The height of the centre of mass", r.cg_height_m, *HIGH),
            Usual("rake_deg", "The rake", g.steering.rake_deg, *RAKE),
        ]
    )


@check("gear.ratio_off", "the ratio that is typed is not that of the teeth", parts=("gear",))
def ratio_off(bike: Bike) -> Says | None:
    g = bike.build.gear
    typed = g.ratio.amount
    if typed is None or not g.front_teeth or not g.rear_teeth:
        return None
    made = g.reduction.taken * g.rear_teeth / g.front_teeth
    if abs(typed / made - 1.0) <= RATIO_OFF:
        return None
    return Says(
        "caution",
        "The ratio and the teeth do not go together",
        f"{typed:.4g} is typed; {g.rear_teeth} over {g.front_teeth}"
        + (f" with {g.reduction.taken:.4g} inside the motor" if g.reduction.known else "")
        + f" makes {made:.4g}. Everything is computed with the typed one.",
        typed,
        made,
        fixes=(Fix("Take the teeth's", (Change("gear.ratio", None),)),),
    )


@check(
    "gear.rotor_size",
    "a brake rotor is too large for its wheel",
    parts=("gear.front_brake", "gear.rear_brake"),
)
def rotor_size(bike: Bike) -> Iterator[Says]:
    g = bike.build.gear
    rear = wheel_radius_m(bike.build)
    front = tyre_radius_m(g.front_tyre) or rear
    for end, brake, radius in (("front", g.front_brake, front), ("rear", g.rear_brake, rear)):
        across = brake.rotor_m.amount
        if across is None or brake.there is False or not across > ROTOR_OF_WHEEL * 2.0 * radius:
            continue
        yield Says(
            "caution",
            f"The {end} rotor does not go into its wheel",
            f"{q(across, 'm')} across, the wheel {q(2.0 * radius, 'm')}: a radius for a diameter, or another unit. Its "
            "heat is computed from its mass; how hard it brakes is not.",
            across,
            ROTOR_OF_WHEEL * 2.0 * radius,
            "m",
            at=end,
        )


@check(
    "gear.front_off", "the front wheel's radius is not that of its tyre", parts=("gear.steering",)
)
def front_off(bike: Bike) -> Says | None:
    g = bike.build.gear
    told = g.steering.front_radius_m.amount
    tyre = tyre_radius_m(g.front_tyre)
    if told is None or tyre is None or abs(told / tyre - 1.0) <= RADIUS_OFF:
        return None
    return Says(
        "caution",
        "The front wheel's radius is not its tyre's",
        f"{q(told, 'm')} is typed for the steering, the tyre makes {q(tyre, 'm')}. Trail follows from it: measure from "
        "the axle to the ground, rider on.",
        told,
        tyre,
        "m",
    )


@check(
    "gear.teeth_most", "a sprocket is larger than what clears the frame", parts=("gear", "gear.run")
)
def teeth_most(bike: Bike) -> Iterator[Says]:
    g = bike.build.gear
    for end, teeth, most in (
        ("front", g.front_teeth, g.run.front_most),
        ("rear", g.rear_teeth, g.run.rear_most),
    ):
        if teeth is not None and most is not None and teeth > most:
            yield Says(
                "stop",
                f"The {end} sprocket does not clear",
                f"{teeth} teeth are fitted, at most {most} clear frame, guard and swing arm: the chain saws through "
                "what it rubs on, or locks the wheel. One of the two numbers is wrong, or it must go.",
                teeth,
                most,
                at=end,
            )


@check(
    "gear.order",
    "numbers of a spring or of the chain run stand the wrong way round",
    parts=("gear.fork", "gear.run"),
)
def order(bike: Bike) -> Iterator[Says]:
    g = bike.build.gear
    parts = (
        ("fork", "fork", (("preload", g.fork.preload_m), ("travel", g.fork.travel_m))),
        ("shock", "shock", (("preload", g.shock.preload_m), ("travel", g.shock.travel_m))),
        ("run", "chain run", (("sprocket to axle", g.run.centre_m), ("wheelbase", bike.build.road.wheelbase_m))),
    )  # fmt: skip
    for key, name, numbers in parts:
        said = order_says(name, (Row("m", numbers, level=False),), key)
        if said:
            yield said
