"""Objects of a device as CiA 301 knows them: address, data type, limits; values to bytes and back.

Codes of the data types: CiA 301, table of static data types (0x0001 BOOLEAN … 0x001B UNSIGNED64).
Numbers are little-endian; REAL32 and REAL64 are IEEE 754.
"""

from __future__ import annotations

import math
import struct
from dataclasses import dataclass, field

from ninebolt.errors import InputError

Scalar = int | float | str | bytes
Address = tuple[int, int]  # index, sub-index


@dataclass(frozen=True, slots=True)
class DataType:
    """bits 0: of any length."""

    code: int
    name: str
    bits: int
    form: str  # whole, real, text, bytes

    @property
    def size(self) -> int:
        """Bytes of a value; 0 where it is of any length."""
        return (self.bits + 7) // 8

    @property
    def signed(self) -> bool:
        return self.name.startswith("INTEGER")

    def bounds(self) -> tuple[int, int] | None:
        """Least and greatest whole number of the type; None where it holds none."""
        if self.form != "whole":
            return None
        if self.signed:
            return -(1 << (self.bits - 1)), (1 << (self.bits - 1)) - 1
        return 0, (1 << self.bits) - 1


_WHOLE = (
    (0x01, "BOOLEAN", 1), (0x02, "INTEGER8", 8), (0x03, "INTEGER16", 16), (0x04, "INTEGER32", 32),
    (0x05, "UNSIGNED8", 8), (0x06, "UNSIGNED16", 16), (0x07, "UNSIGNED32", 32),
    (0x10, "INTEGER24", 24), (0x12, "INTEGER40", 40), (0x13, "INTEGER48", 48),
    (0x14, "INTEGER56", 56), (0x15, "INTEGER64", 64), (0x16, "UNSIGNED24", 24),
    (0x18, "UNSIGNED40", 40), (0x19, "UNSIGNED48", 48), (0x1A, "UNSIGNED56", 56),
    (0x1B, "UNSIGNED64", 64),
)  # fmt: skip
TYPES: dict[int, DataType] = {
    **{code: DataType(code, name, bits, "whole") for code, name, bits in _WHOLE},
    0x08: DataType(0x08, "REAL32", 32, "real"),
    0x11: DataType(0x11, "REAL64", 64, "real"),
    0x09: DataType(0x09, "VISIBLE_STRING", 0, "text"),
    0x0B: DataType(0x0B, "UNICODE_STRING", 0, "text"),
    0x0A: DataType(0x0A, "OCTET_STRING", 0, "bytes"),
    0x0F: DataType(0x0F, "DOMAIN", 0, "bytes"),
}
BY_TYPE_NAME = {t.name: t.code for t in TYPES.values()}
U8, U16, U32, I8, I16, I32 = 0x05, 0x06, 0x07, 0x02, 0x03, 0x04
REAL32, TEXT = 0x08, 0x09


@dataclass(frozen=True, slots=True)
class Obj:
    """One object. low, high: of the stored number, None where the device names none. unread: why a limit or
    default that stands there could not be read; such an object is not written."""

    index: int
    sub: int
    name: str
    type: int
    access: str = "rw"
    low: float | None = None
    high: float | None = None
    default: Scalar | None = None
    unread: str = ""

    @property
    def at(self) -> Address:
        return self.index, self.sub

    @property
    def writable(self) -> bool:
        return self.access in ("rw", "rww", "rwr", "wo")

    @property
    def readable(self) -> bool:
        return self.access != "wo"


@dataclass(frozen=True, slots=True)
class Dictionary:
    """Every object that a kind of device has. vendor, product: 0 where the file names none."""

    name: str
    objects: dict[Address, Obj] = field(default_factory=dict)
    vendor: int = 0
    product: int = 0
    revision: int = 0


def spelled(at: Address) -> str:
    """An address as people write it."""
    return f"0x{at[0]:04X}:{at[1]:02X}"


def encode(code: int, value: Scalar) -> bytes:
    """Bytes of a value. Raises InputError where the type does not hold it."""
    kind = _kind(code)
    if kind.form == "text":
        return str(value).encode("utf-16-le" if code == 0x0B else "utf-8")
    if kind.form == "bytes":
        if not isinstance(value, bytes):
            raise _unfit(kind, value)
        return value
    if isinstance(value, str | bytes) or not math.isfinite(value):
        raise _unfit(kind, value)
    if kind.form == "real":
        try:
            return struct.pack("<f" if code == REAL32 else "<d", value)
        except OverflowError:
            raise _unfit(kind, value) from None
    bounds = kind.bounds()
    whole = round(value)
    if bounds is None or not bounds[0] <= whole <= bounds[1]:
        raise _unfit(kind, value)
    return whole.to_bytes(kind.size, "little", signed=kind.signed)


def decode(code: int, data: bytes) -> Scalar:
    """The value of bytes that a device sent. Raises InputError where their number does not fit the type, or where
    they stand for none."""
    kind = _kind(code)
    if kind.size and len(data) != kind.size:
        raise InputError(
            f"{len(data)} bytes are no {kind.name}.",
            got=data[:16].hex(),
            expected=f"{kind.size} bytes",
        )
    if kind.form == "text":
        return data.decode("utf-16-le" if code == 0x0B else "utf-8", "replace").rstrip("\0")
    if kind.form == "bytes":
        return data
    if kind.form == "real":
        number = float(struct.unpack("<f" if code == REAL32 else "<d", data)[0])
        if not math.isfinite(number):
            raise InputError(
                f"This is no number of a {kind.name}.", got=f"{number}", expected="a number"
            )
        return number
    return int.from_bytes(data, "little", signed=kind.signed)


def within(obj: Obj, value: Scalar) -> str:
    """What is wrong with a value for this object; '' where it fits its type and limits."""
    try:
        encode(obj.type, value)
    except InputError as error:
        return error.message()
    if isinstance(value, str | bytes):
        return ""
    if obj.low is not None and value < obj.low:
        return f"{value:g} is under its least, {obj.low:g}."
    if obj.high is not None and value > obj.high:
        return f"{value:g} is over its most, {obj.high:g}."
    return ""


def _kind(code: int) -> DataType:
    if code not in TYPES:
        raise InputError(
            "This data type is not known.", got=f"0x{code:04X}", expected="one of CiA 301"
        )
    return TYPES[code]


def _unfit(kind: DataType, value: Scalar) -> InputError:
    bounds = kind.bounds()
    allowed = (
        f"{bounds[0]} to {bounds[1]}" if bounds else "a number" if kind.form == "real" else "bytes"
    )
    return InputError(f"A {kind.name} does not hold this.", got=repr(value)[:40], expected=allowed)
