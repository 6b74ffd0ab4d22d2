"""Sorted cells on paper: a label for each group, and a build map in the order of assembly."""

from __future__ import annotations

from bisect import bisect_right
from typing import TYPE_CHECKING

from ninebolt.core.match.sort import GroupRow, Sorting
from ninebolt.formats.paper import FACE, MARGIN_MM, cut, lines_of, open_pdf, whole

if TYPE_CHECKING:
    from fpdf import FPDF

COLS, ROWS = 2, 6
BETWEEN = "   "  # names may have spaces of their own
MAP_ROW_MM, INDENT_MM = 7.0, 10.0


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
    pdf.set_font(FACE, "B", 22)
    pdf.text(x + 4, y + 10, f"Group {g.number}")
    pdf.set_font(FACE, size=9)
    pdf.text(x + 4, y + 15, cut(pdf, f"{title}: {_numbers(g)}", w - 8))
    names, room = [whole(c) for c in g.cells], h - 19
    for points in (9.0, 7.5, 6.0, 5.0):
        pdf.set_font(FACE, size=points)
        pitch = 0.45 * points
        most = int(room / pitch)
        lines = lines_of(pdf, BETWEEN.join(names), w - 8)
        if len(lines) <= most:
            break
    if len(lines) > most:  # at the smallest they do not fit: as many as do
        fit = bisect_right(
            range(1, len(names)), most, key=lambda n: len(_lines(pdf, names, n, w - 8))
        )
        lines = _lines(pdf, names, fit, w - 8)
    for i, line in enumerate(lines):
        pdf.text(x + 4, y + 17 + pitch * (i + 1), line)


def _lines(pdf: FPDF, names: list[str], n: int, wide: float) -> list[str]:
    """The first n names, and how many more there are."""
    return lines_of(
        pdf, BETWEEN.join((*names[:n], whole(f"and {len(names) - n} more, see the map"))), wide
    )


def _numbers(g: GroupRow) -> str:
    parts = [f"{g.capacity_ah:.3f} Ah"]
    if g.r_ohm is not None:
        parts.append(f"{g.r_ohm * 1000:.2f} mΩ")
    if g.fade_v_day is not None:
        parts.append(f"{g.fade_v_day * 1000:.2f} mV a day")
    return ", ".join(parts)


class _Pages:
    """Lines from page to page, the title on each."""

    def __init__(self, pdf: FPDF, title: str, page_w: float, page_h: float) -> None:
        self.pdf, self.title, self.page_h = pdf, title, page_h
        self.wide, self.y = page_w - 2 * MARGIN_MM - INDENT_MM, page_h

    def room(self, need: float) -> None:
        """A new page where the need, in mm, is more than what is left of this one."""
        if self.y + need <= self.page_h - MARGIN_MM:
            return
        style, size = self.pdf.font_style, self.pdf.font_size_pt
        self.pdf.add_page()
        self.pdf.set_font(FACE, "B", 12)
        self.pdf.text(MARGIN_MM, 16, cut(self.pdf, self.title, self.wide))
        self.pdf.set_font(FACE, style, size)
        self.y = 22.0

    def write(self, text: str, bold: bool = False) -> None:
        self.pdf.set_font(FACE, "B" if bold else "", 9)
        for line in lines_of(self.pdf, text, self.wide):
            self.room(5)
            self.pdf.text(MARGIN_MM + INDENT_MM, self.y + 4, line)
            self.y += 5


def _map(pdf: FPDF, s: Sorting, title: str, page_w: float, page_h: float) -> None:
    """What to see to first; groups from minus to plus, with a box to tick for each cell; what stays out and why."""
    on = _Pages(pdf, f"{title}: build map, group 1 at the pack's minus", page_w, page_h)
    for words in s.cautions:
        on.write(words, bold=True)
    for g in s.groups:
        on.room(MAP_ROW_MM + 5)
        pdf.set_font(FACE, "B", 10)
        pdf.text(MARGIN_MM, on.y + 4, f"{g.number}")
        on.write(_numbers(g))
        on.write(BETWEEN.join(whole(f"[ ] {c}") for c in g.cells))
        on.y += 2
    if s.rejects:
        on.write("These stay out:", bold=True)
        for r in s.rejects:
            on.write(f"{r.id}: {r.reason}")
    if s.spare:
        on.write("Spare:", bold=True)
        on.write(BETWEEN.join(whole(c) for c in s.spare))
