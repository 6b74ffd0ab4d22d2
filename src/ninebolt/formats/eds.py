"""EDS: what objects a device has (CiA 306-1). Read by its rules, written the same for the same dictionary.

Sections [DeviceInfo], the three lists of objects, one section an object ([2101], [2101sub1]); CompactSubObj;
numbers decimal, hexadecimal (0x) or octal (leading 0); $NODEID in a formula. A limit or default that cannot be
read does not spoil the file: its object is marked, and nothing writes to it.
"""

from __future__ import annotations

import configparser
import re

from ninebolt.core.setting.objects import TYPES, Address, Dictionary, Obj, Scalar
from ninebolt.errors import FormatError

MOST_BYTES = 4_000_000
MOST_OBJECTS = 20_000
SECTION = re.compile(r"^([0-9A-Fa-f]{1,4})(?:sub([0-9A-Fa-f]{1,2}))?$")
VAR, ARRAY, RECORD, DOMAIN = 0x7, 0x8, 0x9, 0x2
Sections = dict[str, dict[str, str]]


def sections_of(data: bytes, name: str) -> Sections:
    """The file as sections of keys, both in small letters. Raises FormatError naming the line."""
    if len(data) > MOST_BYTES:
        raise FormatError(
            "The file is too large for an EDS or DCF.", where=name, expected="under 4 MB"
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("latin-1")
    if "\0" in text:
        raise FormatError(
            "This is no text.", where=name, got="a zero byte", expected="CiA 306 text"
        )
    parser = configparser.ConfigParser(
        interpolation=None, delimiters=("=",), comment_prefixes=(";",), inline_comment_prefixes=None,
        default_section="\0",
    )  # fmt: skip
    try:
        parser.read_string(text)
    except configparser.Error as error:
        raise FormatError(
            "This EDS or DCF cannot be read.", where=name, got=" ".join(str(error).split())[:200],
            expected="CiA 306 text: [sections] of keys, each once",
        ) from error  # fmt: skip
    if len(parser.sections()) > MOST_OBJECTS:
        raise FormatError("Too many objects.", where=name, expected=f"at most {MOST_OBJECTS}")
    return {s.lower(): dict(parser.items(s)) for s in parser.sections()}


def number(text: str, node: int = 0) -> int:
    """A number as CiA 306 writes it. Raises ValueError."""
    total = 0
    for term in text.replace(" ", "").split("+"):
        small = term.lower()
        if small == "$nodeid":
            total += node
        elif re.fullmatch(r"-?0[0-7]+", small):
            total += int(small, 8)
        else:
            total += int(small, 0)
    return total


def scalar(code: int, text: str, node: int = 0) -> Scalar | None:
    """A limit, default or value of a type; None where nothing stands. Raises ValueError."""
    kind = TYPES[code]
    if text == "":
        return None
    if kind.form == "text":
        return text
    if kind.form == "bytes":
        return bytes.fromhex(text.replace(" ", ""))
    if kind.form == "real":
        return float(text)
    value = number(text, node)
    bounds = kind.bounds()
    if kind.signed and bounds and value > bounds[1] and value < 1 << kind.bits:
        value -= 1 << kind.bits  # two's complement, as hexadecimal limits are often written
    if bounds and not bounds[0] <= value <= bounds[1]:
        raise ValueError(text)
    return value


def read_eds(data: bytes, name: str = "device.eds") -> Dictionary:
    """The dictionary of an EDS or DCF. Raises FormatError where it is none at all."""
    return dictionary_of(sections_of(data, name), name)


def dictionary_of(parts: Sections, name: str) -> Dictionary:
    """The objects that sections describe. Raises FormatError."""
    objects: dict[Address, Obj] = {}
    for section, keys in parts.items():
        found = SECTION.match(section)
        if not found:
            continue
        index = int(found[1], 16)
        sub = int(found[2], 16) if found[2] else 0
        kind = _whole(keys.get("objecttype", ""), VAR)
        if found[2] is None and kind in (ARRAY, RECORD):
            objects |= {o.at: o for o in _compact(index, keys)}
            continue
        obj = _object(index, sub, keys)
        objects[obj.at] = obj
    if not objects:
        raise FormatError(
            "No object stands in this file.",
            where=name,
            expected="sections such as [1018sub1] or [2101]",
        )
    info = parts.get("deviceinfo", {})
    return Dictionary(
        info.get("productname", "") or name,
        {at: objects[at] for at in sorted(objects)},
        _whole(info.get("vendornumber", "")),
        _whole(info.get("productnumber", "")),
        _whole(info.get("revisionnumber", "")),
    )


def _whole(text: str, default: int = 0) -> int:
    try:
        return number(text)
    except ValueError:
        return default


def _object(index: int, sub: int, keys: dict[str, str]) -> Obj:
    label = keys.get("parametername", "") or f"{index:04X}:{sub:02X}"
    code = _whole(keys.get("datatype", ""), 0)
    if _whole(keys.get("objecttype", ""), VAR) == DOMAIN and code == 0:
        code = 0x0F
    access = keys.get("accesstype", "rw").strip().lower()
    if code not in TYPES:
        return Obj(
            index,
            sub,
            label,
            0x0F,
            "ro",
            unread=f"its data type {keys.get('datatype')!r} is not known",
        )
    read: dict[str, Scalar | None] = {}
    unread = ""
    for key in ("lowlimit", "highlimit", "defaultvalue"):
        try:
            read[key] = scalar(code, keys.get(key, "").strip())
        except ValueError:
            unread = f"its {key} {keys[key][:20]!r} cannot be read"
    low, high = read.get("lowlimit"), read.get("highlimit")
    return Obj(
        index, sub, label, code, access,
        low if isinstance(low, int | float) else None, high if isinstance(high, int | float) else None,
        read.get("defaultvalue"), unread,
    )  # fmt: skip


def _compact(index: int, keys: dict[str, str]) -> list[Obj]:
    """Sub-objects that a CompactSubObj entry stands for."""
    count = _whole(keys.get("compactsubobj", ""))
    if not 0 < count <= 254:
        return []
    rest = {k: v for k, v in keys.items() if k not in ("objecttype", "parametername")}
    base = keys.get("parametername", "")
    return [
        _object(index, i, {**rest, "parametername": f"{base} {i}"}) for i in range(1, count + 1)
    ]


def write_eds(d: Dictionary, file_name: str = "controller.eds") -> bytes:
    """The dictionary as an EDS; no clock, stable order."""
    return "\n".join([*head(d, file_name), *object_lines(d, {}), ""]).encode()


def head(d: Dictionary, file_name: str, about: str = "") -> list[str]:
    """[FileInfo] and [DeviceInfo]."""
    return [
        "[FileInfo]", f"FileName={plain(file_name)}", "FileVersion=1", "FileRevision=1", "EDSVersion=4.0",
        f"Description={plain(about or d.name)}", "CreatedBy=Nine Bolt", "",
        "[DeviceInfo]", "VendorName=Nine Bolt", f"VendorNumber=0x{d.vendor:08X}",
        f"ProductName={plain(d.name)}", f"ProductNumber=0x{d.product:08X}",
        f"RevisionNumber=0x{d.revision:08X}", "BaudRate_250=1", "BaudRate_500=1", "SimpleBootUpSlave=1",
        "NrOfRXPDO=0", "NrOfTXPDO=0", "LSS_Supported=0", "",
    ]  # fmt: skip


def object_lines(d: Dictionary, values: dict[Address, Scalar]) -> list[str]:
    """The three lists and every object's section; where values holds it, with its ParameterValue."""
    by_index: dict[int, list[Obj]] = {}
    for obj in d.objects.values():
        by_index.setdefault(obj.index, []).append(obj)
    out: list[str] = []
    for title in ("MandatoryObjects", "OptionalObjects", "ManufacturerObjects"):
        here = [i for i in sorted(by_index) if _list_of(i) == title]
        out += [f"[{title}]", f"SupportedObjects={len(here)}"]
        out += [f"{n}=0x{i:04X}" for n, i in enumerate(here, 1)] + [""]
    for index in sorted(by_index):
        out += _index_lines(index, sorted(by_index[index], key=lambda o: o.sub), values)
    return out


def _list_of(index: int) -> str:
    """In which of the three lists an object stands. CiA 306-1."""
    if index in (0x1000, 0x1001, 0x1018):
        return "MandatoryObjects"
    return "ManufacturerObjects" if 0x2000 <= index < 0x6000 else "OptionalObjects"


def _index_lines(index: int, rows: list[Obj], values: dict[Address, Scalar]) -> list[str]:
    if len(rows) == 1 and rows[0].sub == 0:
        return _variable(f"{index:04X}", rows[0], values)
    name = rows[0].name if len(rows) == 1 else _shared(rows)
    subs = (
        rows
        if rows[0].sub == 0
        else [Obj(index, 0, "Number of entries", 0x05, "const", default=rows[-1].sub), *rows]
    )
    out = [
        f"[{index:04X}]",
        f"ParameterName={name}",
        f"ObjectType=0x{RECORD:X}",
        f"SubNumber={len(subs)}",
        "",
    ]
    for obj in subs:
        out += _variable(f"{index:04X}sub{obj.sub:X}", obj, values)
    return out


def _shared(rows: list[Obj]) -> str:
    """The words that the names of sub-objects begin with."""
    words = [o.name.split() for o in rows if o.sub]
    same = []
    for group in zip(*words, strict=False):
        if len(set(group)) > 1:
            break
        same.append(group[0])
    return " ".join(same) or f"Record {rows[0].index:04X}"


def _variable(section: str, o: Obj, values: dict[Address, Scalar]) -> list[str]:
    kind = DOMAIN if o.type == 0x0F else VAR
    out = [f"[{section}]", f"ParameterName={plain(o.name)}", f"ObjectType=0x{kind:X}", f"DataType=0x{o.type:04X}",
           f"AccessType={o.access}"]  # fmt: skip
    for key, value in (("LowLimit", o.low), ("HighLimit", o.high), ("DefaultValue", o.default)):
        if value is not None:
            out.append(f"{key}={written(value)}")
    out.append("PDOMapping=0")
    if o.at in values:
        out.append(f"ParameterValue={written(values[o.at])}")
    return [*out, ""]


def written(value: Scalar) -> str:
    """A value as CiA 306 writes it."""
    if isinstance(value, bytes):
        return value.hex().upper()
    if isinstance(value, str):
        return " ".join(value.split())
    return repr(value) if isinstance(value, float) and value != int(value) else str(int(value))


def plain(text: str) -> str:
    """Text that fits one line."""
    return " ".join(text.split())[:120]
