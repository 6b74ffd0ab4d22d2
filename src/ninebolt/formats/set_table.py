"""A parameter set as CSV or JSON: physical values, each with its unit, and whom the set belongs to."""

from __future__ import annotations

import csv
import io
import json
import math
from dataclasses import replace
from typing import Any

from ninebolt.core.setting.ours import BY_NAME, PARAMS, ParamSpec
from ninebolt.core.setting.sets import OUR_PROFILE, Identity, ParamSet, Profile
from ninebolt.errors import FormatError, QuantityError
from ninebolt.formats.dcf import BELONGS, NOT_CLEARED, Setting, physical_of, set_of
from ninebolt.formats.sheet import safe
from ninebolt.formats.table import lines_of, split_rows, text_of
from ninebolt.units import parse_quantity

HEAD = ["parameter", "value", "unit", "constraint"]
OWNER = "belongs to, "  # before what it is: the build, the maker's number
NUMBERS = ("vendor", "product", "revision", "serial")
KEYS = (*BELONGS, *NUMBERS, "device")
BY_LABEL = {s.label.lower(): s for s in PARAMS} | {s.name: s for s in PARAMS}


def owner_of(s: ParamSet) -> dict[str, str]:
    """Whom a set belongs to, in words and the standard's numbers; what is not known is left out."""
    who = s.identity or Identity()
    out = {**s.belongs, "hardware": who.hardware, "firmware": who.firmware, "device": who.device}
    out |= {k: f"0x{getattr(who, k):X}" for k in NUMBERS if getattr(who, k)}
    return {k: out[k] for k in KEYS if out.get(k)}


def write_csv(s: ParamSet, rows: list[tuple[str, float, str, str]]) -> bytes:
    """Rows of (label, value, unit, constraint); before them the stops that stand, after them whose it is."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerows([NOT_CLEARED, "", "", safe(t)] for t in s.stops)
    writer.writerow(HEAD)
    writer.writerows(
        [safe(label), f"{value:g}", unit, safe(why)] for label, value, unit, why in rows
    )
    writer.writerows([OWNER + key, safe(words), "", ""] for key, words in owner_of(s).items())
    return out.getvalue().encode()


def write_json(s: ParamSet, profile: Profile = OUR_PROFILE) -> bytes:
    """Name and value in SI; whose it is and the stops that stand under keys of their own."""
    doc: dict[str, object] = {"not_cleared": list(s.stops)} if s.stops else {}
    doc |= {"belongs": owner_of(s), **physical_of(s, profile)}
    return json.dumps(doc, indent=1, ensure_ascii=False).encode() + b"\n"


def is_table(data: bytes, name: str) -> bool:
    """Whether a file of a set is read here and not as a DCF: by its name, else by how it begins."""
    start = data[:200].lstrip(b'\xef\xbb\xbf \r\n\t"').lower()
    return name.lower().endswith((".csv", ".json")) or start.startswith(
        (b"{", HEAD[0].encode(), NOT_CLEARED.lower().encode())
    )


def read_table(data: bytes, name: str, profile: Profile = OUR_PROFILE) -> ParamSet:
    """A set that was written as CSV (any separator, the unit of each value its own) or JSON (SI). Raises FormatError
    with the line or key."""
    text = text_of(data, name)
    found = _from_json(text, name) if text.lstrip()[:1] in "{[" else _from_csv(text, name)
    settings, owner, stops = found
    if not settings:
        raise FormatError(
            "No parameter stands in this file.", where=name, expected="parameters with numbers"
        )
    rows = [Setting(spec.name, value) for spec, value in settings.items()]
    return replace(
        set_of(rows, name, profile), identity=_identity(owner), stops=stops,
        belongs={k: v for k, v in owner.items() if k in BELONGS and k not in ("hardware", "firmware")},
    )  # fmt: skip


Found = tuple[dict[ParamSpec, float], dict[str, str], tuple[str, ...]]


def _from_csv(text: str, name: str) -> Found:
    lines = lines_of(text, name)
    separator = max((",", ";", "\t"), key=lambda c: sum(line.count(c) for line in lines))
    settings: dict[ParamSpec, float] = {}
    owner: dict[str, str] = {}
    stops: list[str] = []
    for n, row in enumerate(split_rows(lines, separator, name), 1):
        cells = [c.strip() for c in row] + [""] * 4
        first, where = cells[0].lstrip("'").strip(), f"{name}, line {n}"
        if first.lower() == HEAD[0] or not any(cells):
            continue
        if first == NOT_CLEARED:
            stops.append(cells[3].lstrip("'"))
        elif first.startswith(OWNER):
            owner[first.removeprefix(OWNER)] = cells[1].lstrip("'")
        else:
            spec = BY_LABEL.get(first.lower())
            value = None if spec is None else _quantity(spec, cells[1], cells[2], where)
            if spec is None or value is None:
                raise FormatError(
                    "This line is no parameter with a number.", where=where, got=repr(separator.join(row))[:60],
                    expected=separator.join(HEAD),
                )  # fmt: skip
            _put(settings, spec, value, where)
    return settings, owner, tuple(stops)


def _quantity(spec: ParamSpec, number: str, unit: str, where: str) -> float | None:
    """A value in the unit that stands beside it; None where there is none. Raises FormatError."""
    if not number:
        return None
    words = {w: spec.lo + i for i, w in enumerate(spec.words)}
    if number.lower() in words:
        return words[number.lower()]
    if unit[:1].isdigit():
        raise FormatError(
            f"{spec.label}: a number stands where its unit should.", where=where, got=f"{number},{unit}",
            expected="a decimal point, or another separator than the comma",
        )  # fmt: skip
    try:
        own = any(c.isalpha() for c in number)
        return parse_quantity(number if own else f"{number} {unit}", spec.quantity)
    except QuantityError as error:
        raise FormatError(
            f"{spec.label}: {error.what}", where=where, got=error.got, expected=error.expected
        ) from error


def _put(settings: dict[ParamSpec, float], spec: ParamSpec, value: float, where: str) -> None:
    if settings.get(spec, value) != value:
        raise FormatError(
            f"{spec.label} stands in this file twice.", where=where, got=f"{settings[spec]:g} and {value:g}",
            todo="Keep the one that is meant.",
        )  # fmt: skip
    settings[spec] = value


def _from_json(text: str, name: str) -> Found:
    def pairs(rows: list[tuple[str, Any]]) -> dict[str, Any]:
        out: dict[str, Any] = {}
        for key, value in rows:
            if key in out and out[key] != value:
                raise FormatError(
                    "This key stands in the file twice.", where=f"{name}, {key[:40]!r}"
                )
            out[key] = value
        return out

    try:
        doc = json.loads(text, object_pairs_hook=pairs)
    except (json.JSONDecodeError, RecursionError, ValueError) as error:
        raise FormatError("This JSON cannot be read.", where=name, got=str(error)[:100]) from error
    if not isinstance(doc, dict):
        raise FormatError(
            "This JSON is no parameter set.", where=name, expected="an object of names and numbers"
        )
    owner, stops = doc.pop("belongs", {}), doc.pop("not_cleared", [])
    settings: dict[ParamSpec, float] = {}
    for key, value in doc.items():
        spec = BY_NAME.get(key)
        number = isinstance(value, int | float) and not isinstance(value, bool)
        if spec is None or not number or not math.isfinite(value):
            raise FormatError(
                "This is no parameter with a number.", where=f"{name}, {key[:40]!r}", got=repr(value)[:40],
                expected="names such as line_a, each with a number",
            )  # fmt: skip
        settings[spec] = float(value)
    whose = {k: str(v)[:200] for k, v in owner.items()} if isinstance(owner, dict) else {}
    return settings, whose, tuple(str(s)[:200] for s in stops) if isinstance(stops, list) else ()


def _identity(owner: dict[str, str]) -> Identity | None:
    def whole(key: str) -> int:
        try:
            return int(owner.get(key, "0"), 0)
        except ValueError:
            return 0

    names = (owner.get(k, "") for k in ("device", "hardware", "firmware"))
    who = Identity(whole("vendor"), whole("product"), whole("revision"), whole("serial"), *names)
    return None if who.kind == (0, 0) else who
