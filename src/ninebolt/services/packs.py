"""Sorting measured cells, and the pack's paper template."""

from __future__ import annotations

from ninebolt.core.bolts.common import Context
from ninebolt.core.bolts.pack import PackDrawing, assess
from ninebolt.core.build import Build
from ninebolt.core.match.sort import Rules, Sorting, sort_cells
from ninebolt.errors import InputError, NotFoundError
from ninebolt.formats.cells_csv import read_cells
from ninebolt.formats.template import Template, write_dxf, write_pdf, write_svg

MEDIA = {"svg": "image/svg+xml", "dxf": "image/vnd.dxf", "pdf": "application/pdf"}


def sort_file(data: bytes, name: str, series: int, parallel: int, rules: Rules) -> Sorting:
    """Groups of the cells in a tester's file. Raises FormatError, InputError."""
    return sort_cells(read_cells(data, name), series, parallel, rules)


def template_of(build: Build) -> Template:
    """The best pattern in the first bay, at 1:1. Raises InputError while it cannot be drawn."""
    drawing = assess(build, Context()).drawing
    if not isinstance(drawing, PackDrawing) or drawing.bay is None or not drawing.slots:
        raise InputError(
            "There is nothing to print yet.",
            where="pack",
            expected="a measured bay, and cells with a size, S and P",
            todo="Give the inside of the bay on Donor and the cell on Pack.",
        )
    u, v = drawing.face.split("-")
    w, h = (x * 1000 for x in drawing.body_m)
    per_layer = len(drawing.slots)
    bodies = tuple(
        (s.u_m * 1000, s.v_m * 1000, w, h, drawing.round, i < drawing.needed)
        for i, s in enumerate(drawing.slots)
    )
    layers = -(-drawing.needed // per_layer)
    title = (
        f"{build.name}: {drawing.series}s{drawing.parallel}p, layer 1 of {layers}, "
        f"{u} x {v}, {drawing.pattern}"
    )
    return Template(title, drawing.bay[u] * 1000, drawing.bay[v] * 1000, bodies)


def template_file(build: Build, kind: str, paper: str = "a4") -> tuple[str, bytes]:
    """(media type, bytes) as svg, dxf or pdf."""
    template = template_of(build)
    if kind == "svg":
        return MEDIA[kind], write_svg(template)
    if kind == "dxf":
        return MEDIA[kind], write_dxf(template)
    if kind == "pdf":
        return MEDIA[kind], write_pdf(template, paper)
    raise NotFoundError(f"There is no template of kind '{kind}'.", expected=", ".join(MEDIA))
