"""Wire: how is it hooked up? The order of work, the colour-to-phase map, what is left open."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.cells import CLASS_B_V, facts_of
from ninebolt.core.bolts.common import Context, Notes, Result, figure
from ninebolt.core.build import Build
from ninebolt.core.finding import PRACTICE, Change, Fix, Source, q

# Inputs that keep the wheel from starting by itself.
SAFETY_INPUTS = ("brake cut-off", "side stand", "tip-over")


@dataclass(frozen=True, slots=True)
class Step:
    """One step of the hook-up. live: the pack can be touched while doing it."""

    key: str
    title: str
    detail: str
    live: bool
    done: bool


@dataclass(frozen=True, slots=True)
class Node:
    """A box of the hook-up diagram."""

    path: str
    label: str
    detail: str
    present: bool


@dataclass(frozen=True, slots=True)
class LeadRow:
    """One row of the colour map."""

    controller_mark: str
    controller_colour: str
    motor_colour: str
    confirmed: bool
    same_colour: bool


@dataclass(frozen=True, slots=True)
class WireDrawing:
    """Nodes in the order of the current, steps in the order of the work, leads as mapped."""

    nodes: tuple[Node, ...]
    steps: tuple[Step, ...]
    phases: tuple[LeadRow, ...]
    halls: tuple[LeadRow, ...]
    interlocks: tuple[tuple[str, str], ...]


def _amps(x: float | None) -> str:
    return f"{x:.0f} A" if x is not None else "rating unknown"


def nodes_of(build: Build) -> tuple[Node, ...]:
    """Battery, fuse, contactor, controller, motor: the wiring order, from this build's parts."""
    g, c, m, p = build.guard, build.drive.controller, build.drive.motor, build.pack
    size = f"{p.series}s{p.parallel}p" if p.series and p.parallel else "size unknown"
    section = g.cable.section_m2.amount
    area = f"{section * 1e6:.0f} mm²" if section else "section unknown"
    return (
        Node("pack.cell", "Pack", size, p.series is not None),
        Node(
            "guard.bms",
            "BMS",
            f"{_amps(g.bms.i_cont_a.amount)}, {g.bms.discharge}",
            g.bms.i_cont_a.known,
        ),
        Node("guard.fuse", "Fuse", _amps(g.fuse.rated_a.amount), g.fuse.rated_a.known),
        Node(
            "guard.isolator",
            g.isolator.kind.capitalize(),
            _amps(g.isolator.i_cont_a.amount),
            g.isolator.i_cont_a.known,
        ),
        Node("guard.plug", "Main plug", _amps(g.plug.i_cont_a.amount), g.plug.i_cont_a.known),
        Node("guard.cable", "Cable", area, section is not None),
        Node("drive.controller", "Controller", _amps(c.line_max_a.amount), c.line_max_a.known),
        Node("drive.motor", "Motor", m.kind.replace("_", "-"), m.kv_rpm_v.known),
    )


def steps_of(build: Build) -> tuple[Step, ...]:
    """The order of the work. Everything is joined before the pack is; the pack comes last."""
    g = build.guard
    plan: list[tuple[str, str, str, bool]] = [
        (
            "isolate",
            "Pack unplugged, fuse out",
            "Nothing below is done with the pack connected. Measure at the controller: under 5 V "
            "before a hand goes in.",
            False,
        ),
        (
            "ground",
            "12 V return and frame",
            "One star point; the traction pack stays off the frame.",
            False,
        ),
        (
            "phases",
            "Phase leads by letter, not by colour",
            "U, V, W as the controller marks them. Crimped, bolted, each with its own sleeve; "
            "apart from the signal leads.",
            False,
        ),
        (
            "halls",
            "Hall plug",
            "5 V, ground and three signals; check the supply pin before the motor is plugged in.",
            False,
        ),
        (
            "throttle",
            "Throttle",
            "Supply, signal, ground. Resting signal 0.8–1.2 V, full 3.5–4.3 V: write both down.",
            False,
        ),
        (
            "interlocks",
            "Brake cut-off, stand, tip-over",
            "Each one wired and tried. An input left open must be said, not forgotten.",
            False,
        ),
        (
            "dcdc",
            "Step-down converter and lights",
            "Fed from behind the contactor, its own small fuse.",
            False,
        ),
        (
            "cable",
            "Battery cable to the controller",
            "Plus through fuse and isolator, minus straight. Check polarity with a meter twice.",
            False,
        ),
    ]
    if g.precharge.r_ohm.known:
        plan.append(
            (
                "precharge",
                "Precharge across the contactor",
                f"{g.precharge.r_ohm.amount:.0f} Ω; try it before the contactor is wired in.",
                False,
            )
        )
    plan += [
        (
            "isolation",
            "Insulation to the frame",
            "Meter from each pole to the frame: no steady voltage. The two-reading method gives "
            "ohms per volt.",
            True,
        ),
        (
            "fuse",
            "Fuse in",
            "Last of all, glasses on, one hand, no jewellery. A way to pull it again within reach.",
            True,
        ),
        (
            "power",
            "First power",
            "Wheel off the ground and free, low power. Precharge, contactor, read the bus volts, "
            "then the throttle a finger's width.",
            True,
        ),
    ]
    done = set(build.wire.done)
    return tuple(Step(k, t, d, live, k in done) for k, t, d, live in plan)


def assess(build: Build, context: Context) -> Result:
    wire, notes = build.wire, Notes("wire")
    steps = steps_of(build)
    phases = tuple(
        _row(x.controller_mark, x.controller_colour, x.motor_colour, x.confirmed)
        for x in wire.phases
    )
    halls = tuple(
        _row(x.controller_mark, x.controller_colour, x.motor_colour, x.confirmed)
        for x in wire.halls
    )
    drawing = WireDrawing(
        nodes_of(build), steps, phases, halls, tuple((x.name, x.state) for x in wire.interlocks)
    )
    _judge(build, notes, phases, steps)
    missing = () if phases else ("wire.phases",)
    figures = (
        figure(
            "steps_done",
            "Steps done",
            sum(s.done for s in steps),
            "ratio",
            f"of {len(steps)} in the hook-up list",
        ),
        figure(
            "confirmed",
            "Leads confirmed",
            sum(r.confirmed for r in (*phases, *halls)),
            "ratio",
            f"of {len(phases) + len(halls)} mapped",
        ),
        figure(
            "lowest",
            "Lowest live point",
            wire.lowest_live_m.amount,
            "m",
            "height above the ground; deeper water reaches it",
        ),
    )
    return Result(figures, notes.done(), missing, drawing)


def _row(mark: str, colour: str, motor: str, confirmed: bool | None) -> LeadRow:
    same = bool(colour) and colour.strip().lower() == motor.strip().lower()
    return LeadRow(mark, colour, motor, bool(confirmed), same)


def _judge(
    build: Build, notes: Notes, phases: tuple[LeadRow, ...], steps: tuple[Step, ...]
) -> None:
    wire = build.wire
    open_leads = [r for r in phases if not r.confirmed]
    marks = [r.controller_mark for r in phases if r.controller_mark]
    if len(marks) != len(set(marks)) or len({r.motor_colour for r in phases}) < len(phases):
        notes.add(
            "stop",
            "twice",
            "A phase lead is used twice",
            f"The map has {len(phases)} rows for marks {', '.join(marks)}; each letter and each "
            "motor lead goes once.",
            PRACTICE,
            measured=len(set(marks)),
            limit=len(phases),
        )
    elif phases and all(r.same_colour for r in phases) and open_leads:
        notes.add(
            "caution",
            "colour",
            "Wired colour to colour, and not confirmed",
            "Makers do not agree which colour is U. A wrong order stutters, cogs or runs "
            "backwards. Run the identification, wheel free, chain off, then confirm.",
            PRACTICE,
            measured=len(phases) - len(open_leads),
            limit=len(phases),
            parts=("wire",),
        )
    elif open_leads:
        notes.add(
            "note",
            "confirm",
            "Phase order not confirmed yet",
            f"{len(open_leads)} of {len(phases)} leads. An identification run settles it; colour "
            "is never identity.",
            PRACTICE,
            measured=len(phases) - len(open_leads),
            limit=len(phases),
            parts=("wire",),
        )
    states = {x.name.lower(): x.state for x in wire.interlocks}
    for name in SAFETY_INPUTS:
        state = states.get(name, "open")
        if state != "fitted":
            notes.add(
                "caution",
                f"input_{name.replace(' ', '_')}",
                f"{name.capitalize()}: {state}",
                f"The {name} input is {state}; nothing stops the wheel "
                f"{'when you brake' if 'brake' in name else 'in that case'}. It is not ready for "
                "the road until this is fitted or replaced.",
                PRACTICE,
                parts=("wire",),
                measured=0,
                limit=1,
                fixes=(_fit_input(build, name),),
            )
    low = wire.lowest_live_m.amount
    axle = 0.25
    if low is not None and low < axle:
        notes.add(
            "caution",
            "ford",
            "A live point sits low",
            f"{q(low, 'm')} above the ground: water over that reaches it.",
            PRACTICE,
            measured=low,
            limit=axle,
            quantity="m",
        )
    facts = facts_of(build.pack)
    keys = [s.key for s in steps if s.done]
    early = [s for s in steps if not s.done and not s.live]
    if "fuse" in keys and early and facts and facts.full_v > CLASS_B_V:
        notes.add(
            "stop",
            "order",
            "The fuse is in before the rest is done",
            f"Open before it: {early[0].title}. Pull the fuse; {q(facts.full_v, 'v')} is live "
            "while you work.",
            Source("standard", "ISO 6469-3: class B above 60 V DC"),
            measured=len(early),
            limit=0,
            fixes=(
                Fix(
                    "Mark the fuse as out",
                    (Change("wire.done", [k for k in wire.done if k != "fuse"]),),
                ),
            ),
        )


def _fit_input(build: Build, name: str) -> Fix:
    rows = [
        {"name": x.name, "state": x.state} for x in build.wire.interlocks if x.name.lower() != name
    ]
    return Fix(
        f"Mark the {name} as fitted",
        (Change("wire.interlocks", [*rows, {"name": name, "state": "fitted"}]),),
    )
