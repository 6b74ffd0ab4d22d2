"""A build with its logs in one zip: out and in, the same bytes, and zips that are none."""

from __future__ import annotations

import io
import json
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ninebolt.errors import FormatError, InputError, TooLargeError
from ninebolt.formats.build_json import write_build
from ninebolt.formats.bundle import MAX_FILES, LogFile, is_zip, read_bundle, write_bundle
from ninebolt.library.demo import moss, pip

LOGS = [
    LogFile("a1", "morning.csv", None, b"t,v\n0,1\n"),
    LogFile("b2", "hill.gpx", [{"name": "t", "column": "Time", "unit": "s"}], b"\x00" * 9),
]


def made(files: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


BUILD = write_build(moss())


def test_out_and_in_again_and_the_same_bytes_each_time() -> None:
    data = write_bundle(moss(), LOGS)
    assert is_zip(data) and data == write_bundle(moss(), LOGS)
    assert read_bundle(data, "m.zip") == (moss(), LOGS)
    assert zipfile.ZipFile(io.BytesIO(data)).testzip() is None


def test_a_plain_build_file_is_a_bundle_without_logs() -> None:
    assert read_bundle(BUILD, "m.json") == (moss(), [])


def test_a_zip_made_elsewhere_is_read() -> None:
    index = json.dumps([{"id": "x", "name": "n.csv", "mapping": None}]).encode()
    files = {"build.json": write_build(pip()), "logs.json": index, "logs/x": b"1", "more.txt": b""}
    build, logs = read_bundle(made(files), "other.zip")
    assert build == pip() and logs == [LogFile("x", "n.csv", None, b"1")]


INDEX = b'[{"id": "x", "name": "n", "mapping": null}]'
BAD: dict[str, tuple[dict[str, bytes], str]] = {
    "no build": ({"logs.json": b"[]"}, "file is missing"),
    "no list of logs": ({"build.json": BUILD}, "file is missing"),
    "a log is missing": ({"build.json": BUILD, "logs.json": INDEX}, "file is missing"),
    "a name is missing": ({"build.json": BUILD, "logs.json": b'[{"id": 1}]'}, "id and a name"),
    "a list of numbers": ({"build.json": BUILD, "logs.json": b"[1]"}, "id and a name"),
    "a broken list": ({"build.json": BUILD, "logs.json": b"[{"}, "breaks off"),
    "a broken build": ({"build.json": b"{", "logs.json": b"[]"}, "breaks off"),
    "a build of tomorrow": (
        {"build.json": b'{"format_version": 99}', "logs.json": b"[]"},
        "newer",
    ),
}


@pytest.mark.parametrize("name", BAD)
def test_a_zip_that_is_no_bundle_is_named(name: str) -> None:
    files, words = BAD[name]
    with pytest.raises(InputError, match=words) as caught:
        read_bundle(made(files), "bag.zip")
    assert "bag.zip" in caught.value.message()


def test_a_zip_that_breaks_off_is_named() -> None:
    data = write_bundle(moss(), LOGS)
    with pytest.raises(FormatError, match="cannot be read"):
        read_bundle(data[: len(data) // 2], "half.zip")


def test_a_zip_of_too_many_files_is_refused_unread() -> None:
    files = {f"logs/{i}": b"" for i in range(MAX_FILES + 1)}
    with pytest.raises(TooLargeError, match="too many files"):
        read_bundle(made({**files, "build.json": BUILD, "logs.json": b"[]"}), "many.zip")


def test_a_small_zip_that_unpacks_to_much_is_refused_unread() -> None:
    """300 MB of nothing in 300 kB."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("build.json", BUILD)
        archive.writestr("logs.json", INDEX)
        archive.writestr("logs/x", bytes(300_000_000))
    assert len(out.getvalue()) < 1_000_000
    with pytest.raises(TooLargeError, match="unpacks to too much"):
        read_bundle(out.getvalue(), "bomb.zip")


@given(st.integers(0, 4000), st.binary(min_size=1, max_size=3))
def test_a_zip_with_bytes_knocked_out_is_read_or_refused(at: int, new: bytes) -> None:
    data = write_bundle(moss(), LOGS)
    data = data[:at] + new + data[at + len(new) :]
    try:
        read_bundle(data, "knocked.zip")
    except InputError as error:
        assert error.what
