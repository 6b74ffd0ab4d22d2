"""Many builds at once: sweeps, sampled bands, what to change first, whole builds from a wish."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query

from ninebolt.api.routes_builds import HouseDep
from ninebolt.api.routes_packs import JobsDep
from ninebolt.errors import InputError
from ninebolt.services import workshop
from ninebolt.services.advisor import Advice, advise
from ninebolt.services.jobs import Progress
from ninebolt.services.propose import LOOKED_AT, ROLLERS, proposing_steps
from ninebolt.services.registers import PROPOSING, SWEEPING
from ninebolt.services.sweep import OFFERED, RESULTS, Axis, SweepView, sweep, sweep_steps

router = APIRouter(prefix="/api", tags=["brain"])
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
    x_from: float,
    x_to: float,
    result: Annotated[str, Query(max_length=40)],
    x_n: Points = 41,
    y: Annotated[str, Query(max_length=120)] = "",
    y_from: float = 0.0,
    y_to: float = 0.0,
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
    return sweep(workshop.shown_build(house, build_id), *axes, result)


@router.post("/builds/{build_id}/sweep", status_code=201)
def start_sweep(
    house: HouseDep,
    jobs: JobsDep,
    build_id: str,
    x: Path,
    x_from: float,
    x_to: float,
    result: Annotated[str, Query(max_length=40)],
    x_n: Points = 101,
    y: Annotated[str, Query(max_length=120)] = "",
    y_from: float = 0.0,
    y_to: float = 0.0,
    y_n: Points = 101,
) -> Progress:
    """The same in the background, with what is there so far."""
    axes = _axes(x, x_from, x_to, x_n, y, y_from, y_to, y_n)
    steps = sweep_steps(workshop.shown_build(house, build_id), *axes, result)
    return jobs.start(house.new_id(), SWEEPING, steps)


@router.get("/builds/{build_id}/advice")
def advice(house: HouseDep, build_id: str) -> Advice:
    """What to change first, each tried on the build; nothing is kept."""
    build = workshop.shown_build(house, build_id)
    return advise(build, house.ride_of(build), house.shelf(), house.memory)


@router.post("/builds/{build_id}/propose", status_code=201)
def start_proposing(
    house: HouseDep,
    jobs: JobsDep,
    build_id: str,
    roller: Annotated[str, Query(max_length=20)] = "",
    looks: Annotated[int, Query(ge=100, le=40_000)] = LOOKED_AT,
) -> Progress:
    """Whole builds from this build's wishes and bays, in the background. roller: what to start from where
    nothing is measured."""
    build = workshop.shown_build(house, build_id)
    return jobs.start(
        house.new_id(), PROPOSING, proposing_steps(build, house.shelf(), roller, looks)
    )


@router.get("/rollers")
def rollers() -> dict[str, str]:
    """What one may start from while nothing is measured."""
    return {key: row[0] for key, row in ROLLERS.items()}


@router.get("/sweeps")
def what_may_be_swept() -> dict[str, list[dict[str, str]]]:
    """Results, and the values that are offered first."""
    return {
        "results": [{"key": r.key, "label": r.label} for r in RESULTS.values()],
        "values": [{"key": path, "label": path} for path in OFFERED],
    }


@router.get("/jobs/{job_id}")
def look(jobs: JobsDep, job_id: str) -> Progress:
    """Where a job stands, with the best so far."""
    return jobs.look(job_id)


@router.delete("/jobs/{job_id}")
def stop(jobs: JobsDep, job_id: str) -> Progress:
    """Stop it; what it has found so far stays."""
    return jobs.stop(job_id)
