"""A charge log as CSV: a time column and one column for each group's voltage."""

from __future__ import annotations

import re

import numpy as np

from ninebolt.core.logs.charging import GroupLog
from ninebolt.errors import FormatError
from ninebolt.formats.clocks import Clock, time_cell, time_unit
from ninebolt.formats.table import Column, number, rows_of, sniff, split_unit

MAX_ROWS = 500_000
_TIME = re.compile(
    r"^(t|time|timestamp|date ?time|date|elapsed|seconds|minutes|millis|utc)(?![a-z])",
    re.IGNORECASE,
)
_GROUP = re.compile(
    r"^(?:group|cell|g|c|v|u)(?: ?volt(?:age|s)?)?\s*[#_ ]?\s*(\d{1,3})\b", re.IGNORECASE
)


def read_charge(data: bytes, name: str) -> GroupLog:
    """The log; rows in which a group was not read are left out and counted. Raises FormatError with line and column."""
    seen = sniff(data, name, {})
    time = next((h for h in seen.header if _TIME.match(h.replace("_", " "))), None)
    found = [(h, m.group(1)) for h in seen.header if (m := _GROUP.match(h.replace("_", " ")))]
    if time is None or len(found) < 2:
        raise FormatError(
            "This is not a charge log.",
            where=name,
            got=", ".join(seen.header)[:120],
            expected="'time [s]' and 'group 1 [V]', 'group 2 [V]', …",
        )
    numbers = [int(n) for _, n in found]
    twice = next((n for n in numbers if numbers.count(n) > 1), None)
    if twice is not None:
        raise FormatError(
            f"Two columns are of group {twice}.",
            where=name,
            got=", ".join(h for h, n in found if int(n) == twice)[:120],
            expected="one column of volts a group",
            todo="Take temperatures and other columns of that name out.",
        )
    when = Column("t_s", time, _unit(time) or time_unit(seen, time))
    columns = [Column("v", h, _unit(h)) for h, _ in found]
    at, index = seen.header.index(time), [seen.header.index(c.column) for c in columns]
    clock, rows, gaps = Clock(), [], []  # type: Clock, list[list[float]], list[tuple[str, str]]
    for where, row in rows_of(data, name, seen):
        blank = [
            c.column for c, i in zip(columns, index, strict=True) if i >= len(row) or not row[i]
        ]
        if blank or at >= len(row) or not row[at]:
            gaps.append((where, blank[0] if blank else time))
            continue
        t = time_cell(row[at], when, seen, f"{where}, column {time}", clock)
        cells = zip(columns, index, strict=True)
        values = [number(row[i], c, seen, f"{where}, column {c.column}") for c, i in cells]
        if rows and t < rows[-1][0]:
            raise FormatError("Time goes backwards.", where=where, got=f"{t:g} s")
        if not all(0.0 <= v < 6.0 for v in values):
            raise FormatError(
                "This cannot be a group's voltage.",
                where=where,
                got=", ".join(f"{v:g}" for v in values[:3]),
                expected="0 to 6 V",
                todo="Give volts, or name the unit in the title: group 1 [mV].",
            )
        rows.append([t, *values])
        if len(rows) > MAX_ROWS:
            raise FormatError("Too many rows.", where=name, expected=f"at most {MAX_ROWS}")
    if len(gaps) > len(rows):
        where, column = gaps[0]
        raise FormatError(
            "A group is not read in most rows.",
            where=f"{where}, column {column}",
            got=f"{len(gaps)} rows with a blank, {len(rows)} without",
            expected="a number in each column",
            todo="Take the column out if that group was not read; it is the one that can be dead.",
        )
    table = np.array(rows)
    return GroupLog(
        name, table[:, 0] - table[0, 0], table[:, 1:], tuple(n for _, n in found), len(gaps)
    )


def _unit(title: str) -> str:
    """In brackets anywhere in the title, else its ending."""
    match = re.search(r"[\[(]\s*([^\])]+?)\s*[\])]", title)
    return match.group(1) if match else split_unit(title)[1]
