"""Sort measured cells into series groups whose capacities match; even out the rest after that.

The smallest group ends every discharge, so the first aim is the largest weakest group: take the
strongest S·P cells, then bring the group sums together by exchanging cells between the richest and
the poorest group; groups of three or four are split anew three at a time. A group that is still
stronger than the weakest can use gives strong cells back for weaker ones, as spares. P = 1 and
P = 2 are exact (strongest cells; strongest with weakest). The sum over S groups of the strongest
cells, divided by S, is a ceiling that no assignment beats.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ninebolt.core.match.accept import MeasuredCell, Reject, RuleInForce, Rules, reject
from ninebolt.core.match.regroup import (
    GOAL_SPREAD,
    Floats,
    Groups,
    even_split,
    polish,
    trim,
    trios,
)
from ninebolt.errors import InputError

Score = tuple[float, float]  # weakest group (Ah) and spread

SMALL_P, SMALL_S = 8, 400  # up to here two cells at a time are tried as well
MATCH_SPREAD = 4.5e-4  # room that evening out the resistance may use
SMALL_LOT, MORE_STARTS = 240, 12  # cells up to which other deals are tried, and how many
HOPELESS_SPREAD = 3e-3  # a lot of two kinds of cells, that no deal makes even
MOST_WAYS, MOST_NODES, MOST_SETS = 8_000, 4_000, 60  # of the search through nearly all ways
LEAVE_OUT = 4e-4  # of the capacity that may be left out for the sake of an even split
TRIM_ABOVE = 2e-4  # groups that are so much above the weakest give strong cells back


@dataclass(frozen=True, slots=True)
class GroupRow:
    """One series group: its cells by id, summed capacity, parallel resistance, self-discharge."""

    number: int
    cells: tuple[str, ...]
    capacity_ah: float
    r_ohm: float | None
    fade_v_day: float | None


@dataclass(frozen=True, slots=True)
class Sorting:
    """Result. spread: (largest - smallest) / mean group capacity. ceiling_ah: no assignment's
    weakest group can be stronger. as_they_come, serpentine, greedy: weakest group and spread of
    simpler ways, for comparison. rules: as they were used. cautions: what to see to before they are
    joined."""

    groups: tuple[GroupRow, ...]
    rejects: tuple[Reject, ...]
    spare: tuple[str, ...]
    weakest_ah: float
    spread: float
    ceiling_ah: float
    as_they_come: tuple[float, float]
    serpentine: tuple[float, float]
    greedy: tuple[float, float]
    lost_share: float
    rounds: int
    rules: tuple[RuleInForce, ...] = ()
    cautions: tuple[str, ...] = ()


def serpentine(order: Groups, series: int, parallel: int) -> Groups:
    """Deal the sorted cells forth and back over the groups."""
    rows = order[: series * parallel].reshape(parallel, series).copy()
    rows[1::2] = rows[1::2, ::-1]
    return rows.T


def greedy(capacity: Floats, order: Groups, series: int, parallel: int) -> Groups:
    """Each cell, strongest first, to the poorest group that has room."""
    sums = np.zeros(series)
    filled = np.zeros(series, dtype=np.intp)
    groups = np.zeros((series, parallel), dtype=np.intp)
    for cell in order[: series * parallel]:
        g = int(np.argmin(np.where(filled < parallel, sums, np.inf)))
        groups[g, filled[g]] = cell
        filled[g] += 1
        sums[g] += capacity[cell]
    return groups


def exchange(capacity: Floats, groups: Groups) -> Iterator[float]:
    """Bring the sums together in place; yields the spread after each round, ends when it stands.

    A round goes through the pairs richest-poorest, second-second, ... and exchanges the two cells
    whose difference comes nearest to half the gap.
    """
    sums = capacity[groups].sum(axis=1)
    mean = float(sums.mean())
    best, stuck = np.inf, 0
    while stuck < 25:
        order = np.argsort(sums)
        half = len(order) // 2
        low, high = order[:half], order[::-1][:half]
        if stuck:  # other partners when the usual ones have nothing left to give
            high = np.roll(high, stuck)
        _swap_pairs(capacity, groups, sums, low, high)
        spread = float(np.ptp(sums)) / mean
        stuck = 0 if spread < best * 0.999 else stuck + 1
        best = min(best, spread)
        yield spread
        if spread < GOAL_SPREAD:
            return


def _swap_pairs(capacity: Floats, groups: Groups, sums: Floats, low: Groups, high: Groups) -> None:
    gap = 0.5 * (sums[high] - sums[low])
    give, take = capacity[groups[high]], capacity[groups[low]]
    gain = give[:, :, None] - take[:, None, :]  # what the poor group would win
    miss = np.abs(gain - gap[:, None, None])
    parallel = groups.shape[1]
    at = miss.reshape(len(low), -1).argmin(axis=1)
    i, j = at // parallel, at % parallel
    rows = np.arange(len(low))
    won = gain[rows, i, j]
    do = np.abs(gap - won) < np.abs(gap) * (1 - 1e-12)
    rows = rows[do]
    hi, lo, i, j, won = high[do], low[do], i[do], j[do], won[do]
    groups[hi, i], groups[lo, j] = groups[lo, j], groups[hi, i].copy()
    sums[hi] -= won
    sums[lo] += won


class Evener:
    """Exchanges cells of nearly the same capacity between groups where that evens out the groups'
    other sums (conductance, self-discharge), as long as the spread of capacity stays small."""

    def __init__(self, capacity: Floats, others: list[Floats], groups: Groups) -> None:
        self.capacity, self.groups = capacity, groups
        self.sums = capacity[groups].sum(axis=1)
        self.mean = float(self.sums.mean())
        scales = [float(np.ptp(x)) or 1.0 for x in others]
        self.others = [x / s for x, s in zip(others, scales, strict=True)]
        self.rows = [x[groups].sum(axis=1) for x in self.others]
        self.targets = [float(r.mean()) for r in self.rows]
        self.where = {int(c): (g, k) for g, row in enumerate(groups) for k, c in enumerate(row)}
        self.order = sorted(self.where, key=lambda c: capacity[c])

    @property
    def cost(self) -> float:
        """Squared distance of all groups' other sums from their means."""
        pairs = zip(self.rows, self.targets, strict=True)
        return float(sum(((r - t) ** 2).sum() for r, t in pairs))

    def sweep(self, reach: int) -> int:
        """Try all pairs that lie so far apart in the order of capacity; how many were exchanged."""
        pairs = zip(self.order, self.order[reach:], strict=False)
        return sum(self._try(a, b) for a, b in pairs)

    def _try(self, a: int, b: int) -> bool:
        (ga, ka), (gb, kb) = self.where[a], self.where[b]
        if ga == gb:
            return False
        d = self.capacity[b] - self.capacity[a]
        room = 0.5 * MATCH_SPREAD * self.mean
        if abs(self.sums[ga] + d - self.mean) > room or abs(self.sums[gb] - d - self.mean) > room:
            return False
        gain = 0.0
        for x, rows, target in zip(self.others, self.rows, self.targets, strict=True):
            f, u, w = x[b] - x[a], rows[ga] - target, rows[gb] - target
            gain += u * u + w * w - (u + f) ** 2 - (w - f) ** 2
        if gain <= 1e-15:
            return False
        self.groups[ga, ka], self.groups[gb, kb] = b, a
        self.where[a], self.where[b] = (gb, kb), (ga, ka)
        self.sums[ga] += d
        self.sums[gb] -= d
        for x, rows in zip(self.others, self.rows, strict=True):
            rows[ga] += x[b] - x[a]
            rows[gb] -= x[b] - x[a]
        return True


def _score(capacity: Floats, groups: Groups) -> tuple[float, float]:
    sums = capacity[groups].sum(axis=1)
    return float(sums.min()), float(np.ptp(sums) / sums.mean())


QUICK_REACH = 8


def sort_cells(
    cells: list[MeasuredCell],
    series: int,
    parallel: int,
    rules: Rules | None = None,
    rounds: int = 4000,
) -> Sorting:
    """Reject, choose and assign. rounds bounds the search. Raises InputError if too few pass."""
    *_, made = improving(cells, series, parallel, rules, rounds, QUICK_REACH)
    return made


def _what_would_do(have: int, series: int, parallel: int) -> str:
    """How far the cells at hand go, and how many are missing."""
    fits = have // series
    instead = f"They make {series}s{fits}p" if fits else f"They make {have}s1p at most"
    if not have:
        instead = "They make no pack"
    more = series * parallel - have
    missing = f"{more} more would make {series}s{parallel}p"
    return f"{instead}; {missing}. Loosen a rule only if you can answer for it."


def _first_out(out: list[Reject]) -> str:
    """How many were rejected, and why the first of them was; '' if none was."""
    if not out:
        return ""
    others = f" and {len(out) - 1} more" if len(out) > 1 else ""
    return f"{out[0].id}{others} {'are' if others else 'is'} out; {out[0].id}: {out[0].reason}. "


def improving(
    cells: list[MeasuredCell],
    series: int,
    parallel: int,
    rules: Rules | None = None,
    rounds: int = 4000,
    most_reach: int = 400,
) -> Iterator[Sorting]:
    """The same, given out as it gets better: the first is matched in capacity, each later one is as
    well matched and evener in resistance and self-discharge. Stop when you like."""
    if series < 1 or parallel < 1:
        raise InputError(
            "A pack needs at least one cell in series and parallel.", got=f"{series}s{parallel}p"
        )
    kept, out = reject(cells, rules or Rules())
    need = series * parallel
    if len(kept) < need:
        raise InputError(
            "Too few cells pass the rules.",
            got=f"{len(kept)} of {len(cells)}",
            expected=f"{need} for {series}s{parallel}p",
            todo=f"{_first_out(out)}{_what_would_do(len(kept), series, parallel)}",
        )
    capacity = np.array([c.capacity_ah for c in kept])
    order = np.argsort(-capacity, kind="stable")
    lot = _Lot(kept, tuple(out), capacity, order, _simple(capacity, order, series, parallel))
    groups, used = order[:need].reshape(series, parallel), 0
    for groups, used in _assign(capacity, order, series, parallel, rounds):
        yield lot.result(groups, used)
    features = lot.features()
    if parallel <= 2 or not features or series < 2:
        return
    evener = Evener(capacity, features, groups)
    idle = 0
    for sweep, reach in enumerate(_reaches(len(evener.order), most_reach), 1):
        idle = 0 if evener.sweep(reach) else idle + 1
        yield lot.result(groups, used + sweep)
        if idle >= 12:
            return


def _simple(
    capacity: Floats, order: Groups, series: int, parallel: int
) -> tuple[Score, Score, Score]:
    """Weakest group and spread of the simpler ways: as they come, serpentine, greedy."""
    return (
        _score(capacity, np.arange(series * parallel).reshape(series, parallel)),
        _score(capacity, serpentine(order, series, parallel)),
        _score(capacity, greedy(capacity, order, series, parallel)),
    )


def _reaches(count: int, most: int) -> Iterator[int]:
    """1, 2, 3, 5, 8 …, then 1 to most over and over, a few times."""
    quick = [r for r in (1, 2, 3, 5, 8) if r < count]
    yield from quick
    if most > QUICK_REACH:
        for _ in range(6):
            yield from range(1, min(most, count))


@dataclass(frozen=True, slots=True)
class _Lot:
    """The cells that passed, and how a result is made of an assignment."""

    kept: list[MeasuredCell]
    rejects: tuple[Reject, ...]
    capacity: Floats
    order: Groups
    simple: tuple[Score, Score, Score]

    def features(self) -> list[Floats]:
        """What is evened out besides capacity: conductance, lost charge a day; if measured."""
        ohm = np.array([c.r_ohm for c in self.kept])
        fade = np.array([c.fade_v_day for c in self.kept]) * self.capacity
        found = [1.0 / ohm] if np.isfinite(ohm).all() else []
        return [*found, fade] if np.isfinite(fade).all() and np.ptp(fade) > 0 else found

    def result(self, groups: Groups, used: int) -> Sorting:
        series, need = len(groups), groups.size
        weakest, spread = _score(self.capacity, groups)
        chosen = set(groups.ravel().tolist())
        total = float(self.capacity[self.order[:need]].sum())
        return Sorting(
            _rows(self.kept, groups, self.capacity),
            self.rejects,
            tuple(c.id for k, c in enumerate(self.kept) if k not in chosen),
            weakest,
            spread,
            total / series,
            *self.simple,
            1.0 - weakest * series / total,
            used,
        )


def _assign(
    capacity: Floats, order: Groups, series: int, parallel: int, rounds: int
) -> Iterator[tuple[Groups, int]]:
    """Assignments, each better matched than the one before; with the rounds that they took. Small
    lots that do not come out even are begun anew from other deals and with other cells left out."""
    need = series * parallel
    if parallel == 1 or series == 1:
        yield order[:need].reshape(series, parallel).copy(), 0
        return
    if parallel == 2:
        pairs = np.stack([order[:series], order[need - 1 : series - 1 : -1]], axis=1)
        yield pairs.copy(), 0
        return
    total, mark = 0, -np.inf
    for start in _starts(capacity, order, series, parallel):
        groups, used = _matched(capacity, start.copy(), rounds)
        trim(capacity, groups, np.setdiff1d(order, groups), TRIM_ABOVE)
        total += used
        worth, spread = _worth(capacity, groups), _score(capacity, groups)[1]
        if worth > mark:
            mark = worth
            yield groups, total
        if not MATCH_SPREAD < spread < HOPELESS_SPREAD:
            return
        even = _even(capacity, order, series, parallel) if total == used else None
        if even is not None:
            yield even, total
            return


def _worth(capacity: Floats, groups: Groups) -> float:
    """What an assignment is compared by: the weakest group, less where the spread is wide."""
    weakest, spread = _score(capacity, groups)
    return weakest * (1.0 - 0.5 * max(0.0, spread - MATCH_SPREAD))


def _even(capacity: Floats, order: Groups, series: int, parallel: int) -> Groups | None:
    """For the smallest packs: a split that is even by trial of nearly all ways, with the strongest
    cells or with one near the line left out for the next one below it."""
    need = series * parallel
    if parallel < 4 or math.comb(need - 1, parallel - 1) > MOST_WAYS:
        return None
    total = float(capacity[order[:need]].sum())
    sets = [(0.0, order[:need])]
    for out in range(need - 1, -1, -1):
        for into in range(need, len(order)):
            loss = float(capacity[order[out]] - capacity[order[into]]) / total
            if loss <= LEAVE_OUT:
                sets.append((loss, np.concatenate([np.delete(order[:need], out), order[[into]]])))
    left = MOST_NODES
    for _, chosen in sorted(sets, key=lambda x: x[0])[:MOST_SETS]:
        groups, used = even_split(capacity, chosen, parallel, MATCH_SPREAD / 2, left)
        left -= used
        if groups is not None or left <= 0:
            return groups
    return None


def _starts(capacity: Floats, order: Groups, series: int, parallel: int) -> Iterator[Groups]:
    """Deals to begin from: forth and back, then (small lots) turned columns of it, every second one
    with a cell near the line left out for one below it."""
    first = serpentine(order, series, parallel)
    yield first
    need, left = series * parallel, len(order) - series * parallel
    if need > SMALL_LOT or parallel > SMALL_P:
        return
    for turn in range(1, MORE_STARTS):
        chosen = order
        if turn % 2 == 0 and left:
            out, into = need - 1 - turn % min(need, 9), need + turn % min(left, 3)
            chosen = order.copy()
            chosen[[out, into]] = chosen[[into, out]]
            loss = (capacity[order[out]] - capacity[order[into]]) / capacity[order[:need]].sum()
            if loss > LEAVE_OUT:
                chosen = order
        groups = serpentine(chosen, series, parallel).copy()
        for k in range(1, parallel):
            groups[:, k] = np.roll(groups[:, k], (turn * (k + 1)) % series)
        yield groups


def _matched(capacity: Floats, groups: Groups, rounds: int) -> tuple[Groups, int]:
    """Exchanges from one deal on, then what small groups need; and the rounds used."""
    series, parallel = groups.shape
    used = 0
    best, best_min = groups.copy(), _score(capacity, groups)[0]
    for used, _ in enumerate(exchange(capacity, groups), 1):
        lowest = _score(capacity, groups)[0]
        if lowest > best_min:
            best, best_min = groups.copy(), lowest
        if used >= rounds:
            break
    if parallel <= SMALL_P and series <= SMALL_S:
        polish(capacity, best, 400)
    if parallel in (3, 4) and series >= 3:
        trios(capacity, best, 20 if series > SMALL_S else 200)
    return best, used


def _rows(kept: list[MeasuredCell], groups: Groups, capacity: Floats) -> tuple[GroupRow, ...]:
    ohm = np.array([c.r_ohm for c in kept])
    fade = np.array([c.fade_v_day for c in kept])
    out = []
    for g, row in enumerate(groups):
        r, f, c = ohm[row], fade[row], capacity[row]
        out.append(
            GroupRow(
                g + 1,
                tuple(kept[int(k)].id for k in row),
                float(c.sum()),
                float(1.0 / (1.0 / r).sum()) if np.isfinite(r).all() else None,
                float((f * c).sum() / c.sum()) if np.isfinite(f).all() else None,
            )
        )
    return tuple(out)
