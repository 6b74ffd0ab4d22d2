"""Trials of several setups as CSV: setup, value, and what they were ridden under."""

from __future__ import annotations

import csv
import io
import math
from dataclasses import dataclass, fields

from ninebolt.core.logs.session import Trial
from ninebolt.errors import FormatError

MOST_ROWS = 5000
NUMBERS = ("value", "soc", "mass_kg", "wind_m_s", "air_c", "slope_pct", "tyre_bar", "pressure_hpa")
FULL_PCT = 100.0  # a charge over 1 is in per cent
COUNTS = ("front_teeth", "rear_teeth")
KNOWN = {f.name for f in fields(Trial)}
ALIASES = {
    "time": "value", "time [s]": "value", "seconds": "value", "speed": "value", "mass": "mass_kg",
    "mass [kg]": "mass_kg", "charge": "soc", "wind": "wind_m_s", "air": "air_c", "slope": "slope_pct",
    "tyre pressure": "tyre_bar", "pressure": "pressure_hpa",
}  # fmt: skip
EXPECTED = "setup, value (or time), and any of " + ", ".join(sorted(KNOWN - {"setup", "value"}))


@dataclass(frozen=True, slots=True)
class Trials:
    """What a file holds. unread: titles of columns that nothing was made of."""

    rows: list[Trial]
    unread: tuple[str, ...]


def read_trials(data: bytes, name: str = "trials.csv") -> Trials:
    """Raises FormatError naming the line and column."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise FormatError("This is no text.", where=name, expected="CSV in UTF-8") from error
    if "\0" in text:
        raise FormatError(
            "This is no text.", where=name, got="a zero byte", expected="CSV in UTF-8"
        )
    rows = list(
        csv.reader(io.StringIO(text), delimiter=";" if text.split("\n")[0].count(";") else ",")
    )
    if not rows or len(rows) > MOST_ROWS:
        raise FormatError(
            "No trials, or too many.",
            where=name,
            got=str(len(rows)),
            expected=f"1 to {MOST_ROWS} lines",
        )
    head = [ALIASES.get(h.strip().lower(), h.strip().lower()) for h in rows[0]]
    if "setup" not in head or "value" not in head:
        raise FormatError(
            "The columns are not known.",
            where=f"{name}, line 1",
            got=", ".join(rows[0])[:100],
            expected=EXPECTED,
        )
    doubled = next((h for h in head if head.count(h) > 1 and h in KNOWN), None)
    if doubled is not None:
        raise FormatError("Two columns hold the same.", where=f"{name}, line 1", got=doubled)
    made = [
        _trial(head, row, f"{name}, line {n}")
        for n, row in enumerate(rows[1:], 2)
        if any(c.strip() for c in row)
    ]
    unread = tuple(
        t.strip()[:40] for t, h in zip(rows[0], head, strict=True) if h and h not in KNOWN
    )
    return Trials(made, unread)


def _trial(head: list[str], row: list[str], where: str) -> Trial:
    values: dict[str, object] = {}
    for key, text in zip(head, row, strict=False):
        text = text.strip()
        if key not in KNOWN or not text:
            continue
        if key in NUMBERS or key in COUNTS:
            try:
                number = float(text.replace(",", "."))
            except ValueError:
                raise FormatError(
                    "This is no number.", where=f"{where}, {key}", got=repr(text)[:40]
                ) from None
            if not math.isfinite(number) or (key == "value" and number <= 0.0):
                raise FormatError(
                    "This cannot be.", where=f"{where}, {key}", got=text[:40],
                    expected="a time or a speed above 0" if key == "value" else "a number",
                )  # fmt: skip
            if key == "soc":
                number = number / FULL_PCT if number > 1.0 else number
                if not 0.0 <= number <= 1.0:
                    raise FormatError(
                        "This is no charge.",
                        where=f"{where}, {key}",
                        got=text[:40],
                        expected="0 to 1, or 0 to 100 %",
                    )
            values[key] = round(number) if key in COUNTS else number
        else:
            values[key] = text[:200]
    if "setup" not in values or "value" not in values:
        raise FormatError(
            "A trial needs its setup and its value.", where=where, got=", ".join(row)[:80]
        )
    return Trial(**values)  # type: ignore[arg-type]
