"""May it be ridden now: the riding gate; and what a difference of charge does to a run."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.interlocks import input_states
from ninebolt.core.bike.running import top_mode
from ninebolt.core.bolts.prove.gates import GateState, gate_states
from ninebolt.core.build import Build
from ninebolt.core.finding import inside, listed
from ninebolt.core.logs.protocols import protocol as measured_by
from ninebolt.core.logs.session import Under
from ninebolt.services import workshop
from ninebolt.services.house import House
from ninebolt.services.sessions import model_of
from ninebolt.services.standing import stops, unlooked

GEAR = ("helmet", "gloves", "boots", "jacket or armour", "goggles")
MUST = ("helmet", "gloves", "boots")
BEFORE_A_RIDE = ("brakes_bedded", "drop_out", "throttle_rest", "brake_cut", "direction")


@dataclass(frozen=True, slots=True)
class Point:
    """One thing looked at before a ride. state: go, open, stop."""

    what: str
    state: str
    why: str


@dataclass(frozen=True, slots=True)
class RideGate:
    """go only where nothing is open or stopped."""

    go: bool
    points: tuple[Point, ...]
    sentence: str


def ride_gate(
    house: House, build_id: str, gear: list[str], second_person: bool | None, closed: bool | None
) -> RideGate:
    """What stands between the bike and a ride. Raises NotFoundError."""
    build = workshop.kept_build(house, build_id)
    standing = [Point(f.title, "stop", f"a stop stands in {f.bolt}") for f in stops(house, build)]
    gone = unlooked(house, build)
    if gone:
        what = "what must be known before first power"
        standing.append(Point(what, "open", f"not looked at, {listed(gone, 4)}"))
    points = [*standing, *_bike(build), *_rider(gear),
              _yes("a second person is there", second_person, "nobody would see a fall"),
              _yes("a closed course, or a road where it is allowed", closed, "road law decides where")]  # fmt: skip
    bad = [p for p in points if p.state != "go"]
    stopped = [p for p in bad if p.state == "stop"]
    words = (
        "It may be ridden."
        if not bad
        else (f"Not now: {listed([f'{p.what} – {p.why}' for p in stopped or bad], 3, '; ')}.")
    )
    return RideGate(not bad, tuple(points), words)


def _yes(what: str, answer: bool | None, why: str) -> Point:
    return Point(
        what, "open" if answer is None else "go" if answer else "stop", "" if answer else why
    )


def _why(s: GateState) -> str:
    if s.others:
        return f"passed with another {listed(s.others, 9)}"
    return "" if s.state == "passed" else f"gate {s.state}"


def _bike(build: Build) -> list[Point]:
    out = [
        Point(
            "not in quarantine", "stop" if build.prove.quarantine else "go", build.prove.quarantine
        )
    ]
    states = {s.gate.key: s for s in gate_states(Bike(build))}
    failed = [k for k, s in states.items() if s.state == "failed"]
    for key in dict.fromkeys((*BEFORE_A_RIDE, *failed)):
        s = states.get(key)
        if s is not None:
            state = {"passed": "go", "failed": "stop"}.get(s.state, "open")
            out.append(Point(inside(s.gate.title), state, _why(s)))
    for name, state in input_states(build).items():
        word = {"fitted": "go", "bypassed": "stop"}.get(state, "open")
        out.append(Point(name, word, "" if word == "go" else f"it is {state}"))
    mode = top_mode(Bike(build))
    if mode is None:
        out.append(Point("brakes and tyres are judged", "open", "what they stand is not known"))
    else:
        held = mode.speed_m_s is not None or mode.open
        why = f"{mode.why[0]}: ride in a mode that is capped" if mode.why else ""
        out.append(
            Point(
                "brakes and tyres are fit for its top speed",
                "open" if held else "go",
                why if held else "",
            )
        )
    return out


def _rider(gear: list[str]) -> list[Point]:
    worn = {g.strip().lower() for g in gear}
    return [
        Point(
            g,
            "go" if g in worn else "stop" if g in MUST else "open",
            "" if g in worn else "not worn",
        )
        for g in GEAR
    ]


@dataclass(frozen=True, slots=True)
class ChargeEffect:
    """A protocol's predicted value at two charges, and which is helped."""

    first: float | None
    second: float | None
    share: float | None
    sentence: str


def charge_effect(
    house: House, build_id: str, protocol: str, first_soc: float, second_soc: float
) -> ChargeEffect:
    """How much a difference of charge does by itself. Raises NotFoundError, InputError."""
    build = workshop.shown_build(house, build_id)
    if not measured_by(protocol).pulls:
        return ChargeEffect(None, None, None, "The throttle is shut: charge does nothing to it.")
    model = model_of(build, protocol, memory=house.memory)
    a, b = (model(Under(soc=soc)) if model else None for soc in (first_soc, second_soc))
    if a is None or b is None or a == 0:
        return ChargeEffect(
            a,
            b,
            None,
            "The build does not compute, or the planner has no such run; the fuller pack is helped all the "
            "same.",
        )
    share = b / a - 1
    if first_soc == second_soc:
        return ChargeEffect(a, b, 0.0, "The same charge: it favours neither.")
    fuller = "first" if first_soc > second_soc else "second"
    return ChargeEffect(
        a,
        b,
        share,
        f"{100 * abs(share):.1f} % by charge alone, in favour of the {fuller}, which is fuller.",
    )
