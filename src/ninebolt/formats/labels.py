"""Sorted cells on paper: a label for each group, and a build map in the order of assembly."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ninebolt.core.match.sort import GroupRow, Sorting
from ninebolt.formats.paper import MARGIN_MM, open_pdf, plain

if TYPE_CHECKING:
    from fpdf import FPDF

COLS, ROWS = 2, 6
MAP_ROW_MM = 7.0


def write_labels(sorting: Sorting, title: str, paper: str = "a4") -> bytes:
    """PDF: labels to cut out, two beside each other, then the map as a list. Raises InputError."""
    pdf, page_w, page_h = open_pdf(paper)
    w, h = (page_w - 2 * MARGIN_MM) / COLS, (page_h - 2 * MARGIN_MM) / ROWS
    for i, group in enumerate(sorting.groups):
        place = i % (COLS * ROWS)
        if place == 0:
            pdf.add_page()
        x, y = MARGIN_MM + place % COLS * w, MARGIN_MM + place // COLS * h
        _label(pdf, group, title, x, y, w, h)
    _map(pdf, sorting, title, page_w, page_h)
    return bytes(pdf.output())


def _label(pdf: FPDF, g: GroupRow, title: str, x: float, y: float, w: float, h: float) -> None:
    pdf.set_line_width(0.2)
    pdf.set_dash_pattern(2, 2)
    pdf.rect(x, y, w, h)
    pdf.set_dash_pattern()
    pdf.set_font("helvetica", "B", 22)
    pdf.text(x + 4, y + 10, f"Group {g.number}")
    pdf.set_font("helvetica", size=9)
    pdf.text(x + 4, y + 15, plain(f"{title}: {_numbers(g)}"))
    pdf.set_xy(x + 3, y + 17)
    pdf.multi_cell(w - 6, 4, plain(" ".join(g.cells)), max_line_height=4)


def _numbers(g: GroupRow) -> str:
    parts = [f"{g.capacity_ah:.3f} Ah"]
    if g.r_ohm is not None:
        parts.append(f"{g.r_ohm * 1000:.2f} mOhm")
    if g.fade_v_day is not None:
        parts.append(f"{g.fade_v_day * 1000:.2f} mV a day")
    return ", ".join(parts)


def _map(pdf: FPDF, s: Sorting, title: str, page_w: float, page_h: float) -> None:
    """Groups from minus to plus, with a box to tick for each cell."""
    y = page_h
    for g in s.groups:
        lines = 1 + len(" ".join(g.cells)) // 88
        need = MAP_ROW_MM + 5 * lines
        if y + need > page_h - MARGIN_MM:
            pdf.add_page()
            pdf.set_font("helvetica", "B", 12)
            pdf.text(MARGIN_MM, 16, plain(f"{title}: build map, group 1 at the pack's minus"))
            y = 22.0
        pdf.set_font("helvetica", "B", 10)
        pdf.text(MARGIN_MM, y + 4, f"{g.number}")
        pdf.set_font("helvetica", size=9)
        pdf.text(MARGIN_MM + 10, y + 4, plain(_numbers(g)))
        pdf.set_xy(MARGIN_MM + 9, y + 5)
        ticks = "   ".join(f"[ ] {c}" for c in g.cells)
        pdf.multi_cell(page_w - 2 * MARGIN_MM - 10, 5, plain(ticks))
        y = pdf.get_y() + 2
