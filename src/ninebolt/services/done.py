"""What was done and measured on the bike that is there: kept whatever is tried, and of that bike alone."""

from __future__ import annotations

import sqlite3
from dataclasses import replace
from typing import Any

from ninebolt.core.build import Build, Prove
from ninebolt.errors import InputError
from ninebolt.store import rides

RECORDS = ("prove", "wire.done", "pack.done")


def is_record(path: str) -> bool:
    """Whether a field holds what was done or measured on the bike that is there."""
    return any(path == r or path.startswith(f"{r}.") for r in RECORDS)


def not_done(build: Build) -> Build:
    """The build as a plan: nothing ticked, passed, ridden or logged. A quarantine stays, as no copy is a way round
    it."""
    kept = Prove(rollout=build.prove.rollout, quarantine=build.prove.quarantine)
    return replace(
        build,
        prove=kept,
        wire=replace(build.wire, done=()),
        pack=replace(build.pack, done=()),
    )


def own_log(db: sqlite3.Connection, build_id: str, base: Any, made: Build) -> None:
    """Raises InputError where a change chooses a log that is not one of this build's."""
    chosen = made.prove.log_id
    if chosen in ("", base["prove"]["log_id"]) or rides.has_log(db, build_id, chosen):
        return
    raise InputError(
        "This is no log of this build.",
        where="prove.log_id",
        got=chosen[:40],
        expected="one of the logs that were imported into it, or none",
        todo="Import the log into this build: one of another bike proves nothing of this one.",
    )
