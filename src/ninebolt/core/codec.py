"""Documents (dicts, lists, numbers, texts) <-> the core's dataclasses, led by their field specs."""

from __future__ import annotations

import dataclasses
import difflib
import math
import types
import typing
import unicodedata
from collections.abc import Callable, Hashable, Iterable
from functools import cache
from typing import Any, TypeVar

from ninebolt.core.value import ABSENT_WORDS, ORIGINS, FieldSpec, Value
from ninebolt.errors import FieldError, NotFoundError
from ninebolt.units import parse_quantity, quantity_of

T = TypeVar("T")
MAX_ITEMS = 20_000
MAX_TEXT = 20_000
MAX_DEPTH = 12
HIDDEN = ("Cc", "Cs")  # control characters and halves of a pair
NO_XML = "\ufffe\uffff"  # which no XML file may hold
OUTLINE_MAX_M = 3.0


@cache
def fields_of(cls: Hashable) -> dict[str, tuple[FieldSpec | None, Any]]:
    """Field name -> (its spec if it has one, its type)."""
    assert isinstance(cls, type)
    hints = typing.get_type_hints(cls)
    return {
        f.name: (f.metadata.get("spec"), hints[f.name]) for f in dataclasses.fields(cls) if f.init
    }


def clean_text(text: str, where: str) -> str:
    """A text that every file and page can hold: no half characters (FieldError); control characters
    but line breaks and tabs are left out."""
    if text.isascii() and text.isprintable():
        return text
    try:
        text.encode("utf-8")
    except UnicodeEncodeError as error:
        raise FieldError(
            "This text holds half a character.",
            where=where,
            got=f"position {error.start + 1}",
            expected="whole Unicode characters",
            todo="Type it again.",
        ) from error
    return "".join(
        c
        for c in text
        if c in "\n\t" or (unicodedata.category(c) not in HIDDEN and c not in NO_XML)
    )


def decode(cls: type[T], doc: Any, where: str = "") -> T:
    """Make a cls from a document. Raises FieldError with the field's path."""
    if not isinstance(doc, dict):
        raise FieldError("This must be an object.", where=where, got=_name(doc), expected="{…}")
    known = fields_of(typing.cast(Hashable, cls))
    for key in doc:
        if key not in known:
            raise FieldError(
                f"There is no field {str(key)[:60]!a} here.",
                where=where or "top level",
                todo=_meant(str(key), known),
            )
    made = {}
    for key, value in doc.items():
        spec, hint = known[key]
        made[key] = _way(hint)(spec, value, _join(where, key), key)
    return cls(**made)


def decode_field(cls: type, key: str, value: Any) -> Any:
    """One field of a cls from its document. Raises FieldError with the field's path."""
    spec, hint = fields_of(typing.cast(Hashable, cls))[key]
    return _decode_field(hint, spec, value, key, key)


def _decode_field(hint: Any, spec: FieldSpec | None, value: Any, where: str, name: str) -> Any:
    return _way(hint)(spec, value, where, name)


@cache
def _way(hint: Any) -> Callable[[FieldSpec | None, Any, str, str], Any]:
    """How a field of this type is read; looked up once a type, for a document has thousands."""
    if hint is Any:
        return lambda spec, value, where, name: plain_json(value, where)
    if hint is Value:
        return _decode_value
    origin = typing.get_origin(hint)
    if origin is tuple:
        return lambda spec, value, where, name: _decode_tuple(hint, spec, value, where)
    if dataclasses.is_dataclass(hint):
        return lambda spec, value, where, name: decode(typing.cast(type, hint), value, where)
    if origin in (types.UnionType, typing.Union):
        some = _way(next(a for a in typing.get_args(hint) if a is not type(None)))
        return lambda spec, value, where, name: (
            None if value is None else some(spec, value, where, name)
        )
    if origin is dict:
        return lambda spec, value, where, name: _decode_dict(hint, value, where)
    return lambda spec, value, where, name: _decode_plain(hint, spec, value, where)


def _decode_dict(hint: Any, value: Any, where: str) -> dict[str, Any]:
    if not isinstance(value, dict):
        raise FieldError("This must be an object.", where=where, got=_name(value))
    inner = _way(typing.get_args(hint)[1])
    return {str(k): inner(None, v, _join(where, str(k)), "") for k, v in value.items()}


def plain_json(value: Any, where: str, depth: int = 0) -> Any:
    """A piece of JSON that is kept as it is: bounded in depth, its texts whole."""
    if depth > MAX_DEPTH:
        raise FieldError("This is nested too deeply.", where=where, expected=f"{MAX_DEPTH} levels")
    if isinstance(value, str):
        return clean_text(value, where)
    if isinstance(value, list | tuple):
        return [plain_json(v, where, depth + 1) for v in value]
    if isinstance(value, dict):
        return {
            clean_text(str(k), where): plain_json(v, where, depth + 1) for k, v in value.items()
        }
    if value is None or isinstance(value, bool):
        return value
    number = _finite(value, where)
    return value if isinstance(value, int) else number  # a whole number stays whole


def _decode_tuple(hint: Any, spec: FieldSpec | None, value: Any, where: str) -> Any:
    if not isinstance(value, list | tuple):
        raise FieldError("This must be a list.", where=where, got=_name(value), expected="[…]")
    if len(value) > MAX_ITEMS:
        raise FieldError(
            "This list is too long.",
            where=where,
            got=f"{len(value)} items",
            expected=f"at most {MAX_ITEMS}",
        )
    args = typing.get_args(hint)
    if len(args) == 2 and args[1] is not Ellipsis and len(value) != 2:
        raise FieldError("This must be a pair.", where=where, got=f"{len(value)} items")
    inner = _way(args[0])
    out = tuple([inner(None, v, f"{where}.{i}", "") for i, v in enumerate(value)])
    if spec is not None and spec.kind == "curve":
        _check_curve(spec, out, where)
    if spec is not None and spec.kind == "list" and spec.hi is not None and len(out) > spec.hi:
        raise FieldError(
            "There are too many of these.",
            where=where,
            got=str(len(out)),
            expected=f"at most {spec.hi:.0f}",
        )
    if spec is not None and spec.kind == "outline":
        _check_outline(spec, out, where)
    return out


def _check_curve(spec: FieldSpec, pairs: tuple[Any, ...], where: str) -> None:
    """Rising, inside its bounds, and with enough points to read between."""
    xs = [pair[0] for pair in pairs]
    if any(b - a <= 1e-9 * max(1.0, abs(b)) for a, b in zip(xs, xs[1:], strict=False)):
        raise FieldError("The first numbers of the pairs must rise.", where=where)
    for numbers, (low, high), what in (
        (xs, spec.x_range, "first"),
        ([pair[1] for pair in pairs], spec.y_range, "second"),
    ):
        wrong = next((x for x in numbers if not low <= x <= high), None)
        if wrong is not None:
            raise FieldError(
                f"A {what} number of the pairs is out of range.",
                where=where,
                got=f"{wrong:g}",
                expected=f"{low:g} to {high:g}",
            )
    if pairs and len(pairs) < spec.least:
        raise FieldError(
            "The curve needs more points.",
            where=where,
            got=str(len(pairs)),
            expected=f"none, or at least {spec.least}",
        )


def _check_outline(spec: FieldSpec, corners: tuple[Any, ...], where: str) -> None:
    most = spec.hi or 0
    if corners and not 3 <= len(corners) <= most:
        raise FieldError(
            "An outline needs more corners, or fewer.",
            where=where,
            got=f"{len(corners)} corners",
            expected=f"none, or 3 to {most:.0f}",
        )
    if any(abs(x) > OUTLINE_MAX_M for pair in corners for x in pair):
        raise FieldError(
            "A corner lies too far away.",
            where=where,
            expected=f"within {OUTLINE_MAX_M:g} m",
            todo="Check the unit of the drawing.",
        )


def _decode_plain(hint: Any, spec: FieldSpec | None, value: Any, where: str) -> Any:
    if hint is bool:
        if not isinstance(value, bool):
            raise FieldError("This must be true or false.", where=where, got=_name(value))
        return value
    if hint is int:
        whole = isinstance(value, float) and value.is_integer()
        if isinstance(value, bool) or not (isinstance(value, int) or whole):
            raise FieldError("This must be a whole number.", where=where, got=_name(value))
        _check_range(spec, _finite(value, where), where)
        return int(value)
    if hint is float:
        return _finite(value, where)
    if hint is str or typing.get_origin(hint) is typing.Literal:
        allowed = spec.options if spec and spec.options else typing.get_args(hint)
        if not isinstance(value, str):
            raise FieldError("This must be a text.", where=where, got=_name(value))
        if len(value) > MAX_TEXT:
            raise FieldError("This text is too long.", where=where, expected="20,000 characters")
        value = clean_text(value, where)
        if allowed and value not in allowed:
            raise FieldError(
                "This is not one of the choices.",
                where=where,
                got=repr(value[:60]),
                expected=", ".join(allowed),
            )
        return value
    raise FieldError(f"A field of type {hint} cannot be read.", where=where)


@cache
def _unknown(assume: float | None) -> Value:
    return Value(assume=assume)


def _decode_value(spec: FieldSpec | None, value: Any, where: str, name: str) -> Value:
    assume = spec.assume if spec else None
    if value is None:
        return _unknown(assume)
    if isinstance(value, str) and value.strip().lower() in ABSENT_WORDS:
        return Value(None, "absent", None, assume)
    if isinstance(value, str):
        value = {"amount": _parse(value, name, where), "origin": "datasheet"}
    if isinstance(value, int | float) and not isinstance(value, bool):
        value = {"amount": value, "origin": "datasheet"}
    if not isinstance(value, dict) or not set(value) <= {"amount", "origin", "tolerance"}:
        raise FieldError(
            "This is not a value.",
            where=where,
            got=_name(value),
            expected='a number or {"amount", "origin", "tolerance"}',
        )
    amount, origin = value.get("amount"), value.get("origin", "datasheet")
    tolerance = value.get("tolerance")
    if isinstance(amount, str):
        amount = _parse(amount, name, where)
    if origin not in ORIGINS:
        raise FieldError(
            "Unknown origin of a number.",
            where=where,
            got=repr(origin)[:40],
            expected=", ".join(ORIGINS),
        )
    if tolerance is not None and not 0 <= _finite(tolerance, f"{where}.tolerance") <= 5:
        raise FieldError(
            "The tolerance is out of range.",
            where=where,
            got=str(tolerance),
            expected="0 to 5 (0.1 = ±10 %)",
        )
    if amount is not None:
        amount = _finite(amount, where)
        _check_range(spec, amount, where)
        if origin == "absent":
            raise FieldError(
                "What is not there has no number.", where=where, got=f"{amount:g}", expected="none"
            )
    return Value(amount, origin, None if tolerance is None else float(tolerance), assume)


def _parse(text: str, name: str, where: str) -> float:
    try:
        return parse_quantity(text, quantity_of(name).key)
    except FieldError:
        raise
    except Exception as error:
        what = getattr(error, "what", str(error))
        expected = getattr(error, "expected", "")
        raise FieldError(what, where=where, got=repr(text[:40]), expected=expected) from error


def _finite(value: Any, where: str) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise FieldError("This must be a number.", where=where, got=_name(value))
    try:
        number = float(value)
    except OverflowError:
        number = math.inf
    if not math.isfinite(number):
        raise FieldError("This must be a finite number.", where=where, got=_short(value))
    return number


def _check_range(spec: FieldSpec | None, number: float, where: str) -> None:
    if spec is None or (
        (spec.above is None or number > spec.above)
        and (spec.lo is None or number >= spec.lo)
        and (spec.hi is None or number <= spec.hi)
    ):
        return
    if spec.above is not None and number <= spec.above:
        raise FieldError(
            f"{spec.label} must be above {spec.above:g}.",
            where=where,
            got=f"{number:g}",
            todo="Leave it empty if you do not know it.",
        )
    if spec.lo is not None and number < spec.lo:
        raise FieldError(
            f"{spec.label} must be at least {spec.lo:g}.",
            where=where,
            got=f"{number:g}",
            todo="Leave it empty if you do not know it.",
        )
    if spec.hi is not None and number > spec.hi:
        raise FieldError(
            f"{spec.label} must be at most {spec.hi:g}.",
            where=where,
            got=f"{number:g}",
            todo="Check the unit.",
        )


@cache
def spec_in(cls: Hashable, path: str) -> FieldSpec | None:
    """The field spec at a path of a dataclass, None where there is none; list places are passed through."""
    here: Any = cls
    spec: FieldSpec | None = None
    for step in path.split("."):
        if step.isdigit():
            continue
        found = fields_of(here).get(step) if isinstance(here, type) else None
        if found is None:
            return None
        spec, hint = found
        here = hint.__args__[0] if getattr(hint, "__args__", None) else hint
    return spec


def is_within(spec: FieldSpec | None, number: float) -> bool:
    """Whether a field takes a number."""
    try:
        _check_range(spec, number, "")
    except FieldError:
        return False
    return True


@cache
def _names_of(cls: Hashable) -> tuple[str, ...]:
    return tuple(f.name for f in dataclasses.fields(typing.cast(Any, cls)))


_PLAIN = frozenset({str, int, float, bool, type(None)})


def encode(obj: Any) -> Any:
    """The document of a core object; a round trip through decode loses nothing."""
    kind = type(obj)
    if kind in _PLAIN:
        return obj
    if kind is Value:
        if obj.amount is None and obj.tolerance is None and obj.origin == "guess":
            return None
        return {"amount": obj.amount, "origin": obj.origin, "tolerance": obj.tolerance}
    if kind is tuple or kind is list:
        return [encode(item) for item in obj]
    if kind is dict:
        return {key: encode(item) for key, item in obj.items()}
    return {name: encode(getattr(obj, name)) for name in _names_of(typing.cast(Hashable, kind))}


def replaced(obj: T, path: str, value: Any) -> T:
    """A copy of a core object with the piece at 'a.b.0.c' replaced; siblings are shared."""
    step, _, rest = path.partition(".")
    if isinstance(obj, tuple):
        place = int(step)
        inner = replaced(obj[place], rest, value) if rest else value
        return typing.cast(T, (*obj[:place], inner, *obj[place + 1 :]))
    inner = replaced(getattr(obj, step), rest, value) if rest else value
    return typing.cast(T, dataclasses.replace(typing.cast(Any, obj), **{step: inner}))


def replaced_all(obj: T, pieces: dict[str, Any]) -> T:
    """A copy with several pieces replaced at once, each node made anew only once."""
    here: dict[str, Any] = {}
    inside: dict[str, dict[str, Any]] = {}
    for path, value in pieces.items():
        step, _, rest = path.partition(".")
        if rest:
            inside.setdefault(step, {})[rest] = value
        else:
            here[step] = value
    if isinstance(obj, tuple):
        rows = list(obj)
        for step, more in inside.items():
            rows[int(step)] = replaced_all(rows[int(step)], more)
        for step, value in here.items():
            rows[int(step)] = value
        return typing.cast(T, tuple(rows))
    for step, more in inside.items():
        here[step] = replaced_all(getattr(obj, step), more)
    return typing.cast(T, dataclasses.replace(typing.cast(Any, obj), **here))


def get_path(doc: Any, path: str) -> Any:
    """The piece of a document at 'a.b.0.c'. Raises NotFoundError."""
    here = doc
    for step in path.split("."):
        try:
            here = here[typing.cast(int, _place(step))] if isinstance(here, list) else here[step]
        except (KeyError, IndexError, TypeError) as error:
            raise NotFoundError(f"There is nothing at '{path}'.") from error
    return here


def set_path(doc: Any, path: str, value: Any) -> Any:
    """A copy of the document with one piece replaced; siblings are shared, nothing is mutated.

    A list may be set at its length, which appends.
    """
    return _set(doc, path, value, path)


def _set(doc: Any, path: str, value: Any, whole: str) -> Any:
    """whole: the path from the top, for what is said of it."""
    step, _, rest = path.partition(".")
    if isinstance(doc, list):
        index = _place(step)
        if index is None or index > len(doc):
            raise FieldError(
                "There is no such place in the list.", where=whole, expected=f"0 to {len(doc)}"
            )
        old = doc[index] if index < len(doc) else {}
        item = _set(old, rest, value, whole) if rest else value
        return [*doc[:index], item, *doc[index + 1 :]]
    if not isinstance(doc, dict):
        raise FieldError("There is nothing inside this.", where=whole)
    if step not in doc and rest:
        raise FieldError(f"There is no field '{step[:60]}'.", where=whole, todo=_meant(step, doc))
    return {**doc, step: _set(doc[step], rest, value, whole) if rest else value}


def _place(step: str) -> int | None:
    """A place in a list; None for anything that is none."""
    return int(step) if step.isascii() and step.isdigit() and len(step) <= 6 else None


def _meant(key: str, known: Iterable[str]) -> str:
    close = difflib.get_close_matches(key, list(known), n=3)
    return f"Did you mean {', '.join(close)}?" if close else ""


def _join(where: str, key: str) -> str:
    return f"{where}.{key}" if where else key


def _name(value: Any) -> str:
    names = {
        dict: "an object",
        list: "a list",
        str: "a text",
        bool: "true/false",
        int: "a number",
        float: "a number",
        type(None): "nothing",
    }
    kind = names.get(type(value), type(value).__name__)
    return kind if isinstance(value, dict | list) else f"{kind} ({_short(value)})"


def _short(value: Any) -> str:
    """The start of a value, for a message. A number of thousands of digits has no text in Python."""
    if isinstance(value, int) and abs(value) >= 10**30:
        return "very large"
    return ascii(value)[:30] if isinstance(value, str) else str(value)[:30]
