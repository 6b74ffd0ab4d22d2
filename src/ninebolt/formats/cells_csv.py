"""Cell measurements from a tester's CSV, and the assignment as CSV.

Self-discharge comes from two rested voltages and the days between.
"""

from __future__ import annotations

import csv
import io
import math
from dataclasses import dataclass
from datetime import datetime
from statistics import median

from ninebolt.core.match.accept import MeasuredCell
from ninebolt.core.match.sort import Sorting
from ninebolt.errors import FormatError
from ninebolt.formats.sheet import safe
from ninebolt.formats.table import (
    Aliases,
    Column,
    Sniffed,
    checked,
    number,
    place_of,
    rows_of,
    sniff,
)

MAX_CELLS = 20_000
ALIASES: Aliases = {
    "id": (
        "id",
        "cell",
        "cell id",
        "#",
        "no",
        "number",
        "nr",
        "label",
        "name",
        "slot",
        "channel",
        "ch",
        "serial",
    ),
    "capacity_ah": ("capacity", "cap", "c", "discharge capacity"),
    "r_ohm": ("resistance", "ir", "ri", "r", "internal resistance", "dcir", "acir"),
    "rested_v": ("rested", "voltage", "volts", "v", "v1", "rested 1", "rest voltage", "ocv"),
    "rested_2_v": ("rested 2", "v2", "later", "voltage 2", "rested later"),
    "days": ("days", "days between", "rest days"),
    "rested_on": ("rested on", "date", "date 1", "measured on"),
    "rested_2_on": ("rested 2 on", "date 2", "later on", "measured again on"),
    "damage": ("damage", "damaged", "remark", "seen"),
}
NEEDED = ("id", "capacity_ah")


def read_cells(
    data: bytes, name: str, mapping: tuple[Column, ...] | None = None
) -> list[MeasuredCell]:
    """The measured cells. Raises FormatError with line and column for anything that is no number,
    for a missing column, a repeated id, or a capacity that cannot be one."""
    seen = sniff(data, name, ALIASES)
    used = checked(mapping, ALIASES, name) if mapping is not None else seen.mapping
    columns = {c.name: c for c in used}
    for need in NEEDED:
        if need not in columns:
            raise FormatError(
                f"No column holds the {need.split('_')[0]}.",
                where=name,
                got=", ".join(seen.header)[:120],
                expected="at least 'cell' and 'capacity [mAh]'",
            )
    places = {key: place_of(c, seen.header, name) for key, c in columns.items()}
    rows: list[_Row] = []
    known: set[str] = set()
    for where, row in rows_of(data, name, seen):
        cell = _read(row, columns, places, seen, where)
        if cell.id in known:
            raise FormatError(
                "A cell stands in the file twice.",
                where=where,
                got=cell.id,
                expected="each cell once",
            )
        known.add(cell.id)
        rows.append(cell)
        if len(rows) > MAX_CELLS:
            raise FormatError("Too many cells.", where=name, expected=f"at most {MAX_CELLS}")
    if not rows:
        raise FormatError("There are no cells in this file.", where=name)
    scale = {key: _thousandth(key, columns, rows, name) for key in THOUSANDS}
    return [_cell(row, scale) for row in rows]


@dataclass(frozen=True, slots=True)
class _Row:
    """One row as it stands in the file: numbers by our names, nan where nothing was measured."""

    id: str
    where: str
    numbers: dict[str, float]
    days: float
    damage: str


# A column whose title names no unit is in mAh, mΩ or mV if its middle value is above this.
THOUSANDS = {"capacity_ah": 400.0, "r_ohm": 0.5, "rested_v": 100.0, "rested_2_v": 100.0}


SYMBOLS = {"capacity_ah": "Ah", "r_ohm": "Ω", "rested_v": "V", "rested_2_v": "V"}


def _thousandth(key: str, columns: dict[str, Column], rows: list[_Row], name: str) -> float:
    """Factor of a whole column: a dead cell of 350 in a column of mAh is no 350 Ah. Raises FormatError
    where the unit in the title cannot be."""
    known = [x for row in rows if not math.isnan(x := row.numbers[key])] if key in columns else []
    if not known or median(known) <= THOUSANDS[key]:
        return 1.0
    if columns[key].unit:
        raise FormatError(
            "No cell has such values.",
            where=f"{name}, column {columns[key].column}",
            got=f"{median(known):g} {SYMBOLS[key]} in the middle",
            expected=f"a thousandth of it: the title names the unit as {columns[key].unit}",
        )
    return 1e-3


def _read(
    row: list[str], columns: dict[str, Column], places: dict[str, int], seen: Sniffed, where: str
) -> _Row:
    def words(key: str) -> str:
        index = places.get(key, len(row))
        return row[index] if index < len(row) else ""

    def get(key: str) -> float:
        text = words(key)
        if not text:
            return math.nan
        return number(text, columns[key], seen, f"{where}, column {columns[key].column}")

    cell_id = words("id")
    if not cell_id:
        raise FormatError("A row has no cell name.", where=where)
    days = get("days")
    if math.isnan(days):
        days = _days(words("rested_on"), words("rested_2_on"), where)
    return _Row(cell_id, where, {key: get(key) for key in THOUSANDS}, days, words("damage"))


def _cell(row: _Row, scale: dict[str, float]) -> MeasuredCell:
    capacity, ohm, first, second = (row.numbers[key] * scale[key] for key in THOUSANDS)
    if not 0 < (1.0 if math.isnan(capacity) else capacity) < 1000 or ohm <= 0:
        raise FormatError(
            "This cannot be a cell.",
            where=row.where,
            got=f"{capacity:g} Ah, {ohm:g} Ω",
            expected="a capacity above 0 and below 1000 Ah, and a positive resistance",
        )
    fade = (first - second) / row.days if row.days > 0 else math.nan
    return MeasuredCell(row.id, capacity, ohm, fade, first, row.damage)


DATES = ("%Y-%m-%d", "%d.%m.%Y", "%Y/%m/%d")


def _days(first: str, second: str, where: str) -> float:
    """Days between two dates; nan unless both are given. Raises FormatError."""
    if not first or not second:
        return math.nan
    found = []
    for text in (first, second):
        for form in DATES:
            try:
                found.append(datetime.strptime(text[:10], form))
                break
            except ValueError:
                continue
        else:
            raise FormatError(
                "This is not a date.",
                where=where,
                got=repr(text[:20]),
                expected="2031-05-04 or 04.05.2031",
            )
    gap = (found[1] - found[0]).days
    if gap <= 0:
        raise FormatError(
            "The second date is not after the first.", where=where, got=f"{first}, {second}"
        )
    return float(gap)


def write_assignment(sorting: Sorting) -> bytes:
    """One row a cell: where it goes, or why it stays out. In the order of assembly; before them, in rows of no cell,
    what to see to before any are joined."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["cell", "group", "place", "group_capacity_ah", "reason"])
    for words in sorting.cautions:
        writer.writerow(["", "", "", "", safe(f"caution: {words}")])
    for g in sorting.groups:
        for place, cell in enumerate(g.cells, 1):
            writer.writerow([safe(cell), g.number, place, f"{g.capacity_ah:.4f}", ""])
    for r in sorting.rejects:
        writer.writerow([safe(r.id), "", "", "", safe(r.reason)])
    for cell in sorting.spare:
        writer.writerow([safe(cell), "", "", "", "spare"])
    return out.getvalue().encode()


def write_cells(cells: list[MeasuredCell], days: float) -> bytes:
    """A tester's CSV of cells."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(
        ["cell", "capacity [mAh]", "resistance [mΩ]", "rested [V]", "rested 2 [V]", "days"]
    )
    for c in cells:
        writer.writerow(
            [
                c.id,
                f"{c.capacity_ah * 1000:.0f}",
                f"{c.r_ohm * 1000:.1f}",
                f"{c.rested_v:.3f}",
                f"{c.rested_v - c.fade_v_day * days:.3f}",
                f"{days:g}",
            ]
        )
    return out.getvalue().encode()
