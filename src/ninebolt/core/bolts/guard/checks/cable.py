"""Battery cable, phase leads, bends; and the chain as a whole over its continuous current."""

from __future__ import annotations

import math

from ninebolt.core.bike.chain import advice, chain
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.opening import opening
from ninebolt.core.bike.path import TERMINAL_C, cable_cont_a, cable_limit_c
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bike.warm import cable_peak_c, leads_peak_c
from ninebolt.core.bolts.blank import Blank, blank_says
from ninebolt.core.bolts.guard.limits import BURNT_C, INSULATION_C, PVC_C
from ninebolt.core.bolts.guard.sizes import larger_cable, section
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.drive.constants import amps_peak
from ninebolt.core.finding import BUILD, Source, q
from ninebolt.core.guard.conductors import BEND_OUTER, continuous_amps, peak_temp_c

WARMTH = Source("computed", "copper loss against still air, heat stored in the copper")


@check("guard.no_cable", "the battery cable is not looked at", parts=("guard.cable",))
def no_cable(bike: Bike) -> Says | None:
    cable = bike.build.guard.cable
    if pack_facts(bike) is None:
        return None
    if cable.there is False:
        return Says(
            "caution",
            "There is no battery cable",
            "Something carries the line amps from the pack to the controller. Whatever it is, its copper decides "
            "what the fuse may be.",
            0,
            1,
        )
    if cable.section_m2.known:
        return None
    return Says(
        "caution",
        "The battery cable's section is unknown",
        "It decides what the fuse may be and how warm the path gets. Read it off the jacket, or "
        "measure the copper.",
        0,
        1,
    )


@check("guard.phase_open", "the phase leads are not looked at", parts=("guard.phase_cable",))
def phase_open(bike: Bike) -> Says | None:
    cable = bike.build.guard.phase_cable
    if (cable.section_m2.known and cable.there is not False) or load_a(bike) is None:
        return None
    return Says(
        "caution",
        "There are no phase leads"
        if cable.there is False
        else "The phase leads' section is unknown",
        "They carry the phase amps, which are more than the line amps; nobody can say how warm they "
        "get. Read it off the jacket, or measure the copper.",
        0,
        1,
    )


@check(
    "guard.cable_blank",
    "a cable's insulation or length is unknown",
    parts=("guard.cable", "guard.phase_cable"),
)
def cable_blank(bike: Bike) -> Says | None:
    g, rows = bike.build.guard, []
    if load_a(bike) is None:
        return None
    for words, cable in (("battery cable", g.cable), ("phase leads", g.phase_cable)):
        if cable.section_m2.known and cable.there is not False:
            rows.append(
                Blank(f"what the {words}' insulation stands", cable.temp_max_c.known, False)
            )
    if g.cable.section_m2.known and g.cable.there is not False:
        rows.append(Blank("the battery cable's length", g.cable.length_m.known, False))
    limit = min(g.cable.temp_max_c.assume or TERMINAL_C, TERMINAL_C)
    return blank_says(
        "What the cables stand is not all known",
        rows,
        f"Insulation is taken to stand {q(limit, 'c')}; plain PVC ends at {q(PVC_C, 'c')}, and then it runs. A "
        "length that is not given drops no volts here. Read the jacket, measure the way.",
    )


@check("guard.cable_air", "the air around a cable is as hot as its limit", parts=("guard.cable",))
def cable_air(bike: Bike) -> list[Says]:
    out = []
    g = bike.build.guard
    for path, label, cable in (
        ("guard.cable", "battery cable", g.cable),
        ("guard.phase_cable", "phase leads", g.phase_cable),
    ):
        limit, air = cable_limit_c(cable), cable.ambient_c.taken
        if cable.section_m2.known and limit <= air:
            out.append(
                Says(
                    "stop",
                    f"The air round the {label} is as hot as it may get",
                    f"{q(air, 'c')} round a conductor that may reach {q(limit, 'c')}: it can carry "
                    "nothing there. Another way, or another insulation and lug.",
                    air,
                    limit,
                    "c",
                    parts=(path,),
                    at=path.split(".")[1],
                )
            )
    return out


@check("guard.cable", "line amps far exceed what the cable carries", parts=("guard.cable",))
def cable(bike: Bike) -> Says | None:
    cont, load, run = cable_cont_a(bike.build.guard.cable), load_a(bike), opening(bike)
    if load is None or load <= cont or cont <= 0.0:
        return None
    worked = run.worked_a if run else load
    if worked <= cont:
        return None
    chosen = advice(bike)
    return Says(
        "caution",
        "The battery cable is thin for what flows",
        f"It carries {q(cont, 'a')} for good at {q(cable_limit_c(bike.build.guard.cable), 'c')}; the "
        f"riding asks {q(worked, 'a')} RMS, full throttle {q(load, 'a')}.",
        worked,
        cont,
        "a",
        source=Source("computed", "copper loss against still air"),
        fixes=(larger_cable(bike, worked), *((chosen.fix,) if chosen else ())),
    )


def _reached(hot_c: float) -> str:
    """A temperature of copper; from BURNT_C on the number says nothing more."""
    return q(hot_c, "c") if hot_c <= BURNT_C else f"more than {q(float(BURNT_C), 'c')}"


@check(
    "guard.cable_run", "the cable overheats along the run", parts=("guard.cable",), source=WARMTH
)
def cable_run(bike: Bike) -> Says | None:
    cable, run = bike.build.guard.cable, opening(bike)
    m2 = cable.section_m2.amount
    if run is None or m2 is None:
        return None
    ambient, limit = cable.ambient_c.taken, cable_limit_c(cable)

    def warmest(section_m2: float) -> float:
        return peak_temp_c(section_m2, run.t_s, run.line_a, ambient)

    hot = cable_peak_c(bike)
    if hot is None or hot <= limit or ambient >= limit:
        return None
    return Says(
        "stop",
        "The battery cable overheats while riding",
        f"{run.words} it reaches {_reached(hot)}; with its lugs and terminals it stands "
        f"{q(limit, 'c')}.",
        hot,
        limit,
        "c",
        fixes=(section("guard.cable", "cable", lambda s: warmest(s) <= limit),),
    )


@check(
    "guard.phase_leads",
    "the phase leads overheat along the run",
    parts=("guard.phase_cable",),
    source=WARMTH,
)
def phase_leads(bike: Bike) -> Says | None:
    cable, run = bike.build.guard.phase_cable, opening(bike)
    m2 = cable.section_m2.amount
    if run is None or m2 is None:
        return None
    ambient, limit = cable.ambient_c.taken, cable_limit_c(cable)
    amps = [a / math.sqrt(2.0) for a in run.phase_a]

    def warmest(section_m2: float) -> float:
        return peak_temp_c(section_m2, run.t_s, amps, ambient)

    hot = leads_peak_c(bike)
    if hot is None or hot <= limit or ambient >= limit:
        return None
    cont = continuous_amps(m2, limit - ambient, ambient)
    burns = hot > cable.temp_max_c.or_else(INSULATION_C)
    return Says(
        "stop" if burns else "caution",
        "The phase leads overheat while riding",
        f"{q(max(amps), 'a')} RMS at most, {q(run.worked_phase_a / math.sqrt(2.0), 'a')} over the time; for good "
        f"they carry {q(cont, 'a')}. {run.words} they reach {_reached(hot)}."
        + (
            " Bare phases that touch lock the wheel and take the controller with them."
            if burns
            else ""
        ),
        hot,
        limit,
        "c",
        fixes=(section("guard.phase_cable", "phase leads", lambda s: warmest(s) <= limit),),
    )


@check(
    "guard.motor_cont",
    "the session asks more phase current than the motor stands for good",
    parts=("drive.motor",),
    source=BUILD,
)
def motor_cont(bike: Bike) -> Says | None:
    motor, run = bike.build.drive.motor, opening(bike)
    cont = amps_peak(motor.phase_cont_a.or_else(math.nan), motor.amp_basis)
    if run is None or not run.session or math.isnan(cont):
        return None
    worked = run.worked_phase_a
    if worked <= cont:
        return None
    return Says(
        "caution",
        "The session asks more of the motor than it stands for good",
        f"{run.words} the current that warms it is {q(worked, 'a')} peak, its label says "
        f"{q(cont, 'a')}. Longer rests, fewer runs, or less phase current.",
        worked,
        cont,
        "a",
    )


@check("guard.bend", "a cable is bent too tightly")
def bend(bike: Bike) -> list[Says]:
    g, out = bike.build.guard, []
    for path, cable in (("guard.cable", g.cable), ("guard.phase_cable", g.phase_cable)):
        outer, inside = cable.outer_m.amount, cable.bend_m.amount
        if outer is not None and inside is not None and inside < BEND_OUTER * outer:
            out.append(
                Says(
                    "caution",
                    "A cable is bent too tightly",
                    f"Inside radius {q(inside, 'm')} on a cable of {q(outer, 'm')}: strands break "
                    f"inside the sleeve. At least {q(BEND_OUTER * outer, 'm')}.",
                    inside,
                    BEND_OUTER * outer,
                    "m",
                    parts=(path,),
                    at=path.split(".")[1],
                )
            )
    return out


@check(
    "guard.past_cont",
    "line amps are above what the chain carries for good",
    source=Source("computed", "RMS current over the time against continuous ratings"),
)
def past_cont(bike: Bike) -> Says | None:
    load, run, chosen = load_a(bike), opening(bike), advice(bike)
    if load is None or run is None or chosen is None or load <= chosen.amps:
        return None
    short = [x for x in chain(bike) if x.allows_a is not None and x.allows_a < load]
    worked = run.worked_a
    names = ", ".join(f"{x.label} {q(x.allows_a or 0.0, 'a')}" for x in short)
    over = worked > chosen.amps
    return Says(
        "caution" if over and run.session else "note",
        "The line amps are for a while only",
        f"{q(load, 'a')} are set; for good it is {names}. {run.words} the current that warms them is "
        f"{q(worked, 'a')} RMS{', more than they carry for good' if over else ''}. The chain carries "
        f"{q(chosen.amps, 'a')}: {chosen.words}.",
        load,
        chosen.amps,
        "a",
        parts=tuple(x.path for x in short),
        fixes=(chosen.fix,),
    )
