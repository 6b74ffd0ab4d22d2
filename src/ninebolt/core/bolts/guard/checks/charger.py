"""The charger against pack, BMS, cells, outlet and cold."""

from __future__ import annotations

import math

from ninebolt.core.bike.back import COLD_C, FROST_C, LITHIUM
from ninebolt.core.bike.cells import cell_full_v
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.path import charger_v
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.blank import Blank, blank_says
from ninebolt.core.bolts.guard.feed import charge_of
from ninebolt.core.bolts.guard.limits import LONG_CHARGE_S, LONG_LIFE_V, OUTLET_SHARE, SAME_V
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import BUILD, Change, Fix, q, setting
from ninebolt.core.guard.charging import mains_amps

PARTS = ("guard.charger",)


@check("guard.charger_open", "the charger is not looked at", parts=PARTS)
def charger_open(bike: Bike) -> Says | None:
    charger = bike.build.guard.charger
    if pack_facts(bike) is None or charger.there is False:
        return None
    rows = (("end voltage", charger.out_v), ("current", charger.i_a))
    blank = [words for words, v in rows if not v.known]
    if not blank:
        return None
    return Says(
        "note",
        f"The charger's {' and '.join(blank)} {'is' if len(blank) == 1 else 'are'} unknown",
        "Past full, cells burn; which charger it is decides that. Read its label before it is "
        "plugged in.",
        2 - len(blank),
        2,
    )


@check(
    "guard.charger_takes",
    "what charge current cells and BMS take is unknown",
    parts=("guard.charger", "pack.cell", "guard.bms"),
)
def charger_takes(bike: Bike) -> Says | None:
    g, cell, facts = bike.build.guard, bike.build.pack.cell, pack_facts(bike)
    amps = g.charger.i_a.amount
    if facts is None or amps is None or g.charger.there is False:
        return None
    rows = [Blank("what the cells take", cell.i_charge_a.known)]
    if g.bms.there:
        rows.append(Blank("what the BMS lets in", g.bms.i_charge_a.known, heavy=False))
    rate = "" if math.isnan(facts.capacity_ah) else f", {amps / facts.capacity_ah:.2f} C"
    return blank_says(
        "What charge current cells and BMS take is not all known",
        rows,
        f"The charger gives {q(amps, 'a')}{rate}. Too much plates lithium and "
        "warms the cells from inside, unseen. Their sheet says; without one stay under 0.5 C.",
    )


@check(
    "guard.charger_v", "the charger ends at another voltage than full", parts=PARTS, source=BUILD
)
def charger_volts(bike: Bike) -> Says | None:
    charger, cell, facts = bike.build.guard.charger, bike.build.pack.cell, pack_facts(bike)
    out = charger_v(charger)
    if facts is None or charger.there is False or math.isnan(out):
        return None
    if abs(out - facts.full_v) <= SAME_V * facts.full_v:
        return None
    series, each = bike.build.pack.series or 1, charger.stacked or 1
    a_cell, full = out / series, cell_full_v(cell)
    over = out > facts.full_v
    gentle = not over and cell.chemistry == "nickel_rich" and LONG_LIFE_V[0] <= a_cell
    gentle = gentle and a_cell <= LONG_LIFE_V[1]
    other = not over and facts.full_v - out > 0.5 * full
    severity, title = (
        ("stop", "The charger charges past full")
        if over
        else ("note", "The charger stops early, for a long life")
        if gentle
        else ("stop", "The charger is for another pack")
        if other
        else ("caution", "The charger does not fill the pack")
    )
    words = (
        "Overcharged lithium cells burn. Do not plug it in."
        if over
        else "The cells last longer, a part of the energy stays unused."
        if gentle
        else ""
    )
    return Says(
        "stop" if severity == "stop" else "note" if severity == "note" else "caution",
        title,
        f"It ends at {q(out, 'v')}, {series} cells are full at {q(facts.full_v, 'v')} "
        f"({q(a_cell, 'v')} a cell against {q(full, 'v')}). {words}".strip(),
        out,
        facts.full_v,
        "v",
        fixes=(
            Fix(
                f"Take a charger of {facts.full_v:.1f} V"
                if each == 1
                else f"Take {each} supplies of {facts.full_v / each:.2f} V",
                (setting("guard.charger.out_v", facts.full_v / each, "label", 0.003),),
            ),
        ),
    )


@check(
    "guard.charger_a",
    "the charger gives more than the BMS takes",
    parts=("guard.charger", "guard.bms"),
    source=BUILD,
)
def charger_a(bike: Bike) -> Says | None:
    amps, limit = bike.build.guard.charger.i_a.amount, bike.build.guard.bms.i_charge_a.amount
    if amps is None or limit is None or amps <= limit:
        return None
    return Says(
        "stop",
        "The BMS opens while charging",
        f"The charger gives {q(amps, 'a')}, the BMS takes {q(limit, 'a')}.",
        amps,
        limit,
        "a",
        fixes=(Fix(f"Charge at {limit:.0f} A", (setting("guard.charger.i_a", limit),)),),
    )


@check("guard.charger_cells", "the charger is too strong for the cells", parts=PARTS, source=BUILD)
def charger_cells(bike: Bike) -> Says | None:
    amps, limit = bike.build.guard.charger.i_a.amount, bike.build.pack.cell.i_charge_a.amount
    parallel = bike.build.pack.parallel
    if amps is None or limit is None or not parallel or amps <= limit * parallel:
        return None
    most = limit * parallel
    return Says(
        "stop",
        "The charger is too strong for the cells",
        f"{q(amps / parallel, 'a')} a cell against {q(limit, 'a')}.",
        amps,
        most,
        "a",
        fixes=(Fix(f"Charge at {most:.0f} A", (setting("guard.charger.i_a", most),)),),
    )


@check("guard.cold", "lithium cells are to be charged in the cold", parts=("guard.charger", "pack"))
def cold(bike: Bike) -> Says | None:
    air, cell = bike.build.guard.charger.coldest_c.amount, bike.build.pack.cell
    if air is None or cell.chemistry not in LITHIUM or air >= COLD_C:
        return None
    frost = air < FROST_C
    return Says(
        "stop" if frost else "caution",
        "No charging below freezing" if frost else "Charge slowly in the cold",
        f"At {q(air, 'c')} lithium plates out as metal instead of going into the cell: capacity is "
        "lost for good and a short can grow. Under "
        f"{q(FROST_C, 'c')} not at all, under {q(COLD_C, 'c')} with a small current; bring the pack "
        "indoors first.",
        air,
        FROST_C if frost else COLD_C,
        "c",
    )


@check("guard.stacked", "stacked supplies do not float", parts=PARTS)
def stacked(bike: Bike) -> Says | None:
    charger, facts = bike.build.guard.charger, pack_facts(bike)
    count = charger.stacked or 1
    if count < 2 or facts is None or charger.floating is True:
        return None
    return Says(
        "stop",
        "Stacked supplies must float",
        f"{count} supplies in series put {q(facts.full_v, 'v')} between their outputs: where an "
        "output is tied to earth or case, the second one is shorted. Each needs an isolated output, "
        "and a diode across it against being driven backwards.",
        count,
        1,
        fixes=(Fix("Checked: their outputs float", (Change("guard.charger.floating", True),)),),
    )


@check("guard.outlet", "the outlet is small for this charger", parts=PARTS)
def outlet(bike: Bike) -> Says | None:
    charger = bike.build.guard.charger
    amps, gives, end = charger.i_a.amount, charger.outlet_a.amount, charger_v(charger)
    if amps is None or gives is None or math.isnan(end):
        return None
    draw = mains_amps(end, amps, charger.efficiency.taken, charger.mains_v.taken)
    if draw <= OUTLET_SHARE * gives:
        return None
    most = math.floor(amps * OUTLET_SHARE * gives / draw)
    return Says(
        "stop" if draw > gives else "caution",
        "The outlet is small for this charger",
        f"It draws {q(draw, 'a')} for hours from an outlet of {q(gives, 'a')}; for good an outlet "
        f"gives {OUTLET_SHARE:.0%} of that. Local wiring rules decide.",
        draw,
        OUTLET_SHARE * gives,
        "a",
        fixes=(Fix(f"Charge at {most:.0f} A", (setting("guard.charger.i_a", most),)),)
        if most >= 1
        else (),
    )


@check("guard.charge_long", "a charge takes longer than a night", parts=PARTS)
def charge_long(bike: Bike) -> Says | None:
    made = charge_of(bike)
    if made is None or made.total_s <= LONG_CHARGE_S:
        return None
    return Says(
        "note",
        "A charge takes longer than a night",
        f"From empty {q(made.total_s, 's')}, of that {q(made.cv_s, 's')} at the end voltage. A charge that nobody "
        "is beside wants an alarm, a timer, and a place where a fire stays.",
        made.total_s,
        LONG_CHARGE_S,
        "s",
    )


@check("guard.no_charger", "there is no charger", parts=PARTS)
def no_charger(bike: Bike) -> Says | None:
    charger, facts = bike.build.guard.charger, pack_facts(bike)
    if charger.there is not False or facts is None:
        return None
    return Says(
        "note",
        "There is no charger for this pack",
        f"It is to end at {q(facts.full_v, 'v')} and be made for this chemistry. A borrowed one for another "
        "count of cells is the usual way that packs burn.",
        0,
        1,
    )
