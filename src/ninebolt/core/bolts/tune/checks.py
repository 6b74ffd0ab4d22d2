"""Tune's findings: values outside their constraint."""

from __future__ import annotations

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import bare_performance, pack_facts, uncapped_m_s
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.bolts.tune.limits import TRIP_LEAST
from ninebolt.core.bolts.tune.rows import ParamRow, rows_of
from ninebolt.core.bolts.tune.windows import windows
from ninebolt.core.bolts.tune.written import by_hand
from ninebolt.core.build import Build
from ninebolt.core.finding import Change, Fix, Source, listed, q
from ninebolt.core.setting.ours import PARAMS

HARD = (
    "line_a", "phase_a", "lvc_v", "ovc_v", "pole_pairs", "creep_pct", "regen_line_a", "motor_stop_c",
)  # fmt: skip


def _wrong(row: ParamRow) -> bool:
    """Outside its window on either side; a fact that is another."""
    if row.chosen is None:
        return False
    slack = 1e-3 * max(1.0, abs(row.recommended))
    above = row.most is not None and row.chosen > row.most + slack
    below = row.least is not None and row.chosen < row.least - slack
    capped = row.most is None and row.bound == "most" and row.chosen > row.recommended + slack
    under = row.least is None and row.bound == "least" and row.chosen < row.recommended - slack
    other = row.bound == "" and abs(row.chosen - row.recommended) > 0.02 * abs(row.recommended)
    return above or below or capped or under or other or not row.lo <= row.chosen <= row.hi


@check("tune.param", "a value set by hand is outside its constraint", parts=("tune",))
def param(bike: Bike) -> list[Says]:
    return [_outside(bike, row) for row in rows_of(bike) if _wrong(row)]


@check(
    "tune.unknown_name", "a value is set by hand for a parameter that there is not", parts=("tune",)
)
def unknown_name(bike: Bike) -> Says | None:
    known = {spec.name for spec in PARAMS}
    lost = [p.name for p in bike.build.tune.chosen if p.name not in known]
    if not lost:
        return None
    return Says(
        "caution",
        "A value that was set by hand is for no parameter",
        f"{listed(lost, 4)}: kept in the build, and in no set that is written. A slip in the name, or of another "
        "version: set it again under the name that the table has.",
        len(lost),
        0,
    )


@check("tune.cap", "the speed cap holds the bike below what it reaches without", parts=("tune",))
def cap(bike: Bike) -> Says | None:
    tune, goal, perf = bike.build.tune, bike.build.goal, bare_performance(bike)
    at = by_hand(bike).get("speed_cap_m_s", tune.cap_m_s.amount)
    if at is None or perf is None:
        return None
    free = uncapped_m_s(bike)
    if at >= free:
        return None
    wishes = (
        ("the top speed", goal.top_speed_m_s.amount),
        ("the standing start", goal.to_speed_m_s.amount if goal.to_time_s.known else None),
        ("the hill", goal.hill_speed_m_s.amount),
        ("the ride", goal.cruise_m_s.amount),
    )
    missed = [(what, wish) for what, wish in wishes if wish is not None and wish > at]
    told = listed([f"{what} ({q(wish, 'm_s')})" for what, wish in missed])
    shown = perf.top.speed_m_s
    ends = (
        "top speed, times and splits that are shown end there too"
        if shown <= at
        else f"top speed, times and splits that are shown are the bike's up to {q(shown, 'm_s')}: by hand, the cap "
        "is in the set alone"
    )
    return Says(
        "caution" if missed else "note",
        "The speed cap is below what is wished" if missed else "The speed cap holds the bike",
        f"The set ends at {q(at, 'm_s')}; {ends}. Without a cap it reaches {q(free, 'm_s')}."
        + (f" Below the speed of {told}." if missed else ""),
        free,
        at,
        "m_s",
    )


def _outside(bike: Bike, row: ParamRow) -> Says:
    at, facts = row.chosen or 0.0, pack_facts(bike)
    window = windows(bike).get(row.name)
    high = row.most is not None and at > row.most
    why = row.constraint
    if window is not None:
        why = (window.why_most if high else window.why_least) or row.constraint
    limit = (
        row.most
        if high
        else row.least
        if row.least is not None and at < row.least
        else row.recommended
    )
    limit = row.recommended if limit is None else limit
    dead = row.name == "lvc_v" and facts is not None and at > facts.nominal_v
    mild = (
        high and not dead if row.name == "lvc_v" else row.name in ("line_a", "phase_a") and not high
    )
    runs = (row.name == "throttle_low_v" and not high) or (
        row.name == "throttle_fault_high_v" and high
    )
    return Says(
        "stop" if (row.name in HARD and not mild) or runs else "caution",
        f"{row.label} is outside its constraint",
        f"Set to {q(at, row.quantity)}; {'at most' if high else 'at least' if limit == row.least else 'it is'} "
        f"{q(limit, row.quantity)}: {why}.",
        row.chosen,
        limit,
        row.quantity,
        source=Source("computed", row.constraint),
        fixes=(Fix("Use the recommended value", (_drop(bike.build, row.name),)),),
        at=row.name,
    )


@check("tune.trip", "the over-current trip lies under the phase amps that are set", parts=("tune",))
def trip(bike: Bike) -> Says | None:
    by = {r.name: r.value for r in rows_of(bike)}
    trips, amps = by.get("phase_trip_a"), by.get("phase_a")
    if trips is None or amps is None or trips >= TRIP_LEAST * amps:
        return None
    return Says(
        "caution",
        "The over-current trip lies under the phase amps",
        f"It trips at {q(trips, 'a')}, {q(amps, 'a')} are set: the drive lets go at the first hard pull, in the "
        "middle of a corner as well.",
        trips,
        TRIP_LEAST * amps,
        "a",
        fixes=(Fix("Use the recommended trip", (_drop(bike.build, "phase_trip_a"),)),),
    )


def _drop(build: Build, name: str) -> Change:
    kept = [{"name": p.name, "value": p.value} for p in build.tune.chosen if p.name != name]
    return Change("tune.chosen", kept)
