"""The fault finder: from a symptom and a few readings to the cause, asking for the reading that tells most.

Each cause makes some readings wrong; a reading that stays right speaks against it. What a reading must be comes from
the build; where the build does not say, a reading says nothing, and that is told.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.prove.causes import BY_KEY, CAUSES, SYMPTOMS, cannot_be
from ninebolt.core.bolts.prove.places import Place, places
from ninebolt.core.limits import Limit
from ninebolt.errors import InputError

SURE = Limit(0.75, "ratio", "share of one cause at which it is named")
WRONG_ANYWAY = 0.03  # chance that a reading misleads
CERTAIN = 0.97
PROVES = 0.25
UNJUDGED = "the build does not say what it must be, so it speaks for nothing and against nothing"
LITTLE = 0.01  # bits; below that a reading tells nothing


@dataclass(frozen=True, slots=True)
class Suspect:
    """A cause with its share of what is likely."""

    key: str
    label: str
    repair: str
    share: float


@dataclass(frozen=True, slots=True)
class Hunt:
    """Where the search stands: suspects, likeliest first; the reading to take next, None when one is sure or nothing
    tells more; what each reading so far said. open: readings that would have told and could not, and why."""

    suspects: tuple[Suspect, ...]
    next: Place | None
    found: bool
    said: tuple[str, ...]
    open: tuple[str, ...]


def hunt(bike: Bike, symptom: str, readings: Sequence[tuple[str, float | None]]) -> Hunt:
    """Suspects after the readings (place, value; None: it cannot be read here), and what to read next. Raises
    InputError for a symptom or place that is none."""
    if symptom not in SYMPTOMS:
        raise InputError(
            "This is no symptom.", where="symptom", got=symptom[:40], expected=", ".join(SYMPTOMS)
        )
    at = places(bike)
    gone = cannot_be(bike)
    shares = _whole(
        {c.key: c.symptoms[symptom] for c in CAUSES if symptom in c.symptoms and c.key not in gone}
    )
    said: list[str] = []
    told: set[str] = set()
    right: frozenset[str] = frozenset()
    for key, value in readings:
        if key not in at:
            raise InputError(
                "There is no such reading.", where="readings", got=key[:40], expected=", ".join(at)
            )
        if value is None:
            continue
        if not math.isfinite(value):
            raise InputError("A reading is a number.", where=key, got=repr(value))
        if at[key].unknown:
            said.append(f"{at[key].label}: {UNJUDGED}")
            continue
        told.add(key)
        out = at[key].wrong(value)
        shares = _after(shares, key, out, right)
        right = right if out else right | {key}
        said.append(f"{at[key].label}: {'not as it must be' if out else 'as it must be'}")
    ranked = sorted(shares.items(), key=lambda s: -s[1])
    suspects = tuple(
        Suspect(k, BY_KEY[k].label, BY_KEY[k].repair, s) for k, s in ranked if s > 0.01
    )
    done = {k for k, _ in readings}
    left = [p for k, p in at.items() if k not in done and not p.unknown]
    blind = _blind(at, {k for k, v in readings if v is None}, [s.key for s in suspects], right)
    if not suspects:
        return Hunt(suspects, None, False, tuple(said), blind)
    if suspects[0].share < SURE:
        ask = _best(shares, left, right) or _proof(suspects[0].key, left, right)
        return Hunt(suspects, ask, False, tuple(said), blind)
    proof = _proof(suspects[0].key, left, right)
    seen = any(k not in right and _chance(suspects[0].key, k, right) > PROVES for k in told)
    bare = (
        not BY_KEY[suspects[0].key].wrong and not BY_KEY[suspects[0].key].one_of
    )  # nothing could show it
    return Hunt(suspects, None if seen else proof, seen or bare, tuple(said), blind)


def _blind(
    at: dict[str, Place], unread: set[str], suspects: list[str], right: frozenset[str]
) -> tuple[str, ...]:
    """Readings that would show a suspect, which nobody can take, or of which nobody knows what they must be."""
    shows = [k for k in at if any(_chance(c, k, right) > PROVES for c in suspects)]
    return tuple(
        f"{at[k].label}: not read"
        if not at[k].unknown
        else f"{at[k].label}: the build does not say what it must be; give it {at[k].wants}"
        for k in shows
        if at[k].unknown or k in unread
    )


def _proof(cause: str, left: list[Place], right: frozenset[str]) -> Place | None:
    """The reading that would show this cause itself: what is only left over is not yet found."""
    rows = [p for p in left if _chance(cause, p.key, right) > PROVES]
    return max(rows, key=lambda p: _chance(cause, p.key, right) / p.effort, default=None)


def _chance(cause: str, place: str, right: frozenset[str]) -> float:
    """Chance that a reading is out, given a cause and the readings that were as they must be."""
    c = BY_KEY[cause]
    if place in c.one_of:
        left = [p for p in c.one_of if p not in right]
        return CERTAIN / len(left) if left else WRONG_ANYWAY
    return c.wrong.get(place, WRONG_ANYWAY)


def _after(
    shares: dict[str, float], place: str, out: bool, right: frozenset[str]
) -> dict[str, float]:
    """Bayes: what each share is after a reading."""
    chances = {k: _chance(k, place, right) for k in shares}
    return _whole({k: s * (chances[k] if out else 1.0 - chances[k]) for k, s in shares.items()})


def _whole(shares: dict[str, float]) -> dict[str, float]:
    total = sum(shares.values())
    return {k: s / total for k, s in shares.items()} if total > 0 else shares


def _doubt(shares: dict[str, float]) -> float:
    """Shannon's entropy, bits."""
    return -sum(s * math.log2(s) for s in shares.values() if s > 0)


def _best(shares: dict[str, float], left: list[Place], right: frozenset[str]) -> Place | None:
    """The reading that is expected to take away most doubt for its effort."""
    now = _doubt(shares)
    rows = [(_gain(shares, p.key, now, right) / p.effort, -i, p) for i, p in enumerate(left)]
    most = max(rows, key=lambda r: r[:2], default=None)
    return most[2] if most and most[0] > LITTLE else None


def _gain(shares: dict[str, float], place: str, now: float, right: frozenset[str]) -> float:
    out = sum(s * _chance(k, place, right) for k, s in shares.items())
    if not 0.0 < out < 1.0:
        return 0.0
    after = out * _doubt(_after(shares, place, True, right)) + (1 - out) * _doubt(
        _after(shares, place, False, right)
    )
    return now - after
