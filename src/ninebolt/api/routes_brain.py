"""Many builds at once: sweeps, sampled bands, what to change first, whole builds from a wish."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic.dataclasses import dataclass as worked_out_once

from ninebolt.api.models import PROBLEMS, Finite
from ninebolt.api.routes_builds import HouseDep
from ninebolt.api.routes_packs import JobsDep
from ninebolt.errors import InputError
from ninebolt.services import workshop
from ninebolt.services.advisor import Advice, advise
from ninebolt.services.bands import SampledView, sampling_job
from ninebolt.services.jobs import Progress
from ninebolt.services.propose import LOOKED_AT, ROLLERS, Proposals, proposing_steps
from ninebolt.services.registers import PROPOSING, SAMPLING, SWEEPING
from ninebolt.services.rides import LogReading
from ninebolt.services.sweep import OFFERED, RESULTS, Axis, SweepView, sweep, sweep_steps

router = APIRouter(prefix="/api", tags=["brain"], responses=PROBLEMS)


@worked_out_once(frozen=True)
class JobOut:
    """A job as pages look at it. result: the best so far; a sorting has a page of its own."""

    id: str
    kind: str
    state: str
    steps: int
    seconds: float
    result: SweepView | Proposals | SampledView | LogReading | None
    error: str


def job_out(p: Progress) -> JobOut:
    """A job as pages look at it."""
    known = isinstance(p.result, SweepView | Proposals | SampledView | LogReading)
    return JobOut(p.id, p.kind, p.state, p.steps, p.seconds, p.result if known else None, p.error)


@dataclass(frozen=True, slots=True)
class Named:
    """A key and what it is called."""

    key: str
    label: str


@dataclass(frozen=True, slots=True)
class Sweepable:
    """Results of a sweep, and the values that are offered first."""

    results: list[Named]
    values: list[Named]


AT_ONCE = 2600  # points that are answered at once; more go on in the background
Path = Annotated[str, Query(min_length=1, max_length=120)]
Points = Annotated[int, Query(ge=2, le=201)]


def _axes(
    x: str, x_from: float, x_to: float, x_n: int, y: str, y_from: float, y_to: float, y_n: int
) -> tuple[Axis, Axis | None]:
    return Axis(x, x_from, x_to, x_n), Axis(y, y_from, y_to, y_n) if y else None


@router.get("/builds/{build_id}/sweep")
def swept(
    house: HouseDep,
    build_id: str,
    x: Path,
    x_from: Finite,
    x_to: Finite,
    result: Annotated[str, Query(max_length=40)],
    x_n: Points = 41,
    y: Annotated[str, Query(max_length=120)] = "",
    y_from: Finite = 0.0,
    y_to: Finite = 0.0,
    y_n: Points = 31,
) -> SweepView:
    """One or two values swept, at once. Nothing is kept."""
    if x_n * (y_n if y else 1) > AT_ONCE:
        raise InputError(
            "So many points go on in the background.",
            got=str(x_n * y_n),
            expected=f"at most {AT_ONCE} at once",
            todo="Start them as a job.",
        )
    axes = _axes(x, x_from, x_to, x_n, y, y_from, y_to, y_n)
    return sweep(workshop.shown_build(house, build_id), *axes, result, house.stops_of)


@router.post("/builds/{build_id}/sweep", status_code=201)
def start_sweep(
    house: HouseDep,
    jobs: JobsDep,
    build_id: str,
    x: Path,
    x_from: Finite,
    x_to: Finite,
    result: Annotated[str, Query(max_length=40)],
    x_n: Points = 101,
    y: Annotated[str, Query(max_length=120)] = "",
    y_from: Finite = 0.0,
    y_to: Finite = 0.0,
    y_n: Points = 101,
) -> JobOut:
    """The same in the background, with what is there so far."""
    axes = _axes(x, x_from, x_to, x_n, y, y_from, y_to, y_n)
    steps = sweep_steps(workshop.shown_build(house, build_id), *axes, result, house.stops_of)
    return job_out(jobs.start(house.new_id(), SWEEPING, steps))


@router.get("/builds/{build_id}/advice")
def advice(house: HouseDep, build_id: str) -> Advice:
    """What to change first, each tried on the build; nothing is kept."""
    build = workshop.shown_build(house, build_id)
    return advise(build, house.ride_of, house.shelf(), house.memory)


@router.post("/builds/{build_id}/propose", status_code=201)
def start_proposing(
    house: HouseDep,
    jobs: JobsDep,
    build_id: str,
    roller: Annotated[str, Query(max_length=20)] = "",
    looks: Annotated[int, Query(ge=100, le=40_000)] = LOOKED_AT,
) -> JobOut:
    """Whole builds from this build's wishes and bays, in the background. roller: what to start from where
    nothing is measured."""
    build = workshop.shown_build(house, build_id)
    steps = proposing_steps(build, house.shelf(), roller, looks)
    return job_out(jobs.start(house.new_id(), PROPOSING, steps))


@router.post("/builds/{build_id}/sampling", status_code=201)
def start_sampling(house: HouseDep, jobs: JobsDep, build_id: str) -> JobOut:
    """Bands of the headline from thousands of rides, in the background."""
    doc = workshop.bench(house, build_id).doc
    steps = sampling_job(house, workshop.shown_build(house, build_id), doc)
    return job_out(jobs.start(house.new_id(), SAMPLING, steps))


@router.get("/rollers")
def rollers() -> list[Named]:
    """What one may start from while nothing is measured."""
    return [Named(key, f"{name}, {kg:g} kg") for key, (name, kg, *_) in ROLLERS.items()]


@router.get("/sweeps")
def what_may_be_swept() -> Sweepable:
    """Results, and the values that are offered first."""
    return Sweepable(
        [Named(r.key, r.label) for r in RESULTS.values()], [Named(path, path) for path in OFFERED]
    )


@router.get("/jobs/{job_id}")
def look(jobs: JobsDep, job_id: str) -> JobOut:
    """Where a job stands, with the best so far."""
    return job_out(jobs.look(job_id))


@router.delete("/jobs/{job_id}")
def stop(jobs: JobsDep, job_id: str) -> JobOut:
    """Stop it; what it has found so far stays."""
    return job_out(jobs.stop(job_id))
