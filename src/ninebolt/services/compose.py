"""A whole drive from parts: cells, motor, controller and sprockets chosen, all that stands between sized to them."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import TypeVar

from ninebolt.core.bike.cells import cell_empty_v, cell_full_v, cell_nominal_v, facts_of
from ninebolt.core.bike.chain import BMS_SHARE, FUSE_SHARE
from ninebolt.core.bike.facts import Shelf
from ninebolt.core.bike.layout import options_of
from ninebolt.core.bike.path import cable_cont_a
from ninebolt.core.bike.shape import body_of, spaces_of
from ninebolt.core.bolts.drive.limits import CEILING_SHARE
from ninebolt.core.build import Build, Drive, Prove, Wire
from ninebolt.core.finding import listed
from ninebolt.core.match.layout import reach
from ninebolt.core.parts.base import Part
from ninebolt.core.parts.cell import Cell
from ninebolt.core.parts.donor import Donor
from ninebolt.core.parts.drive import Controller, Motor
from ninebolt.core.parts.guard import (
    Bms,
    Cable,
    Charger,
    Dcdc,
    Fuse,
    Guard,
    Isolator,
    Plug,
    Precharge,
)
from ninebolt.core.parts.pack import Pack
from ninebolt.core.parts.rolling import Chain, Gear, Road, Sprocket
from ninebolt.core.value import Value
from ninebolt.core.vehicle.chain import PITCH_M, exact_links

HEAVY_W = 8000.0  # from this label on a 520 chain, below a 420
CHAIN_LINKS = 110  # of a light bike whose run is not measured; common practice, no source
PAIRS = tuple((f, r) for f in (12, 13, 14) for r in (40, 44, 48, 52, 56, 60))
NO_GEAR, DONOR, ROAD = (
    Gear(),
    Donor(),
    Road(),
)  # their fields as they are while nobody has given them
CASE_KG = 2.5  # of a built pack's case. Common practice, no source.
P = TypeVar("P", bound=Part)


@dataclass(frozen=True, slots=True)
class Choice:
    """One combination. pair: sprockets, None for a hub; contactor: else a breaker."""

    series: int
    cell: int
    parallel: int
    motor: int
    controller: int
    pair: tuple[int, int] | None


@dataclass(frozen=True, slots=True)
class Room:
    """What a search chooses from, worked out once: most_parallel by (cell, series); 0 does not go in."""

    base: Build
    shelf: Shelf
    cells: tuple[Cell, ...]
    motors: tuple[Motor, ...]
    controllers: tuple[Controller, ...]
    most_parallel: dict[tuple[int, int], int]
    pairs: tuple[tuple[int, int], ...] = PAIRS
    sprockets: dict[tuple[str, int, int], Value] = field(default_factory=dict)
    guards: dict[tuple[int, float, int], Guard | None] = field(default_factory=dict)


# What BMSes and chargers of the counts in question are made for.
WEIGHED = ("nickel_rich", "manganese_blend")


Weighed = Cell | Motor | Controller | Bms | Fuse | Plug | Isolator


def _blanks(part: Weighed) -> str:
    """What it lacks to be weighed, in words."""
    needs: dict[str, bool]
    if isinstance(part, Cell):
        needs = {"capacity": part.capacity_ah.known, "resistance": part.r0_ohm.known,
                 "empty volts": not math.isnan(cell_empty_v(part))}  # fmt: skip
    elif isinstance(part, Motor):
        needs = {"KV": part.kv_rpm_v.known, "phase resistance": part.r_phase_ohm.known,
                 "phase inductance": part.l_phase_henry.known, "pole pairs": bool(part.pole_pairs)}  # fmt: skip
    elif isinstance(part, Bms):
        needs = {"cells in series": bool(part.series), "continuous current": part.i_cont_a.known}
    elif isinstance(part, Fuse):
        needs = {"rating": part.rated_a.known, "DC voltage": part.dc_v.known}
    elif isinstance(part, Plug):
        needs = {"continuous current": part.i_cont_a.known, "DC voltage": part.dc_v.known}
    elif isinstance(part, Isolator):
        needs = {"continuous current": part.i_cont_a.known, "DC voltage": part.dc_v.known,
                 "breaking capacity": part.breaking_a.known, "breaking in either direction": part.both_ways is not None,
                 "kind of current": part.rated_for != "unknown"}  # fmt: skip
    else:
        needs = {"ceiling": part.v_max_v.known, "line amps": part.line_max_a.known,
                 "phase amps": part.phase_max_a.known}  # fmt: skip
    return ", ".join(words for words, known in needs.items() if not known)


def left_out(shelf: Shelf) -> tuple[str, ...]:
    """Parts of the shelf that no proposal can be made of, and why, in sentences."""
    cells = shelf.of("cell", Cell)
    others = [c.name for c in cells if c.chemistry not in WEIGHED]
    parts: tuple[Weighed, ...] = (
        *(c for c in cells if c.chemistry in WEIGHED),
        *shelf.of("motor", Motor),
        *shelf.of("controller", Controller),
        *shelf.of("bms", Bms),
        *shelf.of("fuse", Fuse),
        *shelf.of("plug", Plug),
        *(
            x
            for x in shelf.of("isolator", Isolator)
            if x.kind != "unplug" and x.rated_for != "AC only"
        ),
    )
    blank = [f"{p.name} ({_blanks(p)})" for p in parts if _blanks(p)]
    out = []
    if others:
        out.append(f"Not weighed, being of another chemistry: {listed(others, 3)}.")
    if blank:
        out.append(f"Not weighed, since this is not known of them: {listed(blank, 3)}.")
    return tuple(out)


def room_for(base: Build, shelf: Shelf, series: Sequence[int]) -> Room:
    """Cells that go into the bays of the base at these counts, motors and controllers that compute."""
    cells = tuple(c for c in shelf.of("cell", Cell) if c.chemistry in WEIGHED and not _blanks(c))
    motors = tuple(m for m in shelf.of("motor", Motor) if not _blanks(m))
    controllers = tuple(c for c in shelf.of("controller", Controller) if not _blanks(c))
    most = {}
    for i, cell in enumerate(cells):
        capacities = _capacities(base, cell)
        for s in series:
            most[i, s] = _most(base, cell, s, capacities)
    return Room(
        base,
        shelf,
        cells,
        motors,
        controllers,
        most,
        pairs_for(base),
        _sprocket_prices(shelf, base),
    )


def pairs_for(base: Build) -> tuple[tuple[int, int], ...]:
    """The sprocket pairs that clear frame and swing arm, as far as that was measured; never none."""
    run = base.gear.run
    front, rear = run.front_most or math.inf, run.rear_most or math.inf
    return tuple(p for p in PAIRS if p[0] <= front and p[1] <= rear) or PAIRS[:1]


def _capacities(base: Build, cell: Cell) -> list[int]:
    pack = dataclasses.replace(
        base.pack, cell=cell, series=cell.body_series, parallel=cell.body_parallel
    )
    body, rooms = body_of(pack), spaces_of(base)
    return list(reach(tuple(s for _, s in rooms), body)) if body is not None and rooms else []


def _most(base: Build, cell: Cell, series: int, capacities: list[int]) -> int:
    """The most in parallel at a series count; without a bay as much as 12 kWh come to."""
    if series % cell.body_series:
        return 0
    pack = Pack(cell=cell, series=series, parallel=cell.body_parallel)
    if not spaces_of(base):
        wh = series * cell_nominal_v(cell) * (cell.capacity_ah.amount or 1.0) * cell.body_parallel
        return max(1, int(12_000.0 / wh)) * cell.body_parallel
    made = dataclasses.replace(base, pack=pack)
    found = options_of(made, capacities, facts_of(pack))
    return next((o.parallel for o in found if o.series == series), 0)


def unbuilt(build: Build) -> Build:
    """The build without what was done, measured and set on the drive that it had: leads, steps, gates, the chosen log,
    values set by hand, the scale with that drive in it. What sits on the frame stays."""
    was = build.prove
    return dataclasses.replace(
        build,
        wire=Wire(interlocks=build.wire.interlocks),
        tune=dataclasses.replace(build.tune, chosen=(), profiles=()),
        prove=Prove(rollout=was.rollout, quarantine=was.quarantine, book=was.book),
        road=dataclasses.replace(build.road, total_kg=ROAD.total_kg),
        donor=dataclasses.replace(
            build.donor,
            front_scale_kg=DONOR.front_scale_kg,
            rear_scale_kg=DONOR.rear_scale_kg,
        ),
    )


def compose(room: Room, choice: Choice) -> Build | None:
    """The build of a choice; None where parts do not belong together."""
    cell, motor = room.cells[choice.cell], room.motors[choice.motor]
    controller = room.controllers[choice.controller]
    full = choice.series * cell_full_v(cell)
    if full > CEILING_SHARE * controller.v_max_v.taken or full * 0.8 < controller.v_min_v.or_else(
        0.0
    ):
        return None
    if choice.parallel < 1 or choice.parallel > room.most_parallel.get(
        (choice.cell, choice.series), 0
    ):
        return None
    empty = cell_empty_v(cell)
    bought = cell.form == "ready_made"
    pack = Pack(
        cell=cell,
        series=choice.series,
        parallel=choice.parallel,
        source="ready_made" if bought else "new_cells",
        case_kg=Value(0.0 if bought else CASE_KG, "guess"),
        bms_in_bay=room.base.pack.bms_in_bay,
        housing="plastic",
        vent=True,
    )
    cont = cell.i_cont_a.or_else(math.inf) * choice.parallel
    line = min(controller.line_max_a.taken, cont)
    guard = guard_for(room, choice.series, full, line)
    if guard is None:
        return None
    line = math.floor(
        min(line, guard.bms.i_cont_a.taken * BMS_SHARE, guard.fuse.rated_a.taken * FUSE_SHARE)
    )
    phase = min(controller.phase_max_a.taken, motor.phase_max_a.or_else(math.inf))
    drive = Drive(
        controller=dataclasses.replace(
            controller,
            line_a=Value(float(line), "guess", 0.0),
            phase_a=Value(float(math.floor(phase)), "guess", 0.0),
            lvc_v=Value(round(choice.series * empty, 1), "guess", 0.0),
            fw_id_a=Value(0.0, "guess", 0.0),
        ),
        motor=motor,
    )
    return dataclasses.replace(
        room.base, pack=pack, guard=guard, drive=drive, gear=_gear(room, motor, choice.pair)
    )


def _gear(room: Room, motor: Motor, pair: tuple[int, int] | None) -> Gear:
    gear = room.base.gear
    if pair is None:
        return dataclasses.replace(
            gear, front_teeth=None, rear_teeth=None, chain="none", ratio=NO_GEAR.ratio,
            efficiency=Value(1.0, "guess", 0.0), price_money=NO_GEAR.price_money, mass_kg=NO_GEAR.mass_kg,
            reduction=NO_GEAR.reduction,
        )  # fmt: skip
    chain = "520" if motor.label_w.or_else(0.0) >= HEAVY_W else "420"
    return dataclasses.replace(
        gear,
        front_teeth=pair[0],
        rear_teeth=pair[1],
        chain=chain,
        ratio=NO_GEAR.ratio,
        reduction=NO_GEAR.reduction,
        # What was written of a line of chain holds for another pair of it, what was of a hub does not.
        efficiency=gear.efficiency if gear.rear_teeth else NO_GEAR.efficiency,
        price_money=room.sprockets.get((chain, *pair), NO_GEAR.price_money),
    )


def _sprocket_prices(shelf: Shelf, base: Build) -> dict[tuple[str, int, int], Value]:
    """What a pair and its chain cost, by chain and teeth, where both sprockets are on the shelf with a price."""
    of = {
        (s.chain, s.place, s.teeth): s.price_money.amount
        for s in shelf.of("sprocket", Sprocket)
        if s.price_money.known
    }
    out = {}
    for chain in {chain for chain, _, _ in of}:
        for pair in PAIRS:
            front, rear = of.get((chain, "front", pair[0])), of.get((chain, "rear", pair[1]))
            if front is not None and rear is not None:
                sold = chain_for(shelf, base, chain, pair)
                more = sold.price_money.taken if sold else 0.0
                out[(chain, *pair)] = Value(front + rear + more, "guess")
    return out


def chain_for(shelf: Shelf, base: Build, size: str, pair: tuple[int, int]) -> Chain | None:
    """The cheapest chain of a size that goes round a pair, cut to its links; None where none on the shelf has a
    price."""
    centre, pitch = base.gear.run.centre_m.amount, PITCH_M[size]
    links = CHAIN_LINKS if centre is None else exact_links(pitch, *pair, centre)
    rows = [
        c
        for c in shelf.of("chain", Chain)
        if c.chain == size and (c.links or 0) >= links and c.price_money.known
    ]
    return min(rows, key=lambda c: c.price_money.taken, default=None)


def _guard(shelf: Shelf, series: int, full: float, line: int) -> Guard | None:
    bms = _least(
        shelf.of("bms", Bms),
        lambda b: b.i_cont_a.amount,
        line / BMS_SHARE,
        lambda b: b.series == series,
    )
    if bms is None:  # none is large enough: the largest holds the line amps down
        rows = [b for b in shelf.of("bms", Bms) if b.series == series and b.i_cont_a.known]
        bms = max(rows, key=lambda b: b.i_cont_a.taken, default=None)
    if bms is None:
        return None
    amps = min(line, bms.i_cont_a.taken * BMS_SHARE)
    way = _way(shelf, full, amps)
    if way is None:
        return None
    fuse, plug, isolator = way
    metre = Value(0.7, "guess", 0.3)
    cables = [
        dataclasses.replace(c, length_m=metre, presence="fitted") for c in shelf.of("cable", Cable)
    ]
    cable = _least(cables, cable_cont_a, fuse.rated_a.taken, lambda _: True) or max(
        cables, key=cable_cont_a
    )
    return Guard(
        bms=dataclasses.replace(bms, presence="fitted"),
        fuse=dataclasses.replace(fuse, presence="fitted"),
        plug=dataclasses.replace(plug, presence="fitted"),
        isolator=dataclasses.replace(
            isolator, presence="fitted", coil_feed="converter", key_first=True
        ),
        cable=cable,
        phase_cable=dataclasses.replace(cable, length_m=Value(0.4, "guess", 0.3)),
        precharge=_precharge(shelf, full),
        dcdc=_dcdc(shelf, full),
        charger=_charger(shelf, series, full),
    )


def breaks(isolator: Isolator, full: float, fuse: Fuse) -> bool:
    """It opens these volts, in either direction, and any current that the fuse lets flow for good."""
    return (
        isolator.dc_v.or_else(0.0) >= full
        and isolator.breaking_a.or_else(0.0) >= fuse.rated_a.taken
        and isolator.both_ways is True
    )


def _way(shelf: Shelf, full: float, amps: float) -> tuple[Fuse, Plug, Isolator] | None:
    """The smallest fuse for so many amps that a plug and a contactor of the shelf stand behind; where none is large
    enough the largest such, which then holds the line amps down."""
    ways = []
    for fuse in shelf.of("fuse", Fuse):
        if fuse.dc_v.or_else(0) < full or not fuse.rated_a.known:
            continue
        plug = _least(
            shelf.of("plug", Plug),
            lambda x: x.i_cont_a.amount,
            fuse.rated_a.taken,
            lambda x: x.dc_v.or_else(0) >= full and x.keyed is not False,
        )
        isolator = _least(
            [x for x in shelf.of("isolator", Isolator) if breaks(x, full, fuse)],
            lambda x: x.i_cont_a.amount,
            fuse.rated_a.taken,
            lambda x: x.kind == "contactor" and x.rated_for == "DC",
        )
        if plug is not None and isolator is not None:
            ways.append((fuse, plug, isolator))
    ways.sort(key=lambda w: (w[0].rated_a.taken, w[0].price_money.or_else(1e9)))
    enough = (w for w in ways if w[0].rated_a.taken * FUSE_SHARE >= amps)
    return next(enough, ways[-1] if ways else None)


def guard_for(room: Room, series: int, full: float, line: float) -> Guard | None:
    """BMS, fuse, plug, contactor, cables, precharge, converter and charger for so many line amps; None where
    none fits."""
    key = series, round(full, 2), math.ceil(line)
    if key not in room.guards:
        room.guards[key] = _guard(room.shelf, *key)
    return room.guards[key]


def _least(
    parts: Sequence[P],
    amps: Callable[[P], float | None],
    wanted: float,
    fits: Callable[[P], bool],
) -> P | None:
    """The smallest part that carries what is wanted."""
    rows = [p for p in parts if fits(p) and (amps(p) or 0.0) >= wanted]
    return min(rows, key=lambda p: (amps(p), p.price_money.or_else(1e9)), default=None)


def _precharge(shelf: Shelf, full: float) -> Precharge:
    rows = shelf.of("precharge", Precharge)
    return dataclasses.replace(rows[0], presence="fitted") if rows else Precharge()


def _dcdc(shelf: Shelf, full: float) -> Dcdc:
    rows = [d for d in shelf.of("dcdc", Dcdc) if d.in_max_v.or_else(0.0) >= full]
    least = min(rows, key=lambda d: d.price_money.or_else(1e9), default=None)
    return (
        dataclasses.replace(least, presence="fitted", feed="before the contactor")
        if least
        else Dcdc()
    )


def _charger(shelf: Shelf, series: int, full: float) -> Charger:
    rows = [c for c in shelf.of("charger", Charger) if abs(c.out_v.or_else(0.0) - full) < 0.5]
    least = min(rows, key=lambda c: c.i_a.or_else(1e9), default=None)
    return dataclasses.replace(least, presence="fitted") if least else Charger()
