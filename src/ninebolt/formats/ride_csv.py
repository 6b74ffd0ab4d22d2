"""Ride logs as CSV of any separator, decimal mark, header and unit.

Read: sniff -> mapping (guessed, or given) -> Ride. Nothing is dropped in silence: what was skipped
stands in Ride.issues with its line.
"""

from __future__ import annotations

import csv
import io
import math
import re
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from ninebolt.core.logs.ride import Ride
from ninebolt.errors import FormatError, QuantityError, TooLargeError
from ninebolt.units import parse_quantity, quantity_of

MAX_BYTES = 64_000_000
MAX_ROWS = 2_000_000
MIN_HZ = 0.4

# Our column -> words seen in headers, lower case, without unit. Common practice, no source.
ALIASES: dict[str, tuple[str, ...]] = {
    "t_s": ("t", "time", "timestamp", "elapsed", "seconds", "zeit", "tid", "utc", "date time"),
    "speed_m_s": ("speed", "velocity", "v", "gps speed", "gps_speed", "spd", "ground speed"),
    "lat_deg": ("lat", "latitude"),
    "lon_deg": ("lon", "lng", "long", "longitude"),
    "altitude_m": ("alt", "altitude", "elevation", "height", "ele"),
    "bus_v": ("volts", "voltage", "bus", "pack v", "battery voltage", "bus voltage", "vbat"),
    "line_a": ("line", "line amps", "battery current", "battery amps", "pack current", "ibat"),
    "phase_a": ("phase", "phase amps", "phase current", "motor current"),
    "motor_c": ("motor temp", "motor temperature", "temp motor", "winding", "motor"),
    "rpm": ("rpm", "erpm", "motor speed"),
    "throttle": ("throttle", "twist"),
}
UNIT_OF = {"lat_deg": "deg", "lon_deg": "deg", "throttle": "ratio"}
SUFFIXES = ("m_s", "km_h", "kmh", "kph", "mph", "deg", "s", "ms", "v", "a", "c", "m", "rpm", "f")
SPELT = {"m_s": "m/s", "km_h": "km/h", "kmh": "km/h", "kph": "km/h", "deg": "", "rpm": ""}

_BRACKET = re.compile(r"^(.*?)\s*[\[(]\s*([^\])]*)\s*[\])]\s*$")


@dataclass(frozen=True, slots=True)
class Column:
    """Which column of the file feeds one of ours, and the unit it is written in."""

    name: str
    column: str
    unit: str


@dataclass(frozen=True, slots=True)
class Sniffed:
    """What a file looks like before it is read. rows: the first few, as text."""

    separator: str
    decimal: str
    header: tuple[str, ...]
    header_line: int
    rows: tuple[tuple[str, ...], ...]
    mapping: tuple[Column, ...]


def _text(data: bytes, name: str) -> str:
    if len(data) > MAX_BYTES:
        raise TooLargeError(
            "The log is too large.",
            where=name,
            got=f"{len(data) / 1e6:.0f} MB",
            expected=f"at most {MAX_BYTES / 1e6:.0f} MB",
        )
    if not data.strip():
        raise FormatError(
            "The file is empty.",
            where=name,
            expected="a header line and rows",
            todo="Export the log again.",
        )
    if b"\0" in data[:4096] and not data.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise FormatError(
            "This is a binary file, not a text log.",
            where=name,
            expected="CSV text, GPX or NMEA",
            todo="Export it as CSV from the logger's own program.",
        )
    for encoding in ("utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig", "cp1252"):
        try:
            return data.decode(encoding)
        except UnicodeDecodeError:
            continue
    raise FormatError("The text of this file cannot be decoded.", where=name, expected="UTF-8")


def sniff(data: bytes, name: str) -> Sniffed:
    """Separator, decimal mark, header and a guessed mapping. Raises FormatError."""
    lines = _text(data, name).splitlines()
    start = next((i for i, x in enumerate(lines) if x.strip() and not x.startswith("#")), 0)
    head = lines[start]
    counts = {s: head.count(s) for s in (";", "\t", "|", ",")}
    separator = max(counts, key=lambda s: counts[s])
    if counts[separator] == 0:
        raise FormatError(
            "This is not a table: the first line has one column.",
            where=name,
            got=repr(head[:60]),
            expected="columns parted by comma, semicolon or tab",
        )
    rows = list(csv.reader(lines[start : start + 9], delimiter=separator))
    header = tuple(c.strip() for c in rows[0])
    if all(_is_number(c) for c in header if c):
        raise FormatError(
            "The first line holds numbers, not column names.",
            where=f"{name}, line {start + 1}",
            got=repr(head[:60]),
            expected="a header such as time [s], speed [km/h]",
        )
    body = tuple(tuple(r) for r in rows[1:] if any(c.strip() for c in r))
    if not body:
        raise FormatError(
            "There is a header but no rows.",
            where=f"{name}, line {start + 2}",
            expected="at least one row of numbers",
        )
    comma = separator != "," and any(re.search(r"\d,\d", c) for r in body for c in r)
    return Sniffed(separator, "," if comma else ".", header, start + 1, body, guess(header))


def _is_number(cell: str) -> bool:
    return bool(re.fullmatch(r"[+-]?[\d.,]+(?:[eE][+-]?\d+)?", cell.strip()))


def _split_unit(title: str) -> tuple[str, str]:
    """('speed', 'km/h') from 'Speed [km/h]', 'speed_kmh', 'speed_m_s'; unit '' if none."""
    if match := _BRACKET.match(title):
        return match.group(1).strip().lower().replace("_", " "), match.group(2).strip()
    low = title.strip().lower()
    for suffix in SUFFIXES:
        if low.endswith(f"_{suffix}"):
            return low[: -len(suffix) - 1].replace("_", " "), SPELT.get(suffix, suffix)
    return low.replace("_", " "), ""


def guess(header: tuple[str, ...]) -> tuple[Column, ...]:
    """Our columns found among the titles by name; units from the titles, SI where none is given."""
    out: list[Column] = []
    taken: set[str] = set()
    for ours, words in ALIASES.items():
        for title in header:
            base, unit = _split_unit(title)
            if title not in taken and (base in words or title.lower() == ours):
                out.append(Column(ours, title, _known_unit(ours, unit)))
                taken.add(title)
                break
    return tuple(out)


def _known_unit(ours: str, unit: str) -> str:
    key = UNIT_OF.get(ours) or quantity_of(ours).key
    try:
        parse_quantity(f"1 {unit}", key)
    except QuantityError:
        return ""
    return unit


def read_ride(data: bytes, name: str, mapping: tuple[Column, ...] | None = None) -> Ride:
    """The log as SI columns. Raises FormatError naming file, line and column."""
    seen = sniff(data, name)
    columns = mapping if mapping is not None else seen.mapping
    places = _places(columns, seen.header, name)
    lines = _text(data, name).splitlines()[seen.header_line :]
    if len(lines) > MAX_ROWS:
        raise TooLargeError(
            "The log has too many rows.",
            where=name,
            got=str(len(lines)),
            expected=f"at most {MAX_ROWS}",
        )
    table: dict[str, list[float]] = {c.name: [] for c, _ in places}
    skipped: list[int] = []
    base: list[float] = []
    for number, row in enumerate(csv.reader(lines, delimiter=seen.separator), seen.header_line + 1):
        if not any(c.strip() for c in row):
            continue
        values = _row(row, places, seen, f"{name}, line {number}", base)
        if values is None:
            skipped.append(number)
            continue
        _check_time(table["t_s"], values[0], f"{name}, line {number}", columns[0].column)
        if table["t_s"] and values[0] == table["t_s"][-1]:
            skipped.append(number)
            continue
        for (column, _), value in zip(places, values, strict=True):
            table[column.name].append(value)
    if not table["t_s"]:
        raise FormatError(
            "No row could be used.",
            where=name,
            got=f"{len(skipped)} rows skipped",
            expected="numbers in the time and speed columns",
        )
    return _ride(name, table, skipped)


def _ride(name: str, table: dict[str, list[float]], skipped: list[int]) -> Ride:
    arrays = {k: np.asarray(v, dtype=np.float64) for k, v in table.items()}
    arrays["t_s"] = arrays["t_s"] - arrays["t_s"][0]
    issues = []
    if skipped:
        issues.append(
            f"{len(skipped)} rows without a number or with a repeated time were left out, the "
            f"first at line {skipped[0]}"
        )
    if len(arrays["t_s"]) > 2 and float(np.median(np.diff(arrays["t_s"]))) > 1.0 / MIN_HZ:
        raise FormatError(
            "The samples are too far apart for a run.",
            where=name,
            got=f"one each {float(np.median(np.diff(arrays['t_s']))):.3g} s",
            expected="at least one in 2.5 s",
            todo="Check the unit of the time column.",
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
    if "speed_m_s" not in names and not {"lat_deg", "lon_deg"} <= names:
        raise FormatError(
            "No column holds the speed.",
            where=name,
            got=", ".join(header)[:120],
            expected="'speed [km/h]', or latitude and longitude",
            todo="Say which column it is.",
        )
    ordered = sorted(columns, key=lambda c: c.name != "t_s")
    out = []
    for column in ordered:
        if column.column not in header:
            raise FormatError(
                f"There is no column '{column.column}'.", where=name, got=", ".join(header)[:120]
            )
        out.append((column, header.index(column.column)))
    return out


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
    base: list[float],
) -> list[float] | None:
    """Values of one row in SI; None when a needed cell is blank; error when it is no number."""
    out = []
    for column, index in places:
        cell = row[index].strip() if index < len(row) else ""
        needed = column.name in ("t_s", "speed_m_s", "lat_deg", "lon_deg")
        if not cell:
            if needed:
                return None
            out.append(math.nan)
            continue
        spot = f"{where}, column {column.column}"
        out.append(
            _time(cell, column, seen, spot, base)
            if column.name == "t_s"
            else _number(cell, column, seen, spot)
        )
    return out


def _number(cell: str, column: Column, seen: Sniffed, where: str) -> float:
    text = cell.replace(",", ".") if seen.decimal == "," else cell
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise FormatError(
            "This is not a number.",
            where=where,
            got=repr(cell[:40]),
            expected=f"a number with decimal '{seen.decimal}'",
            todo="Leave the cell empty where nothing was measured.",
        )
    key = UNIT_OF.get(column.name) or quantity_of(column.name).key
    if not column.unit:
        return value
    one, zero = (parse_quantity(f"{x} {column.unit}", key) for x in (1, 0))
    return value * (one - zero) + zero


def _time(cell: str, column: Column, seen: Sniffed, where: str, base: list[float]) -> float:
    """Seconds from a number, a clock time (12:01:02.5) or an ISO date and time."""
    if re.fullmatch(r"[+-]?[\d.,]+(?:[eE][+-]?\d+)?", cell):
        return _number(cell, column, seen, where)
    clock = cell.replace(",", ".")
    try:
        if re.fullmatch(r"\d{1,2}:\d{2}(:\d{2}(\.\d+)?)?", clock):
            parts = [float(x) for x in clock.split(":")]
            return parts[0] * 3600 + parts[1] * 60 + (parts[2] if len(parts) > 2 else 0.0)
        stamp = datetime.fromisoformat(clock).timestamp()
    except ValueError as error:
        raise FormatError(
            "This is not a time.",
            where=where,
            got=repr(cell[:40]),
            expected="seconds, 12:01:02.5 or 2024-05-01T12:01:02.5Z",
        ) from error
    if not base:
        base.append(stamp)
    return stamp - base[0]


def write_ride(ride: Ride) -> bytes:
    """CSV with SI units in the titles."""
    out = io.StringIO()
    names = list(ride.columns)
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(names)
    for row in zip(*(ride.columns[n] for n in names), strict=True):
        writer.writerow(["" if math.isnan(x) else f"{x:.7g}" for x in row])
    return out.getvalue().encode()
