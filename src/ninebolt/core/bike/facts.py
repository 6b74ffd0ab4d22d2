"""A bike as the bolts look at it, and facts: each derived thing computed once and kept with exactly
the inputs that it read, so that a change makes anew only what it touches."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import wraps
from threading import Lock
from typing import Any, TypeVar, cast

from ninebolt.core.build import Build
from ninebolt.core.logs.ride import RideReport
from ninebolt.core.parts.base import Part
from ninebolt.core.trace import Trace, leaf_at, traced

P = TypeVar("P", bound=Part)
T = TypeVar("T")
RIDE, SHELF = "@ride", "@shelf"  # inputs that stand beside the build
KEPT = 16  # of each fact: what-ifs, previews and other builds take turns


@dataclass(frozen=True)
class Shelf:
    """Parts on offer, by kind: what a finding may propose by name. Not an input of any mark."""

    kinds: dict[str, tuple[Part, ...]] = field(default_factory=dict)

    def of(self, kind: str, cls: type[P]) -> tuple[P, ...]:
        """The parts of a kind."""
        return tuple(p for p in self.kinds.get(kind, ()) if isinstance(p, cls))


EMPTY_SHELF = Shelf()


@dataclass(frozen=True, slots=True)
class Kept:
    """A fact's value and the inputs that it was made of, by path."""

    leaves: dict[str, Any]
    value: Any


class Memory:
    """Facts of earlier looks, of any build. Safe to share between threads."""

    def __init__(self) -> None:
        self._kept: dict[str, list[Kept]] = {}
        self._lock = Lock()

    def find(self, name: str, now: Callable[[str], Any]) -> Kept | None:
        """The fact whose inputs read the same now."""
        with self._lock:
            tries = tuple(self._kept.get(name, ()))
        for kept in tries:
            if all(now(path) == value for path, value in kept.leaves.items()):
                self._put_first(name, kept)
                return kept
        return None

    def put(self, name: str, kept: Kept) -> None:
        self._put_first(name, kept)

    def _put_first(self, name: str, kept: Kept) -> None:
        with self._lock:
            row = [k for k in self._kept.get(name, ()) if k is not kept]
            self._kept[name] = [kept, *row[: KEPT - 1]]


class Bike:
    """One build, traced, with the log and the shelf beside it. Facts are functions of this."""

    def __init__(
        self,
        build: Build,
        ride: RideReport | None = None,
        shelf: Shelf = EMPTY_SHELF,
        memory: Memory | None = None,
    ) -> None:
        self._plain, self._ride, self._shelf = build, ride, shelf
        self._memory = memory
        self._known: dict[str, Kept] = {}
        self._now: dict[str, Any] = {RIDE: ride, SHELF: shelf}
        self.trace = Trace()
        self.build: Build = traced(build, self.trace)

    @property
    def ride(self) -> RideReport | None:
        """The chosen log, analysed."""
        self.trace.note(RIDE, self._ride)
        return self._ride

    @property
    def shelf(self) -> Shelf:
        """Parts on offer."""
        self.trace.note(SHELF, self._shelf)
        return self._shelf

    def now(self, path: str) -> Any:
        """An input as it reads in this build."""
        if path not in self._now:
            self._now[path] = leaf_at(self._plain, path)
        return self._now[path]

    def recall(self, name: str, make: Callable[[Bike], Any]) -> Any:
        """The fact of this name: known, remembered, or made. Its inputs join the caller's."""
        kept = self._known.get(name)
        if kept is None and self._memory is not None:
            kept = self._memory.find(name, self.now)
        if kept is None:
            with self.trace.frame() as leaves:
                value = make(self)
            kept = Kept(leaves, value)
            if self._memory is not None:
                self._memory.put(name, kept)
        self._known[name] = kept
        self.trace.note_all(kept.leaves)
        return kept.value

    def leaves_of(self, name: str) -> dict[str, Any]:
        """Inputs of a fact that is known by now."""
        return self._known[name].leaves


def fact(make: Callable[[Bike], T]) -> Callable[[Bike], T]:
    """A function of a bike that is computed once a look."""
    name = f"{make.__module__}.{make.__qualname__}"

    @wraps(make)
    def get(bike: Bike) -> T:
        return cast(T, bike.recall(name, make))

    return get
