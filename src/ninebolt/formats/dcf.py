"""A parameter set as CiA 306 DCF, CSV or JSON.

Written by hand because the file must be the same for the same build: no clock, stable order.
Source: CiA 306-1, sections FileInfo, DeviceInfo, ManufacturerObjects; ParameterValue in a DCF.
"""

from __future__ import annotations

import configparser
import csv
import io
import json
from dataclasses import dataclass

from ninebolt.core.drive.parameters import PARAMS, ParamSpec, raw
from ninebolt.errors import FormatError
from ninebolt.formats.sheet import safe

INTEGER32 = 0x0004  # CiA 301 data type index
NODE_ID = 0x10


@dataclass(frozen=True, slots=True)
class Setting:
    """One parameter of a set, in physical units."""

    name: str
    value: float


def write_dcf(
    settings: list[Setting],
    device: str,
    file_name: str = "build.dcf",
    stops: tuple[str, ...] = (),
) -> bytes:
    """DCF text of a set. Values are stored as INTEGER32 of value / scale. stops: what stands in the build,
    as comments at the head."""
    by_name = {s.name: s.value for s in settings}
    used = [p for p in PARAMS if p.name in by_name]
    out = [f"; NOT CLEARED - {_plain(s)}" for s in stops] + [
        "[FileInfo]",
        f"FileName={file_name}",
        "FileVersion=1",
        "FileRevision=1",
        "EDSVersion=4.0",
        f"Description=Parameter set for {_plain(device)}",
        "CreatedBy=Nine Bolt",
        "",
        "[DeviceInfo]",
        "VendorName=Nine Bolt",
        "ProductName=Bench controller",
        "BaudRate_250=1",
        "BaudRate_500=1",
        "SimpleBootUpSlave=1",
        "NrOfRXPDO=0",
        "NrOfTXPDO=0",
        "LSS_Supported=0",
        "",
        "[DeviceComissioning]",
        f"NodeID=0x{NODE_ID:02X}",
        "NodeName=controller",
        "Baudrate=250",
        "",
        "[MandatoryObjects]",
        "SupportedObjects=1",
        "1=0x1000",
        "",
        "[1000]",
        "ParameterName=Device type",
        "ObjectType=0x7",
        "DataType=0x0007",
        "AccessType=ro",
        "DefaultValue=0",
        "PDOMapping=0",
        "",
        "[OptionalObjects]",
        "SupportedObjects=0",
        "",
        "[ManufacturerObjects]",
        f"SupportedObjects={len(used)}",
    ]
    out += [f"{i}=0x{p.index:04X}" for i, p in enumerate(used, 1)]
    for p in used:
        out += ["", *_section(p, by_name[p.name])]
    return ("\n".join(out) + "\n").encode()


def _plain(text: str) -> str:
    return " ".join(text.split())[:80]


def _section(p: ParamSpec, value: float) -> list[str]:
    return [
        f"[{p.index:04X}]",
        f"ParameterName={p.label}",
        "ObjectType=0x7",
        f"DataType=0x{INTEGER32:04X}",
        "AccessType=rw",
        f"LowLimit={raw(p, p.lo)}",
        f"HighLimit={raw(p, p.hi)}",
        "PDOMapping=0",
        f"ParameterValue={raw(p, value)}",
    ]


def read_dcf(data: bytes, name: str = "set.dcf") -> list[Setting]:
    """The settings of a DCF that this project knows. Raises FormatError."""
    parser = configparser.ConfigParser(interpolation=None)
    parser.optionxform = str  # type: ignore[method-assign, assignment]
    try:
        parser.read_string(data.decode("utf-8"))
    except (configparser.Error, UnicodeDecodeError) as error:
        raise FormatError(
            f"This DCF cannot be read: {error}", where=name, expected="CiA 306 text"
        ) from error
    by_index = {f"{p.index:04X}": p for p in PARAMS}
    out = []
    for section in parser.sections():
        spec = by_index.get(section.upper())
        if spec is None:
            continue
        text = parser.get(section, "ParameterValue", fallback="")
        try:
            out.append(Setting(spec.name, int(text, 0) * spec.scale))
        except ValueError as error:
            raise FormatError(
                "The parameter has no readable value.",
                where=f"{name}, section [{section}]",
                got=repr(text),
                expected="ParameterValue = whole number",
            ) from error
    if not out:
        raise FormatError(
            "No known parameter stands in this file.",
            where=name,
            expected="objects 0x2100 and up of the bench controller",
        )
    return out


def write_csv(rows: list[tuple[str, float, str, str]], stops: tuple[str, ...] = ()) -> bytes:
    """Rows of (label, value, unit, constraint), what stands in the build before them."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerows(["NOT CLEARED", "", "", safe(s)] for s in stops)
    writer.writerow(["parameter", "value", "unit", "constraint"])
    writer.writerows(
        [safe(label), f"{value:g}", unit, safe(why)] for label, value, unit, why in rows
    )
    return out.getvalue().encode()


def write_json(settings: list[Setting], stops: tuple[str, ...] = ()) -> bytes:
    """Name and value; where stops stand, under their own key."""
    doc: dict[str, object] = {"not_cleared": list(stops)} if stops else {}
    doc |= {s.name: s.value for s in settings}
    return json.dumps(doc, indent=1).encode() + b"\n"
