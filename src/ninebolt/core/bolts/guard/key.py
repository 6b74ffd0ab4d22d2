"""Guard: the order in which the key switches, and how the bike is made safe to touch."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bike.cells import SAFE_V
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.guard.limits import FILLED
from ninebolt.core.build import Build
from ninebolt.core.finding import q
from ninebolt.core.guard.precharge import peak_w, time_to_share_s


@dataclass(frozen=True, slots=True)
class Sequence:
    """Steps in order, with this build's numbers."""

    title: str
    steps: tuple[str, ...]


def sequences(bike: Bike) -> tuple[Sequence, ...]:
    """On, off, and safe to touch; empty while the pack does not compute."""
    build, facts = bike.build, pack_facts(bike)
    if facts is None:
        return ()
    return (_on(build, facts), Sequence("Key off", _off(build)), _safe(build, facts))


def _fill_s(build: Build) -> float | None:
    r = build.guard.precharge.r_ohm.amount
    cap = build.drive.controller.c_bus_farad.amount
    return time_to_share_s(r, cap, FILLED) if r is not None and cap is not None else None


def _on(build: Build, facts: PackFacts) -> Sequence:
    g = build.guard
    closes = {
        "contactor": "the contactor closes",
        "breaker": "close the breaker",
        "unplug": "push the plug home, in one go, and see its mark",
    }[g.isolator.kind]
    steps = ["Throttle shut, side stand up, nobody in front of the wheel."]
    r, wait = g.precharge.r_ohm.amount, _fill_s(build)
    if r is None:
        steps.append("Precharge: none fitted. The contact takes the whole inrush.")
    else:
        steps.append(
            f"Key on: the capacitors fill through {q(r, 'ohm')}, at first "
            f"{q(facts.full_v / r, 'a')} and {q(peak_w(r, facts.full_v), 'w')}; converter and "
            "lights still off."
        )
        if wait is None:
            steps.append("Wait for 95 %: give the controller's bus capacitance to know how long.")
        else:
            steps.append(f"Wait {q(max(wait, g.precharge.delay_s.or_else(0.0)), 's')}: 95 % full.")
    steps.append(f"Then {closes}; then converter and lights; then the controller's enable.")
    return Sequence("Key on", tuple(steps))


def _off(build: Build) -> tuple[str, ...]:
    opens = (
        "the contactor opens" if build.guard.isolator.kind == "contactor" else "open the isolator"
    )
    live = build.guard.dcdc.feed == "before the contactor"
    return (
        "Throttle shut first: an isolator that opens under load arcs.",
        f"Controller's enable off, then {opens}.",
        "The converter, fed before the contactor, stays live."
        if live
        else "Lights and converter go off with it.",
    )


def _safe(build: Build, facts: PackFacts) -> Sequence:
    """No promise of seconds: a bleed resistor may be missing or broken, so it is measured."""
    live = build.guard.dcdc.feed == "before the contactor"
    steps = [
        "Key off, isolator open, main plug pulled and kept where it cannot fall back in.",
        f"The controller's capacitors hold {q(facts.full_v, 'v')} for seconds or for hours: nothing "
        "tells which but a meter.",
        "Meter on a known source, then between the controller's poles, then on the known source "
        f"again: under {q(SAFE_V, 'v')}, every time, before a hand goes in. If it stays, drain it "
        "through a resistor or lamp made for this voltage, and measure again.",
        "The pack itself stays live: cover its poles.",
    ]
    if live:
        steps.insert(1, "The converter is fed before the isolator: pull its fuse as well.")
    return Sequence("Safe to touch", tuple(steps))
