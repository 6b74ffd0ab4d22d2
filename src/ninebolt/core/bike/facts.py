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
from ninebolt.core.trace import Trace, differing, traced

P = TypeVar("P", bound=Part)
T = TypeVar("T")
# Inputs that stand beside the build; SINCE: what of it was changed since the log was ridden.
RIDE, SHELF, TODAY, SINCE = "@ride", "@shelf", "@today", "@since"
KEPT = 16  # of each fact: what-ifs, previews and other builds take turns


@dataclass(frozen=True)
class Shelf:
    """Parts on offer, by kind: what a finding may propose by name. Not an input of any mark."""

    kinds: dict[str, tuple[Part, ...]] = field(default_factory=dict)

    def of(self, kind: str, cls: type[P]) -> tuple[P, ...]:
        """The parts of a kind."""
        return tuple(p for p in self.kinds.get(kind, ()) if isinstance(p, cls))


EMPTY_SHELF = Shelf()
Beside = tuple[Build, RideReport | None, Shelf, str, str]


@dataclass(frozen=True, slots=True)
class Kept:
    """A fact's value, the inputs that it was made of, by path, and where it was made."""

    leaves: dict[str, Any]
    value: Any
    made_for: Beside


class Memory:
    """Facts of earlier looks, of any build. Safe to share between threads."""

    def __init__(self) -> None:
        self._kept: dict[str, list[Kept]] = {}
        self._lock = Lock()

    def find(self, name: str, bike: Bike) -> Kept | None:
        """The fact whose inputs read the same in this bike."""
        with self._lock:
            tries = tuple(self._kept.get(name, ()))
        for kept in tries:
            if kept.leaves.keys().isdisjoint(bike.moved_from(kept.made_for)):
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
    """One build, traced, with the log, the shelf and the day beside it. Facts are functions of this. today:
    year-month-day, '' where nobody says; like the shelf no input of any mark."""

    def __init__(
        self,
        build: Build,
        ride: RideReport | None = None,
        shelf: Shelf = EMPTY_SHELF,
        memory: Memory | None = None,
        today: str = "",
    ) -> None:
        self._plain, self._shelf, self._today = build, shelf, today
        self._ride = ride.plain if ride is not None and ride.plain is not None else ride
        self._since = ride.moved if ride is not None else ""
        self._memory = memory
        self._known: dict[str, Kept] = {}
        # The same object in every fact that is made here.
        self.looked_at: Beside = (build, self._ride, shelf, today, self._since)
        self._moved: dict[int, tuple[Any, frozenset[str]]] = {}
        self.trace = Trace()
        self.build: Build = traced(build, self.trace)

    @property
    def ride(self) -> RideReport | None:
        """The chosen log, analysed."""
        self.trace.note(RIDE, self._ride)
        return self._ride

    @property
    def since(self) -> str:
        """What of the bike was changed since the chosen log was ridden, in words."""
        self.trace.note(SINCE, self._since)
        return self._since

    @property
    def shelf(self) -> Shelf:
        """Parts on offer."""
        self.trace.note(SHELF, self._shelf)
        return self._shelf

    @property
    def today(self) -> str:
        """The day of this look."""
        self.trace.note(TODAY, self._today)
        return self._today

    def moved_from(self, other: Beside) -> frozenset[str]:
        """Paths of another bike's inputs that read otherwise in this one."""
        found = self._moved.get(id(other))  # held there, so that its id stays its own
        if found is None:
            build, ride, shelf, today, since = other
            paths = set(differing(build, self._plain))
            paths.update([RIDE] if ride != self._ride else [])
            paths.update([SHELF] if shelf != self._shelf else [])
            paths.update([SINCE] if since != self._since else [])
            paths.update([TODAY] if today != self._today else [])
            found = self._moved[id(other)] = (other, frozenset(paths))
        return found[1]

    def recall(self, name: str, make: Callable[[Bike], Any]) -> Any:
        """The fact of this name: known, remembered, or made. Its inputs join the caller's."""
        kept = self._known.get(name)
        if kept is None and self._memory is not None:
            kept = self._memory.find(name, self)
        if kept is None:
            with self.trace.frame() as leaves:
                value = make(self)
            kept = Kept(leaves, value, self.looked_at)
            if self._memory is not None:
                self._memory.put(name, kept)
        self._known[name] = kept
        self.trace.note_fact(name, kept.leaves)
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
