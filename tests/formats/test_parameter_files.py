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
from ninebolt.formats.dcf import physical_of, read_dcf, read_set
from ninebolt.library.demo import brakka, pip
from ninebolt.services.settings import file_set
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
    doc = json.loads(parameter_file(brakka(), "json")[1])
    numbers = {k: v for k, v in doc.items() if k != "belongs"}
    table = [
        x for x in parameter_file(brakka(), "csv")[1].decode().splitlines() if "belongs to" not in x
    ]
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
    rows = [r for r in rows if not r[0].startswith("belongs to")]
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


@pytest.mark.parametrize("kind", ["dcf", "csv", "json"])
def test_every_form_says_whose_it_is_and_reads_back_the_same(kind: str) -> None:
    """Two of the three forgot it: a set that came back had to be taken on somebody's word."""
    made = file_set(parameter_file(brakka(), kind)[1], f"x.{kind}")
    assert made.identity is not None and made.identity.kind == (0x9B01, 1)
    assert made.belongs["build"] == "Brakka 96" and made.belongs["pack"].startswith("26S")
    assert physical_of(made) == pytest.approx(
        physical_of(file_set(parameter_file(brakka(), "dcf")[1], "x.dcf")), rel=1e-5
    )


@pytest.mark.parametrize(
    ("text", "amps"),
    [
        ("Line amps,80,A,x\n", 80),
        ("line amps;80,5;A\n", 80.5),
        ("parameter\tvalue\tunit\nLine amps\t0.08\tkA\n", 80),
        ("Line amps,80 A,,\n", 80),
        ("line_a,80,A\n", 80),
        ('{"line_a": 80}', 80),
    ],
)
def test_a_table_as_people_write_it(text: str, amps: float) -> None:
    for name in ("x.csv", "x.txt") if text[0] in "p{" else ("x.csv",):
        assert physical_of(file_set(text.encode(), name)) == {"line_a": pytest.approx(amps)}


def test_a_unit_is_read_and_not_passed_over() -> None:
    made = physical_of(file_set(b"Speed cap,60,km/h\nRotor sensor,encoder,\n", "x.csv"))
    assert made["speed_cap_m_s"] == pytest.approx(60 / 3.6, abs=0.005) and made["sensor"] == 2


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("Line amps,nan,A\n", "line 1"),
        ("Line amps,1e400,A\n", "not a number"),
        ("Line amps,60,V\n", "not a unit of current"),
        ("Low-voltage cut-off,72,8,V\n", "a number stands where its unit should"),
        ("Line amps,10,A\nLine amps,300,A\n", "line 2.*twice"),
        ("Line amps,80,A\nVolts of nobody,3,V\n", "line 2"),
        ("Line amps,,A\n", "no parameter with a number"),
        ("parameter,value,unit\n", "No parameter stands"),
        ('{"line_a": NaN}', "line_a"),
        ('{"line_a": 10, "line_a": 300}', "twice"),
        ("[1, 2]", "no parameter set"),
        ('{"line_a": true}', "line_a"),
    ],
)
def test_a_broken_table_is_no_half_set(text: str, words: str) -> None:
    """NaN was an error of the server; 72,8 was 72; the second of two values won without a word."""
    with pytest.raises(FormatError, match=f"(?s){words}"):
        file_set(text.encode(), "x.json" if text[0] in "{[" else "x.csv")


def test_an_object_of_another_type_is_another_object() -> None:
    """It is kept, and neither compared nor written."""
    text = parameter_file(brakka(), "dcf")[1].decode()
    head, tail = text.split("[2104]", 1)
    made = read_set((head + "[2104]" + tail.replace("0x0006", "0x0007", 1)).encode())
    assert (0x2104, 0) not in made.values and "2104" in made.kept
