"""What to change first: single changes and pairs that bring a build nearest its goal, what each costs, forces
and clears, and what would do nothing. Each is tried on the build; its effect is what the build then shows."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from ninebolt.core.bike.facts import EMPTY_SHELF, Bike, Memory, Shelf
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bolts.assess import Assessment, assess
from ninebolt.core.bolts.goal.wishes import Check, spent, wishes
from ninebolt.core.build import Build
from ninebolt.core.codec import encode
from ninebolt.core.finding import Change, Fix
from ninebolt.core.logs.ride import RideReport
from ninebolt.core.simulate.headline import Headline
from ninebolt.errors import InputError, NineBoltError
from ninebolt.formats.build_json import build_of
from ninebolt.services.candidates import Candidate, candidates
from ninebolt.services.docs import with_changes
from ninebolt.services.follows import with_what_follows
from ninebolt.services.quick import Quick, quick

SHOWN = 8
CURES = 8  # fixes of stops that are tried beside them
TRIED = 14  # singles that are looked at in full
PAIRED = 9  # of which pairs are made
PAIRS_TRIED = 6
OF_A_KIND = 2  # shown of one kind
PAIR_MORE = 0.01  # a pair must come so much nearer than one of the two alone
MONEY_WEIGHT = 1e-4  # a gap of a share for each unit of money: a setting comes before a part that brings as much
CAUTION_WEIGHT = 0.02  # the same for each caution that it brings
NO_PRICE = 50.0  # what an unknown price counts as
NOTHING = 0.005  # a change of every figure under this does nothing
PART_NAMES = {
    "guard.charger": "charger", "guard.bms": "BMS", "guard.fuse": "fuse", "guard.plug": "plug",
    "guard.cable": "cable", "guard.isolator": "isolator", "guard.precharge": "precharge",
    "guard.dcdc": "converter", "drive.controller": "controller", "drive.motor": "motor",
    "gear": "gearing", "gear.front_brake": "brakes", "gear.tyre": "tyres", "pack": "pack",
    "gear.run": "chain", "gear.fork": "springs", "gear.shock": "springs",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Said:
    """A finding that comes or goes."""

    severity: str
    title: str


@dataclass(frozen=True, slots=True)
class Proposal:
    """One way on. gap: of the goal that is left, 0 where all is met. money: None where a price is missing.
    mass_kg: heavier by. forces: parts that new findings name."""

    fix: Fix
    kinds: tuple[str, ...]
    after: Headline
    gap: float
    money: float | None
    mass_kg: float
    come: tuple[Said, ...]
    go: tuple[Said, ...]
    forces: tuple[str, ...]
    over_budget: bool


@dataclass(frozen=True, slots=True)
class Useless:
    """The best of a kind of change that would do nothing, and the link that sees to that."""

    label: str
    words: str


@dataclass(frozen=True, slots=True)
class Advice:
    """gap: of the goal now. goal: in words what it is measured by. looked_at: how many changes. stops: what stands in
    the build and comes before any of them, each with its bolt."""

    now: Headline
    gap: float
    goal: str
    checks: tuple[Check, ...]
    proposals: tuple[Proposal, ...]
    useless: tuple[Useless, ...]
    looked_at: int
    stops: tuple[str, ...] = ()


RideOf = Callable[[Build], RideReport | None]


def no_log(_: Build) -> RideReport | None:
    """A build without a garage has no log."""
    return None


def advise(
    build: Build,
    ride_of: RideOf = no_log,
    shelf: Shelf = EMPTY_SHELF,
    memory: Memory | None = None,
) -> Advice:
    """Raises InputError while the build does not compute."""
    mind = memory or Memory()
    base = Bike(build, ride_of(build), shelf, mind)
    perf, start = performance_of(base), quick(build)
    if perf is None or start is None:
        raise InputError(
            "What to change first is not known: the bike does not compute yet.",
            todo="Fill in what the bolts call missing.",
        )
    checks = wishes(base).checks
    aim = Aim(build, start, checks)
    before = assess(build, ride_of(build), shelf, mind)
    all_of = candidates(build, shelf)
    quickly = [(c, quick(_applied(build, c.changes))) for c in all_of]
    known = [(c, q) for c, q in quickly if q is not None]
    order = sorted(known, key=lambda cq: (aim.gap(cq[1]), cq[0].money or 0.0))
    singles = [c for c, _ in _spread(order, TRIED)]
    cures = [Candidate(x.label, "fix", x.changes, _price(x)) for f in before.stops for x in f.fixes]
    tried = [
        p
        for c in (*singles, *cures[:CURES])
        if (p := _full(build, ride_of, shelf, mind, before, aim, (c,)))
    ]
    tried += _pairs(build, ride_of, shelf, mind, before, aim, singles)
    gap = aim.of(checks, perf.headline)
    useful = [p for p in _worth(tried) if p.gap < gap - 1e-6 or _clears(p)]
    return Advice(
        perf.headline,
        gap,
        aim.words,
        checks,
        tuple(_shown(useful)),
        tuple(_useless(build, known, start, perf.headline.choke)),
        len(all_of),
        tuple(f.called for f in before.stops),
    )


class Aim:
    """What nearer means: the wishes that are set, else a tenth better in time and top speed."""

    def __init__(self, build: Build, start: Quick, checks: Sequence[Check]) -> None:
        goal = build.goal
        self.top, self.to = goal.top_speed_m_s.amount, goal.to_time_s.amount
        self.power = goal.power_w.amount
        self.range = next((c.want for c in checks if c.key == "range"), None)
        self.set = any(x is not None for x in (self.top, self.to, self.power, self.range))
        self.words = "the wishes on Goal"
        if not self.set:
            self.words = (
                "a tenth more top speed and a tenth less time, since no wish is set on Goal"
            )
            self.top = 1.1 * start.top_m_s
            self.to = 0.9 * start.to_s if start.to_s is not None else None

    def gap(self, q: Quick) -> float:
        """What is missing, as shares added up; a bike that cuts out has no time."""
        out = 0.0
        for want, have in ((self.top, q.top_m_s), (self.power, q.peak_w), (self.range, q.range_m)):
            if want:
                out += max(0.0, 1.0 - (have or 0.0) / want)
        if self.to:
            out += max(0.0, 1.0 - self.to / q.to_s) if q.to_s else 1.0
        return out + (0.5 if q.opens else 0.0)

    def of(self, checks: Sequence[Check], head: Headline) -> float:
        """The same from the checks that Goal shows, and hill and mass with them."""
        out = 0.5 if head.opens else 0.0
        if not self.set:
            q = Quick(
                head.top_speed_m_s or 0.0,
                head.to_time_s,
                head.peak_wheel_w or 0.0,
                head.range_m,
                bool(head.opens),
            )
            return self.gap(q)
        for c in checks:
            if c.key == "cost" or not c.want:
                continue
            less = c.key in ("time", "mass")
            if c.have is None:
                out += 1.0
            else:
                out += max(0.0, 1.0 - (c.want / c.have if less else c.have / c.want))
        return out


def _applied(build: Build, changes: Sequence[Change]) -> Build:
    """The build with the changes and what they bring with them, as it is once they are made."""
    doc = encode(build)
    asked = [{"path": c.path, "value": c.value} for c in changes]
    return build_of(with_changes(doc, with_what_follows(doc, asked)), build.name)


def _spread(order: list[tuple[Candidate, Quick]], most: int) -> list[tuple[Candidate, Quick]]:
    """The best, but of no kind more than a few, so that others have their turn."""
    seen: dict[str, int] = {}
    out = []
    for c, q in order:
        if seen.get(c.kind, 0) < OF_A_KIND + 1:
            seen[c.kind] = seen.get(c.kind, 0) + 1
            out.append((c, q))
    return out[:most]


def _full(
    build: Build,
    ride_of: RideOf,
    shelf: Shelf,
    mind: Memory,
    before: Assessment,
    aim: Aim,
    parts: Sequence[Candidate],
) -> Proposal | None:
    changes = tuple(x for c in parts for x in c.changes)
    try:
        made = _applied(build, changes)
        ride = ride_of(made)  # of the bike as it would be, which nobody has ridden
        after = assess(made, ride, shelf, mind)
    except NineBoltError:
        return None
    if any(b.state == "failed" for b in after.bolts):
        return None
    was = {f.key: f for b in before.bolts for f in b.findings}
    now = {f.key: f for b in after.bolts for f in b.findings}
    grave = ("stop", "caution")
    come = [
        f
        for k, f in now.items()
        if f.severity in grave and (k not in was or was[k].severity != f.severity)
    ]
    go = [f for k, f in was.items() if f.severity in grave and k not in now]
    checks = wishes(Bike(made, ride, shelf, mind)).checks
    prices = [c.money for c in parts]
    money = None if any(m is None for m in prices) else sum(m or 0.0 for m in prices)
    touched = {c.path.split(".")[0] + "." + c.path.split(".")[1] for c in changes}
    forces = {PART_NAMES[p] for f in come for p in f.parts if p in PART_NAMES and p not in touched}
    left = _left(build)
    heads = before.headline, after.headline
    return Proposal(
        Fix(" and ".join(c.label for c in parts), changes),
        tuple(c.kind for c in parts),
        after.headline,
        aim.of(checks, after.headline),
        money,
        (heads[1].mass_kg or 0.0) - (heads[0].mass_kg or 0.0),
        tuple(
            sorted((Said(f.severity, f.title) for f in come), key=lambda s: s.severity != "stop")
        ),
        tuple(Said(f.severity, f.title) for f in go),
        tuple(sorted(forces)),
        left is not None and (money or 0.0) > left,
    )


def _left(build: Build) -> float | None:
    """What is left of the budget."""
    budget = build.goal.budget_money.amount
    return None if budget is None else max(0.0, budget - spent(build))


def _pairs(
    build: Build,
    ride_of: RideOf,
    shelf: Shelf,
    mind: Memory,
    before: Assessment,
    aim: Aim,
    singles: Sequence[Candidate],
) -> list[Proposal]:
    """Pairs of different kinds that do not touch one another, the most promising in full."""
    found: list[tuple[float, tuple[Candidate, Candidate]]] = []
    for a, b in itertools.combinations(singles[:PAIRED], 2):
        paths = [c.path for c in (*a.changes, *b.changes)]
        if a.kind == b.kind or _overlap(paths):
            continue
        q = quick(_applied(build, (*a.changes, *b.changes)))
        if q is not None:
            found.append((aim.gap(q), (a, b)))
    found.sort(key=lambda x: x[0])
    made = [
        _full(build, ride_of, shelf, mind, before, aim, pair) for _, pair in found[:PAIRS_TRIED]
    ]
    return [p for p in made if p is not None]


def _worth(tried: list[Proposal]) -> list[Proposal]:
    """A pair that brings no more than one of its two alone is left out."""
    alone: dict[str, float] = {p.fix.label: p.gap for p in tried if len(p.kinds) == 1}

    def more(p: Proposal) -> bool:
        own = [alone[x] for x in p.fix.label.split(" and ") if x in alone]
        return len(p.kinds) == 1 or not own or p.gap < min(own) - PAIR_MORE

    return [p for p in tried if more(p)]


def _overlap(paths: Sequence[str]) -> bool:
    return any(
        a == b or b.startswith(a + ".") or a.startswith(b + ".")
        for a, b in itertools.combinations(paths, 2)
    )


def _price(fix: Fix) -> float | None:
    """What a fix costs: that of its parts, nothing for a setting; None where it is not known."""
    values = [c.value for c in fix.changes if isinstance(c.value, dict)]
    if len(values) < len(fix.changes):
        return None
    prices = [(v["price_money"] or {}).get("amount") for v in values if "price_money" in v]
    known = [p for p in prices if p is not None]
    return sum(known) if len(known) == len(prices) else None


def _clears(p: Proposal) -> bool:
    return any(s.severity == "stop" for s in p.go) and not any(s.severity == "stop" for s in p.come)


def _shown(found: list[Proposal]) -> list[Proposal]:
    """What clears a stop first, then the nearest; what brings new stops comes last; of a kind only a few."""

    def rank(p: Proposal) -> tuple[Any, ...]:
        stops = sum(s.severity == "stop" for s in p.come)
        money = p.money if p.money is not None else NO_PRICE
        worth = p.gap + MONEY_WEIGHT * money + CAUTION_WEIGHT * len(p.come)
        return (stops > 0, not _clears(p), p.over_budget, worth, p.mass_kg)

    seen: dict[tuple[str, ...], int] = {}
    out = []
    for p in sorted(found, key=rank):
        if seen.get(p.kinds, 0) < OF_A_KIND:
            seen[p.kinds] = seen.get(p.kinds, 0) + 1
            out.append(p)
    return out[:SHOWN]


def _useless(
    build: Build, known: list[tuple[Candidate, Quick]], start: Quick, choke: str
) -> list[Useless]:
    """Kinds of change of which not even the best moves a figure, with the link that holds instead. Of a part that is
    not there nobody asks for a bigger one."""
    best: dict[str, tuple[float, Candidate]] = {}
    for c, q in known:
        moved = max(
            _share(q.top_m_s, start.top_m_s), _share(q.peak_w, start.peak_w),
            -_share(q.to_s, start.to_s), _share(q.range_m, start.range_m),
        )  # fmt: skip
        if c.kind not in best or moved > best[c.kind][0]:
            best[c.kind] = (moved, c)
    names = {"motor": "A bigger motor", "controller": "A bigger controller", "BMS": "A bigger BMS",
             "fuse": "A bigger fuse", "plug": "A bigger plug", "isolator": "A bigger isolator",
             "line setting": "More line amps", "phase setting": "More phase amps",
             "cells in parallel": "More cells in parallel", "other cells": "Other cells"}  # fmt: skip
    g = build.guard
    fitted = {"BMS": g.bms, "fuse": g.fuse, "plug": g.plug, "isolator": g.isolator}
    gone = {kind for kind, part in fitted.items() if part.there is False}
    return [
        Useless(names[kind], f"does nothing for speed, time or range: {choke} holds")
        for kind, (moved, _) in best.items()
        if moved <= NOTHING and kind in names and kind not in gone
    ]


def _share(now: float | None, was: float | None) -> float:
    return 0.0 if not now or not was else now / was - 1.0
