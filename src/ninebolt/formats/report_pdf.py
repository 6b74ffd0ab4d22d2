"""A test session on paper: what was compared, under what, every run, the statistics, traces, raw files attached."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from ninebolt.formats.paper import FACE, LINE_MM, MARGIN_MM, flow, lines_of, open_flow, plain
from ninebolt.formats.report import DASHES, Attached, Chapter, Table, thinned

if TYPE_CHECKING:
    from fpdf import FPDF

TRACE_MM = 52.0


def write_report(
    title: str, chapters: Sequence[Chapter], files: Sequence[Attached], paper: str = "a4"
) -> bytes:
    """PDF. Raises InputError for an unknown paper."""
    pdf, wide = open_flow(paper, title)
    for chapter in chapters:
        pdf.ln(2)
        pdf.set_font(FACE, "B", 11)
        if pdf.get_y() > pdf.h - 40:
            pdf.add_page()
        flow(pdf, wide, chapter.title, 6)
        pdf.set_font(FACE, size=9)
        for sentence in chapter.words:
            flow(pdf, wide, sentence)
        if chapter.table is not None:
            _table(pdf, chapter.table, wide)
        if chapter.traces:
            _traces(pdf, chapter, wide, pdf.h)
    for file in files:
        pdf.embed_file(bytes=file.data, basename=plain(file.name) or "file", desc="raw file")
    return bytes(pdf.output())


def _table(pdf: FPDF, made: Table, wide: float) -> None:
    for row, bold in [(made.heads, True), *((r, False) for r in made.rows)]:
        pdf.set_font(FACE, "B" if bold else "", 8)
        cells = [lines_of(pdf, c, w * wide - 1.5) for c, w in zip(row, made.widths, strict=True)]
        tall = LINE_MM * max(len(lines) for lines in cells)
        if pdf.get_y() + tall > pdf.h - 2 * MARGIN_MM:
            pdf.add_page()
        x, y = MARGIN_MM, pdf.get_y()
        for lines, share in zip(cells, made.widths, strict=True):
            for i, line in enumerate(lines):
                pdf.text(x + 1, y + LINE_MM * i + 3.5, line)
            x += share * wide
        pdf.line(MARGIN_MM, y + tall, x, y + tall)
        pdf.set_y(y + tall)
    pdf.set_font(FACE, size=9)


def _traces(pdf: FPDF, chapter: Chapter, wide: float, page_h: float) -> None:
    """All runs over one another; each by its own dashes and its name."""
    if pdf.get_y() + TRACE_MM + 10 > page_h - MARGIN_MM:
        pdf.add_page()
    x0, y0 = MARGIN_MM + 10, pdf.get_y() + 2
    w, h = wide - 14, TRACE_MM - 8
    end = max((t.t_s[-1] for t in chapter.traces if len(t.t_s)), default=1.0) or 1.0
    top = max((max(t.speed, default=0.0) for t in chapter.traces), default=1.0) or 1.0
    pdf.set_line_width(0.2)
    pdf.rect(x0, y0, w, h)
    pdf.set_font(FACE, size=7)
    for k in range(5):
        pdf.text(x0 + w * k / 4 - 2, y0 + h + 3, plain(f"{end * k / 4:.1f} s"))
        pdf.text(
            MARGIN_MM,
            y0 + h * (1 - k / 4) + 1,
            plain(f"{top * k / 4:.0f} {chapter.unit}" if k else "0"),
        )
    pdf.set_line_width(0.35)
    for i, t in enumerate(chapter.traces[: len(DASHES)]):
        dash, gap = DASHES[i]
        pdf.set_dash_pattern(dash, gap) if dash else pdf.set_dash_pattern()
        points = [(x0 + w * a / end, y0 + h * (1 - b / top)) for a, b in thinned(t)]
        if len(points) > 1:
            pdf.polyline(points)
        pdf.line(x0 + 2, y0 + 3 + 3.2 * i, x0 + 12, y0 + 3 + 3.2 * i)
        pdf.text(x0 + 14, y0 + 4 + 3.2 * i, plain(t.name)[:90])
    pdf.set_dash_pattern()
    pdf.set_y(y0 + h + 6)
    pdf.set_font(FACE, size=9)
