"""The filled bay at 1:1, for the cardboard model: SVG, DXF, and a PDF tiled on A4 or Letter.

Each PDF page carries a measuring bar of 100 mm: if it does not measure that, the print was scaled.
"""

from __future__ import annotations

import io
import math
from dataclasses import dataclass
from datetime import UTC, datetime

import ezdxf
from fpdf import FPDF

from ninebolt.errors import InputError

UNDATED = datetime(2000, 1, 1, tzinfo=UTC)  # the same build gives the same bytes
PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
MARGIN_MM = 10.0
FOOT_MM = 16.0
BAR_MM = 100.0


@dataclass(frozen=True, slots=True)
class Template:
    """One face of a bay in millimetres: its outline, and bodies as (x, y, width, height, round,
    taken), x and y the middle, y up."""

    title: str
    width_mm: float
    height_mm: float
    bodies: tuple[tuple[float, float, float, float, bool, bool], ...]


def write_svg(t: Template) -> bytes:
    """SVG in real millimetres."""
    rows = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{t.width_mm + 20:.2f}mm" '
        f'height="{t.height_mm + 40:.2f}mm" '
        f'viewBox="-10 -10 {t.width_mm + 20:.2f} {t.height_mm + 40:.2f}">',
        f"<title>{_xml(t.title)}</title>",
        '<g fill="none" stroke="black" stroke-width="0.3">',
        f'<rect id="bay" x="0" y="0" width="{t.width_mm:.3f}" height="{t.height_mm:.3f}"/>',
    ]
    for x, y, w, h, is_round, taken in t.bodies:
        dash = "" if taken else ' stroke-dasharray="1 1"'
        up = t.height_mm - y
        if is_round:
            rows.append(f'<circle cx="{x:.3f}" cy="{up:.3f}" r="{w / 2:.3f}"{dash}/>')
        else:
            rows.append(
                f'<rect x="{x - w / 2:.3f}" y="{up - h / 2:.3f}" width="{w:.3f}" '
                f'height="{h:.3f}"{dash}/>'
            )
    foot = t.height_mm + 12
    rows += [
        f'<path id="bar" d="M0 {foot:.3f}h{BAR_MM}m0 -2v4M0 {foot - 2:.3f}v4"/></g>',
        f'<text x="0" y="{foot + 8:.2f}" font-size="4">{_xml(t.title)}; the bar is 100 mm</text>',
        "</svg>",
    ]
    return "\n".join(rows).encode()


def _xml(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;")


def write_dxf(t: Template) -> bytes:
    """DXF R2010 in millimetres, layers BAY, CELLS, FREE."""
    doc = ezdxf.new("R2010", units=4)
    for name in ("BAY", "CELLS", "FREE"):
        doc.layers.add(name)
    space = doc.modelspace()

    def box(x: float, y: float, w: float, h: float, layer: str) -> None:
        corners = [(x, y), (x + w, y), (x + w, y + h), (x, y + h)]
        space.add_lwpolyline(corners, close=True, dxfattribs={"layer": layer})

    box(0, 0, t.width_mm, t.height_mm, "BAY")
    for x, y, w, h, is_round, taken in t.bodies:
        layer = "CELLS" if taken else "FREE"
        if is_round:
            space.add_circle((x, y), w / 2, dxfattribs={"layer": layer})
        else:
            box(x - w / 2, y - h / 2, w, h, layer)
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode()


def write_pdf(t: Template, paper: str = "a4") -> bytes:
    """PDF at 1:1 over as many pages as it takes, with overlap marks by row and column."""
    if paper not in PAPERS:
        raise InputError("Unknown paper.", where="paper", got=paper, expected=", ".join(PAPERS))
    page_w, page_h = PAPERS[paper]
    w, h = page_w - 2 * MARGIN_MM, page_h - 2 * MARGIN_MM - FOOT_MM
    cols, rows = math.ceil(t.width_mm / w), math.ceil(t.height_mm / h)
    pdf = FPDF(unit="mm", format=(page_w, page_h))
    pdf.set_creation_date(UNDATED)
    pdf.set_auto_page_break(False)
    pdf.set_font("helvetica", size=9)
    for row in range(rows):
        for col in range(cols):
            pdf.add_page()
            with pdf.rect_clip(MARGIN_MM, MARGIN_MM, w, h):
                _draw(pdf, t, MARGIN_MM - col * w, MARGIN_MM - row * h)
            _foot(pdf, t, page_w, page_h, (row, rows, col, cols))
    return bytes(pdf.output())


def _draw(pdf: FPDF, t: Template, ox: float, oy: float) -> None:
    pdf.set_line_width(0.4)
    pdf.rect(ox, oy, t.width_mm, t.height_mm)
    pdf.set_line_width(0.2)
    for x, y, w, h, is_round, taken in t.bodies:
        pdf.set_dash_pattern(*(() if taken else (1, 1)))
        left, top = ox + x - w / 2, oy + t.height_mm - y - h / 2
        if is_round:
            pdf.ellipse(left, top, w, h)
        else:
            pdf.rect(left, top, w, h)
    pdf.set_dash_pattern()


def _foot(
    pdf: FPDF, t: Template, page_w: float, page_h: float, place: tuple[int, int, int, int]
) -> None:
    y = page_h - MARGIN_MM - FOOT_MM / 2
    pdf.set_line_width(0.3)
    pdf.line(MARGIN_MM, y, MARGIN_MM + BAR_MM, y)
    for end in (MARGIN_MM, MARGIN_MM + BAR_MM):
        pdf.line(end, y - 2, end, y + 2)
    row, rows, col, cols = place
    title = t.title.encode("latin-1", "replace").decode("latin-1")
    pdf.text(
        MARGIN_MM,
        y + 6,
        f"100 mm - {title} - row {row + 1} of {rows}, column {col + 1} of "
        f"{cols}: glue edge to edge",
    )
