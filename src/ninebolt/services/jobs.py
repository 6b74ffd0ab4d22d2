"""Work that goes on in the background: each job gives better and better results until it is done, is
stopped, or breaks off, and always says which."""

from __future__ import annotations

import logging
import time
from collections import OrderedDict
from collections.abc import Callable, Generator, Iterator
from dataclasses import dataclass, field
from threading import Event, Lock, Thread
from typing import Any

from ninebolt.errors import NineBoltError, NotFoundError

KEPT = 6
LONGEST_S = 600.0
log = logging.getLogger("ninebolt")
Steps = Callable[[], Iterator[Any]]


@dataclass(frozen=True, slots=True)
class Progress:
    """Where a job stands. state: running, done, stopped or failed. result: the best so far."""

    id: str
    kind: str
    state: str
    steps: int
    seconds: float
    result: Any
    error: str


@dataclass
class _Job:
    kind: str
    stop: Event = field(default_factory=Event)
    result: Any = None
    state: str = "running"
    steps: int = 0
    seconds: float = 0.0
    error: str = ""
    over: Event = field(default_factory=Event)


@dataclass
class Jobs:
    """A few jobs in memory; the oldest is stopped and let go."""

    _jobs: OrderedDict[str, _Job] = field(default_factory=OrderedDict)
    _lock: Lock = field(default_factory=Lock)

    def start(self, job_id: str, kind: str, steps: Steps) -> Progress:
        """Begin. steps: makes the results, one after the other. The first may be there at once."""
        job = _Job(kind)
        with self._lock:
            self._jobs[job_id] = job
            while len(self._jobs) > KEPT:
                self._jobs.popitem(last=False)[1].stop.set()
        Thread(target=_work, args=(job, steps), name=f"{kind}-{job_id}", daemon=True).start()
        return self.look(job_id)

    def look(self, job_id: str) -> Progress:
        """Where a job stands. Raises NotFoundError."""
        return _progress(job_id, self._job(job_id))

    def soon(self, job_id: str, seconds: float) -> Progress:
        """Where a job stands once it is over, or after so long: what takes a moment need not be asked for again."""
        self._job(job_id).over.wait(seconds)
        return self.look(job_id)

    def all(self) -> list[Progress]:
        """Every job that is known, newest first, without its result."""
        with self._lock:
            return [
                Progress(k, j.kind, j.state, j.steps, j.seconds, None, j.error)
                for k, j in reversed(self._jobs.items())
            ]

    def stop(self, job_id: str) -> Progress:
        """Stop it; what it has found so far stays."""
        self._job(job_id).stop.set()
        return self.look(job_id)

    def _job(self, job_id: str) -> _Job:
        with self._lock:
            if job_id not in self._jobs:
                raise NotFoundError(
                    f"There is no job '{job_id[:20]}' any more.", todo="Start it again."
                )
            return self._jobs[job_id]


def _progress(job_id: str, j: _Job) -> Progress:
    return Progress(job_id, j.kind, j.state, j.steps, j.seconds, j.result, j.error)


def _follow(job: _Job, steps: Iterator[Any], start: float) -> str:
    for made in steps:
        job.result = made
        job.steps += 1
        job.seconds = time.monotonic() - start
        if job.stop.is_set() or job.seconds > LONGEST_S:
            return "stopped"
    return "done"


def _work(job: _Job, steps: Steps) -> None:
    start = time.monotonic()
    try:
        made = steps()
        try:
            state = _follow(job, made, start)
        finally:  # what it set going ends before it is called stopped
            if isinstance(made, Generator):
                made.close()
        job.state = state
    except NineBoltError as error:
        job.error, job.state = error.message(), "failed"
    except Exception as error:  # a job that dies says so
        log.exception("a job died: %s", job.kind)
        job.error = f"The {job.kind} broke off ({type(error).__name__}); start it again."
        job.state = "failed"
    finally:
        job.over.set()
