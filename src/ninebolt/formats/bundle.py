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
from ninebolt.errors import FormatError, TooLargeError
from ninebolt.formats.build_json import read_build, write_build

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
            total = sum(i.file_size for i in archive.infolist())
            if total > MAX_UNPACKED or len(archive.infolist()) > MAX_FILES:
                raise TooLargeError(
                    "The zip unpacks to too much.",
                    where=name,
                    got=f"{total / 1e6:.0f} MB",
                    expected=f"at most {MAX_UNPACKED / 1e6:.0f} MB",
                )
            build = read_build(archive.read("build.json"), f"{name}/build.json")
            index = json.loads(archive.read("logs.json"))
            logs = [
                LogFile(x["id"], x["name"], x["mapping"], archive.read(f"logs/{x['id']}"))
                for x in index
            ]
    except KeyError as error:
        raise FormatError(
            f"A file is missing in the zip: {error}.",
            where=name,
            expected="build.json, logs.json and logs/",
        ) from error
    except UNREADABLE as error:
        raise FormatError(f"This zip cannot be read: {error}.", where=name) from error
    return build, logs
