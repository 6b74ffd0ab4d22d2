"""NMEA 0183 as ride logs: RMC for time, place and speed; GGA for satellites and height; VTG where RMC has no speed.

A sentence with a wrong checksum, or one that is cut, is left out and counted. Knots by definition: 1852 m an hour.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta

import numpy as np

from ninebolt.core.logs.ride import Ride
from ninebolt.errors import FormatError, TooLargeError
from ninebolt.units import KM_H_PER_M_S, KNOT_M_S

MOST_LINES = 2_000_000
MOST_LINE = 120  # the standard's 82, and what receivers add
FEW_SATELLITES = 5
SENTENCE = re.compile(r"^\$([A-Z]{2})(RMC|GGA|VTG),([^*]*)\*([0-9A-Fa-f]{2})$")


@dataclass
class _Seen:
    """What was read so far."""

    rows: list[tuple[float, float, float, float]] = field(default_factory=list)
    altitude: dict[str, float] = field(default_factory=dict)
    satellites: list[int] = field(default_factory=list)
    vtg: float | None = None
    wrong: int = 0
    void: int = 0
    others: int = 0
    back: int = 0
    start: datetime | None = None


def is_nmea(data: bytes, name: str) -> bool:
    return name.lower().endswith((".nmea", ".nma")) or bool(
        re.match(rb"\s*\$[A-Z]{5},", data[:200])
    )


def checksum(body: str) -> int:
    """Exclusive or of all between $ and *."""
    value = 0
    for ch in body:
        value ^= ord(ch)
    return value


def read_nmea(data: bytes, name: str) -> Ride:
    """Raises FormatError where no fix with a time stands in it."""
    lines = data.decode("ascii", "replace").splitlines()
    if len(lines) > MOST_LINES:
        raise TooLargeError(
            "The log has too many lines.", where=name, expected=f"at most {MOST_LINES}"
        )
    seen = _Seen()
    for line in lines:
        _line(line.strip(), seen)
    if len(seen.rows) < 2:
        raise FormatError(
            "No fix with time and place stands in this file.", where=name,
            got=f"{seen.wrong} sentences with a wrong checksum, {seen.void} without a fix, {seen.others} others",
            expected="$..RMC sentences with status A",
        )  # fmt: skip
    table = np.asarray(seen.rows, dtype=np.float64)
    columns = {"t_s": table[:, 0], "lat_deg": table[:, 1], "lon_deg": table[:, 2]}
    if np.isfinite(table[:, 3]).all():
        columns["speed_m_s"] = table[:, 3]
    return Ride(name, columns, _issues(seen))


def _issues(s: _Seen) -> tuple[str, ...]:
    out = []
    if s.wrong:
        out.append(f"{s.wrong} sentences with a wrong checksum were left out")
    if s.void:
        out.append(f"{s.void} sentences without a fix were left out")
    if s.back:
        out.append(f"{s.back} sentences whose time does not rise were left out")
    few = sum(n < FEW_SATELLITES for n in s.satellites)
    if few:
        out.append(
            f"{few} of {len(s.satellites)} fixes with fewer than {FEW_SATELLITES} satellites"
        )
    return tuple(out)


def _line(line: str, s: _Seen) -> None:
    if not line:
        return
    found = SENTENCE.match(line) if len(line) <= MOST_LINE else None
    if found is None:
        s.others += 1
        s.wrong += line.startswith("$") and "*" not in line
        return
    if checksum(line[1 : line.index("*")]) != int(found[4], 16):
        s.wrong += 1
        return
    fields = found[3].split(",")
    try:
        {"RMC": _rmc, "GGA": _gga, "VTG": _vtg}[found[2]](fields, s)
    except (ValueError, IndexError):
        s.wrong += 1


def _rmc(f: list[str], s: _Seen) -> None:
    if f[1] != "A":
        s.void += 1
        return
    when = datetime.strptime(f[8] + f[0].split(".")[0], "%d%m%y%H%M%S").replace(tzinfo=UTC)
    if "." in f[0]:
        when += timedelta(seconds=float("0." + f[0].split(".")[1]))
    s.start = s.start or when
    t = (when - s.start).total_seconds()
    if s.rows and t <= s.rows[-1][0]:
        s.back += 1
        return
    speed = float(f[6]) * KNOT_M_S if f[6] else s.vtg if s.vtg is not None else np.nan
    s.rows.append((t, angle(f[2], f[3]), angle(f[4], f[5]), float(speed)))


def _gga(f: list[str], s: _Seen) -> None:
    if f[5] in ("", "0"):
        return
    s.satellites.append(int(f[6]))


def _vtg(f: list[str], s: _Seen) -> None:
    s.vtg = float(f[6]) / KM_H_PER_M_S if len(f) > 6 and f[6] else None


def angle(text: str, side: str) -> float:
    """Degrees of ddmm.mmmm or dddmm.mmmm. Raises ValueError."""
    if side not in ("N", "S", "E", "W"):
        raise ValueError(side)
    dot = text.index(".")
    value = float(text[: dot - 2]) + float(text[dot - 2 :]) / 60.0
    if not 0.0 <= value <= 180.0:
        raise ValueError(text)
    return -value if side in ("S", "W") else value
