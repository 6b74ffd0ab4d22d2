"""What every use case needs: where the data is, the clock, new ids, assessments kept ready."""

from __future__ import annotations

import logging
import math
import secrets
import sqlite3
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta
from functools import cache
from pathlib import Path
from threading import Lock
from typing import Any

from ninebolt.core.bike.facts import Memory, Shelf
from ninebolt.core.bike.gearing import gear_ratio, wheel_radius_m
from ninebolt.core.bolts.assess import Assessment, BoltReport, assess
from ninebolt.core.build import BOLTS, Build
from ninebolt.core.codec import decode
from ninebolt.core.finding import Finding
from ninebolt.core.logs.ride import Ride, RideReport, analyse
from ninebolt.core.logs.trust import Wheel, with_wheel
from ninebolt.core.parts.kinds import KINDS
from ninebolt.errors import FormatError, InputError, NineBoltError, StoreError
from ninebolt.formats.ride_log import read_log
from ninebolt.formats.table import Column
from ninebolt.library.catalogue import items
from ninebolt.services.card_cache import CardCache
from ninebolt.services.docs import build_at
from ninebolt.services.moved import another_ride, in_words
from ninebolt.store.database import check, refusals, session
from ninebolt.store.migrate import migrate, pending, regular_backup
from ninebolt.store.parts import list_parts
from ninebolt.store.rides import log_data, log_state

KEPT = 64
DATABASE = "ninebolt.sqlite3"
log = logging.getLogger("ninebolt")


def utc_now() -> str:
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def before(now: str, seconds: float | None) -> str:
    """A moment that long ago; now itself where nobody said."""
    if not seconds:
        return now
    return (datetime.fromisoformat(now) - timedelta(seconds=seconds)).isoformat(
        timespec="milliseconds"
    )


def new_id() -> str:
    return secrets.token_hex(6)


@cache
def bundled_shelf() -> Shelf:
    """The generic parts that come with the program."""
    return Shelf({kind: tuple(x.part for x in items(kind)) for kind in KINDS})


@dataclass
class House:
    """One data folder and what is kept in memory about it."""

    path: Path
    now: Callable[[], str] = utc_now
    new_id: Callable[[], str] = new_id
    _kept: OrderedDict[str, Any] = field(default_factory=OrderedDict)
    _lock: Lock = field(default_factory=Lock)
    _parts: int = 0
    memory: Memory = field(default_factory=Memory)
    cards: CardCache = field(init=False)
    _last: tuple[Build, RideReport | None, Shelf, str, Assessment] | None = None

    def __post_init__(self) -> None:
        self.cards = CardCache(self.path.parent)

    @classmethod
    def open(cls, folder: Path, **parts: Any) -> House:
        """Make the folder and database if need be, migrate, check, back up. Raises StoreError."""
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise StoreError(
                "The data folder cannot be made.", where=str(folder), got=str(error.strerror)
            ) from error
        house = cls(folder / DATABASE, **parts)
        with session(house.path, fresh=not house.path.exists()) as db:
            check(db, house.path)
            if pending(db):
                with refusals(house.path):
                    migrate(db, house.path, house.now())
            house._back_up(db)
        return house

    def _back_up(self, db: sqlite3.Connection) -> None:
        """Today's backup; a full disk does not keep the garage shut."""
        try:
            regular_backup(db, self.path, self.now()[:10])
        except (OSError, sqlite3.Error) as error:
            log.warning("no backup was taken: %s", error)

    def keep(self, key: str, make: Callable[[], Any]) -> Any:
        """The value under a key, made once; the oldest is let go."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        made = make()
        with self._lock:
            self._kept[key] = made
            if len(self._kept) > KEPT:
                self._kept.popitem(last=False)
        return made

    def put(self, key: str, value: Any) -> None:
        """Keep a value under a key, in place of what is there."""
        with self._lock:
            self._kept[key] = value
            self._kept.move_to_end(key)
            if len(self._kept) > KEPT:
                self._kept.popitem(last=False)

    def peek(self, key: str) -> Any:
        """The value under a key; None if none is kept."""
        with self._lock:
            return self._kept.get(key)

    def shelf(self) -> Shelf:
        """Bundled parts and the person's own, as findings may propose them."""

        def make() -> Shelf:
            with session(self.path) as db:
                own = list_parts(db)
            if not own:
                return bundled_shelf()
            kinds = dict(bundled_shelf().kinds)
            for p in own:
                kinds[p.kind] = (*kinds.get(p.kind, ()), decode(KINDS[p.kind], p.doc))
            return Shelf(kinds)

        made: Shelf = self.keep(f"shelf:{self._parts}", make)
        return made

    def parts_changed(self) -> None:
        """What was kept about the shelf, and what was assessed with it, is old."""
        with self._lock:
            self._parts += 1

    def assessment(self, build: Build) -> Assessment:
        """Assess a build with its chosen log; what did not move since an earlier look is remembered."""
        ride, shelf, today = self.ride_of(build), self.shelf(), self.now()[:10]
        last = self._last
        same = last is not None and last[0] == build and last[3] == today
        if last is not None and same and last[1] is ride and last[2] is shelf:
            return last[4]
        made = assess(build, ride, shelf, self.memory, today)
        self._last = (build, ride, shelf, today, made)
        return made

    def stops_of(self, build: Build) -> tuple[Finding, ...]:
        """Stops of a build that is only tried: the one on screen stays the last that was looked at."""
        return assess(build, self.ride_of(build), self.shelf(), self.memory, self.now()[:10]).stops

    def assessable(self, build: Build) -> Assessment:
        """As assessment, where it may not fail. Raises InputError naming the bolt that cannot be computed."""
        a = self.assessment(build)
        failed = next((b for b in a.bolts if b.state == "failed"), None)
        if failed is not None:
            raise _uncomputable(failed)
        return a

    def storable(self, build: Build) -> Assessment:
        """As assessable, with every bolt's drawing made too, on screen or not. Raises InputError."""
        seen = self.assessable(build).seen(BOLTS)
        failed = next((b for b in seen.bolts if b.state == "failed"), None)
        if failed is not None:
            raise _uncomputable(failed)
        return seen

    def know_ride(self, log_id: str, ride: Ride) -> None:
        """A log that was just read need not be read again."""
        self.keep(f"read:{log_id}", lambda: ride)

    def ride(self, log_id: str) -> Ride:
        """A log as it was read, kept. Raises NotFoundError, FormatError."""

        def read() -> Ride:
            with session(self.path) as db:
                name, mapping, data = log_data(db, log_id)
            return read_log(data, name, columns_of(mapping))

        made: Ride = self.keep(f"read:{log_id}", read)
        return made

    def rolled(self, build: Build, log_id: str) -> Ride:
        """A log with a speed: where it holds rpm alone, by the build's wheel. Raises NotFoundError, FormatError."""
        return with_wheel(self.ride(log_id), wheel_of(build))

    def ride_of(self, build: Build) -> RideReport | None:
        """The log named in the build, analysed; None if there is none or it is gone."""
        if not build.prove.log_id:
            return None
        speed = build.goal.to_speed_m_s.taken
        rollout, wheel = bool(build.prove.rollout), wheel_of(build)
        launch = build.prove.launch

        def make() -> RideReport | None:
            try:
                return analyse(self.rolled(build, build.prove.log_id), rollout, speed, launch)
            except NineBoltError as error:  # a log that went bad never hides its build
                log.warning("log %s of a build cannot be read: %s", build.prove.log_id, error)
                return None

        moved = self._moved_since(build)
        key = f"ride:{build.prove.log_id}:{rollout}:{speed}:{launch}:{wheel}"
        plain: RideReport | None = self.keep(key, make)
        if plain is None or not moved:
            return plain
        made: RideReport = self.keep(
            f"{key}:{moved}", lambda: replace(plain, moved=moved, plain=plain)
        )
        return made

    def _moved_since(self, build: Build) -> str:
        """What of the bike was changed since its log was ridden, in words."""
        log_id = build.prove.log_id

        def ridden() -> Build | None:
            with session(self.path) as db:
                state = log_state(db, log_id)
                try:
                    return None if state is None else build_at(db, *state, build.name)
                except NineBoltError as error:  # a state that cannot be read never hides its build
                    log.warning("the build of log %s cannot be read: %s", log_id, error)
                    return None

        then: Build | None = self.keep(f"ridden:{log_id}", ridden)
        return in_words(another_ride(then, build)) if then is not None else ""


def _uncomputable(failed: BoltReport) -> InputError:
    return InputError(
        "With this the build could not be computed any more; nothing was stored.",
        where=failed.bolt,
        got=failed.findings[0].reason if failed.findings else "",
        todo="Look at the number that was just given; take it back or give another.",
    )


def wheel_of(build: Build) -> Wheel | None:
    """What turns rpm into road speed; None while it is not known."""
    ratio, radius = gear_ratio(build), wheel_radius_m(build)
    known = math.isfinite(ratio) and math.isfinite(radius) and ratio > 0
    return Wheel(ratio, radius, build.drive.motor.pole_pairs) if known else None


def columns_of(mapping: Any) -> tuple[Column, ...] | None:
    """A stored mapping as columns; None = guess."""
    if not mapping:
        return None
    try:
        return tuple(Column(str(m["name"]), str(m["column"]), str(m["unit"])) for m in mapping)
    except (TypeError, KeyError) as error:
        raise FormatError(
            "A stored column mapping cannot be read.", expected="a list of {name, column, unit}"
        ) from error
