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


@dataclass(frozen=True, slots=True)
class Percent:
    """Two numbers against each other. of_pct: a as a share of b. change_pct: (a - b) / b.
    words: both readings as sentences."""

    of_pct: float
    change_pct: float
    words: str


@dataclass(frozen=True, slots=True)
class Claim:
    """A claim with its base: what it comes to, and what the other reading would have been."""

    value: float
    words: str
    other_value: float
    other_words: str


def percent(a: float, b: float) -> Percent:
    """Both readings of two numbers. Raises InputError if the base is zero."""
    if b == 0:
        raise InputError("A percentage of nothing means nothing.", where="base", got="0")
    of, change = 100.0 * a / b, 100.0 * (a - b) / b
    more = f"{abs(change):.4g} % {'more' if change >= 0 else 'less'} than {b:g}"
    return Percent(of, change, f"{a:g} is {of:.4g} % of {b:g}, which is {more}")


def read_claim(text: str) -> Claim:
    """'130 % of 40', '30 % more than 40', '17 percent faster than 40 km/h'. Raises InputError for a
    percentage without its base, and for 'faster' said of a time, which is two sums."""
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
        raise _baseless(text, share, base, word)
    kind = word.removesuffix(" than")
    if kind in PACE and unit.lower() in TIMES:
        raise _two_paces(text, share, base, PACE[kind], unit)
    as_of = base * share / 100.0
    sign = -1.0 if kind in (*LESS, "under", "below") or PACE.get(kind, 1.0) < 0 else 1.0
    as_change = base * (1.0 + sign * share / 100.0)
    of = f"{share:g} % of {base:g}"
    if word in ("of", "as much as"):
        return Claim(as_of, of, as_change, f"{share:g} % more than {base:g}")
    return Claim(as_change, f"{share:g} % {word} {base:g}", as_of, of)


def _baseless(text: str, share: float, base: float | None, word: str) -> InputError:
    both = ""
    if base is not None:
        both = f"{base * share / 100:g} if 'of', {base * (1 + share / 100):g} if 'more than'"
    elif word:
        both = f"nothing that can be worked out: '{word}' what number"
    return InputError(
        "A percentage of what?",
        got=repr(text[:40]),
        expected="'of', 'more than', 'less than' or 'faster than', and the number it is of",
        todo=f"It would be {both}." if both else "Write the number that it is of.",
    )


def _two_paces(text: str, share: float, base: float, sign: float, unit: str) -> InputError:
    """'17 % faster than 8 s': the time is less by 17 %, or the speed is more by 17 %."""
    time = base * (1.0 - sign * share / 100.0)
    speed = base / (1.0 + sign * share / 100.0) if share < 100.0 or sign > 0 else float("inf")
    return InputError(
        "Faster by time or by speed?",
        got=repr(text[:40]),
        expected=f"'{share:g} % {'less' if sign > 0 else 'more'} than {base:g} {unit}' for the time",
        todo=f"It would be {time:.4g} {unit} by time, {speed:.4g} {unit} by speed.",
    )
