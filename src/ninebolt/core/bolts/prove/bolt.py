"""Prove: is it faster? Predicted splits beside a logged run, on one graph."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.cells import facts_of
from ninebolt.core.bike.path import path_ohm
from ninebolt.core.bike.ribbon import RibbonPart, ribbon_of
from ninebolt.core.bolts.common import Context, Notes, Result, figure
from ninebolt.core.build import Build
from ninebolt.core.finding import COMPUTED, PRACTICE, Fix, Source, q, setting
from ninebolt.core.logs.ride import RideReport
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.vehicle.splits import splits_of

SHOWN = 300
APART = 0.05


@dataclass(frozen=True, slots=True)
class SplitRow:
    """Predicted and logged time to the same mark. diff: (logged - predicted) / predicted."""

    name: str
    kind: str
    predicted_s: float | None
    logged_s: float | None
    u95_s: float | None
    trap_predicted_m_s: float | None
    trap_logged_m_s: float | None
    diff: float | None


@dataclass(frozen=True, slots=True)
class ProveDrawing:
    """Speed over time, predicted and logged, and the choke along the predicted run."""

    t_s: list[float]
    speed_m_s: list[float]
    ribbon: tuple[RibbonPart, ...]
    log_t_s: list[float]
    log_speed_m_s: list[float]
    log_name: str
    rows: tuple[SplitRow, ...]
    rollout: bool
    top_predicted_m_s: float
    top_logged_m_s: float | None
    top_u95_m_s: float | None
    rate_hz: float | None
    noise_m_s: float | None
    issues: tuple[str, ...]


def split_rows(
    perf: Performance, ride: RideReport | None, rollout: bool, extra: float | None
) -> tuple[SplitRow, ...]:
    """Predicted splits, with the logged ones beside them by name."""
    s = perf.run.series
    made = splits_of(s.t_s, s.distance_m, s.speed_m_s, s.accel_m_s2, rollout, extra)
    logged = {m.split.name: m for m in ride.splits} if ride else {}
    rows = []
    for p in made:
        m = logged.get(p.name)
        seen = m.split.time_s if m else None
        diff = (seen - p.time_s) / p.time_s if seen is not None and p.time_s else None
        rows.append(
            SplitRow(
                p.name,
                p.kind,
                p.time_s,
                seen,
                m.u95_s if m else None,
                p.trap_line_m_s,
                m.split.trap_line_m_s if m else None,
                diff,
            )
        )
    return tuple(rows)


def assess(build: Build, context: Context) -> Result:
    notes, ride = Notes("prove"), context.ride if build.prove.log_id else None
    made, perf = context.look(build)
    if perf is None:
        return Result((), notes.done(), made.missing, None)
    rollout = bool(build.prove.rollout)
    rows = split_rows(perf, ride, rollout, build.goal.to_speed_m_s.taken)
    s = perf.run.series
    thin = max(1, len(s.t_s) // SHOWN)
    drawing = ProveDrawing(
        s.t_s[::thin],
        s.speed_m_s[::thin],
        ribbon_of(s.t_s, s.choke, midway=False),
        ride.t_s if ride else [],
        ride.speed_m_s if ride else [],
        ride.name if ride else "",
        rows,
        rollout,
        perf.top.speed_m_s,
        ride.top_speed_m_s if ride else None,
        ride.top_u95_m_s if ride else None,
        ride.rate_hz if ride else None,
        ride.noise_m_s if ride else None,
        ride.issues if ride else (),
    )
    if ride is None:
        notes.add(
            "note",
            "no_log",
            "No run is logged yet",
            "Import a GPS log of a standing start, a second or more at rest before it. One run "
            "proves little; three in a row say how far they spread.",
            PRACTICE,
            measured=0,
            limit=1,
        )
    else:
        _judge(build, notes, perf, ride, rows)
    energy = perf.run.energy
    figures = (
        figure("quarter", "1/4 mile predicted", _time(rows, "1/4 mile"), "s", "integrated run"),
        figure(
            "quarter_log",
            "1/4 mile logged",
            next((r.logged_s for r in rows if r.name == "1/4 mile"), None),
            "s",
            "crossing of the integrated GPS speed",
        ),
        figure(
            "balance",
            "Energy left over in the books",
            energy.imbalance,
            "ratio",
            "(cells - all losses - kinetic) / cells",
            source=COMPUTED,
        ),
        figure("run_wh", "Energy of the run", energy.cells_j / 3600.0, "wh", "sum of ocv x amps"),
        figure(
            "pack_ohm_log",
            "Pack and path from the log",
            ride.pack_ohm if ride else None,
            "ohm",
            "minus the slope of volts on amps",
        ),
    )
    return Result(figures, notes.done(), (), drawing)


def _time(rows: tuple[SplitRow, ...], name: str) -> float | None:
    return next((r.predicted_s for r in rows if r.name == name), None)


def _judge(
    build: Build, notes: Notes, perf: Performance, ride: RideReport, rows: tuple[SplitRow, ...]
) -> None:
    both = [r for r in rows if r.diff is not None and r.kind == "distance"]
    if both:
        last = both[-1]
        assert last.diff is not None
        apart = abs(last.diff) > APART
        notes.add(
            "caution" if apart else "note",
            "agrees",
            "The log and the prediction part" if apart else "The log bears the prediction out",
            f"{last.name}: {q(last.logged_s or 0, 's')} logged, {q(last.predicted_s or 0, 's')} "
            f"predicted ({last.diff:+.1%} of the prediction)."
            + (" Look for drag, mass or resistance that is not as written." if apart else ""),
            Source("computed", "logged and predicted run, same marks"),
            measured=last.logged_s,
            limit=last.predicted_s,
            quantity="s",
        )
    if ride.rate_hz < 4.0:
        notes.add(
            "caution",
            "rate",
            "The logger is slow",
            f"{ride.rate_hz:.1f} samples a second: short splits are guesses. Ten or more are "
            "usual.",
            PRACTICE,
            measured=ride.rate_hz,
            limit=4.0,
        )
    facts = facts_of(build.pack)
    if ride.pack_ohm is not None and facts is not None:
        have = facts.r_ohm + path_ohm(build.guard)
        if abs(ride.pack_ohm / have - 1.0) > 0.2:
            inner = ride.pack_ohm - path_ohm(build.guard) - build.pack.interconnect_ohm.taken
            s, p = build.pack.series or 1, build.pack.parallel or 1
            fixes = (
                (
                    Fix(
                        f"Take {inner * p / s * 1000:.1f} mΩ per cell from the log",
                        (setting("pack.cell.r0_ohm", inner * p / s, "measured", 0.1),),
                    ),
                )
                if inner > 0
                else ()
            )
            notes.add(
                "caution",
                "pack_ohm",
                "Pack and path resist differently than written",
                f"{q(ride.pack_ohm, 'ohm')} in the log, {q(have, 'ohm')} in the build.",
                Source("computed", "regression of volts on amps"),
                measured=ride.pack_ohm,
                limit=have,
                quantity="ohm",
                fixes=fixes,
            )
