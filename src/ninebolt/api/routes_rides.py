"""Logs of a build."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, Query, Response, UploadFile

from ninebolt.api.answers import AS_BENCH, BENCH, answer
from ninebolt.api.models import PROBLEMS, mapping_of
from ninebolt.api.routes_brain import JobOut, job_out
from ninebolt.api.routes_builds import HouseDep, Shown, file_response
from ninebolt.api.routes_packs import JobsDep
from ninebolt.services import rides
from ninebolt.services.registers import READING
from ninebolt.services.rides import LogPreview
from ninebolt.store.rides import LogRow

router = APIRouter(prefix="/api/builds/{build_id}/logs", tags=["logs"], responses=PROBLEMS)


@router.get("")
def list_logs(house: HouseDep, build_id: str) -> list[LogRow]:
    """Imported logs, newest first."""
    return rides.logs(house, build_id)


@router.post("", status_code=201, response_model=None, responses={201: AS_BENCH})
def import_log(
    house: HouseDep,
    build_id: str,
    file: UploadFile,
    mapping: Annotated[str, Form()] = "",
    dbc: Annotated[str, Form()] = "",
    bolt_shown: Shown = "",
) -> Response:
    """Import a log and put it beside the prediction. dbc: the text of a DBC, for frames of a CAN bus."""
    name = file.filename or "log.csv"
    return answer(
        rides.import_log(house, build_id, name, file.file.read(), mapping_of(mapping), dbc),
        bolt_shown,
        201,
    )


@router.post("/preview")
def preview_log(
    house: HouseDep,
    build_id: str,
    file: UploadFile,
    mapping: Annotated[str, Form()] = "",
    dbc: Annotated[str, Form()] = "",
) -> LogPreview:
    """What a log looks like before it is imported; nothing is stored."""
    name = file.filename or "log.csv"
    return rides.preview(house, build_id, name, file.file.read(), mapping_of(mapping), dbc)


SOON_S = 0.3  # a small log is read in a moment: its answer waits for it


@router.post("/jobs", status_code=201)
def start_reading(
    house: HouseDep,
    jobs: JobsDep,
    build_id: str,
    file: UploadFile,
    mapping: Annotated[str, Form()] = "",
    dbc: Annotated[str, Form()] = "",
) -> JobOut:
    """The same look in the background, which can be stopped: an hour at a hundred rows a second takes its time."""
    name, data = file.filename or "log.csv", file.file.read()
    steps = rides.reading_steps(house, build_id, name, data, mapping_of(mapping), dbc)
    started = jobs.start(house.new_id(), READING, steps)
    return job_out(jobs.soon(started.id, SOON_S))


@router.post("/{log_id}/join", status_code=201, response_model=None, responses={201: AS_BENCH})
def join_logs(
    house: HouseDep, build_id: str, log_id: str, other: str, bolt_shown: Shown = ""
) -> Response:
    """Two loggers of one ride as one more log, brought onto one clock by their speeds."""
    return answer(rides.join(house, build_id, log_id, other), bolt_shown, 201)


@router.get("/{log_id}/file", response_class=Response)
def get_log_file(
    house: HouseDep, build_id: str, log_id: str, kind: Annotated[str, Query(max_length=20)] = "zip"
) -> Response:
    """A log as a file: CSV with its units (a tabular data package), GPX, JSON, or as it came."""
    name, media, data = rides.log_file(house, build_id, log_id, kind)
    return file_response(data, media, name)


@router.delete("/{log_id}", **BENCH)
def remove_log(house: HouseDep, build_id: str, log_id: str, bolt_shown: Shown = "") -> Response:
    """Take a log out of the list; it can be put back."""
    return answer(rides.remove_log(house, build_id, log_id), bolt_shown)


@router.post("/{log_id}/back", **BENCH)
def put_back(house: HouseDep, build_id: str, log_id: str, bolt_shown: Shown = "") -> Response:
    """Put a removed log back into the list."""
    return answer(rides.put_back(house, build_id, log_id), bolt_shown)
