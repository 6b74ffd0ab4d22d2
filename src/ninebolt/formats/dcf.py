"""A parameter set as CiA 306 DCF.

Written by hand because the file must be the same for the same build: no clock, stable order. A DCF is an EDS
whose objects carry a ParameterValue, with a [DeviceComissioning] section (the standard's own spelling). Whom a
set belongs to stands in the standard's number fields, and in words under [Comments].
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from ninebolt.core.setting.objects import Address, Obj, Scalar
from ninebolt.core.setting.ours import NODE_CONTROLLER
from ninebolt.core.setting.sets import OUR_PROFILE, Identity, ParamSet, Profile
from ninebolt.errors import FormatError
from ninebolt.formats.eds import SECTION, head, number, object_lines, plain, scalar, sections_of

NOT_CLEARED = "NOT CLEARED"
BELONGS = ("build", "pack", "profile", "hardware", "firmware", "series")


@dataclass(frozen=True, slots=True)
class Setting:
    """One parameter of a set, in physical units."""

    name: str
    value: float


def set_of(
    settings: list[Setting], name: str, profile: Profile = OUR_PROFILE, **more: dict[str, str]
) -> ParamSet:
    """Physical values as stored numbers; what the controller has no place for is left out."""
    values: dict[Address, Scalar] = {
        profile.places[s.name].at: profile.stored(s.name, s.value)
        for s in settings
        if s.name in profile.places
    }
    d = profile.dictionary
    return ParamSet(
        name, values, Identity(d.vendor, d.product, d.revision), more.get("belongs", {})
    )


def write_dcf(s: ParamSet, profile: Profile = OUR_PROFILE, file_name: str = "build.dcf") -> bytes:
    """DCF text of a set, only of the objects that it has a value for, and of those it does not know."""
    d = profile.dictionary
    known = {at: o for at, o in d.objects.items() if at in s.values or at[0] == 0x1000}
    extra = {at: Obj(*at, f"{at[0]:04X}", 0x07) for at in s.values if at not in d.objects}
    who = s.identity or Identity(d.vendor, d.product, d.revision)
    part = replace(
        d, objects=known | extra, vendor=who.vendor, product=who.product, revision=who.revision
    )
    out = [f"; {NOT_CLEARED} - {plain(t)}" for t in s.stops]
    out += head(part, file_name, f"Parameter set for {s.name}")
    out += [
        "[DeviceComissioning]",
        f"NodeID=0x{NODE_CONTROLLER:02X}",
        "NodeName=controller",
        "Baudrate=250",
    ]
    out += [f"LSS_SerialNumber={who.serial}"] if who.serial else []
    out += ["", *_comments(s, who)]
    out += object_lines(part, s.values)
    for section, keys in s.kept.items():
        out += [f"[{section}]", *(f"{k}={v}" for k, v in keys.items()), ""]
    return ("\n".join(out).rstrip("\n") + "\n").encode()


def _comments(s: ParamSet, who: Identity) -> list[str]:
    words = {**s.belongs, "hardware": who.hardware, "firmware": who.firmware}
    lines = [f"{k}: {plain(words[k])}" for k in BELONGS if words.get(k)]
    lines += [f"{NOT_CLEARED}: {plain(t)}" for t in s.stops]
    return (
        ["[Comments]", f"Lines={len(lines)}", *(f"Line{i}={t}" for i, t in enumerate(lines, 1)), ""]
        if lines
        else []
    )


def read_set(data: bytes, name: str = "set.dcf", profile: Profile = OUR_PROFILE) -> ParamSet:
    """A DCF as a set of this kind of controller: values of objects that it has, all others kept as they stood.
    Raises FormatError."""
    parts = sections_of(data, name)
    values: dict[Address, Scalar] = {}
    kept: dict[str, dict[str, str]] = {}
    for section, keys in parts.items():
        found = SECTION.match(section)
        if not found or "parametervalue" not in keys:
            continue
        at = (int(found[1], 16), int(found[2], 16) if found[2] else 0)
        obj = profile.dictionary.objects.get(at)
        if obj is None or _another_type(obj, keys.get("datatype", "")):
            kept[section] = keys
            continue
        value = _value(obj, keys["parametervalue"], f"{name}, section [{section}]")
        if value is not None:
            values[at] = value
    if not values:
        raise FormatError(
            "No known parameter stands in this file.", where=name, got=f"{len(kept)} objects of others",
            expected=f"objects of {profile.name}, with a ParameterValue",
        )  # fmt: skip
    words = _belongs(parts.get("comments", {}))
    stops = tuple(words.pop(NOT_CLEARED, "").split("\n")) if NOT_CLEARED in words else ()
    return ParamSet(name, values, _identity(parts, words), words, kept, stops)


def _another_type(obj: Obj, told: str) -> bool:
    """Whether a file says of an object that it is of another type: then it is another object."""
    try:
        return bool(told.strip()) and number(told) != obj.type
    except ValueError:
        return False


def _value(obj: Obj, text: str, where: str) -> Scalar | None:
    try:
        return scalar(obj.type, text.strip(), NODE_CONTROLLER)
    except ValueError as error:
        raise FormatError(
            "The parameter has no readable value.", where=where, got=repr(text[:60]),
            expected="ParameterValue = a number that its data type holds",
        ) from error  # fmt: skip


def _belongs(comments: dict[str, str]) -> dict[str, str]:
    out: dict[str, str] = {}
    for key, line in comments.items():
        what, _, text = line.partition(": ")
        if not key.startswith("line") or not text:
            continue
        if what == NOT_CLEARED:
            out[what] = f"{out[what]}\n{text}" if what in out else text
        elif what in BELONGS:
            out[what] = text
    return out


def _identity(parts: dict[str, dict[str, str]], words: dict[str, str]) -> Identity | None:
    info, node = parts.get("deviceinfo", {}), parts.get("devicecomissioning", {})

    def whole(keys: dict[str, str], key: str) -> int:
        try:
            return number(keys.get(key, "0"))
        except ValueError:
            return 0

    who = Identity(
        whole(info, "vendornumber"), whole(info, "productnumber"), whole(info, "revisionnumber"),
        whole(node, "lss_serialnumber"), info.get("productname", ""),
        words.pop("hardware", ""), words.pop("firmware", ""),
    )  # fmt: skip
    return None if who.kind == (0, 0) else who


def identity_of(data: bytes, name: str) -> Identity | None:
    """Whose a DCF says it is; None where it does not. Raises FormatError for a file that is none."""
    parts = sections_of(data, name)
    return _identity(parts, _belongs(parts.get("comments", {})))


def physical_of(s: ParamSet, profile: Profile = OUR_PROFILE) -> dict[str, float]:
    """The values that have a meaning, physically, by name."""
    out = {}
    for at, value in s.values.items():
        spec = profile.meaning(at)
        if spec is not None and not isinstance(value, str | bytes):
            out[spec.name] = profile.shown(spec.name, value)
    return out


def read_dcf(data: bytes, name: str = "set.dcf") -> list[Setting]:
    """The settings of a DCF that have a meaning. Raises FormatError."""
    return [Setting(k, v) for k, v in physical_of(read_set(data, name)).items()]
