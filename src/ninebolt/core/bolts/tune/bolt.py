"""Tune: what do I write into the controller, and why each value?"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.cells import cell_empty_v, facts_of
from ninebolt.core.bike.gearing import gear_ratio, wheel_radius_m
from ninebolt.core.bike.path import cable_cont_a
from ninebolt.core.bolts.common import Context, Notes, Result, figure
from ninebolt.core.build import Build
from ninebolt.core.drive.constants import amps_peak
from ninebolt.core.drive.parameters import PARAMS
from ninebolt.core.finding import PRACTICE, Change, Fix, Source, q
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.simulate.thrust import instant

BMS_SHARE = 0.95  # line amps over BMS continuous. Common practice, no source.
ROLLBACK_V_PER_CELL = 0.15  # roll-back begins this much above the cut-off. Common practice.
OVER_FULL = 1.02  # over-voltage cut-off over full. Common practice, no source.
RAMP_S = 0.15  # least ramp for a drive that lunges. Common practice, no source.


@dataclass(frozen=True, slots=True)
class ParamRow:
    """A recommended value, the constraint that it comes from, and what is set by hand instead.

    bound: 'most' when going above is unsafe, 'least' when going below is, '' when it is a fact.
    """

    name: str
    label: str
    index: int
    quantity: str
    recommended: float
    constraint: str
    bound: str
    chosen: float | None
    value: float
    lo: float
    hi: float


@dataclass(frozen=True, slots=True)
class TuneDrawing:
    """Parameter rows, and thrust over twist at three road speeds."""

    rows: tuple[ParamRow, ...]
    twist: list[float]
    share: list[float]
    thrust_n: tuple[tuple[float, list[float]], ...]
    points: tuple[tuple[float, float], ...]


def recommended(build: Build, perf: Performance | None) -> list[tuple[str, float, str, str]]:
    """(name, value, constraint, bound) for every parameter that the build decides."""
    out: list[tuple[str, float, str, str]] = []
    c, m, g = build.drive.controller, build.drive.motor, build.guard
    facts = facts_of(build.pack)
    line = _line(build)
    if line:
        out.append(("line_a", math.floor(line[0]), line[1], "most"))
    phase = _phase(build)
    if phase:
        out.append(("phase_a", math.floor(phase[0]), phase[1], "most"))
    out.append(("fw_id_a", c.fw_id_a.taken, "the build's setting; off for comparisons", "most"))
    if facts and not math.isnan(facts.empty_v):
        series = build.pack.series or 0
        low = max(facts.empty_v, series * (g.bms.cell_low_v.or_else(0.0) + 0.05))
        why = (
            "a little before the BMS opens"
            if low > facts.empty_v
            else f"{series} cells at {cell_empty_v(build.pack.cell):.2f} V"
        )
        out.append(("lvc_v", round(low, 2), why, "least"))
        out.append(
            (
                "lvc_start_v",
                round(low + ROLLBACK_V_PER_CELL * series, 2),
                "0.15 V a cell above the cut-off: fades, does not cut",
                "least",
            )
        )
        top = c.v_max_v.or_else(math.inf)
        out.append(
            (
                "ovc_v",
                round(min(OVER_FULL * facts.full_v, top), 2),
                "2 % above full, held to the controller's ceiling",
                "most",
            )
        )
    lift = perf is not None and perf.envelope.choke[0] in ("wheelie", "grip")
    ramp = max(c.ramp_s.taken, RAMP_S if lift else 0.0)
    out.append(
        (
            "ramp_s",
            ramp,
            "the front wheel lifts or the tyre slips from rest" if lift else "the build's setting",
            "least",
        )
    )
    out.append(("regen_pct", build.tune.regen_pct.taken, "the build's choice", ""))
    out.append(("motor_c", m.temp_max_c.taken - 20.0, "20 K before the winding's limit", "most"))
    out += _facts(build, perf)
    return out


def _line(build: Build) -> tuple[float, str] | None:
    """Line amps: the least of what each link allows."""
    c, g, facts = build.drive.controller, build.guard, facts_of(build.pack)
    options = [
        (c.line_a.or_else(math.inf), "the build's setting"),
        (c.line_max_a.or_else(math.inf), "the controller's rating"),
        (facts.peak_a if facts else math.inf, "the cells' peak current"),
        (g.plug.i_peak_a.or_else(g.plug.i_cont_a.or_else(math.inf)), "the main plug"),
        (g.fuse.rated_a.or_else(math.inf) * 1.5, "1.5 x the fuse"),
        (cable_cont_a(g.cable) * 1.6, "the battery cable in bursts"),
    ]
    if g.bms.discharge == "through":
        cont = g.bms.i_cont_a.or_else(math.inf)
        options.append((cont * BMS_SHARE, f"95 % of the BMS's continuous {cont:.0f} A"))
    best = min(options)
    return best if math.isfinite(best[0]) else None


def _phase(build: Build) -> tuple[float, str] | None:
    c, m = build.drive.controller, build.drive.motor
    options = [
        (amps_peak(c.phase_a.or_else(math.inf), c.amp_basis), "the build's setting"),
        (amps_peak(c.phase_max_a.or_else(math.inf), c.amp_basis), "the controller's rating"),
        (amps_peak(m.phase_max_a.or_else(math.inf), m.amp_basis), "the motor's peak"),
    ]
    best = min(options)
    return best if math.isfinite(best[0]) else None


def _facts(build: Build, perf: Performance | None) -> list[tuple[str, float, str, str]]:
    out: list[tuple[str, float, str, str]] = []
    pairs, radius, ratio = build.drive.motor.pole_pairs, wheel_radius_m(build), gear_ratio(build)
    if pairs is not None:
        out.append(("pole_pairs", float(pairs), "the motor", ""))
    if not math.isnan(radius):
        out.append(("wheel_m", 2 * math.pi * radius, "rolling circumference, for the display", ""))
    if not math.isnan(ratio):
        out.append(("ratio", ratio, "sprockets and reduction", ""))
    if perf:
        out.append(
            (
                "speed_cap_m_s",
                math.ceil(perf.top.speed_m_s * 1.05),
                "5 % above the top speed computed",
                "most",
            )
        )
    return out


def rows_of(build: Build, perf: Performance | None) -> tuple[ParamRow, ...]:
    """All parameters in the order of their index, with what is set by hand in place."""
    chosen = {p.name: p.value for p in build.tune.chosen}
    made = {r[0]: r for r in recommended(build, perf)}
    rows = []
    for spec in PARAMS:
        if spec.name not in made:
            continue
        name, value, why, bound = made[spec.name]
        by_hand = chosen.get(name)
        rows.append(
            ParamRow(
                name,
                spec.label,
                spec.index,
                spec.quantity,
                value,
                why,
                bound,
                by_hand,
                value if by_hand is None else by_hand,
                spec.lo,
                spec.hi,
            )
        )
    return tuple(rows)


def throttle_share(points: tuple[tuple[float, float], ...], twist: float) -> float:
    """Share of the torque at a twist, linear between the points."""
    if not points or twist <= points[0][0]:
        return points[0][1] if points else twist
    for (x0, y0), (x1, y1) in zip(points, points[1:], strict=False):
        if twist <= x1:
            return y0 + (y1 - y0) * (twist - x0) / (x1 - x0)
    return points[-1][1]


def assess(build: Build, context: Context) -> Result:
    notes = Notes("tune")
    made, perf = context.look(build)
    rows = rows_of(build, perf)
    _judge(build, notes, rows)
    twist = [i / 40 for i in range(41)]
    share = [throttle_share(build.tune.throttle, x) for x in twist]
    thrust = _thrust(perf, share) if perf else ()
    drawing = TuneDrawing(rows, twist, share, thrust, build.tune.throttle)
    figures = (
        figure("set", "Parameters", len(rows), "ratio", "derived from this build"),
        figure("by_hand", "Set by hand", sum(r.chosen is not None for r in rows), "ratio"),
        figure(
            "crawl",
            "Thrust at a tenth of twist",
            thrust[0][1][4] if thrust else None,
            "n",
            "from rest",
        ),
    )
    return Result(figures, notes.done(), made.missing, drawing)


def _thrust(perf: Performance, share: list[float]) -> tuple[tuple[float, list[float]], ...]:
    """Thrust (N) at each share of torque, at rest, a third and two thirds of top speed."""
    full = perf.case.phase_a
    out = []
    for speed in (0.0, perf.top.speed_m_s / 3, perf.top.speed_m_s * 2 / 3):
        row = [max(instant(perf.case, speed, full * s).free_n, 0.0) for s in share]
        out.append((speed, row))
    return tuple(out)


def _judge(build: Build, notes: Notes, rows: tuple[ParamRow, ...]) -> None:
    for row in rows:
        if row.chosen is None:
            continue
        wrong = (
            (row.bound == "most" and row.chosen > row.recommended * 1.001)
            or (row.bound == "least" and row.chosen < row.recommended * 0.999)
            or (row.bound == "" and abs(row.chosen - row.recommended) > 0.02 * abs(row.recommended))
        )
        if wrong or not row.lo <= row.chosen <= row.hi:
            notes.add(
                "stop"
                if row.name in ("line_a", "phase_a", "lvc_v", "ovc_v", "pole_pairs")
                else "caution",
                f"param_{row.name}",
                f"{row.label} is outside its constraint",
                f"Set by hand to {q(row.chosen, row.quantity)}; the build allows "
                f"{q(row.recommended, row.quantity)} ({row.constraint}).",
                Source("computed", row.constraint),
                measured=row.chosen,
                limit=row.recommended,
                quantity=row.quantity,
                parts=("tune",),
                fixes=(Fix("Use the recommended value", (_drop(build, row.name),)),),
            )
    _judge_curve(build, notes)


def _drop(build: Build, name: str) -> Change:
    return Change(
        "tune.chosen",
        [{"name": p.name, "value": p.value} for p in build.tune.chosen if p.name != name],
    )


def _judge_curve(build: Build, notes: Notes) -> None:
    points = build.tune.throttle
    straight = Fix("Use a straight curve", (Change("tune.throttle", [[0.0, 0.0], [1.0, 1.0]]),))
    ys = [y for _, y in points]
    if any(b < a for a, b in zip(ys, ys[1:], strict=False)):
        notes.add(
            "stop",
            "curve_falls",
            "The throttle curve falls as you twist on",
            f"It goes from {max(ys):.0%} back to {ys[-1]:.0%}: the bike slows while the hand asks "
            "for more.",
            PRACTICE,
            measured=ys[-1],
            limit=max(ys),
            fixes=(straight,),
        )
    early = next((x for x, y in points if y >= 0.999), 1.0)
    if early < 0.9:
        notes.add(
            "caution",
            "curve_early",
            "Full torque comes before full twist",
            f"All of it is there at {early:.0%} of the twist; the rest of the grip does nothing.",
            PRACTICE,
            measured=early,
            limit=0.9,
            fixes=(straight,),
        )
    if points and points[0][1] > 0.02:
        notes.add(
            "stop",
            "curve_push",
            "Torque with the throttle closed",
            f"The curve starts at {points[0][1]:.0%}: the bike pushes on when you let go.",
            PRACTICE,
            measured=points[0][1],
            limit=0.02,
            fixes=(straight,),
        )
