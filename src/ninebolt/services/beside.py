"""Builds side by side: what each does, weighs, holds and costs, the better one named where one is;
what is unknown stays unknown, and what was not alike is said."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bolts.assess import Assessment
from ninebolt.core.bolts.goal.wishes import spent, unpriced
from ninebolt.core.build import Build
from ninebolt.core.parts.goal import ride_speed
from ninebolt.services.alike import Made
from ninebolt.services.ridden import Crossing, RunOf, crossings_of, runs_of

MORE, LESS, NEITHER = "more", "less", ""
SAME = 1e-3  # values nearer than this share are alike


@dataclass(frozen=True, slots=True)
class Cell:
    """One build's value. words: what stands in its place, or beside it. known False: not computed."""

    value: float | None
    words: str
    best: bool


@dataclass(frozen=True, slots=True)
class Row:
    """One attribute. better: more, less, or '' where neither is better."""

    label: str
    quantity: str
    better: str
    cells: tuple[Cell, ...]


@dataclass(frozen=True, slots=True)
class Unlike:
    """A condition in which the builds differ, and each build's, in words or as a value."""

    label: str
    quantity: str
    values: tuple[float | None, ...]


@dataclass(frozen=True, slots=True)
class Beside:
    """The table. unlike: conditions that are not the same, which the differences hold too. equal: what was
    made equal; runs: ribbon and parts of the run of each that computes; crossings: of the first with others."""

    names: tuple[str, ...]
    rows: tuple[Row, ...]
    unlike: tuple[Unlike, ...]
    equal: tuple[Made, ...]
    runs: tuple[RunOf | None, ...]
    crossings: tuple[Crossing, ...]


def beside(builds: list[tuple[Build, Assessment]], equal: tuple[Made, ...] = ()) -> Beside:
    """Two or more builds in one table. equal: what was made alike beforehand."""
    heads = [a.headline for _, a in builds]
    figures = [
        {f"{b.bolt}.{f.key}": f.value for b in a.bolts for f in b.figures} for _, a in builds
    ]
    speeds = {h.to_speed_m_s for h in heads}
    rows = [
        _row("Top speed", "m_s", MORE, [h.top_speed_m_s for h in heads]),
        _row(
            "Time to speed",
            "s",
            LESS if len(speeds) == 1 else NEITHER,
            [h.to_time_s for h in heads],
            [f"{h.opens} opens" if h.opens else "" for h in heads],
        ),
        _row("Quarter mile", "s", LESS, [f.get("prove.quarter") for f in figures]),
        _row("Peak power at the wheel", "w", MORE, [h.peak_wheel_w for h in heads]),
        _row(
            "Range of its own ride",
            "m",
            MORE if len({ride_speed(b.goal) for b, _ in builds}) == 1 else NEITHER,
            [h.range_m for h in heads],
        ),
        _row("Energy, usable", "wh", MORE, [f.get("pack.usable") for f in figures]),
        _row("Current for good", "a", MORE, [f.get("pack.cont_a") for f in figures]),
        _row("Mass without rider", "kg", LESS, [h.mass_kg for h in heads]),
        _row(
            "Cost of the priced parts",
            "money",
            NEITHER,
            [spent(b) or None for b, _ in builds],
            [_open_prices(b) for b, _ in builds],
        ),
        _row("Stops standing", "ratio", LESS, [float(len(a.stops)) for _, a in builds]),
        _row("Held back by", "", NEITHER, [None] * len(heads), [h.choke for h in heads]),
        _row("Thrust from rest", "n", MORE, [f.get("drive.launch") for f in figures]),
        _row("Full amps held, from cold", "s", MORE, [f.get("drive.hold_cold") for f in figures]),
        _row(
            "Energy at the ride's speed", "wh_km", LESS, [f.get("gear.cruise_wh") for f in figures]
        ),
        _row("Motor's mass in the wheel", "kg", LESS, [_in_wheel(b) for b, _ in builds]),
        _row(
            "Ratio",
            "ratio",
            NEITHER,
            [f.get("gear.ratio") for f in figures],
            [
                "fixed, turns are chosen" if b.drive.motor.kind == "hub" else "sprockets"
                for b, _ in builds
            ],
        ),
        _row(
            "Chain to oil, line up and wear",
            "",
            NEITHER,
            [None] * len(heads),
            ["yes" if b.gear.rear_teeth else "no" for b, _ in builds],
        ),
    ]
    plain = [b for b, _ in builds]
    runs = runs_of(plain)
    names = tuple(b.name for b in plain)
    return Beside(names, tuple(rows), _unlike(plain), equal, runs, crossings_of(runs))


def _in_wheel(build: Build) -> float | None:
    """Unsprung mass that the motor adds; 0 for one in the frame."""
    motor = build.drive.motor
    return motor.mass_kg.amount if motor.kind == "hub" else 0.0


def _open_prices(build: Build) -> str:
    n = unpriced(build)
    return f"{n} part{'' if n == 1 else 's'} without a price" if n else ""


def _row(
    label: str,
    quantity: str,
    better: str,
    values: list[float | None],
    words: list[str] | None = None,
) -> Row:
    said = words or [""] * len(values)
    known = [v for v in values if v is not None]
    # Nobody wins against what is unknown, and nobody wins where all are alike.
    fair = bool(better) and len(known) == len(values) and len(known) > 1
    best = max(known) if better == MORE and known else min(known, default=0.0)
    apart = fair and max(known) - min(known) > SAME * max(abs(v) for v in known)
    cells = tuple(
        Cell(v, w, apart and v is not None and abs(v - best) <= SAME * abs(best))
        for v, w in zip(values, said, strict=True)
    )
    return Row(label, quantity, better, cells)


def _unlike(builds: list[Build]) -> tuple[Unlike, ...]:
    """Rider, start, charge and road: what a fair comparison holds equal."""
    asked = [
        ("Rider and gear", "kg", [b.goal.rider_kg.taken + b.goal.gear_kg.taken for b in builds]),
        ("Speed of the standing start", "m_s", [b.goal.to_speed_m_s.taken for b in builds]),
        ("Speed of the ride", "m_s", [ride_speed(b.goal) for b in builds]),
        ("Charge at the start", "ratio", [b.pack.start_soc.taken for b in builds]),
        ("Slope", "pct", [b.road.grade_pct.taken for b in builds]),
    ]
    return tuple(
        Unlike(label, quantity, tuple(values))
        for label, quantity, values in asked
        if max(values) - min(values) > SAME * max(1.0, *(abs(v) for v in values))
    )
