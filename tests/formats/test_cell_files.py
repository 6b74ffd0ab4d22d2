"""Tester's files in the dialects that are met, and each way in which one can be wrong."""

from __future__ import annotations

import csv
import io
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ninebolt.core.match.accept import Rules
from ninebolt.core.match.sort import sort_cells
from ninebolt.errors import FormatError
from ninebolt.formats.cells_csv import MAX_CELLS, read_cells, write_assignment
from ninebolt.formats.sheet import unsafe
from ninebolt.formats.table import Column, sniff

# One lot: name, Ah, ohm, rested volts, and volts 14 days later.
LOT = [
    ("A1", 2.104, 0.0412, 3.912, 3.898),
    ("A2", 1.987, 0.0455, 3.905, 3.891),
    ("A3", 0.352, 0.1310, 3.401, 3.103),  # nearly dead
]


def table(head: str, row: str, sep: str = ",") -> bytes:
    lines = [head]
    for name, ah, ohm, first, second in LOT:
        lines.append(row.format(n=name, c=ah, r=ohm, v=first, w=second))
    text = "\n".join(lines)
    return (text if sep == "," else text.replace(",", sep).replace(".", ",")).encode()


DIALECTS = {
    "mAh and mΩ by title": table(
        "cell,capacity [mAh],ir [mΩ],v1 [V],v2 [V],days",
        "{n},{c:.3f}e3,{r:.4f}e3,{v},{w},14",
    ),
    "mAh and mohm without a unit": table(
        "id,capacity,resistance,rested,later,days", "{n},{c:.3f}e3,{r:.4f}e3,{v},{w},14"
    ),
    "Ah and ohm without a unit": table("no,cap,r,v1,v2,days", "{n},{c},{r},{v},{w},14"),
    "Ah and ohm by title": table(
        "label,capacity (Ah),dcir (ohm),ocv (V),later (V),days between",
        "{n},{c},{r},{v},{w},14",
    ),
    "millivolts without a unit": table("id,cap,r,v1,v2,days", "{n},{c},{r},{v}e3,{w}e3,14"),
    "units for titles": table("#,mAh,mOhm,V,v2,days", "{n},{c:.3f}e3,{r:.4f}e3,{v},{w},14"),
    "units as endings": table(
        "slot,capacity_mah,ir_mohm,ocv_v,later_mv,days", "{n},{c:.3f}e3,{r:.4f}e3,{v},{w}e3,14"
    ),
    "each cell with its unit": table(
        "nr,capacity,ri,volts,later,days", "{n},{c} Ah,{r} ohm,{v} V,{w} V,14"
    ),
    "semicolons and decimal commas": table(
        "cell,capacity [Ah],ir [Ω],v1 [V],v2 [V],days", "{n},{c},{r},{v},{w},14", ";"
    ),
    "two dates": table(
        "cell,capacity [Ah],ir [Ω],v1 [V],v2 [V],date 1,date 2",
        "{n},{c},{r},{v},{w},2031-05-04,2031-05-18",
    ),
    "two dates as they are written here": table(
        "cell,capacity [Ah],ir [Ω],v1 [V],v2 [V],date 1,date 2",
        "{n},{c},{r},{v},{w},04.05.2031,18.05.2031",
    ),
    "a comment above and columns of no use": b"# from the barn\n"
    + table(
        "slot,cell,colour,capacity [Ah],ir [Ω],v1 [V],v2 [V],days",
        "3,{n},green,{c},{r},{v},{w},14",
    ),
    "UTF-16 with its mark": table(
        "cell,capacity [Ah],ir [Ω],v1 [V],v2 [V],days", "{n},{c},{r},{v},{w},14"
    )
    .decode()
    .encode("utf-16"),
}


@pytest.mark.parametrize("name", DIALECTS)
def test_one_lot_in_many_dialects(name: str) -> None:
    got = read_cells(DIALECTS[name], "cells.csv")
    assert [c.id for c in got] == [row[0] for row in LOT]
    for cell, (_, ah, ohm, first, second) in zip(got, LOT, strict=True):
        assert cell.capacity_ah == pytest.approx(ah, rel=1e-6)
        assert cell.r_ohm == pytest.approx(ohm, rel=1e-6)
        assert cell.rested_v == pytest.approx(first, rel=1e-6)
        assert cell.fade_v_day == pytest.approx((first - second) / 14, abs=1e-9)


def test_a_dead_cell_in_a_column_of_milliamp_hours_is_dead() -> None:
    """350 among 2000s is 0.35 Ah, not 350 Ah: the unit belongs to the column, not to the row."""
    data = b"cell,capacity\n" + b"".join(b"c%d,%d\n" % (i, 2000 + i) for i in range(8)) + b"x,350\n"
    got = {c.id: c.capacity_ah for c in read_cells(data, "cells.csv")}
    assert got["x"] == pytest.approx(0.35)
    groups = sort_cells(read_cells(data, "c.csv"), 4, 2).groups
    assert all("x" not in g.cells for g in groups)


def test_a_good_cell_in_a_column_of_milliohms_is_good() -> None:
    """1.2 among 20s is 1.2 mΩ, not 1.2 Ω."""
    data = b"cell,capacity,ir\na,3,20\nb,3,22\nc,3,1.2\n"
    assert [c.r_ohm for c in read_cells(data, "c.csv")] == pytest.approx([0.02, 0.022, 0.0012])


def test_a_large_cell_keeps_its_amp_hours() -> None:
    data = b"cell,capacity\na,314\nb,312\nc,98\n"
    assert [c.capacity_ah for c in read_cells(data, "c.csv")] == [314, 312, 98]


def test_blank_readings_are_unknown_and_blank_lines_nothing() -> None:
    data = (
        b"cell,capacity [Ah],ir [mohm],v1,v2,days,seen\na,2,,3.9,,14,\n\n  , ,\nb,2.1,40,,,,dent\n"
    )
    a, b = read_cells(data, "cells.csv")
    assert math.isnan(a.r_ohm) and math.isnan(a.fade_v_day) and a.rested_v == 3.9
    assert math.isnan(b.rested_v) and b.damage == "dent"


HEAD = b"cell,capacity [Ah],date 1,date 2,v1,v2\n"
BAD = {
    "no name": (b"cell,capacity\n,2\n", "no cell name", "line 2"),
    "zero ohm": (b"cell,capacity,ir\na,2,0\n", "cannot be a cell", "line 2"),
    "below nothing": (b"cell,capacity\na,2\nb,-2\n", "cannot be a cell", "line 3"),
    "a thousand Ah": (b"cell,capacity [Ah]\na,2000\nb,2\nc,3\n", "cannot be a cell", "line 2"),
    "a column of them": (b"cell,capacity [Ah]\na,2000\nb,2100\n", "No cell has such", "capacity"),
    "no date": (HEAD + b"a,2,soon,2031-05-04,3.9,3.8\n", "not a date", "line 2"),
    "dates turned round": (HEAD + b"a,2,2031-05-04,2031-05-01,3.9,3.8\n", "not after", "line 2"),
    "the same day": (HEAD + b"a,2,2031-05-04,2031-05-04,3.9,3.8\n", "not after", "line 2"),
    "infinite": (b"cell,capacity\na,inf\n", "not a number", "column capacity"),
    "blank rows only": (b"cell,capacity\n,\n , \n", "no rows", "line 2"),
}


@pytest.mark.parametrize("name", BAD)
def test_what_cannot_be_is_named_with_its_place(name: str) -> None:
    data, words, place = BAD[name]
    with pytest.raises(FormatError, match=words) as caught:
        read_cells(data, "cells.csv")
    assert "cells.csv" in caught.value.where and place in caught.value.where


def test_a_column_that_is_not_there_is_named() -> None:
    mapping = (Column("id", "cell", ""), Column("capacity_ah", "mAh", "mAh"))
    with pytest.raises(FormatError, match="no column 'mAh'"):
        read_cells(b"cell,capacity\na,2\n", "cells.csv", mapping)


def test_a_mapping_has_the_last_word() -> None:
    data = b"what,2 A test,weak test\na,2.0,1.0\nb,2.2,1.1\n"
    mapping = (Column("id", "what", ""), Column("capacity_ah", "2 A test", "Ah"))
    assert [c.capacity_ah for c in read_cells(data, "c.csv", mapping)] == [2.0, 2.2]
    assert sniff(data, "c.csv", {"id": ("cell",)}).mapping == ()


def test_there_is_an_end_to_how_many() -> None:
    rows = b"".join(b"c%d,2\n" % i for i in range(MAX_CELLS + 1))
    with pytest.raises(FormatError, match="Too many cells"):
        read_cells(b"cell,capacity\n" + rows, "cells.csv")


names = st.text(alphabet="abcXYZ019-_ ü", min_size=1, max_size=6).filter(
    lambda s: s.strip() == s and s != ""
)


@given(
    st.lists(
        st.tuples(names, st.floats(0.5, 6), st.floats(0.005, 0.4)),
        min_size=6,
        max_size=24,
        unique_by=lambda t: t[0],
    )
)
def test_every_cell_of_a_file_comes_out_once(lot: list[tuple[str, float, float]]) -> None:
    """Whatever the names: each cell is placed, spare or rejected, once, in what is written."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(["cell", "capacity [Ah]", "ir [ohm]"])
    writer.writerows([n, f"{c:.5f}", f"{r:.5f}"] for n, c, r in lot)
    got = read_cells(out.getvalue().encode(), "cells.csv")
    assert [c.capacity_ah for c in got] == pytest.approx([c for _, c, _ in lot], abs=1e-5)
    sorting = sort_cells(got, 3, 2, Rules(r_max_ohm=1.0))
    rows = list(csv.DictReader(io.StringIO(write_assignment(sorting).decode())))
    assert sorted(unsafe(r["cell"]) for r in rows) == sorted(n for n, _, _ in lot)
    placed = [r for r in rows if r["group"]]
    assert len(placed) == 6
    own = {c.id: c.capacity_ah for c in got}
    for number in ("1", "2", "3"):
        members = [r for r in placed if r["group"] == number]
        total = sum(own[unsafe(r["cell"])] for r in members)
        assert [r["place"] for r in members] == ["1", "2"]
        assert float(members[0]["group_capacity_ah"]) == pytest.approx(total, abs=1e-4)
