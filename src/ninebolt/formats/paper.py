"""Paper to print on: a PDF without a date, so that the same build gives the same bytes."""

from __future__ import annotations

from datetime import UTC, datetime
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING

from ninebolt.errors import InputError

if TYPE_CHECKING:
    from fpdf import FPDF

UNDATED = datetime(2000, 1, 1, tzinfo=UTC)
PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
MARGIN_MM = 10.0
FACE = "sheet"
# Parts of DejaVu Sans Condensed; its licence lies beside them.
FACES = Path(__file__).with_name("faces")
LINE_MM = 4.5  # at 9 points


def open_pdf(paper: str) -> tuple[FPDF, float, float]:
    """(document, page width, page height in mm). Raises InputError for an unknown paper."""
    if paper not in PAPERS:
        raise InputError("Unknown paper.", where="paper", got=paper, expected=", ".join(PAPERS))
    from fpdf import FPDF  # takes long to load

    page_w, page_h = PAPERS[paper]
    pdf = FPDF(unit="mm", format=(page_w, page_h))
    pdf.set_creation_date(UNDATED)
    pdf.set_auto_page_break(False)
    pdf.add_font(FACE, "", FACES / "regular.ttf")
    pdf.add_font(FACE, "B", FACES / "bold.ttf")
    pdf.set_font(FACE, size=9)
    return pdf, page_w, page_h


def open_flow(paper: str, title: str) -> tuple[FPDF, float]:
    """(document with its title, width in mm) for text that flows from page to page. Raises InputError."""
    pdf, page_w, _ = open_pdf(paper)
    wide = page_w - 2 * MARGIN_MM
    pdf.set_auto_page_break(True, MARGIN_MM + 4)
    pdf.set_margins(MARGIN_MM, MARGIN_MM, MARGIN_MM)
    pdf.add_page()
    pdf.set_font(FACE, "B", 15)
    flow(pdf, wide, title, 8)
    return pdf, wide


def flow(pdf: FPDF, wide: float, text: str, line_mm: float = LINE_MM) -> None:
    """Text in as many lines as it takes, from the left margin, in a document made by open_flow."""
    pdf.multi_cell(wide, line_mm, plain(text), align="L", new_x="LMARGIN", new_y="NEXT")


def lines_of(pdf: FPDF, text: str, wide: float) -> list[str]:
    """Text as the lines that it takes in the face and size that are set, broken at spaces and, where one word is wider
    than the line, inside it. By the width of each letter once: the library measures each time, which for a label of
    hundreds of cells takes seconds."""
    each = cache(pdf.get_string_width)

    def width(of: str) -> float:
        return float(sum(map(each, of)))

    lines, line, used = [], "", 0.0
    for word in plain(text).replace("\n", " ").split(" "):
        long = width(word)
        if line and used + width(" ") + long > wide:
            lines.append(line.rstrip())
            line, used = "", 0.0
        while long > wide:
            n = max(1, next(i for i in range(len(word) + 1) if width(word[: i + 1]) > wide))
            lines.append(word[:n])
            word = word[n:]
            long = width(word)
        line, used = (f"{line} {word}", used + width(" ") + long) if line else (word, long)
    return [x.replace("\u00a0", " ") for x in (*lines, line.rstrip())]


def whole(text: str) -> str:
    """Text that is not broken at its spaces."""
    return text.replace(" ", "\u00a0")


def cut(pdf: FPDF, text: str, wide: float) -> str:
    """As much as fits the width, with a mark where something is left out."""
    text = plain(" ".join(text.split()))
    if pdf.get_string_width(text) <= wide:
        return text
    while text and pdf.get_string_width(text + "…") > wide:
        text = text[:-1]
    return text + "…"


@cache
def drawn() -> frozenset[int]:
    """The characters that the paper's face has: Latin, Greek, Cyrillic, signs."""
    from fontTools.ttLib import TTFont

    with TTFont(FACES / "regular.ttf", lazy=True) as face:
        return frozenset(face.getBestCmap())


def plain(text: str) -> str:
    """Text that the paper's face can show. What it cannot is written by its number, so that two names that differ on
    the screen differ on paper. Of what is between words, only the end of a line is kept as it is."""
    have = drawn()
    return "".join(
        c if ord(c) in have or c == "\n" else " " if c.isspace() else f"[{ord(c):X}]" for c in text
    )
