"""Numbers of the guard that no part has."""

from __future__ import annotations

from collections.abc import Iterator

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.bolts.usual import Usual, over, span, unusual_says

PEAK_OF_CONT = span(
    "ratio", 1.0, 6.0, "what a BMS lets through for a while over what it does for good"
)
PEAK_S = span("s", 0.0001, 120.0, "how long a BMS bears its peak")
CHARGE_A = span("a", 0.5, 400.0, "what a BMS of a bike lets in")
THICK = span("m", 0.002, 0.12, "thickness of a BMS board in its housing")
CABLE_M = span("m", 0.1, 4.0, "length of a power cable on a bike")
SECTION = span("m2", 1e-6, 150e-6, "section of a power cable on a bike")
COIL_W = span("w", 0.3, 60.0, "power that a coil holds with")
PLUG_PEAK = span("ratio", 1.0, 4.0, "what a plug carries for a while over what it does for good")
PLUG_V = span("v", 12.0, 1000.0, "volts that a plug of a bike parts")
INPUT_V = span("v", 10.0, 450.0, "highest input of a bike's step-down converter")
GIVES = span("ratio", 0.7, 0.985, "share of the mains' power that a charger puts into the pack")


@check(
    "guard.usual",
    "a number of BMS, cable, coil or charger is unlike any",
    parts=tuple(
        f"guard.{x}" for x in ("bms", "plug", "dcdc", "cable", "phase_cable", "isolator", "charger")
    ),
)
def usual(bike: Bike) -> Iterator[Says]:
    g = bike.build.guard
    rows = [
        Usual(
            key,
            f"The {name}'s peak over its continuous current",
            over(part.i_peak_a, part.i_cont_a),
            *limits,
        )
        for key, name, part, limits in (
            ("bms_peak", "BMS", g.bms, PEAK_OF_CONT),
            ("plug_peak", "plug", g.plug, PLUG_PEAK),
        )
        if part.there is not False and (part.i_peak_a.amount or 0.0) > (part.i_cont_a.amount or 0.0)
    ]
    if g.bms.there is not False:
        rows += [
            Usual("bms_peak_s", "The time that the BMS bears its peak", g.bms.peak_s, *PEAK_S),
            Usual("bms_charge", "The BMS's charge current", g.bms.i_charge_a, *CHARGE_A),
            Usual("bms_thick", "The BMS's height", g.bms.height_m, *THICK),
        ]
    if g.plug.there is not False:
        rows.append(Usual("plug_v", "The plug's volts", g.plug.dc_v, *PLUG_V))
    if g.dcdc.there is not False:
        rows.append(Usual("input_v", "The converter's highest input", g.dcdc.in_max_v, *INPUT_V))
    for key, name, cable in (
        ("cable", "power cable", g.cable),
        ("phase_cable", "phase cable", g.phase_cable),
    ):
        rows += [
            Usual(f"{key}_m", f"The {name}'s length", cable.length_m, *CABLE_M),
            Usual(f"{key}_m2", f"The {name}'s section", cable.section_m2, *SECTION),
        ]
    if g.isolator.there is not False:
        rows.append(Usual("coil_w", "The coil's power", g.isolator.coil_w, *COIL_W))
    if g.charger.there is not False:
        rows.append(Usual("efficiency", "The charger's efficiency", g.charger.efficiency, *GIVES))
    return unusual_says(rows)
