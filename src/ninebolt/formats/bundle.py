"""A build with all that belongs to it in one zip: build.json, logs/, pictures/, and what became of it, record.json."""

from __future__ import annotations

import io
import json
import struct
import zipfile
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from ninebolt.core.build import Build
from ninebolt.core.codec import clean_text
from ninebolt.errors import FormatError, TooLargeError
from ninebolt.formats.build_json import load_json, read_build, write_build
from ninebolt.formats.record import FILE as RECORD
from ninebolt.formats.record import Record, read_record, write_record

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
    """A log as it was imported: id, name, mapping, bytes; when it came in, '' where that is not known, and the state of
    the build that was ridden."""

    id: str
    name: str
    mapping: Any
    data: bytes
    at: str = ""
    seq: int | None = None


@dataclass(frozen=True, slots=True)
class PhotoFile:
    """A photo: the place that it belongs to, its name, bytes; when it was taken in, '' where that is not known."""

    place: str
    name: str
    data: bytes
    at: str = ""


def write_bundle(
    build: Build,
    logs: list[LogFile],
    photos: Sequence[PhotoFile] = (),
    record: Record | None = None,
) -> bytes:
    """Zip bytes of a build, its logs, its photos and what became of it."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        put(archive, "build.json", write_build(build))
        if record is not None:
            put(archive, RECORD, write_record(record))
        index = [
            {"id": x.id, "name": x.name, "mapping": x.mapping, "at": x.at, "seq": x.seq}
            for x in logs
        ]
        put(archive, "logs.json", json.dumps(index, indent=1).encode())
        for x in logs:
            put(archive, f"logs/{x.id}", x.data)
        if photos:
            rows = [{"place": p.place, "name": p.name, "at": p.at} for p in photos]
            put(archive, "pictures.json", json.dumps(rows, indent=1).encode())
        for i, p in enumerate(photos):
            put(archive, f"pictures/{i}", p.data)
    return out.getvalue()


def read_photos(data: bytes, name: str) -> list[PhotoFile]:
    """The photos of a zip, none where it holds none. Raises FormatError, TooLargeError."""
    if not is_zip(data):
        return []
    where, left = f"{name}/pictures.json", [MAX_UNPACKED]
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if "pictures.json" not in archive.namelist():
                return []
            rows = load_json(_take(archive, "pictures.json", name, left), where)
            if not isinstance(rows, list) or not all(
                isinstance(r, dict) and all(isinstance(r.get(k), str) for k in ("place", "name"))
                for r in rows
            ):
                raise FormatError(
                    "This is no list of photos.", where=where, expected="[{place, name}]"
                )
            return [
                PhotoFile(
                    clean_text(r["place"], where)[:80],
                    clean_text(r["name"], where)[:MAX_LOG_NAME],
                    _take(archive, f"pictures/{i}", name, left),
                    _when(r.get("at")),
                )
                for i, r in enumerate(rows)
            ]
    except KeyError as error:
        raise FormatError(
            f"A photo is missing in the zip: {str(error)[:80]}.", where=name
        ) from error
    except UNREADABLE as error:
        raise FormatError(f"This zip cannot be read: {str(error)[:120]}.", where=name) from error


def bundle_record(data: bytes, name: str) -> Record | None:
    """What a zip says became of its build; None where it says nothing. Raises FormatError, FieldError,
    TooLargeError."""
    if not is_zip(data):
        return None
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if RECORD not in archive.namelist():
                return None
            return read_record(_take(archive, RECORD, name, [MAX_UNPACKED]), f"{name}/{RECORD}")
    except UNREADABLE as error:
        raise FormatError(f"This zip cannot be read: {str(error)[:120]}.", where=name) from error


def _when(text: Any) -> str:
    """A moment as it was written; '' for what is none."""
    try:
        return text if isinstance(text, str) and datetime.fromisoformat(text) else ""
    except ValueError:
        return ""


def put(archive: zipfile.ZipFile, name: str, data: bytes) -> None:
    """One file of a zip, the same bytes for the same content."""
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
    seq = x.get("seq")
    return LogFile(
        clean_text(x["id"], where),
        title,
        rows,
        _take(archive, f"logs/{x['id']}", name, left),
        _when(x.get("at")),
        seq if isinstance(seq, int) and not isinstance(seq, bool) else None,
    )
