"""Any ride log: which format it is, and read it."""

from __future__ import annotations

from typing import Literal

from ninebolt.core.logs.ride import Ride
from ninebolt.core.logs.trust import believed
from ninebolt.formats.gpx import read_gpx
from ninebolt.formats.nmea import is_nmea, read_nmea
from ninebolt.formats.ride_csv import read_ride
from ninebolt.formats.table import HEAD, Column


def kind_of(data: bytes, name: str) -> Literal["gpx", "nmea", "csv"]:
    """By its ending, or by how it begins."""
    begins = data[:HEAD].lstrip()[:200].lstrip(b"\xef\xbb\xbf").startswith((b"<?xml", b"<gpx"))
    if name.lower().endswith(".gpx") or begins:
        return "gpx"
    return "nmea" if is_nmea(data, name) else "csv"


def read_log(data: bytes, name: str, mapping: tuple[Column, ...] | None = None) -> Ride:
    """A ride from CSV, GPX or NMEA bytes, its speed held against its positions. mapping only concerns CSV. Raises
    FormatError."""
    kind = kind_of(data, name)
    if kind == "csv":
        return believed(read_ride(data, name, mapping))
    return believed(read_gpx(data, name) if kind == "gpx" else read_nmea(data, name))
