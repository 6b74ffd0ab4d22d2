"""Parts as CSV or JSON: {"kind": …, "items": [{"id": …, …}]}, or a row a part with a column a
field.

In CSV a number may carry its unit ('3.5 mΩ'); '<field> origin' and '<field> tolerance' stand beside
it. Curves and lists are left to JSON.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Hashable
from dataclasses import dataclass
from typing import Any, cast

from ninebolt.core.codec import decode, encode, fields_of
from ninebolt.core.parts.base import Part
from ninebolt.core.parts.kinds import KINDS
from ninebolt.core.value import FieldSpec
from ninebolt.errors import FieldError, FormatError
from ninebolt.formats.build_json import load_json
from ninebolt.formats.sheet import safe, unsafe
from ninebolt.formats.table import MAX_COLUMNS, lines_of, text_of

MAX_PARTS = 5000
PLAIN = ("number", "count", "text", "choice", "flag")


@dataclass(frozen=True, slots=True)
class PartRow:
    """A part under its id ('' = none given)."""

    id: str
    kind: str
    part: Part


def kind_of(name: str) -> type[Part]:
    """The class of a kind. Raises FormatError."""
    if name not in KINDS:
        raise FormatError(
            f"There is no kind of part called '{name[:40]}'.", expected=", ".join(KINDS)
        )
    return KINDS[name]


def read_parts(data: bytes, name: str, kind: str = "") -> list[PartRow]:
    """Parts of a JSON or CSV file. kind: for a CSV without a 'part' column. Raises FormatError,
    FieldError with line or place."""
    if data.lstrip()[:1] in (b"{", b"["):
        return _json(data, name)
    return _csv(data, name, kind)


def _json(data: bytes, name: str) -> list[PartRow]:
    doc = load_json(data, name)
    lists = doc if isinstance(doc, list) else [doc]
    out: list[PartRow] = []
    for block in lists:
        if not isinstance(block, dict) or not isinstance(block.get("items"), list):
            raise FormatError(
                "This is not a file of parts.",
                where=name,
                expected='{"kind": "cell", "items": [{"name": …}]}',
            )
        kind = str(block.get("kind", ""))
        cls = kind_of(kind)
        for i, item in enumerate(block["items"]):
            if not isinstance(item, dict):
                raise FormatError("A part must be an object.", where=f"{name}: items.{i}")
            body = {k: v for k, v in item.items() if k != "id"}
            out.append(
                PartRow(str(item.get("id", "")), kind, _made(cls, body, f"{name}: items.{i}"))
            )
    return _checked(out, name)


def _made(cls: type[Part], body: dict[str, Any], where: str) -> Part:
    part = decode(cls, body, where)
    if not part.name.strip():
        raise FieldError("A part needs a name.", where=f"{where}.name")
    return part


def _checked(rows: list[PartRow], name: str) -> list[PartRow]:
    if not rows:
        raise FormatError("There are no parts in this file.", where=name)
    if len(rows) > MAX_PARTS:
        raise FormatError("Too many parts.", where=name, expected=f"at most {MAX_PARTS}")
    return rows


def _csv(data: bytes, name: str, kind: str) -> list[PartRow]:
    numbered = enumerate(lines_of(text_of(data, name), name), 1)
    lines = [(n, x) for n, x in numbered if not x.startswith("#")]
    head = lines[0][1] if lines else ""
    separator = max(";\t,", key=head.count)
    reader = csv.DictReader((x for _, x in lines), delimiter=separator)
    out: list[PartRow] = []
    try:
        titles = [t.strip() for t in reader.fieldnames or ()]
        reader.fieldnames = titles
        rows = list(reader) if len(titles) <= MAX_COLUMNS else []
    except csv.Error as error:
        raise FormatError(f"This file cannot be read: {error}.", where=name) from error
    if len(titles) > MAX_COLUMNS or len(set(titles)) < len(titles):
        raise FormatError(
            "The columns cannot be used.",
            where=f"{name}, line {lines[0][0]}",
            got=f"{len(titles)} titles, {len(set(titles))} different",
            expected=f"at most {MAX_COLUMNS}, each once",
        )
    for at, row in enumerate(rows, 1):
        if not any((v or "").strip() for v in row.values() if isinstance(v, str)):
            continue
        where = f"{name}, line {lines[min(at, len(lines) - 1)][0]}"
        own = (row.get("part") or kind).strip()
        cls = kind_of(own)
        body = _row(cls, {k: unsafe((v or "").strip()) for k, v in row.items() if k}, where)
        out.append(PartRow((row.get("id") or "").strip(), own, _made(cls, body, where)))
    return _checked(out, name)


def _row(cls: type[Part], row: dict[str, str], where: str) -> dict[str, Any]:
    fields = {n: s for n, (s, _) in fields_of(cast(Hashable, cls)).items() if s is not None}
    body: dict[str, Any] = {}
    for title, text in row.items():
        if not text or title in ("id", "part"):
            continue
        field, _, more = title.partition(" ")
        spec = fields.get(field)
        if spec is None or spec.kind not in PLAIN or more not in ("", "origin", "tolerance"):
            raise FormatError(
                f"There is no column '{title[:40]}' for this kind of part.",
                where=where,
                expected=", ".join(n for n, s in fields.items() if s.kind in PLAIN),
            )
        if more:
            continue
        body[field] = _cell(spec, field, text, row, where)
    return body


def _cell(spec: FieldSpec, field: str, text: str, row: dict[str, str], where: str) -> Any:
    if spec.kind == "number":
        value: dict[str, Any] = {
            "amount": text,
            "origin": row.get(f"{field} origin") or "datasheet",
        }
        tolerance = row.get(f"{field} tolerance")
        if tolerance:
            value["tolerance"] = _float(tolerance, f"{where}, column {field} tolerance")
        return value
    if spec.kind == "count":
        number = _float(text, f"{where}, column {field}")
        return int(number) if number.is_integer() else number
    if spec.kind == "flag":
        if text.lower() not in ("yes", "no", "true", "false"):
            raise FormatError("This must be yes or no.", where=f"{where}, column {field}", got=text)
        return text.lower() in ("yes", "true")
    return text


def _float(text: str, where: str) -> float:
    try:
        return float(text.replace(",", "."))
    except ValueError as error:
        raise FormatError("This is not a number.", where=where, got=repr(text[:30])) from error


def write_parts_json(kind: str, rows: list[PartRow]) -> bytes:
    """One kind of parts as JSON; reading it again gives equal parts."""
    items = [{"id": r.id, **encode(r.part)} for r in rows]
    return json.dumps({"kind": kind, "items": items}, indent=1, ensure_ascii=False).encode() + b"\n"


def write_parts_csv(kind: str, rows: list[PartRow]) -> bytes:
    """One kind of parts as CSV in SI units; curves and lists are left out."""
    fields = {
        n: s
        for n, (s, _) in fields_of(cast(Hashable, kind_of(kind))).items()
        if s is not None and s.kind in PLAIN
    }
    titles = ["id", "part"]
    for n, s in fields.items():
        titles += [n, f"{n} origin", f"{n} tolerance"] if s.kind == "number" else [n]
    out = io.StringIO()
    writer = csv.DictWriter(out, titles, lineterminator="\n")
    writer.writeheader()
    for r in rows:
        doc, line = encode(r.part), {"id": r.id, "part": kind}
        for n, s in fields.items():
            value = doc[n]
            if s.kind == "number":
                if value:
                    line[n] = "" if value["amount"] is None else repr(value["amount"])
                    line[f"{n} origin"] = value["origin"]
                    tolerance = value["tolerance"]
                    line[f"{n} tolerance"] = "" if tolerance is None else repr(tolerance)
            elif s.kind == "flag":
                line[n] = "" if value is None else "yes" if value else "no"
            else:
                line[n] = "" if value is None else safe(str(value))
        writer.writerow(line)
    return out.getvalue().encode()
