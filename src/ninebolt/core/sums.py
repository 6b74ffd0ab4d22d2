"""Percentages with their base named: 'of' and 'more than' are not the same sum."""

from __future__ import annotations

import re
from dataclasses import dataclass

from ninebolt.errors import InputError
from ninebolt.units import parse_number

_CLAIM = re.compile(
    r"^\s*([+-]?[\d.,]+)\s*%\s*(of|more than|over|less than|under)?\s*([+-]?[\d.,]+)?\s*(\D*)$",
    re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class Percent:
    """Two numbers against each other. of_pct: a as a share of b. change_pct: (a - b) / b."""

    of_pct: float
    change_pct: float


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
    return Percent(100.0 * a / b, 100.0 * (a - b) / b)


def read_claim(text: str) -> Claim:
    """'130 % of 40' or '30 % more than 40'. Raises InputError for a percentage without its base."""
    match = _CLAIM.match(text)
    try:
        share = parse_number(match.group(1)) if match else None
        base = parse_number(match.group(3)) if match and match.group(3) else None
    except ValueError:
        share = base = None
    word = (match.group(2) or "").lower() if match else ""
    if share is None:
        raise InputError(
            "This is no percentage.", got=repr(text[:40]), expected="such as '30 % more than 40'"
        )
    if base is None or not word:
        both = ""
        if base is not None:
            both = f"{base * share / 100:g} if 'of', {base * (1 + share / 100):g} if 'more than'"
        raise InputError(
            "A percentage of what?",
            got=repr(text[:40]),
            expected="'of', 'more than' or 'less than', and the base",
            todo=f"It would be {both}." if both else "Write the number that it is of.",
        )
    as_of = base * share / 100.0
    sign = -1.0 if word in ("less than", "under") else 1.0
    as_change = base * (1.0 + sign * share / 100.0)
    if word == "of":
        return Claim(
            as_of, f"{share:g} % of {base:g}", as_change, f"{share:g} % more than {base:g}"
        )
    return Claim(as_change, f"{share:g} % {word} {base:g}", as_of, f"{share:g} % of {base:g}")
