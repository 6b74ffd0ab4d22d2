"""What the bike does: its run's numbers, its performance, and the headline once what opens is seen."""

from __future__ import annotations

import dataclasses
import math

from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bike.case import Assembled, assemble
from ninebolt.core.bike.cells import facts_of
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.mass import moved_kg
from ninebolt.core.bike.path import aux_load_w, line_setting_a
from ninebolt.core.build import Build
from ninebolt.core.parts.goal import ride_speed
from ninebolt.core.simulate.headline import Performance, performance
from ninebolt.core.simulate.steady import top_speed


@fact
def pack_facts(bike: Bike) -> PackFacts | None:
    """Whole-pack values; None while the number in series or the chemistry is unknown. nan is unknown."""
    return facts_of(bike.build.pack)


def load_a(bike: Bike) -> float | None:
    """Line amps asked for: the controller's setting, held to its rating; None while unknown."""
    amps = line_setting_a(bike.build.drive.controller)
    return amps if math.isfinite(amps) else None


@fact
def assembled(bike: Bike) -> Assembled:
    """The numbers of the run, or what is missing for them."""
    return assemble(bike.build)


def look(build: Build) -> tuple[Assembled, Performance | None]:
    """The numbers of a build's run and what it does with them, protection not looked at."""
    made = assemble(build)
    if made.case is None:
        return made, None
    goal, mass = build.goal, moved_kg(build)
    kg = made.case.body.mass_kg if math.isnan(mass) else mass
    speeds = goal.to_speed_m_s.taken, ride_speed(goal)
    return made, performance(made.case, *speeds, aux_load_w(build), kg)


@fact
def bare_performance(bike: Bike) -> Performance | None:
    """Top speed, envelope, run and cruise as if nothing opened; None while it does not compute."""
    return look(bike.build)[1]


@fact
def uncapped_m_s(bike: Bike) -> float:
    """Top speed without a speed cap; nan while it does not compute."""
    perf = bare_performance(bike)
    if perf is None or math.isinf(perf.case.cap_m_s):
        return math.nan if perf is None else perf.top.speed_m_s
    return top_speed(dataclasses.replace(perf.case, cap_m_s=math.inf)).speed_m_s
