"""The running gear: what the donor was made for, what brakes and tyres now stand, how fast the bike may
be let out."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.mass import rider_kg, total_kg
from ninebolt.core.bike.reach import planned_body
from ninebolt.core.bike.ride import bare_performance, look
from ninebolt.core.build import Build, Drive
from ninebolt.core.limits import Limit
from ninebolt.core.parts.chassis import Brake
from ninebolt.core.parts.donor import Donor
from ninebolt.core.parts.goal import ride_speed
from ninebolt.core.parts.guard import Guard
from ninebolt.core.parts.rolling import Road
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.value import Value
from ninebolt.core.vehicle import brake as braking
from ninebolt.core.vehicle.road import Body, road_load
from ninebolt.core.vehicle.tyre import symbol_speed
from ninebolt.units import GRAVITY_M_S2, KM_H_PER_M_S

OVER_LABEL = Limit(1.5, "ratio", "shaft power over the motor's label: caution")
FAR_OVER_LABEL = Limit(3.0, "ratio", "the same: stop without a sensor and roll-back")
STOP_WATCH = Limit(1.0, "ratio", "energy of a stop over what the brakes were made for: watch")
STOP_BEFORE = Limit(1.15, "ratio", "the same: change before riding")
ROTOR_WATCH_C = Limit(400.0, "c", "a brake rotor from which on most pads fade")
ROTOR_STOP_C = Limit(600.0, "c", "a brake rotor from which on any pad fades and the fluid boils")
DRUM_WATCH_C = Limit(200.0, "c", "a brake drum from which on shoes fade")
DRUM_STOP_C = Limit(
    300.0, "c", "a brake drum from which on shoes glaze and it grows away from them"
)
STOPS = Limit(5, "ratio", "hard stops in a row that brakes must take")
STOPS_EACH_S = Limit(45.0, "s", "from one hard stop to the next")
STOPS_FROM = Limit(0.7, "ratio", "of the top speed, from which those stops are made")
HILL_PCT = Limit(10.0, "pct", "grade of the descent that brakes must hold")
HILL_M = Limit(1000.0, "m", "length of that descent")
FIRST_RIDE_M_S = Limit(
    45.0 / KM_H_PER_M_S, "m_s", "speed until brakes and tyres have been looked at"
)
AIR_C = Limit(25.0, "c", "air that brakes and motors cool in")


def stock_build(build: Build) -> Build | None:
    """The donor as it left the maker, as a build of its own; None while its mass is unknown."""
    donor, stock, road = build.donor, build.donor.stock, build.road
    if donor.mass_kg.amount is None:
        return None
    ridden = donor.mass_kg.amount + rider_kg(build.goal)
    return Build(
        donor=Donor(mass_kg=donor.mass_kg),
        goal=build.goal,
        pack=stock.pack,
        guard=Guard(bms=stock.bms),
        drive=Drive(controller=stock.controller, motor=stock.motor),
        gear=stock.gear,
        road=Road(
            total_kg=Value(ridden, "measured"),
            cda_m2=road.cda_m2,
            crr=road.crr,
            air_kg_m3=road.air_kg_m3,
            cg_height_m=road.cg_height_m,
            wheelbase_m=road.wheelbase_m,
            front_share=road.front_share,
            drag_height_m=road.drag_height_m,
        ),
    )


@fact
def stock_performance(bike: Bike) -> Performance | None:
    """What the electric donor does; None for a gas roller or while too little is known."""
    if bike.build.donor.kind != "electric_moto":
        return None
    stock = stock_build(bike.build)
    return look(stock)[1] if stock else None


SLOW_M_S, FASTEST_M_S = 10.0, 120.0  # where a rise is known, and beyond what any bike here does
STEPS, HALVINGS = 40, 30


@dataclass(frozen=True, slots=True)
class MadeFor:
    """What the donor was made for: typed ratings, else what it was as it left the maker."""

    kg: float | None
    speed_m_s: float | None
    power_w: float | None
    thrust_n: float | None


@fact
def made_for(bike: Bike) -> MadeFor:
    """Ridden mass, speed, power and thrust of the donor; None where nobody knows."""
    build, stock = bike.build, stock_performance(bike)
    made, donor_kg = build.donor.ratings, build.donor.mass_kg.amount
    kg = made.gross_kg.amount
    if kg is None and stock is not None and donor_kg is not None:
        kg = donor_kg + rider_kg(build.goal)
    return MadeFor(
        kg,
        made.speed_m_s.amount or (stock.headline.top_speed_m_s if stock else None),
        made.power_w.amount or (stock.headline.peak_wheel_w if stock else None),
        made.thrust_n.amount or (max(stock.envelope.thrust_n) if stock else None),
    )


@fact
def ridden_body(bike: Bike) -> Body | None:
    """The bike on the road; while its run does not compute, with what a drive weighs. None without a mass."""
    perf = bare_performance(bike)
    return planned_body(bike) if perf is None else perf.case.body


@fact
def fastest(bike: Bike) -> float | None:
    """Speed that brakes and tyres are judged at (m/s): what the bike reaches, else what is wished."""
    perf = bare_performance(bike)
    return perf.top.speed_m_s if perf else bike.build.goal.top_speed_m_s.amount


@fact
def stop_ratio(bike: Bike) -> float | None:
    """Energy of one stop from top speed over that of the donor, m v²; None where either is unknown."""
    speed = fastest(bike)
    return None if speed is None else _stop_ratio_from(bike, speed)


def _stop_ratio_from(bike: Bike, speed_m_s: float) -> float | None:
    was, mass = made_for(bike), total_kg(bike.build)
    if not was.kg or not was.speed_m_s or math.isnan(mass):
        return None
    return mass / was.kg * (speed_m_s / was.speed_m_s) ** 2


@dataclass(frozen=True, slots=True)
class BrakeEnd:
    """One wheel. share: of the braking. Temperatures of its rotor after one stop from top speed, after
    several from most of it, and down a hill; None while the rotor is not known. there: as of a part. drum: else a
    disc."""

    end: str
    there: bool | None
    drum: bool
    share: float
    one_c: float | None
    many_c: float | None
    hill_c: float | None

    @property
    def what(self) -> str:
        return "drum" if self.drum else "rotor"

    @property
    def watch_c(self) -> Limit:
        return DRUM_WATCH_C if self.drum else ROTOR_WATCH_C

    @property
    def stop_c(self) -> Limit:
        return DRUM_STOP_C if self.drum else ROTOR_STOP_C

    @property
    def hottest_c(self) -> float | None:
        """Of the stops; a hill is ridden at another speed."""
        return None if self.one_c is None or self.many_c is None else max(self.one_c, self.many_c)


@dataclass(frozen=True, slots=True)
class Braking:
    """stop_j: of one stop from top speed; hardest_m_s2: before a wheel lifts or slides."""

    stop_j: float
    hardest_m_s2: float
    lifts: bool
    ends: tuple[BrakeEnd, ...]


@fact
def brakes(bike: Bike) -> Braking | None:
    """What both brakes take up at this mass and speed; None while one of the two is unknown."""
    body, speed = ridden_body(bike), fastest(bike)
    return None if body is None or speed is None else _brakes_from(bike, body, speed)


def _brakes_from(bike: Bike, body: Body, speed_m_s: float) -> Braking:
    """The same for stops from another speed."""
    gear = bike.build.gear
    geometry = body.front_share, body.cg_height_m, body.wheelbase_m
    hardest = braking.hardest_m_s2(*geometry, body.grip_mu)
    lifts = braking.hardest_m_s2(*geometry, math.inf) <= hardest
    joules = braking.stop_j(body.mass_kg, body.rotating_kg, speed_m_s)
    front = braking.front_share(*geometry, hardest)
    if gear.rear_brake.there is False:
        front = 1.0
    if gear.front_brake.there is False:
        front = 0.0
    hill = _hill_w(bike, body)
    own = joules * braking.brakes_share(body, speed_m_s, hardest)
    ends = (
        _end("front", gear.front_brake, front, own, hill),
        _end("rear", gear.rear_brake, 1.0 - front, own, hill),
    )
    return Braking(joules, hardest, lifts, ends)


def _hill_w(bike: Bike, body: Body) -> tuple[float, float]:
    """(power that the brakes hold on the descent, seconds of it), regeneration counted as none."""
    speed = ride_speed(bike.build.goal)
    flat = road_load(body, speed)
    pull = body.mass_kg * GRAVITY_M_S2 * math.sin(math.atan(HILL_PCT / 100.0))
    down = pull - flat.aero_n - flat.rolling_n
    return max(0.0, down * speed), HILL_M / speed


def _end(
    end: str, brake: Brake, share: float, joules: float, hill: tuple[float, float]
) -> BrakeEnd:
    drum = brake.kind == "drum"
    kind = braking.drum_of if drum else braking.rotor_of
    rotor = kind(brake.rotor_m.amount, brake.rotor_kg.amount)
    if rotor is None or brake.there is False:
        return BrakeEnd(end, brake.there, drum, share, None, None, None)
    own = share * joules
    return BrakeEnd(
        end,
        brake.there,
        drum,
        share,
        braking.after_stops_c(rotor, own, 1, STOPS_EACH_S, AIR_C),
        braking.after_stops_c(rotor, STOPS_FROM**2 * own, int(STOPS), STOPS_EACH_S, AIR_C),
        braking.descent_c(rotor, share * hill[0], hill[1], AIR_C),
    )


@dataclass(frozen=True, slots=True)
class TopMode:
    """How fast the bike may be let out (None: as fast as it runs), and what stands against more. open:
    something is not known."""

    speed_m_s: float | None
    why: tuple[str, ...]
    open: bool


@fact
def top_mode(bike: Bike) -> TopMode | None:
    """The speed that brakes and tyres are judged fit for (None: nothing stands against any)."""
    speed = fastest(bike)
    return None if speed is None or ridden_body(bike) is None else top_mode_at(bike, speed)


def top_mode_at(bike: Bike, top_m_s: float) -> TopMode:
    """The same for another top speed."""
    binding = sorted(x for x in _fit(bike) if x[0] < top_m_s)
    unknown = any("not been" in words for _, words in binding)
    least = min((x[0] for x in binding), default=None)
    return TopMode(least, tuple(words for _, words in binding), unknown)


@fact
def _fit(bike: Bike) -> tuple[tuple[float, str], ...]:
    """(speed, what stands against more) of each brake and tyre, whatever the bike reaches."""
    body, build = ridden_body(bike), bike.build
    if body is None:
        return ()
    limits = []
    done = {u.what for u in build.donor.upgrades if u.fitted}
    found = _brakes_from(bike, body, SLOW_M_S)
    ends = found.ends
    for e in ends:
        speed = _cool_below(body, e, found.hardest_m_s2)
        if speed is not None:
            limits.append((speed, f"the {e.end} {e.what} reaches {float(e.watch_c):.0f} °C there"))
    if ends[0].there is False:
        limits.append((0.0, "no front brake"))
    elif ends[0].many_c is None and "brakes" not in done:
        ratio = _stop_ratio_from(bike, SLOW_M_S)
        if ratio is None:
            limits.append((float(FIRST_RIDE_M_S), "the brakes have not been looked at"))
        else:
            words = f"brakes at {float(STOP_BEFORE):.2f} times their energy"
            limits.append((SLOW_M_S * math.sqrt(STOP_BEFORE / ratio), words))
    for where, tyre in (("rear", build.gear.tyre), ("front", build.gear.front_tyre)):
        stands = symbol_speed(tyre.speed_symbol)
        if stands is not None:
            limits.append(
                (stands, f"the {where} tyre's symbol {tyre.speed_symbol.strip().upper()}")
            )
        elif where == "rear":
            limits.append((float(FIRST_RIDE_M_S), "the rear tyre's symbol has not been read"))
    return tuple(limits)


def _cool_below(body: Body, end: BrakeEnd, hardest_m_s2: float) -> float | None:
    """The least speed from which stops heat a brake to where it is watched; None where no speed does, or nothing is
    known. end: the brake after stops from SLOW_M_S; its rise goes with the work of the brakes, which at great speed
    falls again, since the air takes more."""
    if end.hottest_c is None or end.hottest_c <= AIR_C:
        return None

    def work(speed_m_s: float) -> float:
        joules = braking.stop_j(body.mass_kg, body.rotating_kg, speed_m_s)
        return joules * braking.brakes_share(body, speed_m_s, hardest_m_s2)

    most = work(SLOW_M_S) * (end.watch_c - AIR_C) / (end.hottest_c - AIR_C)
    steps = [FASTEST_M_S * (i + 1) / STEPS for i in range(STEPS)]
    high = next((v for v in steps if work(v) > most), None)
    if high is None:
        return None
    low = high - FASTEST_M_S / STEPS
    for _ in range(HALVINGS):
        mid = 0.5 * (low + high)
        low, high = (low, mid) if work(mid) > most else (mid, high)
    return low
