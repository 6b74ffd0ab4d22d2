"""Sorting of measured cells, charge logs, bay outlines, paper templates, sums at the bench."""

from __future__ import annotations

import math
from typing import Annotated

from fastapi import APIRouter, Depends, Form, Query, Request, Response, UploadFile

from ninebolt.api.answers import BENCH, answer
from ninebolt.api.models import PROBLEMS, mapping_of
from ninebolt.api.routes_builds import HouseDep, Shown, file_response
from ninebolt.core.bike.cells import cell_full_v
from ninebolt.core.bolts.pack.power import AtPower
from ninebolt.core.logs.charging import ChargeReport, watch
from ninebolt.core.match.accept import MeasuredCell
from ninebolt.core.match.sort import Sorting
from ninebolt.core.sums import Claim, Percent, percent, read_claim
from ninebolt.errors import ConflictError, NineBoltError
from ninebolt.formats.cells_csv import write_assignment
from ninebolt.formats.charge_csv import read_charge
from ninebolt.formats.labels import write_labels
from ninebolt.formats.table import Sniffed
from ninebolt.services import bays, garage, packs, workshop
from ninebolt.services.jobs import Jobs, Progress
from ninebolt.services.packs import SortProgress
from ninebolt.services.registers import SORTING

router = APIRouter(prefix="/api", tags=["packs"], responses=PROBLEMS)
Count = Annotated[int, Form(ge=1, le=1000)]
Limit = Annotated[float | None, Form(ge=0)]
Paper = Annotated[str, Query(pattern="^(a4|letter)$")]


def rules_of(
    capacity_min_ah: Limit = None,
    r_max_ohm: Limit = None,
    fade_max_v_day: Limit = None,
    rested_min_v: Limit = None,
    rested_max_v: Limit = None,
) -> packs.Chosen:
    """The rules of the form; one left out is the usual one, 0 is off."""
    return {
        "capacity_min_ah": capacity_min_ah,
        "r_max_ohm": r_max_ohm,
        "fade_max_v_day": fade_max_v_day,
        "rested_min_v": rested_min_v,
        "rested_max_v": rested_max_v,
    }


RulesDep = Annotated[packs.Chosen, Depends(rules_of)]
Mapping = Annotated[str, Form()]


def measured_cells(house: HouseDep, file: UploadFile, mapping: Mapping = "") -> list[MeasuredCell]:
    """The uploaded cells; the mapping is remembered."""
    name, data = file.filename or "cells.csv", file.file.read()
    return packs.cells_of(house, data, name, mapping_of(mapping))


def cell_of_build(house: HouseDep, build: Annotated[str, Form(max_length=80)] = "") -> float:
    """What a cell of that build holds (Ah); nan without one."""
    return packs.labelled_ah(workshop.shown_build(house, build)) if build else math.nan


NewDep = Annotated[float, Depends(cell_of_build)]
CellsDep = Annotated[list[MeasuredCell], Depends(measured_cells)]


def the_jobs(request: Request) -> Jobs:
    """The background jobs of this application."""
    jobs = request.app.state.jobs
    if not isinstance(jobs, Jobs):
        raise NineBoltError("The application was started without its jobs.")
    return jobs


JobsDep = Annotated[Jobs, Depends(the_jobs)]


@router.post("/sort/preview")
def preview_cells(house: HouseDep, file: UploadFile) -> Sniffed:
    """How a tester's CSV reads: its columns, and the mapping guessed or remembered."""
    return packs.preview_cells(house, file.file.read(), file.filename or "cells.csv")


@router.post("/sort")
def sort_at_once(
    cells: CellsDep, series: Count, parallel: Count, rules: RulesDep, new_ah: NewDep
) -> Sorting:
    """Matched groups of the cells in a tester's CSV; nothing is stored but the mapping. build: whose
    cell they are held against."""
    return packs.sort_lot(cells, series, parallel, rules, new_ah)


@router.post("/sort/jobs", status_code=201)
def start_sorting(
    house: HouseDep,
    jobs: JobsDep,
    cells: CellsDep,
    series: Count,
    parallel: Count,
    rules: RulesDep,
    new_ah: NewDep,
) -> SortProgress:
    """Sort in the background, better and better until it is stopped."""
    begun = jobs.start(
        house.new_id(),
        SORTING,
        lambda: packs.sorting_steps(cells, series, parallel, rules, new_ah),
    )
    return packs.sort_progress(begun)


@router.get("/sort/jobs/{job_id}")
def look_at_sorting(jobs: JobsDep, job_id: str) -> SortProgress:
    """Where it stands."""
    return packs.sort_progress(jobs.look(job_id))


@router.delete("/sort/jobs/{job_id}")
def stop_sorting(jobs: JobsDep, job_id: str) -> SortProgress:
    """Stop it; the best so far stays."""
    return packs.sort_progress(jobs.stop(job_id))


@router.get("/jobs")
def all_jobs(jobs: JobsDep) -> list[Progress]:
    """What goes on in the background, newest first."""
    return jobs.all()


def _finished(jobs: Jobs, job_id: str) -> Sorting:
    found = packs.sort_progress(jobs.look(job_id)).sorting
    if found is None:
        raise ConflictError("Nothing is sorted yet.", todo="Wait a moment.")
    return found


@router.get("/sort/jobs/{job_id}/assignment", response_class=Response)
def assignment(jobs: JobsDep, job_id: str) -> Response:
    """What it has found as a CSV to take to the bench."""
    data = write_assignment(_finished(jobs, job_id))
    return file_response(data, "text/csv; charset=utf-8", "assignment.csv")


@router.get("/sort/jobs/{job_id}/labels", response_class=Response)
def labels(jobs: JobsDep, job_id: str, title: str = "Pack", paper: Paper = "a4") -> Response:
    """Labels and build map to print."""
    data = write_labels(_finished(jobs, job_id), title[:60], paper)
    return file_response(data, "application/pdf", "labels.pdf")


@router.get("/builds/{build_id}/template", response_class=Response)
def template(
    house: HouseDep,
    build_id: str,
    kind: Annotated[str, Query(pattern="^(svg|dxf|pdf)$")] = "pdf",
    paper: Paper = "a4",
) -> Response:
    """The filled bays at 1:1."""
    build = workshop.on_paper(house, build_id)
    media, data = packs.template_file(build, kind, paper)
    return file_response(data, media, f"{garage.file_name(build.name)}-bay.{kind}")


@router.post("/builds/{build_id}/outline", **BENCH)
def import_outline(
    house: HouseDep,
    build_id: str,
    file: UploadFile,
    bay: Annotated[int | None, Form(ge=0, le=2)] = None,
    bolt_shown: Shown = "",
) -> Response:
    """The outline of a bay from a DXF or SVG drawing; without a bay, a new one."""
    return answer(
        bays.import_outline(house, build_id, file.file.read(), file.filename or "bay", bay),
        bolt_shown,
    )


@router.post("/builds/{build_id}/charge-log")
def charge_log(house: HouseDep, build_id: str, file: UploadFile) -> ChargeReport:
    """Group voltages of a charge: spread, outliers, when to stop. Nothing is stored."""
    full = cell_full_v(workshop.shown_build(house, build_id).pack.cell)
    log = read_charge(file.file.read(), file.filename or "charge.csv")
    return watch(log, None if math.isnan(full) else full)


@router.get("/builds/{build_id}/at-power")
def pack_at_power(
    house: HouseDep, build_id: str, power_w: Annotated[float, Query(gt=0, le=1e6)]
) -> AtPower:
    """Amps, per cell and C-rate at a power."""
    return packs.power_of(workshop.shown_build(house, build_id), power_w)


@router.get("/sums/percent")
def two_numbers(
    a: Annotated[float, Query(ge=-1e15, le=1e15, allow_inf_nan=False)],
    b: Annotated[float, Query(ge=-1e15, le=1e15, allow_inf_nan=False)],
) -> Percent:
    """Both readings of two numbers."""
    return percent(a, b)


@router.get("/sums/claim")
def claim(text: Annotated[str, Query(max_length=80)]) -> Claim:
    """A percentage with its base; one without is refused."""
    return read_claim(text)
