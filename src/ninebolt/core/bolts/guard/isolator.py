"""Judgements of the Guard bolt: contactor, breaker or unplugging, and the main plug."""

from __future__ import annotations

import math

from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bike.cells import CLASS_B_V
from ninebolt.core.bike.opening import GuardRun
from ninebolt.core.bolts.common import Notes
from ninebolt.core.build import Build
from ninebolt.core.finding import BUILD, PRACTICE, Change, Fix, Source, q, setting
from ninebolt.core.guard.fuse import BREAKER, least_rating

COIL_SHARE = 0.25  # how far a coil's voltage may stand off its feed. Common practice, no source.


def judge_isolator(
    build: Build, notes: Notes, facts: PackFacts | None, load: float | None, run: GuardRun | None
) -> None:
    """What opens the path by hand or by itself, and the plug."""
    _isolator_and_plug(build, notes, facts, load)
    _isolator(build, notes, facts)
    _breaker_run(build, notes, run)
    _plug(build, notes, facts)


def next_volts(what: str, path: str, need: float) -> Fix:
    step = next((v for v in (80.0, 100.0, 125.0, 150.0, 250.0, 500.0) if v >= need), 1000.0)
    return Fix(f"{what} for {step:.0f} V DC", (setting(path, step, "label"),))


def _isolator_and_plug(
    build: Build, notes: Notes, facts: PackFacts | None, load: float | None
) -> None:
    g = build.guard
    for path, label, volts, cont, peak in (
        (
            "guard.isolator",
            g.isolator.kind,
            g.isolator.dc_v.amount,
            g.isolator.i_cont_a.amount,
            None,
        ),
        (
            "guard.plug",
            "main plug",
            g.plug.dc_v.amount,
            g.plug.i_cont_a.amount,
            g.plug.i_peak_a.amount,
        ),
    ):
        key = path.split(".")[1]
        if facts and volts is not None and volts < facts.full_v:
            notes.add(
                "stop",
                f"{key}_v",
                f"The {label} is not rated for this voltage",
                f"{q(volts, 'v')} DC against {q(facts.full_v, 'v')} full: opened under load it "
                "can weld or burn.",
                BUILD,
                measured=facts.full_v,
                limit=volts,
                quantity="v",
                parts=(path,),
                fixes=(next_volts(f"Fit a {label}", f"{path}.dc_v", facts.full_v),),
            )
        if load is not None and cont is not None and load > (peak or cont * 1.5):
            want = math.ceil(load / 1.3 / 10) * 10
            changes = [setting(f"{path}.i_cont_a", want, "label")]
            if peak is not None:
                changes.append(setting(f"{path}.i_peak_a", want * 1.6, "label"))
            notes.add(
                "caution",
                f"{key}_a",
                f"The {label} is small for the line amps",
                f"{q(load, 'a')} against {q(cont, 'a')} continuous"
                + (f" and {q(peak, 'a')} peak" if peak else "")
                + ". Contacts heat, and a plug not pushed home burns at the first full throttle.",
                BUILD,
                measured=load,
                limit=peak or cont,
                quantity="a",
                parts=(path,),
                fixes=(Fix(f"Fit one of {want} A", tuple(changes)),),
            )


def _breaker_run(build: Build, notes: Notes, run: GuardRun | None) -> None:
    """A breaker's time-current curve along a run and along the session."""
    opens = run.breaker if run else None
    iso = build.guard.isolator
    rated = iso.i_cont_a.amount
    if run is None or opens is None or rated is None:
        return
    want = least_rating(run.t_s, run.line_a, iso.opens or BREAKER)
    notes.add(
        "stop",
        "breaker_run",
        "The breaker opens on a full-throttle run",
        f"{q(opens.line_a, 'a')} is {opens.line_a / rated:.1f} times its {q(rated, 'a')}; by the "
        f"middle of its curve it opens after {q(opens.t_s, 's')}{opens.words} near "
        f"{q(opens.speed_m_s, 'm_s')}, a warm one sooner.",
        Source("memory", "thermal-magnetic band after IEC 60947-2, or the curve given"),
        measured=opens.line_a,
        limit=rated,
        quantity="a",
        parts=("guard.isolator",),
        fixes=(
            Fix(
                f"Fit a {want:.0f} A breaker",
                (setting("guard.isolator.i_cont_a", want, "label"),),
            ),
        ),
    )


def _isolator(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    """DC or AC, coil supply, suppression, the key's order (D7)."""
    iso, dcdc = build.guard.isolator, build.guard.dcdc
    if iso.rated_for == "AC only":
        notes.add(
            "stop",
            "isolator_ac",
            f"The {iso.kind} is made for alternating current",
            "An AC arc goes out at every zero crossing; a DC arc has none and burns on. Fit one "
            "with a DC rating at this voltage.",
            PRACTICE,
            measured=0,
            limit=facts.full_v if facts else None,
            quantity="v",
            parts=("guard.isolator",),
        )
    if iso.kind == "unplug" and facts and facts.full_v > CLASS_B_V:
        notes.add(
            "note",
            "unplug",
            "Isolation is by pulling the plug",
            "Never under load, and never as the only way to stop: a gloved hand must reach another "
            "one (kill switch to the controller) while riding.",
            PRACTICE,
            measured=facts.full_v,
            limit=CLASS_B_V,
            quantity="v",
            parts=("guard.isolator",),
        )
    if iso.kind != "contactor":
        return
    if iso.coil_feed == "converter" and dcdc.feed == "behind the contactor":
        notes.add(
            "stop",
            "coil_loop",
            "The contactor can never close",
            "Its coil is fed by the converter, and the converter gets its power only behind the "
            "contactor. Feed the coil before it, or from a 12 V battery.",
            Source("build", "feeds as written in this build"),
            measured=0,
            limit=1,
            parts=("guard.isolator", "guard.dcdc"),
        )
    feed = {
        "converter": dcdc.out_v.amount,
        "pack": facts.full_v if facts else None,
        "auxiliary battery": 12.0,
    }.get(iso.coil_feed)
    coil = iso.coil_v.amount
    if feed is not None and coil is not None and abs(feed - coil) > COIL_SHARE * coil:
        notes.add(
            "stop" if feed > coil else "caution",
            "coil_v",
            "The coil does not fit what feeds it",
            f"A coil for {q(coil, 'v')} on {q(feed, 'v')}: it burns, or drops out and arcs.",
            BUILD,
            measured=feed,
            limit=coil,
            quantity="v",
            parts=("guard.isolator",),
        )
    if iso.suppression == "none":
        notes.add(
            "caution",
            "coil_diode",
            "The coil has no suppression",
            "Each time it opens, the coil's spike goes into the key switch and the converter. A "
            "diode with a zener across it lets go fast; a bare diode slows the contacts.",
            PRACTICE,
            measured=0,
            limit=1,
            parts=("guard.isolator",),
        )
    if iso.key_first is False:
        notes.add(
            "caution",
            "key_order",
            "The contactor closes without the key",
            "Key, precharge, wait, contactor, in this order; key off opens it again.",
            PRACTICE,
            measured=0,
            limit=1,
            parts=("guard.isolator",),
        )


def _plug(build: Build, notes: Notes, facts: PackFacts | None) -> None:
    """Seating and polarity (D11)."""
    plug = build.guard.plug
    if plug.seated == "by feel":
        notes.add(
            "caution",
            "plug_seat",
            "Nothing shows that the main plug is home",
            "A plug that is not pushed home arcs and melts at the first full throttle. Paint a "
            "line across both halves, or write down the depth.",
            PRACTICE,
            measured=0,
            limit=1,
            parts=("guard.plug",),
            fixes=(Fix("I have painted a line", (Change("guard.plug.seated", "witness line"),)),),
        )
    if plug.keyed is False and facts:
        notes.add(
            "stop",
            "plug_poles",
            "The main plug goes in the wrong way round",
            f"{q(facts.full_v, 'v')} the wrong way round destroys the controller and its "
            "capacitors. Fit a keyed plug, or different plugs for both poles.",
            PRACTICE,
            measured=0,
            limit=1,
            parts=("guard.plug",),
        )
