"""What may be changed in a build: settings, sprockets, cells that still go in, and parts within reach. Each
candidate is a set of changes with what it costs."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Hashable, Iterator
from dataclasses import dataclass
from typing import Any, cast

from ninebolt.core.bike.cells import cell_full_v
from ninebolt.core.bike.chain import advice
from ninebolt.core.bike.facts import Bike, Shelf
from ninebolt.core.bike.layout import fitted
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.drive.limits import CEILING_SHARE
from ninebolt.core.bolts.gear.ladder import ladder
from ninebolt.core.build import Build
from ninebolt.core.codec import decode, encode, fields_of
from ninebolt.core.finding import CAP_OFF, Change
from ninebolt.core.parts.base import Part
from ninebolt.core.parts.cell import Cell
from ninebolt.core.parts.drive import Controller, Motor
from ninebolt.core.parts.guard import Bms, Fuse, Isolator, Plug
from ninebolt.core.parts.pack import Pack
from ninebolt.core.parts.rolling import Sprocket
from ninebolt.services.another_part import READ_OF_CELLS

SAME_VOLTS = 1.02  # full volts of other cells over today's, at most
STEPS = (0.10, 0.25)  # by how much a setting is raised


@dataclass(frozen=True, slots=True)
class Candidate:
    """One single change. kind: what sort it is of, for telling pairs and for naming what does nothing. money:
    its price, None where it is not known; a setting costs 0."""

    label: str
    kind: str
    changes: tuple[Change, ...]
    money: float | None


def candidates(build: Build, shelf: Shelf) -> list[Candidate]:
    """All single changes that this build allows by itself; their effect is not looked at yet."""
    bike = Bike(build, None, shelf)
    makers: tuple[Callable[[Build, Bike], Iterator[Candidate]], ...] = (
        _settings, _sprockets, _cells, _other_cells, _controllers, _motors, _bms, _path,
    )  # fmt: skip
    return [c for make in makers for c in make(build, bike)]


def _set(path: str, amount: float) -> Change:
    return Change(path, {"amount": float(f"{amount:.4g}"), "origin": "guess", "tolerance": 0.0})


def _settings(build: Build, bike: Bike) -> Iterator[Candidate]:
    c = build.drive.controller
    told = advice(bike)
    line = c.line_a.amount or c.line_max_a.amount
    if line is not None:
        most = c.line_max_a.or_else(math.inf)
        for to in sorted({round(line * (1 + s)) for s in STEPS} | ({told.amps} if told else set())):
            if to <= most and abs(to - line) >= 1:
                yield Candidate(
                    f"Line amps {line:.0f} → {to:.0f} A", "line setting",
                    (_set("drive.controller.line_a", to),), 0.0,
                )  # fmt: skip
    phase = c.phase_a.amount or c.phase_max_a.amount
    if phase is not None:
        most = min(c.phase_max_a.or_else(math.inf), build.drive.motor.phase_max_a.or_else(math.inf))
        for to in {min(round(phase * (1 + s)), math.floor(min(most, 1e6))) for s in STEPS}:
            if to > phase + 1:
                yield Candidate(
                    f"Phase amps {phase:.0f} → {to:.0f} A", "phase setting",
                    (_set("drive.controller.phase_a", to),), 0.0,
                )  # fmt: skip
        weak = c.fw_id_a.taken
        for share in (0.1, 0.2):
            yield Candidate(
                f"Field weakening {weak:.0f} → {weak + share * phase:.0f} A", "weakening",
                (_set("drive.controller.fw_id_a", weak + share * phase),), 0.0,
            )  # fmt: skip
    if build.tune.cap_m_s.known:
        yield Candidate(CAP_OFF.label, "cap", CAP_OFF.changes, 0.0)
    if c.ramp_s.taken > 0.1:
        yield Candidate(
            f"Throttle ramp {c.ramp_s.taken:g} → {c.ramp_s.taken / 2:g} s", "ramp",
            (_set("drive.controller.ramp_s", c.ramp_s.taken / 2),), 0.0,
        )  # fmt: skip


def _sprockets(build: Build, bike: Bike) -> Iterator[Candidate]:
    for r in ladder(bike):
        if r.front and not r.current and not r.why:
            yield Candidate(
                f"Sprockets {build.gear.front_teeth}/{build.gear.rear_teeth} → {r.front}/{r.rear}",
                "sprockets",
                (Change("gear.front_teeth", r.front), Change("gear.rear_teeth", r.rear)),
                _pair_money(build, bike, r.front, r.rear),
            )


def _pair_money(build: Build, bike: Bike, front: int, rear: int) -> float | None:
    """What the sprockets of a pair that are not on yet cost; None where one of them is not on the shelf."""
    gear, out = build.gear, 0.0
    for place, teeth, on in (("front", front, gear.front_teeth), ("rear", rear, gear.rear_teeth)):
        if teeth == on:
            continue
        prices = [
            p.price_money.taken
            for p in bike.shelf.of("sprocket", Sprocket)
            if (p.place, p.teeth, p.chain) == (place, teeth, gear.chain) and p.price_money.known
        ]
        if not prices:
            return None
        out += min(prices)
    return out


def _cells(build: Build, bike: Bike) -> Iterator[Candidate]:
    """More in parallel as the bay allows, and the next step in series."""
    p, cell = build.pack, build.pack.cell
    if p.series is None or p.parallel is None:
        return
    each = cell.price_money.amount
    fits = fitted(bike)
    most = {o.series: o.parallel for o in fits.options} if fits else {}
    for to in sorted({p.parallel + cell.body_parallel, most.get(p.series, 0)}):
        if p.parallel < to <= most.get(p.series, 10**6):
            more = p.series * (to - p.parallel) / (cell.body_series * cell.body_parallel)
            yield Candidate(
                f"{p.parallel} → {to} cells in parallel", "cells in parallel",
                (Change("pack.parallel", to),), None if each is None else each * more,
            )  # fmt: skip
    up = p.series + cell.body_series
    more = cell.body_series * p.parallel / (cell.body_series * cell.body_parallel)
    yield Candidate(
        f"{p.series} → {up} cells in series", "cells in series", (Change("pack.series", up),),
        None if each is None else each * more,
    )  # fmt: skip


# What was measured or put down of the pack that goes out.
GONE: dict[str, Any] = {
    **READ_OF_CELLS, "interconnect_ohm": None, "cells_at_hand": None, "placed": [], "pitch_m": None,
}  # fmt: skip


def _other_cells(build: Build, bike: Bike) -> Iterator[Candidate]:
    """Other cells, modules or packs of the same volts: as many as hold what today's do, and as many as go in."""
    p, facts = build.pack, pack_facts(bike)
    if facts is None or not p.series or not p.parallel or not p.cell.capacity_ah.known:
        return
    ah = p.parallel * p.cell.capacity_ah.taken
    for cell in bike.shelf.of("cell", Cell):
        known = cell.capacity_ah.known and cell.r0_ohm.known
        if cell.name == p.cell.name or not known or cell.capacity_ah.origin == "guess":
            continue  # what nobody has tested is not bought on a promise
        if math.isnan(cell_full_v(cell)):
            continue
        steps = int(SAME_VOLTS * facts.full_v / (cell_full_v(cell) * cell.body_series))
        series = steps * cell.body_series
        if series * cell_full_v(cell) < facts.full_v / SAME_VOLTS / SAME_VOLTS:
            continue
        pieces = {
            "cell": swapped(p.cell, cell), "series": series,
            "source": "ready_made" if cell.form == "ready_made" else "new_cells", **GONE,
        }  # fmt: skip
        same = math.ceil(ah / (cell.capacity_ah.taken * cell.body_parallel)) * cell.body_parallel
        most = _most(build, pieces, cell.body_parallel, same)
        for parallel in sorted({min(same, most), most} - {0}):
            each = cell.price_money.amount
            count = series * parallel / (cell.body_series * cell.body_parallel)
            yield Candidate(
                f"Cells: {cell.name}, {series}s{parallel}p", "other cells",
                tuple(Change(f"pack.{k}", v) for k, v in {**pieces, "parallel": parallel}.items()),
                None if each is None else each * count,
            )  # fmt: skip


def _most(build: Build, pieces: dict[str, Any], least: int, without: int) -> int:
    """The most in parallel of other cells that go into the bay beside what else is in it; without a bay, what
    is asked."""
    doc = {**encode(build.pack), **pieces, "parallel": least}
    made = dataclasses.replace(build, pack=decode(Pack, doc))
    fits = fitted(Bike(made))
    if fits is None:
        return without
    return next((o.parallel for o in fits.options if o.series == made.pack.series), 0)


def swapped(old: Part, new: Part) -> dict[str, Any]:
    """The new part's document with what this build chose for the old one."""
    own = {
        name: encode(getattr(old, name))
        for name, (spec, _) in fields_of(cast(Hashable, type(new))).items()
        if spec is not None and spec.own
    }
    return {**encode(new), **own}


def _controllers(build: Build, bike: Bike) -> Iterator[Candidate]:
    """Those that stand this pack, set to what they may and the motor and the chain allow."""
    facts, old, m = pack_facts(bike), build.drive.controller, build.drive.motor
    if facts is None:
        return
    told = advice(
        Bike(
            dataclasses.replace(
                build, drive=dataclasses.replace(build.drive, controller=Controller())
            )
        )
    )
    for part in bike.shelf.of("controller", Controller):
        top, line, phase = part.v_max_v.amount, part.line_max_a.amount, part.phase_max_a.amount
        if top is None or line is None or phase is None or facts.full_v > CEILING_SHARE * top:
            continue
        if part.v_min_v.or_else(0.0) > facts.nominal_v or part.name == old.name:
            continue
        doc = swapped(old, part)
        doc["line_a"] = _set("", min(line, told.amps if told else line)).value
        doc["phase_a"] = _set("", min(phase, m.phase_max_a.or_else(phase))).value
        yield Candidate(
            f"Controller: {part.name}", "controller", (Change("drive.controller", doc),),
            part.price_money.amount,
        )  # fmt: skip


def _motors(build: Build, bike: Bike) -> Iterator[Candidate]:
    """Those of the same kind, that this controller turns; phase amps held to what both stand."""
    old, c = build.drive.motor, build.drive.controller
    for part in bike.shelf.of("motor", Motor):
        if part.kind != old.kind or part.name == old.name or not part.kv_rpm_v.known:
            continue
        changes = [Change("drive.motor", swapped(old, part))]
        most = min(c.phase_max_a.or_else(math.inf), part.phase_max_a.or_else(math.inf))
        if math.isfinite(most):
            changes.append(_set("drive.controller.phase_a", most))
        yield Candidate(f"Motor: {part.name}", "motor", tuple(changes), part.price_money.amount)


def _bms(build: Build, bike: Bike) -> Iterator[Candidate]:
    for part in bike.shelf.of("bms", Bms):
        if part.series == build.pack.series and part.name != build.guard.bms.name:
            doc = {**swapped(build.guard.bms, part), "presence": "fitted"}
            yield Candidate(
                f"BMS: {part.name}", "BMS", (Change("guard.bms", doc),), part.price_money.amount
            )


def _path(build: Build, bike: Bike) -> Iterator[Candidate]:
    """Fuse, plug and isolator that break this pack's volts."""
    facts, g = pack_facts(bike), build.guard
    if facts is None:
        return
    rows: tuple[tuple[str, str, Fuse | Plug | Isolator, type[Fuse | Plug | Isolator]], ...] = (
        ("fuse", "guard.fuse", g.fuse, Fuse),
        ("plug", "guard.plug", g.plug, Plug),
        ("isolator", "guard.isolator", g.isolator, Isolator),
    )
    for kind, path, old, cls in rows:
        for part in bike.shelf.of(kind, cls):
            other = part.name != old.name or old.there is False
            if other and part.dc_v.or_else(0.0) >= facts.full_v:
                if isinstance(part, Isolator) and part.kind != g.isolator.kind:
                    continue
                doc = {**swapped(old, part), "presence": "fitted"}
                yield Candidate(
                    f"{kind.capitalize()}: {part.name}",
                    kind,
                    (Change(path, doc),),
                    part.price_money.amount,
                )
