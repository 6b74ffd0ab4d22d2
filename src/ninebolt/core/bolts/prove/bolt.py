"""Prove: is it faster? Predicted splits beside a logged run, on one graph."""

from __future__ import annotations

from dataclasses import dataclass

from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.ribbon import RibbonPart, ribbon_of
from ninebolt.core.bike.ride import assembled, bare_performance
from ninebolt.core.bolts.common import Result, figure
from ninebolt.core.bolts.prove import checks
from ninebolt.core.bolts.prove.causes import SYMPTOMS
from ninebolt.core.bolts.prove.gates import GateState, gate_states
from ninebolt.core.bolts.prove.splits import (
    QUARTER,
    SplitRow,
    chosen_ride,
    held_closed,
    shown_rows,
    split_rows,
    weather,
)
from ninebolt.core.bolts.register import judge
from ninebolt.core.finding import COMPUTED
from ninebolt.core.logs.ride import Launch
from ninebolt.core.simulate.run import Series

__all__ = ["ProveDrawing", "assess", "checks"]
SHOWN = 300


@dataclass(frozen=True, slots=True)
class ProveDrawing:
    """Speed over time, predicted (empty while nothing computes) and logged, and the choke along the predicted run.
    held: what the predicted times take as closed, though it is computed to open."""

    t_s: list[float]
    speed_m_s: list[float]
    ribbon: tuple[RibbonPart, ...]
    log_t_s: list[float]
    log_speed_m_s: list[float]
    log_name: str
    rows: tuple[SplitRow, ...]
    held: str
    rollout: bool
    top_predicted_m_s: float | None
    top_logged_m_s: float | None
    top_u95_m_s: float | None
    top_fair_m_s: float | None
    rate_hz: float | None
    noise_m_s: float | None
    issues: tuple[str, ...]
    launches: tuple[Launch, ...]
    chosen: int
    quality: str
    quality_why: tuple[str, ...]
    gates: tuple[GateState, ...]
    symptoms: tuple[str, ...]


def assess(bike: Bike) -> Result:
    perf, ride = bare_performance(bike), chosen_ride(bike)
    if perf is None:
        return Result((), judge("prove", bike), assembled(bike).missing, drawing)
    rows, held = split_rows(bike), held_closed(bike)
    kept = f", {held} held closed" if held else ""
    energy = perf.run.energy
    figures = (
        figure("quarter", f"1/4 mile predicted{kept}", _time(rows, QUARTER), "s", "integrated run"),
        figure(
            "quarter_log",
            "1/4 mile logged",
            next((r.logged_s for r in rows if r.name == QUARTER), None),
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
    return Result(
        figures, judge("prove", bike), () if ride and ride.launches else ("prove.log_id",), drawing
    )


@fact
def drawing(bike: Bike) -> ProveDrawing:
    """Gates, faults and what was logged are there while nothing computes as well."""
    build, perf, ride = bike.build, bare_performance(bike), chosen_ride(bike)
    rollout, rows, held = bool(build.prove.rollout), shown_rows(bike), held_closed(bike)
    s, sky = perf.run.series if perf else Series(), weather(bike)
    thin = max(1, len(s.t_s) // SHOWN)
    return ProveDrawing(
        s.t_s[::thin],
        s.speed_m_s[::thin],
        ribbon_of(s.t_s, s.choke, midway=False) if perf else (),
        ride.t_s if ride else [],
        ride.speed_m_s if ride else [],
        ride.name if ride else "",
        rows,
        held,
        rollout,
        perf.top.speed_m_s if perf else None,
        ride.top_speed_m_s if ride else None,
        ride.top_u95_m_s if ride else None,
        ride.top_speed_m_s * sky.top if ride and sky and sky.top else None,
        ride.rate_hz if ride else None,
        ride.noise_m_s if ride else None,
        ride.issues if ride else (),
        ride.launches if ride else (),
        ride.chosen if ride else 0,
        ride.quality if ride else "",
        ride.quality_why if ride else (),
        gate_states(bike),
        SYMPTOMS,
    )


def _time(rows: tuple[SplitRow, ...], name: str) -> float | None:
    return next((r.predicted_s for r in rows if r.name == name), None)
