"""A table as text: separator, decimal mark, header with units, a guessed mapping, one cell."""

from __future__ import annotations

import csv
import math
import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from itertools import islice

from ninebolt.errors import FormatError, QuantityError, TooLargeError
from ninebolt.units import parse_quantity, quantity_of

MAX_BYTES = 64_000_000
MAX_COLUMNS = 400
MAX_LINE = 60_000  # characters
MAX_CELL = 2_000
HEAD = 1 << 18  # bytes in which a header and the first rows stand
LOOKED_AT = 9  # lines from the header on
Aliases = dict[str, tuple[str, ...]]

# Titles that are a thing and no quantity: read only where a unit says which quantity of it.
THINGS = ("pack", "battery", "motor", "controller", "cells")
UNIT_OF = {"lat_deg": "deg", "lon_deg": "deg", "throttle": "ratio", "erpm": "rpm"}
ASKED = ("t_s", "speed_m_s", "lat_deg", "lon_deg")  # an unknown unit of these is asked about
SUFFIXES = (
    "m_s", "km_h", "kmh", "kph", "mph", "deg", "s", "ms", "min", "v", "mv", "a", "c", "m", "rpm", "f", "mah", "ah",
    "mohm", "ohm",
)  # fmt: skip
SPELT = {
    "m_s": "m/s", "km_h": "km/h", "kmh": "km/h", "kph": "km/h", "deg": "", "rpm": "",
    "mah": "mAh", "ah": "Ah", "mohm": "mΩ", "ohm": "Ω", "mv": "mV",
}  # fmt: skip
BARE = {
    "mah": ("capacity", "mAh"),
    "ah": ("capacity", "Ah"),
    "mohm": ("resistance", "mΩ"),
    "mω": ("resistance", "mΩ"),
}


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


def checked_bytes(data: bytes, name: str) -> bytes:
    """The bytes, if they can be a text at all. Raises TooLargeError, FormatError."""
    if len(data) > MAX_BYTES:
        raise TooLargeError(
            "The log is too large.",
            where=name,
            got=f"{len(data) / 1e6:.0f} MB",
            expected=f"at most {MAX_BYTES / 1e6:.0f} MB",
        )
    if not data[:HEAD].strip() and not data.strip():
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
    return data


def text_of(data: bytes, name: str) -> str:
    """Raises TooLargeError, FormatError."""
    checked_bytes(data, name)
    for encoding in ("utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig", "cp1252"):
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        if not text.strip():
            break
        return text
    raise FormatError(
        "The text of this file cannot be decoded, or there is none.", where=name, expected="UTF-8"
    )


def lines_of(text: str, name: str) -> list[str]:
    """Lines, each bounded. Raises FormatError with the line."""
    lines = text.splitlines()
    if max(map(len, lines), default=0) > MAX_LINE:
        long = next(i for i, x in enumerate(lines, 1) if len(x) > MAX_LINE)
        raise FormatError(
            "This line is too long for a table.",
            where=f"{name}, line {long}",
            got=f"{len(lines[long - 1])} characters",
            expected=f"at most {MAX_LINE}",
        )
    return lines


def head_of(data: bytes, name: str) -> list[str]:
    """The first lines, the header and some rows among them; the whole file where it is short, or odd."""
    cut = checked_bytes(data, name).rfind(b"\n", 0, HEAD) if len(data) > HEAD else -1
    if cut > 0 and b"\0" not in data[:4]:
        lines = lines_of(text_of(data[:cut], name), name)
        rows = (x for x in lines if x.strip() and not _is_comment(x))
        if len(list(islice(rows, LOOKED_AT))) == LOOKED_AT:  # they lie near the top
            return lines
    return lines_of(text_of(data, name), name)


def split_rows(lines: Iterable[str], separator: str, where: str) -> Iterator[list[str]]:
    """Rows of a table; what the csv module refuses is a FormatError."""
    rows = csv.reader(lines, delimiter=separator)
    while True:
        try:
            row = next(rows)
        except StopIteration:
            return
        except csv.Error as error:
            raise FormatError(
                f"This row cannot be read: {error}.", where=f"{where}, row {rows.line_num}"
            ) from error
        yield row


def sniff(data: bytes, name: str, aliases: Aliases) -> Sniffed:
    """Separator, decimal mark, header and a guessed mapping. Raises FormatError."""
    lines = head_of(data, name)
    start = next((i for i, x in enumerate(lines) if x.strip() and not _is_comment(x)), 0)
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
    if counts[separator] >= MAX_COLUMNS:
        raise FormatError(
            "There are too many columns.",
            where=f"{name}, line {start + 1}",
            got=str(counts[separator] + 1),
            expected=f"at most {MAX_COLUMNS}",
        )
    rows = list(split_rows(lines[start : start + LOOKED_AT], separator, name))
    header = tuple(c.strip()[:MAX_CELL] for c in rows[0])
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
    return Sniffed(
        separator, "," if comma else ".", header, start + 1, body, guess(header, aliases)
    )


def checked(columns: tuple[Column, ...], known: Iterable[str], name: str) -> tuple[Column, ...]:
    """A mapping that makes sense: our columns, each once, units that fit. Raises FormatError."""
    ours = set(known)
    for i, c in enumerate(columns):
        if c.name not in ours:
            raise FormatError(
                f"The mapping names {c.name[:40]!r}, which is none of the columns.",
                where=name,
                expected=", ".join(sorted(ours)),
            )
        if c.name in {x.name for x in columns[:i]}:
            raise FormatError(
                f"The mapping feeds {c.name} twice.", where=name, expected="each once"
            )
        if c.unit and _known_unit(c.name, c.unit) != c.unit:
            raise FormatError(
                f"'{c.unit[:20]}' is not a unit for {c.name}.", where=name, got=c.column[:40]
            )
    return columns


def place_of(column: Column, header: tuple[str, ...], name: str) -> int:
    """Where a mapped column stands. Raises FormatError if the file has no such column."""
    if header.count(column.column) > 1:
        raise FormatError(
            f"Two columns are called '{column.column[:60]}'.",
            where=name,
            expected="titles that differ",
            todo="Rename one in the file.",
        )
    if column.column not in header:
        raise FormatError(
            f"There is no column '{column.column[:60]}'.", where=name, got=", ".join(header)[:120]
        )
    return header.index(column.column)


def rows_of(data: bytes, name: str, seen: Sniffed) -> Iterator[tuple[str, list[str]]]:
    """(place for messages, cells) of each row under the header that is not blank."""
    lines = lines_of(text_of(data, name), name)[seen.header_line :]
    rows = split_rows(lines, seen.separator, name)
    for line, row in enumerate(rows, seen.header_line + 1):
        if any(c.strip() for c in row):
            yield f"{name}, line {line}", [c.strip() for c in row]


def _is_comment(line: str) -> bool:
    """A line that begins with #, unless that is the title of its first column."""
    return line.startswith("#") and not re.match(r"#\s*[,;\t|]", line)


def _is_number(cell: str) -> bool:
    return bool(re.fullmatch(r"[+-]?[\d.,]+(?:[eE][+-]?\d+)?", cell.strip()))


def split_unit(title: str) -> tuple[str, str]:
    """('speed', 'km/h') from 'Speed [km/h]', 'speed_kmh', 'speed_m_s'; unit '' if none."""
    low = title.strip().lower()
    if low in BARE:
        return BARE[low]
    if low.endswith(("]", ")")):
        start = max(title.rfind("["), title.rfind("("))
        if start >= 0:
            inner = title[start + 1 :].strip().rstrip("])").strip()
            return title[:start].strip().lower().replace("_", " "), inner
    for suffix in SUFFIXES:
        if low.endswith(f"_{suffix}"):
            return low[: -len(suffix) - 1].replace("_", " "), SPELT.get(suffix, suffix)
    return low.replace("_", " "), ""


def _readings(title: str) -> Iterator[tuple[str, str, bool]]:
    """(name, unit, whether that is what it says): as it is written, and with its last word for a unit, as in
    'Speed km/h', which holds only where that is a unit of the quantity."""
    yield (*split_unit(title), True)
    tail = re.fullmatch(r"([^\[(]{1,80}?)[ ,]+([^\s,\[(]{1,16})", title.strip())
    if tail:
        yield tail[1].lower().replace("_", " ").strip(), tail[2], False


def guess(header: tuple[str, ...], aliases: Aliases) -> tuple[Column, ...]:
    """Our columns found among the titles by name, the first of their words before the others; units from the titles,
    SI where none is given."""
    out: list[Column] = []
    taken: set[str] = set()
    for ours, words in aliases.items():
        order = {ours: -1, **{w: i for i, w in enumerate(words)}}
        named = [(order.get(base, order.get(title.lower(), len(order))), title, base, unit, sure)
                 for title in header for base, unit, sure in _readings(title)]  # fmt: skip
        for rank, title, base, unit, sure in sorted(named, key=lambda x: x[0]):
            if title in taken or rank == len(order):
                continue
            known = _known_unit(ours, unit)
            if not known and not sure:
                continue
            other = unit or base in THINGS
            if not known and other and not (ours in ASKED or title.lower() == ours):
                continue  # of another quantity: motor [rpm] is no temperature
            out.append(Column(ours, title, known))
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


def scale_of(column: Column) -> tuple[float, float]:
    """(factor, offset) from a column's unit to SI."""
    if not column.unit:
        return 1.0, 0.0
    key = UNIT_OF.get(column.name) or quantity_of(column.name).key
    one, zero = (parse_quantity(f"{x} {column.unit}", key) for x in (1, 0))
    return one - zero, zero


def _with_unit(text: str, name: str) -> float | None:
    """A number that brings its own unit, in SI; None where it is none of the column's quantity."""
    if not re.fullmatch(r"[+-]?[\d.]+\s*[A-Za-zµμΩ°%][^\s,]{0,11}", text.strip()):
        return None
    try:
        return parse_quantity(text, UNIT_OF.get(name) or quantity_of(name).key)
    except QuantityError:
        return None


def number(cell: str, column: Column, seen: Sniffed, where: str) -> float:
    text = cell.replace(",", ".") if seen.decimal == "," else cell
    try:
        value = float(text)
    except ValueError:
        own = _with_unit(text, column.name)
        if own is not None:
            return own
        value = math.nan
    if not math.isfinite(value):
        raise FormatError(
            "This is not a number.",
            where=where,
            got=repr(cell[:40]),
            expected=f"a number with decimal '{seen.decimal}'",
            todo="Leave the cell empty where nothing was measured.",
        )
    factor, zero = scale_of(column)
    return value * factor + zero
