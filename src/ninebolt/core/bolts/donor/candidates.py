"""Candidates before money changes hands: chassis side by side, and what a salvaged motor's or
pack's label proves. Unknown is shown as unknown; verdicts are go, only with work, no or open."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.battery.ocv import EMPTY_V, FULL_V, NOMINAL_V
from ninebolt.core.bike.cells import DEAD_V, SUM_OFF
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.mass import total_kg
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.running import FAR_OVER_LABEL, OVER_LABEL, STOP_BEFORE
from ninebolt.core.bike.shape import body_of
from ninebolt.core.bolts.donor.limits import (
    FRAME_NO,
    FRAME_OPEN,
    FRAME_WEAK,
    MOTOR_NO,
    ODD_LABEL,
    SPREAD_V,
)
from ninebolt.core.build import Build
from ninebolt.core.drive.constants import amps_peak, most_w, torque_nm
from ninebolt.core.finding import q
from ninebolt.core.match.fill import ways
from ninebolt.core.match.space import Space, rectangle
from ninebolt.core.parts.candidate import Chassis, Salvage
from ninebolt.core.parts.cell import FOUND
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.value import Value

LITHIUM = ("nickel_rich", "iron_phosphate")  # the two that a found pack is taken for by its volts
PADDING_M = 0.005  # each side, for a bay that is only a rough measure. Common practice, no source.
PAST_FULL = (
    1.01  # cell over full volts from where on it is over-charged. Common practice, no source.
)


@dataclass(frozen=True, slots=True)
class Entry:
    """One attribute of one candidate: a number with its kind, or words; both None = unknown."""

    value: float | None
    words: str | None


@dataclass(frozen=True, slots=True)
class Attribute:
    """One row of the comparison. best: places of the winners, empty if nobody leads."""

    label: str
    quantity: str
    cells: tuple[Entry, ...]
    best: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Judged:
    """One candidate. verdict: go, only with work, no or open."""

    name: str
    verdict: str
    reasons: tuple[str, ...]
    weak: tuple[str, ...]
    unknown: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Comparison:
    """Candidates side by side."""

    judged: tuple[Judged, ...]
    rows: tuple[Attribute, ...]


DAMAGED = ("wet", "crushed or burnt", "shaft or housing damaged")


@dataclass(frozen=True, slots=True)
class Proof:
    """One thing about a salvaged part. state: label, measured, guess or missing."""

    label: str
    value: float | None
    quantity: str
    words: str
    state: str
    todo: str


@dataclass(frozen=True, slots=True)
class Salvaged:
    """A salvaged motor or pack as far as it is known. usable: what may be planned on meanwhile. odd: what is written of
    it that cannot all be true."""

    name: str
    kind: str
    verdict: str
    proofs: tuple[Proof, ...]
    usable: tuple[str, ...]
    missing: int
    odd: tuple[str, ...]


@fact
def compare(bike: Bike) -> Comparison | None:
    """The chassis candidates; None if there are none."""
    build, perf = bike.build, performance_of(bike)
    found = build.donor.candidates
    if not found:
        return None
    places = [_places(build, c) for c in found]
    judged = tuple(_judge(build, perf, c, n) for c, n in zip(found, places, strict=True))
    return Comparison(judged, _rows(found, places))


def _cost(c: Chassis) -> float | None:
    price, work = c.price_money.amount, c.work_money.amount
    return None if price is None else price + (work or 0.0)


def _places(build: Build, c: Chassis) -> int | None:
    """Bodies of the planned pack that go into the bay, as a box."""
    body = body_of(build.pack)
    sizes = (c.bay_length_m.amount, c.bay_height_m.amount, c.bay_width_m.amount)
    if body is None or any(s is None for s in sizes):
        return None
    length, height, width = (s or 0.0 for s in sizes)
    return ways(Space(rectangle(length, height), width, PADDING_M), body)[0].capacity


def _best(values: list[float | None], larger: bool) -> tuple[int, ...]:
    known = [v for v in values if v is not None]
    if len(known) < 2:
        return ()
    lead = max(known) if larger else min(known)
    return tuple(i for i, v in enumerate(values) if v == lead) if min(known) != max(known) else ()


def _rows(found: tuple[Chassis, ...], places: list[int | None]) -> tuple[Attribute, ...]:
    def numbers(label: str, quantity: str, values: list[float | None], larger: bool) -> Attribute:
        cells = tuple(Entry(v, None) for v in values)
        return Attribute(label, quantity, cells, _best(values, larger))

    def words(label: str, values: list[str]) -> Attribute:
        cells = tuple(Entry(None, None if v in ("unknown", "") else v) for v in values)
        return Attribute(label, "", cells, ())

    years = [None if c.year is None else float(c.year) for c in found]  # no thousands in them
    crashed = ["unknown" if c.crashed is None else "yes" if c.crashed else "no" for c in found]
    return (
        numbers("Price with repairs", "money", [_cost(c) for c in found], False),
        numbers("Mass", "kg", [c.mass_kg.amount for c in found], False),
        Attribute(
            "Year",
            "ratio",
            tuple(Entry(y, None if y is None else f"{y:.0f}") for y in years),
            _best(years, True),
        ),
        numbers(
            "Bodies of this pack that go in",
            "ratio",
            [None if p is None else float(p) for p in places],
            True,
        ),
        numbers("Power it was made for", "w", [c.power_w.amount for c in found], True),
        numbers("Speed it was made for", "m_s", [c.speed_m_s.amount for c in found], True),
        numbers("Mass it was made for", "kg", [c.gross_kg.amount for c in found], True),
        words("Frame", [c.frame_metal for c in found]),
        words("Condition", [c.condition for c in found]),
        words("Crashed", crashed),
        words("Papers", [c.papers for c in found]),
    )


def _judge(build: Build, perf: Performance | None, c: Chassis, places: int | None) -> Judged:
    against = _against(build, c, places)
    unknown = tuple(
        label
        for label, gone in (
            ("price", not c.price_money.known),
            ("mass", not c.mass_kg.known),
            ("bay", places is None),
            ("condition", c.condition == "unknown"),
            ("crashes", c.crashed is None),
            ("papers", c.papers == "unknown"),
            ("what it was made for", not c.power_w.known or not c.speed_m_s.known),
        )
        if gone
    )
    asked = _asked(build, perf, c)
    if asked.power is not None and asked.power > FRAME_NO:
        against = (
            *against,
            f"made for {q(c.power_w.amount or 0.0, 'w')}, a {asked.power:.0f}th of what is planned",
        )
    work = c.condition == "worn" or bool(c.crashed) or asked.work
    verdict = "no" if against else "open" if unknown else "only with work" if work else "go"
    return Judged(c.name or "candidate", verdict, against, _weak(asked, c), unknown)


@dataclass(frozen=True, slots=True)
class _Asked:
    """What is planned over what a chassis was made for: power, speed, mass; None where either is unknown."""

    power: float | None
    speed: float | None
    mass: float | None

    @property
    def work(self) -> bool:
        """Whether it asks for work before it is ridden as planned; brakes by the square of the speed."""
        return (
            (self.power or 0.0) > FRAME_OPEN
            or (self.speed or 0.0) ** 2 > STOP_BEFORE
            or (self.mass or 0.0) > 1.0
        )


def _asked(build: Build, perf: Performance | None, c: Chassis) -> _Asked:
    speed = (perf.headline.top_speed_m_s if perf else None) or build.goal.top_speed_m_s.amount
    mass = total_kg(build)
    return _Asked(
        _over(_planned_w(build, perf), c.power_w.amount),
        _over(speed, c.speed_m_s.amount),
        _over(None if math.isnan(mass) else mass, c.gross_kg.amount),
    )


def _over(planned: float | None, made: float | None) -> float | None:
    return planned / made if planned and made else None


def _planned_w(build: Build, perf: Performance | None) -> float | None:
    """Power at the wheel that is planned; by the goal while nothing computes."""
    return perf.headline.peak_wheel_w if perf else build.goal.power_w.amount


def _against(build: Build, c: Chassis, places: int | None) -> tuple[str, ...]:
    """Reasons that rule it out."""
    goal, pack = build.goal, build.pack
    cost, budget = _cost(c), goal.budget_money.amount
    needed = None
    if pack.series and pack.parallel:
        needed = pack.series * pack.parallel / (pack.cell.body_series * pack.cell.body_parallel)
    road = goal.use in ("street", "supermoto", "commute")
    out = []
    if c.condition == "cracked":
        out.append("the frame is cracked")
    if c.condition == "bent":
        out.append(
            "bent, and aluminium is not straightened"
            if c.frame_metal == "aluminium"
            else "the frame is bent: only after a frame shop has measured it"
        )
    if road and c.papers in ("no papers", "off-road only"):
        out.append(f"{c.papers}, and it is meant for {goal.use}: ask the authority before paying")
    if places is not None and needed is not None and places < needed:
        out.append(f"the bay takes {places} of {needed:.0f} bodies")
    most, kg = goal.mass_max_kg.amount, c.mass_kg.amount
    if most is not None and kg is not None and kg > most:
        out.append(f"{q(kg, 'kg')} by itself is over the {q(most, 'kg')} that the bike may weigh")
    if cost is not None and budget is not None and cost > budget:
        out.append(f"{cost:,.0f} is over the whole budget of {budget:,.0f}")
    return tuple(out)


def _weak(asked: _Asked, c: Chassis) -> tuple[str, ...]:
    """Parts that the planned power, speed and mass ask more of than they were made for."""
    out = []
    if (asked.power or 0.0) > FRAME_WEAK:
        out.append(f"chain, mounts and wheels: {asked.power:.1f} times the power")
    if (asked.speed or 0.0) > 1.0:
        out.append(f"brakes and tyres: {asked.speed:.2f} times the speed")
    if (asked.mass or 0.0) > 1.0:
        out.append(f"fork and shock: {asked.mass:.2f} times the mass")
    if c.crashed:
        out.append("crashed: check head bearing, fork tubes and wheel line")
    return tuple(out)


@fact
def envelopes(bike: Bike) -> tuple[Salvaged, ...]:
    """Every salvaged motor or pack looked at."""
    build, perf = bike.build, performance_of(bike)
    if not build.donor.salvage:
        return ()
    planned = _planned_w(build, perf)
    return tuple(
        _motor(s, planned) if s.kind == "motor" else _pack(s, build) for s in build.donor.salvage
    )


def _number(label: str, value: Value | int | None, quantity: str, todo: str) -> Proof:
    amount = value.amount if isinstance(value, Value) else value
    origin = value.origin if isinstance(value, Value) else "label"
    if amount is None:
        return Proof(label, None, quantity, "", "missing", todo)
    state = "measured" if origin == "measured" else "guess" if origin == "guess" else "label"
    return Proof(label, float(amount), quantity, "", state, "" if state == "measured" else todo)


def _words(label: str, text: str, todo: str) -> Proof:
    gone = text in ("", "unknown")
    return Proof(
        label, None, "", "" if gone else text, "missing" if gone else "label", todo if gone else ""
    )


def _verdict(
    s: Salvage,
    proofs: tuple[Proof, ...],
    against: list[str],
    odd: tuple[str, ...],
    work: list[str],
) -> str:
    if s.damage in DAMAGED or against:
        return "no"
    missing = sum(p.state == "missing" for p in proofs)
    if missing or odd or s.damage == "unknown":
        return "open"
    return "only with work" if work else "go"


def _motor(s: Salvage, planned_w: float | None) -> Salvaged:
    proofs = (
        _words(
            "Serial or part number", s.serial, "read it off the housing: it finds the datasheet"
        ),
        _words("Damage", s.damage, "look at windings, magnets, bearings and shaft"),
        _number("Voltage", s.volts_v, "v", "a label says what it was sold with, not its ceiling"),
        _number(
            "Power", s.rated_w, "w", "a label's power is neither peak nor continuous by itself"
        ),
        _number(
            "Rpm per volt", s.kv_rpm_v, "rpm_v", "spin it with a drill, read line-to-line volts"
        ),
        _number("Pole pairs", s.pole_pairs, "ratio", "count electrical turns over one shaft turn"),
        _number("Phase resistance", s.r_phase_ohm, "ohm", "four-wire, half of line to line"),
        _number(
            "Phase inductance", s.l_phase_henry, "henry", "meter at 1 kHz, half of line to line"
        ),
        _words("Sensor", s.sensor, "count the thin leads, look for a magnet ring"),
        _words("Shaft", s.shaft, "spline, key or taper: can a sprocket sit on it?"),
    )
    usable = []
    if s.volts_v.amount and s.rated_w.amount:
        usable.append(
            f"plan on {s.rated_w.amount / s.volts_v.amount:.0f} A from the pack at "
            f"{s.volts_v.amount:.0f} V until it has been loaded on a bench"
        )
    if s.rated_w.amount:
        usable += _per(s, s.rated_w.amount / 1000.0, "a kW by its label", "kW/kg by its label")
    if s.kv_rpm_v.amount and s.volts_v.amount:
        usable.append(
            f"about {s.kv_rpm_v.amount * s.volts_v.amount:,.0f} rpm at its label's voltage"
        )
    if s.kv_rpm_v.amount and s.amps_a.amount:
        torque = torque_nm(s.kv_rpm_v.amount, amps_peak(s.amps_a.amount, s.amp_basis))
        basis = "" if s.amp_basis != "unknown" else ", if its amps are peak; 41 % more if RMS"
        usable.append(f"about {torque:.0f} N·m at {s.amps_a.amount:.0f} phase amps{basis}")
    hurt = next((w for w in HURT if w in s.shaft.lower()), "")
    gone = next((w for w in GONE if w in s.shaft.lower()), "")
    against = [f"its shaft: {s.shaft[:60]}; it may let go under torque"] if hurt else []
    if gone and not hurt:
        usable.append(f"to be found or made before it can drive anything: {s.shaft[:60]}")
    work = [usable[-1]] if gone and not hurt else []
    ratio = _over(planned_w, s.rated_w.amount)
    if ratio is not None and ratio > MOTOR_NO:
        against.append(
            f"sold with {s.rated_w.amount or 0.0:,.0f} W, a {ratio:.0f}th of what is planned"
        )
    elif ratio is not None and ratio > FAR_OVER_LABEL:
        work.append(
            f"{ratio:.1f} times its label as planned: only with a temperature sensor in the winding and a roll-back"
        )
    elif ratio is not None and ratio > OVER_LABEL:
        work.append(f"{ratio:.1f} times its label as planned: for seconds, with its heat watched")
    return _envelope(s, proofs, usable, against, _odd_motor(s), work)


def _odd_motor(s: Salvage) -> tuple[str, ...]:
    """More watts than volts and phase amps can make; amps of an unknown basis are taken for the larger one."""
    volts, amps, watts = s.volts_v.amount, s.amps_a.amount, s.rated_w.amount
    if not volts or not amps or not watts:
        return ()
    most = most_w(volts, amps_peak(amps, "rms" if s.amp_basis == "unknown" else s.amp_basis))
    if watts <= most:
        return ()
    return (
        f"{watts / 1000:.3g} kW cannot come of {volts:.0f} V and {amps:.0f} phase amps, which give {most / 1000:.3g} "
        "at the most: the amps are of the pack, or one of the three is misread",
    )


# Words in what somebody wrote of a shaft that say it is no shaft to ride on, or that a piece is gone.
HURT = ("crack", "bent", "broken", "split", "twist", "strip", "worn", "weld", "sheared", "damag")
GONE = ("missing", "lost", "without", "no sprocket", "gone")


def _per(s: Salvage, amount: float, priced: str, weighed: str) -> list[str]:
    """What it costs and weighs for what it gives, as far as both are known."""
    price, mass = s.price_money.amount, s.mass_kg.amount
    out = [f"{price / amount:,.0f} {priced}"] if price is not None else []
    return [*out, f"{amount / mass:.2f} {weighed}"] if mass else out


def _pack(s: Salvage, build: Build) -> Salvaged:
    per_cell = s.rested_v.amount / s.series if s.rested_v.amount and s.series else None
    proofs = (
        _words("Serial or part number", s.serial, "read it off the case"),
        _words(
            "Damage", s.damage, "dents, swelling, water marks, smell: outdoors, not in the shop"
        ),
        _words(
            "Chemistry",
            s.chemistry.replace("_", " "),
            "the label, or the cells' type: its volts alone do not tell",
        ),
        _number("Cells in series", s.series, "ratio", "count groups, or full volts over 4.2"),
        _number("Capacity", s.capacity_ah, "ah", "discharge it fully once and count"),
        _number("Voltage, rested", s.rested_v, "v", "meter, an hour after any load"),
        _number("Lowest group", s.lowest_v, "v", "meter each group at its balance lead"),
        _number("Highest group", s.highest_v, "v", "meter each group at its balance lead"),
        Proof(
            "Its BMS",
            None,
            "",
            "answers" if s.has_bms else "",
            "label" if s.has_bms else "missing",
            "" if s.has_bms else "a vehicle's BMS rarely works outside it: plan on another",
        ),
    )
    usable = []
    nominal = NOMINAL_V.get(s.chemistry, NOMINAL_V["nickel_rich"])
    if s.series and s.capacity_ah.amount:
        wh = s.series * nominal * s.capacity_ah.amount
        usable.append(f"{wh / 1000:.2f} kWh when new; plan on 70 % until it has been measured")
        usable += _per(s, wh / 1000.0, "a kWh when new", "kWh/kg when new")
    against, work = _by_chemistry(s, per_cell)
    odd = _odd_pack(s, per_cell, nominal)
    if s.lowest_v.amount is not None and s.highest_v.amount is not None and not odd:
        spread = s.highest_v.amount - s.lowest_v.amount
        apart = f"groups {spread * 1000:.0f} mV apart"
        if spread > SPREAD_V:
            work.append(
                f"{apart}: a weak or leaking group; only once each group is charged alike, rested two weeks and "
                "the one that falls is out"
            )
        else:
            usable.append(f"{apart}: sound")
    top = build.drive.controller.v_max_v.amount
    # One of which nobody says what it is may be of those that are full at the most volts.
    full_v = s.series * FULL_V.get(s.chemistry, max(FULL_V.values())) if s.series else None
    if full_v is not None and top is not None and full_v > top:
        work.append(
            f"{full_v:.1f} V full is over the controller's ceiling of {top:.0f} V: only with another one"
        )
    return _envelope(s, proofs, usable, against, odd, work)


def _odd_pack(s: Salvage, per_cell: float | None, nominal: float) -> tuple[str, ...]:
    """Readings of one pack that cannot all be true."""
    low, high, label = s.lowest_v.amount, s.highest_v.amount, s.volts_v.amount
    out = []
    if low is not None and high is not None and low > high:
        out.append(f"its lowest group reads {low:.2f} V, its highest {high:.2f} V")
    elif per_cell is not None and low is not None and per_cell < low * (1.0 - SUM_OFF):
        out.append(
            f"{per_cell:.2f} V a cell by the terminals, and no group is under {low:.2f} V: a link that does not "
            "carry, a BMS that is off, or fewer cells than written"
        )
    elif per_cell is not None and high is not None and per_cell > high * (1.0 + SUM_OFF):
        out.append(
            f"{per_cell:.2f} V a cell by the terminals, and no group is over {high:.2f} V: more cells than written"
        )
    if label and s.series and not ODD_LABEL[0] <= label / s.series / nominal <= ODD_LABEL[1]:
        out.append(
            f"{label:.4g} V on the label over {s.series} in series is {label / s.series:.2f} V a cell: another count, "
            "or another chemistry"
        )
    return tuple(out)


def _by_chemistry(s: Salvage, per_cell: float | None) -> tuple[list[str], list[str]]:
    """(what rules it out, what is to be settled first): of an unknown chemistry what rules every one out, and what only
    some."""
    if s.chemistry != FOUND[0]:
        return _pack_against(s, s.chemistry, per_cell), []
    by = {c: _pack_against(s, c, per_cell) for c in LITHIUM}
    every = [x for x in by[LITHIUM[0]] if all(x in found for found in by.values())]
    some = {c: [x for x in found if x not in every] for c, found in by.items()}
    if all(some.values()):  # each has its own against it
        return [*every, *(f"as {c.replace('_', ' ')}: {'; '.join(x)}" for c, x in some.items())], []
    return every, [
        f"if it is {c.replace('_', ' ')}: {'; '.join(x)}; find out which it is before it is charged"
        for c, x in some.items()
        if x
    ]


def _pack_against(s: Salvage, chemistry: str, per_cell: float | None) -> list[str]:
    """What rules a salvaged pack out, whatever its papers say."""
    full, empty = FULL_V[chemistry], EMPTY_V[chemistry]
    out = []
    lowest, highest = s.lowest_v.amount, s.highest_v.amount
    if lowest is not None and lowest < DEAD_V:
        out.append(
            f"its lowest group stands at {lowest:.2f} V: under {DEAD_V:.1f} V it is scrap, and it can burn when charged"
        )
    elif lowest is not None and lowest < empty:
        out.append(f"its lowest group stands at {lowest:.2f} V, below empty: over-discharged")
    if highest is not None and highest > full * PAST_FULL:
        out.append(
            f"its highest group stands at {highest:.2f} V: over-charged, do not touch it indoors"
        )
    if per_cell is not None and per_cell > full * PAST_FULL:
        out.append(
            f"{per_cell:.2f} V a cell over {s.series} in series is above full: over-charged, or there "
            "are more cells than written; count the groups before anything else"
        )
    if per_cell is not None and per_cell < empty:
        out.append(
            f"{per_cell:.2f} V a cell is below empty: over-discharged, or fewer cells than written"
        )
    return out


def _envelope(
    s: Salvage,
    proofs: tuple[Proof, ...],
    usable: list[str],
    against: list[str],
    odd: tuple[str, ...],
    work: list[str],
) -> Salvaged:
    missing = sum(p.state == "missing" for p in proofs)
    return Salvaged(
        s.name or s.kind,
        s.kind,
        _verdict(s, proofs, against, odd, work),
        proofs,
        tuple(dict.fromkeys((*against, *odd, *work, *usable))),
        missing,
        odd,
    )
