"""Any ride log: which format it is, and read it."""

from __future__ import annotations

from ninebolt.core.logs.ride import Ride
from ninebolt.formats.gpx import read_gpx
from ninebolt.formats.ride_csv import read_ride
from ninebolt.formats.table import Column


def is_gpx(data: bytes, name: str) -> bool:
    return name.lower().endswith(".gpx") or data.lstrip()[:200].lstrip(b"\xef\xbb\xbf").startswith(
        (b"<?xml", b"<gpx")
    )


def read_log(data: bytes, name: str, mapping: tuple[Column, ...] | None = None) -> Ride:
    """A ride from CSV or GPX bytes. mapping only concerns CSV."""
    return read_gpx(data, name) if is_gpx(data, name) else read_ride(data, name, mapping)
