"""Commissioning: from cold checks to the first full run and after it, as gates in order, made from the build.

Each says what to do, with what, what must be read and why it fails; one that protects a hand or an inverter is a hold
point: nothing after it counts while it is open or failed. Common practice from memory unless a standard is named.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.cells import SAFE_V, cell_empty_v, cell_full_v
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.prove.fitted import changed_since
from ninebolt.core.bolts.prove.places import (
    FULL_HIGH_V,
    FULL_LOW_V,
    GRIP_V,
    REST_HIGH_V,
    REST_LOW_V,
    RISE_K,
    SPREAD_V,
)
from ninebolt.core.build import GateEntry
from ninebolt.core.finding import q
from ninebolt.core.guard.isolation import JOINED_OHM_PER_V, MIN_OHM_PER_V
from ninebolt.core.limits import Limit
from ninebolt.core.value import Value
from ninebolt.core.vehicle.chain import BELT_PITCH_M, slack_m

RESTED_V = Limit(0.05, "v", "between groups before first power")
FILLED = Limit(
    0.90, "ratio", "of the pack's volts that the controller stands at before the contactor closes"
)
IDLE_LEAST_A = Limit(0.05, "a", "a wheel that turns takes some: less, and the meter reads nothing")
COLDEST_C = Limit(-30.0, "c", "a motor that was ridden and reads colder is not read at all")
FREE_A = Limit(8.0, "a", "line amps with the wheel free and a small twist")
PLUG_K = Limit(30.0, "k", "of a plug after the first pull: felt as hot")
BACK_DEG = Limit(45.0, "ratio", "of a nut's turn at re-torque that says it was loose")


@dataclass(frozen=True, slots=True)
class Gate:
    """One gate. quantity '' is a yes or no. low, high: what must be read, None where there is no bound. hold: nothing
    after it counts before it is passed. phase: where in the work it stands."""

    key: str
    phase: str
    title: str
    do: str
    tool: str
    quantity: str
    low: float | None
    high: float | None
    hold: bool
    caution: str
    causes: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class GateState:
    """A gate with what was entered. state: passed, failed, open, blocked (an earlier hold point is not passed). others:
    parts that are others now than when it was passed, which opens it again."""

    gate: Gate
    state: str
    value: float | None
    note: str
    who: str
    at: str
    behind: str
    others: tuple[str, ...] = ()


PHASES = ("cold", "first power", "wheel free", "first ride", "full run", "after it")


def gates_of(bike: Bike) -> tuple[Gate, ...]:
    """Every gate that this build needs, in order."""
    return tuple(
        g for g in (*_cold(bike), *_power(bike), *_free(bike), *_ride(bike)) if g is not None
    )


def _span(bike: Bike) -> tuple[float | None, float | None]:
    pack = bike.build.pack
    if not pack.series or math.isnan(cell_full_v(pack.cell)):
        return None, None
    return pack.series * cell_empty_v(pack.cell), pack.series * cell_full_v(pack.cell) * 1.005


def _cold(bike: Bike) -> list[Gate | None]:
    low, high = _span(bike)
    facts = pack_facts(bike)
    alone, joined = (x * facts.full_v if facts else None for x in (MIN_OHM_PER_V, JOINED_OHM_PER_V))
    return [
        Gate(
            "marks_cold",
            "cold",
            "Bolts are torqued and marked",
            "Torque axle, motor mounts, brake and battery bolts; paint a mark across each.",
            "torque wrench, paint pen",
            "",
            None,
            None,
            False,
            "",
            ("no torque given: use the class of the bolt", "thread damaged: replace it"),
        ),
        Gate(
            "cell_spread",
            "cold",
            "Groups stand together",
            "Rest an hour; greatest minus least group.",
            "BMS or meter at the balance plug",
            "v",
            0.0,
            float(RESTED_V),
            True,
            "A group that lies behind is charged alone, at small current, watched; under 2.0 V it is scrap.",
            ("not balanced yet", "a weak group", "a balance lead in the wrong place"),
        ),
        Gate(
            "polarity",
            "cold",
            "Plus is plus",
            "Volts at the pack's own plug, red probe on the plus pin.",
            "meter, 1000 V CAT III leads",
            "v",
            low,
            high,
            True,
            "One hand behind you. Swapped poles destroy controller and capacitors at the first contact.",
            (
                "probes swapped",
                "pins swapped in the plug: do not connect",
                "pack of another number of cells",
            ),
        ),
        Gate(
            "isolation",
            "cold",
            "Nothing touches the frame",
            "Pack alone, controller unplugged: two readings pole to frame, one with a known resistor; what follows.",
            "meter and a resistor, or an insulation tester",
            "ohm",
            alone,
            None,
            True,
            "100 Ω a volt is the least for the DC side alone (ISO 6469-3, UN R136); a wet or worn lead reads less.",
            (
                "a lead rubbed through",
                "water or carbon dust",
                "a metal case that is bonded to a pole",
            ),
        ),
        Gate(
            "plugs",
            "cold",
            "Every plug is home",
            "Push, hear or see the lock, pull.",
            "hand",
            "",
            None,
            None,
            True,
            "A half-seated plug melts at the first pull.",
            ("a pin pushed back", "a seal in the way"),
        ),
        Gate(
            "isolation_all",
            "cold",
            "Nothing touches the frame, all plugged",
            "Controller, motor and converter plugged, key off: the same two readings, or the tester from both poles to "
            "the frame.",
            "meter and a resistor, or an insulation tester under the controller's volts",
            "ohm",
            joined,
            None,
            True,
            "500 Ω a volt is the least with the inverter joined (ISO 6469-3, UN R136). A tester of more volts than the "
            "controller stands destroys it.",
            (
                "a wet or pinched motor plug",
                "a phase lead rubbed through",
                "a converter that ties minus to the frame",
            ),
        ),
        Gate(
            "brake_cold",
            "cold",
            "Both brakes hold",
            "Lever and pedal, bike pushed.",
            "hand",
            "",
            None,
            None,
            True,
            "No power before the bike can be held.",
            ("air in the line", "pads not on the disc"),
        ),
    ]


def _power(bike: Bike) -> list[Gate | None]:
    b, facts = bike.build, pack_facts(bike)
    t = b.tune
    filled = FILLED * facts.empty_v if facts and not math.isnan(facts.empty_v) else None
    iso, pre = b.guard.isolator, b.guard.precharge
    fills = iso.kind == "contactor" or (pre.there is True and pre.r_ohm.known)
    what = iso.kind if iso.kind in ("contactor", "breaker") else "main contact"
    precharge = Gate(
        "precharge",
        "first power",
        "The capacitors fill before it closes",
        f"Meter at the controller's terminals: volts just before the {what} closes.",
        "meter with a peak or a second person",
        "v",
        filled,
        None,
        True,
        f"A {what} that closes on empty capacitors welds or burns. Stand aside.",
        ("resistor open", "something draws behind it", "the delay is too short"),
    )
    drop = Gate(
        "drop_out",
        "first power",
        "It lets go",
        "Key off: volts at the controller after a minute.",
        "meter",
        "v",
        0.0,
        float(SAFE_V),
        True,
        f"Measured under {q(float(SAFE_V), 'v')} before a hand goes in, every time.",
        (
            "contactor welded",
            "a second path past it",
            "no bleed resistor: wait, or discharge by a lamp",
        ),
    )

    def end(key: str, title: str, do: str, told: float | None, usual: tuple[float, float]) -> Gate:
        low, high = usual if told is None else (told - GRIP_V, told + GRIP_V)
        return Gate(
            key,
            "first power",
            title,
            do,
            "meter at the signal wire",
            "v",
            low,
            high,
            True,
            "Wheel free: a throttle that reads full at rest drives off.",
            ("a wire off or shorted", "ground missing", "another kind of throttle than was set"),
        )

    return [
        Gate(
            "small_fuse",
            "first power",
            "First power through a small fuse or a lamp",
            "Main fuse out, a 5 A fuse or a lamp of the pack's volts in its place; key on: it does not blow.",
            "small fuse or lamp",
            "",
            None,
            None,
            True,
            "Stand aside; never lean over the pack.",
            ("a short behind the fuse", "capacitors filled without precharge"),
        ),
        precharge if fills else None,
        drop,
        Gate(
            "live_off",
            "first power",
            "No live metal with the key off",
            "Every bare point to frame, key off.",
            "meter",
            "v",
            0.0,
            float(SAFE_V),
            True,
            "",
            ("a lead before the switch", "a charger plug without a cover"),
        ),
        Gate(
            "live_on",
            "first power",
            "Nothing live can be touched with the key on",
            "Key on: look at every joint; a finger cannot reach metal.",
            "eye, test finger",
            "",
            None,
            None,
            True,
            "",
            ("a cover missing", "a boot not pulled over"),
        ),
        Gate(
            "live_charge",
            "first power",
            "Nothing live can be touched while it charges",
            "The same with the charger on.",
            "eye, test finger",
            "",
            None,
            None,
            False,
            "",
            ("charge socket without a cover", "a floating output that is not"),
        ),
        end(
            "throttle_rest",
            "Throttle at rest",
            "Hand off.",
            t.throttle_rest_v.amount,
            (REST_LOW_V, REST_HIGH_V),
        ),
        end(
            "throttle_full",
            "Throttle at full",
            "To its stop, wheel free, brake held.",
            t.throttle_full_v.amount,
            (FULL_LOW_V, FULL_HIGH_V),
        ),
        Gate(
            "brake_cut",
            "first power",
            "The brake lever cuts the drive",
            "Live view or lamp: lever pulled, twist a little.",
            "live view",
            "",
            None,
            None,
            True,
            "",
            ("switch not adjusted", "input not enabled in the set"),
        ),
        Gate(
            "stand_tip",
            "first power",
            "Stand and tip-over cut the drive",
            "Stand out; then the sensor turned by hand.",
            "live view",
            "",
            None,
            None,
            False,
            "",
            ("not fitted: say so in Wire", "bypassed for a test and forgotten"),
        ),
    ]


def _free(bike: Bike) -> list[Gate | None]:
    return [
        Gate(
            "identified",
            "wheel free",
            "Motor identified",
            "Run the identification; take it into the build; write the set.",
            "the link",
            "",
            None,
            None,
            True,
            "Wheel off the ground or chain off, hand on the disconnect.",
            ("a hall dead or in another order", "phases not home", "wheel not free"),
        ),
        Gate(
            "direction",
            "wheel free",
            "It turns forward",
            "A small twist, first mode.",
            "eye",
            "",
            None,
            None,
            True,
            "Nobody in front or behind.",
            ("two phases swapped", "direction not set"),
        ),
        Gate(
            "free_amps",
            "wheel free",
            "It turns with few amps",
            "A quarter twist, steady: line amps.",
            "live view or clamp",
            "a",
            float(IDLE_LEAST_A),
            float(FREE_A),
            True,
            "A rotor angle that is wrong takes many amps and little speed.",
            ("rotor offset wrong", "brake drags", "chain too tight"),
        ),
    ]


def _run_words(bike: Bike) -> str:
    gear = bike.build.gear
    if gear.chain in BELT_PITCH_M:
        return "Tension by gauge or tone, as its maker's table says; no stone in it; guards on; straight edge."
    at = gear.run.centre_m.amount
    span = (
        f"{q(slack_m(at)[0], 'm')} to {q(slack_m(at)[1], 'm')} up and down in the middle, rider off"
        if at
        else "as the frame's maker says: the way from shaft to axle is not measured"
    )
    return f"Slack at the tightest place: {span}; straight edge on the rear sprocket."


def _ride(bike: Bike) -> list[Gate | None]:
    limit = bike.build.drive.motor.temp_max_c.taken
    hub, belt = bike.build.drive.motor.kind == "hub", bike.build.gear.chain in BELT_PITCH_M
    return [
        Gate(
            "brakes_bedded",
            "first ride",
            "Brakes are bedded",
            "Ten stops from walking to running pace, then five harder.",
            "a closed place",
            "",
            None,
            None,
            True,
            "Helmet and gear; nobody else on the ground.",
            ("glazed pads", "oil on the disc"),
        ),
        Gate(
            "slow_ride",
            "first ride",
            "First slow ride",
            "First mode, ten minutes, stop and feel: plugs, motor, controller.",
            "hand, thermometer",
            "c",
            float(COLDEST_C),
            limit,
            True,
            "",
            ("brake drags", "rotor offset", "poor joint"),
        ),
        Gate(
            "plug_warm",
            "first ride",
            "Plugs after the first pull",
            "Rise of the hottest plug after one pull of ten seconds.",
            "contact thermometer",
            "k",
            0.0,
            float(PLUG_K),
            True,
            "Arced or melted: replace, never clean.",
            ("not home", "crimp poor", "too small for the amps"),
        ),
        None
        if hub
        else Gate(
            "chain",
            "first ride",
            "Belt tension and line" if belt else "Chain slack and line",
            _run_words(bike),
            "tension gauge, straight edge" if belt else "rule, straight edge",
            "",
            None,
            None,
            False,
            "",
            ("axle not square", "sprocket out of line"),
        ),
        Gate(
            "full_run",
            "full run",
            "First full run",
            "Road or strip closed, a second person, cold and warm motor known.",
            "logger",
            "",
            None,
            None,
            True,
            "Road law decides where. Quarantine the bike after any fall or smell.",
            ("cut out: fault finder", "wobble: stance, tyres, bearings"),
        ),
        Gate(
            "retorque",
            "after it",
            "Bolts again",
            "Torque every bolt again: turns of the loosest, in parts of a turn.",
            "torque wrench",
            "ratio",
            0.0,
            float(BACK_DEG) / 360.0,
            False,
            "A mark that has moved is looked into before the next ride.",
            ("paint under the head", "wrong grade", "no lock"),
        ),
        Gate(
            "spread_after",
            "after it",
            "Groups after the first ride",
            "Rest an hour; greatest minus least group.",
            "BMS",
            "v",
            0.0,
            float(SPREAD_V),
            False,
            "",
            ("a weak group", "balance off"),
        ),
        Gate(
            "case_after",
            "after it",
            "Motor's case after ten seconds at 50 A",
            "Rise of the case.",
            "contact thermometer",
            "k",
            0.0,
            float(RISE_K),
            False,
            "",
            ("winding over its label", "case does not touch its seat"),
        ),
    ]


@fact
def gate_states(bike: Bike) -> tuple[GateState, ...]:
    """Each gate with what was entered, judged; what was entered behind an open hold point does not count."""
    entered = {e.key: e for e in bike.build.prove.gates}
    out: list[GateState] = []
    behind = ""
    for g in gates_of(bike):
        e = entered.get(g.key)
        passed = judged(g, e)
        others = changed_since(bike, e.on) if e and passed == "passed" else ()
        state = "blocked" if behind else "open" if others else passed
        out.append(
            GateState(
                g,
                state,
                e.value.amount if e else None,
                e.note if e else "",
                e.who if e else "",
                e.at if e else "",
                behind,
                others,
            )
        )
        if not behind and g.hold and state != "passed":
            behind = g.key
    return tuple(out)


COLD, UNDER_POWER = "cold", ("first power", "wheel free")  # phases before a ride


def passes(g: Gate, value: float | None, passed: bool | None) -> bool:
    """Whether an entry would pass the gate, whatever stands before it."""
    return (
        judged(g, GateEntry(key=g.key, value=Value(value, "measured"), passed=passed)) == "passed"
    )


def judged(g: Gate, e: GateEntry | None) -> str:
    """passed, failed or open, whatever stands before it."""
    if e is None or (e.passed is None and not e.value.known):
        return "open"
    if not g.quantity:
        return "passed" if e.passed else "failed"
    value = e.value.amount
    if value is None or e.passed is False:
        return "failed" if e.passed is False else "open"
    if g.low is None and g.high is None:
        return "open"  # nobody knows what must be read: no reading passes
    if (g.low is not None and value < g.low) or (g.high is not None and value > g.high):
        return "failed"
    return "passed"
