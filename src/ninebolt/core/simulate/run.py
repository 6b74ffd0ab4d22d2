"""One straight-line run from rest: the kernel's run with names."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np
import numpy.typing as npt

from ninebolt.core.kernel import kernel
from ninebolt.core.simulate.case import CHOKES, RunCase, numbers
from ninebolt.core.vehicle.splits import time_at_speed

ENDED = ("distance", "speed", "time", "stalled", "steps")
BOOKS_CLOSE = 0.005  # of the energy out of the cells; a run that misses more is not believed


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


GUARDED = [tuple(Series.__dataclass_fields__).index(n) for n in ("t_s", "speed_m_s", "line_a")]


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


class State(NamedTuple):
    """speed (m/s), distance (m), charge 0…1, slow voltage of the pack (V), winding and case °C."""

    speed: float
    distance: float
    soc: float
    slow_v: float
    winding_c: float
    case_c: float


@dataclass(frozen=True)
class Run:
    """A finished run. rows: a row a step, the columns of Series side by side, the choke as its
    number, then the slow volts. ended: distance, speed, time, stalled, or steps (it needed more of
    them than are allowed)."""

    case: RunCase
    rows: npt.NDArray[np.float64]
    end: npt.NDArray[np.float64]  # states and energies at the end, as the kernel leaves them
    ended: str

    @cached_property
    def energy(self) -> Energy:
        """The books."""
        kinetic = 0.5 * self.case.effective_kg * float(self.end[0]) ** 2
        return Energy(*[*self.end[6:].tolist(), kinetic])

    @cached_property
    def filled(self) -> npt.NDArray[np.float64]:
        """The rows with more in between, as the kernel leaves them."""
        k = kernel()
        out: npt.NDArray[np.float64] = k.fill(*numbers(self.case), self.rows, k.ROW_EACH_S)
        return out

    @property
    def guarded(self) -> tuple[npt.NDArray[np.float64], ...]:
        """(seconds, speed, line amps): what a fuse or a BMS sees."""
        return tuple(self.filled[:, GUARDED].T)

    @cached_property
    def series(self) -> Series:
        """The run by columns, rows filled in between the steps."""
        columns: list[list[Any]] = [column.tolist() for column in self.filled.T[:14]]
        columns[-1] = [CHOKES[int(c)] for c in columns[-1]]
        return Series(*columns)

    def moved(self, each_s: float) -> tuple[list[float], list[float], list[float], list[float]]:
        """(t, distance, speed, acceleration) with rows no further apart than each_s: where the whole of the run is not
        wanted."""
        filled = kernel().fill(*numbers(self.case), self.rows, each_s)
        t, x, v, a = (filled[:, i].tolist() for i in range(4))
        return t, x, v, a

    @property
    def top_speed_m_s(self) -> float:
        return float(self.rows[:, 2].max())

    @property
    def books_close(self) -> bool:
        """Whether what left the cells is found again."""
        return abs(self.energy.imbalance) <= BOOKS_CLOSE


def held_longest(done: Run) -> str:
    """The choke that holds over most of the run's time."""
    t, choke = done.rows[:, 0], done.rows[:, 13].astype(np.int64)
    return CHOKES[int(np.bincount(choke[1:], weights=np.diff(t)).argmax())] if len(t) > 1 else ""


def start_state(case: RunCase) -> State:
    """At rest with the case's own charge and temperature."""
    return State(0.0, 0.0, case.start_soc, 0.0, case.start_temp_c, case.start_temp_c)


def run(
    case: RunCase, stop: Stop | None = None, coarse: float = 1.0, start: State | None = None
) -> Run:
    """Ride the case from rest at full throttle until stop.

    coarse: factor on the longest step, where fewer rows are enough; the error decides all the same.
    start: charge and temperatures to begin with, else the case's own. The last row lies on the stop
    mark.
    """
    stop = stop or Stop()
    c, xs, ys = numbers(case)
    rows, ended, y = kernel().run(
        c,
        xs,
        ys,
        np.array(start or start_state(case), dtype=np.float64),
        float(stop.distance_m),
        float(stop.speed_m_s),
        float(stop.seconds),
        float(coarse),
    )
    return Run(case, rows, y, ENDED[ended])


def reached_s(done: Run, speed_m_s: float) -> float | None:
    """When a run first reached a speed; None if it did not."""
    v = done.rows[:, 2]
    past = np.nonzero(v >= speed_m_s * (1.0 - 1e-6))[0]
    if not len(past):
        return None
    end = int(past[0]) + 2  # rows behind the first crossing are not looked at
    t, x, a = (done.rows[max(0, end - 4) : end, i].tolist() for i in (0, 2, 3))
    return time_at_speed(t, x, a, speed_m_s)
