"""A ride's columns made of columns of cells: clock times, blank and odd cells, repeated times, each as the reader of
single rows takes them."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ninebolt.core.logs.ride import Floats
from ninebolt.formats.clocks import CLOCK, DATED, DAY_S, LAP, MIDNIGHT_S, NUMBER, STAMP
from ninebolt.formats.table import Column, Sniffed, scale_of

if TYPE_CHECKING:
    import polars

LOOKED_AT = 1000  # cells that are no number for the library, tried by Python
Bools = NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Table:
    """What a table came to. lines are counted from 0 under the header."""

    columns: dict[str, Floats]
    skipped: list[int]
    odd: dict[str, list[int]]
    others: dict[str, Floats]


@dataclass(frozen=True, slots=True)
class Rules:
    """How the reader of single rows judges. needed: columns a row is nothing without. nothing: words for "not
    measured". lenient: a number or nan of a cell. fails: raises for the line, or returns."""

    needed: tuple[str, ...]
    nothing: tuple[str, ...]
    lenient: Callable[[str], float]
    fails: Callable[[int], None]
    back: Callable[[int, float, float], None]


def from_cells(
    cells: list[polars.Series], places: list[tuple[Column, int]], seen: Sniffed, rules: Rules
) -> Table | None:
    """None where a cell has to be looked at by itself."""
    blank = _all_blank(cells)
    time = _times(cells[places[0][1]], places[0][0], seen)
    if time is None:
        return None
    made: dict[str, Floats] = {}
    odd: dict[str, list[int]] = {}
    left_out = np.zeros(len(blank), dtype=bool)
    wrong = np.zeros(len(blank), dtype=bool)
    for column, index in places:
        text = cells[index]
        empty = _blank(text)
        said = np.zeros(len(blank), dtype=bool)
        if column.name == "t_s":
            values = time
        else:
            found = _numbers(text, seen, rules.lenient)
            if found is None:
                return None
            said = _said_nothing(text, rules.nothing) & ~empty
            factor, zero = scale_of(column)
            values = found * factor + zero if (factor, zero) != (1.0, 0.0) else found
        none = ~np.isfinite(values) & ~empty & ~said
        if column.name in rules.needed:
            left_out |= (empty | said) & ~blank
            wrong |= none & ~blank & ~left_out
        elif none.any():
            odd[column.column] = np.flatnonzero(none).tolist()
        made[column.name] = values
    keep = ~blank & ~left_out
    first_wrong = int(np.flatnonzero(wrong)[0]) if wrong.any() else len(blank)
    at = np.flatnonzero(keep)
    steps = np.diff(time[at[at < first_wrong]])
    if (steps < 0).any():
        k = int(np.flatnonzero(steps < 0)[0])
        rules.back(int(at[k + 1]), float(time[at[k]]), float(time[at[k + 1]]))
    if first_wrong < len(blank):
        rules.fails(first_wrong)
        return None
    again = at[1:][steps == 0] if len(at) else at
    keep[again] = False
    skipped = np.flatnonzero(left_out & ~blank).tolist() + again.tolist()
    gone = left_out | blank
    odd = {k: kept for k, v in odd.items() if (kept := [i for i in v if not gone[i]])}
    others: dict[str, Floats] = {}
    if int((~blank).sum()) == int(keep.sum()):
        used = {i for _, i in places}
        for i, title in enumerate(seen.header):
            if i not in used and title:
                found = _numbers(cells[i], seen, rules.lenient)
                if found is None:
                    return None
                others[title] = found[keep]
    return Table({k: v[keep] for k, v in made.items()}, sorted(skipped), odd, others)


def _all_blank(cells: list[polars.Series]) -> Bools:
    out = np.ones(len(cells[0]), dtype=bool)
    for text in cells:
        out &= _blank(text)
        if not out.any():
            break
    return out


def _blank(cells: polars.Series) -> Bools:
    there = cells.is_null() if cells.dtype.is_float() else cells == ""
    return np.asarray(there.to_numpy())


def _said_nothing(cells: polars.Series, words: tuple[str, ...]) -> Bools:
    if cells.dtype.is_float():
        return np.asarray(cells.is_nan().fill_null(False).to_numpy())
    return np.asarray(cells.str.to_lowercase().is_in(list(words)).to_numpy())


def _numbers(text: polars.Series, seen: Sniffed, lenient: Callable[[str], float]) -> Floats | None:
    """nan where no finite number stands; None where the library and Python read a cell differently."""
    import polars

    if text.dtype.is_float():
        return np.asarray(text.fill_null(math.nan).to_numpy(), dtype=np.float64)
    plain = text.str.replace_all(",", ".", literal=True) if seen.decimal == "," else text
    values = plain.cast(polars.Float64, strict=False).fill_null(math.nan).to_numpy()
    values = np.where(np.isfinite(values), values, math.nan)
    failed = text.filter(polars.Series(np.isnan(values))).unique()
    if any(math.isfinite(lenient(x)) for x in failed.head(LOOKED_AT).to_list()):
        return None
    return np.asarray(values, dtype=np.float64)


def _times(text: polars.Series, column: Column, seen: Sniffed) -> Floats | None:
    """Seconds from numbers, clock times or ISO stamps, of the kind of the first cell; nan for another kind, None where
    the first is none of them."""
    import polars

    first = next(iter(text.filter(text != "").head(1)), "")
    plain = text.str.replace_all(",", ".", literal=True)
    if re.match(NUMBER, first):
        marked = (plain if seen.decimal == "," else text).set(~text.str.contains(NUMBER), None)
        values = marked.cast(polars.Float64, strict=False).fill_null(math.nan).to_numpy()
        factor, zero = scale_of(column)
        return np.asarray(values * factor + zero, dtype=np.float64)
    if re.match(CLOCK, first.replace(",", ".")):
        return over_midnight(_seconds([plain.str.extract(CLOCK, k) for k in (1, 2, 3)]))
    if re.match(LAP, first.replace(",", ".")):
        minutes, rest = (
            plain.str.extract(LAP, k).cast(polars.Float64, strict=False) for k in (1, 2)
        )
        return np.asarray((minutes * 60.0 + rest).fill_null(math.nan).to_numpy())
    if re.match(STAMP, first.replace(",", ".")):
        clock = _seconds([plain.str.extract(STAMP, k) for k in (2, 3, 4)])
        day = plain.str.extract(STAMP, 1) + "T00:00:00" + plain.str.extract(STAMP, 5).fill_null("")
        starts: dict[str, float] = {}
        for x in day.drop_nulls().unique().to_list():
            try:
                starts[x] = datetime.fromisoformat(x).timestamp()
            except ValueError:
                starts[x] = math.nan
        zero = next((v for v in starts.values() if math.isfinite(v)), 0.0)
        begun = day.replace_strict(starts, default=math.nan, return_dtype=polars.Float64)
        return np.asarray(clock + (begun.fill_null(math.nan).to_numpy() - zero))
    if re.match(DATED, first.replace(",", ".")):
        return _dated(plain)
    return None


def _dated(text: polars.Series) -> Floats:
    """Seconds from a date of any order and a time of day; each change of the date is one more day."""
    import polars

    h, m, s = (text.str.extract(DATED, k).cast(polars.Float64, strict=False) for k in (2, 3, 4))
    half = text.str.extract(DATED, 5).str.to_lowercase()
    hour = (h % 12).set(half.is_null(), None).fill_null(0.0) + h.set(
        half.is_not_null(), None
    ).fill_null(0.0)
    late = (half == "p").fill_null(False).cast(polars.Float64) * 12.0
    day = text.str.extract(DATED, 1).fill_null(strategy="forward")
    days = np.cumsum((day != day.shift(1)).fill_null(False).to_numpy())
    of_day = (hour + late) * 3600.0 + m * 60.0 + s.fill_null(0.0)
    return np.asarray(of_day.fill_null(math.nan).to_numpy() + days * DAY_S)


def over_midnight(clock: Floats) -> Floats:
    """Times of day [s] that go on after midnight: a fall from late in the day to early begins the next one."""
    out = clock.copy()
    there = np.isfinite(out)
    out[there] += DAY_S * np.cumsum(np.diff(out[there], prepend=out[there][:1]) < -MIDNIGHT_S)
    return out


def _seconds(parts: list[polars.Series]) -> Floats:
    """h, min, s as text to seconds; a blank cell is nan, a clock without seconds has none."""
    import polars

    h, m, s = (x.cast(polars.Float64, strict=False) for x in parts)
    return np.asarray((h * 3600.0 + m * 60.0 + s.fill_null(0.0)).fill_null(math.nan).to_numpy())
