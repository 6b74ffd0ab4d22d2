"""Which setup a log belongs to: the build as it stood when the log came in, and what was changed or written into the
controller since."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bolts.assess import Moved
from ninebolt.errors import NineBoltError, NotFoundError
from ninebolt.services import workshop
from ninebolt.services.docs import build_at
from ninebolt.services.house import House
from ninebolt.services.moved import moved_between
from ninebolt.store import rides
from ninebolt.store.controllers import WRITTEN, list_writings
from ninebolt.store.database import session
from ninebolt.store.sessions import list_sessions


@dataclass(frozen=True, slots=True)
class LogSetup:
    """seq: the change after which the build stood as it was ridden, None where nobody knows. moved: inputs of the ride
    that read differently now. written: parameter sets that went into the controller since. sessions: whose trials the
    log belongs to. problem: why moved is not known."""

    seq: int | None
    at: str
    moved: tuple[Moved, ...]
    written: int
    sessions: tuple[str, ...]
    problem: str


def setup_of(house: House, build_id: str, log_id: str) -> LogSetup:
    """Raises NotFoundError where the build has no such log."""
    now = workshop.shown_build(house, build_id)
    with session(house.path) as db:
        row = next((x for x in rides.list_logs(db, build_id) if x.id == log_id), None)
        if row is None:
            raise NotFoundError(f"This build has no log '{log_id[:40]}'.")
        writes = [
            w for w in list_writings(db, build_id) if w.state in WRITTEN and w.at > row.imported_at
        ]
        names = tuple(
            s.name
            for s in list_sessions(db, build_id)
            if any(t.get("log_id") == log_id for t in s.doc["trials"])
        )
        then, problem = None, ""
        if row.seq is not None:
            try:
                then = build_at(db, build_id, row.seq, now.name)
            except NineBoltError as error:
                problem = f"The build as it was cannot be read any more: {error}"
    moved = tuple(moved_between(then, now)) if then is not None else ()
    return LogSetup(row.seq, row.imported_at, moved, len(writes), names, problem)
