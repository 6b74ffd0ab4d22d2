"""The pack's paper templates, its outline files, sorting and labels of measured cells, sums."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator
from dataclasses import dataclass

from ninebolt.core.bike.cells import facts_of
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.layout import BayDrawing, Fitted, fitted
from ninebolt.core.bolts.pack.bolt import missing_of
from ninebolt.core.bolts.pack.power import AtPower, at_power
from ninebolt.core.build import Build
from ninebolt.core.match.accept import MeasuredCell, RuleInForce, cautions, rules_for
from ninebolt.core.match.layout import Put
from ninebolt.core.match.sort import Sorting, improving, sort_cells
from ninebolt.core.match.space import Box
from ninebolt.errors import InputError, NotFoundError
from ninebolt.formats.cells_csv import ALIASES, read_cells
from ninebolt.formats.table import Column, Sniffed, sniff
from ninebolt.formats.template import Body, Template, write_dxf, write_pdf, write_svg
from ninebolt.services.house import House
from ninebolt.services.jobs import Progress
from ninebolt.services.mappings import remember, remembered
from ninebolt.store.database import session, transaction

CELLS = "cells:"
MEDIA = {"svg": "image/svg+xml", "dxf": "image/vnd.dxf", "pdf": "application/pdf"}
# The face that is printed: which of x, y, z is across and which is up, by how bodies lie.
FACES = {"width": (0, 1), "length": (2, 1), "height": (0, 2)}


Chosen = dict[str, float | None]  # rules by name; None: the usual one, 0: off


def sort_lot(
    cells: list[MeasuredCell],
    series: int,
    parallel: int,
    chosen: Chosen,
    new_ah: float = math.nan,
) -> Sorting:
    """Groups of measured cells under the rules chosen, and the usual ones for the rest. new_ah: what
    the build's cell holds, where one is known. Raises InputError."""
    rules, shown = rules_for(cells, chosen)
    return _said(sort_cells(cells, series, parallel, rules), cells, shown, new_ah)


def sorting_steps(
    cells: list[MeasuredCell],
    series: int,
    parallel: int,
    chosen: Chosen,
    new_ah: float = math.nan,
) -> Iterator[Sorting]:
    """The same, better and better."""
    rules, shown = rules_for(cells, chosen)
    for made in improving(cells, series, parallel, rules):
        yield _said(made, cells, shown, new_ah)


def _said(
    made: Sorting, lot: list[MeasuredCell], rules: tuple[RuleInForce, ...], new_ah: float
) -> Sorting:
    groups = [(g.number, g.cells) for g in made.groups]
    return dataclasses.replace(made, rules=rules, cautions=cautions(lot, groups, new_ah))


def labelled_ah(build: Build) -> float:
    """What one cell of the build holds (Ah); nan where nobody said."""
    return build.pack.cell.capacity_ah.or_else(math.nan)


@dataclass(frozen=True, slots=True)
class SortProgress:
    """state: running, done, stopped or failed. sorting: the best so far."""

    id: str
    state: str
    steps: int
    seconds: float
    sorting: Sorting | None
    error: str


def sort_progress(p: Progress) -> SortProgress:
    """A job as the sorting bench shows it."""
    made = p.result if isinstance(p.result, Sorting) else None
    return SortProgress(p.id, p.state, p.steps, p.seconds, made, p.error)


def cells_of(
    house: House, data: bytes, name: str, given: tuple[Column, ...] | None
) -> list[MeasuredCell]:
    """The measured cells of a file, by the mapping in force. Raises FormatError."""
    return read_cells(data, name, cell_mapping(house, data, name, given))


def preview_cells(house: House, data: bytes, name: str) -> Sniffed:
    """How a tester's file reads, with the mapping used for such a header before."""
    seen = sniff(data, name, ALIASES)
    kept = remembered(house, seen, CELLS)
    return dataclasses.replace(seen, mapping=kept) if kept else seen


def cell_mapping(
    house: House, data: bytes, name: str, given: tuple[Column, ...] | None
) -> tuple[Column, ...]:
    """The mapping in force; one that was given is remembered for this header."""
    seen = preview_cells(house, data, name)
    if given is None:
        return seen.mapping
    with session(house.path) as db, transaction(db):
        remember(db, seen, given, CELLS)
    return given


def fitted_of(build: Build) -> Fitted:
    """The layout. Raises InputError while it cannot be drawn."""
    found = fitted(Bike(build))
    if found is None:
        raise InputError(
            "There is nothing to lay out yet.",
            where="pack",
            expected="a measured bay, and cells with a size, S and P",
            todo="Give the inside of the bay on Donor and the cell on Pack.",
        )
    return found


def templates_of(build: Build) -> tuple[Template, ...]:
    """One sheet a bay and layer, at 1:1; layers that look alike once. Raises InputError."""
    fit, out = fitted_of(build), []
    for bay in fit.bays:
        seen: set[tuple[tuple[float, float, str], ...]] = set()
        for layer in range(max(bay.layers, 1)):
            puts = [p for p in bay.puts if p.layer == layer]
            sheet = _sheet(build, bay, layer, puts)
            shape = tuple(sorted((b.x_mm, b.y_mm, b.label) for b in sheet.bodies))
            if shape not in seen and (puts or layer == 0):
                out.append(sheet)
                seen.add(shape)
    return tuple(out)


def _sheet(build: Build, bay: BayDrawing, layer: int, puts: list[Put]) -> Template:
    across, up = FACES.get(bay.axis, (0, 1))
    outline = _face(bay, across, up)
    left, low = min(p[0] for p in outline), min(p[1] for p in outline)

    def mm(points: list[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
        return tuple(((x - left) * 1000, (y - low) * 1000) for x, y in points)

    boxes = [k.box for k in bay.keep_free] + ([bay.guest] if bay.guest else [])
    free = tuple(mm(_corners(b, bay, across, up)) for b in boxes)
    w, h = bay.size_m[across] * 1000, bay.size_m[up] * 1000
    bodies = tuple(
        Body(
            *mm([_pick(p, across, up)])[0],
            w,
            h,
            bay.round,
            str(p.group + 1) if p.group >= 0 else "",
        )
        for p in puts
    )
    face = mm(outline)
    title = (
        f"{build.name}: {build.pack.series}s{build.pack.parallel}p, {bay.name}, layer {layer + 1} "
        f"of {bay.layers}, {bay.pattern}; odd groups plus towards you, even groups minus"
    )
    return Template(title, max(p[0] for p in face), max(p[1] for p in face), face, free, bodies)


def _face(bay: BayDrawing, across: int, up: int) -> list[tuple[float, float]]:
    """The bay seen in that face: its outline from the side, else its extent."""
    if (across, up) == (0, 1):
        return list(bay.corners)
    everywhere = Box(-math.inf, math.inf, -math.inf, math.inf, -math.inf, math.inf)
    return _corners(everywhere, bay, across, up)


def _corners(box: Box, bay: BayDrawing, across: int, up: int) -> list[tuple[float, float]]:
    """A box in that face, cut to the bay's extent."""
    xs, ys = [p[0] for p in bay.corners], [p[1] for p in bay.corners]
    half = bay.width_m / 2
    spans = [
        (max(box.x0, min(xs)), min(box.x1, max(xs))),
        (max(box.y0, min(ys)), min(box.y1, max(ys))),
        (max(box.z0, -half), min(box.z1, half)),
    ]
    (a0, a1), (b0, b1) = spans[across], spans[up]
    return [(a0, b0), (a1, b0), (a1, b1), (a0, b1)]


def _pick(p: Put, across: int, up: int) -> tuple[float, float]:
    at = (p.x_m, p.y_m, p.z_m)
    return at[across], at[up]


def template_file(build: Build, kind: str, paper: str = "a4") -> tuple[str, bytes]:
    """(media type, bytes) as svg, dxf or pdf. Raises InputError, NotFoundError."""
    sheets = templates_of(build)
    if kind == "svg":
        return MEDIA[kind], write_svg(sheets)
    if kind == "dxf":
        return MEDIA[kind], write_dxf(sheets)
    if kind == "pdf":
        return MEDIA[kind], write_pdf(sheets, paper)
    raise NotFoundError(f"There is no template of kind '{kind}'.", expected=", ".join(MEDIA))


def power_of(build: Build, power_w: float) -> AtPower:
    """The pack at a power. Raises InputError while it does not compute."""
    facts = facts_of(build.pack)
    if facts is None or math.isnan(facts.capacity_ah):
        raise InputError(
            "The pack does not compute yet.",
            where="pack",
            got="missing " + ", ".join(missing_of(build.pack)),
            expected="a cell with capacity and chemistry, S and P",
        )
    return at_power(build, facts, power_w)
