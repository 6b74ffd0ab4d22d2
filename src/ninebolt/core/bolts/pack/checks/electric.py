"""Counts, current, sag and strips against what the riding asks."""

from __future__ import annotations

import math

from ninebolt.core.bike.cells import (
    CLASS_B_V,
    STRIP_RISE_K,
    cell_peak_a,
    joints_ohm,
    strips_of,
    warm_share,
)
from ninebolt.core.bike.chain import advice
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bolts.pack.limits import (
    CELL_LIFE_SHARE,
    CLAIM_SLACK,
    LINKS_SHARE,
    QUARTER,
    SAG_SHARE,
    STRIP_BURST,
    STRIP_PARTS_K,
    STRIP_STOP_K,
)
from ninebolt.core.bolts.pack.power import thickness_for
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import Change, Fix, Source, q, setting

CELL_DATA = Source("build", "cell data in this build")


def line_fixes(bike: Bike) -> tuple[Fix, ...]:
    """Set the line amps to the one number of the chain."""
    chosen = advice(bike)
    return (chosen.fix,) if chosen else ()


@check("pack.modules", "the counts do not come out in whole modules")
def modules(bike: Bike) -> Says | None:
    pack = bike.build.pack
    s, p, cell = pack.series or 1, pack.parallel or 1, pack.cell
    if s % cell.body_series == 0 and p % cell.body_parallel == 0:
        return None
    return Says(
        "stop",
        "The counts do not come out in whole modules",
        f"A module holds {cell.body_series}s{cell.body_parallel}p; {s}s{p}p cannot be made of whole "
        "ones.",
        s,
        cell.body_series,
    )


@check(
    "pack.peak",
    "line amps are more than the cells can give",
    parts=("pack.cell", "drive.controller"),
    source=CELL_DATA,
)
def peak(bike: Bike) -> Says | None:
    facts, load, pack = pack_facts(bike), load_a(bike), bike.build.pack
    if facts is None or load is None or load <= facts.peak_a:
        return None
    each, p = cell_peak_a(pack.cell), pack.parallel or 1
    need = math.ceil(load / each)
    return Says(
        "stop",
        "Line amps are more than the cells can give",
        f"{q(load, 'a')} over {p} cells is {q(load / p, 'a')} each; their peak is {q(each, 'a')}. "
        f"Set less, or put {need} in parallel.",
        load,
        facts.peak_a,
        "a",
        fixes=(
            *line_fixes(bike),
            Fix(f"Go to {need} in parallel", (Change("pack.parallel", need),)),
        ),
    )


@check(
    "pack.cont",
    "cells run above their continuous current",
    parts=("pack.cell",),
    source=CELL_DATA,
)
def cont(bike: Bike) -> Says | None:
    facts, load = pack_facts(bike), load_a(bike)
    if facts is None or load is None or not facts.cont_a < load <= facts.peak_a:
        return None
    p = bike.build.pack.parallel or 1
    return Says(
        "caution",
        "Cells run above their continuous current at full line amps",
        f"{q(load / p, 'a')} a cell against {q(facts.cont_a / p, 'a')} continuous: fine for seconds, "
        "warm and short-lived as a habit.",
        load,
        facts.cont_a,
        "a",
        fixes=line_fixes(bike),
    )


@check("pack.blank", "nobody knows what current the cells stand", parts=("pack.cell",))
def blank(bike: Bike) -> Says | None:
    facts, load, cell = pack_facts(bike), load_a(bike), bike.build.pack.cell
    if facts is None or cell.i_cont_a.known:
        return None
    if cell.i_peak_a.known:
        return Says(
            "caution",
            "What current the cells stand for good is unknown",
            f"Their peak of {q(cell.i_peak_a.amount or 0.0, 'a')} is for seconds; what they stand for "
            "a ride nobody knows. Find their sheet, or measure sag and warmth on one.",
            0,
            1,
        )
    rate = f" {q(load, 'a')} is {load / facts.capacity_ah:.1f} C." if load else ""
    return Says(
        "caution",
        "What current the cells stand is unknown",
        f"Nothing here holds the cells: the run takes whatever the rest allows.{rate} Cells look alike "
        "and differ tenfold; find their sheet, or measure sag and warmth on one.",
        0,
        1,
    )


@check("pack.sag", "the pack sags by more than a fifth")
def sag(bike: Bike) -> Says | None:
    facts, load = pack_facts(bike), load_a(bike)
    if facts is None or not load or math.isnan(facts.r_ohm):
        return None
    if load * facts.r_ohm <= SAG_SHARE * facts.nominal_v:
        return None
    return Says(
        "caution",
        "The pack sags by more than a fifth",
        f"{q(load, 'a')} through {q(facts.r_ohm, 'ohm')} drops {q(load * facts.r_ohm, 'v')} of "
        f"{q(facts.nominal_v, 'v')}.",
        load * facts.r_ohm,
        SAG_SHARE * facts.nominal_v,
        "v",
    )


@check(
    "pack.links",
    "what joins the groups resists too much beside the cells",
    parts=("pack.strips", "pack"),
)
def links(bike: Bike) -> Says | None:
    facts, load = pack_facts(bike), load_a(bike)
    joints = joints_ohm(bike.build.pack)
    if facts is None or not load or not joints > 0.0 or math.isnan(facts.r_ohm):
        return None
    cells = facts.r_ohm - joints
    if joints <= LINKS_SHARE * cells:
        return None
    return Says(
        "caution",
        "What joins the groups resists too much",
        f"Strips, links and joints have {q(joints, 'ohm')}, the cells {q(cells, 'ohm')}: at "
        f"{q(load, 'a')} {q(joints * load * load, 'w')} are made in them, most of it in the worst "
        "joint. Measure each step at a known current; the one that drops most is loose, thin or badly "
        "welded.",
        joints,
        LINKS_SHARE * cells,
        "ohm",
    )


@check(
    "pack.class_b",
    "the full pack is above 60 V DC",
    source=Source("standard", "ISO 6469-3, UN R100 / R136: class B above 60 V DC"),
)
def class_b(bike: Bike) -> Says | None:
    facts = pack_facts(bike)
    if facts is None or facts.full_v <= CLASS_B_V:
        return None
    return Says(
        "note",
        "Above 60 V DC: voltage class B",
        f"{q(facts.full_v, 'v')} can kill, and a pack cannot be switched off: cover what is live, one "
        "hand, no jewellery, a way to cut power within reach. Local codes apply.",
        facts.full_v,
        CLASS_B_V,
        "v",
    )


@check("pack.claim", "the energy on the label is not what the cells hold", parts=("pack",))
def claim(bike: Bike) -> Says | None:
    claimed, facts = bike.build.pack.claimed_wh.amount, pack_facts(bike)
    if claimed is None or facts is None:
        return None
    label = facts.nominal_v * facts.capacity_ah
    if math.isnan(label) or abs(claimed / label - 1.0) <= CLAIM_SLACK:
        return None
    more = claimed > label
    return Says(
        "caution" if more else "note",
        "More energy is claimed than volts times amp-hours give"
        if more
        else "Less energy is claimed than volts times amp-hours give",
        f"{q(claimed, 'wh')} claimed; by label (nominal volts x amp-hours) it is {q(label, 'wh')}, "
        f"stored along the open-circuit curve {q(facts.energy_wh, 'wh')}: {claimed / label - 1:+.0%} "
        f"of the label. "
        + ("A rounded-up label, or fewer cells." if more else "Another cell, or a smaller count?"),
        claimed,
        label,
        "wh",
        source=Source("computed", "nominal volts x amp-hours"),
    )


@check(
    "pack.strips",
    "the strips between the groups are thin for the line amps",
    parts=("pack.strips",),
    source=Source("computed", "ρ of the metal, still air on one face"),
)
def strips(bike: Bike) -> Says | None:
    load, found = load_a(bike), strips_of(bike.build.pack)
    if found is None or not load or load <= found[0] * STRIP_BURST:
        return None
    need = thickness_for(bike.build.pack, load / QUARTER)
    rise = STRIP_RISE_K * (load / found[0]) ** 2
    return Says(
        "stop" if rise > STRIP_STOP_K else "caution",
        "The strips between the groups are thin",
        f"All strips of a step carry {q(found[0], 'a')} for a rise of {q(STRIP_RISE_K, 'k')}; full "
        f"throttle asks {q(load, 'a')}, which warms them by "
        + (
            f"about {q(rise, 'k')}. "
            if rise <= STRIP_PARTS_K
            else f"more than {q(float(STRIP_PARTS_K), 'k')}: they glow and part. "
        )
        + "They heat the cells they are welded to.",
        load,
        found[0],
        "a",
        fixes=()
        if need is None
        else (
            Fix(
                f"Take strips {need * 1000:.2f} mm thick",
                (setting("pack.strips.thick_m", need, "label"),),
            ),
        ),
    )


@check("pack.strips_open", "what joins the groups is not measured", parts=("pack.strips",))
def strips_open(bike: Bike) -> Says | None:
    pack = bike.build.pack
    if pack.source == "ready_made" or pack_facts(bike) is None or load_a(bike) is None:
        return None
    if strips_of(pack) is not None:
        return None
    return Says(
        "note",
        "What the strips between the groups carry is unknown",
        "Metal, width, thickness and how many: they decide warmth between the cells and a part of the "
        "pack's resistance.",
        0,
        1,
    )


@check("pack.temperature", "too cold or too hot for full current", parts=("pack",))
def temperature(bike: Bike) -> Says | None:
    pack, facts = bike.build.pack, pack_facts(bike)
    share = warm_share(pack)
    if facts is None or share >= 1.0:
        return None
    return Says(
        "caution",
        "Too cold or too hot for full current",
        f"At {q(pack.temp_c.taken, 'c')} the cells may give {share:.0%} of their rating; the runs are "
        "held to that.",
        share * 100,
        100,
        "pct",
    )


@check("pack.life", "the cells are run near their peak", parts=("pack.cell",))
def life(bike: Bike) -> Says | None:
    facts, load, cell = pack_facts(bike), load_a(bike), bike.build.pack.cell
    top = cell.i_peak_a.amount
    if facts is None or not top or not load or not facts.cont_a < load <= facts.peak_a:
        return None
    each = load / (bike.build.pack.parallel or 1)
    if each <= CELL_LIFE_SHARE * top:
        return None
    return Says(
        "note",
        "The cells are run near their peak",
        f"{q(each, 'a')} a cell of {q(top, 'a')} peak at every full throttle: they age fast; expect "
        "resistance to grow within a season.",
        each,
        CELL_LIFE_SHARE * top,
        "a",
    )
