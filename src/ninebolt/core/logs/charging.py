"""Group voltages while charging: are all rising, which one runs ahead, when to stop."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]

RISE_SHARE = 0.5  # a group that rises less than this share of the median is stuck. Practice.
LEAD_OFF_V = 0.5  # no cell that can be charged reads this little. Common practice, no source.
OUTLIER_V = 0.030  # off the median at the end. Common practice, no source.
STOP_SPREAD_V = 0.10  # further apart than this while charging: stop. Common practice, no source.
SHOWN_ROWS = 400


@dataclass(frozen=True, slots=True)
class GroupLog:
    """Columns of a charge log: time in seconds, volts of each group (rows, groups), their numbers as they stand in
    the titles, and how many rows were left out because a group was not read."""

    name: str
    t_s: Floats
    volts: Floats
    groups: tuple[str, ...]
    skipped: int = 0


@dataclass(frozen=True, slots=True)
class Outlier:
    """A group apart from the others: off_v from the median at the end; what it looks like."""

    group: str
    off_v: float
    words: str


@dataclass(frozen=True, slots=True)
class ChargeReport:
    """spread_v at the end, worst_v at any time. stop_s: when charging should have stopped (None =
    not at all), and why. Columns thinned for drawing; last: the last row, group number and
    volts, counted from 1. skipped: rows in which a group was not read. past_full: whether that could be judged."""

    name: str
    groups: tuple[str, ...]
    spread_v: float
    worst_v: float
    outliers: tuple[Outlier, ...]
    stop_s: float | None
    stop_words: str
    t_s: list[float]
    low_v: list[float]
    mid_v: list[float]
    high_v: list[float]
    last: tuple[tuple[float, float], ...]
    skipped: int
    past_full: bool


def watch(log: GroupLog, full_v: float | None) -> ChargeReport:
    """Judge a charge log. full_v: full voltage of a cell (group), None where nobody knows it."""
    v = log.volts
    middle = np.median(v, axis=1)
    spread = np.ptp(v, axis=1)
    stop_s, words = _stop(log, full_v, spread)
    step = max(1, len(log.t_s) // SHOWN_ROWS)
    numbers = [int(x) for x in log.groups]
    from_one = 1 - min(*numbers, 1)
    last = tuple(
        sorted((float(n + from_one), float(x)) for n, x in zip(numbers, v[-1], strict=True))
    )
    return ChargeReport(
        log.name,
        log.groups,
        float(spread[-1]),
        float(spread.max()),
        _outliers(log, middle),
        stop_s,
        words,
        [float(x) for x in log.t_s[::step]],
        [float(x) for x in v.min(axis=1)[::step]],
        [float(x) for x in middle[::step]],
        [float(x) for x in v.max(axis=1)[::step]],
        last,
        log.skipped,
        full_v is not None,
    )


def _stop(log: GroupLog, full_v: float | None, spread: Floats) -> tuple[float | None, str]:
    over = np.flatnonzero(log.volts.max(axis=1) > (math.inf if full_v is None else full_v + 0.005))
    apart = np.flatnonzero(spread > STOP_SPREAD_V)
    rows = [(int(r[0]), w) for r, w in ((over, "over"), (apart, "apart")) if len(r)]
    if not rows:
        return None, ""
    row, why = min(rows)
    group = log.groups[int(np.argmax(log.volts[row]))]
    if why == "over":
        return float(log.t_s[row]), f"group {group} passed full"
    return float(log.t_s[row]), f"the groups stood {spread[row] * 1000:.0f} mV apart"


def _outliers(log: GroupLog, middle: Floats) -> tuple[Outlier, ...]:
    rise = log.volts[-1] - log.volts[0]
    usual = float(np.median(rise))
    out = []
    for i, group in enumerate(log.groups):
        off = float(log.volts[-1, i] - middle[-1])
        if float(log.volts[:, i].max()) < LEAD_OFF_V:
            words = "reads nothing: its lead is off or broken, and nobody watches this group"
            out.append(Outlier(group, off, words))
        elif usual > 0.02 and rise[i] < RISE_SHARE * usual:
            out.append(
                Outlier(group, off, "does not rise with the others: a leaking cell, or its lead")
            )
        elif off > OUTLIER_V:
            out.append(Outlier(group, off, "runs ahead: the smallest, it is full first"))
        elif off < -OUTLIER_V:
            out.append(Outlier(group, off, "lags: started lower, or leaks"))
    return tuple(sorted(out, key=lambda o: -abs(o.off_v)))
