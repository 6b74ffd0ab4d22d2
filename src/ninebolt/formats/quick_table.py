"""A large table of plain numbers, read column by column by a data-frame library."""

from __future__ import annotations

import numpy as np

from ninebolt.core.logs.ride import Floats
from ninebolt.formats.table import HEAD, Sniffed

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
    columns = [frame[str(i)].to_numpy() for i in range(width)]
    return None if any(np.isinf(c).any() for c in columns) else columns


def _body(data: bytes, seen: Sniffed) -> tuple[bytes, int] | None:
    """(bytes without padding, lines before the rows); None where bytes and lines do not go together."""
    end = 0
    for _ in range(seen.header_line):
        end = data.find(b"\n", end, HEAD) + 1
        if end == 0:
            return None
    if len(data[:end].decode("utf-8-sig", "replace").splitlines()) != seen.header_line:
        return None
    if data.find(b'"', end) >= 0 or data.find(b"\0", end) >= 0:
        return None
    if data.find(b" ", end) < 0:
        return data, seen.header_line
    body, mark = data[end:], seen.separator.encode()
    for _ in range(PADDED):
        if mark + b" " not in body and b" " + mark not in body:
            break
        body = body.replace(mark + b" ", mark).replace(b" " + mark, mark)
    return body, 0
