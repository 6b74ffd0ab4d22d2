"""Sets of values: whom they belong to, how two of them differ, and whether a set may go into a device."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass, field

from ninebolt.core.setting.codes import CODES, Code
from ninebolt.core.setting.objects import Address, Dictionary, Scalar, spelled, within
from ninebolt.core.setting.ours import (
    BY_NAME,
    IDENTIFY,
    LIVE,
    OURS,
    PARAMS,
    RESTORE,
    STORE,
    ParamSpec,
    physical,
    raw,
    step_of,
)


@dataclass(frozen=True, slots=True)
class Identity:
    """Who a device says it is: the identity object 0x1018, its names; firmware as it calls it."""

    vendor: int = 0
    product: int = 0
    revision: int = 0
    serial: int = 0
    device: str = ""
    hardware: str = ""
    firmware: str = ""

    @property
    def kind(self) -> tuple[int, int]:
        """Maker and product: what must be the same for a set to fit at all."""
        return self.vendor, self.product

    @property
    def called(self) -> str:
        """What a person types to say that it is this one."""
        return self.device.strip() or f"maker 0x{self.vendor:X}"


@dataclass(frozen=True, slots=True)
class Place:
    """Where a meaning lives in a device: stored number = (physical - offset) / scale."""

    at: Address
    scale: float
    offset: float = 0.0


@dataclass(frozen=True, slots=True)
class Profile:
    """A kind of controller: its objects, and which of them mean what. shows: where it tells what it does just now, by
    the names of LIVE; codes: what its fault numbers mean; identify: whether it has the routine that is known here."""

    key: str
    name: str
    dictionary: Dictionary
    places: Mapping[str, Place]
    shows: Mapping[str, Place] = field(default_factory=dict)
    codes: Mapping[int, Code] = field(default_factory=dict)
    identify: bool = False

    @property
    def unseen(self) -> tuple[str, ...]:
        """What cannot be seen of it while it runs, in words."""
        return tuple(s.label.lower() for s in LIVE if s.name not in self.shows)

    @property
    def not_kept(self) -> frozenset[Address]:
        """Objects that are no settings: what it shows, and commands."""
        own = IDENTIFY.values() if self.identify else ()
        return frozenset({STORE, RESTORE, *own, *(p.at for p in self.shows.values())})

    @property
    def stores(self) -> bool:
        """Whether it has the standard's command to keep what was written (CiA 301, object 1010)."""
        found = self.dictionary.objects.get(STORE)
        return found is not None and found.writable

    def meaning(self, at: Address) -> ParamSpec | None:
        """The parameter that lives at an address."""
        for name, place in self.places.items():
            if place.at == at:
                return BY_NAME[name]
        return None

    def stored(self, name: str, value: float) -> float:
        """The number that the device stores for a physical value."""
        spec, place = BY_NAME[name], self.places[name]
        if place.scale == spec.scale and not place.offset:
            return raw(spec, value)
        number = (value - place.offset) / place.scale
        return number if self._real(place) else round(number)

    def shown(self, name: str, stored: float) -> float:
        """The physical value of a stored number."""
        spec, place = BY_NAME[name], self.places[name]
        if place.scale == spec.scale and not place.offset:
            return physical(spec, stored)
        return stored * place.scale + place.offset

    def _real(self, place: Place) -> bool:
        obj = self.dictionary.objects.get(place.at)
        return obj is not None and obj.type in (0x08, 0x11)


OUR_PROFILE = Profile(
    "bench",
    "Bench controller",
    OURS,
    {p.name: Place(p.at, p.scale) for p in PARAMS},
    {s.name: Place(s.at, s.scale) for s in LIVE},
    CODES,
    identify=True,
)


@dataclass(frozen=True, slots=True)
class ParamSet:
    """Stored numbers by address. kept: objects of a file that the dictionary does not hold, by section and
    key, as they stood. belongs: whose it is, in words, by key (build, pack, profile, firmware, series)."""

    name: str
    values: dict[Address, Scalar] = field(default_factory=dict)
    identity: Identity | None = None
    belongs: dict[str, str] = field(default_factory=dict)
    kept: dict[str, dict[str, str]] = field(default_factory=dict)
    stops: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Difference:
    """One object of two sets: physical where it has a meaning, else the stored value. None: not in that set."""

    at: Address
    name: str
    label: str
    quantity: str
    first: Scalar | None
    second: Scalar | None
    power: bool

    @property
    def sentence(self) -> str:
        """The difference in words."""
        a, b = (_words(self.name, v) for v in (self.first, self.second))
        if self.first is None:
            return f"{self.label}: only in the second, {b}"
        if self.second is None:
            return f"{self.label}: only in the first, {a}"
        return f"{self.label}: {a} → {b}"


def _words(name: str, value: Scalar | None) -> str:
    spec = BY_NAME.get(name)
    if spec and spec.words and isinstance(value, float | int):
        i = round(value - spec.lo)
        return spec.words[i] if 0 <= i < len(spec.words) else f"{value:g}"
    return f"{value:.6g}" if isinstance(value, float | int) else str(value)


def differences(profile: Profile, first: ParamSet, second: ParamSet) -> tuple[Difference, ...]:
    """What differs, in the order of the dictionary. Numbers closer than what the device can hold are the same."""
    out = []
    for at in sorted(set(first.values) | set(second.values)):
        a, b = first.values.get(at), second.values.get(at)
        if a == b or (a is not None and b is not None and _close(profile, at, a, b)):
            continue
        spec, obj = profile.meaning(at), profile.dictionary.objects.get(at)
        label = spec.label if spec else obj.name if obj else spelled(at)
        out.append(
            Difference(
                at, spec.name if spec else "", label, spec.quantity if spec else "ratio",
                _physical(profile, spec, a), _physical(profile, spec, b), spec.power if spec else False,
            )
        )  # fmt: skip
    return tuple(out)


def fingerprint(have: Mapping[Address, Scalar], want: Mapping[Address, Scalar]) -> str:
    """Of what a write would change: it is another where either side has moved since somebody looked."""
    rows = [(at, have.get(at), want[at]) for at in sorted(want)]
    return hashlib.sha256(repr(rows).encode()).hexdigest()[:16]


def _close(profile: Profile, at: Address, a: Scalar, b: Scalar) -> bool:
    spec = profile.meaning(at)
    if spec is None or isinstance(a, str | bytes) or isinstance(b, str | bytes):
        return False
    gap = abs(profile.shown(spec.name, a) - profile.shown(spec.name, b))
    return gap < 0.5 * step_of(spec)


def _physical(profile: Profile, spec: ParamSpec | None, value: Scalar | None) -> Scalar | None:
    if spec is None or value is None or isinstance(value, str | bytes):
        return value.hex() if isinstance(value, bytes) else value
    return profile.shown(spec.name, value)


def foreign(own: Identity | None, device: Identity, other: str = "") -> tuple[str, bool]:
    """(why a set made for `own` does not belong into this device, whether a person may override that). ('', True)
    where it belongs. Only another revision or serial of the same hardware, or another bike's, can be overridden.
    other: the build that this very device was written for last, '' for none but this one."""
    if own is None or own.kind == (0, 0):
        return "The set does not say whom it belongs to.", True
    if own.vendor == device.vendor and not device.product:
        return (
            "The controller does not tell which product it is: whether the set is for it nobody can say.",
            True,
        )
    if own.kind != device.kind:
        return (
            f"It was made for another controller (maker 0x{own.vendor:X}, product 0x{own.product:X}; this is "
            f"0x{device.vendor:X}, 0x{device.product:X}).",
            False,
        )
    if own.hardware and device.hardware and own.hardware != device.hardware:
        return f"It was made for hardware {own.hardware}; this is {device.hardware}.", False
    if own.revision and own.revision != device.revision:
        return (
            f"It was made for revision 0x{own.revision:X}; this is 0x{device.revision:X}, whose objects may mean "
            "something else.",
            True,
        )
    if own.serial and own.serial != device.serial:
        return f"It was read from serial {own.serial}; this is {device.serial}.", True
    if other:
        return (
            f"This controller, serial {device.serial}, was written for '{other}' last: is it that bike's?",
            True,
        )
    return "", True


def unfit(profile: Profile, wanted: ParamSet) -> tuple[str, ...]:
    """Why single values may not be written: unknown, read-only, without readable limit, out of range."""
    out = []
    for at, value in sorted(wanted.values.items()):
        obj = profile.dictionary.objects.get(at)
        if obj is None:
            out.append(f"{spelled(at)}: the controller has no such object.")
        elif not obj.writable:
            out.append(f"{spelled(at)} {obj.name}: cannot be written.")
        elif obj.unread:
            out.append(f"{spelled(at)} {obj.name}: {obj.unread}; what it may be is not known.")
        else:
            wrong = within(obj, value)
            out += [f"{spelled(at)} {obj.name}: {wrong}"] if wrong else []
    return tuple(out)


def order(
    profile: Profile, have: Mapping[Address, Scalar], want: Mapping[Address, Scalar]
) -> list[Address]:
    """Addresses that differ, the safe way round: first what asks for less, then facts, then what asks for more, so
    that a cut at any place leaves a bike that does no more than both sets allow."""

    def rank(at: Address) -> tuple[int, Address]:
        spec = profile.meaning(at)
        old, new = have.get(at), want[at]
        if spec is None or isinstance(old, str | bytes | None) or isinstance(new, str | bytes):
            return 1, at
        more = new > old
        if spec.raises:
            return (2 if more else 0), at
        if spec.name in ("lvc_v", "lvc_start_v", "throttle_fault_low_v", "dead_pct", "ramp_s"):
            return (0 if more else 2), at
        return 1, at

    changed = [at for at, value in want.items() if at != STORE and have.get(at) != value]
    return sorted(changed, key=rank)
