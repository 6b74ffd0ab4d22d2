"""Wire: the hook-up sheet: boxes in the order of the current, steps in the order of the work, leads."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass
from typing import Literal

from ninebolt.core.bike.cells import SAFE_V
from ninebolt.core.bike.interlocks import InputState, input_states
from ninebolt.core.bike.path import charger_v
from ninebolt.core.build import Build
from ninebolt.core.finding import q
from ninebolt.core.parts.base import Fitting
from ninebolt.core.value import Value


@dataclass(frozen=True, slots=True)
class Step:
    """One step of the hook-up. live: the pack can be touched while doing it."""

    key: str
    title: str
    detail: str
    live: bool
    done: bool


State = InputState | Literal["not there"]


@dataclass(frozen=True, slots=True)
class Node:
    """A box of the hook-up diagram. state: open is what nobody has looked at. at: what it hangs on, of a branch."""

    path: str
    label: str
    detail: str
    state: State
    at: str = ""


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
    """Nodes in the order of the current, what branches off them, what goes into the controller; steps in the order
    of the work, leads as mapped."""

    nodes: tuple[Node, ...]
    branches: tuple[Node, ...]
    inputs: tuple[Node, ...]
    steps: tuple[Step, ...]
    phases: tuple[LeadRow, ...]
    halls: tuple[LeadRow, ...]


def _amps(x: Value) -> str:
    return q(x.amount, "a") if x.amount is not None else "rating unknown"


def _fitting(path: str, label: str, part: Fitting, detail: str, at: str = "") -> Node:
    """A part that may be missing: what is not there has no rating, whatever is still typed."""
    if part.there is None:
        return Node(path, label, "not looked at", "open", at)
    if not part.there:
        return Node(path, label, "not there", "not there", at)
    return Node(path, label, detail, "fitted", at)


def _known(path: str, label: str, detail: str, known: bool) -> Node:
    return Node(path, label, detail, "fitted" if known else "open")


def nodes_of(build: Build) -> tuple[Node, ...]:
    """Battery, fuse, contactor, controller, motor: the wiring order, from this build's parts."""
    g, c, m, p = build.guard, build.drive.controller, build.drive.motor, build.pack
    size = f"{p.series}s{p.parallel}p" if p.series and p.parallel else "size unknown"
    section = g.cable.section_m2.amount
    area = f"{section * 1e6:.0f} mm²" if section else "section unknown"
    bms = _fitting("guard.bms", "BMS", g.bms, f"{_amps(g.bms.i_cont_a)}, {g.bms.discharge}")
    if bms.state == "fitted" and g.bms.discharge == "bypassed":
        bms = dataclasses.replace(bms, detail="bypassed: it opens nothing", state="bypassed")
    return (
        _known("pack", "Pack", size, p.series is not None),
        bms,
        _fitting("guard.fuse", "Fuse", g.fuse, _amps(g.fuse.rated_a)),
        _fitting(
            "guard.isolator", g.isolator.kind.capitalize(), g.isolator, _amps(g.isolator.i_cont_a)
        ),
        _fitting("guard.plug", "Main plug", g.plug, _amps(g.plug.i_cont_a)),
        _known("guard.cable", "Cable", area, section is not None),
        _known("drive.controller", "Controller", _amps(c.line_max_a), c.line_max_a.known),
        _known("drive.motor", "Motor", m.kind.replace("_", "-"), m.kv_rpm_v.known),
    )


def branches_of(build: Build) -> tuple[Node, ...]:
    """What hangs on the path without carrying it."""
    g = build.guard
    volts = charger_v(g.charger)
    ends = "end volts unknown" if math.isnan(volts) else f"ends at {q(volts, 'v')}"
    ohms, out, watts = g.precharge.r_ohm.amount, g.dcdc.out_v.amount, g.dcdc.rated_w.amount
    gives = [q(x, unit) for x, unit in ((out, "v"), (watts, "w")) if x is not None]
    return (
        _fitting("guard.charger", "Charger", g.charger, ends, "at the pack"),
        _fitting(
            "guard.precharge", "Precharge", g.precharge, "resistor unknown" if ohms is None else q(ohms, "ohm"),
            f"past the {g.isolator.kind}",
        ),
        _fitting(
            "guard.dcdc", "Step-down converter", g.dcdc, ", ".join(gives) or "rating unknown",
            "feed unknown" if g.dcdc.feed == "unknown" else f"fed {g.dcdc.feed}",
        ),
    )  # fmt: skip


def inputs_of(build: Build) -> tuple[Node, ...]:
    """What goes into the controller: the throttle, and what keeps the wheel from turning when it must not."""
    rest, full = build.tune.throttle_rest_v.amount, build.tune.throttle_full_v.amount
    throttle = Node("tune", "Throttle", "not measured", "open")
    if rest is not None and full is not None:
        throttle = Node("tune", "Throttle", f"{q(rest, 'v')} to {q(full, 'v')}", "fitted")
    return (
        throttle,
        *(Node("wire", n.capitalize(), s, s) for n, s in input_states(build).items()),
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
            "Fed before the contactor, as its coil hangs on it, its own small fuse at the pack."
            if g.dcdc.feed == "before the contactor"
            else "Fed from behind the contactor, its own small fuse.",
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
