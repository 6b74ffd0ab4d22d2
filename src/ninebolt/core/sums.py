"""Percentages with their base named: 'of' and 'more than' are not the same sum."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ninebolt.errors import InputError
from ninebolt.units import parse_number, two_readings

MORE = ("more", "higher", "greater", "larger", "bigger", "stronger", "heavier", "longer")
LESS = ("less", "lower", "smaller", "weaker", "lighter", "shorter", "fewer")
PACE = {"faster": 1.0, "quicker": 1.0, "slower": -1.0}
TIMES = ("s", "sec", "second", "seconds", "min", "minutes", "h", "hours")
_WORDS = "|".join(
    [*(f"{w} than" for w in (*MORE, *LESS, *PACE)), "over", "above", "under", "below"]
)
_CLAIM = re.compile(
    rf"^\s*([+-]?[\d.,]+)\s*(?:%|percent|per cent)\s*(of|as much as|{_WORDS})?"
    r"\s*([+-]?\d[\d.,]*)?\s*(.*?)\s*$",
    re.IGNORECASE | re.DOTALL,
)
_UNIT = re.compile(r"[A-Za-zµΩ°/²³]{1,8}")
_NUMBER = r"([+-]?\d[\d.,]*)\s*([A-Za-zµΩ°/²³]{0,8})"
_CHANGE = re.compile(
    rf"^\s*(?:from\s+)?{_NUMBER}\s*(to|->|→|vs\.?|against)\s*{_NUMBER}\s*$", re.IGNORECASE
)
_TIMES = re.compile(
    r"^\s*(?:(\d+(?:\.\d+)?)\s*(?:x|×|times)|(twice|double|three times))\s*(.*?)\s*than\b",
    re.IGNORECASE | re.DOTALL,
)


@dataclass(frozen=True, slots=True)
class Percent:
    """Two numbers against each other. of_pct: a as a share of b. change_pct: (a - b) / b.
    words: both readings as sentences."""

    of_pct: float
    change_pct: float
    words: str


@dataclass(frozen=True, slots=True)
class Claim:
    """A claim with its base: what it comes to, and what the other reading would have been. symbol: the
    unit that was written, with a blank before it, or nothing."""

    value: float
    words: str
    other_value: float
    other_words: str
    symbol: str


def percent(a: float, b: float) -> Percent:
    """Both readings of two numbers. Raises InputError if the base is zero, or one is less than nothing."""
    if b == 0:
        raise InputError("A percentage of nothing means nothing.", where="base", got="0")
    if a < 0 or b < 0:
        raise InputError(
            "A percentage compares sizes, and none is less than nothing.",
            got=f"{a:g} of {b:g}",
            todo="Leave the sign out, or say the difference itself.",
        )
    of, change = 100.0 * a / b, 100.0 * (a - b) / b
    more = (
        f"{abs(change):.4g} % {'more' if change > 0 else 'less'} than {b:g}"
        if change
        else "neither more nor less"
    )
    return Percent(of, change, f"{a:g} is {of:.4g} % of {b:g}, which is {more}")


def read_claim(text: str) -> Claim:
    """'130 % of 40', '30 % more than 40', '17 percent faster than 40 km/h'. Raises InputError for a
    percentage without its base, and for 'faster' said of a time, which is two sums."""
    if times := _TIMES.match(text):
        raise _times(text, times)
    match = _CLAIM.match(text)
    try:
        share = parse_number(match.group(1)) if match else None
        base = parse_number(match.group(3)) if match and match.group(3) else None
    except ValueError:
        share = base = None
    word = (match.group(2) or "").lower() if match else ""
    unit = match.group(4).strip() if match else ""
    if share is None:
        raise InputError(
            "This is no percentage.", got=repr(text[:40]), expected="such as '30 % more than 40'"
        )
    if match and (two := two_readings(match.group(3) or "")):
        raise InputError("The base can be read in two ways.", got=repr(text[:40]), expected=two)
    if base is None or not word:
        raise _baseless(text, share, base)
    kind = word.removesuffix(" than")
    if kind in PACE and unit.lower() in TIMES:
        raise _two_paces(text, share, base, PACE[kind], unit)
    as_of = base * share / 100.0
    sign = -1.0 if kind in (*LESS, "under", "below") or PACE.get(kind, 1.0) < 0 else 1.0
    if sign * share < -100.0 and word not in ("of", "as much as"):
        raise InputError(
            "More is taken off than there is.",
            got=repr(text[:40]),
            expected="at most 100 % less",
            todo=f"{share:g} % of it would be {as_of:g}.",
        )
    as_change = base * (1.0 + sign * share / 100.0)
    symbol = f" {unit}" if _UNIT.fullmatch(unit) else ""
    of = f"{share:g} % of {base:g}{symbol}"
    if word in ("of", "as much as"):
        return Claim(as_of, of, as_change, f"{share:g} % more than {base:g}{symbol}", symbol)
    return Claim(as_change, f"{share:g} % {word} {base:g}{symbol}", as_of, of, symbol)


def read_change(text: str) -> Percent | None:
    """'9.9 s to 7.5 s': the second against the first, which is the base; None if the text is no such
    pair. Raises InputError where the two have units that are not the same word."""
    match = _CHANGE.match(text)
    if match is None:
        return None
    first, unit, _, second, other = match.groups()
    for number in (first, second):
        if two := two_readings(number):
            raise InputError("A number can be read in two ways.", got=repr(number), expected=two)
    if unit and other and unit != other:
        raise InputError(
            "The two have not the same unit.",
            got=f"'{unit}' and '{other}'",
            expected="both in one unit",
        )
    try:
        base, now = parse_number(first), parse_number(second)
    except ValueError:
        return None
    got = percent(now, base)
    if (unit or other).lower() in TIMES and now > 0:
        speed = 100.0 * (base / now - 1.0)
        said = f"; as speed it is {abs(speed):.4g} % {'more' if speed >= 0 else 'less'}"
        return Percent(got.of_pct, got.change_pct, got.words + said)
    return got


def _times(text: str, match: re.Match[str]) -> InputError:
    """'three times more than 40': three times as much, or that much on top."""
    number, word = match.group(1), (match.group(2) or "").lower()
    n = float(number) if number else 3.0 if word.startswith("three") else 2.0
    return InputError(
        "As much, or that much on top?",
        got=repr(text[:40]),
        expected=f"'{100 * n:g} % of' or '{100 * n:g} % more than', and the number it is of",
    )


def _baseless(text: str, share: float, base: float | None) -> InputError:
    todo = "Write the number that it is of."
    if base is not None:
        of, more = base * share / 100, base * (1 + share / 100)
        todo = f"It would be {of:g} if 'of', {more:g} if 'more than'."
    return InputError(
        "A percentage of what?",
        got=repr(text[:40]),
        expected="'of', 'more than', 'less than' or 'faster than', and the number it is of",
        todo=todo,
    )


def _two_paces(text: str, share: float, base: float, sign: float, unit: str) -> InputError:
    """'17 % faster than 8 s': the time is less by 17 %, or the speed is more by 17 %."""
    time = max(base * (1.0 - sign * share / 100.0), 0.0)
    pace = 1.0 + sign * share / 100.0
    by_time = f"{time:.4g} {unit}" if time > 0 else "no time at all"
    by_speed = f"{base / pace:.4g} {unit}" if pace > 0 else "a bike that stands"
    return InputError(
        "Faster by time or by speed?",
        got=repr(text[:40]),
        expected=f"'{share:g} % {'less' if sign > 0 else 'more'} than {base:g} {unit}' for the time",
        todo=f"It would be {by_time} by time, {by_speed} by speed.",
    )
