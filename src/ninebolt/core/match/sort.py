"""Sort measured cells into series groups whose capacities match; even out the rest after that.

The smallest group ends every discharge, so the first aim is the largest weakest group: take the
strongest S·P cells, then bring the group sums together by exchanging cells between the richest and
the poorest group; groups of three or four are split anew three at a time. P = 1 and P = 2 are
exact (strongest cells; strongest with weakest). The sum over S groups of the strongest cells,
divided by S, is a ceiling that no assignment beats.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from itertools import combinations

import numpy as np
import numpy.typing as npt

from ninebolt.errors import InputError

Floats = npt.NDArray[np.float64]
Groups = npt.NDArray[np.intp]  # (S, P): places in the list of cells
Score = tuple[float, float]  # weakest group (Ah) and spread

GOAL_SPREAD = 2e-6  # of the mean; beyond that a tester's own noise rules
TRIO_REACH = 40  # groups that are looked at beside the weakest
SMALL_P, SMALL_S = 8, 400  # up to here two cells at a time are tried as well
MATCH_SPREAD = 4.5e-4  # room that evening out the resistance may use


@dataclass(frozen=True, slots=True)
class MeasuredCell:
    """One measured cell: capacity in Ah, resistance in ohm (nan = not measured), self-discharge in
    volts a day (nan = not measured). damage: what was seen on it, empty if nothing."""

    id: str
    capacity_ah: float
    r_ohm: float
    fade_v_day: float
    rested_v: float
    damage: str = ""


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
        if (why := _untested(c, rules)) is not None:
            out.append(Reject(c.id, why))
        elif c.capacity_ah < rules.capacity_min_ah:
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


def _untested(c: MeasuredCell, rules: Rules) -> str | None:
    """Why a cell cannot be judged by the rules that are on; None if it can."""
    if c.damage:
        return f"damaged: {c.damage[:40]}"
    if np.isnan(c.capacity_ah):
        return "untested: no capacity"
    if np.isfinite(rules.r_max_ohm) and np.isnan(c.r_ohm):
        return "untested: no resistance, and a rule asks for it"
    if np.isfinite(rules.fade_max_v_day) and np.isnan(c.fade_v_day):
        return "untested: no self-discharge, and a rule asks for it"
    if rules.rested_min_v > 0 and np.isnan(c.rested_v):
        return "untested: no rested voltage, and a rule asks for it"
    return None


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


@cache
def _partitions(parallel: int) -> Groups:
    """Every way to split 3 P cells into three groups of P, as rows of places (N, 3, P)."""
    out = []
    places = range(1, 3 * parallel)
    for mates in combinations(places, parallel - 1):
        rest = [p for p in places if p not in mates]
        for more in combinations(rest[1:], parallel - 1):
            last = [p for p in rest[1:] if p not in more]
            out.append(((0, *mates), (rest[0], *more), tuple(last)))
    return np.array(out, dtype=np.intp)


def trios(capacity: Floats, groups: Groups, rounds: int) -> None:
    """Split the weakest group and two others anew, in the best of all ways, in place; as long as
    the weakest of the three gets stronger. For small groups, where exchanges alone get stuck."""
    parallel = groups.shape[1]
    table = _partitions(parallel)
    for _ in range(rounds):
        sums = capacity[groups].sum(axis=1)
        order = np.argsort(sums)
        weak, others = int(order[0]), order[1:]
        near = others if parallel == 3 else np.unique([*others[-9:], *others[:5]])
        pairs = np.array(list(combinations(near[-TRIO_REACH:], 2)), dtype=np.intp)
        if not len(pairs):
            return
        cells = np.concatenate(
            [
                np.broadcast_to(groups[weak], (len(pairs), parallel)),
                groups[pairs[:, 0]],
                groups[pairs[:, 1]],
            ],
            axis=1,
        )
        lows = capacity[cells][:, table].sum(axis=3).min(axis=2)
        pair, way = np.unravel_index(int(lows.argmax()), lows.shape)
        if lows[pair, way] <= sums[weak] * (1 + 1e-12):
            return
        made = cells[pair][table[way]]
        for g, row in zip((weak, *pairs[pair]), made, strict=True):
            groups[g] = row


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
    more = series * parallel - have
    missing = f"{more} more would make {series}s{parallel}p"
    return f"{instead}; {missing}. Loosen a rule only if you can answer for it."


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
            todo=_what_would_do(len(kept), series, parallel),
        )
    capacity = np.array([c.capacity_ah for c in kept])
    order = np.argsort(-capacity, kind="stable")
    groups, used = _assign(capacity, order, series, parallel, rounds)
    lot = _Lot(kept, tuple(out), capacity, order, _simple(capacity, order, series, parallel))
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
