"""Paper to print on: a PDF without a date, so that the same build gives the same bytes."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import TYPE_CHECKING

from ninebolt.errors import InputError

if TYPE_CHECKING:
    from fpdf import FPDF

UNDATED = datetime(2000, 1, 1, tzinfo=UTC)
PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
MARGIN_MM = 10.0


def open_pdf(paper: str) -> tuple[FPDF, float, float]:
    """(document, page width, page height in mm). Raises InputError for an unknown paper."""
    if paper not in PAPERS:
        raise InputError("Unknown paper.", where="paper", got=paper, expected=", ".join(PAPERS))
    from fpdf import FPDF  # takes long to load

    page_w, page_h = PAPERS[paper]
    pdf = FPDF(unit="mm", format=(page_w, page_h))
    pdf.set_creation_date(UNDATED)
    pdf.set_auto_page_break(False)
    pdf.set_font("helvetica", size=9)
    return pdf, page_w, page_h


def open_flow(paper: str, title: str) -> tuple[FPDF, float]:
    """(document with its title, width in mm) for text that flows from page to page. Raises InputError."""
    pdf, page_w, _ = open_pdf(paper)
    wide = page_w - 2 * MARGIN_MM
    pdf.set_auto_page_break(True, MARGIN_MM + 4)
    pdf.set_margins(MARGIN_MM, MARGIN_MM, MARGIN_MM)
    pdf.add_page()
    pdf.set_font("helvetica", "B", 15)
    pdf.multi_cell(wide, 8, plain(title), new_x="LMARGIN", new_y="NEXT")
    return pdf, wide


# What the built-in faces lack, and how it is written without.
WITHOUT = str.maketrans(
    {"Ω": "Ohm", "–": "-", "—": "-", "−": "-", "’": "'", "‘": "'", "“": '"', "”": '"', "→": "->", "…": "...",
     "≤": "<=", "≥": ">=", "≈": "about ", "√": "root ", "π": "pi", "Δ": "delta ", "μ": "µ", "✓": "x", "✕": "!",
     "\u2009": " ", "\u202f": " ", "₂": "2", "Σ": "sum "}
)  # fmt: skip


def plain(text: str) -> str:
    """Text that the built-in faces can show."""
    return text.translate(WITHOUT).encode("latin-1", "replace").decode("latin-1")
