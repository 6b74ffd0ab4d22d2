"""Charge logs and part files: dialects, symmetries of the judgement, and bad input by its place."""

from __future__ import annotations

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ninebolt.core.logs.charging import OUTLIER_V, STOP_SPREAD_V, GroupLog, watch
from ninebolt.core.parts.kinds import KINDS
from ninebolt.errors import FieldError, FormatError, NineBoltError
from ninebolt.formats.charge_csv import read_charge
from ninebolt.formats.parts_file import read_parts

# Charge logs

SAME = {
    "seconds and volts": "time [s],group 1 [V],group 2 [V]\n0,3.6,3.61\n300,3.7,3.72\n",
    "no units": "t,g1,g2\n0,3.6,3.61\n300,3.7,3.72\n",
    "hours": "time [h],cell 1 [V],cell 2 [V]\n0,3.6,3.61\n0.08333333333,3.7,3.72\n",
    "decimal commas": "elapsed [s];C1 (mV);C2 (mV)\n0;3600,0;3610,0\n300;3700,0;3720,0\n",
    "stamps": "timestamp,cell_1,cell_2\n2026-05-01T23:58:00,3.6,3.61\n2026-05-02T00:03:00,3.7,3.72\n",
    "time of day over midnight": "Time,Cell 1 voltage,Cell 2 voltage\n23:58:00,3.6,3.61\n00:03:00,3.7,3.72\n",
    "dates of any order": "Date time,V1,V2\n01/05/2026 11:58:00 PM,3.6,3.61\n02/05/2026 12:03:00 AM,3.7,3.72\n",
    "ms since 1970": "time,cell1_mv,cell2_mv\n1777679880000,3600,3610\n1777680180000,3700,3720\n",
    "seconds by suffix": "time_s,g1,g2\n0,3.6,3.61\n300,3.7,3.72\n",
    "tabs and more columns": "time [s]\tamps\tv 1\tv 2\n0\t10\t3.6\t3.61\n300\t9\t3.7\t3.72\n",
}


@pytest.mark.parametrize("name", SAME)
def test_one_charge_in_many_dialects(name: str) -> None:
    log = read_charge(SAME[name].encode(), "c.csv")
    assert log.t_s.tolist() == pytest.approx([0, 300])
    assert log.volts.ravel().tolist() == pytest.approx([3.6, 3.61, 3.7, 3.72])
    assert log.groups == ("1", "2")


BAD = {
    "missing": ("time,group 1,group 2\n0,3.6,3.6\n9,,3.7\n12,,3.7\n", "not read in most", "line 3"),
    "short row": ("time,group 1,group 2\n0,3.6\n", "not read in most", "column group 2"),
    "twice": ("time,group 1,cell 1,group 2\n0,3.6,3.6,3.6\n", "of group 1", "c.csv"),
    "no time": ("time,group 1,group 2\nnoon,3.6,3.6\n", "not a time", "line 2, column time"),
    "millivolts": ("time,group 1,group 2\n0,3600,3610\n", "cannot be a group", "line 2"),
    "negative": ("time,group 1,group 2\n0,-3.6,3.6\n", "cannot be a group", "line 2"),
    "infinite": ("time,group 1,group 2\n0,inf,3.6\n", "not a number", "column group 1"),
    "back": ("time,group 1,group 2\n5,3,3\n6,3,3\n4,3,3\n", "backwards", "line 4"),
    "no rows": ("time,group 1,group 2\n", "no rows", "line 2"),
}


@pytest.mark.parametrize("name", BAD)
def test_a_bad_charge_log_is_named_with_its_place(name: str) -> None:
    text, words, place = BAD[name]
    with pytest.raises(FormatError, match=words) as caught:
        read_charge(text.encode(), "c.csv")
    assert "c.csv" in caught.value.where and place in caught.value.where


def test_a_row_with_a_blank_is_left_out_and_counted() -> None:
    log = read_charge(b"time,g1,g2\n0,3.6,3.6\n9,,3.7\n20,3.7,3.7\n", "c.csv")
    assert log.t_s.tolist() == [0, 20] and log.skipped == 1
    assert watch(log, 4.2).skipped == 1


def test_dangerous_volts_stay_with_their_group_whatever_the_order_of_the_columns() -> None:
    """Taken over as group voltages, the low one would be looked for in another place."""
    log = read_charge(b"time,cell 3,cell 1,cell 2\n0,3.6,3.6,3.6\n9,3.7,2.9,3.8\n", "c.csv")
    assert watch(log, 4.2).last == ((1.0, 2.9), (2.0, 3.8), (3.0, 3.7))
    zero = read_charge(b"time,cell 0,cell 1\n0,3.6,3.6\n9,3.7,2.9\n", "c.csv")
    assert watch(zero, 4.2).last == ((1.0, 3.7), (2.0, 2.9))


@st.composite
def charges(draw: st.DrawFn) -> GroupLog:
    """A charge of 3 to 9 groups, each rising at its own pace from its own start."""
    n = draw(st.integers(3, 9))
    start = draw(st.lists(st.floats(3.3, 3.7), min_size=n, max_size=n))
    rise = draw(st.lists(st.floats(0.0, 0.6), min_size=n, max_size=n))
    t = np.linspace(0, 3600, 60)
    volts = np.array(start) + np.outer(t / 3600, rise)
    return GroupLog("made", t, volts, tuple(str(i + 1) for i in range(n)))


@given(charges(), st.randoms(use_true_random=False))
def test_the_order_of_the_columns_does_not_matter(log: GroupLog, shuffle) -> None:  # type: ignore[no-untyped-def]
    order = list(range(len(log.groups)))
    shuffle.shuffle(order)
    other = GroupLog(log.name, log.t_s, log.volts[:, order], tuple(log.groups[i] for i in order))
    a, b = watch(log, 4.2), watch(other, 4.2)
    assert (a.spread_v, a.worst_v, a.stop_s) == (b.spread_v, b.worst_v, b.stop_s)
    assert {(o.group, o.words) for o in a.outliers} == {(o.group, o.words) for o in b.outliers}


@given(charges(), st.floats(-0.4, 0.4))
def test_a_common_offset_moves_no_spread(log: GroupLog, by: float) -> None:
    a = watch(log, 9.0)
    b = watch(GroupLog(log.name, log.t_s, log.volts + by, log.groups), 9.0)
    assert b.spread_v == pytest.approx(a.spread_v) and b.worst_v == pytest.approx(a.worst_v)
    assert {o.group for o in b.outliers} == {o.group for o in a.outliers}


@given(charges())
def test_it_stops_exactly_where_numpy_finds_the_first_row_to_stop_at(log: GroupLog) -> None:
    """Scanned row by row, as a person with a meter would."""
    first = None
    for t, row in zip(log.t_s, log.volts, strict=True):
        if row.max() > 4.2 + 0.005 or row.max() - row.min() > STOP_SPREAD_V:
            first = float(t)
            break
    assert watch(log, 4.2).stop_s == first


@given(charges())
def test_an_outlier_is_stuck_or_off_the_middle(log: GroupLog) -> None:
    report = watch(log, 4.2)
    middle = float(np.median(log.volts[-1]))
    named = {o.group: o for o in report.outliers}
    for i, group in enumerate(log.groups):
        off = float(log.volts[-1, i]) - middle
        if abs(off) > OUTLIER_V + 1e-9:
            assert named[group].off_v == pytest.approx(off)
        if group in named and abs(off) < OUTLIER_V - 1e-9:
            assert "does not rise" in named[group].words


# Part files


def test_the_line_that_is_named_is_the_line_of_the_file() -> None:
    """Comments above and between do not shift it."""
    text = "# barn\n# shelf\npart,name,capacity_ah\ncell,A,2\n# more\ncell,B,much\n"
    with pytest.raises(NineBoltError) as caught:
        read_parts(text.encode(), "lot.csv")
    assert "line 6" in caught.value.message()


BAD_PARTS: dict[str, tuple[bytes, str]] = {
    "no list": (b'{"kind": "cell"}', "not a file of parts"),
    "a number": (b"[7]", "not a file of parts"),
    "unknown kind": (b'{"kind": "rocket", "items": []}', "no kind of part"),
    "item no object": (b'{"kind": "cell", "items": [7]}', "must be an object"),
    "no items": (b'{"kind": "cell", "items": []}', "no parts in this file"),
    "no name": (b'{"kind": "cell", "items": [{"capacity_ah": 3}]}', "needs a name"),
    "csv without kind": (b"name,capacity_ah\nA,3\n", "no kind of part"),
    "csv without name": (b"part,capacity_ah\ncell,3\n", "needs a name"),
    "unknown column": (b"part,name,colour\ncell,A,red\n", "no column 'colour'"),
    "column for another field": (
        b"part,name,capacity_ah smell\ncell,A,x\n",
        "no column 'capacity_ah smell'",
    ),
    "half a yes": (b"part,name,altered\nbms,A,perhaps\n", "yes or no"),
    "tolerance": (
        b"part,name,capacity_ah,capacity_ah tolerance\ncell,A,3,some\n",
        "not a number",
    ),
    "count": (b"part,name,inner_series\ncell,A,two\n", "not a number"),
    "half a count": (b"part,name,inner_series\ncell,A,1.5\n", "whole"),
    "header only": (b"part,name\n", "no parts in this file"),
}


@pytest.mark.parametrize("name", BAD_PARTS)
def test_a_bad_part_file_says_what_and_where(name: str) -> None:
    data, words = BAD_PARTS[name]
    with pytest.raises((FormatError, FieldError), match=words) as caught:
        read_parts(data, "lot.csv")
    said = caught.value.message()
    assert "lot.csv" in said or "expected" in said.lower()


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_a_part_needs_no_more_than_its_name(kind: str) -> None:
    """What is not known stays unknown; nothing is made up."""
    (row,) = read_parts(json.dumps({"kind": kind, "items": [{"name": "X"}]}).encode(), "p.json")
    (same,) = read_parts(f"part,name\n{kind},X\n".encode(), "p.csv")
    assert row.part == same.part and row.part.name == "X"
    assert row.part.mass_kg.amount is None
