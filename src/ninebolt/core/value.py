"""A number with its origin and tolerance, and what may be said about a field that holds one."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import partial
from typing import Any, Literal

from ninebolt.units import Quantity, quantity_of

Origin = Literal["label", "datasheet", "measured", "guess", "absent"]
Typed = Literal["label", "measured"]
ORIGINS: tuple[Origin, ...] = ("label", "datasheet", "measured", "guess", "absent")
ABSENT_WORDS = ("not there", "none", "absent")

# Relative half-width taken when none is given. Common practice, no source.
DEFAULT_TOLERANCE: dict[Origin, float] = {
    "label": 0.10,
    "datasheet": 0.05,
    "measured": 0.02,
    "guess": 0.30,
    "absent": 0.0,
}


@dataclass(frozen=True, slots=True)
class Value:
    """amount: SI number in the unit that the field's name ends in, None = unknown or not there.

    tolerance: relative half-width (0.1 = ±10 %), None = the usual one for the origin. origin
    'absent' says that there is none: looked at, and not there. assume: the number that the field
    stands for while it is unknown; it belongs to the field, not to the number.
    """

    amount: float | None = None
    origin: Origin = "guess"
    tolerance: float | None = None
    assume: float | None = field(default=None, compare=False, repr=False)

    @property
    def known(self) -> bool:
        return self.amount is not None

    @property
    def absent(self) -> bool:
        """Said not to be there; a field that nobody looked at is not."""
        return self.origin == "absent"

    @property
    def taken(self) -> float:
        """The known amount, else the field's stated assumption, else nan."""
        if self.amount is not None:
            return self.amount
        return math.nan if self.assume is None else self.assume

    @property
    def spread(self) -> float:
        """Relative half-width in force."""
        return DEFAULT_TOLERANCE[self.origin] if self.tolerance is None else self.tolerance

    def or_else(self, default: float) -> float:
        return default if self.amount is None else self.amount


UNKNOWN = Value()


@dataclass(frozen=True, slots=True)
class FieldSpec:
    """What a field of a part is: how it is labelled, measured and bounded.

    kind: number, count, flag, text, choice, curve, outline, part or list. assume: the number taken
    while the field is unknown, with assume_spread as its relative half-width; assume_by: the same for uses of the
    bike that ask for another. own: a choice of this
    build that stays when the part is swapped for another. wish: a number that is wanted, not one that
    somebody measured: it has neither origin nor tolerance. typed: the origin of a number that somebody types and says
    no more of: nobody reads a weight on a scale off a label.
    """

    kind: str
    label: str
    lo: float | None = None
    hi: float | None = None
    above: float | None = None
    assume: float | None = None
    assume_spread: float = 0.3
    options: tuple[str, ...] = ()
    part: str = ""
    help: str = ""
    detail: bool = False
    own: bool = False
    x_range: tuple[float, float] = (-1e9, 1e9)
    y_range: tuple[float, float] = (-1e9, 1e9)
    least: int = 0
    wish: bool = False
    typed: Typed = "label"
    assume_by: Mapping[str, float] = field(default_factory=dict, hash=False)

    def quantity(self, name: str) -> Quantity:
        return quantity_of(name)


def _make(default: Any, spec: FieldSpec) -> Any:
    return field(default=default, metadata={"spec": spec})


def num(
    label: str,
    *,
    lo: float | None = None,
    hi: float | None = None,
    above: float | None = None,
    assume: float | None = None,
    spread: float = 0.3,
    help: str = "",
    detail: bool = False,
    own: bool = False,
    wish: bool = False,
    typed: Typed = "label",
    assume_by: Mapping[str, float] | None = None,
) -> Any:
    """A Value field. Without lo or above it may be any number; above means strictly greater."""
    spec = FieldSpec(
        "number", label, lo, hi, above, assume, spread, help=help, detail=detail, own=own, wish=wish,
        typed=typed, assume_by=assume_by or {},
    )  # fmt: skip
    return _make(UNKNOWN if assume is None else Value(assume=assume), spec)


reading = partial(num, typed="measured")
"""A Value field that somebody reads off the bike: a scale, a rule, a meter."""


def count(
    label: str,
    lo: int = 1,
    hi: int = 100_000,
    help: str = "",
    default: int | None = None,
    detail: bool = False,
) -> Any:
    """A whole number or None = unknown."""
    return _make(default, FieldSpec("count", label, lo, hi, help=help, detail=detail))


def flag(label: str, default: bool | None = None, help: str = "", detail: bool = False) -> Any:
    """Yes, no or None = unknown."""
    return _make(default, FieldSpec("flag", label, help=help, detail=detail))


def text(label: str, default: str = "", help: str = "", detail: bool = False) -> Any:
    return _make(default, FieldSpec("text", label, help=help, detail=detail))


def choice(
    label: str, options: tuple[str, ...], help: str = "", detail: bool = False, own: bool = False
) -> Any:
    """One of the options; the first is the default."""
    spec = FieldSpec("choice", label, options=options, help=help, detail=detail, own=own)
    return _make(options[0], spec)


def curve(
    label: str,
    help: str = "",
    detail: bool = True,
    x: tuple[float, float] = (-1e9, 1e9),
    y: tuple[float, float] = (-1e9, 1e9),
    least: int = 0,
) -> Any:
    """Pairs of numbers in rising order of the first, each within its range; none, or at least so
    many."""
    spec = FieldSpec("curve", label, help=help, detail=detail, x_range=x, y_range=y, least=least)
    return _make((), spec)


def outline(label: str, help: str = "") -> Any:
    """Corners of a closed outline, pairs in metres, none or at least three."""
    return _make((), FieldSpec("outline", label, lo=3, hi=200, help=help, detail=True))


def part(label: str, cls: type) -> Any:
    """A part inside a part."""
    return field(
        default_factory=cls, metadata={"spec": FieldSpec("part", label, part=cls.__name__)}
    )


def many(label: str, cls: type, help: str = "", most: int = 500) -> Any:
    """A list of parts."""
    return _make((), FieldSpec("list", label, part=cls.__name__, help=help, hi=most))


def texts(label: str, help: str = "") -> Any:
    """A list of texts."""
    return _make((), FieldSpec("list", label, part="", help=help))
