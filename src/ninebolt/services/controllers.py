"""Kinds of controllers that are known: our own, and those whose dictionary file a person gave and mapped."""

from __future__ import annotations

import re

from ninebolt.core.setting.objects import Address, Dictionary
from ninebolt.core.setting.ours import BY_NAME
from ninebolt.core.setting.sets import OUR_PROFILE, Place, Profile
from ninebolt.errors import InputError, NineBoltError, NotFoundError
from ninebolt.formats.dcf import identity_of
from ninebolt.formats.eds import read_eds
from ninebolt.formats.set_table import is_table
from ninebolt.services.house import House
from ninebolt.store.controllers import ProfileRow, list_profiles, put_profile
from ninebolt.store.database import session, transaction


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
    places = {
        n: Place((int(v[0]), int(v[1])), v[2], v[3]) for n, v in row.places.items() if n in BY_NAME
    }
    return Profile(row.key, row.name, d, places)


def add(house: House, name: str, eds: bytes, places: dict[str, list[float]]) -> Profile:
    """Keep another controller's dictionary with the meanings that a person gave its objects. Raises FormatError for a
    file that is none, InputError for a meaning that has no place in it."""
    d = read_eds(eds, name)
    clean = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40] or "controller"
    if clean == OUR_PROFILE.key:
        clean = f"{clean}-2"
    for meaning, place in places.items():
        if meaning not in BY_NAME:
            raise InputError(
                "This is no meaning.", where="places", got=meaning[:40], expected=", ".join(BY_NAME)
            )
        if len(place) != 4 or place[2] == 0:
            raise InputError(
                "A meaning needs index, sub-index, scale and offset.",
                where=f"places.{meaning}",
                got=repr(place)[:60],
            )
        if (int(place[0]), int(place[1])) not in d.objects:
            raise InputError(
                "The dictionary has no such object.", where=f"places.{meaning}",
                got=f"0x{int(place[0]):04X}:{int(place[1]):02X}",
            )  # fmt: skip
    row = ProfileRow(clean, name.strip()[:80] or clean, eds, places)
    with session(house.path) as db, transaction(db):
        put_profile(db, row, house.now())
    return _profile(row)


def guess(name: str) -> str:
    """The meaning whose label shares most words with an object's name; '' where none is near."""
    words = set(re.findall(r"[a-z]{3,}", name.lower()))
    best = max(BY_NAME.values(), key=lambda p: _shared(words, p.label))
    return best.name if _shared(words, best.label) >= 0.6 else ""


def guesses(d: Dictionary) -> dict[Address, str]:
    """What each object may mean, each meaning given once: to one that can be written before one that only shows it."""
    out: dict[Address, str] = {}
    for o in sorted(d.objects.values(), key=lambda o: (not o.writable, o.at)):
        meaning = guess(o.name)
        if meaning and meaning not in out.values():
            out[o.at] = meaning
    return out


def _shared(words: set[str], label: str) -> float:
    own = set(re.findall(r"[a-z]{3,}", label.lower()))
    return len(words & own) / max(len(words | own), 1)
