"""Findings on the brakes: are they there, how hot they get, how fast the bike may be let out."""

from __future__ import annotations

from collections.abc import Iterator

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.running import (
    HILL_M,
    HILL_PCT,
    STOP_BEFORE,
    STOPS,
    STOPS_EACH_S,
    STOPS_FROM,
    brakes,
    fastest,
    stop_ratio,
    top_mode,
)
from ninebolt.core.bolts.gear.chassis import from_top, reaches
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Source, q

HEAT = Source("computed", "½ m v² into the rotor, cooling as a single node")


@check("gear.no_brake", "a brake is not there")
def no_brake(bike: Bike) -> Iterator[Says]:
    gear, found = bike.build.gear, brakes(bike)
    stops = f"A stop {from_top(bike)} is {q(found.stop_j, 'j')}. " if found else ""
    for end, brake in (("front", gear.front_brake), ("rear", gear.rear_brake)):
        if brake.there is not False:
            continue
        front = end == "front"
        none = gear.front_brake.there is False and gear.rear_brake.there is False
        yield Says(
            "stop" if front or none else "caution",
            f"There is no {end} brake",
            stops
            + (
                "The front wheel does most of the stopping. No ride, not even a first one."
                if front
                else "Nothing stops the bike but its motor, and that lets go on a full pack."
                if none
                else "One brake alone is one failure from none, and most road law asks for two."
            ),
            0,
            1,
            parts=(f"gear.{end}_brake",),
            at=end,
        )


@check("gear.brake_open", "nobody has looked at the brakes", parts=("gear.front_brake",))
def brake_open(bike: Bike) -> Says | None:
    found, ratio = brakes(bike), stop_ratio(bike)
    upgraded = any(u.fitted and u.what == "brakes" for u in bike.build.donor.upgrades)
    if found is None or found.ends[0].there is not None or upgraded:
        return None
    if ratio is not None and ratio > STOP_BEFORE:  # gear.brake_energy asks for the rotors
        return None
    return Says(
        "caution" if ratio is None else "note",
        "Nobody has looked at the brakes",
        f"A stop {from_top(bike)} is {q(found.stop_j, 'j')}, "
        + (
            "and neither a rotor nor what the donor was made for is known. Measure the rotors, or type the donor's "
            "mass and speed."
            if ratio is None
            else f"{ratio:.1f} times the donor's: no more than they were made for, if they are there and whole. "
            "Look at rotor, pads, hose and lever, then say that they are fitted."
        ),
        found.stop_j,
        None,
        "j",
    )


@check("gear.rotor_open", "the rear brake is not looked at, or its rotor not measured")
def rotor_open(bike: Bike) -> Says | None:
    found = brakes(bike)
    rear = found.ends[1] if found else None
    if rear is None or rear.there is False or rear.many_c is not None:
        return None
    return Says(
        "note",
        "The rear brake's rotor is not measured",
        "How hot it gets on a long way down is not judged. Measure its diameter and weigh it, or take its "
        "thickness.",
        0,
        1,
        parts=("gear.rear_brake",),
    )


@check("gear.brake_heat", "a brake's rotor or drum gets too hot", source=HEAT)
def brake_heat(bike: Bike) -> Iterator[Says]:
    found = brakes(bike)
    for e in found.ends if found else ():
        if e.one_c is None or e.many_c is None or e.hill_c is None:
            continue
        hot = max(e.one_c, e.many_c, e.hill_c)
        if hot <= e.watch_c:
            continue
        stop = hot > e.stop_c
        yield Says(
            "stop" if stop else "caution",
            f"The {e.end} brake overheats" if stop else f"The {e.end} brake gets hot",
            f"{q(e.one_c, 'c')} after one stop {from_top(bike)}, {q(e.many_c, 'c')} after {STOPS:.0f} "
            f"from {STOPS_FROM:.0%} of it {q(STOPS_EACH_S, 's')} apart, {q(e.hill_c, 'c')} after "
            f"{q(HILL_M, 'm')} of {HILL_PCT:.0f} % down, regeneration not counted: a full pack takes none. "
            + (
                "Shoes fade, and a hot drum grows away from them. A disc, a larger drum, or less speed."
                if e.drum
                else "Pads fade and the lever comes to the bar. A larger or heavier rotor, or less speed."
            ),
            hot,
            e.stop_c if stop else e.watch_c,
            "c",
            parts=(f"gear.{e.end}_brake",),
            at=e.end,
        )


@check(
    "gear.brake_energy",
    "the brakes are asked for more than the donor's were",
    parts=("gear.front_brake",),
    source=Source("computed", "m v² against the donor's"),
)
def brake_energy(bike: Bike) -> Says | None:
    ratio, found = stop_ratio(bike), brakes(bike)
    upgraded = any(u.fitted and u.what == "brakes" for u in bike.build.donor.upgrades)
    if ratio is None or found is None or ratio <= STOP_BEFORE or upgraded:
        return None
    known = found.ends[0].many_c is not None
    return Says(
        "note" if known else "caution",
        "The brakes take up more than the donor's did",
        f"{q(found.stop_j, 'j')} a stop {from_top(bike)}, {ratio:.1f} times the donor's. "
        + (
            f"Their own heat decides: the front {found.ends[0].what} comes to {q(found.ends[0].hottest_c or 0.0, 'c')}."
            if known
            else "Measure the rotors to see how hot they get; until then the top mode stays locked."
        ),
        ratio,
        STOP_BEFORE,
    )


@check("gear.top_mode", "the bike is faster than its brakes and tyres are judged fit for")
def locked(bike: Bike) -> Says | None:
    mode, top = top_mode(bike), fastest(bike)
    if mode is None or top is None or mode.speed_m_s is None:
        return None
    return Says(
        "caution",
        "The top mode stays locked",
        (
            f"Fit for {q(mode.speed_m_s, 'm_s')}, {reaches(bike)}: {'; '.join(mode.why)}. "
            "Tune recommends this as the speed cap until that is settled."
            if mode.speed_m_s > 0
            else f"Not fit to be ridden: {'; '.join(mode.why)}."
        ),
        top,
        mode.speed_m_s,
        "m_s",
        parts=("gear.front_brake", "gear.tyre"),
    )


@check("gear.stoppie", "the rear wheel lifts before the tyres let go", source=HEAT)
def stoppie(bike: Bike) -> Says | None:
    found = brakes(bike)
    if found is None or not found.lifts:
        return None
    return Says(
        "note",
        "The rear wheel lifts when it is braked hard",
        f"At {q(found.hardest_m_s2, 'm_s2')}, before the tyres let go: mass is high or far forward.",
        found.hardest_m_s2,
        None,
        "m_s2",
    )
