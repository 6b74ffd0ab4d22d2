"""Whole builds from a wish and a bay: many combinations weighed, the best of each voltage finished until nothing
stops it, and the schools of thought set against one another."""

from __future__ import annotations

import dataclasses
import math
import random
import time
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from ninebolt.core.bike.cells import cell_full_v
from ninebolt.core.bike.facts import EMPTY_SHELF, Bike, Memory, Shelf
from ninebolt.core.bike.mass import moved_kg
from ninebolt.core.bike.running import FAR_OVER_LABEL
from ninebolt.core.bolts.assess import assess
from ninebolt.core.bolts.goal.wishes import Check, spent, wishes
from ninebolt.core.build import Build
from ninebolt.core.codec import encode, replaced
from ninebolt.core.finding import Finding, q
from ninebolt.core.parts.guard import Isolator
from ninebolt.core.parts.rolling import Gear, Tyre
from ninebolt.core.simulate.headline import Headline
from ninebolt.core.value import Value
from ninebolt.core.vehicle.tyre import rim_in, symbol_speed
from ninebolt.errors import InputError, NineBoltError
from ninebolt.formats.build_json import build_of
from ninebolt.services.advisor import Aim
from ninebolt.services.compose import (
    Choice,
    Room,
    breaks,
    chain_for,
    compose,
    left_out,
    room_for,
    unbuilt,
)
from ninebolt.services.docs import with_changes
from ninebolt.services.quick import Quick, quick

SERIES = (16, 20, 24, 26)
SHOWN = 3
LOOKED_AT = 10_000
LONGEST_S = 20.0  # weighing ends then; what was found so far is finished
RANDOM_SHARE = (
    0.35  # of the looks that are drawn at random; the others climb from the best of those
)
PAST_TYRES = 100.0  # puts what no tyre for its rims is made for behind all else
TYRE_ROOM = 0.98  # of what tyres stand, since a look is only about right
ROUNDS = 6  # of repairs by a stop's own fixes
MONEY_WEIGHT = 2e-5  # a gap of a share for each unit of money: of two alike the cheaper
MASS_WEIGHT = 2e-3  # the same for each kilogram
SECTIONS = ("donor", "pack", "guard", "drive", "gear", "wire", "tune", "prove", "road")
# Rollers that one may start from while nothing is measured: (label, kg, wheelbase, tyre, symbol, bay in mm).
ROLLERS = {
    "enduro": ("Enduro roller", 78.0, 1.47, "120/90-18", "R", (340, 300, 175)),
    "light": ("Light moto roller", 46.0, 1.30, "80/100-19", "M", (330, 190, 140)),
    "pit": ("Pit bike roller", 38.0, 1.12, "80/100-12", "F", (300, 170, 120)),
}


@dataclass(frozen=True, slots=True)
class Line:
    """One line of the bill of materials. count: bodies of cells, else 1."""

    what: str
    name: str
    count: int
    money: float | None
    kg: float | None


@dataclass(frozen=True, slots=True)
class Whole:
    """One complete build. changes: path and value of each section, as a change of the build takes them.
    misses: wishes that are not met, 'close' ones too. school: how it is made."""

    label: str
    school: tuple[str, ...]
    changes: list[dict[str, Any]]
    headline: Headline
    checks: tuple[Check, ...]
    gap: float
    money: float
    kg: float
    bill: tuple[Line, ...]
    stops: int
    cautions: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class School:
    """The best of one way of building, before it is finished: its gap, money, mass; None: nothing fits."""

    name: str
    gap: float | None
    money: float | None
    kg: float | None


@dataclass(frozen=True, slots=True)
class Proposals:
    """builds: best first. looked_at of all that are to be weighed; assumed: what was filled in; why: what holds the
    proposals back, or stands in the way where no build is left; left: what of the shelf could not be weighed."""

    builds: tuple[Whole, ...]
    schools: tuple[School, ...]
    looked_at: int
    of: int
    assumed: tuple[str, ...]
    stage: str
    why: tuple[str, ...] = ()
    left: tuple[str, ...] = ()


def prepared(build: Build, roller: str = "") -> tuple[Build, tuple[str, ...]]:
    """The build as a frame for another drive: nothing of the old one's hook-up, gates and settings, and what a search
    cannot do without filled in as guesses; and what that was. Raises InputError for a roller that is not known."""
    build = unbuilt(build)
    if roller and roller not in ROLLERS:
        raise InputError("There is no such roller.", got=roller[:40], expected=", ".join(ROLLERS))
    label, kg, base, code, symbol, bay = ROLLERS[roller or "light"]
    assumed = []

    def put(path: str, value: Any, words: str) -> None:
        nonlocal build
        build = replaced(build, path, value)
        assumed.append(words)

    if not build.donor.mass_kg.known:
        put("donor.mass_kg", Value(kg, "guess", 0.15), f"{label} of {kg:.0f} kg")
    if not build.gear.tyre.code.strip() and not build.gear.tyre.rolling_radius_m.known:
        put("gear.tyre.code", code, f"tyre {code} {symbol}")
        build = replaced(build, "gear.tyre.speed_symbol", symbol)
    if not build.road.wheelbase_m.known:
        build = replaced(build, "road.wheelbase_m", Value(base, "guess", 0.05))
    if roller and not build.donor.bays:
        doc = with_changes(encode(build), [{"path": "donor.bays", "value": [{
            "name": "Main bay", "length_m": f"{bay[0]} mm", "height_m": f"{bay[1]} mm", "width_m": f"{bay[2]} mm",
        }]}])  # fmt: skip
        build = build_of(doc, build.name)
        assumed.append(f"a bay of {bay[0]} x {bay[1]} x {bay[2]} mm")
    return build, tuple(assumed)


def proposing_steps(
    build: Build, shelf: Shelf, roller: str = "", looks: int = LOOKED_AT, seed: int = 1
) -> Callable[[], Iterator[Proposals]]:
    """Checked now; weighed as it is read, with what is found so far. Raises InputError."""
    base, assumed = prepared(build, roller)
    goal = base.goal
    if not any(
        v.known
        for v in (goal.top_speed_m_s, goal.to_time_s, goal.power_w, goal.ride_m, goal.ride_s)
    ):
        raise InputError(
            "There is no wish to build for.",
            where="goal",
            todo="Give a top speed, a time to a speed, a power or a ride.",
        )
    if not shelf.of("motor", type(base.drive.motor)) or not shelf.of("cell", type(base.pack.cell)):
        raise InputError("The shelf is empty.", todo="Put motors, controllers and cells on it.")
    return lambda: _search(build, base, shelf, assumed, looks, seed)


def _search(
    onto: Build, base: Build, shelf: Shelf, assumed: tuple[str, ...], looks: int, seed: int
) -> Iterator[Proposals]:
    yield Proposals((), (), 0, looks, assumed, "measuring what goes in")
    hunt = Hunt(base, room_for(base, shelf, SERIES), seed, shelf)
    for done in hunt.weigh(looks):
        yield Proposals((), hunt.schools(), done, looks, assumed, "weighing")
    if not hunt.best:
        raise InputError(
            "Nothing on the shelf makes a bike of this.",
            todo="A larger bay, other cells on the shelf, or a smaller wish.",
        )
    made: list[Whole] = []
    mind = Memory()
    left: Counter[str] = Counter()
    for series in hunt.series_by_gap():
        whole = next(
            (
                w
                for c in hunt.best_of(series)
                if (w := finish(onto, hunt.room, c, shelf, mind, hunt.aim, left))
            ),
            None,
        )
        if whole is not None:
            made.append(whole)  # in their order of coming: nothing moves under a finger
            yield Proposals(
                tuple(made[:SHOWN]), hunt.schools(), hunt.looked, looks, assumed, "finishing"
            )
        if len(made) >= SHOWN:
            break
    made.sort(key=lambda w: (w.stops, round(w.gap, 3), w.money))
    why = (
        *_held_by_tyres(base, hunt.stands_m_s),
        *(() if made else _in_the_way(left)),
    )
    yield Proposals(
        tuple(made[:SHOWN]),
        hunt.schools(),
        hunt.looked,
        looks,
        assumed,
        "done",
        why,
        left_out(shelf),
    )


def _held_by_tyres(base: Build, stands_m_s: float) -> tuple[str, ...]:
    """Why nothing faster is proposed, where that was wished."""
    wished = base.goal.top_speed_m_s.amount
    if wished is None or wished <= stands_m_s or not math.isfinite(stands_m_s):
        return ()
    fastest = q(stands_m_s / TYRE_ROOM, "m_s")
    return (
        f"Nothing faster than {fastest} is proposed: no tyre of the shelf for these rims is made for more.",
    )


def _in_the_way(left: Counter[str]) -> tuple[str, ...]:
    """The stops that no fix of their own took away, the most frequent first."""
    return tuple(f"{title} (in {n} of those that came nearest)" for title, n in left.most_common(3))


def tyres_stand(gear: Gear, shelf: Shelf) -> float:
    """The speed (m/s) that both tyres stand, or the fastest of the shelf for their rims would; inf while no symbol is
    known."""
    least = math.inf
    for tyre in (gear.tyre, gear.front_tyre):
        own, rim = symbol_speed(tyre.speed_symbol), rim_in(tyre.code)
        if own is None:
            continue
        others = [
            symbol_speed(t.speed_symbol) or 0.0
            for t in shelf.of("tyre", Tyre)
            if rim is not None and rim_in(t.code) == rim
        ]
        least = min(least, max([own, *others]))
    return least


class Hunt:
    """Weighs combinations: first at random, then by changing one thing at a time from the best of each
    voltage."""

    def __init__(self, base: Build, room: Room, seed: int, shelf: Shelf = EMPTY_SHELF) -> None:
        self.room, self.random = room, random.Random(seed)
        self.looked = 0
        self.seen: dict[Choice, float | None] = {}
        self.best: dict[tuple[int, str], list[tuple[float, Choice]]] = {}
        self.facts: dict[Choice, tuple[float, float]] = {}
        bike = Bike(base)
        self.aim = Aim(base, Quick(1.0, None, 1.0, None, False), wishes(bike).checks)
        self.budget = base.goal.budget_money.amount
        self.stands_m_s = TYRE_ROOM * tyres_stand(base.gear, shelf)
        self.pairs: dict[int, list[tuple[int, int]]] = {}
        for (cell, series), most in room.most_parallel.items():
            if most > 0:
                self.pairs.setdefault(series, []).append((cell, most))

    def weigh(self, looks: int, climb: bool = True) -> Iterator[int]:
        """Looks so many times; yields how many are done now and then. climb False: at random throughout."""
        end = time.monotonic() + LONGEST_S
        share = RANDOM_SHARE if climb else 1.0
        while self.looked < share * looks and time.monotonic() < end and self.pairs:
            self.look(self.draw())
            if self.looked % 250 == 0:
                yield self.looked
        tops: list[Choice] = [rows[0][1] for rows in self.best.values() if rows]
        tops += [c for rows in self.best.values() for _, c in rows[1:4]]
        while climb and self.looked < looks and time.monotonic() < end and tops:
            at = tops.pop(0)
            better = self.climb(at, looks)
            if better is not None:
                tops.insert(0, better)
            elif not tops and self.looked < looks:
                tops = [self.draw() for _ in range(3)]
            yield self.looked

    def draw(self) -> Choice:
        """A combination at random."""
        r, room = self.random, self.room
        series = r.choice(sorted(self.pairs))
        cell, most = r.choice(self.pairs[series])
        step = room.cells[cell].body_parallel
        motor = r.randrange(len(room.motors))
        return Choice(
            series, cell, step * r.randint(1, max(1, most // step)), motor,
            r.randrange(len(room.controllers)),
            None if room.motors[motor].kind == "hub" else r.choice(room.pairs),
        )  # fmt: skip

    def climb(self, at: Choice, looks: int) -> Choice | None:
        """The best that differs in one thing, if it is better."""
        now, best = self.seen.get(at) or self.look(at), None
        for other in self.beside(at):
            if self.looked >= looks:
                break
            score = self.look(other)
            if score is not None and (now is None or score < now - 1e-6):
                now, best = score, other
        return best

    def beside(self, c: Choice) -> Iterator[Choice]:
        room = self.room
        step = room.cells[c.cell].body_parallel
        most = room.most_parallel.get((c.cell, c.series), 0)
        for p in sorted(
            {c.parallel - step, c.parallel + step, most, step * max(1, most // step // 2)}
        ):
            if 0 < p <= most and p != c.parallel:
                yield dataclasses.replace(c, parallel=p)
        for k in range(len(room.controllers)):
            yield dataclasses.replace(c, controller=k)
        if c.pair is not None:
            for pair in room.pairs:
                yield dataclasses.replace(c, pair=pair)
        kind = room.motors[c.motor].kind
        for m, motor in enumerate(room.motors):
            if motor.kind == kind:
                yield dataclasses.replace(c, motor=m)
        amps = c.parallel * (room.cells[c.cell].capacity_ah.amount or 1.0)
        for cell, top in self.pairs.get(c.series, []):
            other = room.cells[cell]
            body = other.body_parallel
            want = max(1, round(amps / (other.capacity_ah.amount or 1.0) / body)) * body
            yield dataclasses.replace(c, cell=cell, parallel=min(top // body * body, want))

    def look(self, c: Choice) -> float | None:
        """Its score, less is better; None where it makes no bike."""
        if c in self.seen:
            return self.seen[c]
        self.looked += 1
        made = compose(self.room, c)
        q = quick(made) if made is not None else None
        if made is None or q is None:
            self.seen[c] = None
            return None
        money, kg = spent(made), moved_kg(made)
        over = 0.0 if self.budget is None else max(0.0, money / self.budget - 1.0)
        heavy = made.goal.mass_max_kg.amount
        fat = 0.0 if heavy is None else max(0.0, kg / heavy - 1.0)
        fast = PAST_TYRES + q.top_m_s / self.stands_m_s if q.top_m_s > self.stands_m_s else 0.0
        motor = made.drive.motor
        label = math.inf if motor.temp_sensor else motor.label_w.or_else(math.inf)
        hot = max(0.0, q.peak_w / (FAR_OVER_LABEL * label) - 1.0)  # which a stop takes back
        score = self.aim.gap(q) + over + fat + fast + hot + MONEY_WEIGHT * money + MASS_WEIGHT * kg
        self.seen[c] = score
        self.facts[c] = money, kg
        for name in self.schools_of(c):
            rows = self.best.setdefault((c.series, name), [])
            rows.append((score, c))
            rows.sort(key=lambda x: x[0])
            del rows[8:]
        return score

    def schools_of(self, c: Choice) -> tuple[str, str]:
        hub = self.room.motors[c.motor].kind == "hub"
        bought = self.room.cells[c.cell].form == "ready_made"
        return ("hub motor" if hub else "mid-drive", "pack bought" if bought else "pack built")

    def schools(self) -> tuple[School, ...]:
        """The best of each way of building over all voltages."""
        out = []
        for name in ("mid-drive", "hub motor", "pack built", "pack bought"):
            rows = [r[0] for (_, n), r in self.best.items() if n == name and r]
            if not rows:
                out.append(School(name, None, None, None))
                continue
            score, c = min(rows, key=lambda x: x[0])
            money, kg = self.facts[c]
            if score >= PAST_TYRES:
                out.append(School(name, None, None, None))
                continue
            out.append(
                School(name, max(0.0, score - MONEY_WEIGHT * money - MASS_WEIGHT * kg), money, kg)
            )
        return (*out, *self._isolators())

    def _isolators(self) -> tuple[School, ...]:
        """The best build with a contactor, and with a breaker in its place: the same ride, other money."""
        rows = [r[0] for r in self.best.values() if r]
        made = compose(self.room, min(rows, key=lambda x: x[0])[1]) if rows else None
        if made is None:
            return ()
        score, c = min(rows, key=lambda x: x[0])
        money, kg = self.facts[c]
        gap = max(0.0, score - MONEY_WEIGHT * money - MASS_WEIGHT * kg)
        own, full = made.guard.isolator, c.series * cell_full_v(made.pack.cell)
        rated = made.guard.fuse.rated_a.taken
        fits = [
            x
            for x in self.room.shelf.of("isolator", Isolator)
            if x.kind == "breaker"
            and breaks(x, full, made.guard.fuse)
            and x.i_cont_a.or_else(0.0) >= rated
        ]
        other = min(fits, key=lambda x: x.price_money.or_else(1e9), default=None)
        if other is None:
            return (School("contactor", gap, money, kg), School("breaker", None, None, None))
        less = own.price_money.or_else(0.0) - other.price_money.or_else(0.0)
        lighter = own.mass_kg.or_else(0.0) - other.mass_kg.or_else(0.0)
        return (
            School("contactor", gap, money, kg),
            School("breaker", gap, money - less, kg - lighter),
        )

    def series_by_gap(self) -> list[int]:
        """Voltages, the most promising first."""
        least: dict[int, float] = {}
        for (series, _), rows in self.best.items():
            if rows:
                least[series] = min(least.get(series, 1e9), rows[0][0])
        return sorted(least, key=lambda s: least[s])

    def best_of(self, series: int) -> list[Choice]:
        """Its combinations, best first."""
        rows = sorted(
            (r for (s, _), own in self.best.items() if s == series for r in own), key=lambda r: r[0]
        )
        return list(dict.fromkeys(c for _, c in rows))[:6]

    @property
    def least(self) -> float:
        """The best score of all."""
        return min((rows[0][0] for rows in self.best.values() if rows), default=float("inf"))


def finish(
    onto: Build,
    room: Room,
    choice: Choice,
    shelf: Shelf,
    mind: Memory,
    aim: Aim,
    left: Counter[str] | None = None,
) -> Whole | None:
    """The combination as a build that nothing stops: its stops' own fixes are applied until none is left. None
    where one stays; left counts which. onto: the build that its changes are put on."""
    made = compose(room, choice)
    if made is None:
        return None
    made = _through_document(onto, made)
    for _ in range(ROUNDS):
        found = assess(made, None, shelf, mind)
        stop = next((f for f in found.stops if f.fixes), None)
        if stop is None:
            break
        fixed = _fixed(made, stop)
        if fixed is None:
            return None
        made = fixed
    found = assess(made, None, shelf, mind)
    if found.stops or any(b.state == "failed" for b in found.bolts):
        if left is not None:
            left.update({f.title for f in found.stops})
        return None
    checks = wishes(Bike(made, None, shelf, mind)).checks
    cell, motor = room.cells[choice.cell], room.motors[choice.motor]
    school = (
        "hub motor" if motor.kind == "hub" else "mid-drive",
        "pack bought" if cell.form == "ready_made" else "pack built",
        made.guard.isolator.kind,
    )
    teeth = "" if choice.pair is None else f", {made.gear.front_teeth}/{made.gear.rear_teeth}"
    return Whole(
        f"{made.pack.series}s{made.pack.parallel}p {cell.name}, {made.drive.motor.name}{teeth}",
        school,
        _changes(onto, made),
        found.headline,
        checks,
        aim.of(checks, found.headline),
        spent(made),
        moved_kg(made),
        _bill(made, shelf),
        len(found.stops),
        tuple(f.title for b in found.bolts for f in b.findings if f.severity == "caution"),
    )


def _fixed(build: Build, stop: Finding) -> Build | None:
    changes = [{"path": c.path, "value": c.value} for c in stop.fixes[0].changes]
    try:
        return build_of(with_changes(encode(build), changes), build.name)
    except NineBoltError:
        return None


def _changes(base: Build, made: Build) -> list[dict[str, Any]]:
    """Sections that are other than the base's, as changes of a build."""
    then, now = encode(base), encode(made)
    return [{"path": s, "value": now[s]} for s in SECTIONS if now[s] != then[s]]


def _through_document(base: Build, made: Build) -> Build:
    """As it comes back from what is stored, so that what is promised is what the build then shows."""
    doc = with_changes(encode(base), _changes(base, made))
    return build_of(doc, base.name)


def _bill(b: Build, shelf: Shelf) -> tuple[Line, ...]:
    p = b.pack
    bodies = round(
        (p.series or 0) * (p.parallel or 0) / (p.cell.body_series * p.cell.body_parallel)
    )
    each, kg = p.cell.price_money.amount, p.cell.mass_kg.amount
    rows = [
        Line(
            "cells",
            p.cell.name,
            bodies,
            None if each is None else each * bodies,
            None if kg is None else kg * bodies,
        )
    ]
    g, d = b.guard, b.drive
    for what, part in (
        ("motor", d.motor), ("controller", d.controller), ("BMS", g.bms), ("fuse", g.fuse),
        (g.isolator.kind, g.isolator), ("plug", g.plug), ("cable", g.cable), ("phase leads", g.phase_cable),
        ("precharge", g.precharge), ("converter", g.dcdc), ("charger", g.charger), ("tyre", b.gear.tyre),
    ):  # fmt: skip
        if part.name:
            rows.append(Line(what, part.name, 1, part.price_money.amount, part.mass_kg.amount))
    front, rear = b.gear.front_teeth, b.gear.rear_teeth
    if front and rear:
        sold = chain_for(shelf, b, b.gear.chain, (front, rear))
        teeth = f"{front}/{rear}"
        rows.append(
            Line(
                "sprockets and chain" if sold else "sprockets",
                f"{teeth}, {sold.name}"
                if sold
                else f"{teeth}; the {b.gear.chain} chain is not priced",
                1,
                b.gear.price_money.amount,
                b.gear.mass_kg.amount,
            )
        )
    return tuple(rows)
