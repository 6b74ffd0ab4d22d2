"""Test sessions: planned, ridden, judged; the run book over all of them."""

from __future__ import annotations

import dataclasses
import math
import random
import sqlite3
from collections.abc import Callable
from contextlib import suppress
from dataclasses import asdict, dataclass, replace
from statistics import variance
from typing import Any

from ninebolt.core.bike.facts import Bike, Memory
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.build import Build
from ninebolt.core.logs.compare import FourPercents, percents
from ninebolt.core.logs.protocols import EVERY, PROTOCOLS, SPEEDS, Measure, Quantity, measure
from ninebolt.core.logs.session import (
    Model,
    Plan,
    SessionVerdict,
    Spoiler,
    Trial,
    Under,
    felt_against,
    judge,
    plan,
)
from ninebolt.core.simulate.run import Stop, reached_s, run
from ninebolt.core.simulate.steady import top_speed
from ninebolt.core.vehicle.splits import MILE_4_M
from ninebolt.errors import ConflictError, InputError, NineBoltError, NotFoundError
from ninebolt.formats.trials_csv import Trials
from ninebolt.services import workshop
from ninebolt.services.docs import build_at
from ninebolt.services.house import House, before
from ninebolt.services.session_setups import (
    RiddenSetup,
    as_ridden,
    ridden_setups,
    set_in_force,
    spoiled,
)
from ninebolt.store.builds import get_build, text_at
from ninebolt.store.database import session as opened
from ninebolt.store.database import transaction
from ninebolt.store.rides import has_log
from ninebolt.store.sessions import (
    SessionRow,
    get_session,
    list_sessions,
    put_session,
    set_removed,
)
from ninebolt.units import QUANTITIES

MOST_TRIALS = 2000
LATE_S = 5.0  # one that took longer to come in may be older than the last write, which takes longer itself
PREDICTED = ("between marks", "drag splits", *SPEEDS)  # protocols of which the planner has a run
# Protocols whose time says something of power: over a way from rest, or to a speed.
FOUR = {"between marks": "distance", "drag splits": "distance", "roll-on": "speed"}


@dataclass(frozen=True, slots=True)
class SessionView:
    """A session with its trials and what they show; quantity: of its values; ridden: the build and the parameter sets
    that the setups were. bound: the change that a setup was said to be. problem: why nothing is shown yet."""

    id: str
    name: str
    at: str
    protocol: str
    quantity: Quantity
    setups: tuple[str, ...]
    ridden: tuple[RiddenSetup, ...]
    bound: dict[str, int]
    trials: tuple[Trial, ...]
    plan: Plan | None
    verdict: SessionVerdict | None
    percents: tuple[FourPercents, ...]
    problem: str
    felt: str
    felt_words: str


def make(
    house: House, build_id: str, name: str, protocol: str, setups: list[str], trials: int, spread: float, gap: float,
    masses: dict[str, float], riders: list[str] | None = None,
) -> SessionView:  # fmt: skip
    """A planned session. Raises InputError."""
    asked = {
        "trials": trials,
        "spread": spread,
        "gap": gap,
        "masses": masses,
        "riders": riders or [],
        "seed": len(name) + trials,
    }
    _planned(setups, protocol, asked)
    build = workshop.shown_build(house, build_id)
    doc = {
        "protocol": protocol,
        "quantity": measure(protocol).quantity,
        "setups": setups,
        "asked": asked,
        "trials": [],
        "build": build.name,
    }
    row = SessionRow(house.new_id(), build_id, house.now(), name.strip()[:80] or "Session", doc)
    with opened(house.path) as db, transaction(db):
        put_session(db, row, house.now())
    return _view(house, build, row)


def _planned(setups: list[str], protocol: str, asked: dict[str, Any]) -> Plan:
    shuffle = random.Random(asked["seed"]).shuffle
    return plan(
        setups,
        asked["trials"],
        asked["spread"],
        asked["gap"],
        asked["masses"],
        protocol,
        shuffle,
        asked.get("riders", []),
    )


def add_trial(
    house: House, build_id: str, session_id: str, trial: Trial, ago_s: float | None = None
) -> SessionView:
    """ago_s: how long ago it was taken, where it comes in later: what was in force then counts. Raises
    NotFoundError; InputError for a setup that is not of this session; ConflictError while the bike is in quarantine."""
    build = workshop.kept_build(house, build_id)
    if build.prove.quarantine and not trial.discarded:
        raise ConflictError(
            "The bike is in quarantine: no runs are taken.", got=build.prove.quarantine,
            todo="Have it looked at, ride slowly, then lift the quarantine in Prove.",
        )  # fmt: skip
    _has_log(house, build_id, trial.log_id)
    if not trial.value > 0:
        raise InputError("A trial's value is above 0.", where="value", got=f"{trial.value:g}")

    def taken(db: sqlite3.Connection, doc: dict[str, Any]) -> dict[str, Any]:
        if trial.key and trial.key in {t.get("key") for t in doc["trials"]}:
            return doc  # it came before, and the answer was lost
        _one_of(doc, "setup", trial.setup)
        if len(doc["trials"]) >= MOST_TRIALS:
            raise InputError("This session is full.", got=str(MOST_TRIALS), todo="Begin another.")
        head = get_build(db, build_id).head
        seq = doc.get("bound", {}).get(trial.setup) or _there(db, build_id, trial.seq) or head
        begun = get_session(db, build_id, session_id).at
        at = max(before(house.now(), ago_s), begun)  # no run is older than its session
        set_id = set_in_force(db, build_id, at if (ago_s or 0.0) > LATE_S else "")
        row = {**asdict(trial), "at": at, "seq": seq, "set_id": set_id}
        return {**doc, "trials": [*doc["trials"], row]}

    return _edited(house, build_id, session_id, taken)


def _edited(
    house: House,
    build_id: str,
    session_id: str,
    edit: Callable[[sqlite3.Connection, dict[str, Any]], dict[str, Any]],
) -> SessionView:
    """Change a session's document in one transaction: two phones may tap at once. Raises NotFoundError, and as edit."""
    build = workshop.shown_build(house, build_id)
    with opened(house.path) as db, transaction(db):
        row = get_session(db, build_id, session_id)
        row = dataclasses.replace(row, doc=edit(db, row.doc))
        put_session(db, row, house.now())
    return _seen(house, build, row)


def _one_of(doc: dict[str, Any], where: str, setup: str) -> None:
    """Raises InputError for a setup that is not of this session."""
    if setup not in doc["setups"]:
        raise InputError(
            "This setup is not of this session.",
            where=where,
            got=setup[:60],
            expected=", ".join(doc["setups"]),
        )


def _there(db: sqlite3.Connection, build_id: str, seq: int | None) -> int | None:
    """The change, where the build has it."""
    if seq is not None:
        with suppress(NotFoundError):
            text_at(db, build_id, seq)
            return seq
    return None


def _has_log(house: House, build_id: str, log_id: str) -> None:
    if not log_id:
        return
    with opened(house.path) as db:
        if not has_log(db, build_id, log_id):
            raise InputError("This build has no such log.", where="log", got=log_id[:40])


def discard(house: House, build_id: str, session_id: str, number: int, why: str) -> SessionView:
    """A trial is discarded with its reason, or counts again with ''. Raises NotFoundError, InputError."""

    def discarded(_: sqlite3.Connection, doc: dict[str, Any]) -> dict[str, Any]:
        rows = [dict(t) for t in doc["trials"]]
        if not 0 <= number < len(rows):
            raise InputError(
                "There is no such trial.",
                where="number",
                got=str(number),
                expected=f"0 to {len(rows) - 1}",
            )
        rows[number]["discarded"] = why.strip()[:200]
        return {**doc, "trials": rows}

    return _edited(house, build_id, session_id, discarded)


def bind(house: House, build_id: str, session_id: str, setup: str, seq: int | None) -> SessionView:
    """Say which state of the build a setup is, for runs to come and those taken; None: as the build stands when one is
    taken. Raises NotFoundError, InputError."""

    def bound(db: sqlite3.Connection, doc: dict[str, Any]) -> dict[str, Any]:
        _one_of(doc, "setup", setup)
        others = {k: v for k, v in doc.get("bound", {}).items() if k != setup}
        if seq is None:
            return {**doc, "bound": others}
        build_at(db, build_id, seq, "")  # one that is not there is not bound
        trials = [{**t, "seq": seq} if t["setup"] == setup else t for t in doc["trials"]]
        return {**doc, "bound": {**others, setup: seq}, "trials": trials}

    return _edited(house, build_id, session_id, bound)


def feel(house: House, build_id: str, session_id: str, felt: str) -> SessionView:
    """Which setup felt better, before the numbers are believed. Raises NotFoundError, InputError."""

    def said(_: sqlite3.Connection, doc: dict[str, Any]) -> dict[str, Any]:
        if felt:
            _one_of(doc, "felt", felt)
        return {**doc, "felt": felt}

    return _edited(house, build_id, session_id, said)


def remove(house: House, build_id: str, session_id: str, back: bool = False) -> list[SessionView]:
    """Take a session out of the book, or put it back as it was. Raises NotFoundError."""
    with opened(house.path) as db, transaction(db):
        set_removed(db, build_id, session_id, None if back else house.now())
    return book(house, build_id)


def book(house: House, build_id: str) -> list[SessionView]:
    """Every session of a build, newest first. Raises NotFoundError."""
    build = workshop.shown_build(house, build_id)
    with opened(house.path) as db:
        rows = list_sessions(db, build_id, damaged=True)
    return [_seen(house, build, r) for r in rows]


def _seen(house: House, build: Build, row: SessionRow) -> SessionView:
    """One session; one that cannot be read stands in the list by its name and hides no other."""
    if row.doc:
        try:
            return _view(house, build, row)
        except (KeyError, TypeError, ValueError, AttributeError, NineBoltError):
            pass
    why = "What is stored of this session cannot be read. Put a backup back, or remove it; the others are whole."
    return SessionView(
        row.id, row.name, row.at, "", "s", (), (), {}, (), None, None, (), why, "", ""
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class UsualSpread:
    """Standard deviation of runs of one setup, pooled over the earlier sessions of a protocol, in its unit; None where
    no setup was ridden twice. runs: how many went into it."""

    spread: float | None
    runs: int


def usual_spread(house: House, build_id: str, protocol: str) -> UsualSpread:
    """What the earlier sessions of this bike say of its spread. Raises NotFoundError, InputError."""
    workshop.version(house, build_id)
    kind = measure(protocol)
    with opened(house.path) as db:
        rows = list_sessions(db, build_id)
    squares, free, runs = 0.0, 0, 0
    alike = (r.doc for r in rows if r.doc["protocol"] == protocol and measured(r.doc) == kind)
    for doc in alike:
        kept = [t for t in doc["trials"] if not t.get("discarded")]
        for setup in {t["setup"] for t in kept}:
            values = [float(t["value"]) for t in kept if t["setup"] == setup]
            if len(values) > 1:
                squares += variance(values) * (len(values) - 1)
                free += len(values) - 1
                runs += len(values)
    return UsualSpread(math.sqrt(squares / free) if free else None, runs)


def measured(doc: dict[str, Any]) -> Measure:
    """What the values of a kept session are; of a protocol that is none, numbers that tell nothing."""
    if doc["protocol"] not in PROTOCOLS:
        return Measure("s", False)
    return measure(doc["protocol"], str(doc.get("quantity") or "s"))


def _view(house: House, build: Build, row: SessionRow) -> SessionView:
    doc = row.doc
    trials = tuple(Trial(**t) for t in doc["trials"])
    verdict: SessionVerdict | None = None
    problem = ""
    four: tuple[FourPercents, ...] = ()
    builds = as_ridden(house, row.build_id, trials, build.name)
    setups = ridden_setups(trials, builds, lambda b, kg: _predicted(house, b, doc["protocol"], kg))
    ridden = next((builds[s] for r in setups for s in r.seqs if s in builds), build)
    try:
        verdict = judge(
            list(trials),
            [doc["protocol"]],
            model_of(ridden, doc["protocol"], memory=house.memory),
            spoiled(trials, setups),
            measured(doc),
        )
        first, kind = verdict.summaries[0].name, FOUR.get(doc["protocol"])
        four = tuple(
            percents(1.0, 1.0 + d.share, kind)
            for d in verdict.corrected or verdict.differences
            if kind and d.first == first
        )
    except InputError as error:
        problem = error.message()
    made = _planned(doc["setups"], doc["protocol"], doc["asked"])
    felt = str(doc.get("felt", ""))
    words = (
        felt_against(verdict, felt)
        if verdict is not None and felt in {x.name for x in verdict.summaries}
        else ""
    )
    return SessionView(
        row.id,
        row.name,
        row.at,
        doc["protocol"],
        measured(doc).quantity,
        tuple(doc["setups"]),
        setups,
        dict(doc.get("bound", {})),
        trials,
        made,
        verdict,
        four,
        problem,
        felt,
        words,
    )


def _predicted(house: House, build: Build, protocol: str, mass_kg: float | None) -> float | None:
    """What the planner expects of a build in a protocol, at a mass or its own."""
    model = model_of(build, protocol, memory=house.memory)
    if model is None:
        return None
    return model(Under(mass_kg=mass_kg))


def model_of(
    build: Build, protocol: str, distance_m: float = MILE_4_M, memory: Memory | None = None
) -> Model | None:
    """Predicted value of a protocol over what it is ridden under; None where the build does not compute, or the
    planner has no such run."""
    perf = bare_performance(Bike(build, memory=memory))
    if perf is None or protocol not in PREDICTED:
        return None
    case, goal = perf.case, build.goal.to_speed_m_s.taken

    def value(under: Under) -> float | None:
        own = case.body
        body = replace(
            own,
            mass_kg=_or(under.mass_kg, own.mass_kg),
            wind_m_s=_or(under.wind_m_s, own.wind_m_s),
            grade_pct=_or(under.slope_pct, own.grade_pct),
            air_kg_m3=_or(under.air_kg_m3, own.air_kg_m3),
        )
        at = replace(case, body=body, start_soc=_or(under.soc, case.start_soc))
        if protocol in SPEEDS:
            return top_speed(at).speed_m_s
        done = run(at, Stop(distance_m=distance_m, seconds=120.0))
        return (
            done.series.t_s[-1]
            if protocol == "between marks"
            else reached_s(done, goal) or done.series.t_s[-1]
        )

    return value


def _or(said: float | None, own: float) -> float:
    return own if said is None else said


def compared(read: Trials, protocol: str = "", build: Build | None = None) -> SessionVerdict:
    """The trials of a file judged, without a session. protocol: '' for the first one that measures what the file holds.
    Raises InputError."""
    first = next(p.name for p in EVERY if read.quantity in (None, p.quantity))
    kind = measure(protocol or first)
    if read.quantity not in (None, kind.quantity):
        fits = ", ".join(p.name for p in EVERY if p.quantity == read.quantity)
        raise InputError(
            "The file holds what this protocol does not measure.",
            where="protocol",
            got=f"{QUANTITIES[str(read.quantity)].label}, {protocol}",
            expected=fits,
        )
    verdict = judge(
        read.rows, [protocol or first], model_of(build, protocol or first) if build else None
    )
    unread = read.unread
    if not unread:
        return verdict
    words = f"not read: {', '.join(unread)}. What differs there is not in the comparison."
    return replace(verdict, spoilers=(*verdict.spoilers, Spoiler("columns", "note", words)))


def of_name(house: House, build_id: str, name: str) -> SessionView:
    """A session by its name or its id; the newest of a name. Raises NotFoundError."""
    every = book(house, build_id)
    found = next((s for s in every if name in (s.id, s.name)), None)
    if found is None:
        known = ", ".join(s.name for s in every) or "none"
        raise NotFoundError(f"This build has no session '{name[:60]}'. There is: {known[:200]}.")
    return found
