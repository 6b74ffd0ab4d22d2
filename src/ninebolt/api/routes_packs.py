"""Sorting of measured cells, and paper templates of the pack."""

from __future__ import annotations

import math
from typing import Annotated

from fastapi import APIRouter, Depends, Form, Query, Response, UploadFile

from ninebolt.api.routes_builds import HouseDep, file_response
from ninebolt.core.match.sort import Rules, Sorting
from ninebolt.formats.cells_csv import write_assignment
from ninebolt.services import packs, workshop

router = APIRouter(prefix="/api", tags=["packs"])
Count = Annotated[int, Form(ge=1, le=1000)]
Limit = Annotated[float | None, Form(ge=0)]


def sorted_file(
    file: UploadFile,
    series: Count,
    parallel: Count,
    capacity_min_ah: Limit = None,
    r_max_ohm: Limit = None,
    fade_max_v_day: Limit = None,
    rested_min_v: Limit = None,
) -> Sorting:
    """The uploaded cells, sorted by the rules of the form; a rule left out is off."""
    rules = Rules(
        capacity_min_ah or 0.0,
        r_max_ohm or math.inf,
        fade_max_v_day or math.inf,
        rested_min_v or 0.0,
    )
    name = file.filename or "cells.csv"
    return packs.sort_file(file.file.read(), name, series, parallel, rules)


SortedDep = Annotated[Sorting, Depends(sorted_file)]


@router.post("/sort")
def sort_cells(done: SortedDep) -> Sorting:
    """Matched groups of the cells in a tester's CSV; nothing is stored."""
    return done


@router.post("/sort/assignment", response_class=Response)
def assignment(done: SortedDep) -> Response:
    """The same as a CSV to take to the bench."""
    return file_response(write_assignment(done), "text/csv; charset=utf-8", "assignment.csv")


@router.get("/builds/{build_id}/template", response_class=Response)
def template(
    house: HouseDep,
    build_id: str,
    kind: Annotated[str, Query(pattern="^(svg|dxf|pdf)$")] = "pdf",
    paper: Annotated[str, Query(pattern="^(a4|letter)$")] = "a4",
) -> Response:
    """The filled bay at 1:1."""
    build = workshop.shown_build(house, build_id)
    media, data = packs.template_file(build, kind, paper)
    return file_response(data, media, f"{build.name.lower().replace(' ', '-')}-bay.{kind}")
