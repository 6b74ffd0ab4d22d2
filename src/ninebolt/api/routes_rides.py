"""Logs of a build."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Form, UploadFile

from ninebolt.api.models import mapping_of
from ninebolt.api.routes_builds import HouseDep, Shown
from ninebolt.services import rides, workshop
from ninebolt.services.rides import LogPreview
from ninebolt.services.workshop import Bench
from ninebolt.store.rides import LogRow

router = APIRouter(prefix="/api/builds/{build_id}/logs", tags=["logs"])


@router.get("")
def list_logs(house: HouseDep, build_id: str) -> list[LogRow]:
    """Imported logs, newest first."""
    return rides.logs(house, build_id)


@router.post("", status_code=201)
def import_log(
    house: HouseDep,
    build_id: str,
    file: UploadFile,
    mapping: Annotated[str, Form()] = "",
    bolt_shown: Shown = "",
) -> Bench:
    """Import a log and put it beside the prediction."""
    name = file.filename or "log.csv"
    return workshop.on_screen(
        rides.import_log(house, build_id, name, file.file.read(), mapping_of(mapping)), bolt_shown
    )


@router.post("/preview")
def preview_log(
    house: HouseDep, build_id: str, file: UploadFile, mapping: Annotated[str, Form()] = ""
) -> LogPreview:
    """What a log looks like before it is imported; nothing is stored."""
    name = file.filename or "log.csv"
    return rides.preview(house, name, file.file.read(), mapping_of(mapping))


@router.delete("/{log_id}")
def remove_log(house: HouseDep, build_id: str, log_id: str, bolt_shown: Shown = "") -> Bench:
    """Take a log out of the list; it can be put back."""
    return workshop.on_screen(rides.remove_log(house, build_id, log_id), bolt_shown)


@router.post("/{log_id}/back")
def put_back(house: HouseDep, build_id: str, log_id: str, bolt_shown: Shown = "") -> Bench:
    """Put a removed log back into the list."""
    return workshop.on_screen(rides.put_back(house, build_id, log_id), bolt_shown)
