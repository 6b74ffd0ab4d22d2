"""What the program can take and give, each in one entry: kinds of part, readers of files, forms of the
parameter set, kinds of background job. Pages are made from these lists."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from ninebolt.core.logs.protocols import EVERY, Protocol
from ninebolt.core.logs.ride import Ride
from ninebolt.core.logs.traces import CHANNELS
from ninebolt.core.parts.kinds import KINDS, LABELS
from ninebolt.core.setting.ours import BMS_STATES, STEPS
from ninebolt.core.setting.sets import ParamSet, Profile
from ninebolt.formats.bundle import LogFile
from ninebolt.formats.dcf import write_dcf
from ninebolt.formats.ride_csv import ALIASES
from ninebolt.formats.ride_out import write_json, write_package, write_track
from ninebolt.formats.set_sheet import write_sheet
from ninebolt.formats.set_table import write_csv
from ninebolt.formats.set_table import write_json as set_json
from ninebolt.services.riding import GEAR
from ninebolt.services.standing import HOLDS, UNLOOKED, Hold

Row = tuple[str, float, str, str]  # label, value, unit, what binds it


@dataclass(frozen=True, slots=True)
class PartKind:
    """A kind of part on the shelf: what a person calls it, and its class, whose fields are its form."""

    key: str
    label: str
    cls: str


@dataclass(frozen=True, slots=True)
class FileReader:
    """What a button that takes files reads: endings as file dialogs want them."""

    key: str
    label: str
    endings: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class FileForm:
    """One form that a parameter set or a log leaves in."""

    key: str
    label: str
    media: str


@dataclass(frozen=True, slots=True)
class RideColumn:
    """A column that a ride log may hold."""

    name: str
    label: str
    quantity: str


@dataclass(frozen=True, slots=True)
class Registers:
    """All of them."""

    parts: tuple[PartKind, ...]
    readers: tuple[FileReader, ...]
    parameters: tuple[FileForm, ...]
    logs: tuple[FileForm, ...]
    jobs: tuple[str, ...]
    ride_columns: tuple[RideColumn, ...]
    protocols: tuple[Protocol, ...]
    gear: tuple[str, ...]  # a rider's, before a ride
    identifying: tuple[str, ...]  # steps of the identification
    bms_states: tuple[str, ...]  # of the BMS on the bus, by number
    holds: tuple[Hold, ...]  # what is not done while a stop stands
    unlooked: str  # what is said of what must be known before first power


READERS = (
    FileReader("ride", "Ride log", (".csv", ".txt", ".tsv", ".gpx", ".nmea", ".log")),
    FileReader("dbc", "Meaning of CAN frames", (".dbc",)),
    FileReader("cells", "Cell measurements", (".csv", ".txt")),
    FileReader("charge", "Charge log", (".csv", ".txt")),
    FileReader("outline", "Outline of a bay", (".dxf", ".svg")),
    FileReader("parts", "Parts", (".csv", ".json", ".txt")),
    FileReader("trials", "Trials", (".csv", ".txt")),
    FileReader("parameters", "Parameter set", (".dcf", ".csv", ".json")),
    FileReader("dictionary", "Controller profile", (".eds", ".dcf")),
    FileReader("build", "Build", (".json", ".zip")),
)
Writer = Callable[[ParamSet, list[Row], Profile], bytes]
# A new form of the parameter set is one entry here.
PARAMETERS: dict[str, tuple[FileForm, Writer]] = {
    "dcf": (
        FileForm("dcf", "DCF", "text/plain; charset=utf-8"),
        lambda made, rows, kind: write_dcf(made, kind),
    ),
    "csv": (
        FileForm("csv", "CSV", "text/csv; charset=utf-8"),
        lambda made, rows, kind: write_csv(made, rows),
    ),
    "pdf": (
        FileForm("pdf", "Sheet", "application/pdf"),
        lambda made, rows, kind: write_sheet(made, rows),
    ),
    "json": (
        FileForm("json", "JSON", "application/json"),
        lambda made, rows, kind: set_json(made, kind),
    ),
}
AS_IT_CAME = "as-it-came"
LogWriter = Callable[
    [Callable[[], Ride], LogFile], bytes
]  # the ride is read where the form needs it
# A new form of a log is one entry here.
LOGS: dict[str, tuple[FileForm, LogWriter]] = {
    "zip": (
        FileForm("zip", "CSV with its units", "application/zip"),
        lambda ride, log: write_package(ride(), WORDS, log.id),
    ),
    "gpx": (
        FileForm("gpx", "GPX", "application/gpx+xml"),
        lambda ride, log: write_track(ride(), datetime.fromisoformat(log.at)),
    ),
    "json": (
        FileForm("json", "JSON", "application/json"),
        lambda ride, log: write_json(ride(), WORDS),
    ),
    AS_IT_CAME: (
        FileForm(AS_IT_CAME, "As it came", "application/octet-stream"),
        lambda ride, log: log.data,
    ),
}
# Every column a reader knows has its words: those of a trace, and of what is no trace.
WORDS: dict[str, tuple[str, str]] = {
    **CHANNELS,
    "t_s": ("time", "s"),
    "lat_deg": ("latitude", "deg"),
    "lon_deg": ("longitude", "deg"),
    "throttle": ("throttle, 0 to 1", "ratio"),
    "motor_c": ("motor temperature", "c"),
    "controller_c": ("controller temperature", "c"),
    "cells_c": ("cell temperature", "c"),
}
SORTING = "sorting"
SWEEPING = "sweep"
PROPOSING = "proposals"
SAMPLING = "bands"
IDENTIFYING = "identification"
READING = "reading"
JOBS = (SORTING, SWEEPING, PROPOSING, SAMPLING, IDENTIFYING, READING)


def registers() -> Registers:
    """The lists as pages need them."""
    return Registers(
        tuple(PartKind(key, LABELS[key], cls.__name__) for key, cls in KINDS.items()),
        READERS,
        tuple(form for form, _ in PARAMETERS.values()),
        tuple(form for form, _ in LOGS.values()),
        JOBS,
        tuple(RideColumn(name, *WORDS[name]) for name in ALIASES),
        EVERY,
        GEAR,
        STEPS,
        BMS_STATES,
        HOLDS,
        UNLOOKED,
    )
