"""Drive: how warm motor and controller get in a run, a session, a climb and a cruise, and what other
cooling would change."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.hold import WARM_C, hold_s
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.bike.running import AIR_C
from ninebolt.core.bike.session import planned_session
from ninebolt.core.bolts.common import finite
from ninebolt.core.drive.heat import (
    one_node_along,
    one_node_s,
    seconds_cooled,
    seconds_until,
    steady_amps,
    steady_c,
)
from ninebolt.core.parts.goal import ride_speed
from ninebolt.core.simulate.case import RunCase, Thermal
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.simulate.session import on_grade
from ninebolt.core.simulate.steady import Drawn, drawn
from ninebolt.core.simulate.thrust import derates_from_c


@dataclass(frozen=True, slots=True)
class HeatRow:
    """One way of riding. key: run, session, climb, ride or top. winding_c, case_c: at its end, or where
    it settles (None: it runs away). limit_s: seconds until the winding limit, a run's until the amps are
    taken back; None: it stays below. phase_a: of the steady ones."""

    key: str
    what: str
    winding_c: float | None
    case_c: float | None
    limit_s: float | None
    phase_a: float | None


@dataclass(frozen=True, slots=True)
class BoxRow:
    """The controller in one way of riding (key as of HeatRow): at its warmest or where it settles, and
    the seconds until its limit (None: it stays below)."""

    key: str
    ends_c: float
    limit_s: float | None


@dataclass(frozen=True, slots=True)
class Cooling:
    """One kind of cooling. cont_a: peak phase amps for good. cold_s, warm_s: full phase amps held, None
    for good. origin: what the change of the heat paths comes from."""

    label: str
    origin: str
    winding_case_k_w: float
    case_air_k_w: float
    cont_a: float
    cold_s: float | None
    warm_s: float | None
    current: bool


@dataclass(frozen=True, slots=True)
class HeatView:
    """cool_s: from the winding limit down to a warm motor, standing. controller_s: full amps until the
    controller's limit, None while it is not known or for good; controller_known says which. boxes: the
    controller along the same rows, none of it while its heat path is not known."""

    rows: tuple[HeatRow, ...]
    boxes: tuple[BoxRow, ...]
    cooling: tuple[Cooling, ...]
    cool_s: float | None
    controller_s: float | None
    controller_known: bool
    limit_c: float


# (label, factor of winding to case, factor of case to air, where it comes from)
KINDS = (
    ("as it is", 1.0, 1.0, "the motor's own heat paths"),
    ("fins on the case", 1.0, 0.6, "about 1.7 times the surface; common practice, no source"),
    ("magnetic fluid in the air gap", 0.5, 1.0, "a second way from the copper to the shell of a hub, half "
     "as much again and more; common practice, no source"),
    ("fluid and fins", 0.5, 0.6, "both"),
    ("hollow shaft, air blown through", 0.85, 0.7, "the stator is cooled from inside; common practice, no source"),
    ("direct liquid at the stator", 0.8, 0.12, "a jacket with a pump and a radiator; common practice, no source"),
)  # fmt: skip


@fact
def heat_view(bike: Bike) -> HeatView | None:
    """None while the bike does not compute or its heat paths are not known."""
    perf = bare_performance(bike)
    if perf is None or perf.case.thermal is None:
        return None
    th = perf.case.thermal
    known, seconds = controller_s(bike, perf)
    case_then = 0.5 * (th.temp_max_c + AIR_C)
    return HeatView(
        tuple(_rows(bike, perf, th)),
        box_rows(bike),
        tuple(_cooling(perf, th)),
        finite(
            seconds_cooled(
                th.temp_max_c, WARM_C, th.winding_case_k_w, th.case_air_k_w, th.winding_j_k, th.case_j_k,
                case_then, th.air_c,
            )
        ),
        finite(seconds),
        known,
        th.temp_max_c,
    )  # fmt: skip


def _rows(bike: Bike, perf: Performance, th: Thermal) -> Iterator[HeatRow]:
    goal, s, hot = bike.build.goal, perf.run.series, derates_from_c(perf.case)
    when = next((t for t, c in zip(s.t_s, s.winding_c, strict=True) if c >= hot), None)
    yield HeatRow("run", "one full-throttle run", max(s.winding_c), s.case_c[-1], when, None)
    done = planned_session(bike)
    if done is not None:
        hottest = max(r.winding_c for r in done.runs)
        over = next((r for r in done.runs if r.winding_c >= hot), None)
        label = f"{len(done.runs)} runs, {goal.rest_s.taken:.0f} s between"
        yield HeatRow("session", label, hottest, None, over.start_s if over else None, None)
    for h in held(bike):
        yield _steady(h, perf.case, th)


@dataclass(frozen=True, slots=True)
class Held:
    """A way of riding without an end (key and words as of HeatRow): its speed, and what it draws; None
    where the drive cannot."""

    key: str
    what: str
    speed_m_s: float
    at: Drawn | None


@fact
def held(bike: Bike) -> tuple[Held, ...]:
    """The hill, the ride and near top speed, each worked out once; empty while the bike does not compute."""
    perf, goal = bare_performance(bike), bike.build.goal
    if perf is None:
        return ()
    rows = [
        ("ride", "the ride's speed, held", perf.case, ride_speed(goal)),
        ("top", "near top speed, held", perf.case, 0.98 * perf.top.speed_m_s),
    ]
    grade, speed = goal.hill_pct.amount, goal.hill_speed_m_s.amount
    if grade and speed:
        rows.insert(
            0, ("climb", f"climb of {grade:.0f} %, held", on_grade(perf.case, grade), speed)
        )
    return tuple(Held(key, what, v, drawn(case, v)) for key, what, case, v in rows)


def _steady(h: Held, case: RunCase, th: Thermal) -> HeatRow:
    """Held for good. Iron and drag warm the case, as along a run: to the winding the air is that much
    hotter."""
    at = h.at
    if at is None:
        return HeatRow(h.key, f"{h.what} (the drive cannot)", None, None, 0.0, None)
    watts = 1.5 * case.machine.r_ohm * at.phase_a**2
    turns = h.speed_m_s * case.ratio / case.radius_m
    air = th.air_c + (case.drag_nm + case.drag_nm_s_rad * turns) * turns * th.case_air_k_w
    paths = th.winding_case_k_w, th.case_air_k_w
    winding, shell = steady_c(watts, *paths, air)
    until = seconds_until(watts, *paths, th.winding_j_k, th.case_j_k, AIR_C, th.temp_max_c, air)
    return HeatRow(h.key, h.what, finite(winding), finite(shell), finite(until), at.phase_a)


def _cooling(perf: Performance, th: Thermal) -> Iterator[Cooling]:
    r = perf.case.machine.r_ohm
    for label, inner, outer, origin in KINDS:
        other = dataclasses.replace(
            th, winding_case_k_w=th.winding_case_k_w * inner, case_air_k_w=th.case_air_k_w * outer
        )
        own = dataclasses.replace(perf, case=dataclasses.replace(perf.case, thermal=other))
        yield Cooling(
            label,
            origin,
            other.winding_case_k_w,
            other.case_air_k_w,
            steady_amps(r, other.winding_case_k_w, other.case_air_k_w, th.temp_max_c, th.air_c),
            finite(hold_s(own.case, AIR_C)),
            finite(hold_s(own.case, WARM_C)),
            inner == outer == 1.0,
        )


@dataclass(frozen=True, slots=True)
class Lump:
    """The controller as one lump: K/W to the air, J/K, its limit (°C), ohms of its switches, W at rest."""

    k_w: float
    j_k: float
    limit_c: float
    r_ohm: float
    fixed_w: float

    def watts(self, phase_a: float) -> float:
        return 1.5 * self.r_ohm * phase_a**2 + self.fixed_w


def _lump(bike: Bike, perf: Performance) -> Lump | None:
    """None while its heat path or capacity is not known."""
    c, m = bike.build.drive.controller, perf.case.machine
    if not (c.heat_k_w.known and c.heat_j_k.known):
        return None
    return Lump(
        c.heat_k_w.taken, c.heat_j_k.taken, c.temp_max_c.taken, c.r_switch_ohm.taken, m.fixed_w
    )


@fact
def box_rows(bike: Bike) -> tuple[BoxRow, ...]:
    """The controller in each way of riding; empty while its heat path is not known."""
    perf = bare_performance(bike)
    box = _lump(bike, perf) if perf else None
    if perf is None or box is None:
        return ()
    s, done = perf.run.series, planned_session(bike)
    phase = [math.hypot(a, b) for a, b in zip(s.iq_a, s.id_a, strict=True)]
    out = [_along("run", box, s.t_s, phase)]
    if done is not None:
        out.append(_along("session", box, done.t_s, done.phase_a))
    for h in held(bike):
        if h.at is not None:
            watts = box.watts(h.at.phase_a)
            until = one_node_s(watts, box.k_w, box.j_k, box.limit_c, AIR_C, AIR_C)
            out.append(BoxRow(h.key, AIR_C + watts * box.k_w, finite(until)))
    return tuple(out)


def _along(key: str, box: Lump, t_s: Sequence[float], phase_a: Sequence[float]) -> BoxRow:
    watts = [box.watts(a) for a in phase_a]
    temps = one_node_along(t_s, watts, box.k_w, box.j_k, AIR_C, AIR_C)
    when = next((t for t, c in zip(t_s, temps, strict=True) if c >= box.limit_c), None)
    return BoxRow(key, max(temps), when)


def controller_s(bike: Bike, perf: Performance) -> tuple[bool, float | None]:
    """(known, seconds at full phase amps until the controller's limit from cold; inf for good)."""
    box = _lump(bike, perf)
    if box is None:
        return False, None
    watts = box.watts(perf.case.phase_a)
    return True, one_node_s(watts, box.k_w, box.j_k, box.limit_c, AIR_C, AIR_C)
