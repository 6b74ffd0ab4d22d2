"""Logs of a build."""

from __future__ import annotations

import json
from typing import Annotated

from fastapi import APIRouter, Form, UploadFile
from pydantic import BaseModel, TypeAdapter, ValidationError

from ninebolt.api.routes_builds import HouseDep
from ninebolt.errors import InputError
from ninebolt.formats.table import Column
from ninebolt.services import rides
from ninebolt.services.rides import LogPreview
from ninebolt.services.workshop import Bench
from ninebolt.store.rides import LogRow

router = APIRouter(prefix="/api/builds/{build_id}/logs", tags=["logs"])


class ColumnIn(BaseModel):
    """Which column of the file feeds one of ours."""

    name: str
    column: str
    unit: str


def _mapping(text: str) -> tuple[Column, ...] | None:
    if not text:
        return None
    try:
        rows = TypeAdapter(list[ColumnIn]).validate_json(text)
    except (ValidationError, json.JSONDecodeError) as error:
        raise InputError(
            "The column mapping cannot be read.",
            where="mapping",
            expected="a list of {name, column, unit}",
        ) from error
    return tuple(Column(r.name, r.column, r.unit) for r in rows) or None


@router.get("")
def list_logs(house: HouseDep, build_id: str) -> list[LogRow]:
    """Imported logs, newest first."""
    return rides.logs(house, build_id)


@router.post("", status_code=201)
def import_log(
    house: HouseDep, build_id: str, file: UploadFile, mapping: Annotated[str, Form()] = ""
) -> Bench:
    """Import a log and put it beside the prediction."""
    name = file.filename or "log.csv"
    return rides.import_log(house, build_id, name, file.file.read(), _mapping(mapping))


@router.post("/preview")
def preview_log(
    house: HouseDep, build_id: str, file: UploadFile, mapping: Annotated[str, Form()] = ""
) -> LogPreview:
    """What a log looks like before it is imported; nothing is stored."""
    name = file.filename or "log.csv"
    return rides.preview(house, name, file.file.read(), _mapping(mapping))


@router.delete("/{log_id}")
def remove_log(house: HouseDep, build_id: str, log_id: str) -> Bench:
    """Delete a log."""
    return rides.remove_log(house, build_id, log_id)
