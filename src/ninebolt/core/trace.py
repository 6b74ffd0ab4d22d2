"""Know exactly which inputs a computation used: hand it a traced build, read the leaves after.

The leaves are what a witness mark is made of. Names and notes carry no physics and are left out.
"""

from __future__ import annotations

import dataclasses
import hashlib
import json
from collections.abc import Hashable
from typing import Any, cast

from ninebolt.core.build import Build
from ninebolt.core.codec import encode, fields_of
from ninebolt.core.value import Value

SILENT = frozenset({"name", "note", "source"})


class _Traced:
    """Stands for a dataclass (or tuple) of the build and writes down each leaf that is read."""

    __slots__ = ("_leaves", "_obj", "_path", "_seen")

    def __init__(self, obj: Any, path: str, leaves: dict[str, Any]) -> None:
        self._obj, self._path, self._leaves = obj, path, leaves
        self._seen: dict[str, Any] = {}

    def _wrap(self, value: Any, key: str) -> Any:
        path = f"{self._path}.{key}" if self._path else key
        if isinstance(value, tuple):
            if value and dataclasses.is_dataclass(value[0]):
                self._leaves[f"{path}.#"] = len(value)
                return tuple(_Traced(v, f"{path}.{i}", self._leaves) for i, v in enumerate(value))
            self._leaves[path] = value
            return value
        if dataclasses.is_dataclass(value) and not isinstance(value, Value):
            return _Traced(value, path, self._leaves)
        if key not in SILENT:
            self._leaves[path] = value
        return value

    def __getattr__(self, key: str) -> Any:
        seen = self._seen
        if key in seen:
            return seen[key]
        value = getattr(self._obj, key)
        if key not in fields_of(cast(Hashable, type(self._obj))):
            found = getattr(type(self._obj), key)
            if isinstance(found, property):
                return cast(Any, found.fget)(self)
            return found.__get__(self) if callable(found) else found
        seen[key] = self._wrap(value, key)
        return seen[key]


def traced(build: Build) -> tuple[Build, dict[str, Any]]:
    """The build to compute with, and the dict that fills with path -> value as it is read."""
    leaves: dict[str, Any] = {}
    return cast(Build, _Traced(build, "", leaves)), leaves


def recorded(leaves: dict[str, Any]) -> dict[str, Any]:
    """The leaves as documents, which is what a mark keeps."""
    return {path: encode(value) for path, value in leaves.items()}


def digest(leaves: dict[str, Any]) -> str:
    """SHA-256 of the leaves in one canonical spelling, as 16 hex digits."""
    canonical = json.dumps(leaves, sort_keys=True, separators=(",", ":"), ensure_ascii=True)
    return hashlib.sha256(canonical.encode()).hexdigest()[:16]


def read_leaves(build: Build, paths: list[str]) -> dict[str, Any]:
    """The same paths in another build; a path that is gone reads as None."""
    return {path: _read(build, path) for path in paths}


def _read(build: Build, path: str) -> Any:
    here: Any = build
    for step in path.split("."):
        if step == "#":
            return len(here)
        if isinstance(here, tuple):
            if int(step) >= len(here):
                return None
            here = here[int(step)]
        else:
            here = getattr(here, step, None)
    return encode(here)
