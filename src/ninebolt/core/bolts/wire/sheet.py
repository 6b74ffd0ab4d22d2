"""Wire: the hook-up sheet: boxes in the order of the current, steps in the order of the work, leads."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.cells import SAFE_V
from ninebolt.core.build import Build
from ninebolt.core.finding import q


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
            f"Nothing below is done with the pack connected. Measure at the controller: under {q(SAFE_V, 'v')} "
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


def _row(mark: str, colour: str, motor: str, confirmed: bool | None) -> LeadRow:
    same = bool(colour) and colour.strip().lower() == motor.strip().lower()
    return LeadRow(mark, colour, motor, bool(confirmed), same)


def phase_rows(build: Build) -> tuple[LeadRow, ...]:
    """The phase leads as mapped."""
    return tuple(
        _row(x.controller_mark, x.controller_colour, x.motor_colour, x.confirmed)
        for x in build.wire.phases
    )


def hall_rows(build: Build) -> tuple[LeadRow, ...]:
    """The hall leads as mapped."""
    return tuple(
        _row(x.controller_mark, x.controller_colour, x.motor_colour, x.confirmed)
        for x in build.wire.halls
    )
