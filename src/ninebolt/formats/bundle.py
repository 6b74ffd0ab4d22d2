"""A build with its logs in one zip: build.json and logs/."""

from __future__ import annotations

import io
import json
import struct
import zipfile
import zlib
from dataclasses import dataclass
from typing import Any

from ninebolt.core.build import Build
from ninebolt.core.codec import clean_text
from ninebolt.errors import FormatError, TooLargeError
from ninebolt.formats.build_json import load_json, read_build, write_build

# What the standard library raises on a damaged or foreign zip, besides its own BadZipFile.
UNREADABLE = (
    zipfile.BadZipFile,
    zlib.error,
    struct.error,
    EOFError,
    OSError,
    RuntimeError,  # encrypted; unknown compression
    TypeError,
    ValueError,  # no JSON, no text
)
MAX_UNPACKED = 256_000_000
MAX_FILES = 500
MAX_LOG_NAME = 120
EPOCH = (1980, 1, 1, 0, 0, 0)  # a zip carries times; the same content gives the same bytes


@dataclass(frozen=True, slots=True)
class LogFile:
    """A log as it was imported: id, name, mapping, bytes."""

    id: str
    name: str
    mapping: Any
    data: bytes


def write_bundle(build: Build, logs: list[LogFile]) -> bytes:
    """Zip bytes of a build and its logs."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        _put(archive, "build.json", write_build(build))
        index = [{"id": x.id, "name": x.name, "mapping": x.mapping} for x in logs]
        _put(archive, "logs.json", json.dumps(index, indent=1).encode())
        for x in logs:
            _put(archive, f"logs/{x.id}", x.data)
    return out.getvalue()


def _put(archive: zipfile.ZipFile, name: str, data: bytes) -> None:
    info = zipfile.ZipInfo(name, EPOCH)
    info.compress_type = zipfile.ZIP_DEFLATED
    archive.writestr(info, data)


def is_zip(data: bytes) -> bool:
    return data.startswith(b"PK\x03\x04")


def read_bundle(data: bytes, name: str) -> tuple[Build, list[LogFile]]:
    """Build and logs of a zip or of a plain JSON file. Raises FormatError, TooLargeError."""
    if not is_zip(data):
        return read_build(data, name), []
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if len(archive.infolist()) > MAX_FILES:
                raise TooLargeError(
                    "The zip holds too many files.", where=name, expected=f"at most {MAX_FILES}"
                )
            left = [MAX_UNPACKED]
            build = read_build(_take(archive, "build.json", name, left), f"{name}/build.json")
            index = load_json(_take(archive, "logs.json", name, left), f"{name}/logs.json")
            logs = [_log(archive, x, i, name, left) for i, x in enumerate(_rows(index, name))]
    except KeyError as error:
        raise FormatError(
            f"A file is missing in the zip: {str(error)[:80]}.",
            where=name,
            expected="build.json, logs.json and logs/",
        ) from error
    except UNREADABLE as error:
        raise FormatError(f"This zip cannot be read: {str(error)[:120]}.", where=name) from error
    return build, logs


def _take(archive: zipfile.ZipFile, inner: str, name: str, left: list[int]) -> bytes:
    """One file of the zip; what is really unpacked is counted, not what the zip says of itself."""
    info = archive.getinfo(inner)
    if info.compress_type not in (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED):
        raise FormatError(
            "This kind of packing is not read.", where=f"{name}/{inner}", expected="deflate"
        )
    out = io.BytesIO()
    with archive.open(info) as source:
        while piece := source.read(1 << 20):
            left[0] -= len(piece)
            if left[0] < 0:
                raise TooLargeError(
                    "The zip unpacks to too much.",
                    where=name,
                    expected=f"at most {MAX_UNPACKED / 1e6:.0f} MB",
                )
            out.write(piece)
    return out.getvalue()


def _rows(index: Any, name: str) -> list[dict[str, Any]]:
    """The list of logs, each once and whole. Raises FormatError."""
    where = f"{name}/logs.json"
    if not isinstance(index, list):
        raise FormatError(
            "This is not a list of logs.", where=where, expected="[{id, name, mapping}]"
        )
    seen: set[str] = set()
    for i, x in enumerate(index):
        if not isinstance(x, dict) or not all(isinstance(x.get(k), str) for k in ("id", "name")):
            raise FormatError(
                "A log needs an id and a name.", where=f"{where}: {i}", expected="texts"
            )
        if x["id"] in seen:
            raise FormatError(
                "A log stands in the list twice.", where=f"{where}: {i}", got=x["id"][:40]
            )
        seen.add(x["id"])
    return index


def _log(
    archive: zipfile.ZipFile, x: dict[str, Any], i: int, name: str, left: list[int]
) -> LogFile:
    """One log with its mapping checked in shape. Raises FormatError."""
    where = f"{name}/logs.json: {i}"
    mapping = x.get("mapping")
    good = mapping is None or (
        isinstance(mapping, list)
        and all(
            isinstance(m, dict)
            and all(isinstance(m.get(k), str) for k in ("name", "column", "unit"))
            for m in mapping
        )
    )
    if not good:
        raise FormatError(
            "The column mapping of a log cannot be read.",
            where=where,
            expected="a list of {name, column, unit}",
        )
    title = clean_text(x["name"], f"{where}.name")[:MAX_LOG_NAME]
    rows = mapping and [
        {k: clean_text(m[k], where)[:200] for k in ("name", "column", "unit")} for m in mapping
    ]
    return LogFile(
        clean_text(x["id"], where), title, rows, _take(archive, f"logs/{x['id']}", name, left)
    )
