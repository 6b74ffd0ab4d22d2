"""JSON Schema (draft 2020-12) of the documents, made from the core's field specs."""

from __future__ import annotations

import dataclasses
import types
import typing
from collections.abc import Hashable
from typing import Any, cast

from ninebolt.core.build import Build
from ninebolt.core.codec import fields_of
from ninebolt.core.parts.kinds import KINDS
from ninebolt.core.value import ORIGINS, FieldSpec, Value
from ninebolt.units import quantity_of

DIALECT = "https://json-schema.org/draft/2020-12/schema"


def build_schema() -> dict[str, Any]:
    """Schema of a build file."""
    return schema_of(Build, "Nine Bolt build", required=["format_version"])


def parts_schema() -> dict[str, Any]:
    """Schema of a parts file: {"kind": …, "items": [{"id": …, …}]}."""
    defs: dict[str, Any] = {}
    options = []
    for kind, cls in KINDS.items():
        body = _object(cls, defs)
        body["properties"] = {"id": {"type": "string"}, **body["properties"]}
        options.append(
            {
                "type": "object",
                "required": ["kind", "items"],
                "properties": {"kind": {"const": kind}, "items": {"type": "array", "items": body}},
            }
        )
    return {"$schema": DIALECT, "title": "Nine Bolt parts", "oneOf": options, "$defs": defs}


SCHEMAS = {"build": build_schema, "parts": parts_schema}


def schema_of(cls: type, title: str, required: list[str] | None = None) -> dict[str, Any]:
    """Schema of any dataclass."""
    defs: dict[str, Any] = {}
    body = _object(cls, defs)
    if required:
        body["required"] = required
    return {"$schema": DIALECT, "title": title, **body, "$defs": defs}


def _object(cls: type, defs: dict[str, Any]) -> dict[str, Any]:
    return {
        "type": "object",
        "description": (cls.__doc__ or "").strip(),
        "additionalProperties": False,
        "properties": {
            name: _field(hint, spec, name, defs)
            for name, (spec, hint) in fields_of(cast(Hashable, cls)).items()
        },
    }


def _reference(cls: type, defs: dict[str, Any]) -> dict[str, Any]:
    if cls.__name__ not in defs:
        defs[cls.__name__] = {}
        defs[cls.__name__] = _object(cls, defs)
    return {"$ref": f"#/$defs/{cls.__name__}"}


def _field(hint: Any, spec: FieldSpec | None, name: str, defs: dict[str, Any]) -> dict[str, Any]:
    out = _type(hint, spec, name, defs)
    return {"title": spec.label, **out} if spec else out


def _type(hint: Any, spec: FieldSpec | None, name: str, defs: dict[str, Any]) -> dict[str, Any]:
    if hint is Value:
        return _value(spec, name)
    if dataclasses.is_dataclass(hint):
        return _reference(cast(type, hint), defs)
    origin, args = typing.get_origin(hint), typing.get_args(hint)
    if origin in (tuple, list):
        item = _type(args[0], None, "", defs)
        pair = origin is tuple and len(args) == 2 and args[1] is not Ellipsis
        return {"type": "array", "items": item, **({"minItems": 2, "maxItems": 2} if pair else {})}
    if origin in (types.UnionType, typing.Union):
        inner = next(a for a in args if a is not type(None))
        return {"anyOf": [_type(inner, spec, name, defs), {"type": "null"}]}
    if origin is dict:
        return {"type": "object"}
    if hint is str and spec and spec.options:
        return {"enum": list(spec.options)}
    plain = {int: "integer", float: "number", str: "string", bool: "boolean"}
    out: dict[str, Any] = {"type": plain[hint]} if hint in plain else {}
    if hint is int and spec and spec.kind == "count":
        out |= {"minimum": spec.lo, "maximum": spec.hi}
    return out


def _value(spec: FieldSpec | None, name: str) -> dict[str, Any]:
    unit = quantity_of(name).units[0].symbol
    number: dict[str, Any] = {"type": "number", "description": unit or "no unit"}
    if spec is not None:
        if spec.above is not None:
            number["exclusiveMinimum"] = spec.above
        if spec.lo is not None:
            number["minimum"] = spec.lo
        if spec.hi is not None:
            number["maximum"] = spec.hi
    text = {"type": "string", "description": "a number with a unit, such as '72 V'"}
    amount = {"anyOf": [number, text, {"type": "null"}]}
    return {
        "anyOf": [
            {"type": "null"},
            number,
            text,
            {
                "type": "object",
                "additionalProperties": False,
                "properties": {
                    "amount": amount,
                    "origin": {"enum": list(ORIGINS)},
                    "tolerance": {
                        "anyOf": [{"type": "number", "minimum": 0, "maximum": 5}, {"type": "null"}]
                    },
                },
            },
        ]
    }
