"""Parameter sets: the DCF is read by the CANopen library, values, limits and all."""

from __future__ import annotations

import csv
import io
import json

import pypdf
import pytest
from canopen.objectdictionary import eds

from ninebolt.core.build import Build
from ninebolt.core.setting.ours import BY_NAME, PARAMS, raw
from ninebolt.errors import FormatError, InputError
from ninebolt.formats.dcf import read_dcf
from ninebolt.library.demo import brakka, pip
from ninebolt.services.tunes import parameter_file


def test_the_canopen_library_reads_our_dcf() -> None:
    """CiA 306: sections, types, access, limits and ParameterValue, by an independent reader."""
    data = parameter_file(brakka(), "dcf")[1]
    source = io.StringIO(data.decode())
    source.name = "x.dcf"
    od = eds.import_eds(source, None)
    ours = {s.name: s.value for s in read_dcf(data)}
    assert set(ours) <= {p.name for p in PARAMS} and len(ours) > 55
    for name, value in ours.items():
        spec = BY_NAME[name]
        var = od.get_variable(spec.index, spec.sub)
        assert var is not None and var.data_type == spec.type and var.access_type == "rw"
        assert var.value == pytest.approx(raw(spec, value), rel=1e-6)
        assert (var.min, var.max) == pytest.approx((raw(spec, spec.lo), raw(spec, spec.hi)))
    assert od.node_id == 0x10 and od.bitrate == 250_000


def test_same_build_same_bytes() -> None:
    """No clock in the file."""
    assert parameter_file(brakka(), "dcf") == parameter_file(brakka(), "dcf")


def test_csv_and_json_say_the_same() -> None:
    numbers = json.loads(parameter_file(brakka(), "json")[1])
    table = parameter_file(brakka(), "csv")[1].decode().splitlines()
    assert table[0] == "parameter,value,unit,constraint" and len(table) == len(numbers) + 1
    assert numbers["line_a"] == 200
    assert "Line amps,200,A" in "\n".join(table)


def test_the_weakest_link_sets_the_line_amps() -> None:
    """A 60 A BMS gives 85 % of 60 A, whatever the controller was set to."""
    numbers = json.loads(parameter_file(pip(), "json", True)[1])
    assert numbers["line_a"] == 51
    assert numbers["lvc_v"] >= 20 * 3.0


def test_nothing_known_nothing_written() -> None:
    with pytest.raises(InputError, match=r"missing pack\.series"):
        parameter_file(Build(), "json")


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"\xff\xfe\x00", "no text"),
        (b"no sections", "cannot be read"),
        (b"[2104]\nParameterValue=many\n", "no readable value"),
        (b"[1000]\nA=1\n", "No known"),
        (b"[2104]\nParameterValue=1\nParameterValue=2\n", "cannot be read"),
    ],
)
def test_broken_dcf(data: bytes, words: str) -> None:
    with pytest.raises(FormatError, match=words):
        read_dcf(data, "set.dcf")


def test_the_sheet_holds_every_value_and_its_reason() -> None:
    """Read back by an independent PDF library."""
    rows = list(csv.reader(io.StringIO(parameter_file(brakka(), "csv")[1].decode())))[1:]
    pages = pypdf.PdfReader(io.BytesIO(parameter_file(brakka(), "pdf")[1])).pages
    text = "\n".join(p.extract_text() for p in pages)
    assert "Parameter set: Brakka 96" in text and "read back" in text
    for row in rows:
        assert row[0][:40] in text, row
    assert (
        "NOT CLEARED"
        in pypdf.PdfReader(io.BytesIO(parameter_file(pip(), "pdf", True)[1]))
        .pages[0]
        .extract_text()
    )
