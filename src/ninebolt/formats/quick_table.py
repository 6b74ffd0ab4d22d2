"""A large table, read column by column by a data-frame library."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from ninebolt.core.logs.ride import Floats
from ninebolt.formats.table import HEAD, MAX_LINE, Sniffed

if TYPE_CHECKING:
    import polars

# What ends a line for Python, and not for the library.
ENDS = (b"\x0b", b"\x0c", b"\x1c", b"\x1d", b"\x1e", b"\xc2\x85", b"\xe2\x80\xa8", b"\xe2\x80\xa9")
Ends = NDArray[np.int64]
PADDED = 12  # blanks beside a separator that are taken off


def quick_columns(data: bytes, seen: Sniffed) -> list[Floats] | None:
    """All columns under the header, blank cells as nan. None where it is no such table – a word in a cell, a row
    that is too long, an unusual end of line – and has to be read row by row, which says where."""
    import polars

    found = _body(data, seen)
    if found is None:
        return None
    body, skipped = found
    width = len(seen.header)
    try:
        frame = polars.read_csv(
            body,
            has_header=False,
            skip_lines=skipped,
            separator=seen.separator,
            decimal_comma=seen.decimal == ",",
            schema={str(i): polars.Float64 for i in range(width)},
        )
    except polars.exceptions.PolarsError:
        return None
    if frame.height < 1:
        return None
    columns = list(frame.to_numpy(order="fortran").T)
    # A sum that is a number holds no infinity: only the others are looked through.
    return None if any(not np.isfinite(c.sum()) and np.isinf(c).any() for c in columns) else columns


def mixed_columns(data: bytes, seen: Sniffed, time: int) -> list[polars.Series] | None:
    """All columns under the header, one cell a line of the file: the time's as text and the others as numbers, null
    where a cell is blank; or, where one holds a word, all as text without blanks around it, "" where nothing stands.
    None where lines and cells have to be told apart with more care: quotes, unusual ends of lines."""
    if any(e in data for e in ENDS) or data.count(b"\r") != data.count(b"\r\n"):
        return None
    ends = np.flatnonzero(np.frombuffer(data, np.uint8) == ord("\n"))
    if int(np.diff(ends, prepend=-1, append=len(data)).max()) > MAX_LINE:
        return None
    numbers = _read(_body(data, seen), seen, {time})
    if numbers is not None:
        return [_stripped(c) if i == time else c for i, c in enumerate(numbers)]
    every = _read(_body(data, seen, plain=False), seen, set(range(len(seen.header))))
    if every is None or (b'"' in data and len(every[0]) != _lines(data, ends) - seen.header_line):
        return None  # a quoted cell that goes over lines
    return [_stripped(c) for c in every]


def _lines(data: bytes, ends: Ends) -> int:
    return len(ends) + (not data.endswith(b"\n"))


def _stripped(column: polars.Series) -> polars.Series:
    return column.fill_null("").str.strip_chars()


def _read(
    found: tuple[bytes, int] | None, seen: Sniffed, texts: set[int]
) -> list[polars.Series] | None:
    """Columns, these as text and the others as finite numbers; a row that is too long is cut."""
    import polars

    if found is None:
        return None
    width = range(len(seen.header))
    try:
        frame = polars.read_csv(
            found[0],
            has_header=False,
            skip_lines=found[1],
            separator=seen.separator,
            decimal_comma=seen.decimal == ",",
            schema={str(i): polars.String if i in texts else polars.Float64 for i in width},
            truncate_ragged_lines=True,
        )
    except polars.exceptions.PolarsError:
        return None
    columns = [frame[str(i)] for i in width]
    return None if any(c.is_infinite().any() for c in columns if c.dtype.is_float()) else columns


def _body(data: bytes, seen: Sniffed, plain: bool = True) -> tuple[bytes, int] | None:
    """(bytes, plain: without padding; lines before the rows); None where bytes and lines do not go together."""
    end = 0
    for _ in range(seen.header_line):
        end = data.find(b"\n", end, HEAD) + 1
        if end == 0:
            return None
    if len(data[:end].decode("utf-8-sig", "replace").splitlines()) != seen.header_line:
        return None
    if data.find(b"\0", end) >= 0:
        return None
    if not plain:
        return data, seen.header_line
    if data.find(b'"', end) >= 0:
        return None
    if data.find(b" ", end) < 0:
        return data, seen.header_line
    if b" " * (PADDED + 1) in data:
        return None
    body, mark = data[end:], seen.separator.encode()
    for _ in range(PADDED):
        if mark + b" " not in body and b" " + mark not in body:
            break
        body = body.replace(mark + b" ", mark).replace(b" " + mark, mark)
    return body, 0
