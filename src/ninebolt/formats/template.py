"""Filled bays at 1:1, for the cardboard model: SVG, DXF, and a PDF tiled on A4 or Letter.

Each PDF page carries a measuring bar of 100 mm: if it does not measure that, the print was scaled.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

from ninebolt.formats.paper import MARGIN_MM, open_pdf, plain

if TYPE_CHECKING:
    from fpdf import FPDF

FOOT_MM = 16.0
BAR_MM = 100.0
GAP_MM = 40.0  # between sheets laid side by side in one drawing
Points = tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True)
class Body:
    """One body: middle, width and height (mm, y up from the sheet's lower left), its group's number
    or empty if the place is free."""

    x_mm: float
    y_mm: float
    w_mm: float
    h_mm: float
    round: bool
    label: str


@dataclass(frozen=True, slots=True)
class Template:
    """One layer of a bay in millimetres, all within width_mm x height_mm, y up.

    outline: corners of the bay. free: corners of boxes that stay free.
    """

    title: str
    width_mm: float
    height_mm: float
    outline: Points
    free: tuple[Points, ...]
    bodies: tuple[Body, ...]


def write_svg(sheets: tuple[Template, ...]) -> bytes:
    """SVG in real millimetres, the sheets side by side."""
    width = sum(t.width_mm + GAP_MM for t in sheets) - GAP_MM + 20
    height = max(t.height_mm for t in sheets) + 40
    rows = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.2f}mm" height="{height:.2f}mm" '
        f'viewBox="-10 -10 {width:.2f} {height:.2f}">',
        f"<title>{_xml(sheets[0].title)}</title>",
    ]
    at = 0.0
    for number, t in enumerate(sheets, 1):
        rows += _svg_sheet(t, at, number)
        at += t.width_mm + GAP_MM
    return "\n".join([*rows, "</svg>"]).encode()


def _svg_sheet(t: Template, ox: float, number: int) -> list[str]:
    def points(corners: Points) -> str:
        return " ".join(f"{ox + x:.3f},{t.height_mm - y:.3f}" for x, y in corners)

    rows = ['<g fill="none" stroke="black" stroke-width="0.3">']
    rows.append(f'<polygon id="bay-{number}" points="{points(t.outline)}"/>')
    rows += [f'<polygon class="free" stroke-dasharray="4 2" points="{points(f)}"/>' for f in t.free]
    for b in t.bodies:
        dash = "" if b.label else ' stroke-dasharray="1 1"'
        x, up = ox + b.x_mm, t.height_mm - b.y_mm
        if b.round:
            rows.append(f'<circle cx="{x:.3f}" cy="{up:.3f}" r="{b.w_mm / 2:.3f}"{dash}/>')
        else:
            rows.append(
                f'<rect x="{x - b.w_mm / 2:.3f}" y="{up - b.h_mm / 2:.3f}" '
                f'width="{b.w_mm:.3f}" height="{b.h_mm:.3f}"{dash}/>'
            )
    foot = t.height_mm + 12
    rows.append(
        f'<path class="bar" d="M{ox:.3f} {foot:.3f}h{BAR_MM}m0 -2v4M{ox} {foot - 2:.3f}v4"/></g>'
    )
    for b in t.bodies:
        if b.label:
            rows.append(
                f'<text x="{ox + b.x_mm:.2f}" y="{t.height_mm - b.y_mm + 1.6:.2f}" font-size="4.5" '
                f'text-anchor="middle">{_xml(b.label)}</text>'
            )
    rows.append(
        f'<text x="{ox:.2f}" y="{foot + 8:.2f}" font-size="4">{_xml(t.title)}; bar 100 mm</text>'
    )
    return rows


def _xml(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;")


def write_dxf(sheets: tuple[Template, ...]) -> bytes:
    """DXF R2010 in millimetres, layers BAY, KEEP_FREE, CELLS, FREE, NUMBERS; sheets side by
    side."""
    import ezdxf  # takes long to load

    doc = ezdxf.new("R2010", units=4)
    for name in ("BAY", "KEEP_FREE", "CELLS", "FREE", "NUMBERS"):
        doc.layers.add(name)
    space, at = doc.modelspace(), 0.0

    def shape(corners: Points, layer: str) -> None:
        moved = [(at + x, y) for x, y in corners]
        space.add_lwpolyline(moved, close=True, dxfattribs={"layer": layer})

    for t in sheets:
        shape(t.outline, "BAY")
        for f in t.free:
            shape(f, "KEEP_FREE")
        for b in t.bodies:
            layer = "CELLS" if b.label else "FREE"
            if b.round:
                space.add_circle((at + b.x_mm, b.y_mm), b.w_mm / 2, dxfattribs={"layer": layer})
            else:
                shape(_box(b), layer)
            if b.label:
                text = space.add_text(b.label, height=4, dxfattribs={"layer": "NUMBERS"})
                text.set_placement((at + b.x_mm - 3, b.y_mm - 2))
        at += t.width_mm + GAP_MM
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode()


def _box(b: Body) -> Points:
    x, y, w, h = b.x_mm, b.y_mm, b.w_mm / 2, b.h_mm / 2
    return ((x - w, y - h), (x + w, y - h), (x + w, y + h), (x - w, y + h))


def write_pdf(sheets: tuple[Template, ...], paper: str = "a4") -> bytes:
    """PDF at 1:1, each sheet over as many pages as it takes, with its place by row and column."""
    pdf, page_w, page_h = open_pdf(paper)
    w, h = page_w - 2 * MARGIN_MM, page_h - 2 * MARGIN_MM - FOOT_MM
    for t in sheets:
        cols, rows = math.ceil(t.width_mm / w), math.ceil(t.height_mm / h)
        for row, col in _places(rows, cols):
            pdf.add_page()
            # The foot first: a face that is set inside the clip ends with it.
            _foot(pdf, t, page_h, (row, rows, col, cols))
            with pdf.rect_clip(MARGIN_MM, MARGIN_MM, w, h):
                _draw(pdf, t, MARGIN_MM - col * w, MARGIN_MM - row * h)
    return bytes(pdf.output())


def _places(rows: int, cols: int) -> Iterator[tuple[int, int]]:
    return ((r, c) for r in range(rows) for c in range(cols))


def _draw(pdf: FPDF, t: Template, ox: float, oy: float) -> None:
    def shape(corners: Points) -> None:
        pdf.polygon([(ox + x, oy + t.height_mm - y) for x, y in corners])

    pdf.set_line_width(0.4)
    shape(t.outline)
    pdf.set_line_width(0.2)
    pdf.set_dash_pattern(4, 2)
    for f in t.free:
        shape(f)
    for b in t.bodies:
        pdf.set_dash_pattern(*(() if b.label else (1, 1)))
        left, top = ox + b.x_mm - b.w_mm / 2, oy + t.height_mm - b.y_mm - b.h_mm / 2
        if b.round:
            pdf.ellipse(left, top, b.w_mm, b.h_mm)
        else:
            pdf.rect(left, top, b.w_mm, b.h_mm)
        if b.label:
            pdf.text(left + b.w_mm / 2 - 2, top + b.h_mm / 2 + 1.2, b.label)
    pdf.set_dash_pattern()


def _foot(pdf: FPDF, t: Template, page_h: float, place: tuple[int, int, int, int]) -> None:
    y = page_h - MARGIN_MM - FOOT_MM / 2
    pdf.set_line_width(0.3)
    pdf.line(MARGIN_MM, y, MARGIN_MM + BAR_MM, y)
    for end in (MARGIN_MM, MARGIN_MM + BAR_MM):
        pdf.line(end, y - 2, end, y + 2)
    row, rows, col, cols = place
    title = plain(t.title)
    pdf.text(
        MARGIN_MM,
        y + 6,
        f"100 mm – {title} – row {row + 1} of {rows}, column {col + 1} of "
        f"{cols}: glue edge to edge",
    )
