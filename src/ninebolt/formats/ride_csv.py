"""Ride logs as CSV of any separator, decimal mark, header and unit.

Read: sniff -> mapping (guessed, or given) -> Ride. Nothing is dropped in silence: what was skipped
stands in Ride.issues with its line.
"""

from __future__ import annotations

import csv
import io
import math
import re
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from ninebolt.core.logs.clock import usual_step
from ninebolt.core.logs.ride import Floats, Ride
from ninebolt.core.logs.trust import APART, MISTAKEN, looks_like_speed, second_speed
from ninebolt.errors import FormatError, NineBoltError, TooLargeError
from ninebolt.formats.clocks import Clock, time_cell, time_unit
from ninebolt.formats.quick_table import mixed_columns, quick_columns
from ninebolt.formats.ride_columns import Rules, from_cells
from ninebolt.formats.table import (
    Column,
    Sniffed,
    checked,
    head_of,
    lines_of,
    number,
    place_of,
    scale_of,
    sniff,
    split_rows,
    text_of,
)

MAX_ROWS = 2_000_000
MAX_ODD_ROWS = 300_000
MIN_HZ = 0.4
HEAD_ROWS = 64  # looked at first for a number, most columns have one there
SPEED_WORDS = re.compile(r"speed|veloc|\bsog\b", re.I)  # titles of columns that hold a speed
TURNS = re.compile(
    r"rpm|rad|1/min|motor|rotor|limit|target", re.I
)  # and of those that hold another one
# Seven digits of a degree are a metre of the way; of a time, a tenth of a second after a day.
FORMS = {"lat_deg": ".10g", "lon_deg": ".10g", "t_s": ".10g"}
NOTE = "# note: "  # a line before the titles that stays with the log
NEEDED = ("t_s", "speed_m_s", "lat_deg", "lon_deg")
NOT_MEASURED = ("nan", "-nan", "null", "none", "n/a", "na", "-", "--")  # written for "no value"

# Our column -> words seen in headers, lower case, without unit. Common practice, no source.
ALIASES: dict[str, tuple[str, ...]] = {
    "t_s": (
        "t",
        "time",
        "timestamp",
        "elapsed",
        "elapsed time",
        "seconds",
        "zeit",
        "tid",
        "temps",
        "tiempo",
        "utc",
        "ts",
        "date time",
        "datetime",
        "gps time",
        "session time",
        "trip time",
        "run time",
        "log time",
        "time of day",
        "millis",
        "milliseconds",
        "micros",
        "microseconds",
    ),
    "speed_m_s": (
        "speed",
        "velocity",
        "v",
        "gps speed",
        "gps_speed",
        "spd",
        "ground speed",
        "speed over ground",
        "sog",
        "gps velocity",
        "vehicle speed",
        "geschwindigkeit",
        "vitesse",
        "velocidad",
        "hastighet",
        "fart",
        "snelheid",
    ),
    "lat_deg": ("lat", "latitude"),
    "lon_deg": ("lon", "lng", "long", "longitude"),
    "altitude_m": ("alt", "altitude", "elevation", "height", "ele"),
    "bus_v": (
        "volts",
        "voltage",
        "pack",
        "battery",
        "pack volts",
        "battery volts",
        "bus",
        "pack v",
        "battery voltage",
        "bus voltage",
        "vbat",
    ),
    "line_a": ("line", "line amps", "battery current", "battery amps", "pack current", "ibat"),
    "phase_a": ("phase", "phase amps", "phase current", "motor current"),
    "motor_c": ("motor temp", "motor temperature", "temp motor", "winding", "motor"),
    "controller_c": (
        "controller temp",
        "controller temperature",
        "temp controller",
        "controller",
        "power stage",
    ),
    "cells_c": (
        "cell temp",
        "cell temperature",
        "cells",
        "battery temp",
        "battery temperature",
        "pack temp",
    ),
    "rpm": ("rpm", "motor rpm", "motor speed"),
    "erpm": ("erpm", "electrical rpm"),
    "throttle": ("throttle", "twist"),
}


def sniff_ride(data: bytes, name: str) -> Sniffed:
    """What a log looks like; the unit of a time that counts from 1970, or is called by its unit, found. Raises
    FormatError."""
    seen = sniff(data, name, ALIASES)
    time = next((c for c in seen.mapping if c.name == "t_s" and not c.unit), None)
    unit = time_unit(seen, time.column) if time else ""
    rest = tuple(replace(c, unit=unit) if c is time else c for c in seen.mapping)
    return replace(seen, mapping=rest) if unit else seen


def read_ride(data: bytes, name: str, mapping: tuple[Column, ...] | None = None) -> Ride:
    """The log as SI columns. Raises FormatError naming file, line and column."""
    seen = sniff_ride(data, name)
    columns = checked(mapping, ALIASES, name) if mapping is not None else seen.mapping
    places = _places(columns, seen.header, name)
    found = quick_columns(data, seen)
    if found is not None:
        if len(found[0]) > MAX_ROWS:
            raise _too_many(name, len(found[0]))
        quick = _quick(found, places)
        if quick is not None:
            used = {i for _, i in places}
            others = {
                title: found[i] for i, title in enumerate(seen.header) if title and i not in used
            }
            ride = _ride(name, quick, [], {}, _notes(head_of(data, name), seen))
            return _asked(ride, others, places, mapping)
    cells = mixed_columns(data, seen, places[0][1])
    if cells is not None:
        if len(cells[0]) > MAX_ROWS:
            raise _too_many(name, len(cells[0]))
        table = from_cells(cells, places, seen, _rules(cells, places, seen, name))
        if table is not None:
            _some_row(table.columns["t_s"], len(table.skipped), name)
            under = seen.header_line + 1
            odd = {k: [i + under for i in v] for k, v in table.odd.items()}
            skipped = [i + under for i in table.skipped]
            ride = _ride(name, table.columns, skipped, odd, _notes(head_of(data, name), seen))
            return _asked(ride, table.others, places, mapping)
    every = lines_of(text_of(data, name), name)
    lines = every[seen.header_line :]
    if len(lines) > MAX_ROWS:
        raise _too_many(name, len(lines))
    if len(lines) > MAX_ODD_ROWS:
        raise TooLargeError(
            "The log has too many rows for one with quotes, mixed clocks or unusual ends of lines.",
            where=name,
            got=str(len(lines)),
            expected=f"at most {MAX_ODD_ROWS}, or cells without quotes",
            todo="Split the file, or export it without quotes.",
        )
    ride = _row_by_row(lines, places, seen, columns, name, _notes(every, seen))
    count = len(ride.columns["t_s"])
    return _asked(ride, _others(lines, {i for _, i in places}, seen, count), places, mapping)


def _rules(cells: list[Any], places: list[tuple[Column, int]], seen: Sniffed, name: str) -> Rules:
    """The judgement of single rows, for a table that is read by its columns."""

    def fails(i: int) -> None:
        line = seen.header_line + 1 + i
        row = [str(column[i]) for column in cells]
        _row(row, places, seen, f"{name}, line {line}", Clock(), {}, line)

    def back(i: int, last: float, now: float) -> None:
        line = seen.header_line + 1 + i
        _check_time([last], now, f"{name}, line {line}", places[0][0].column)

    return Rules(NEEDED, NOT_MEASURED, lambda cell: _lenient(cell, seen), fails, back)


def _some_row(times: Sequence[float] | Floats, skipped: int, name: str) -> None:
    if not len(times):
        raise FormatError(
            "No row could be used.",
            where=name,
            got=f"{skipped} rows skipped",
            expected="numbers in the time and speed columns",
        )


def _too_many(name: str, count: int) -> TooLargeError:
    return TooLargeError(
        "The log has too many rows.", where=name, got=str(count), expected=f"at most {MAX_ROWS}"
    )


def _notes(lines: list[str], seen: Sniffed) -> tuple[str, ...]:
    return tuple(x[len(NOTE) :] for x in lines[: seen.header_line] if x.startswith(NOTE))


def _asked(
    ride: Ride,
    others: dict[str, Floats],
    places: list[tuple[Column, int]],
    mapping: tuple[Column, ...] | None,
) -> Ride:
    """What was only guessed is asked about where it decides: a column that goes with the positions and is not read as
    speed; a speed whose title holds a unit that is none. Raises FormatError."""
    speed = next((c for c, _ in places if c.name == "speed_m_s"), None)
    if speed is not None:
        ride = _with_second(ride, others)
        if mapping is None and not speed.unit:
            _known_or_asked(speed, ride.name)
            words = "the title of the speed holds no unit; it was read as m/s"
            return replace(ride, issues=(*ride.issues, words))
        return ride
    if mapping is not None or not {"lat_deg", "lon_deg"} <= set(ride.columns):
        return ride
    found = looks_like_speed(ride, others)
    if found is None:
        return ride
    unit = next((u for u, f in MISTAKEN.items() if abs(found[1] / f - 1.0) < APART), "")
    unit = "m/s" if abs(found[1] - 1.0) < APART else unit
    raise FormatError(
        "A column that was not read goes with the speed over ground.",
        where=f"{ride.name}, column {found[0]}",
        got=f"{found[1]:.3g} times the positions' m/s" + (f": {unit}, it seems" if unit else ""),
        expected="to be told which column holds the speed, and its unit",
        todo="Name it in the mapping; or give the mapping without a speed to read the positions.",
    )


def _with_second(ride: Ride, others: dict[str, Floats]) -> Ride:
    """A speed that is logged twice and not alike is said."""
    speed = ride.columns.get("speed_m_s")
    if speed is None:
        return ride
    said = [
        second_speed(speed, title, _over_m_s(title), values)
        for title, values in others.items()
        if SPEED_WORDS.search(title) and not TURNS.search(title) and len(values) == len(speed)
    ]
    return replace(ride, issues=(*ride.issues, *(w for w in said if w)))


def _over_m_s(title: str) -> float:
    """What the unit in a title is in m/s; 1 where there is none that is known."""
    said = re.search(r"[\[(]\s*([^\])]{1,12}?)\s*[\])]", title[:200])
    if said is None:
        return 1.0
    try:
        return scale_of(Column("speed_m_s", title, said.group(1)))[0]
    except NineBoltError:
        return 1.0


def _known_or_asked(speed: Column, name: str) -> None:
    said = re.search(r"[\[(]\s*([^\])]+?)\s*[\])]", speed.column)
    if said is not None:
        raise FormatError(
            "The unit of the speed is not known.",
            where=f"{name}, column {speed.column}",
            got=said.group(1)[:20],
            expected="m/s, km/h, mph, kn or ft/s",
            todo="Say the unit in the mapping.",
        )


def _others(lines: list[str], used: set[int], seen: Sniffed, count: int) -> dict[str, Floats]:
    """Columns of numbers that nothing was made of, where as many rows as the ride's can be read."""
    rows = [r for r in split_rows(lines, seen.separator, "") if any(c.strip() for c in r)]
    out: dict[str, Floats] = {}
    if len(rows) != count:
        return out
    for i, title in enumerate(seen.header):
        if i not in used and title:
            out[title] = np.array([_lenient(r[i] if i < len(r) else "", seen) for r in rows])
    return out


def _lenient(cell: str, seen: Sniffed) -> float:
    """A number, or none."""
    text = cell.strip().replace(",", ".") if seen.decimal == "," else cell.strip()
    try:
        value = float(text)
    except ValueError:
        return math.nan
    return value if math.isfinite(value) else math.nan


def _has_number(values: Floats) -> bool:
    return bool(np.isfinite(values[:HEAD_ROWS]).any() or np.isfinite(values).any())


def _quick(table: list[Floats], places: list[tuple[Column, int]]) -> dict[str, Floats] | None:
    """Our columns of a table of numbers, where none that is needed has a blank; else None."""
    out: dict[str, Floats] = {}
    for column, index in places:
        factor, zero = scale_of(column)
        values = table[index]
        if (factor, zero) != (1.0, 0.0):
            values = values * factor + zero
        if not (np.isfinite(values).all() if column.name in NEEDED else _has_number(values)):
            return None
        out[column.name] = values
    return None if (np.diff(out["t_s"]) <= 0).any() else out


def _row_by_row(
    lines: list[str],
    places: list[tuple[Column, int]],
    seen: Sniffed,
    columns: tuple[Column, ...],
    name: str,
    notes: tuple[str, ...],
) -> Ride:
    """With words about what is wrong in which line."""
    table: dict[str, list[float]] = {c.name: [] for c, _ in places}
    skipped: list[int] = []
    odd: dict[str, list[int]] = {}
    clock = Clock()
    rows = split_rows(lines, seen.separator, name)
    for line, row in enumerate(rows, seen.header_line + 1):
        if not any(c.strip() for c in row):
            continue
        values = _row(row, places, seen, f"{name}, line {line}", clock, odd, line)
        if values is None:
            skipped.append(line)
            continue
        _check_time(table["t_s"], values[0], f"{name}, line {line}", places[0][0].column)
        if table["t_s"] and values[0] == table["t_s"][-1]:
            skipped.append(line)
            continue
        for (column, _), value in zip(places, values, strict=True):
            table[column.name].append(value)
    _some_row(table["t_s"], len(skipped), name)
    return _ride(
        name, {k: np.asarray(v, dtype=np.float64) for k, v in table.items()}, skipped, odd, notes
    )


def _ride(
    name: str,
    arrays: dict[str, Floats],
    skipped: list[int],
    odd: dict[str, list[int]],
    notes: tuple[str, ...],
) -> Ride:
    arrays["t_s"] = arrays["t_s"] - arrays["t_s"][0]
    issues = list(notes)
    issues += [
        f"column {column}: {len(rows)} without a number count as not measured, the first at line {rows[0]}"
        for column, rows in odd.items()
    ]
    empty = [k for k, v in arrays.items() if not _has_number(v)]
    for k in empty:
        issues.append(f"column {k} holds no number at all and is left out")
        del arrays[k]
    if skipped:
        issues.append(
            f"{len(skipped)} row{'s' if skipped[1:] else ''} without a number or with a repeated time left "
            f"out, the first at line {skipped[0]}"
        )
    step = usual_step(arrays["t_s"]) if len(arrays["t_s"]) > 2 else 0.0
    if step > 1.0 / MIN_HZ:
        raise FormatError(
            "The samples are too far apart for a run.",
            where=name,
            got=f"one each {step:.3g} s",
            expected="at least one in 2.5 s",
            todo="Say the unit of the time column"
            + (
                f": as ms it is one each {step / 1e3:.3g} s." if step / 1e3 <= 1.0 / MIN_HZ else "."
            ),
        )
    return Ride(name, arrays, tuple(issues))


def _places(
    columns: tuple[Column, ...], header: tuple[str, ...], name: str
) -> list[tuple[Column, int]]:
    names = {c.name for c in columns}
    if "t_s" not in names:
        raise FormatError(
            "No column holds the time.",
            where=name,
            got=", ".join(header)[:120],
            expected="a column such as 'time [s]'",
            todo="Say which column it is.",
        )
    turns = names & {"rpm", "erpm"}
    if "speed_m_s" not in names and not {"lat_deg", "lon_deg"} <= names and not turns:
        raise FormatError(
            "No column holds the speed.",
            where=name,
            got=", ".join(header)[:120],
            expected="'speed [km/h]', or latitude and longitude",
            todo="Say which column it is.",
        )
    ordered = sorted(columns, key=lambda c: c.name != "t_s")
    return [(column, place_of(column, header, name)) for column in ordered]


def _check_time(times: list[float], now: float, where: str, column: str) -> None:
    if times and now < times[-1]:
        raise FormatError(
            "Time goes backwards.",
            where=f"{where}, column {column}",
            got=f"{now:g} s after {times[-1]:g} s",
            expected="rising times",
            todo="Split the file where the logger restarted.",
        )


def _row(
    row: list[str],
    places: list[tuple[Column, int]],
    seen: Sniffed,
    where: str,
    clock: Clock,
    odd: dict[str, list[int]],
    line: int,
) -> list[float] | None:
    """Values of one row in SI; None when a needed cell is blank; error when a needed one is no number. In the other
    columns that costs the cell: odd notes its line."""
    out = []
    for column, index in places:
        cell = row[index].strip() if index < len(row) else ""
        needed = column.name in NEEDED
        if not cell:
            if needed:
                return None
            out.append(math.nan)
            continue
        if not needed and math.isnan(_lenient(cell, seen)):
            if cell.lower() not in NOT_MEASURED:
                odd.setdefault(column.column, []).append(line)
            out.append(math.nan)
            continue
        if column.name != "t_s" and cell.lower() in NOT_MEASURED:
            return None
        spot = f"{where}, column {column.column}"
        out.append(
            time_cell(cell, column, seen, spot, clock)
            if column.name == "t_s"
            else number(cell, column, seen, spot)
        )
    return out


def write_ride(ride: Ride) -> bytes:
    """CSV with SI units in the titles; what the ride's reader said stands before them and is read back."""
    out = io.StringIO()
    out.writelines(f"{NOTE}{' '.join(x.split())}\n" for x in ride.issues)
    names = list(ride.columns)
    forms = [FORMS.get(n, ".7g") for n in names]
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(names)
    for row in zip(*(ride.columns[n] for n in names), strict=True):
        cells = zip(forms, row, strict=True)
        writer.writerow(["" if math.isnan(x) else f"{x:{form}}" for form, x in cells])
    return out.getvalue().encode()
