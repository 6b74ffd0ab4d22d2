"""A ride out of the garage: a tabular data package (Frictionless Data: CSV with its Table Schema), GPX, JSON."""

from __future__ import annotations

import io
import json
import math
import zipfile
from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime
from typing import Any

import numpy as np

from ninebolt.core.logs.ride import Ride
from ninebolt.errors import InputError
from ninebolt.formats.bundle import put
from ninebolt.formats.gpx import write_gpx
from ninebolt.formats.ride_csv import write_ride
from ninebolt.units import QUANTITIES

Words = Mapping[str, tuple[str, str]]  # column: what it is, its quantity
PLACES = ("lat_deg", "lon_deg")
NOWHERE = np.array([math.nan])


def fields(ride: Ride, words: Words) -> list[dict[str, str]]:
    """A Table Schema's fields, the unit with each."""
    out = []
    for name in ride.columns:
        title, quantity = words.get(name, (name, "ratio"))
        unit = QUANTITIES[quantity].units[0].symbol
        field = {"name": name, "type": "number", "title": title}
        out.append({**field, "unit": unit} if unit else field)
    return out


def write_package(ride: Ride, words: Words, stem: str) -> bytes:
    """Zip bytes: the columns as CSV, and datapackage.json that says what they are."""
    about: dict[str, Any] = {
        "profile": "tabular-data-package",
        "name": stem,
        "title": ride.name,
        "resources": [
            {
                "profile": "tabular-data-resource",
                "name": "ride",
                "path": "ride.csv",
                "format": "csv",
                "mediatype": "text/csv",
                "encoding": "utf-8",
                "schema": {"fields": fields(ride, words), "missingValues": [""]},
            }
        ],
    }
    if ride.issues:
        about["description"] = " ".join(ride.issues)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        put(archive, "datapackage.json", json.dumps(about, indent=1, ensure_ascii=False).encode())
        put(archive, "ride.csv", write_ride(replace(ride, issues=())))
    return out.getvalue()


def write_track(ride: Ride, start: datetime) -> bytes:
    """GPX of the places, rows without one left out. Raises InputError where the ride has no places."""
    there = np.all([np.isfinite(ride.columns.get(c, NOWHERE)) for c in PLACES], axis=0)
    if not there.any():
        raise InputError(
            "This log has no positions, so it has no track.", where=ride.name[:60],
            expected="lat_deg and lon_deg", todo="Take it out as CSV or JSON.",
        )  # fmt: skip
    kept = {name: values[there] for name, values in ride.columns.items()}
    return write_gpx(replace(ride, columns=kept), start)


def write_json(ride: Ride, words: Words) -> bytes:
    """Columns of numbers, null where nothing was measured, with the same fields as the package."""
    columns = {
        name: [None if math.isnan(x) else x for x in values.tolist()]
        for name, values in ride.columns.items()
    }
    doc = {
        "name": ride.name,
        "fields": fields(ride, words),
        "notes": list(ride.issues),
        "columns": columns,
    }
    return json.dumps(doc, ensure_ascii=False).encode()
