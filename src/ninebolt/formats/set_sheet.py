"""A parameter set on paper: what is written, why, whom it belongs to, with room for what was read back."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ninebolt.core.setting.sets import ParamSet
from ninebolt.formats.paper import FACE, MARGIN_MM, cut, open_pdf, plain
from ninebolt.formats.set_table import owner_of

if TYPE_CHECKING:
    from fpdf import FPDF

ROW_MM = 5.6
COLUMNS = (("parameter", 0.0), ("value", 62.0), ("because", 88.0), ("read back", 166.0))


def write_sheet(
    made: ParamSet, rows: list[tuple[str, float, str, str]], paper: str = "a4"
) -> bytes:
    """PDF of rows (label, value, unit, because). Raises InputError for an unknown paper."""
    pdf, page_w, page_h = open_pdf(paper)
    y = page_h
    for label, value, unit, why in rows:
        if y + ROW_MM > page_h - MARGIN_MM:
            pdf.add_page()
            y = _head(pdf, made, page_w)
        pdf.set_font(FACE, "B", 9)
        pdf.text(MARGIN_MM, y + 4, cut(pdf, label, 60))
        pdf.text(MARGIN_MM + COLUMNS[1][1], y + 4, plain(f"{value:.5g} {unit}"))
        pdf.set_font(FACE, size=8)
        pdf.text(MARGIN_MM + COLUMNS[2][1], y + 4, cut(pdf, why, 76))
        pdf.set_line_width(0.1)
        pdf.line(MARGIN_MM, y + ROW_MM, page_w - MARGIN_MM, y + ROW_MM)
        pdf.rect(
            MARGIN_MM + COLUMNS[3][1], y + 1, page_w - 2 * MARGIN_MM - COLUMNS[3][1], ROW_MM - 1.6
        )
        y += ROW_MM
    return bytes(pdf.output())


def _head(pdf: FPDF, made: ParamSet, page_w: float) -> float:
    pdf.set_font(FACE, "B", 14)
    pdf.text(MARGIN_MM, 16, plain(f"Parameter set: {made.name}"))
    pdf.set_font(FACE, size=9)
    words = ", ".join(f"{k} {v}" for k, v in owner_of(made).items())
    pdf.text(MARGIN_MM, 22, cut(pdf, words, page_w - 2 * MARGIN_MM))
    pdf.text(
        MARGIN_MM,
        27,
        "Wheel free or chain off while it is written. Read all first; read back; off and on; read again.",
    )
    y = 31.0
    pdf.set_font(FACE, "B", 9)
    for stop in made.stops:
        pdf.text(MARGIN_MM, y + 2, cut(pdf, f"NOT CLEARED: {stop}", page_w - 2 * MARGIN_MM))
        y += 5
    for title, x in COLUMNS:
        pdf.text(MARGIN_MM + x, y + 3, title)
    return y + 5
