"""Drive's findings about a used controller, phase leads, and a bike that does not move."""

from __future__ import annotations

import math
import statistics

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import bare_performance, uncapped_m_s
from ninebolt.core.bolts.blank import Blank, blank_says
from ninebolt.core.bolts.drive.limits import (
    BRIDGE_SHARE,
    BRIDGE_SHORT,
    IDLE_A,
    LEAD_A_MM2,
    WALK_M_S,
)
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.drive.constants import amps_peak
from ninebolt.core.finding import Change, Fix, Source, q
from ninebolt.core.vehicle.road import road_load

CONTROLLER = ("drive.controller",)
HURT = ("got wet", "dropped", "smoked or popped", "opened up")
NAMES = ("U to plus", "V to plus", "W to plus", "U to minus", "V to minus", "W to minus")


def odd_legs(bike: Bike) -> list[str]:
    """Readings of the bridge that are unlike the others of their side, or short."""
    by = {int(n): x for n, x in bike.build.drive.controller.bridge}
    out = []
    for side in ((1, 2, 3), (4, 5, 6)):
        rows = [by[n] for n in side if n in by]
        middle = statistics.median(rows) if len(rows) == 3 else math.nan
        for n in side:
            if n not in by:
                out.append(f"{NAMES[n - 1]} not read")
            elif by[n] <= BRIDGE_SHORT:
                out.append(f"{NAMES[n - 1]} is short")
            elif middle and abs(by[n] - middle) > BRIDGE_SHARE * middle:
                out.append(f"{NAMES[n - 1]} reads {by[n]:g}, the others {middle:g}")
    return out


@check("drive.damaged", "the controller was hurt and has not passed the bench", parts=CONTROLLER)
def damaged(bike: Bike) -> Says | None:
    c = bike.build.drive.controller
    odd = odd_legs(bike) if c.bridge else []
    idle = c.idle_a.amount
    if idle is not None and idle > IDLE_A:
        odd.append(f"it draws {q(idle, 'a')} at rest")
    if c.condition not in HURT and not odd:
        return None
    if c.bridge and not odd and c.bench_run:
        return None
    short = any("short" in x for x in odd)
    popped = c.condition == "smoked or popped"
    todo = (
        "Unplug, bleed to under 5 V, read each phase to plus and to minus with a diode tester: six readings, "
        "three alike and three alike. Then switch it on behind a lamp or a 5 A supply, and run the wheel in the "
        "air at limited current."
    )
    return Says(
        "stop" if odd or popped or not c.bench_run else "caution",
        "The controller is not fit to be fitted"
        if odd or popped
        else "The controller has to pass the bench first",
        (f"{c.condition}; " if c.condition in HURT else "")
        + (
            f"{'; '.join(odd)}. "
            if odd
            else "no reading is out of line. "
            if c.bridge
            else "its bridge is not read. "
        )
        + ("A dead leg locks the wheel or runs away. " if short else "")
        + todo,
        float(len(odd)),
        0.0,
    )


@check("drive.condition_open", "nobody has looked at a used controller", parts=CONTROLLER)
def condition_open(bike: Bike) -> Says | None:
    c = bike.build.drive.controller
    used = any(s.kind in ("motor", "pack") for s in bike.build.donor.salvage)
    if bare_performance(bike) is None or c.condition != "not looked at" or c.bridge or not used:
        return None
    return Says(
        "note",
        "Is the controller new?",
        "Salvaged parts are looked at on Donor; of the controller nobody says whether it is sound.",
        0,
        1,
        fixes=(Fix("It is sound", (Change("drive.controller.condition", "sound"),)),),
    )


@check("drive.box_blank", "what the controller stands is not all known", parts=CONTROLLER)
def box_blank(bike: Bike) -> Says | None:
    c, perf = bike.build.drive.controller, bare_performance(bike)
    if perf is None:
        return None
    rows = [
        Blank("line amps it stands", c.line_max_a.known),
        Blank("phase amps it stands", c.phase_max_a.known),
        Blank("the electrical rpm it follows", c.erpm_max_rpm.known, heavy=False),
        Blank("the lowest voltage it works at", c.v_min_v.known, heavy=False),
        Blank("its heat path and capacity", c.heat_k_w.known and c.heat_j_k.known, heavy=False),
    ]
    return blank_says(
        "What the controller stands is not all known",
        rows,
        "What is set is taken to be what it stands; whether it lasts is not judged. Its sheet says; never "
        "its size or its name.",
    )


@check("drive.setting_open", "what the controller is set to is not known", parts=CONTROLLER)
def setting_open(bike: Bike) -> Says | None:
    c, perf = bike.build.drive.controller, bare_performance(bike)
    if perf is None:
        return None
    rows = [
        Blank("line amps set", c.line_a.known, heavy=False),
        Blank("phase amps set", c.phase_a.known, heavy=False),
    ]
    return blank_says(
        "What the controller is set to is not all known",
        rows,
        "Reckoned as if it let through all that it is rated for. Tune derives what to set; read what is in it.",
    )


@check("drive.motor_blank", "what the motor stands is not all known", parts=("drive.motor",))
def motor_blank(bike: Bike) -> Says | None:
    m, perf = bike.build.drive.motor, bare_performance(bike)
    if perf is None:
        return None
    weak = bike.build.drive.controller.fw_id_a.taken > 0.0
    hot = perf.case.thermal is None
    rows = [
        Blank("the phase amps it may see", m.phase_max_a.known),
        Blank("its power on the label", m.label_w.known, heavy=hot),
        Blank("the speed its rotor stands", m.rpm_max_rpm.known, heavy=weak),
        Blank("its heat paths and capacities", not hot, heavy=not m.label_w.known),
    ]
    return blank_says(
        "What the motor stands is not all known",
        rows,
        "How long it holds these amps, and whether its rotor holds at top speed, is not judged. Put a sensor in "
        "the winding, a roll-back in the controller, and begin with half the amps.",
    )


@check(
    "drive.lead",
    "the phase leads are thin for the current",
    parts=("drive.motor",),
    source=Source("practice", "amps a square millimetre of short leads in air; no source"),
)
def lead(bike: Bike) -> Says | None:
    m, perf = bike.build.drive.motor, bare_performance(bike)
    section = m.lead_m2.amount
    if section is None or perf is None:
        return None
    amps = min(perf.case.phase_a, amps_peak(m.phase_cont_a.or_else(math.inf), m.amp_basis))
    dense = amps / math.sqrt(2) / (section * 1e6)
    if dense <= LEAD_A_MM2:
        return None
    return Says(
        "caution",
        "The motor's leads are thin",
        f"{q(section, 'm2')} for {q(amps / math.sqrt(2), 'a')} RMS held, {dense:.0f} A a square millimetre: they get "
        "hot inside the axle, where nobody sees. A thick lead is no rating of the motor either: its winding decides.",
        dense,
        LEAD_A_MM2,
    )


@check(
    "drive.stuck",
    "a limit is below what moves the bike",
    parts=("drive.controller", "pack", "guard.bms"),
    source=Source("computed", "thrust against road load at walking pace"),
)
def stuck(bike: Bike) -> Says | None:
    perf = bare_performance(bike)
    if perf is None or perf.top.speed_m_s >= WALK_M_S:
        return None
    case = perf.case
    load = road_load(case.body, WALK_M_S).total_n
    gear = case.ratio / case.radius_m
    torque = load / (gear * case.efficiency) + case.drag_nm + case.drag_nm_s_rad * WALK_M_S * gear
    amps = torque / (1.5 * case.machine.pole_pairs * case.machine.flux_vs)
    line = case.line_limit().amps
    watts = load * WALK_M_S / case.efficiency
    phase = perf.top.choke == "phase"
    have, need = (case.phase_a, amps) if phase else (line, watts / max(perf.envelope.bus_v[0], 1.0))
    ground = perf.top.choke in ("grip", "wheelie")
    below = case.rests_v <= case.floor_v
    capped = case.cap_m_s < WALK_M_S <= uncapped_m_s(bike)
    held = "the speed cap" if capped else "the cut-off" if below else perf.top.choke
    return Says(
        "stop",
        "It does not move",
        f"{q(load, 'n')} are asked of the tyre at walking pace and {held} holds it: "
        + (
            f"{q(case.cap_m_s, 'm_s')}; without it it moves."
            if capped
            else f"the pack rests at {q(case.rests_v, 'v')} and is let go at {q(case.floor_v, 'v')}."
            if below
            else "no drive climbs that, the tyre slips or the front wheel lifts."
            if ground
            else f"{q(have, 'a')} in the {'phases' if phase else 'battery leads'}, at least {q(need, 'a')} are needed."
        )
        + " Is a unit or a decimal wrong?",
        perf.top.speed_m_s,
        WALK_M_S,
        "m_s",
    )
