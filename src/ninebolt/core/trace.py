"""Know exactly which inputs a computation used: hand it a traced build, read the leaves after.

The leaves are what a witness mark is made of. Names and notes carry no physics: a mark leaves them
out, but what was worded with them is made anew when they change.
"""

from __future__ import annotations

import dataclasses
import hashlib
import json
from collections.abc import Hashable, Iterator
from contextlib import contextmanager
from functools import cache
from typing import Any, cast

from ninebolt.core.build import Build
from ninebolt.core.codec import encode, fields_of
from ninebolt.core.value import Value

SILENT = frozenset({"name", "note", "source"})
PLAIN = (Value, str, float, int, type(None))  # leaves, and most of what there is


class Trace:
    """Where leaves are written down: the frame that is open."""

    __slots__ = ("had", "top")

    def __init__(self) -> None:
        self.top: dict[str, Any] = {}
        self.had: set[str] = set()  # facts whose leaves are in the frame that is open

    def note(self, path: str, value: Any) -> None:
        self.top[path] = value

    def note_fact(self, name: str, leaves: dict[str, Any]) -> None:
        """All leaves of a fact, once a frame."""
        if name not in self.had:
            self.had.add(name)
            self.top.update(leaves)

    @contextmanager
    def frame(self) -> Iterator[dict[str, Any]]:
        """Inside, leaves go into a dict of their own."""
        outer, self.top, had, self.had = self.top, {}, self.had, set()
        try:
            yield self.top
        finally:
            self.top, self.had = outer, had


class _Traced:
    """Stands for a dataclass of the build and writes down each leaf that is read. A part inside it is no leaf: once
    looked at it is a plain attribute. Made by _traced, of a class that has what the dataclass has."""

    def __init__(self, obj: Any, path: str, trace: Trace) -> None:
        self._obj, self._path, self._trace = obj, path, trace
        self._fields = fields_of(cast(Hashable, type(obj)))
        self._seen: dict[str, tuple[Any, str, Any]] = {}

    def _look(self, key: str) -> tuple[Any, str, Any]:
        found = self._seen[key] = self._wrap(getattr(self._obj, key), key)
        return found

    def _wrap(self, value: Any, key: str) -> tuple[Any, str, Any]:
        """(what the reader gets, path of the leaf that this is or '', the leaf)."""
        path = f"{self._path}.{key}" if self._path else key
        if isinstance(value, PLAIN):
            return value, path, value
        if isinstance(value, tuple) and value and dataclasses.is_dataclass(value[0]):
            rows = tuple(_traced(v, f"{path}.{i}", self._trace) for i, v in enumerate(value))
            return rows, f"{path}.#", len(value)
        if isinstance(value, tuple) and not value and self._holds_parts(key):
            return value, f"{path}.#", 0
        if dataclasses.is_dataclass(value):
            return _traced(value, path, self._trace), "", None
        return value, path, value

    def _holds_parts(self, key: str) -> bool:
        spec, _ = self._fields[key]
        return spec is not None and spec.kind == "list" and bool(spec.part)

    def _whole(self) -> Any:
        """The thing itself; all of it counts as read."""
        for key in self._fields:
            inner = getattr(self, key)
            for item in inner if isinstance(inner, tuple) else (inner,):
                if isinstance(item, _Traced):
                    item._whole()
        return self._obj

    def __eq__(self, other: object) -> bool:
        theirs = other._whole() if isinstance(other, _Traced) else other
        return bool(self._whole() == theirs)

    def __hash__(self) -> int:
        return hash(self._whole())


class _Leaf:
    """A field of a traced class. Not a property, so that a part can stand in its way as a plain attribute."""

    __slots__ = ("key",)

    def __init__(self, key: str) -> None:
        self.key = key

    def __get__(self, obj: Any, owner: Any = None) -> Any:
        seen = obj._seen
        value, path, leaf = seen[self.key] if self.key in seen else obj._look(self.key)
        if path:
            obj._trace.top[path] = leaf
        else:
            obj.__dict__[self.key] = value
        return value


@cache
def _class_of(cls: Any) -> type[_Traced]:
    """A traced class with the fields of a dataclass, and with its methods and properties as they are."""
    own = {
        n: v for c in reversed(cls.__mro__) for n, v in vars(c).items() if not n.startswith("__")
    }
    fields = {key: _Leaf(key) for key in fields_of(cast(Hashable, cls))}
    return type(f"Traced{cls.__name__}", (_Traced,), {**own, **fields})


def _traced(obj: Any, path: str, trace: Trace) -> _Traced:
    return _class_of(cast(Hashable, type(obj)))(obj, path, trace)


def plain(obj: Any) -> Any:
    """The thing itself, wherever a traced one may come in; all of it counts as read."""
    return obj._whole() if isinstance(obj, _Traced) else obj


def kind_of(obj: Any) -> type:
    """Its class, also of a traced one."""
    return type(obj._obj) if isinstance(obj, _Traced) else type(obj)


def traced(build: Build, trace: Trace) -> Build:
    """The build to compute with; what is read goes into the trace."""
    return cast(Build, _traced(build, "", trace))


def recorded(leaves: dict[str, Any]) -> dict[str, Any]:
    """The leaves as documents, which is what a mark keeps: without names, notes and what stands
    beside the build."""
    return {
        path: encode(value)
        for path, value in leaves.items()
        if not path.startswith("@") and path.rsplit(".", 1)[-1] not in SILENT
    }


def digest(leaves: dict[str, Any]) -> str:
    """SHA-256 of the leaves in one canonical spelling, as 16 hex digits."""
    canonical = json.dumps(leaves, sort_keys=True, separators=(",", ":"), ensure_ascii=True)
    return hashlib.sha256(canonical.encode()).hexdigest()[:16]


def read_leaves(section: Any, name: str, paths: list[str]) -> dict[str, Any]:
    """Paths of a build that begin with a section's name, as documents; a path that is gone reads as
    None."""
    return {path: encode(leaf_at(section, path[len(name) + 1 :])) for path in paths}


def differing(a: Any, b: Any, path: str = "") -> Iterator[str]:
    """Paths of the leaves of a that read otherwise in b, which is of the same class. What is the
    same object is not looked into."""
    for key in fields_of(cast(Hashable, type(a))):
        x, y = getattr(a, key), getattr(b, key)
        if x is y or x == y:
            continue
        here = f"{path}.{key}" if path else key
        if isinstance(x, tuple) and any(_has_fields(v) for v in (*x[:1], *y[:1])):
            if len(x) != len(y):
                yield f"{here}.#"
            for i, v in enumerate(x):
                one = f"{here}.{i}"
                if i >= len(y) or type(y[i]) is not type(v):
                    yield from leaves_under(v, one)
                else:
                    yield from differing(v, y[i], one)
        elif isinstance(x, tuple) and isinstance(y, tuple) and len(x) != len(y):
            yield from (here, f"{here}.#")
        elif _has_fields(x) and _has_fields(y):
            yield from differing(x, y, here)
        else:
            yield here


def _has_fields(x: Any) -> bool:
    return dataclasses.is_dataclass(x) and not isinstance(x, Value)


def leaves_under(obj: Any, path: str) -> Iterator[str]:
    """Paths of all leaves of a part that stands at a path."""
    for key in fields_of(cast(Hashable, type(obj))):
        x, here = getattr(obj, key), f"{path}.{key}"
        if isinstance(x, tuple):
            yield from (here, f"{here}.#")
            for i, v in enumerate(x):
                if _has_fields(v):
                    yield from leaves_under(v, f"{here}.{i}")
        elif _has_fields(x):
            yield from leaves_under(x, here)
        else:
            yield here


def leaf_at(section: Any, path: str) -> Any:
    """What stands at a leaf's path ('' is the thing itself); None where the path is gone."""
    here: Any = section
    for step in path.split(".") if path else ():
        if step == "#":
            return len(here)
        if isinstance(here, tuple):
            if not step.isdigit() or int(step) >= len(here):
                return None
            here = here[int(step)]
        else:
            here = getattr(here, step, None)
    return here
