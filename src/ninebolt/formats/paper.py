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


# What the built-in faces lack, and how it is written without.
WITHOUT = str.maketrans(
    {"Ω": "Ohm", "–": "-", "—": "-", "−": "-", "’": "'", "‘": "'", "“": '"', "”": '"', "→": "->", "…": "...",
     "≤": "<=", "≥": ">=", "≈": "about ", "√": "root ", "π": "pi", "Δ": "delta ", "μ": "µ", "✓": "x", "✕": "!",
     "\u2009": " ", "\u202f": " ", "₂": "2", "Σ": "sum "}
)  # fmt: skip


def plain(text: str) -> str:
    """Text that the built-in faces can show."""
    return text.translate(WITHOUT).encode("latin-1", "replace").decode("latin-1")
