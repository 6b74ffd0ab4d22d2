"""assess(build): all nine bolts, their states, and the headline."""

from __future__ import annotations

import traceback
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from threading import RLock
from typing import Any, Literal

from ninebolt.core.bike.facts import EMPTY_SHELF, Bike, Memory, Shelf, fact
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bolts.common import Result, nothing
from ninebolt.core.bolts.donor import bolt as donor
from ninebolt.core.bolts.donor.bolt import DonorDrawing
from ninebolt.core.bolts.drive import bolt as drive
from ninebolt.core.bolts.drive.bolt import DriveDrawing
from ninebolt.core.bolts.gear import bolt as gear
from ninebolt.core.bolts.gear.bolt import GearDrawing
from ninebolt.core.bolts.goal import bolt as goal
from ninebolt.core.bolts.goal.bolt import GoalDrawing
from ninebolt.core.bolts.guard import bolt as guard
from ninebolt.core.bolts.guard.drawing import GuardDrawing
from ninebolt.core.bolts.pack import bolt as pack
from ninebolt.core.bolts.pack.bolt import PackDrawing
from ninebolt.core.bolts.prove import bolt as prove
from ninebolt.core.bolts.prove.bolt import ProveDrawing
from ninebolt.core.bolts.tune import bolt as tune
from ninebolt.core.bolts.tune.bolt import TuneDrawing
from ninebolt.core.bolts.wire import bolt as wire
from ninebolt.core.bolts.wire.bolt import WireDrawing
from ninebolt.core.build import BOLTS, Build, Mark
from ninebolt.core.finding import COMPUTED, Figure, Finding
from ninebolt.core.logs.ride import RideReport
from ninebolt.core.parts.goal import ride_speed
from ninebolt.core.simulate.headline import Headline
from ninebolt.core.trace import read_leaves, recorded

State = Literal["loose", "snug", "marked", "broken", "stopped", "failed"]

ASSESSORS: dict[str, Callable[[Bike], Result]] = {
    "donor": fact(donor.assess),
    "goal": fact(goal.assess),
    "pack": fact(pack.assess),
    "guard": fact(guard.assess),
    "drive": fact(drive.assess),
    "gear": fact(gear.assess),
    "wire": fact(wire.assess),
    "tune": fact(tune.assess),
    "prove": fact(prove.assess),
}


@dataclass(frozen=True, slots=True)
class Moved:
    """An input that changed since the bolt was signed off."""

    path: str
    then: Any
    now: Any


@dataclass(frozen=True, slots=True)
class BoltReport:
    """One bolt. moved: what broke the mark."""

    bolt: str
    state: State
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]
    missing: tuple[str, ...]
    moved: tuple[Moved, ...]
    signed_at: str


@dataclass(frozen=True, slots=True)
class Drawings:
    """What each workbench draws; None while the bolt is loose."""

    donor: DonorDrawing | None
    goal: GoalDrawing | None
    pack: PackDrawing | None
    guard: GuardDrawing | None
    drive: DriveDrawing | None
    gear: GearDrawing | None
    wire: WireDrawing | None
    tune: TuneDrawing | None
    prove: ProveDrawing | None


class Drawn(Drawings):
    """The drawings of one assessment, each made when it is first looked at; None where a drawing cannot
    be made, whose error is kept in broken."""

    __slots__ = ("_bike", "_draws", "_lock", "_made", "broken")

    def __init__(self, bike: Bike, draws: dict[str, Callable[[Bike], Any]]) -> None:
        made: dict[str, Any] = {}
        broken: dict[str, Finding] = {}
        for name, value in (
            ("_bike", bike), ("_draws", draws), ("_lock", RLock()), ("_made", made), ("broken", broken),
        ):  # fmt: skip
            object.__setattr__(self, name, value)

    def __getattr__(self, bolt: str) -> Any:
        """What is not set yet is made."""
        if bolt not in ASSESSORS:
            raise AttributeError(bolt)
        with self._lock:
            if bolt not in self._made:
                try:
                    self._made[bolt] = self._draws[bolt](self._bike)
                except Exception as error:  # noqa: BLE001 – a drawing must not hide the garage
                    self._made[bolt] = None
                    self.broken[bolt] = _broke(bolt, error)
            return self._made[bolt]


@dataclass(frozen=True, slots=True)
class Assessment:
    """Everything the application says about a build."""

    headline: Headline
    bolts: tuple[BoltReport, ...]
    drawings: Drawings

    def bolt(self, name: str) -> BoltReport:
        return next(b for b in self.bolts if b.bolt == name)

    def seen(self, bolts: Sequence[str]) -> Assessment:
        """With the drawings of these bolts made and the others None; a bolt that cannot be drawn has failed."""
        drawings = Drawings(**{b: getattr(self.drawings, b) if b in bolts else None for b in BOLTS})
        broken = self.drawings.broken if isinstance(self.drawings, Drawn) else {}
        reports = tuple(
            replace(b, state="failed", findings=(broken[b.bolt],)) if b.bolt in broken else b
            for b in self.bolts
        )
        return Assessment(self.headline, reports, drawings)

    @property
    def stops(self) -> tuple[Finding, ...]:
        return tuple(f for b in self.bolts for f in b.findings if f.severity == "stop")


def _mark(build: Build, bolt: str) -> Mark | None:
    return next((m for m in build.marks if m.bolt == bolt), None)


def moved_since(build: Build, mark: Mark) -> tuple[Moved, ...]:
    """Inputs recorded in the mark that read differently now."""
    sections = {path.partition(".")[0] for path in mark.inputs or {}}
    found = [_moved_in(Same(mark), Same(getattr(build, s, None)), s) for s in sorted(sections)]
    return tuple(m for rows in found for m in rows)


class Same:
    """A thing that is looked up by being the very same object: pieces of a build that were not
    changed are shared between looks."""

    __slots__ = ("it",)

    def __init__(self, it: Any) -> None:
        self.it = it

    def __hash__(self) -> int:
        return id(self.it)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Same) and other.it is self.it


@lru_cache(maxsize=512)
def _moved_in(mark: Same, section: Same, name: str) -> tuple[Moved, ...]:
    then: dict[str, Any] = {
        p: v for p, v in (mark.it.inputs or {}).items() if p.partition(".")[0] == name
    }
    now = read_leaves(section.it, name, list(then))
    return tuple(Moved(p, then[p], now[p]) for p in sorted(then) if then[p] != now[p])


def _state(result: Result, mark: Mark | None, moved: tuple[Moved, ...]) -> State:
    if any(f.severity == "stop" for f in result.findings):
        return "stopped"
    if mark is not None:
        return "broken" if moved else "marked"
    return "loose" if result.missing else "snug"


def inputs_of(
    build: Build, bolt: str, ride: RideReport | None = None, shelf: Shelf = EMPTY_SHELF
) -> dict[str, Any]:
    """Exactly the inputs that the bolt's computation reads."""
    bike = Bike(build, ride, shelf)
    with bike.trace.frame() as leaves:
        ASSESSORS[bolt](bike).draw(bike)
    return recorded(leaves)


def assess(
    build: Build,
    ride: RideReport | None = None,
    shelf: Shelf = EMPTY_SHELF,
    memory: Memory | None = None,
    today: str = "",
) -> Assessment:
    """Assess all nine bolts. ride: the log chosen in build.prove, already analysed. shelf: parts that
    may be proposed by name. memory: facts of earlier looks. today: year-month-day, '' where none is said."""
    bike = Bike(build, ride, shelf, memory, today)
    reports: list[BoltReport] = []
    draws: dict[str, Callable[[Bike], Any]] = {}
    for bolt in BOLTS:
        result, failed = _looked_at(bolt, bike)
        draws[bolt] = result.draw
        reports.append(_failed(bolt, result) if failed else _report(build, bolt, result))
    perf = None if any(r.state == "failed" for r in reports) else performance_of(bike)
    headline = (
        perf.headline
        if perf
        else Headline(
            mass_kg=donor_mass(reports),
            to_speed_m_s=build.goal.to_speed_m_s.taken,
            cruise_m_s=ride_speed(build.goal),
        )
    )
    return Assessment(headline, tuple(reports), Drawn(bike, draws))


def _looked_at(bolt: str, bike: Bike) -> tuple[Result, bool]:
    """The bolt's result, and whether its computation broke down; then its one finding says so and the
    other bolts go on."""
    try:
        return ASSESSORS[bolt](bike), False
    except Exception as error:  # noqa: BLE001 – whatever it is, it must not hide the garage
        return Result((), (_broke(bolt, error),), (), nothing), True


def _broke(bolt: str, error: Exception) -> Finding:
    where = traceback.extract_tb(error.__traceback__)[-1]
    return Finding(
        f"{bolt}.failed",
        bolt,
        "stop",
        "This bolt could not be computed",
        f"{type(error).__name__}: {str(error)[:120]} (in {where.name}). A number here is far from any "
        "bike's, or the program is wrong; the last changes can be undone.",
        COMPUTED,
        measured=0.0,
        limit=1.0,
    )


def _failed(bolt: str, result: Result) -> BoltReport:
    return BoltReport(bolt, "failed", (), result.findings, (), (), "")


def _report(build: Build, bolt: str, result: Result) -> BoltReport:
    mark = _mark(build, bolt)
    moved = moved_since(build, mark) if mark else ()
    return BoltReport(
        bolt,
        _state(result, mark, moved),
        result.figures,
        result.findings,
        result.missing,
        moved,
        mark.signed_at if mark else "",
    )


def donor_mass(reports: list[BoltReport]) -> float | None:
    """Bike mass from the donor's figures, which need no motor."""
    return next((f.value for f in reports[0].figures if f.key == "bike_mass"), None)
