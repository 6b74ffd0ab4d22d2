"""Frames of a CAN bus as text, decoded by a DBC into a table: then a log like any other, its columns mapped and asked
about.

Lines as `(1700000000.123456) can0 123#11223344` or `(…)  can0  123   [4]  11 22 33 44`, the time in seconds or with its
date, the direction between or not. The DBC is read by cantools; plain
signals of classic frames are cut out with whole-array shifts, all others by cantools, frame by frame.
"""

from __future__ import annotations

import io
import re
from collections import defaultdict
from datetime import datetime
from typing import Any

import numpy as np

from ninebolt.core.logs.ride import Floats
from ninebolt.errors import FormatError, TooLargeError
from ninebolt.formats.ride_csv import NOTE

LINE = re.compile(
    r"^\((?:(\d{1,12}\.\d{1,9})|(\d{4}-\d{2}-\d{2} \d{2}:\d{2}:\d{2}\.\d{1,6}))\)\s+\S{1,20}(?:\s+[TR]X\s+\S\s+\S)?"
    r"\s+([0-9A-Fa-f]{3,8})(?:#([0-9A-Fa-f]{0,16})|\s+\[(\d)\]((?:\s{1,3}[0-9A-Fa-f]{2}){0,8}))\s*[RT]?$"
)
MOST_FRAMES = 3_000_000
MOST_DBC = 4_000_000
MOST_SLOW = 200_000  # frames that are decoded one by one
MOST_ROWS = 400_000
MOST_SIGNALS = 200
SKIP = 0.02  # share of lines that may be no frame


def is_candump(data: bytes) -> bool:
    """By its first lines."""
    head = data[:2000].decode("ascii", "replace").splitlines()[:4]
    return any(LINE.match(x.strip()) for x in head)


def to_table(data: bytes, name: str, dbc: str) -> bytes:
    """A CSV with the time and every signal that came, titled `Signal [unit]`. Raises FormatError, TooLargeError."""
    frames, notes = _frames(data, name)
    if not dbc.strip():
        raise FormatError(
            "These are frames of a CAN bus; what they mean stands in a DBC.",
            where=name,
            got=f"{sum(len(t) for t, _ in frames.values())} frames of {len(frames)} ids",
            expected="the DBC beside the log",
            todo="Give the DBC of this bus.",
        )
    columns = _signals(frames, _database(dbc, name), name)
    return _csv(columns, notes)


def _frames(data: bytes, name: str) -> tuple[dict[int, tuple[list[float], list[bytes]]], str]:
    """(frames by id, what is to be noted of lines that were none)."""
    lines = data.decode("ascii", "replace").splitlines()
    if len(lines) > MOST_FRAMES:
        raise TooLargeError(
            "The log has too many frames.",
            where=name,
            got=str(len(lines)),
            expected=f"at most {MOST_FRAMES}",
        )
    out: dict[int, tuple[list[float], list[bytes]]] = defaultdict(lambda: ([], []))
    wrong = first = 0
    for number, line in enumerate(lines, 1):
        m = LINE.match(line.strip()) if len(line) < 120 else None
        if m is None or (m[4] is not None and len(m[4]) % 2):
            if line.strip():
                wrong, first = wrong + 1, first or number
            continue
        try:
            when = float(m[1]) if m[1] else datetime.fromisoformat(f"{m[2]}+00:00").timestamp()
        except ValueError:
            wrong, first = wrong + 1, first or number
            continue
        payload = bytes.fromhex(m[4] if m[4] is not None else m[6])
        times, bodies = out[int(m[3], 16)]
        times.append(when)
        bodies.append(payload)
    count = sum(len(t) for t, _ in out.values())
    if count < 5 or wrong > max(SKIP * len(lines), 3):
        raise FormatError(
            "This is not a log of CAN frames.",
            where=f"{name}, line {first or 1}",
            got=f"{wrong} lines that are none, {count} frames",
            expected="(seconds) bus id#data",
        )
    said = f"{wrong} lines were no frames" if wrong > 1 else "1 line was no frame"
    return dict(out), f"{NOTE}{said} and left out, the first is line {first}\n" if wrong else ""


def _database(dbc: str, name: str) -> Any:
    if len(dbc) > MOST_DBC:
        raise TooLargeError(
            "The DBC is too large.", where=name, expected=f"at most {MOST_DBC} characters"
        )
    import cantools

    try:
        return cantools.database.load_string(dbc, database_format="dbc", strict=False)
    except Exception as error:
        raise FormatError(
            "The DBC cannot be read.",
            where=f"{name}, its DBC",
            got=str(error)[:120],
            todo="Export it again.",
        ) from error


def _signals(
    frames: dict[int, tuple[list[float], list[bytes]]], database: Any, name: str
) -> dict[str, tuple[Floats, Floats]]:
    """Title -> (times, values) of every signal."""
    out: dict[str, tuple[Floats, Floats]] = {}
    for message in database.messages:
        seen = frames.get(message.frame_id)
        if seen is None:
            continue
        times = np.array(seen[0])
        for signal, values in _decoded(message, seen[1], name).items():
            unit = next((s.unit for s in message.signals if s.name == signal), "") or ""
            title = f"{signal} [{unit}]" if unit else signal
            if title in out:
                title = f"{message.name} {title}"
            if len(out) < MOST_SIGNALS:
                out[title.replace(",", " ").replace('"', "")] = (times, values)
    if not out:
        known = ", ".join(f"{m.frame_id:X}" for m in database.messages[:6])
        raise FormatError(
            "No frame of this log stands in the DBC.",
            where=name,
            got=", ".join(f"{i:X}" for i in sorted(frames)[:6]),
            expected=known or "a message",
            todo="Give the DBC of this bus.",
        )
    return out


def _decoded(message: Any, bodies: list[bytes], name: str) -> dict[str, Floats]:
    plain = (
        not message.is_multiplexed()
        and message.length <= 8
        and not any(s.is_float for s in message.signals)
    )
    if plain:
        return {s.name: _sliced(s, bodies, message.length) for s in message.signals}
    if len(bodies) > MOST_SLOW:
        raise TooLargeError(
            "Too many frames of a message that is multiplexed or holds floats.",
            where=f"{name}, {message.name}",
            got=str(len(bodies)),
            expected=f"at most {MOST_SLOW}",
        )
    out: dict[str, Floats] = {s.name: np.full(len(bodies), np.nan) for s in message.signals}
    for i, body in enumerate(bodies):
        try:
            found = message.decode_simple(body, decode_choices=False, allow_truncated=True)
        except Exception:  # noqa: BLE001, S112 – a cut frame costs itself
            continue
        for key, value in found.items():
            if isinstance(value, int | float):
                out[key][i] = float(value)
    return out


def _sliced(signal: Any, bodies: list[bytes], length: int) -> Floats:
    """One signal out of all frames at once; a frame too short for it gives none."""
    order = "big" if signal.byte_order == "big_endian" else "little"
    wide = b"".join(b[:8].ljust(8, b"\0") for b in bodies)
    raw = np.frombuffer(wide, dtype=">u8" if order == "big" else "<u8").astype(np.uint64)
    if order == "big":
        at = 8 * (signal.start // 8) + (7 - signal.start % 8)
        shift, last = 64 - at - signal.length, (at + signal.length - 1) // 8
    else:
        shift, last = signal.start, (signal.start + signal.length - 1) // 8
    mask = np.uint64((1 << signal.length) - 1)
    cut = (raw >> np.uint64(shift)) & mask
    values = cut.astype(np.float64)
    if signal.is_signed:
        values = np.where(cut >> np.uint64(signal.length - 1), values - 2.0**signal.length, values)
    values = values * float(signal.scale) + float(signal.offset)
    sizes = np.fromiter((len(b) for b in bodies), dtype=np.int64, count=len(bodies))
    return np.where(sizes > last, values, np.nan)


def _csv(columns: dict[str, tuple[Floats, Floats]], notes: str) -> bytes:
    """On the times of the message that comes most often; the others drawn between their own."""
    base = max((t for t, _ in columns.values()), key=len)
    base = base[np.concatenate(([True], np.diff(base) > 0))]
    base = base[:: max(1, -(-len(base) // MOST_ROWS))]
    start = float(base[0])
    made = [base - start]
    for t, v in columns.values():
        ok = np.isfinite(v) & np.concatenate(([True], np.diff(t) > 0))
        made.append(
            np.interp(base, t[ok], v[ok], left=np.nan, right=np.nan)
            if ok.sum() > 1
            else base * np.nan
        )
    out = io.StringIO()
    out.write(notes + ",".join(["time [s]", *columns]) + "\n")
    np.savetxt(out, np.column_stack(made), delimiter=",", fmt="%.9g")
    return out.getvalue().replace("nan", "").encode()
