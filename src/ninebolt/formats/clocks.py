"""Times as loggers write them: numbers, clocks that count from 1970, times of day, dates of any order, ISO stamps."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from datetime import datetime

from ninebolt.errors import FormatError
from ninebolt.formats.table import Column, Sniffed, number

NUMBER = r"^[+-]?[\d.,]+(?:[eE][+-]?\d+)?$"
CLOCK = r"^(\d{1,2}):(\d{2})(?::(\d{2}(?:\.\d+)?))?$"
STAMP = (
    r"^(\d{4}-\d{2}-\d{2})[T ](\d{2}):(\d{2}):(\d{2}(?:\.\d{3}(?:\d{3})?)?)(Z|[+-]\d{2}:\d{2})?$"
)
LAP = r"^(\d{1,3}):(\d{2}\.\d+)$"  # minutes and seconds
# Any date, a time of day, a half of the day. Only whether the date changes counts: nothing says which number of it is
# the month.
DATED = r"^(\d{1,4}[./-]\d{1,2}[./-]\d{2,4})[ T,]+(\d{1,2}):(\d{2})(?::(\d{2}(?:\.\d+)?))? ?([AaPp])?(?:[Mm])?$"
DAY_S = 86_400.0
MIDNIGHT_S = 0.8 * DAY_S  # a clock that falls by more went over midnight; by less it was set back
# A bare number of a clock that counts from 1970: where the years 1990 to 2100 lie in a unit, no other does.
EPOCH_S = (6.3e8, 4.1e9)
EPOCH_UNITS = {"ms": 1e3, "µs": 1e6, "ns": 1e9}
UNIT_TITLES = {"millis": "ms", "milliseconds": "ms", "micros": "µs", "microseconds": "µs"}


def time_unit(seen: Sniffed, title: str) -> str:
    """The unit of a time whose title holds none: by its name, or by its size where it counts from 1970; '' for s."""
    named = UNIT_TITLES.get(title.strip().lower(), "")
    if named:
        return named
    at = seen.header.index(title)
    first = next((r[at].strip() for r in seen.rows if len(r) > at and r[at].strip()), "")
    if not re.match(NUMBER, first):
        return ""
    try:
        value = float(first.replace(",", ".") if seen.decimal == "," else first)
    except ValueError:
        value = math.nan
    low, high = EPOCH_S
    return next((u for u, per_s in EPOCH_UNITS.items() if low * per_s < value < high * per_s), "")


@dataclass
class Clock:
    """Where the times of a file began, and how often they went over midnight."""

    base: float | None = None
    last: float = 0.0
    days: float = 0.0
    date: str = ""

    def on_date(self, found: re.Match[str]) -> float:
        """A date of any order, a time of day."""
        day, h, m, s, half = found.groups()
        if self.date and day != self.date:
            self.days += DAY_S
        self.date = day
        hour = float(h) if not half else float(h) % 12 + (12 if half in "Pp" else 0)
        return hour * 3600 + float(m) * 60 + float(s or 0) + self.days

    def of_day(self, now: float) -> float:
        if now - self.last < -MIDNIGHT_S:
            self.days += DAY_S
        self.last = now
        return now + self.days


def time_cell(cell: str, column: Column, seen: Sniffed, where: str, clock: Clock) -> float:
    """Seconds from a number, a clock time (12:01:02.5) or an ISO date and time."""
    if re.match(NUMBER, cell):
        return number(cell, column, seen, where)
    text = cell.replace(",", ".")
    try:
        if time := re.match(CLOCK, text):
            h, m, s = (float(x or 0) for x in time.groups())
            return clock.of_day(h * 3600 + m * 60 + s)
        if lap := re.match(LAP, text):
            return float(lap[1]) * 60 + float(lap[2])
        if (dated := re.match(DATED, text)) and not re.match(STAMP, text):
            return clock.on_date(dated)
        stamp = datetime.fromisoformat(text).timestamp()
    except (ValueError, OverflowError, OSError) as error:
        raise FormatError(
            "This is not a time.",
            where=where,
            got=repr(cell[:40]),
            expected="seconds, 12:01:02.5, 1.5.2024 12:01:02.5 or 2024-05-01T12:01:02.5Z",
        ) from error
    if clock.base is None:
        clock.base = stamp
    return stamp - clock.base
