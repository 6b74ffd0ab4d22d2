"""One straight-line run from rest, by fourth-order Runge-Kutta with a step that suits the run."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.thrust import Instant, State, ThrustModel
from ninebolt.core.vehicle.road import road_load

STEP_S = 0.1
LATE_STEP_S = 0.25
FASTEST_S = 0.1  # a slow part faster than the step is plain resistance: it is held at this
LATE_S = 4.0


@dataclass(frozen=True, slots=True)
class Stop:
    """The run ends at whichever comes first."""

    distance_m: float = math.inf
    speed_m_s: float = math.inf
    seconds: float = 60.0


@dataclass(frozen=True, slots=True)
class Series:
    """Columns of equal length, one row a step; SI. choke names the limiting link."""

    t_s: list[float] = field(default_factory=list)
    distance_m: list[float] = field(default_factory=list)
    speed_m_s: list[float] = field(default_factory=list)
    accel_m_s2: list[float] = field(default_factory=list)
    thrust_n: list[float] = field(default_factory=list)
    bus_v: list[float] = field(default_factory=list)
    line_a: list[float] = field(default_factory=list)
    iq_a: list[float] = field(default_factory=list)
    id_a: list[float] = field(default_factory=list)
    torque_nm: list[float] = field(default_factory=list)
    soc: list[float] = field(default_factory=list)
    winding_c: list[float] = field(default_factory=list)
    case_c: list[float] = field(default_factory=list)
    choke: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Energy:
    """Where the energy of the run went (J). cells = all others added up, if the books balance."""

    cells_j: float
    pack_heat_j: float
    controller_j: float
    copper_j: float
    drag_j: float
    driveline_j: float
    aero_j: float
    rolling_j: float
    grade_j: float
    kinetic_j: float

    @property
    def imbalance(self) -> float:
        """(cells - the rest) / cells."""
        rest = (
            self.pack_heat_j
            + self.controller_j
            + self.copper_j
            + self.drag_j
            + self.driveline_j
            + self.aero_j
            + self.rolling_j
            + self.grade_j
            + self.kinetic_j
        )
        return (self.cells_j - rest) / self.cells_j if self.cells_j else 0.0


@dataclass(frozen=True, slots=True)
class Run:
    """A finished run. ended: distance, speed, time or stalled."""

    series: Series
    energy: Energy
    ended: str

    @property
    def top_speed_m_s(self) -> float:
        return max(self.series.speed_m_s)


class _Books:
    """Adds up powers by the trapezoid rule."""

    def __init__(self) -> None:
        self.sums = [0.0] * 9
        self.last: tuple[float, ...] | None = None

    def add(self, dt: float, powers: tuple[float, ...]) -> None:
        if self.last is not None and dt > 0.0:
            half = 0.5 * dt
            self.sums = [
                s + half * (a + b) for s, a, b in zip(self.sums, self.last, powers, strict=True)
            ]
        self.last = powers


class Runner:
    """Steps one case. Split from run() so that a caller can ride it with its own throttle."""

    def __init__(self, case: RunCase) -> None:
        self.case = case
        self.model = ThrustModel(case)
        self.gear = case.ratio / case.radius_m
        self.tau_s = max(case.tau_s, FASTEST_S)
        self.per_coulomb = 1.0 / (case.pack_ah * 3600.0)

    def rates(self, s: State, t: float) -> tuple[tuple[float, ...], Instant]:
        """Time derivatives of the state, and the instant they come from."""
        model, case = self.model, self.case
        now = model.instant(s, t)
        motor = s.speed * self.gear
        point = model.held_back(now, motor) if now.free_n > now.thrust_n else now.point
        heat_w = heat_c = 0.0
        if (th := case.thermal) is not None:
            flow = (s.winding_c - s.case_c) / th.winding_case_k_w
            heat_w = (point.copper_w - flow) / th.winding_j_k
            warm = model.drag(motor) * motor
            heat_c = (flow + warm - (s.case_c - th.air_c) / th.case_air_k_w) / th.case_j_k
        slow = (point.line_a * model.r_slow - s.slow_v) / self.tau_s
        if now.point is not point:
            now = now._replace(point=point)
        return (
            now.accel,
            s.speed,
            -point.line_a * self.per_coulomb,
            slow,
            heat_w,
            heat_c,
        ), now

    def step(self, s: State, t: float, dt: float, k1: tuple[float, ...]) -> State:
        """One Runge-Kutta step; k1 is given because the caller has recorded it already."""
        half = 0.5 * dt
        k2, _ = self.rates(_ahead(s, k1, half), t + half)
        k3, _ = self.rates(_ahead(s, k2, half), t + half)
        k4, _ = self.rates(_ahead(s, k3, dt), t + dt)
        sixth = dt / 6.0
        return State(
            *[
                x + sixth * (a + 2.0 * (b + c) + d)
                for x, a, b, c, d in zip(s, k1, k2, k3, k4, strict=True)
            ]
        )

    def powers(self, s: State, now: Instant) -> tuple[float, ...]:
        """Powers in the order of Energy's fields before kinetic_j (W)."""
        p, model = now.point, self.model
        motor = s.speed * self.gear
        shaft = p.torque_nm * motor - model.drag(motor) * motor
        load = road_load(self.case.body, s.speed)
        cells = (self.case.series * model.volts(s.soc)) * p.line_a
        return (
            cells,
            p.line_a**2 * model.r_pack + s.slow_v * p.line_a,
            p.controller_w,
            p.copper_w,
            model.drag(motor) * motor,
            shaft - now.thrust_n * s.speed,
            load.aero_n * s.speed,
            load.rolling_n * s.speed,
            load.grade_n * s.speed,
        )


def _ahead(s: State, k: tuple[float, ...], dt: float) -> State:
    return State(*[x + dt * d for x, d in zip(s, k, strict=True)])


def run(
    case: RunCase, stop: Stop | None = None, coarse: float = 1.0, start: State | None = None
) -> Run:
    """Ride the case from rest at full throttle until stop.

    coarse: factor on the step, for bands that need many runs. start: charge and temperatures to
    begin with, else the case's own. The last row lies on the stop mark.
    """
    stop = stop or Stop()
    runner, s, t = Runner(case), start or ThrustModel(case).start_state(), 0.0
    series, books, ended, still = Series(), _Books(), "time", 0.0
    last_dt = 0.0
    while True:
        k1, now = runner.rates(s, t)
        _record(series, s, t, now)
        books.add(last_dt, runner.powers(s, now))
        if ended != "time" or t >= stop.seconds - 1e-9:
            break
        dt = min(STEP_S if t < LATE_S else LATE_STEP_S, 0.5 * runner.tau_s / coarse) * coarse
        if case.ramp_s > 0.0 and t < case.ramp_s:
            dt = min(dt, case.ramp_s / 20.0)
        dt = min(dt, stop.seconds - t)
        new = runner.step(s, t, dt, k1)
        if new.distance >= stop.distance_m or new.speed >= stop.speed_m_s:
            ended = "distance" if new.distance >= stop.distance_m else "speed"
            dt = _shorten(runner, s, t, dt, k1, stop)
            new = runner.step(s, t, dt, k1)
        still = still + dt if new.speed <= 0.0 else 0.0
        if still > 2.0:
            ended = "stalled"
        if new.speed < 0.0:
            new = new._replace(speed=0.0)
        s, t, last_dt = new, t + dt, dt
    kinetic = 0.5 * case.effective_kg * s.speed**2
    return Run(series, Energy(*[*books.sums, kinetic]), ended)


def _shorten(
    runner: Runner, s: State, t: float, dt: float, k1: tuple[float, ...], stop: Stop
) -> float:
    """The step that lands on the stop mark, by bisection."""
    low, high = 0.0, dt
    for _ in range(26):
        mid = 0.5 * (low + high)
        new = runner.step(s, t, mid, k1)
        over = new.distance >= stop.distance_m or new.speed >= stop.speed_m_s
        low, high = (low, mid) if over else (mid, high)
    return high


def _record(series: Series, s: State, t: float, now: Instant) -> None:
    p = now.point
    row = (
        t,
        s.distance,
        s.speed,
        now.accel,
        now.thrust_n,
        p.bus_v,
        p.line_a,
        p.iq_a,
        p.id_a,
        p.torque_nm,
        s.soc,
        s.winding_c,
        s.case_c,
        now.choke,
    )
    for name, value in zip(Series.__slots__, row, strict=True):
        getattr(series, name).append(value)
