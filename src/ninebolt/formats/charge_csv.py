"""A charge log as CSV: a time column and one column for each group's voltage."""

from __future__ import annotations

import re

import numpy as np

from ninebolt.core.logs.charging import GroupLog
from ninebolt.errors import FormatError
from ninebolt.formats.table import Column, number, rows_of, sniff

MAX_ROWS = 500_000
_TIME = re.compile(r"^(t|time|elapsed|seconds|minutes)\b", re.IGNORECASE)
_GROUP = re.compile(r"^(?:group|cell|g|c|v|u)\s*[#_ ]?\s*(\d{1,3})\b", re.IGNORECASE)


def read_charge(data: bytes, name: str) -> GroupLog:
    """The log. Raises FormatError with line and column."""
    seen = sniff(data, name, {})
    time = next((h for h in seen.header if _TIME.match(h)), None)
    found = [(h, m.group(1)) for h in seen.header if (m := _GROUP.match(h))]
    if time is None or len(found) < 2:
        raise FormatError(
            "This is not a charge log.",
            where=name,
            got=", ".join(seen.header)[:120],
            expected="'time [s]' and 'group 1 [V]', 'group 2 [V]', …",
        )
    columns = [Column("t_s", time, _unit(time)), *(Column("v", h, _unit(h)) for h, _ in found)]
    index = [seen.header.index(c.column) for c in columns]
    rows: list[list[float]] = []
    for where, row in rows_of(data, name, seen):
        values = []
        for column, i in zip(columns, index, strict=True):
            place = f"{where}, column {column.column}"
            if i >= len(row) or not row[i]:
                raise FormatError(
                    "A reading is missing.",
                    where=place,
                    expected="a number in each column",
                    todo="Take the row out, or the column if that group was not read.",
                )
            values.append(number(row[i], column, seen, place))
        if rows and values[0] < rows[-1][0]:
            raise FormatError("Time goes backwards.", where=where, got=f"{values[0]:g} s")
        if not all(0.0 <= v < 6.0 for v in values[1:]):
            raise FormatError(
                "This cannot be a group's voltage.",
                where=where,
                got=", ".join(f"{v:g}" for v in values[1:4]),
                expected="0 to 6 V",
                todo="Give volts, or name the unit in the title: group 1 [mV].",
            )
        rows.append(values)
        if len(rows) > MAX_ROWS:
            raise FormatError("Too many rows.", where=name, expected=f"at most {MAX_ROWS}")
    table = np.array(rows)
    return GroupLog(name, table[:, 0], table[:, 1:], tuple(n for _, n in found))


def _unit(title: str) -> str:
    match = re.search(r"[\[(]\s*([^\])]+?)\s*[\])]", title)
    return match.group(1) if match else ""
