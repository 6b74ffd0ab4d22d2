"""Sorting that goes on improving in the background until it is stopped."""

from __future__ import annotations

import logging
import time
from collections import OrderedDict
from dataclasses import dataclass, field
from threading import Event, Lock, Thread

from ninebolt.core.match.sort import MeasuredCell, Rules, Sorting, improving
from ninebolt.errors import NineBoltError, NotFoundError

KEPT = 6
LONGEST_S = 600.0
log = logging.getLogger("ninebolt")


@dataclass
class _Job:
    stop: Event = field(default_factory=Event)
    sorting: Sorting | None = None
    state: str = "running"
    steps: int = 0
    seconds: float = 0.0
    error: str = ""


@dataclass(frozen=True, slots=True)
class SortProgress:
    """state: running, done, stopped or failed. sorting: the best so far."""

    id: str
    state: str
    steps: int
    seconds: float
    sorting: Sorting | None
    error: str


@dataclass
class SortJobs:
    """A few jobs in memory; the oldest is stopped and let go."""

    _jobs: OrderedDict[str, _Job] = field(default_factory=OrderedDict)
    _lock: Lock = field(default_factory=Lock)

    def start(
        self, job_id: str, cells: list[MeasuredCell], series: int, parallel: int, rules: Rules
    ) -> SortProgress:
        """Begin; the first result may be there at once."""
        job = _Job()
        with self._lock:
            self._jobs[job_id] = job
            while len(self._jobs) > KEPT:
                self._jobs.popitem(last=False)[1].stop.set()
        work = (job, cells, series, parallel, rules)
        Thread(target=_work, args=work, name=f"sort-{job_id}", daemon=True).start()
        return self.look(job_id)

    def look(self, job_id: str) -> SortProgress:
        """Where a job stands. Raises NotFoundError."""
        job = self._job(job_id)
        return SortProgress(job_id, job.state, job.steps, job.seconds, job.sorting, job.error)

    def stop(self, job_id: str) -> SortProgress:
        """Stop it; what it has found so far stays."""
        self._job(job_id).stop.set()
        return self.look(job_id)

    def _job(self, job_id: str) -> _Job:
        with self._lock:
            if job_id not in self._jobs:
                raise NotFoundError(
                    f"There is no sorting '{job_id[:20]}' any more.", todo="Sort the file again."
                )
            return self._jobs[job_id]


def _work(job: _Job, cells: list[MeasuredCell], series: int, parallel: int, rules: Rules) -> None:
    start = time.monotonic()
    try:
        for made in improving(cells, series, parallel, rules):
            job.sorting = made
            job.steps += 1
            job.seconds = time.monotonic() - start
            if job.stop.is_set() or job.seconds > LONGEST_S:
                job.state = "stopped"
                return
        job.state = "done"
    except NineBoltError as error:
        job.error, job.state = error.message(), "failed"
    except Exception as error:  # a job that dies says so
        log.exception("a sorting job died")
        job.error = f"The sorting broke off ({type(error).__name__}); sort the file again."
        job.state = "failed"
