"""What logged runs and coast-downs say about a bike: its drag, rolling resistance, pack resistance, mass, driveline and
grip, with intervals.

Every value begins with what the build says of it (a normal prior of its tolerance), and the runs move it as far as
they know better: maximum a posteriori by Gauss and Newton on the speeds (and volts, where logged), the start of each
run free. Intervals come from the inverse of the information at the end (Laplace). Source: Bard, Nonlinear Parameter
Estimation, 1974.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import numpy.typing as npt

from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.run import State, Stop, run

Floats = npt.NDArray[np.float64]
ROUNDS = 14
SETTLED = 1e-5
STEP = 0.01
START_S = 0.3  # how far a run's start may be off, one standard deviation
TOLD = 0.7  # posterior over prior width above which a value was not told by the runs
BOUND = 0.9  # correlation above which two values cannot be told apart
LEAST_SIGMA = 0.02
Z95 = 1.959963984540054
COAST_START_M_S = 0.3  # the same of the speed that a coast-down begins with
# The same of a wind and a slope that nobody said. Common practice, no source.
WIND_M_S, SLOPE_PCT = 1.5, 0.5
NAMES = ("cda_m2", "crr", "mass_kg", "r0_ohm", "efficiency", "grip_mu")


@dataclass(frozen=True, slots=True)
class Trace:
    """A run from rest, or a coast-down: time from about its launch or its first sample (s), speed (m/s) and its noise;
    volts with theirs where logged.

    wind_m_s (from ahead), grade_pct: those it was ridden in, None for the bike's own road. way: 1 or -1, of a
    coast-down whose wind or slope nobody said: which way it went, in one wind and on one slope that are learned with
    the rest. free_kg: of a coast-down without the motor turning, the rotating mass that is left; None where it turns.
    """

    t_s: Sequence[float]
    speed_m_s: Sequence[float]
    noise_m_s: float
    bus_v: Sequence[float] | None = None
    noise_v: float = 0.3
    kind: Literal["run", "coast"] = "run"
    wind_m_s: float | None = None
    grade_pct: float | None = None
    way: float | None = None
    free_kg: float | None = None


@dataclass(frozen=True, slots=True)
class Fitted:
    """One value: before and after, half the 95 % interval, and whether the runs told it at all."""

    name: str
    before: float
    value: float
    half95: float
    told: bool


@dataclass(frozen=True, slots=True)
class Fit:
    """All values. together: pairs that cannot be told apart. rms_m_s: what is left between model and runs. case: the
    bike as fitted. sky: (wind, half 95 %, slope, half 95 %) of the ways learned, None where there were none."""

    values: tuple[Fitted, ...]
    together: tuple[tuple[str, str], ...]
    rms_m_s: float
    rounds: int
    case: RunCase
    sky: tuple[float, float, float, float] | None = None


def taken_from(case: RunCase) -> dict[str, float]:
    """The values that are fitted, as a case holds them."""
    b = case.body
    return {
        "cda_m2": b.cda_m2,
        "crr": b.crr,
        "mass_kg": b.mass_kg,
        "r0_ohm": case.r0_ohm,
        "efficiency": case.efficiency,
        **({"grip_mu": b.grip_mu} if math.isfinite(b.grip_mu) else {}),
    }


def with_values(case: RunCase, v: dict[str, float]) -> RunCase:
    """The case with other values in their places."""
    grip = v.get("grip_mu", case.body.grip_mu)
    body = replace(case.body, cda_m2=v["cda_m2"], crr=v["crr"], mass_kg=v["mass_kg"], grip_mu=grip)
    return replace(case, body=body, r0_ohm=v["r0_ohm"], efficiency=min(v["efficiency"], 1.0))


def fit(case: RunCase, traces: Sequence[Trace], spreads: dict[str, float]) -> Fit:
    """spreads: relative half-width of each value before (95 %); 0 leaves it as it is. Values scale by factors, the
    unknowns are their natural logarithms and each run's start (s), each coast-down's first speed (m/s)."""
    base = taken_from(case)
    names = [n for n in NAMES if spreads.get(n, 0.0) > 0.0 and n in base]
    starts = [START_S if tr.kind == "run" else COAST_START_M_S for tr in traces]
    ways = any(tr.way is not None for tr in traces)
    prior = np.array(
        [spreads[n] / Z95 for n in names] + starts + ([WIND_M_S, SLOPE_PCT] if ways else [])
    )
    x = np.zeros(len(prior))
    rounds = 0
    for k in range(ROUNDS):
        rounds = k + 1
        r, jac = _residuals(case, base, names, traces, x)
        a = np.vstack([jac, np.diag(1.0 / prior)])
        b = np.concatenate([r, x / prior])
        step = np.linalg.lstsq(a, -b, rcond=None)[0]
        step = np.clip(step, -0.5, 0.5)
        x = x + step
        if float(np.abs(step).max()) < SETTLED:
            break
    r, jac = _residuals(case, base, names, traces, x)
    info = jac.T @ jac + np.diag(1.0 / prior**2)
    cov = np.linalg.inv(info)
    sd = np.sqrt(np.diag(cov))
    values = tuple(
        Fitted(
            n,
            base[n],
            base[n] * math.exp(x[i]),
            base[n] * math.exp(x[i]) * Z95 * float(sd[i]),
            bool(sd[i] < TOLD * prior[i]),
        )
        for i, n in enumerate(names)
    )
    corr = cov / np.outer(sd, sd)
    together = tuple(
        (a_, b_)
        for i, a_ in enumerate(names)
        for j, b_ in enumerate(names)
        if i < j and abs(corr[i, j]) > BOUND
    )
    made = with_values(case, {**base, **{f.name: f.value for f in values}})
    sky = None
    if ways:
        wind, slope = (Z95 * float(s) for s in sd[-2:])
        sky = (float(x[-2]), wind, float(x[-1]), slope)
    known = [_under(tr, x) for tr in traces]
    return Fit(values, together, _rms(made, known, x[len(names) :]), rounds, made, sky)


def _under(trace: Trace, x: Floats) -> Trace:
    """The trace with the learned wind and slope (the last two unknowns) where nobody said them."""
    if trace.way is None:
        return trace
    wind = trace.way * float(x[-2]) if trace.wind_m_s is None else trace.wind_m_s
    grade = trace.way * float(x[-1]) if trace.grade_pct is None else trace.grade_pct
    return replace(trace, wind_m_s=wind, grade_pct=grade)


def ridden_in(case: RunCase, trace: Trace) -> RunCase:
    """The case in the trace's own wind and slope, and coasting where it does."""
    body = case.body
    if trace.wind_m_s is not None:
        body = replace(body, wind_m_s=trace.wind_m_s)
    if trace.grade_pct is not None:
        body = replace(body, grade_pct=trace.grade_pct)
    if trace.kind == "run":
        return case if body is case.body else replace(case, body=body)
    if trace.free_kg is None:
        return replace(case, body=body, throttle=0.0)
    body = replace(body, rotating_kg=trace.free_kg)
    return replace(case, body=body, throttle=0.0, drag_nm=0.0, drag_nm_s_rad=0.0)


def _model(case: RunCase, trace: Trace, shift: float) -> tuple[Floats, Floats]:
    """Speed and volts of the run at the trace's times; at rest before its start. Of a coast-down shift is what its
    first speed lay above the logged one."""
    case = ridden_in(case, trace)
    if trace.kind == "coast":
        at = np.asarray(trace.t_s, dtype=np.float64)
        first = max(float(trace.speed_m_s[0]) + shift, 0.01)
        begun = State(first, 0.0, case.start_soc, 0.0, case.start_temp_c, case.start_temp_c)
        s = run(case, Stop(seconds=float(at[-1]) + 0.5), start=begun).series
        return np.interp(at, s.t_s, s.speed_m_s), np.interp(at, s.t_s, s.bus_v)
    t = np.asarray(trace.t_s, dtype=np.float64) + shift
    s = run(case, Stop(seconds=float(t[-1]) + 0.5)).series
    speed = np.interp(t, s.t_s, s.speed_m_s, left=0.0)
    volts = np.interp(t, s.t_s, s.bus_v)
    return speed, volts


def _one(case: RunCase, trace: Trace, shift: float) -> Floats:
    speed, volts = _model(case, trace, shift)
    out: Floats = (speed - np.asarray(trace.speed_m_s)) / max(trace.noise_m_s, LEAST_SIGMA)
    if trace.bus_v is None or trace.kind == "coast":
        return out
    moving = np.asarray(trace.t_s) + shift > 0.3
    gaps: Floats = np.where(moving, (volts - np.asarray(trace.bus_v)) / trace.noise_v, 0.0)
    return np.concatenate([out, gaps])


def _residuals(
    case: RunCase, base: dict[str, float], names: list[str], traces: Sequence[Trace], x: Floats
) -> tuple[Floats, Floats]:
    """(residuals over their noise, their slopes) at x."""

    def at(x: Floats, k: int) -> Floats:
        values = {**base, **{n: base[n] * math.exp(x[i]) for i, n in enumerate(names)}}
        return _one(with_values(case, values), _under(traces[k], x), float(x[len(names) + k]))

    rows, slopes = [], []
    for k in range(len(traces)):
        here = at(x, k)
        own = np.zeros((len(here), len(x)))
        sky = range(len(names) + len(traces), len(x)) if traces[k].way is not None else ()
        for i in (*range(len(names)), len(names) + k, *sky):
            moved = x.copy()
            moved[i] += STEP
            back = x.copy()
            back[i] -= STEP
            own[:, i] = (at(moved, k) - at(back, k)) / (2.0 * STEP)
        rows.append(here)
        slopes.append(own)
    return np.concatenate(rows), np.vstack(slopes)


def _rms(case: RunCase, traces: Sequence[Trace], shifts: Floats) -> float:
    gaps = [
        _model(case, tr, float(s))[0] - np.asarray(tr.speed_m_s)
        for tr, s in zip(traces, shifts[: len(traces)], strict=True)
    ]
    return float(np.sqrt(np.mean(np.concatenate(gaps) ** 2)))
