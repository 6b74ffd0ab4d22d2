"""What the program can take and give, each in one entry: kinds of part, readers of files, forms of the
parameter set, kinds of background job. Pages are made from these lists."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ninebolt.core.logs.session import PROTOCOLS, SPEEDS
from ninebolt.core.logs.traces import CHANNELS
from ninebolt.core.parts.kinds import KINDS, LABELS
from ninebolt.core.setting.sets import ParamSet, Profile
from ninebolt.formats.dcf import write_dcf
from ninebolt.formats.ride_csv import ALIASES
from ninebolt.formats.set_sheet import write_sheet
from ninebolt.formats.set_table import write_csv, write_json

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
class ParameterForm:
    """One form that a parameter set leaves in."""

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
    parameters: tuple[ParameterForm, ...]
    jobs: tuple[str, ...]
    ride_columns: tuple[RideColumn, ...]
    protocols: tuple[str, ...]
    speeds: tuple[str, ...]  # of the protocols, whose values are speeds


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
PARAMETERS: dict[str, tuple[ParameterForm, Writer]] = {
    "dcf": (
        ParameterForm("dcf", "DCF", "text/plain; charset=utf-8"),
        lambda made, rows, kind: write_dcf(made, kind),
    ),
    "csv": (
        ParameterForm("csv", "CSV", "text/csv; charset=utf-8"),
        lambda made, rows, kind: write_csv(made, rows),
    ),
    "pdf": (
        ParameterForm("pdf", "Sheet", "application/pdf"),
        lambda made, rows, kind: write_sheet(made, rows),
    ),
    "json": (
        ParameterForm("json", "JSON", "application/json"),
        lambda made, rows, kind: write_json(made, kind),
    ),
}
# Every column a reader knows has its words: those of a trace, and of what is no trace.
WORDS = {
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
        JOBS,
        tuple(RideColumn(name, *WORDS[name]) for name in ALIASES),
        PROTOCOLS,
        SPEEDS,
    )
