"""A test session: setups, trials and what they were ridden under; what spoils the comparison; what the model takes off.

What a value is, and which way is better, says its protocol.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from statistics import median
from typing import Literal

from ninebolt.core.limits import Limit
from ninebolt.core.logs.compare import (
    Difference,
    Summary,
    compare,
    gap_seen,
    summary,
    trials_needed,
)
from ninebolt.core.logs.protocols import Measure, Quantity, measure, protocol, rules
from ninebolt.core.vehicle.road import STANDARD_HPA, air_density
from ninebolt.core.words import listed, q
from ninebolt.errors import InputError

SOC_GAP = Limit(0.05, "ratio", "mean charge of two setups apart: the fuller one is helped")
MASS_GAP = Limit(0.01, "ratio", "mass of two setups apart, before it is taken off by the model")
WIND_GAP = Limit(1.0, "m_s", "mean head wind of two setups apart")
AIR_GAP = Limit(5.0, "k", "air temperature of two setups apart")
SLOPE_GAP = Limit(0.3, "pct", "slope of two setups apart")
FACTOR = Limit(
    3.0, "ratio", "middle values of two setups over each other: no change of a bike does it"
)
SHARE_GAP = Limit(0.25, "ratio", "share of the runs with one rider, tyre or ground, between setups")
TYRE_GAP = Limit(0.1, "ratio", "mean tyre pressure of two setups apart, in bar")
PRESSURE_GAP = Limit(
    10.0, "ratio", "air pressure of two setups apart, in hPa: a hundredth of its density"
)
BALLAST_KG = Limit(0.1, "kg", "two masses apart, below which nothing is tied on")
MOST_KG = Limit(1000.0, "kg", "of bike and rider: more is a slip")
MASS_UNKNOWN = "its mass was not written down"


@dataclass(frozen=True, slots=True)
class Trial:
    """One run. None: not written down. discarded: why it does not count, '' where it does."""

    setup: str
    value: float
    soc: float | None = None
    mass_kg: float | None = None
    wind_m_s: float | None = None
    air_c: float | None = None
    slope_pct: float | None = None
    rider: str = ""
    front_teeth: int | None = None
    rear_teeth: int | None = None
    tyre: str = ""
    tyre_bar: float | None = None
    surface: str = ""
    pressure_hpa: float | None = None
    note: str = ""
    discarded: str = ""
    log_id: str = ""
    key: str = ""  # the tap's own: sent twice, it counts once
    at: str = ""  # when it was taken
    seq: int | None = None  # the change after which the build stood as it was ridden
    set_id: str = ""  # the write into the controller that was in force


@dataclass(frozen=True, slots=True)
class Spoiler:
    """Something that differs between two setups beside what is tried. weight: note (small), caution, stop (no
    comparison at all)."""

    what: str
    weight: Literal["note", "caution", "stop"]
    sentence: str


@dataclass(frozen=True, slots=True)
class SessionVerdict:
    """What a session shows. quantity: of its values. corrected: the same with what was ridden under made equal by the
    model, None where nothing was to take off or the model cannot; corrected_for: what was."""

    quantity: Quantity
    summaries: tuple[Summary, ...]
    differences: tuple[Difference, ...]
    corrected: tuple[Difference, ...] | None
    corrected_for: tuple[str, ...]
    spoilers: tuple[Spoiler, ...]
    discarded: tuple[str, ...]
    smallest_gap: float | None
    sentence: str


@dataclass(frozen=True, slots=True)
class Under:
    """What a run is predicted under; None: as the build has it."""

    mass_kg: float | None = None
    soc: float | None = None
    wind_m_s: float | None = None
    slope_pct: float | None = None
    air_kg_m3: float | None = None


Model = Callable[[Under], float | None]


def judge(
    trials: list[Trial],
    protocols: list[str],
    model: Model | None = None,
    records: tuple[Spoiler, ...] = (),
    kind: Measure | None = None,
) -> SessionVerdict:
    """Compare the setups in the order of their first trial. protocols: of each setup, the same for all or spoiled.
    records: what else is known to spoil it. kind: what the values are; without it, what the first protocol's are.
    Raises InputError for fewer than two setups with trials that count."""
    kept = [t for t in trials if not t.discarded]
    names = list(dict.fromkeys(t.setup for t in kept))
    if len(names) < 2:
        raise InputError(
            "Two setups with trials are compared.", got=", ".join(names) or "none",
            todo="Ride the other setup, or take back what was discarded.",
        )  # fmt: skip
    kind = kind or measure(protocols[0])
    by_setup = [(n, [t.value for t in kept if t.setup == n]) for n in names]
    rows = tuple(summary(n, v, kind.more) for n, v in by_setup)
    found = tuple(compare(by_setup, kind))
    corrected, equal = _corrected(kept, names, kind, model)
    spoilers = tuple(
        replace(s, weight="note", sentence=f"{s.sentence[:-1]}. {TAKEN_OFF}")
        if s.what in equal and s.weight == "caution"
        else s
        for s in (*_spoilers(kept, names, protocols), *_far(rows, by_setup, kind), *records)
    )
    sds = [r.sd for r in rows if r.sd]
    gap = (
        gap_seen(math.sqrt(sum(s * s for s in sds) / len(sds)), min(r.n for r in rows))
        if sds and min(r.n for r in rows) > 1
        else None
    )
    gone = tuple(f"{t.setup}, {t.value:g}: {t.discarded}" for t in trials if t.discarded)
    return SessionVerdict(
        kind.quantity,
        rows,
        found,
        corrected,
        equal,
        spoilers,
        gone,
        gap,
        _said(corrected or found, spoilers),
    )


def _far(
    rows: Sequence[Summary], by_setup: Sequence[tuple[str, list[float]]], kind: Measure
) -> list[Spoiler]:
    """Runs that stand far from the others of their setup; they count."""
    out: list[Spoiler] = []
    for row, (name, values) in zip(rows, by_setup, strict=True):
        if row.outliers:
            which = listed([kind.said(values[i]) for i in row.outliers])
            words = f"{name}: {which} far from its other runs. It counts until it is discarded with its reason."
            out.append(Spoiler("runs far from the rest", "note", words))
    return out


def _said(found: tuple[Difference, ...], spoilers: tuple[Spoiler, ...]) -> str:
    worst = [s for s in spoilers if s.weight == "stop"]
    if worst:
        return f"No comparison: {worst[0].sentence}"
    words = " ".join(d.sentence for d in found)
    doubt = [s.what for s in spoilers if s.weight == "caution"]
    return (
        f"{words} But {', '.join(doubt)} differed too: that may be all of it." if doubt else words
    )


def _mean(rows: list[float | None]) -> float | None:
    known = [x for x in rows if x is not None]
    return math.fsum(known) / len(known) if known else None


def _spoilers(kept: list[Trial], names: list[str], protocols: list[str]) -> list[Spoiler]:
    out: list[Spoiler] = []
    if len(set(protocols)) > 1:
        out.append(
            Spoiler(
                "protocol",
                "stop",
                f"the setups were ridden by different protocols ({', '.join(sorted(set(protocols)))}).",
            )
        )
    first = names[0]
    unsaid = [what for what, of in UNSAID if not any(of(t) for t in kept)]
    if unsaid:
        words = f"not written down of any run: {', '.join(unsaid)}. Taken to be the same in all."
        out.append(Spoiler("what was not written down", "note", words))
    for name in names[1:]:
        out += _other_size(kept, first, name)
        pair = [[t for t in kept if t.setup == n] for n in (first, name)]
        if all(protocol(p).pulls for p in protocols):
            out += _gap(pair, "charge", lambda t: t.soc, SOC_GAP, "the fuller one is helped", name)
        out += _gap(pair, "wind", lambda t: t.wind_m_s, WIND_GAP, "head wind slows", name)
        out += _gap(
            pair,
            "air",
            lambda t: t.air_c,
            AIR_GAP,
            "warm air is thinner and cells are livelier",
            name,
        )
        out += _gap(pair, "slope", lambda t: t.slope_pct, SLOPE_GAP, "downhill is no proof", name)
        out += _gap_seen(
            pair,
            "tyre pressure",
            lambda t: t.tyre_bar,
            TYRE_GAP,
            "it rolls and grips otherwise",
            name,
        )
        out += _gap_seen(
            pair,
            "air pressure",
            lambda t: t.pressure_hpa,
            PRESSURE_GAP,
            "thin air drags less",
            name,
        )
        out += _other(pair, "tyre", lambda t: t.tyre, name)
        out += _other(pair, "surface", lambda t: t.surface, name)
        out += _mass(pair, name)
        out += _other(pair, "rider", lambda t: t.rider, name)
        out += _other(pair, "front sprocket", lambda t: t.front_teeth, name)
        out += _other(pair, "rear sprocket", lambda t: t.rear_teeth, name)
    return out


UNSAID: tuple[tuple[str, Callable[[Trial], object]], ...] = (
    ("rider", lambda t: t.rider), ("tyre", lambda t: t.tyre), ("tyre pressure", lambda t: t.tyre_bar),
    ("surface", lambda t: t.surface),
)  # fmt: skip


def _other_size(kept: list[Trial], first: str, name: str) -> list[Spoiler]:
    """Values of a setup that are so many times the other's that they are not of one unit, or of one way."""
    a, b = (median(t.value for t in kept if t.setup == n) for n in (first, name))
    if max(a, b) < FACTOR * min(a, b):
        return []
    more, other = (name, first) if b > a else (first, name)
    words = (
        f"the values of {more} are {max(a, b) / min(a, b):.3g} times those of {other}: another unit, other marks, or "
        "a slip."
    )
    return [Spoiler("the size of the values", "stop", words)]


def _other(
    pair: list[list[Trial]], what: str, of: Callable[[Trial], object], name: str
) -> list[Spoiler]:
    a, b = ([_alike(of(t)) for t in side if of(t)] for side in pair)
    if not a or not b:
        known = pair[0][0].setup if a else name
        return (
            [Spoiler(what, "note", f"{what} was written down for {known} only.")] if a or b else []
        )
    if set(a) != set(b):
        words = f"{what} is another in {name} ({_words(set(a))}, {_words(set(b))})."
        return [Spoiler(what, "caution", words)]
    for x in sorted(set(a), key=str):
        if abs(a.count(x) / len(a) - b.count(x) / len(b)) > SHARE_GAP:
            first = pair[0][0].setup
            words = (
                f"{what} {x} had {a.count(x)} of {len(a)} runs of {first} and {b.count(x)} of {len(b)} of {name}: not "
                "shared alike."
            )
            return [Spoiler(what, "caution", words)]
    missing = _missing(pair, of)
    return [Spoiler(what, "note", f"{what} {missing}.")] if missing else []


def _alike(said: object) -> object:
    """The same name however it was typed."""
    return " ".join(said.split()).casefold() if isinstance(said, str) else said


def _missing(pair: list[list[Trial]], of: Callable[[Trial], object]) -> str:
    """Of how many runs it was not written down; '' where of none."""
    every = [of(t) for side in pair for t in side]
    gone = sum(x is None or x == "" for x in every)
    return f"was not written down of {gone} of {len(every)} runs" if gone else ""


def _words(values: set[object]) -> str:
    return "/".join(str(v) for v in sorted(values, key=str))


def _gap(
    pair: list[list[Trial]],
    what: str,
    of: Callable[[Trial], float | None],
    limit: Limit,
    why: str,
    name: str,
) -> list[Spoiler]:
    a, b = (_mean([of(t) for t in side]) for side in pair)
    if a is None or b is None:
        return [Spoiler(what, "note", f"{what} was not written down for every setup; {why}.")]
    missing = _missing(pair, of)
    if abs(a - b) <= limit:
        return [Spoiler(what, "note", f"{what} {missing}; {why}.")] if missing else []
    return [
        Spoiler(
            what,
            "caution",
            f"{what} differs between {pair[0][0].setup} and {name}: {a:.3g} and {b:.3g}"
            f"{f' where it is known ({missing})' if missing else ''}; {why}.",
        )
    ]


def _gap_seen(
    pair: list[list[Trial]],
    what: str,
    of: Callable[[Trial], float | None],
    limit: Limit,
    why: str,
    name: str,
) -> list[Spoiler]:
    """As _gap, where somebody wrote it down at all."""
    return (
        _gap(pair, what, of, limit, why, name) if any(of(t) for side in pair for t in side) else []
    )


def _mass(pair: list[list[Trial]], name: str) -> list[Spoiler]:
    a, b = (_mean([t.mass_kg for t in side]) for side in pair)
    if a is None or b is None:
        who = [t[0].setup for t, x in zip(pair, (a, b), strict=True) if x is None]
        return [Spoiler("mass", "note", f"{' and '.join(who)}: {MASS_UNKNOWN}.")]
    missing = _missing(pair, lambda t: t.mass_kg)
    if abs(a - b) <= MASS_GAP * a:
        return [Spoiler("mass", "note", f"mass {missing}.")] if missing else []
    more = name if b > a else pair[0][0].setup
    words = f"{more} is {q(abs(a - b), 'kg')} heavier: so much ballast on the other"
    return [Spoiler("mass", "caution", f"{words}; mass {missing}." if missing else f"{words}.")]


TAKEN_OFF = "Taken off by the model."
EQUAL: tuple[tuple[str, str, Callable[[Trial], float | None]], ...] = (
    ("mass", "mass_kg", lambda t: t.mass_kg),
    ("charge", "soc", lambda t: t.soc),
    ("wind", "wind_m_s", lambda t: t.wind_m_s),
    ("slope", "slope_pct", lambda t: t.slope_pct),
    ("air", "air_kg_m3", lambda t: _air(t)),
)


def _air(t: Trial) -> float | None:
    """Density of the air that a run was ridden in (kg/m³); at standard pressure where none was read."""
    if t.air_c is None:
        return None
    return air_density(t.air_c, STANDARD_HPA if t.pressure_hpa is None else t.pressure_hpa)


def _corrected(
    kept: list[Trial], names: list[str], kind: Measure, model: Model | None
) -> tuple[tuple[Difference, ...] | None, tuple[str, ...]]:
    """The same comparison with every trial brought to what the first setup was ridden under on the mean, by the model's
    own ratio; and what that was. Only what was written down of every trial is made equal."""
    nothing: tuple[None, tuple[str, ...]] = (None, ())
    used = [(what, key, of) for what, key, of in EQUAL if _differs([of(t) for t in kept])]
    if model is None or not used:
        return nothing
    first = [t for t in kept if t.setup == names[0]]
    base = model(Under(**{key: _mean([of(t) for t in first]) for _, key, of in used}))
    brought: list[Trial] = []
    for t in kept:
        own = model(Under(**{key: of(t) for _, key, of in used}))
        if base is None or own is None or own <= 0:
            return nothing
        brought.append(replace(t, value=t.value * base / own))
    rows = compare([(n, [t.value for t in brought if t.setup == n]) for n in names], kind)
    return tuple(rows), tuple(what for what, _, _ in used)


def _differs(values: list[float | None]) -> bool:
    """Whether all are known, and not all the same."""
    known = [x for x in values if x is not None]
    return len(known) == len(values) and max(known) - min(known) > 1e-9


def felt_against(verdict: SessionVerdict, felt: str) -> str:
    """What a rider felt to be better, beside what the numbers say. Raises InputError for a setup that is none."""
    names = [s.name for s in verdict.summaries]
    if felt not in names:
        raise InputError(
            "Felt better than what?", where="felt", got=felt[:60], expected=", ".join(names)
        )
    rows = verdict.corrected or verdict.differences
    told = [d for d in rows if d.told and felt in (d.first, d.second)]
    if not told:
        return f"{felt} felt better; the numbers do not tell it apart. A feeling is no result: more trials."
    better = all(("is better than" in d.sentence) == (d.second == felt) for d in told)
    if better:
        return f"{felt} felt better, and the numbers say so too."
    return f"{felt} felt better, and the numbers say the opposite: a lunge or a noise feels quick."


@dataclass(frozen=True, slots=True)
class Plan:
    """How a comparison is ridden. order: setups by turn; riders: who rides each of them, empty for one rider; needed:
    trials of each to see the gap, None where it takes too many; rules: what is held alike."""

    order: tuple[str, ...]
    riders: tuple[str, ...]
    needed: int | None
    seen: float
    rules: tuple[str, ...]
    ballast: tuple[str, ...]
    sentence: str


def plan(
    setups: list[str],
    trials: int,
    spread: float,
    gap: float,
    masses: dict[str, float],
    protocol: str,
    shuffle: Callable[[list[str]], None],
    riders: Sequence[str] = (),
) -> Plan:
    """An order in blocks, each setup once a block and blocks turned about, so that a drift falls on all alike. A
    block is ridden by one rider, and riders take turns.

    spread: standard deviation of earlier runs; gap: what is hoped to be seen, in the same unit. Raises InputError.
    """
    if len(set(setups)) < 2 or len(set(setups)) != len(setups):
        raise InputError(
            "Two or more setups of different names are compared.", got=", ".join(setups)
        )
    kind, alike = measure(protocol), rules(protocol)
    if not 2 <= trials <= 60 or not spread > 0 or not gap > 0:
        raise InputError(
            "A plan needs 2 to 60 trials of each, a spread and a gap above 0.",
            got=f"{trials}, {spread:g}, {gap:g}",
        )
    if len(set(riders)) != len(riders):
        raise InputError("Riders have names of their own.", got=", ".join(riders))
    for name, kg in masses.items():
        if name not in setups or not 0.0 < kg <= MOST_KG:
            raise InputError(
                "This is no mass of a setup.",
                where=f"masses, {name[:40]}",
                got=f"{kg:g} kg",
                expected=f"kilograms of bike and rider, of one of {', '.join(setups)}",
            )
    order: list[str] = []
    who: list[str] = []
    block: list[str] = []
    both_ways = riders and trials % (2 * len(riders)) == 0
    for k in range(trials):
        if k % 2 == 0:
            block = list(setups)
            shuffle(block)
        else:
            block = block[::-1]
        order += block
        if riders:
            turn = k // 2 if both_ways else k
            who += [riders[turn % len(riders)]] * len(block)
    needed = trials_needed(spread, gap)
    seen = gap_seen(spread, trials)
    heaviest = max(masses.values(), default=0.0)
    ballast = tuple(
        f"{n}: {q(heaviest - m, 'kg')} of ballast, tied low and near the middle"
        for n, m in masses.items()
        if heaviest - m > BALLAST_KG
    )
    if masses:
        ballast += tuple(
            f"{n}: not weighed, so nobody knows its ballast" for n in setups if n not in masses
        )
    words = f"{trials} trials of each show a gap of {kind.said(seen)} or more" + (
        f"; for {kind.said(gap)} it takes {needed} of each."
        if needed
        else f"; {kind.said(gap)} is too small to be seen this way."
    )
    if riders[1:]:
        alike = tuple(r.replace("Same rider, same gear", "Same gear") for r in alike)
    held = (*alike, *_of_riders(riders, trials))
    return Plan(tuple(order), tuple(who), needed, seen, held, ballast, words)


def _of_riders(riders: Sequence[str], trials: int) -> tuple[str, ...]:
    """What is held alike where several ride."""
    if len(riders) < 2:
        return ()
    said = "A block is ridden by one rider, all setups in it; then the next one rides. Write down who rode."
    if trials % len(riders) == 0:
        return (said,)
    even = len(riders) * math.ceil(trials / len(riders))
    return (
        said,
        f"{trials} trials of each do not go evenly among {len(riders)} riders: {even} do.",
    )
