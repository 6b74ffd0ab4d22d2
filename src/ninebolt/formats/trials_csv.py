"""Trials of several setups as CSV: setup, value, and what they were ridden under."""

from __future__ import annotations

import csv
import io
import math
import re
from dataclasses import dataclass, fields

from ninebolt.core.logs.protocols import Quantity
from ninebolt.core.logs.session import Trial
from ninebolt.errors import FormatError, QuantityError
from ninebolt.formats.sheet import unsafe
from ninebolt.units import QUANTITIES, parse_number, parse_quantity

MOST_ROWS = 5000
NUMBERS = ("value", "soc", "mass_kg", "wind_m_s", "air_c", "slope_pct", "tyre_bar", "pressure_hpa")
FULL_PCT = 100.0  # a charge over 1 is in per cent
COUNTS = ("front_teeth", "rear_teeth")
KNOWN = {f.name for f in fields(Trial)}
ALIASES = {
    "mass": "mass_kg",
    "mass [kg]": "mass_kg", "charge": "soc", "wind": "wind_m_s", "air": "air_c", "slope": "slope_pct",
    "tyre pressure": "tyre_bar", "pressure": "pressure_hpa",
}  # fmt: skip
# A value by what it is called, its unit in brackets or after it: quantity, unit of a bare one ('': it is asked).
VALUES: dict[str, tuple[Quantity, str]] = {
    "time": ("s", "s"),
    "seconds": ("s", "s"),
    "speed": ("m_s", ""),
    "top speed": ("m_s", ""),
    "distance": ("m", ""),
    "way": ("m", ""),
    "range": ("m", ""),
}
_VALUE = re.compile(r"([a-z][a-z ]{0,30}?)(?: ?[\[(,] ?([a-z/]{1,6}) ?[\])]?)?")
EXPECTED = "setup, value (or time, speed [km/h], distance [km]), and any of " + ", ".join(
    sorted(KNOWN - {"setup", "value"})
)


@dataclass(frozen=True, slots=True)
class Trials:
    """What a file holds. unread: titles of columns that nothing was made of. quantity: of the values, None where the
    file does not say."""

    rows: list[Trial]
    unread: tuple[str, ...]
    quantity: Quantity | None


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
    comma = ";" in text.split("\n")[0]  # parts the columns, so that a comma is a decimal mark
    rows = list(csv.reader(io.StringIO(text), delimiter=";" if comma else ","))
    if not rows or len(rows) > MOST_ROWS:
        raise FormatError(
            "No trials, or too many.",
            where=name,
            got=str(len(rows)),
            expected=f"1 to {MOST_ROWS} lines",
        )
    head = [ALIASES.get(h.strip().lower(), h.strip().lower()) for h in rows[0]]
    quantity: Quantity | None = None
    unit = ""
    for i, title in enumerate(head):
        said = _value_of(title, f"{name}, line 1")
        if said is not None:
            head[i], (quantity, unit) = "value", said
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
        _trial(head, row, f"{name}, line {n}", quantity, unit, comma)
        for n, row in enumerate(rows[1:], 2)
        if any(c.strip() for c in row)
    ]
    unread = tuple(
        t.strip()[:40] for t, h in zip(rows[0], head, strict=True) if h and h not in KNOWN
    )
    return Trials(made, unread, quantity)


def _value_of(title: str, where: str) -> tuple[Quantity, str] | None:
    """What a column of values holds and in which unit; None for another column. Raises FormatError."""
    found = _VALUE.fullmatch(title)
    known = VALUES.get(found[1].strip()) if found else None
    if found is None or known is None:
        return None
    quantity, usual = known
    symbols = [u.symbol for u in QUANTITIES[quantity].units]
    unit = next((u for u in symbols if u.lower() == (found[2] or usual)), "")
    if not unit:
        raise FormatError(
            "In which unit?",
            where=where,
            got=title[:40],
            expected=", ".join(f"{found[1].strip()} [{u}]" for u in symbols[:4]),
        )
    return quantity, unit


def _trial(
    head: list[str],
    row: list[str],
    where: str,
    quantity: Quantity | None,
    unit: str,
    comma: bool,
) -> Trial:
    values: dict[str, object] = {}
    for key, text in zip(head, row, strict=False):
        text = text.strip()
        if key not in KNOWN or not text:
            continue
        if key in NUMBERS or key in COUNTS:
            try:
                text = text.replace(",", ".") if comma else text
                own = key == "value"
                number = parse_quantity(text, quantity or "s", unit) if own else parse_number(text)
            except QuantityError as error:
                raise FormatError(str(error), where=f"{where}, {key}") from None
            except ValueError:
                raise FormatError(
                    "This is no number.", where=f"{where}, {key}", got=repr(text)[:40]
                ) from None
            if not math.isfinite(number) or (key == "value" and number <= 0.0):
                raise FormatError(
                    "This cannot be.", where=f"{where}, {key}", got=text[:40],
                    expected="a value above 0" if key == "value" else "a number",
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
            values[key] = unsafe(text)[:200]
    if "setup" not in values or "value" not in values:
        raise FormatError(
            "A trial needs its setup and its value.", where=where, got=", ".join(row)[:80]
        )
    return Trial(**values)  # type: ignore[arg-type]
