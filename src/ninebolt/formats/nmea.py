"""NMEA 0183 as ride logs: RMC for time, place and speed; GGA for satellites and height; VTG where RMC has no speed.
Where no RMC stands in the file, GGA gives time and place, VTG the speed. What a terminal wrote before the $ is no part
of it.

A sentence with a wrong checksum, or one that is cut, is left out and counted. Knots by definition: 1852 m an hour.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from datetime import UTC, datetime

import numpy as np

from ninebolt.core.logs.ride import Floats, Ride
from ninebolt.errors import FormatError, TooLargeError
from ninebolt.formats.clocks import DAY_S, MIDNIGHT_S
from ninebolt.units import KM_H_PER_M_S, KNOT_M_S

MOST_LINES = 2_000_000
MOST_LINE = 120  # the standard's 82, and what receivers add
FEW_SATELLITES = 5
SENTENCE = re.compile(r"^\$([A-Z]{2})(RMC|GGA|VTG),([^*]*)\*([0-9A-Fa-f]{2})$")


@dataclass
class _Seen:
    """What was read so far."""

    rows: list[tuple[float, float, float, float]] = field(default_factory=list)
    keys: list[str] = field(default_factory=list)
    fixes: list[tuple[str, float, float, float]] = field(default_factory=list)
    altitude: dict[str, float] = field(default_factory=dict)
    satellites: list[int] = field(default_factory=list)
    vtg: float | None = None
    vtg_leads: bool = False
    wrong: int = 0
    odd: int = 0
    rmc: int = 0
    void: int = 0
    others: int = 0
    back: int = 0
    start: float | None = None
    first: int | None = None  # the day on which it began
    days: int = 0
    last_s: float = 0.0

    def put(self, key: str, day: int | None, place: tuple[float, float], speed: float) -> None:
        """One fix at a time of day; without a date a fall from late to early begins the next one."""
        of_day = seconds_of(key)
        if day is None:
            self.days += of_day - self.last_s < -MIDNIGHT_S
        else:
            self.first = day - self.days if self.first is None else self.first
            self.days = day - self.first
        self.last_s = of_day
        t = self.days * DAY_S + of_day
        self.start = t if self.start is None else self.start
        if self.rows and t - self.start <= self.rows[-1][0]:
            self.back += 1
            return
        self.rows.append((t - self.start, *place, speed))
        self.keys.append(key)


def seconds_of(hhmmss: str) -> float:
    """Seconds of the day. Raises ValueError."""
    h, m, s = int(hhmmss[:2]), int(hhmmss[2:4]), float(hhmmss[4:])
    if not (h < 24 and m < 60 and 0.0 <= s < 61.0):
        raise ValueError(hhmmss)
    return h * 3600.0 + m * 60.0 + s


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
    if not seen.rmc:
        for key, lat, lon, speed in seen.fixes:
            seen.put(key, None, (lat, lon), speed)
    if len(seen.rows) < 2:
        raise FormatError(
            "No fix with time and place stands in this file.", where=name,
            got=f"{seen.wrong} sentences with a wrong checksum, {seen.odd} that cannot be read, {seen.void} without a "
            f"fix, {seen.others} others",
            expected="$..RMC sentences with status A, or $..GGA with a fix",
        )  # fmt: skip
    table = np.asarray(seen.rows, dtype=np.float64)
    columns = {"t_s": table[:, 0], "lat_deg": table[:, 1], "lon_deg": table[:, 2]}
    if np.isfinite(table[:, 3]).all():
        columns["speed_m_s"] = table[:, 3]
    height: Floats = np.asarray([seen.altitude.get(k, np.nan) for k in seen.keys], dtype=np.float64)
    if np.isfinite(height).any():
        columns["altitude_m"] = height
    return Ride(name, columns, _issues(seen))


def _issues(s: _Seen) -> tuple[str, ...]:
    out = []
    if s.wrong:
        out.append(f"{s.wrong} sentences with a wrong checksum were left out")
    if s.odd:
        out.append(f"{s.odd} sentences that cannot be read were left out")
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
    line = line[max(line.rfind("$"), 0) :]
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
        s.odd += 1


def _rmc(f: list[str], s: _Seen) -> None:
    s.rmc += 1
    if f[1] != "A":
        s.void += 1
        return
    day = datetime.strptime(f[8], "%d%m%y").replace(tzinfo=UTC).toordinal() if f[8] else None
    speed = float(f[6]) * KNOT_M_S if f[6] else s.vtg if s.vtg is not None else np.nan
    s.put(f[0], day, (angle(f[2], f[3]), angle(f[4], f[5])), float(speed))


def _gga(f: list[str], s: _Seen) -> None:
    if f[5] in ("", "0"):
        s.void += not s.rmc
        return
    s.satellites.append(int(f[6]))
    if f[8]:
        s.altitude[f[0]] = float(f[8])
    if not s.rmc:
        before = s.vtg if s.vtg is not None and s.vtg_leads else np.nan
        s.fixes.append((f[0], angle(f[1], f[2]), angle(f[3], f[4]), float(before)))


def _vtg(f: list[str], s: _Seen) -> None:
    s.vtg_leads = (
        s.vtg_leads or not s.fixes
    )  # of the three of one instant it comes before the place, or after
    s.vtg = float(f[6]) / KM_H_PER_M_S if len(f) > 6 and f[6] else None
    if s.vtg is not None and s.fixes and not s.vtg_leads:
        s.fixes[-1] = (*s.fixes[-1][:3], s.vtg)


def angle(text: str, side: str) -> float:
    """Degrees of ddmm.mmmm or dddmm.mmmm. Raises ValueError."""
    if side not in ("N", "S", "E", "W"):
        raise ValueError(side)
    dot = text.index(".")
    value = float(text[: dot - 2]) + float(text[dot - 2 :]) / 60.0
    if not 0.0 <= value <= 180.0:
        raise ValueError(text)
    return -value if side in ("S", "W") else value
