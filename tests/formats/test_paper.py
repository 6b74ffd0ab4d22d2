"""What is printed: all of it on the paper, in any alphabet, with what holds the work back."""

from __future__ import annotations

import io
from dataclasses import replace

import pytest
from pypdf import PdfReader

from ninebolt.bench.tester import salvaged_cells
from ninebolt.core.match.accept import Rules, cautions
from ninebolt.core.match.sort import Sorting, sort_cells
from ninebolt.formats.labels import COLS, ROWS, write_labels
from ninebolt.formats.paper import MARGIN_MM, plain
from ninebolt.formats.report import Chapter, Table
from ninebolt.formats.report_pdf import write_report

POINTS = 72 / 25.4


def text_of(pdf: bytes) -> str:
    return "\n".join(p.extract_text() for p in PdfReader(io.BytesIO(pdf)).pages)


def places(pdf: bytes) -> list[tuple[int, float, float, str]]:
    """(page, mm from the left, mm from the top, text) of everything written."""
    rows: list[tuple[int, float, float, str]] = []
    for k, page in enumerate(PdfReader(io.BytesIO(pdf)).pages):

        def see(
            text: str,
            _: object,
            tm: list[float],
            *more: object,
            k: int = k,
            top: float = page.mediabox.height,
        ) -> None:
            if text.strip():
                rows.append((k, tm[4] / POINTS, (top - tm[5]) / POINTS, text.strip()))

        page.extract_text(visitor_text=see)
    return rows


def sorted_as(name: str, series: int, parallel: int) -> Sorting:
    cells = salvaged_cells(series * parallel + 20, 3)
    return sort_cells(
        [replace(c, id=name.format(i)) for i, c in enumerate(cells)], series, parallel
    )


@pytest.mark.parametrize(
    "name", ["{}", "Celle Nr. {:03d} / Kiste 12", "ячейка-{}", "Łódź {} μΩ", "電池{}"]
)
def test_dangerous_two_cells_never_bear_one_name(name: str) -> None:
    """Cut off, or in an alphabet that the face lacks: a cell that cannot be told goes into the wrong group."""
    sorting = sorted_as(name, 4, 12)
    text = " ".join(text_of(write_labels(sorting, "Tüftler №1")).split())
    wanted = [plain(c) for g in sorting.groups for c in g.cells]
    assert len(set(wanted)) == 48
    for cell in wanted:
        assert text.count(cell) >= 2, cell  # on its label and in the map
    assert plain("Tüftler №1") in text


@pytest.mark.parametrize("parallel", [12, 40, 90, 400])
@pytest.mark.parametrize("name", ["C{}", "Celle Nr. {:03d} / Kiste 12"])
def test_nothing_is_written_past_the_paper_or_over_the_next_label(name: str, parallel: int) -> None:
    sorting = sorted_as(name, 5, parallel)
    page_h, tall = 297.0, (297.0 - 2 * MARGIN_MM) / ROWS
    wide = (210.0 - 2 * MARGIN_MM) / COLS
    group = ""
    for page, x, y, text in places(write_labels(sorting, "Pip 72" * 9)):
        assert MARGIN_MM <= y <= page_h - MARGIN_MM and MARGIN_MM <= x < 210 - MARGIN_MM, text
        if page == 0:
            at = (int((x - MARGIN_MM) / wide), int((y - MARGIN_MM) / tall))
            group = text if text.startswith("Group ") else group
            n = int(group.split()[1]) - 1
            assert at == (n % COLS, n // COLS), (group, text)


def test_a_label_too_small_for_its_cells_says_how_many_it_leaves_to_the_map() -> None:
    sorting = sorted_as("Celle Nr. {:03d} / Kiste 12", 3, 400)
    text = " ".join(text_of(write_labels(sorting, "Pip 72")).split())
    on_map = text.partition("build map")[2]
    assert "more, see the map" in text
    assert all(f"[ ] {c}" in on_map for g in sorting.groups for c in g.cells)


def test_dangerous_what_must_be_seen_to_first_and_what_stays_out_is_on_the_map() -> None:
    cells = [
        replace(c, rested_v=3.2 if i % 2 else 4.1) for i, c in enumerate(salvaged_cells(60, 4))
    ]
    made = sort_cells(cells, 10, 3, Rules(capacity_min_ah=2.0))
    apart = cautions(cells, [(g.number, g.cells) for g in made.groups], 2.5)
    sorting = replace(made, cautions=apart)
    assert sorting.cautions and sorting.rejects and sorting.spare
    text = " ".join(text_of(write_labels(sorting, "Pip 72")).split())
    for words in (*sorting.cautions, *(f"{r.id}: {r.reason}" for r in sorting.rejects)):
        assert plain(words) in text
    assert "Spare" in text and all(s in text for s in sorting.spare)


def test_dangerous_two_setups_that_differ_at_their_end_differ_in_the_table() -> None:
    names = [f"Sprocket 13/52 with the long swing arm, take {x}" for x in "AB"]
    table = Table(
        ("run", "setup"), (0.2, 0.2), tuple((str(i), n) for i, n in enumerate(names * 30))
    )
    made = write_report("A session", [Chapter("Runs", table=table)], [])
    text = " ".join(text_of(made).split())
    assert text.count("take A") == text.count("take B") == 30
    assert all(y < 297 - MARGIN_MM for _, _, y, _ in places(made))


def test_the_same_text_gives_the_same_bytes() -> None:
    note = Table(("note",), (1.0,), (("one\r\ntwo\tthree",),))
    made = [write_report("Größe Ω ≤ 5", [Chapter("→", ("ж",), note)], []) for _ in range(2)]
    text = " ".join(text_of(made[0]).split())
    assert made[0] == made[1] and "Größe Ω ≤ 5" in text and "one two three" in text
