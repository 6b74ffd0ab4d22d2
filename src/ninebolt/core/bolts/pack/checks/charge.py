"""Rested volts of the pack and of its groups: overfull, empty, dead, apart, not all read."""

from __future__ import annotations

import math

from ninebolt.core.battery.ocv import EMPTY_V, FULL_V
from ninebolt.core.bike.back import LITHIUM
from ninebolt.core.bike.cells import DEAD_V, SUM_OFF, cell_empty_v, cell_full_v
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bike.shape import steps_of
from ninebolt.core.bolts.order import Row, order_says
from ninebolt.core.bolts.pack.limits import (
    CELL_OVER_V,
    CELL_UNDER_V,
    DEAD_LFP_V,
    JOIN_SPREAD_V,
    OVER_V,
    OVERFULL,
)
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import listed, q
from ninebolt.core.match.accept import HOLD_SPREAD_V
from ninebolt.core.parts.pack import Pack


def dead_v(pack: Pack) -> float:
    """Rested volts under which a lithium cell is scrap; 0 for lead and for unknown chemistry."""
    if pack.cell.chemistry in ("nickel_rich", "manganese_blend"):
        return float(DEAD_V)
    return float(DEAD_LFP_V) if pack.cell.chemistry == "iron_phosphate" else 0.0


@check("pack.overfull", "the pack rests above full", parts=("pack",))
def overfull(bike: Bike) -> Says | None:
    rested, facts = bike.build.pack.rested_v.amount, pack_facts(bike)
    if rested is None or facts is None or rested <= facts.full_v * OVERFULL:
        return None
    return Says(
        "stop",
        "The pack stands above full",
        f"{q(rested, 'v')} against {q(facts.full_v, 'v')}: overcharged, or another series count than "
        "written. Do not charge it; find out outdoors.",
        rested,
        facts.full_v,
        "v",
    )


@check(
    "pack.cell_volts",
    "the cell's full or empty volts are not those of its chemistry",
    parts=("pack.cell",),
)
def cell_volts(bike: Bike) -> Says | None:
    cell = bike.build.pack.cell
    full, empty = cell.full_v.amount, cell.empty_v.amount
    usual, least = FULL_V.get(cell.chemistry), EMPTY_V.get(cell.chemistry)
    if usual is None or least is None:
        return None
    words = cell.chemistry.replace("_", " ")
    if full is not None and full > usual + CELL_OVER_V:
        return Says(
            "stop" if cell.chemistry in LITHIUM else "caution",
            f"{q(full, 'v')} is past full for {words}",
            f"Such cells are full at {q(usual, 'v')}. Charged to {q(full, 'v')} they swell, vent or burn. Another "
            "chemistry, or a wrong number?",
            full,
            usual,
            "v",
        )
    if full is not None and full < usual - CELL_UNDER_V:
        return Says(
            "caution",
            f"{q(full, 'v')} is not full for {words}",
            f"Such cells are full at {q(usual, 'v')}: another chemistry, or a wrong number? Charge, range and every "
            "limit hang on it.",
            full,
            usual,
            "v",
        )
    if empty is not None and empty < least - CELL_UNDER_V:
        return Says(
            "caution",
            f"{q(empty, 'v')} is past empty for {words}",
            f"Such cells are empty at {q(least, 'v')}; drawn lower they are ruined.",
            empty,
            least,
            "v",
        )
    return None


@check("pack.cell_order", "numbers of the cell stand the wrong way round", parts=("pack.cell",))
def cell_order(bike: Bike) -> Says | None:
    cell = bike.build.pack.cell
    volts = (("empty", cell.empty_v), ("nominal", cell.nominal_v), ("full", cell.full_v))
    amps = (("continuous", cell.i_cont_a), ("for a while", cell.i_peak_a))
    return order_says("cell", (Row("v", volts, level=False), Row("a", amps)))


@check("pack.underempty", "the pack rests below empty", parts=("pack",))
def underempty(bike: Bike) -> Says | None:
    pack, facts = bike.build.pack, pack_facts(bike)
    rested = pack.rested_v.amount
    if rested is None or facts is None or not rested < facts.empty_v:
        return None
    scrap = rested / (pack.series or 1) < dead_v(pack)
    return Says(
        "stop",
        "The pack rests below empty",
        f"{q(rested, 'v')} against {q(facts.empty_v, 'v')}: "
        + (
            f"under {q(dead_v(pack), 'v')} a cell it is scrap: not to be charged, to be disposed of."
            if scrap
            else "some cells are over-discharged, or the series count is not as written. Read every "
            "group before anything else."
        ),
        rested,
        facts.empty_v,
        "v",
    )


def _rows(bike: Bike) -> tuple[tuple[float, float], ...]:
    return bike.build.pack.group_v


@check("pack.group_dead", "a group rests below empty", parts=("pack",))
def group_dead(bike: Bike) -> Says | None:
    pack, rows = bike.build.pack, _rows(bike)
    empty = cell_empty_v(pack.cell)
    if not rows or math.isnan(empty):
        return None
    number, volts = min(rows, key=lambda r: r[1])
    if volts >= empty:
        return None
    dead = volts < dead_v(pack)
    low = sum(v < empty for _, v in rows)
    others = f" {low - 1} more stand below empty." if low > 1 else ""
    return Says(
        "stop",
        f"Group {number:.0f} is scrap" if dead else f"Group {number:.0f} is over-discharged",
        (
            f"It reads {q(volts, 'v')}; under {q(dead_v(pack), 'v')} copper has gone into solution and "
            "grows through the cell when charged: it can burn days later. Take it out, do not charge "
            f"it.{others}"
            if dead
            else f"It reads {q(volts, 'v')}, empty is {q(empty, 'v')}. At most with a small current, "
            "outdoors and attended, up to empty; then rest it two weeks and reject it if it falls."
            f"{others}"
        ),
        volts,
        dead_v(pack) if dead else empty,
        "v",
    )


@check("pack.group_over", "a group stands past full", parts=("pack",))
def group_over(bike: Bike) -> Says | None:
    rows, full = _rows(bike), cell_full_v(bike.build.pack.cell)
    if not rows or math.isnan(full):
        return None
    number, volts = max(rows, key=lambda r: r[1])
    if volts <= full + OVER_V:
        return None
    return Says(
        "stop",
        "Stop charging: a group stands past full",
        f"Group {number:.0f} reads {q(volts, 'v')}, full is {q(full, 'v')}.",
        volts,
        full + OVER_V,
        "v",
    )


@check("pack.group_spread", "the groups stand apart", parts=("pack",))
def group_spread(bike: Bike) -> Says | None:
    rows, pack = _rows(bike), bike.build.pack
    empty, full = cell_empty_v(pack.cell), cell_full_v(pack.cell)
    volts = [v for _, v in rows]
    if len(rows) < 2 or min(volts) < empty or max(volts) > full + OVER_V:
        return None  # said already, and worse
    spread, mean = max(volts) - min(volts), sum(volts) / len(volts)
    if spread <= JOIN_SPREAD_V:
        return None
    far = max(rows, key=lambda r: abs(r[1] - mean))
    return Says(
        "stop" if spread > HOLD_SPREAD_V else "caution",
        "The groups stand apart",
        f"{q(spread, 'v')} between the highest and the lowest; group {far[0]:.0f} is furthest off at "
        f"{q(far[1], 'v')}. Within {q(JOIN_SPREAD_V, 'v')} they may be joined; over "
        f"{q(HOLD_SPREAD_V, 'v')} hold, and bring each to the same voltage first.",
        spread,
        JOIN_SPREAD_V,
        "v",
    )


@check(
    "pack.groups_open",
    "cells of unknown past are to be joined and no group has been read",
    parts=("pack",),
)
def groups_open(bike: Bike) -> Says | None:
    pack = bike.build.pack
    if pack.source not in ("salvaged_cells", "vehicle_modules") or not pack.series:
        return None
    if _rows(bike) or any(m.volts_v.known for m in pack.modules) or pack_facts(bike) is None:
        return None
    return Says(
        "caution",
        "No group is read before joining",
        f"{pack.series} groups of cells with a past: read each after a day of rest before anything is "
        "joined. A group that is apart, or under 2 V, is found now or by the fire.",
        0,
        pack.series,
    )


@check("pack.groups_unread", "not every group has been read", parts=("pack",))
def groups_unread(bike: Bike) -> Says | None:
    pack, rows = bike.build.pack, _rows(bike)
    if not rows or not pack.series:
        return None
    want = steps_of(pack) if pack.cell.body_series > 1 else pack.series
    read = {round(n) for n, _ in rows}
    gone = [n for n in range(1, pack.series + 1) if n not in read]
    beyond = sorted(n for n in read if not 1 <= n <= pack.series)
    if beyond:
        return Says(
            "caution",
            f"Group {beyond[-1]} of a pack of {pack.series}",
            f"Read: {listed([str(n) for n in beyond], 6)}, which this pack has not. The readings are of another pack, "
            "or its series count is not as written. Count the leads.",
            beyond[-1],
            pack.series,
        )
    if len(read) >= want or not gone:
        return None
    shown = listed([str(n) for n in gone], 6)
    return Says(
        "caution",
        f"{len(gone)} of {pack.series} groups are not read",
        f"Read: {len(read)}; open: {shown}. The one that is not read is the one that can be dead.",
        len(read),
        pack.series,
    )


@check(
    "pack.sum",
    "groups, balance leads and terminals of one pack do not read the same volts",
    parts=("pack",),
)
def sum_off(bike: Bike) -> Says | None:
    pack, rows = bike.build.pack, _rows(bike)
    taps = {round(n): v for n, v in pack.tap_v}
    want = steps_of(pack) if pack.cell.body_series > 1 else pack.series
    read = {
        "the terminals": pack.rested_v.amount,
        "the groups together": sum(v for _, v in rows) if want and len(rows) == want else None,
        "the last balance lead": taps.get(pack.series or 0),
    }
    known = sorted((v, name) for name, v in read.items() if v is not None)
    if len(known) < 2:
        return None
    (low, least), (high, most) = known[0], known[-1]
    if high - low <= SUM_OFF * high:
        return None
    return Says(
        "caution",
        "The pack does not add up",
        f"By {most} it has {q(high, 'v')}, by {least} {q(low, 'v')}. Read at one time and at rest these "
        "are one number: a link or a plug that does not carry, a group counted twice or left out, a BMS that is off, "
        "or a meter to be doubted. Read again before anything is charged.",
        high - low,
        SUM_OFF * high,
        "v",
    )
