"""Sort measured cells into series groups whose capacities match; even out resistance after that.

The smallest group ends every discharge, so the first aim is the largest weakest group: take the
strongest S·P cells, then bring the group sums together by exchanging cells between the richest and
the poorest group. P = 1 and P = 2 are solved exactly (strongest cells; strongest with weakest).
The sum over S groups of the strongest cells, divided by S, is a ceiling that no assignment beats.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations

import numpy as np
import numpy.typing as npt

from ninebolt.errors import InputError

Floats = npt.NDArray[np.float64]
Groups = npt.NDArray[np.intp]  # (S, P): places in the list of cells

GOAL_SPREAD = 2e-6  # of the mean; beyond that a tester's own noise rules
SMALL_P, SMALL_S = 8, 400  # up to here two cells at a time are tried as well
MATCH_SPREAD = 4.5e-4  # room that evening out the resistance may use


@dataclass(frozen=True, slots=True)
class MeasuredCell:
    """One measured cell: capacity in Ah, resistance in ohm (nan = not measured), self-discharge in
    volts a day (nan = not measured)."""

    id: str
    capacity_ah: float
    r_ohm: float
    fade_v_day: float
    rested_v: float


@dataclass(frozen=True, slots=True)
class Rules:
    """A cell outside any of these is rejected. inf = rule off."""

    capacity_min_ah: float = 0.0
    r_max_ohm: float = np.inf
    fade_max_v_day: float = np.inf
    rested_min_v: float = 0.0


@dataclass(frozen=True, slots=True)
class Reject:
    """A cell that is out, and the rule that it broke in words."""

    id: str
    reason: str


@dataclass(frozen=True, slots=True)
class GroupRow:
    """One series group: its cells by id, summed capacity, parallel resistance."""

    number: int
    cells: tuple[str, ...]
    capacity_ah: float
    r_ohm: float | None


@dataclass(frozen=True, slots=True)
class Sorting:
    """Result. spread: (largest - smallest) / mean group capacity. ceiling_ah: no assignment's
    weakest group can be stronger. as_they_come, serpentine, greedy: weakest group and spread of
    simpler ways, for comparison."""

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


def reject(cells: list[MeasuredCell], rules: Rules) -> tuple[list[MeasuredCell], list[Reject]]:
    """Cells that pass, and those that do not with the first rule they break."""
    kept: list[MeasuredCell] = []
    out: list[Reject] = []
    for c in cells:
        if not c.capacity_ah >= rules.capacity_min_ah:
            out.append(Reject(c.id, f"capacity {c.capacity_ah:.3f} Ah under the limit"))
        elif c.r_ohm > rules.r_max_ohm:
            out.append(Reject(c.id, f"resistance {c.r_ohm * 1000:.0f} mΩ over the limit"))
        elif c.fade_v_day > rules.fade_max_v_day:
            out.append(Reject(c.id, f"loses {c.fade_v_day * 1000:.1f} mV a day"))
        elif c.rested_v < rules.rested_min_v:
            out.append(Reject(c.id, f"rested at {c.rested_v:.2f} V: do not revive"))
        else:
            kept.append(c)
    return kept, out


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


def polish(capacity: Floats, groups: Groups, rounds: int) -> None:
    """For small groups: exchange one or two cells at a time between the group furthest from the
    mean and any other, as long as the worse of the two comes nearer to the mean."""
    parallel = groups.shape[1]
    picks = [np.array(c) for n in (1, 2) for c in combinations(range(parallel), n)]
    sums = capacity[groups].sum(axis=1)
    mean = float(sums.mean())
    for _ in range(rounds):
        moved = False
        for far in np.argsort(-np.abs(sums - mean))[:6]:
            if _best_exchange(capacity, groups, sums, mean, int(far), picks):
                moved = True
                break
        if not moved or float(np.ptp(sums)) < GOAL_SPREAD * mean:
            return


def _best_exchange(
    capacity: Floats, groups: Groups, sums: Floats, mean: float, far: int, picks: list[Groups]
) -> bool:
    """The exchange that helps most; True if one was made."""
    own, others = sums[far] - mean, sums - mean
    best, found = abs(own) * (1 - 1e-9), None
    mine = [capacity[groups[far, p]].sum() for p in picks]
    for q in picks:
        theirs = capacity[groups[:, q]].sum(axis=1)
        for p, given in zip(picks, mine, strict=True):
            if len(p) != len(q):
                continue
            move = theirs - given
            worse = np.maximum(np.abs(own + move), np.abs(others - move))
            worse[far] = np.inf
            worse[np.abs(others) > abs(own) * (1 + 1e-12)] = np.inf
            g = int(np.argmin(worse))
            if worse[g] < best:
                best, found = float(worse[g]), (g, p, q)
    if found is None:
        return False
    g, p, q = found
    groups[far, p], groups[g, q] = groups[g, q].copy(), groups[far, p].copy()
    sums[far], sums[g] = capacity[groups[far]].sum(), capacity[groups[g]].sum()
    return True


def even_out(capacity: Floats, conductance: Floats, groups: Groups) -> None:
    """Exchange cells of nearly the same capacity between groups where that evens out the groups'
    conductance, as long as the spread of capacity stays small."""
    sums, flows = capacity[groups].sum(axis=1), conductance[groups].sum(axis=1)
    mean, target = float(sums.mean()), float(flows.mean())
    where = {int(c): (g, k) for g, row in enumerate(groups) for k, c in enumerate(row)}
    order = sorted(where, key=lambda c: capacity[c])
    for reach in (1, 2, 3, 5, 8):
        for a, b in zip(order, order[reach:], strict=False):
            (ga, ka), (gb, kb) = where[a], where[b]
            if ga == gb:
                continue
            d, f = capacity[b] - capacity[a], conductance[b] - conductance[a]
            before = (flows[ga] - target) ** 2 + (flows[gb] - target) ** 2
            after = (flows[ga] + f - target) ** 2 + (flows[gb] - f - target) ** 2
            if after >= before:
                continue
            if abs(sums[ga] + d - mean) > 0.5 * MATCH_SPREAD * mean or (
                abs(sums[gb] - d - mean) > 0.5 * MATCH_SPREAD * mean
            ):
                continue
            groups[ga, ka], groups[gb, kb] = b, a
            where[a], where[b] = (gb, kb), (ga, ka)
            sums[ga] += d
            sums[gb] -= d
            flows[ga] += f
            flows[gb] -= f


def _score(capacity: Floats, groups: Groups) -> tuple[float, float]:
    sums = capacity[groups].sum(axis=1)
    return float(sums.min()), float(np.ptp(sums) / sums.mean())


def sort_cells(
    cells: list[MeasuredCell],
    series: int,
    parallel: int,
    rules: Rules | None = None,
    rounds: int = 4000,
) -> Sorting:
    """Reject, choose and assign. rounds bounds the search. Raises InputError if too few pass."""
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
            todo="Loosen a rule that you can answer for, buy more cells, or go lower in P.",
        )
    capacity = np.array([c.capacity_ah for c in kept])
    order = np.argsort(-capacity, kind="stable")
    groups, used = _assign(capacity, order, series, parallel, rounds)
    resistance = np.array([c.r_ohm for c in kept])
    if parallel > 2 and np.isfinite(resistance).all():
        even_out(capacity, 1.0 / resistance, groups)
    weakest, spread = _score(capacity, groups)
    chosen = set(groups.ravel().tolist())
    total = float(capacity[order[:need]].sum())
    return Sorting(
        _rows(kept, groups, capacity, resistance),
        tuple(out),
        tuple(c.id for k, c in enumerate(kept) if k not in chosen),
        weakest,
        spread,
        total / series,
        _score(capacity, np.arange(need).reshape(series, parallel)),
        _score(capacity, serpentine(order, series, parallel)),
        _score(capacity, greedy(capacity, order, series, parallel)),
        1.0 - weakest * series / total,
        used,
    )


def _assign(
    capacity: Floats, order: Groups, series: int, parallel: int, rounds: int
) -> tuple[Groups, int]:
    need = series * parallel
    if parallel == 1 or series == 1:
        return order[:need].reshape(series, parallel).copy(), 0
    if parallel == 2:
        pairs = np.stack([order[:series], order[need - 1 : series - 1 : -1]], axis=1)
        return pairs.copy(), 0
    groups = serpentine(order, series, parallel).copy()
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
    return best, used


def _rows(
    kept: list[MeasuredCell], groups: Groups, capacity: Floats, resistance: Floats
) -> tuple[GroupRow, ...]:
    out = []
    for g, row in enumerate(groups):
        r = resistance[row]
        ohm = float(1.0 / (1.0 / r).sum()) if np.isfinite(r).all() else None
        ids = tuple(kept[int(k)].id for k in row)
        out.append(GroupRow(g + 1, ids, float(capacity[row].sum()), ohm))
    return tuple(out)
