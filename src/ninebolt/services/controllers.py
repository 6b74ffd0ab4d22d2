"""Kinds of controllers that are known: our own, and those whose dictionary file a person gave and mapped."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping

from ninebolt.bench.meter import POINTS
from ninebolt.core.setting.codes import Code
from ninebolt.core.setting.objects import TYPES, Address, Dictionary
from ninebolt.core.setting.ours import BY_NAME, SHOWABLE
from ninebolt.core.setting.sets import OUR_PROFILE, Place, Profile
from ninebolt.errors import InputError, NineBoltError, NotFoundError
from ninebolt.formats.dcf import identity_of
from ninebolt.formats.eds import read_eds
from ninebolt.formats.set_table import is_table
from ninebolt.services.house import House
from ninebolt.store.controllers import ProfileRow, list_profiles, put_profile
from ninebolt.store.database import session, transaction

MOST = 1e9  # of a scale or an offset: nothing that a controller stores is further from SI
SET_LABELS = {p.name: p.label for p in BY_NAME.values()}
LABELS = {**{n: s.label for n, s in SHOWABLE.items()}, **SET_LABELS}


def profiles(house: House) -> list[Profile]:
    """Ours first. One that cannot be read any more is left out."""
    with session(house.path) as db:
        rows = list_profiles(db)
    out = [OUR_PROFILE]
    for row in rows:
        try:
            out.append(_profile(row))
        except NineBoltError:
            continue
    return out


def profile(house: House, key: str) -> Profile:
    """Raises NotFoundError."""
    for p in profiles(house):
        if p.key == key:
            return p
    raise NotFoundError(
        f"There is no controller profile '{key[:60]}'.",
        expected=", ".join(p.key for p in profiles(house)),
    )


def of_file(house: House, data: bytes, name: str) -> Profile:
    """The kind of controller that a set's file says it is for; ours where it says nothing of one that is known."""
    if is_table(data, name):
        return OUR_PROFILE
    own = identity_of(data, name)
    return next(
        (p for p in profiles(house) if own is not None and _kind(p) == own.kind), OUR_PROFILE
    )


def _kind(p: Profile) -> tuple[int, int]:
    return p.dictionary.vendor, p.dictionary.product


def _profile(row: ProfileRow) -> Profile:
    d = read_eds(row.eds, row.name)
    at = {n: _place(n, v, d) for n, v in row.places.items()}
    return Profile(
        row.key,
        row.name,
        d,
        {n: p for n, p in at.items() if n in BY_NAME},
        {SHOWABLE[n].name: p for n, p in at.items() if n in SHOWABLE},
        read_codes(row.codes),
    )


def _place(meaning: str, place: list[float], d: Dictionary) -> Place:
    """Where a meaning lives. Raises InputError where it is none, or its object does not carry it."""
    if meaning not in BY_NAME and meaning not in SHOWABLE:
        raise InputError(
            "This is no meaning.", where="places", got=meaning[:40],
            expected=", ".join([*BY_NAME, *SHOWABLE]),
        )  # fmt: skip
    numbers = len(place) == 4 and all(math.isfinite(x) and abs(x) <= MOST for x in place)
    if not numbers or abs(place[2]) < 1.0 / MOST or any(x % 1.0 for x in place[:2]):
        raise InputError(
            "A meaning needs index, sub-index, scale and offset.",
            where=f"places.{meaning}",
            got=repr(place)[:60],
            expected=f"two whole numbers, a scale of {1.0 / MOST:g} to {MOST:g}, an offset; as [8452, 0, 0.1, 0]",
        )
    at = int(place[0]), int(place[1])
    obj = d.objects.get(at)
    if obj is None:
        raise InputError(
            "The dictionary has no such object.", where=f"places.{meaning}",
            got=f"0x{at[0]:04X}:{at[1]:02X}",
        )  # fmt: skip
    shown = meaning in SHOWABLE
    if TYPES[obj.type].form not in ("whole", "real") or (shown and not obj.readable):
        raise InputError(
            "What it shows is read, and is a number." if shown else "A setting is a number.",
            where=f"places.{meaning}", got=f"{obj.name}: {TYPES[obj.type].name}, {obj.access}",
        )  # fmt: skip
    return Place(at, place[2], place[3])


def add(
    house: House, name: str, eds: bytes, places: dict[str, list[float]], codes: str = ""
) -> Profile:
    """Keep another controller's dictionary with the meanings that a person gave its objects, and the table of its fault
    codes. Raises as row_of."""
    row = row_of(name, eds, places, codes)
    with session(house.path) as db, transaction(db):
        put_profile(db, row, house.now())
    return _profile(row)


def row_of(name: str, eds: bytes, places: dict[str, list[float]], codes: str = "") -> ProfileRow:
    """A dictionary as it is kept. Raises FormatError for a file that is none, InputError for a meaning that has no
    place in it or a table that cannot be read."""
    d = read_eds(eds, name)
    clean = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40] or "controller"
    if clean == OUR_PROFILE.key:
        clean = f"{clean}-2"
    for meaning, place in places.items():
        _place(meaning, place, d)
    read_codes(codes)
    return ProfileRow(clean, name.strip()[:80] or clean, eds, places, codes)


def read_codes(text: str) -> dict[int, Code]:
    """A table of fault codes, a line each: number; what it says; long flashes; short flashes; causes, | between them.
    Raises InputError naming the line."""
    out: dict[int, Code] = {}
    for n, line in enumerate(text.splitlines(), 1):
        cells = [c.strip() for c in line.split(";")]
        if not any(cells):
            continue
        flashes = [*cells[2:4], "", ""][:2]
        if not all(
            c.isascii() and c.isdigit() and len(c) < 6 for c in [cells[0], *filter(None, flashes)]
        ):
            raise InputError(
                "This is no line of a table of fault codes.", where=f"codes, line {n}", got=line[:60],
                expected="number; what it says; long flashes; short flashes; cause | cause",
            )  # fmt: skip
        number = int(cells[0])
        if len(cells) < 2 or not cells[1] or number in out:
            raise InputError(
                "Each fault code stands once, with what it says.", where=f"codes, line {n}", got=line[:60],
                expected="12; volts too low; 1; 2; the pack is empty | a plug of high resistance",
            )  # fmt: skip
        causes = tuple(c.strip() for c in ";".join(cells[4:]).split("|") if c.strip())
        out[number] = Code(
            number, cells[1], (int(flashes[0] or 0), int(flashes[1] or 0)), causes, ()
        )
    return out


def where_to_measure(code: Code) -> tuple[str, ...]:
    """The places of the meter that a code asks for, in words."""
    return tuple(POINTS[m].label for m in code.measure if m in POINTS)


def guess(name: str, among: Mapping[str, str]) -> str:
    """The meaning whose label shares most words with an object's name; '' where none is near. among: labels by name."""
    words = set(re.findall(r"[a-z]{3,}", name.lower()))
    best = max(among, key=lambda n: _shared(words, among[n]))
    return best if _shared(words, among[best]) >= 0.6 else ""


def guesses(d: Dictionary) -> dict[Address, str]:
    """What each object may mean, each meaning given once: to one that can be written before one that only shows it."""
    out: dict[Address, str] = {}
    for o in sorted(d.objects.values(), key=lambda o: (not o.writable, o.at)):
        meaning = guess(o.name, SET_LABELS if o.writable else LABELS)
        if meaning and meaning not in out.values():
            out[o.at] = meaning
    return out


def _shared(words: set[str], label: str) -> float:
    own = set(re.findall(r"[a-z]{3,}", label.lower()))
    return len(words & own) / max(len(words | own), 1)
