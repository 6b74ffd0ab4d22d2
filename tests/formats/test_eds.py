"""EDS and DCF against the CANopen library's own reader and writer, types at their limits, and broken files."""

from __future__ import annotations

import io
import math
import struct

import canopen
import pytest
from canopen import objectdictionary as od
from canopen.objectdictionary import eds
from hypothesis import given
from hypothesis import strategies as st

from ninebolt.core.setting.objects import TYPES, Dictionary, Obj, decode, encode, within
from ninebolt.core.setting.ours import OURS
from ninebolt.core.setting.sets import OUR_PROFILE, Identity, ParamSet, Profile
from ninebolt.errors import FormatError, InputError
from ninebolt.formats.dcf import read_set, write_dcf
from ninebolt.formats.eds import read_eds, write_eds

WHOLE = [t for t in TYPES.values() if t.form == "whole"]


def theirs(data: bytes) -> canopen.ObjectDictionary:
    source = io.StringIO(data.decode())
    source.name = "x.eds"
    return eds.import_eds(source, None)


def test_their_reader_finds_every_object_of_ours() -> None:
    """CiA 306: the same types, access and limits by an independent reader."""
    read = theirs(write_eds(OURS))
    for at, obj in OURS.objects.items():
        var = read.get_variable(*at)
        assert var is not None, at
        assert (var.data_type, var.access_type) == (obj.type, obj.access)
        if obj.low is not None:
            assert (var.min, var.max) == pytest.approx((obj.low, obj.high))


def test_their_file_is_read_by_ours() -> None:
    """Written by the library: a record, an array, a string, a REAL32 and a signed limit."""
    made = canopen.ObjectDictionary()
    record = od.ODRecord("Mode", 0x2400)
    for sub, kind in ((0, od.UNSIGNED8), (1, od.UNSIGNED16), (2, od.INTEGER24)):
        v = od.ODVariable(f"Entry {sub}", 0x2400, sub)
        v.data_type, v.access_type = kind, "rw" if sub else "ro"
        record.add_member(v)
    made.add_object(record)
    for index, kind, low, high in (
        (0x2001, od.REAL32, None, None), (0x2002, od.INTEGER16, -300, 300), (0x2003, od.VISIBLE_STRING, None, None),
    ):  # fmt: skip
        v = od.ODVariable(f"V{index:X}", index)
        v.data_type, v.access_type, v.min, v.max = kind, "rw", low, high
        made.add_object(v)
    out = io.StringIO()
    eds.export_eds(made, out)
    read = read_eds(out.getvalue().encode())
    assert {(0x2400, 1), (0x2400, 2), (0x2001, 0), (0x2002, 0), (0x2003, 0)} <= set(read.objects)
    assert read.objects[(0x2400, 2)].type == od.INTEGER24
    assert (read.objects[(0x2002, 0)].low, read.objects[(0x2002, 0)].high) == (-300, 300)


@pytest.mark.parametrize("kind", WHOLE, ids=lambda t: t.name)
def test_bytes_of_whole_numbers_are_the_library_s(kind: object) -> None:
    """CiA 301 data types, little-endian, at both ends of each."""
    t = kind
    bounds = t.bounds()  # type: ignore[attr-defined]
    var = od.ODVariable("x", 0x2000)
    var.data_type = t.code  # type: ignore[attr-defined]
    for value in (bounds[0], bounds[1], bounds[1] // 3):
        assert decode(t.code, encode(t.code, value)) == value  # type: ignore[attr-defined]
        if t.code in od.INTEGER_TYPES:  # type: ignore[attr-defined]
            assert encode(t.code, value) == var.encode_raw(value)  # type: ignore[attr-defined]
    for value in (bounds[0] - 1, bounds[1] + 1, math.nan, "x"):
        with pytest.raises(InputError):
            encode(t.code, value)  # type: ignore[attr-defined]


@given(
    st.floats(width=32, allow_nan=False, allow_infinity=False),
    st.floats(allow_nan=False, allow_infinity=False),
)
def test_real_numbers_survive(single: float, double: float) -> None:
    assert decode(0x08, encode(0x08, single)) == single
    assert decode(0x11, encode(0x11, double)) == double


HAND = b"""; written by hand from the rules of CiA 306-1
[DeviceInfo]
VendorNumber=0x55
ProductNumber=0x7
ProductName=Other controller
[ManufacturerObjects]
SupportedObjects=9
[2000]
ParameterName=Octal and hex
ObjectType=0x7
DataType=0x0003
AccessType=rw
LowLimit=0xFF38
HighLimit=0310
DefaultValue=-5
[2001]
ParameterName=Node
DataType=0x0007
AccessType=rw
DefaultValue=$NODEID+0x600
[2002]
ParameterName=Curve
ObjectType=0x8
CompactSubObj=3
DataType=0x0005
AccessType=rw
HighLimit=100
[2003]
ParameterName=Bad limit
DataType=0x0006
AccessType=rw
HighLimit=lots
[2004]
ParameterName=Signed 24
DataType=0x0010
AccessType=rw
LowLimit=-8388608
HighLimit=8388607
[2005]
ParameterName=Text
DataType=0x0009
AccessType=rw
DefaultValue=two words
[2006]
ParameterName=Blob
ObjectType=0x2
AccessType=rw
[2007]
ParameterName=Ratio
DataType=0x0008
AccessType=rw
LowLimit=-1.5e-3
HighLimit=2.5
[2008]
ParameterName=Nobody knows
DataType=0x0777
AccessType=rw
"""


def test_a_file_written_by_hand() -> None:
    d = read_eds(HAND)
    o = d.objects
    assert (d.vendor, d.product, d.name) == (0x55, 7, "Other controller")
    assert (o[(0x2000, 0)].low, o[(0x2000, 0)].high, o[(0x2000, 0)].default) == (-200, 200, -5)
    assert [o[(0x2002, i)].high for i in (1, 2, 3)] == [100, 100, 100] and (0x2002, 4) not in o
    assert (o[(0x2004, 0)].low, o[(0x2004, 0)].high) == (-8388608, 8388607)
    assert o[(0x2005, 0)].default == "two words" and o[(0x2006, 0)].type == 0x0F
    assert (o[(0x2007, 0)].low, o[(0x2007, 0)].high) == (-0.0015, 2.5)


def test_what_cannot_be_read_is_marked_and_not_written() -> None:
    o = read_eds(HAND).objects
    assert "highlimit" in o[(0x2003, 0)].unread
    assert not o[(0x2008, 0)].writable


@given(
    st.integers(-(2**23), 2**23 - 1),
    st.text("abcXYZ 019", min_size=1, max_size=20),
    st.binary(min_size=1, max_size=9),
    st.floats(width=32, allow_nan=False, allow_infinity=False),
)
def test_a_set_of_every_type_survives_a_file(
    whole: int, text: str, blob: bytes, real: float
) -> None:
    """Signed 24 bits, string, domain and REAL32, out and in again."""
    text = " ".join(text.split()) or "x"
    kinds = (((0x2000, 0), 0x10), ((0x2001, 0), 0x09), ((0x2002, 1), 0x0F), ((0x2002, 2), 0x08))
    rows = [Obj(*at, "Object", code) for at, code in kinds]
    profile = Profile("x", "Other", Dictionary("Other", {r.at: r for r in rows}, 9, 9, 1), {})
    values = {(0x2000, 0): whole, (0x2001, 0): text, (0x2002, 1): blob, (0x2002, 2): real}
    back = read_set(
        write_dcf(ParamSet("s", values, Identity(9, 9, 1, 77)), profile), "s.dcf", profile
    )
    assert back.values == values
    assert back.identity is not None and back.identity.serial == 77


def test_unknown_objects_of_a_file_are_kept() -> None:
    """Read and written again, what this controller does not have is still there."""
    extra = b"[5FFF]\nParameterName=Secret\nDataType=0x0007\nAccessType=rw\nParameterValue=42\n"
    data = write_dcf(ParamSet("s", {(0x2104, 0): 900})) + extra
    once = read_set(data)
    again = write_dcf(once)
    assert "5fff" in once.kept and b"[5fff]" in again and b"parametervalue=42" in again
    assert read_set(again).kept == once.kept


def test_whom_a_set_belongs_to_survives() -> None:
    who = Identity(0x9B01, 1, 0x10004, 4711, "Bench controller", "B", "1.4")
    words = {"build": "Moss", "pack": "23S18P", "profile": "Road"}
    back = read_set(
        write_dcf(ParamSet("s", {(0x2104, 0): 900}, who, words, stops=("guard: no fuse", "x")))
    )
    assert back.identity == who
    assert back.belongs == words and back.stops == ("guard: no fuse", "x")


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "No object"),
        (b"\x00\x01", "no text"),
        (b"[2000\nx", "cannot be read"),
        (b"key=1\n", "cannot be read"),
        (b"[2000]\nA=1\n[2000]\nA=2\n", "cannot be read"),
        (b"[FileInfo]\nA=1\n", "No object"),
        (b"x" * 4_000_001, "too large"),
        (b"".join(b"[%x]\nA=1\n" % i for i in range(0x2000, 0x2000 + 20_001)), "Too many"),
    ],
)
def test_broken_files_say_what_is_wrong(data: bytes, words: str) -> None:
    with pytest.raises(FormatError, match=words):
        read_eds(data)


@given(st.binary(max_size=400))
def test_no_bytes_crash_the_reader(data: bytes) -> None:
    try:
        read_eds(data)
    except FormatError as error:
        assert error.message()


def test_limits_hold_on_both_sides() -> None:
    obj = OUR_PROFILE.dictionary.objects[(0x2104, 0)]
    assert within(obj, 900) == "" and "over its most" in within(obj, 20_000) and within(obj, -1)


@pytest.mark.parametrize(("code", "form"), [(0x08, "<f"), (0x11, "<d")])
@pytest.mark.parametrize("number", [float("nan"), float("inf"), -float("inf")])
def test_what_a_device_sends_for_no_number_is_none(code: int, form: str, number: float) -> None:
    """IEEE 754 has bytes for no number; shown as a value they would be compared and written back."""
    with pytest.raises(InputError, match="no number"):
        decode(code, struct.pack(form, number))
