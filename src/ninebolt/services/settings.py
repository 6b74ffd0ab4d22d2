"""Sets of settings beside each other, with what each difference does; the history of a controller; swapping packs."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ninebolt.core.bike.gearing import gear_ratio, wheel_radius_m
from ninebolt.core.bolts.tune.profiles import (
    PackVerdict,
    Swap,
    Window,
    belongs,
    build_for,
    swap,
    windows_of,
)
from ninebolt.core.bolts.tune.worn import worn
from ninebolt.core.build import Build
from ninebolt.core.setting.display import DisplayError, by_measure, by_settings
from ninebolt.core.setting.firmware import Item, Plan, checklist
from ninebolt.core.setting.objects import Scalar, spelled
from ninebolt.core.setting.sets import (
    OUR_PROFILE,
    Difference,
    ParamSet,
    Profile,
    differences,
    fingerprint,
    foreign,
    unfit,
)
from ninebolt.errors import InputError, NineBoltError
from ninebolt.formats.dcf import read_set
from ninebolt.formats.set_table import is_table, read_table
from ninebolt.link.guarded import read_all
from ninebolt.services import workshop
from ninebolt.services.connection import Connection
from ninebolt.services.controllers import of_file, profile
from ninebolt.services.effects import Effect, between, effect
from ninebolt.services.house import House
from ninebolt.services.judged import SetVerdict, judged, meant, must_be_known, of_profile
from ninebolt.services.tunes import recommended_set
from ninebolt.store.controllers import ReadingRow, WritingRow, list_readings, list_writings
from ninebolt.store.database import session
from ninebolt.store.rides import list_logs

KINDS = ("set", "controller", "reading", "file")


@dataclass(frozen=True, slots=True)
class Source:
    """Where a set comes from. kind: set (the build's, or of its profile `name`), controller (what it holds now),
    reading (kept, by id in `name`), file (its `text`, called `name`)."""

    kind: str
    name: str = ""
    text: str = ""


@dataclass(frozen=True, slots=True)
class DifferenceRow:
    """One difference: in words, in numbers, and what it does."""

    at: str
    name: str
    label: str
    quantity: str
    first: Scalar | None
    second: Scalar | None
    power: bool
    sentence: str
    effect: Effect


@dataclass(frozen=True, slots=True)
class SetComparison:
    """Two sets. belongs: why the second does not belong into the device of the first, '' where it does; may: whether
    a person may override that. kept: objects of a file that this controller does not have. stops: what must be known
    before the second is written. firsts, seconds: what each would bring into the build, were it in force. all: what
    all differences do together. seen: the fingerprint of what writing the second over the first would change."""

    first: str
    second: str
    rows: tuple[DifferenceRow, ...]
    same: int
    belongs: str
    may: bool
    kept: tuple[str, ...]
    stops: tuple[str, ...]
    firsts: SetVerdict
    seconds: SetVerdict
    all: Effect
    seen: str


@dataclass(frozen=True, slots=True)
class HistoryItem:
    """A read or a write, newest first. runs: logs that came in while these settings were in force."""

    id: str
    kind: str
    at: str
    why: str
    state: str
    serial: int
    count: int
    sentences: tuple[str, ...]
    runs: tuple[str, ...]
    best_s: float | None


@dataclass(frozen=True, slots=True)
class SwapPlan:
    """Changing packs or purpose: what differs, the steps in order, whether the pack that is read fits."""

    before: str
    after: str
    rows: tuple[Swap, ...]
    steps: tuple[str, ...]
    verdict: PackVerdict | None
    windows: tuple[Window, ...]


def set_from(
    house: House,
    link: Connection,
    build_id: str,
    source: Source,
    kind: Profile,
    anyway: bool = True,
) -> ParamSet:
    """The set that a source stands for. Raises InputError for another kind, else as the source does."""
    build = workshop.shown_build(house, build_id)
    if source.kind == "set":
        return recommended_set(build, source.name, anyway, kind)
    if source.kind == "controller":
        port, here, device = link.there()
        return ParamSet("the controller", read_all(port, here).values, device)
    if source.kind == "reading":
        return link.backup(build_id, source.name)
    if source.kind == "file":
        return file_set(source.text.encode(), source.name or "set.dcf", kind)
    raise InputError(
        "There is no such kind of set.",
        where="kind",
        got=source.kind[:30],
        expected=", ".join(KINDS),
    )


def to_write(
    house: House, link: Connection, build_id: str, source: Source, kind: Profile, anyway: bool
) -> ParamSet:
    """The set that is about to be written. Raises as set_from, and ConflictError where it would bring a stop into the
    build and nobody said that this is known, or where it is made of a bike that is only tried."""
    if source.kind == "set":
        workshop.only_kept(
            house,
            build_id,
            "Keep it or drop it, then write: a set must suit the parts that are fitted.",
        )
    want = set_from(house, link, build_id, source, kind, anyway)
    if source.kind != "set" and not anyway and not unfit(kind, want):
        must_be_known(workshop.kept_build(house, build_id), kind, want)
    return want


def file_set(data: bytes, name: str, kind: Profile = OUR_PROFILE) -> ParamSet:
    """A DCF, CSV or JSON as a set. Raises FormatError."""
    if is_table(data, name):
        return read_table(data, name, kind)
    return read_set(data, name, kind)


def compare(
    house: House, link: Connection, build_id: str, first: Source, second: Source
) -> SetComparison:
    """Both sets in words and numbers. Raises as their sources do."""
    kind = _kind_for(house, link, first, second)
    a, b = (set_from(house, link, build_id, s, kind) for s in (first, second))
    build = workshop.shown_build(house, build_id)
    other = link.other_bike(build_id) if first.kind == "controller" else ""
    return comparison(build, kind, a, b, other)


def _kind_for(house: House, link: Connection, *sources: Source) -> Profile:
    """The connected controller's kind where it takes part, else the one that a file is for."""
    if any(s.kind == "controller" for s in sources):
        return link.there()[1]
    files = (of_file(house, s.text.encode(), s.name) for s in sources if s.kind == "file")
    return next((k for k in files if k is not OUR_PROFILE), OUR_PROFILE)


def file_beside(
    house: House, build_id: str, data: bytes, name: str, controller: str = ""
) -> SetComparison:
    """A file's set beside the build's. controller: of which kind, '' as the file says. Raises FormatError,
    NotFoundError."""
    kind = profile(house, controller) if controller else of_file(house, data, name)
    build = workshop.shown_build(house, build_id)
    own = recommended_set(build, "", True, kind)
    return comparison(build, kind, own, file_set(data, name, kind))


def comparison(
    build: Build, kind: Profile, a: ParamSet, b: ParamSet, last: str = ""
) -> SetComparison:
    """Two sets, on a build that says what each difference does. last: the bike that the device of the first was
    written for last, where it is another."""
    both = set(a.values) & set(b.values)
    shared = {
        at
        for at in both
        if kind.dictionary.objects.get(at) and kind.dictionary.objects[at].writable
    }
    inside = (
        replace(a, values={at: a.values[at] for at in shared}),
        replace(b, values={at: b.values[at] for at in shared}),
    )
    found = differences(kind, *inside)
    why, may = foreign(b.identity, a.identity, last) if a.identity and b.identity else ("", True)
    firsts, seconds = (judged(of_profile(build, s), meant(kind, s)) for s in (a, b))
    base, other = (worn(of_profile(build, s), meant(kind, s)) for s in inside)
    rows = tuple(_row(base, d) for d in found)
    return SetComparison(
        a.name, b.name, rows, len(shared) - len(found), why, may, tuple((*a.kept, *b.kept)),
        tuple(dict.fromkeys((*b.stops, *seconds.stops))), firsts, seconds, between(base, other),
        fingerprint(inside[0].values, inside[1].values),
    )  # fmt: skip


def _row(build: Build, d: Difference) -> DifferenceRow:
    return DifferenceRow(
        spelled(d.at),
        d.name,
        d.label,
        d.quantity,
        d.first,
        d.second,
        d.power,
        d.sentence,
        effect(build, d),
    )


def plan_swap(
    house: House, build_id: str, before: str, after: str, volts: float | None
) -> SwapPlan:
    """Raises NotFoundError for a profile that is none."""
    build = workshop.shown_build(house, build_id)
    rows = tuple(swap(build, before, after))
    verdict = belongs(build, after, volts) if volts is not None else None
    pack = build_for(build, after).pack
    steps = [
        "Key off. Measure the pack that comes off, and the one that goes on, at their plugs.",
        "Discharge what the controller holds: under 5 V at its terminals before the plugs are touched.",
        "Connect the other pack through its precharge; key on, nothing turns.",
        f"Read the controller: it must show {_span(build, after)}.",
        f"Write what differs, {len(rows)} value{'' if len(rows) == 1 else 's'}, wheel free; read back.",
        *(["Key off and on: some act only after that."] if any(r.power for r in rows) else []),
        f"Display: {pack.series or '?'} cells in series; look that its charge gauge agrees with the meter.",
        "First pull at low throttle: the cut-off and the amps are those of this pack.",
    ]
    return SwapPlan(before, after, rows, tuple(steps), verdict, tuple(windows_of(build)))


def _span(build: Build, name: str) -> str:
    for w in windows_of(build):
        if w.name == (name or "the build"):
            return f"{w.low_v:.1f} to {w.high_v:.1f} V"
    return "the volts of this pack"


def twist(house: House, build_id: str) -> tuple[float, ...]:
    """Where in the throttle the rider of the chosen log was: share of the moving time in each tenth; () where no log
    holds a throttle."""
    report = house.ride_of(workshop.shown_build(house, build_id))
    return report.twist if report is not None else ()


def history(house: House, build_id: str) -> list[HistoryItem]:
    """Every read and write of a build's controllers, newest first, with the runs made in between."""
    with session(house.path) as db:
        reads, writes = list_readings(db, build_id), list_writings(db, build_id)
        logs = list_logs(db, build_id)
    ends = sorted(w.ended_at for w in writes if w.state == "verified" and w.ended_at)
    out = [
        _of_write(house, build_id, w, ends, [(x.imported_at, x.id, x.name) for x in logs])
        for w in writes
    ]
    out += [_of_read(r) for r in reads if not r.why.startswith("before: ")]
    return sorted(out, key=lambda x: x.at, reverse=True)


def _of_read(r: ReadingRow) -> HistoryItem:
    return HistoryItem(r.id, "read", r.at, r.why, "", r.device.serial, len(r.values), (), (), None)


def _of_write(
    house: House, build_id: str, w: WritingRow, ends: list[str], logs: list[tuple[str, str, str]]
) -> HistoryItem:
    try:
        kind = profile(house, w.profile)
    except NineBoltError:
        kind = OUR_PROFILE
    a = ParamSet("", {at: old for at, old, _, _ in w.steps})
    b = ParamSet("", {at: new for at, _, new, _ in w.steps})
    words = tuple(d.sentence for d in differences(kind, a, b))
    runs: list[tuple[str, str]] = []
    if w.state == "verified" and w.ended_at:
        until = next((e for e in ends if e > w.ended_at), "9999")
        runs = [(i, n) for at, i, n in logs if w.ended_at <= at < until]
    times = [t for t in (_time_of(house, build_id, i) for i, _ in runs) if t is not None]
    return HistoryItem(
        w.id, "write", w.at, w.why, w.state, w.device.serial, len(w.steps), words, tuple(n for _, n in runs),
        min(times) if times else None,
    )  # fmt: skip


def _time_of(house: House, build_id: str, log_id: str) -> float | None:
    """Time to the chosen speed in a log, None where it was not reached."""
    build = workshop.shown_build(house, build_id)
    report = house.ride_of(replace(build, prove=replace(build.prove, log_id=log_id)))
    mark = build.goal.to_speed_m_s.taken
    if report is None:
        return None
    return next(
        (
            s.split.time_s
            for s in report.splits
            if s.split.kind == "speed" and abs(s.split.mark - mark) < 0.05
        ),
        None,
    )


def firmware(house: House, link: Connection, build_id: str, p: Plan) -> tuple[Item, ...]:
    """The list, with the version and hardware that answer and whether a reading of this controller is kept."""
    device = link.state().device
    build = workshop.shown_build(house, build_id)
    kept = False
    if device is not None:
        with session(house.path) as db:
            kept = any(
                (r.device.kind, r.device.serial) == (device.kind, device.serial)
                for r in list_readings(db, build_id)
            )
    return checklist(
        replace(
            p, here=device.firmware if device else "", hardware=device.hardware if device else "", backup=kept,
            low_v=build.drive.controller.v_min_v.amount or build.drive.controller.lvc_v.amount,
        )
    )  # fmt: skip


def display(
    build: Build, wheel_m: float | None, ratio: float | None, pole_pairs: float | None,
    shown_m_s: float | None, true_m_s: float | None,
) -> DisplayError:  # fmt: skip
    """Raises InputError while the bike's own wheel, ratio or pole pairs are not known and no speed was measured."""
    radius, own, poles = wheel_radius_m(build), gear_ratio(build), build.drive.motor.pole_pairs
    true_wheel = 2.0 * math.pi * radius
    if shown_m_s is not None and true_m_s is not None:
        return by_measure(
            shown_m_s, true_m_s, wheel_m or (None if math.isnan(true_wheel) else true_wheel)
        )
    if math.isnan(true_wheel) or math.isnan(own) or poles is None:
        raise InputError(
            "What the bike's wheel, ratio and pole pairs are is not known.", where="gear",
            todo="Give tyre, sprockets and pole pairs; or a speed that it showed beside one that was measured.",
        )  # fmt: skip
    held = (
        true_wheel if wheel_m is None else wheel_m,
        own if ratio is None else ratio,
        poles if pole_pairs is None else pole_pairs,
    )
    return by_settings(*held, true_wheel, own, poles)
