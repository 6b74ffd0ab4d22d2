"""JSON Schemas of all that goes in and out, by name."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ninebolt.formats.record import Record
from ninebolt.formats.schema import build_schema, parts_schema, schema_of
from ninebolt.services.runs import RunResult

SCHEMAS: dict[str, Callable[[], dict[str, Any]]] = {
    "build": build_schema,
    "run": lambda: schema_of(RunResult, "Nine Bolt run"),
    "parts": parts_schema,
    "record": lambda: schema_of(Record, "Nine Bolt record", required=["version"]),
}
