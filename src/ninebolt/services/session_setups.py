"""What the setups of a session were: build and parameter set of each of their trials, and what differs between them."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from functools import partial

from ninebolt.core.bolts.assess import Moved
from ninebolt.core.build import Build
from ninebolt.core.logs.session import Spoiler, Trial
from ninebolt.errors import NineBoltError
from ninebolt.services.docs import build_at
from ninebolt.services.house import House
from ninebolt.services.moved import in_words, moved_between
from ninebolt.store.builds import text_at
from ninebolt.store.controllers import WRITTEN, WritingRow, list_writings
from ninebolt.store.database import session

# What a trial says of itself that the build does not: where one of these differs, that is what was tried.
TRIED = ("front_teeth", "rear_teeth", "tyre", "tyre_bar", "rider", "mass_kg", "surface")


@dataclass(frozen=True, slots=True)
class RiddenSetup:
    """A setup as its trials were ridden. seqs: the changes after which the build stood so, empty where nobody knows.
    sets: the writes into the controller that were in force. moved: what the build has otherwise than in the first
    setup. within: what changed between its own trials. expected: what the planner expects of it, less what it expects
    of the first (s or m/s); None where it cannot, and of the first."""

    setup: str
    seqs: tuple[int, ...]
    sets: tuple[str, ...]
    moved: tuple[Moved, ...]
    within: tuple[Moved, ...]
    expected: float | None


Predict = Callable[[Build, float | None], float | None]  # a build, at a mass or its own


def set_in_force(db: sqlite3.Connection, build_id: str, at: str = "") -> str:
    """The newest write into the controller that holds, or that held at a moment; '' where there is none."""
    then = [w for w in list_writings(db, build_id) if not at or w.at <= at]
    return next((w.id for w in then if w.state in WRITTEN or _ended_after(w, at)), "")


def _ended_after(w: WritingRow, at: str) -> bool:
    return at != "" and w.state == "ended" and (w.ended_at or "") > at


def as_ridden(
    house: House, build_id: str, trials: tuple[Trial, ...], name: str
) -> dict[int, Build]:
    """The builds of the trials, by change; those that cannot be read any more are left out."""
    found: dict[int, Build] = {}
    with session(house.path) as db:
        for seq in {t.seq for t in trials if t.seq is not None and not t.discarded}:
            with suppress(NineBoltError):
                key = f"ridden:{name}:{text_at(db, build_id, seq)}"
                found[seq] = house.keep(key, partial(build_at, db, build_id, seq, name))
    return found


def ridden_setups(
    trials: tuple[Trial, ...], builds: dict[int, Build], predict: Predict
) -> tuple[RiddenSetup, ...]:
    """In the order of their first trial; discarded ones do not count."""
    kept = [t for t in trials if not t.discarded]
    out: list[RiddenSetup] = []
    base: Build | None = None
    start: float | None = None
    for setup in dict.fromkeys(t.setup for t in kept):
        own = [t for t in kept if t.setup == setup]
        seqs = tuple(sorted({t.seq for t in own if t.seq is not None}))
        states = [builds[s] for s in seqs if s in builds]
        within = {m.path: m for b in states[1:] for m in moved_between(states[0], b)}
        between = moved_between(base, states[-1]) if base is not None and states else []
        sets = tuple(dict.fromkeys(t.set_id for t in own if t.set_id))
        value = predict(states[-1], _mean_kg(own)) if states else None
        gap = value - start if value is not None and start is not None else None
        moved = tuple(between)
        out.append(RiddenSetup(setup, seqs, sets, moved, tuple(within.values()), gap))
        if base is None and states:
            base, start = states[-1], value
    return tuple(out)


def _mean_kg(trials: list[Trial]) -> float | None:
    """Mean mass of the trials; None where one of them was not weighed."""
    known = [t.mass_kg for t in trials if t.mass_kg is not None]
    return sum(known) / len(known) if known and len(known) == len(trials) else None


def spoiled(trials: tuple[Trial, ...], setups: tuple[RiddenSetup, ...]) -> tuple[Spoiler, ...]:
    """What the records say of the setups: ridden as more than one bike, several things changed at once, nothing at
    all."""
    return tuple(_spoiled([t for t in trials if not t.discarded], setups))


def _spoiled(kept: list[Trial], setups: tuple[RiddenSetup, ...]) -> Iterator[Spoiler]:
    for s in setups:
        if s.within:
            yield Spoiler(
                f"the build of {s.setup}",
                "caution",
                f"{s.setup} was not one bike: between its runs {in_words(s.within)} changed.",
            )
        elif len(s.sets) > 1:
            yield Spoiler(
                f"the parameters of {s.setup}",
                "caution",
                f"{s.setup} was ridden with {len(s.sets)} parameter sets: one was written between its runs.",
            )
    first = setups[0] if setups else None
    for s in setups[1:]:
        if first is None or not first.seqs or not s.seqs:
            continue
        if len(s.moved) > 1:
            yield Spoiler(
                "several things in the build",
                "caution",
                f"between {first.setup} and {s.setup} {in_words(s.moved)} changed: which of them it was is not told.",
            )
        elif s.moved:
            yield Spoiler(
                "the build", "note", f"{s.setup} is {first.setup} with {in_words(s.moved)}."
            )
        elif s.sets == first.sets and not _tried(kept, first.setup, s.setup):
            yield Spoiler(
                "what was tried",
                "note",
                f"nothing that is written down differs between {first.setup} and {s.setup}: the same build, the same "
                "parameter set. Change the build before the runs of a setup, or write down what was changed.",
            )


def _tried(kept: list[Trial], first: str, second: str) -> bool:
    """Whether the trials themselves say that something was another."""
    return any(
        {getattr(t, field) for t in kept if t.setup == first}
        != {getattr(t, field) for t in kept if t.setup == second}
        for field in TRIED
    )
