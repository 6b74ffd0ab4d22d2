"""The headline's figures of many builds, quickly: the kernel's own, by the rules of the bike."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.case import assemble
from ninebolt.core.bike.opening import first_on
from ninebolt.core.bike.path import aux_load_w
from ninebolt.core.bike.reach import PACK_TO_WHEEL, no_less_than_its_use
from ninebolt.core.build import Build
from ninebolt.core.parts.goal import ride_speed
from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.run import Stop, run
from ninebolt.core.simulate.steady import Cruise, cruise, envelope, top_speed
from ninebolt.core.vehicle.need import stop_and_go_n
from ninebolt.units import S_PER_H


@dataclass(frozen=True, slots=True)
class Quick:
    """Figures of one build. opens: it cuts out."""

    top_m_s: float
    to_s: float | None
    peak_w: float
    range_m: float | None
    opens: bool


def quick(build: Build, protected: bool = True) -> Quick | None:
    """The figures by the kernel alone; None where it does not compute. protected: a run that something opens
    has no time."""
    case = assemble(build).case
    if case is None:
        return None
    top = top_speed(case)
    shown = envelope(case, max(top.speed_m_s, 3.0), 33)
    done = run(case, Stop(speed_m_s=build.goal.to_speed_m_s.taken, seconds=60.0))
    far = cruise(case, ride_speed(build.goal), aux_load_w(build))
    to = float(done.rows[-1, 0]) if done.ended == "speed" else None
    opens = first_on(build, done) if protected else None
    return Quick(
        top.speed_m_s,
        None if opens else to,
        max(shown.power_w),
        rode(build, case, far),
        bool(opens),
    )


def rode(build: Build, case: RunCase, far: Cruise | None) -> float | None:
    """About the range of the wished ride, by the rules of bike/reach: no less a metre than its use takes."""
    goal = build.goal
    if far is None or far.range_m is None:
        return None
    extra = aux_load_w(build) / far.speed_m_s / S_PER_H
    per = far.wh_per_m - extra
    if goal.duty == "stop_and_go":
        per = (
            stop_and_go_n(case.body, far.speed_m_s, goal.stop_each_m.taken)
            / PACK_TO_WHEEL
            / S_PER_H
        )
    return far.usable_wh / (no_less_than_its_use(goal, case.body.mass_kg, per) + extra)
