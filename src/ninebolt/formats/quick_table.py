"""A large table of plain numbers, read column by column by a data-frame library."""

from __future__ import annotations

import io

import numpy as np

from ninebolt.core.logs.ride import Floats
from ninebolt.formats.table import HEAD, Sniffed

PADDED = 12  # blanks beside a separator that are taken off


def quick_columns(data: bytes, name: str, seen: Sniffed) -> list[Floats] | None:
    """All columns under the header, blank cells as nan. None where it is no such table – a word in a cell, a row
    that is too long, an unusual end of line – and has to be read row by row, which says where."""
    import polars

    body = _body(data, seen)
    if body is None:
        return None
    width = len(seen.header)
    try:
        frame = polars.read_csv(
            io.BytesIO(body),
            has_header=False,
            separator=seen.separator,
            decimal_comma=seen.decimal == ",",
            schema={str(i): polars.Float64 for i in range(width)},
        )
    except polars.exceptions.PolarsError:
        return None
    if frame.height < 1:
        return None
    columns = [frame[str(i)].to_numpy() for i in range(width)]
    return None if any(np.isinf(c).any() for c in columns) else columns


def _body(data: bytes, seen: Sniffed) -> bytes | None:
    """The rows' bytes, unpadded; None where bytes and lines do not go together."""
    end = 0
    for _ in range(seen.header_line):
        end = data.find(b"\n", end, HEAD) + 1
        if end == 0:
            return None
    try:
        if len(data[:end].decode("utf-8-sig", "replace").splitlines()) != seen.header_line:
            return None
        body = data[end:]
        mark = seen.separator.encode("ascii")
    except UnicodeError:
        return None
    if b'"' in body or b"\0" in body:
        return None
    for _ in range(PADDED if b" " in body else 0):
        if mark + b" " not in body and b" " + mark not in body:
            break
        body = body.replace(mark + b" ", mark).replace(b" " + mark, mark)
    return body
