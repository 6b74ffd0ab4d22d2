"""Logs of a build: look at a file before it is imported, import, choose, remove."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass
from typing import Any, Literal

from ninebolt.core.codec import clean_text
from ninebolt.core.logs.align import aligned
from ninebolt.core.logs.ride import Ride, RideReport, analyse
from ninebolt.core.logs.trust import with_wheel
from ninebolt.errors import FormatError, InputError, NotFoundError
from ninebolt.formats.bundle import MAX_LOG_NAME, LogFile
from ninebolt.formats.candump import is_candump, to_table
from ninebolt.formats.ride_csv import ALIASES, sniff_ride, write_ride
from ninebolt.formats.ride_log import kind_of, read_log
from ninebolt.formats.table import Column, Sniffed
from ninebolt.services import workshop
from ninebolt.services.house import House, wheel_of
from ninebolt.services.mappings import remember, remembered
from ninebolt.services.registers import AS_IT_CAME, LOGS
from ninebolt.services.workshop import Bench
from ninebolt.store import builds as table
from ninebolt.store import rides
from ninebolt.store.database import session, transaction
from ninebolt.store.rides import LogRow


@dataclass(frozen=True, slots=True)
class LogPreview:
    """What a log looks like, and what it would say with this mapping. error: why not, if not."""

    name: str
    kind: str
    sniffed: Sniffed | None
    report: RideReport | None
    error: str


@dataclass(frozen=True, slots=True)
class LogReading:
    """How far the look at a log is. rows: of its table, once they are read. preview: when it is over."""

    stage: Literal["reading", "analysing", "done"]
    rows: int
    preview: LogPreview | None


def preview(
    house: House,
    build_id: str,
    name: str,
    data: bytes,
    mapping: tuple[Column, ...] | None,
    dbc: str = "",
) -> LogPreview:
    """Nothing is stored. dbc: what frames of a CAN bus mean. Raises FormatError where the file is no log at all."""
    *_, last = reading_steps(house, build_id, name, data, mapping, dbc)()
    if last.preview is None:
        raise FormatError("The log could not be read.", where=name)
    return last.preview


def reading_steps(
    house: House,
    build_id: str,
    name: str,
    data: bytes,
    mapping: tuple[Column, ...] | None,
    dbc: str = "",
) -> Callable[[], Iterator[LogReading]]:
    """The same as a job: read, then analysed; it can be stopped between."""
    wheel = wheel_of(workshop.shown_build(house, build_id))

    def steps() -> Iterator[LogReading]:
        yield LogReading("reading", 0, None)
        given, table = data, mapping
        if is_candump(given):
            try:
                given = to_table(given, name, dbc)
            except FormatError as error:
                seen = LogPreview(name, "candump", None, None, error.message())
                yield LogReading("done", 0, seen)
                return
        kind = kind_of(given, name)
        sniffed = sniff_ride(given, name) if kind == "csv" else None
        if sniffed is not None:
            table = table or remembered(house, sniffed)
        try:
            ride = _read(house, name, given, table)
            rows = len(ride.columns["t_s"])
            yield LogReading("analysing", rows, None)
            made = LogPreview(name, kind, sniffed, analyse(with_wheel(ride, wheel)), "")
        except FormatError as error:
            if sniffed is None:
                raise
            made, rows = LogPreview(name, kind, sniffed, None, error.message()), 0
        yield LogReading("done", rows, made)

    return steps


def _read(house: House, name: str, data: bytes, mapping: tuple[Column, ...] | None) -> Ride:
    """Read once: what was just looked at is not read again when it is kept."""
    mark = hashlib.blake2b(data, digest_size=16).hexdigest()
    made: Ride = house.keep(f"seen:{mark}:{name}:{mapping}", lambda: read_log(data, name, mapping))
    return made


def import_log(
    house: House,
    build_id: str,
    name: str,
    data: bytes,
    mapping: tuple[Column, ...] | None,
    dbc: str = "",
) -> Bench:
    """Read once, store, show beside the prediction. Frames of a CAN bus are stored as the table that they came to.
    Raises FormatError and stores nothing."""
    if is_candump(data):
        data = to_table(data, name, dbc)
    stored: list[dict[str, Any]] = []
    seen = None
    name = clean_text(" ".join(name.split()), "name")[:MAX_LOG_NAME] or "log"
    if kind_of(data, name) == "csv":
        seen = sniff_ride(data, name)
        mapping = mapping or remembered(house, seen)
        stored = [asdict(c) for c in mapping or seen.mapping]
    ride = _read(house, name, data, mapping)
    wheel = wheel_of(workshop.shown_build(house, build_id))
    analyse(with_wheel(ride, wheel))
    log_id = house.new_id()
    with session(house.path) as db, transaction(db):
        table.get_build(db, build_id)
        rides.insert_log(db, log_id, build_id, name, stored, house.now(), data)
        if seen is not None and mapping:
            remember(db, seen, mapping)
    house.know_ride(log_id, ride)
    return workshop.change(
        house,
        build_id,
        [{"path": "prove.log_id", "value": log_id}],
        f"Imported {name}",
    )


def join(house: House, build_id: str, first: str, second: str) -> Bench:
    """Two loggers of one ride as one more log, on the first's clock; how they came together stays with it. Raises
    FormatError, NotFoundError."""
    with session(house.path) as db:
        for log_id in (first, second):
            if not rides.has_log(db, build_id, log_id):
                raise NotFoundError(f"This build has no log '{log_id[:40]}'.")
    if first == second:
        raise InputError("A log is joined with another one.", got=first[:40])
    made = aligned(house.ride(first), house.ride(second))
    mapping = tuple(Column(n, n, "") for n in made.columns if n in ALIASES)
    return import_log(house, build_id, made.name, write_ride(made), mapping)


def logs(house: House, build_id: str) -> list[LogRow]:
    with session(house.path) as db:
        table.get_build(db, build_id)
        return rides.list_logs(db, build_id)


def log_file(house: House, build_id: str, log_id: str, kind: str) -> tuple[str, str, bytes]:
    """(file name, media type, bytes) of a log in one of its forms. Raises NotFoundError for another kind or log,
    InputError for a track of a ride without positions."""
    if kind not in LOGS:
        raise NotFoundError(f"There is no form '{kind[:20]}' of a log.", expected=", ".join(LOGS))
    row = next((x for x in logs(house, build_id) if x.id == log_id), None)
    if row is None:
        raise NotFoundError(f"This build has no log '{log_id[:40]}'.")
    with session(house.path) as db:
        name, mapping, data = rides.log_data(db, log_id)
    form, write = LOGS[kind]
    stem, _, ending = name.rpartition(".")
    known = LogFile(log_id, name, mapping, data, row.imported_at, row.seq)
    made = write(lambda: house.ride(log_id), known)
    return f"{stem or name}.{ending if form.key == AS_IT_CAME else form.key}", form.media, made


def remove_log(house: House, build_id: str, log_id: str) -> Bench:
    """Take a log out of the list; the build stops pointing at it. Undo brings it back: its bytes
    stay. Raises NotFoundError where the build has no such log."""
    with session(house.path) as db, transaction(db):
        rides.set_removed(db, build_id, log_id, house.now())
    if workshop.shown_build(house, build_id).prove.log_id == log_id:
        return workshop.change(
            house, build_id, [{"path": "prove.log_id", "value": ""}], "Removed a log"
        )
    return workshop.bench(house, build_id)


def put_back(house: House, build_id: str, log_id: str) -> Bench:
    """Undo the removal of a log that the build did not point at."""
    with session(house.path) as db, transaction(db):
        rides.set_removed(db, build_id, log_id, None)
    return workshop.bench(house, build_id)


def preferences(house: House) -> dict[str, Any]:
    """Units and theme, without what is only remembered for imports."""
    with session(house.path) as db:
        every = rides.get_preferences(db)
    return {k: v for k, v in every.items() if ":" not in k}


def set_preference(house: House, key: str, value: str) -> dict[str, Any]:
    with session(house.path) as db, transaction(db):
        rides.put_preference(db, key, value)
    return preferences(house)
