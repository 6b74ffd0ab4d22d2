"""The parts shelf."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Form, Query, Response, UploadFile

from ninebolt.api.models import PROBLEMS, Body, CountOut
from ninebolt.api.routes_builds import HouseDep, file_response
from ninebolt.services import shelf
from ninebolt.services.shelf import ShelfItem

router = APIRouter(prefix="/api", tags=["shelf"], responses=PROBLEMS)


class PartIn(Body):
    """A part's document."""

    doc: dict[str, Any]


class FromBuildIn(Body):
    """Which part of a build goes onto the shelf."""

    build_id: str
    path: str


@router.get("/library/{kind}")
def library(house: HouseDep, kind: str) -> list[ShelfItem]:
    """Parts of a kind: your own first, then the bundled ones."""
    return shelf.shelf_items(house, kind)


@router.post("/library/{kind}", status_code=201)
def keep_part(house: HouseDep, kind: str, body: PartIn) -> ShelfItem:
    """Put a part on your shelf."""
    return shelf.keep(house, kind, body.doc)


@router.post("/library/{kind}/from-build", status_code=201)
def keep_from_build(house: HouseDep, kind: str, body: FromBuildIn) -> ShelfItem:
    """Put a part of a build on your shelf."""
    return shelf.keep_from_build(house, body.build_id, body.path, kind)


@router.put("/library/{kind}/{part_id}")
def change_part(house: HouseDep, kind: str, part_id: str, body: PartIn) -> ShelfItem:
    """Change one of your own parts."""
    return shelf.keep(house, kind, body.doc, part_id)


@router.delete("/library/own/{part_id}", status_code=204)
def remove_part(house: HouseDep, part_id: str) -> Response:
    """Take one of your own parts off the shelf."""
    shelf.remove(house, part_id)
    return Response(status_code=204)


@router.post("/library-import", status_code=201)
def import_parts(house: HouseDep, file: UploadFile, kind: Annotated[str, Form()] = "") -> CountOut:
    """Parts of a CSV or JSON file; all or none."""
    name = file.filename or "parts.csv"
    return CountOut(count=shelf.import_parts(house, file.file.read(), name, kind))


@router.get("/library-export/{kind}", response_class=Response)
def export_parts(
    house: HouseDep, kind: str, form: Annotated[str, Query(pattern="^(csv|json)$")] = "csv"
) -> Response:
    """All parts of a kind as a file."""
    name, media, data = shelf.export_parts(house, kind, form)
    return file_response(data, media, name)
