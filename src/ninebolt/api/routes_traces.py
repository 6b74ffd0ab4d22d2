"""Long logs: windows, what held the bike, runs over one another, fairness of a comparison, times from a film."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Query
from pydantic import Field

from ninebolt.api.models import PROBLEMS, Body, Finite
from ninebolt.api.routes_builds import HouseDep
from ninebolt.core.logs.between import Section
from ninebolt.core.logs.traces import TraceWindow
from ninebolt.core.logs.video import Evidence, Seen, extract
from ninebolt.services import fair, traces, workshop
from ninebolt.services.fair import Fair
from ninebolt.services.log_figures import LogFigures, figures
from ninebolt.services.log_setup import LogSetup, setup_of
from ninebolt.services.traces import HeldView, Over

router = APIRouter(prefix="/api/builds/{build_id}", tags=["traces"], responses=PROBLEMS)
sums = APIRouter(prefix="/api/sums", tags=["sums"], responses=PROBLEMS)


@router.get("/logs/{log_id}/trace")
def get_trace(
    house: HouseDep,
    build_id: str,
    log_id: str,
    axis: Literal["time", "distance"] = "time",
    start: Finite | None = None,
    end: Finite | None = None,
    points: Annotated[int, Query(ge=20, le=2000)] = 600,
) -> TraceWindow:
    """Every channel of a log between two places, thinned so that no peak is lost."""
    return traces.trace(house, build_id, log_id, axis, start, end, points)


@router.get("/logs/{log_id}/held")
def get_held(
    house: HouseDep,
    build_id: str,
    log_id: str,
    launch: Annotated[int | None, Query(ge=1, le=9999)] = None,
) -> HeldView:
    """What held the bike at each instant of a launch, beside the prediction."""
    return traces.held(house, build_id, log_id, launch)


Speed = Annotated[float, Query(ge=0, le=200)]


@router.get("/logs/{log_id}/figures")
def log_figures(
    house: HouseDep,
    build_id: str,
    log_id: str,
    launch: Annotated[int | None, Query(ge=1, le=9999)] = None,
) -> LogFigures:
    """Way, power, energy, sag, temperatures, turns of the wheel: of the ride, and of a run in it."""
    return figures(house, build_id, log_id, launch)


@router.get("/logs/{log_id}/setup")
def log_setup(house: HouseDep, build_id: str, log_id: str) -> LogSetup:
    """The setup that was ridden, and what is different of it now."""
    return setup_of(house, build_id, log_id)


@router.get("/logs/{log_id}/roll-on")
def get_roll_on(
    house: HouseDep, build_id: str, log_id: str, low: Speed, high: Speed
) -> list[Section]:
    """Each time that the speed rises from low to high (m/s) in a log, without falling below low between."""
    return list(traces.roll_on(house, build_id, log_id, low, high))


@router.get("/logs/{log_id}/between")
def get_between(
    house: HouseDep,
    build_id: str,
    log_id: str,
    start: Finite,
    end: Finite,
    axis: Literal["time", "distance"] = "time",
) -> list[Section]:
    """Each pass between the places that the bike was at, at two values of an axis, in that direction."""
    return list(traces.between(house, build_id, log_id, axis, start, end))


@router.get("/over")
def get_over(
    house: HouseDep, build_id: str, logs: Annotated[list[str], Query(max_length=6)]
) -> Over:
    """Launches over one another: channels, time lost along the way, speeds at which the order turns."""
    return traces.over(house, build_id, logs)


@router.get("/fair")
def get_fair(house: HouseDep, build_id: str, other: Annotated[str, Query(max_length=60)]) -> Fair:
    """What differs between this build's tune and another's: what had to, what was chosen, what is not known."""
    return fair.fair(workshop.shown_build(house, build_id), workshop.shown_build(house, other))


class MarkIn(Body):
    """A moment of a film."""

    what: Annotated[str, Field(min_length=1, max_length=60)]
    at_s: Annotated[float, Field(ge=0, le=1e6)]
    reading: float | None = None
    quantity: Annotated[str, Field(max_length=20)] = "m_s"


class VideoIn(Body):
    """What is read off a film."""

    marks: Annotated[list[MarkIn], Field(max_length=60)]
    fps: float | None = None
    slowed: Annotated[float | None, Field(gt=0, le=1000)] = None
    claim_s: Annotated[float | None, Field(gt=0, le=1e5)] = None


@sums.post("/video")
def video(body: VideoIn) -> Evidence:
    """Times between the moments of a film, with what its frames leave open and what cannot be read in it."""
    marks = [Seen(m.what, m.at_s, m.reading, m.quantity) for m in body.marks]
    return extract(marks, body.fps, body.slowed, body.claim_s)
