"""Regroup what exchanges of single cells leave uneven: small groups split anew, and groups that
are stronger than the weakest can use brought down by cells that are left over."""

from __future__ import annotations

import math
from functools import cache
from itertools import combinations

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
Groups = npt.NDArray[np.intp]  # (S, P): places in the list of cells

GOAL_SPREAD = 2e-6  # of the mean; beyond that a tester's own noise rules
EVEN_ENOUGH = 5e-5  # of the mean; where splitting anew ends
TRIO_REACH = 40  # groups that are looked at beside the weakest
MOST_PICKS = 60_000  # ways to pick a group out of its own cells and some that are left over


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
    the weakest of the three gets stronger. Then the same with the strongest, as long as it gets
    weaker and the weakest does not. For small groups, where exchanges alone get stuck."""
    for _ in range(rounds):
        sums = capacity[groups].sum(axis=1)
        if float(np.ptp(sums)) < EVEN_ENOUGH * float(sums.mean()):
            return
        if not _split_anew(capacity, groups, 1.0) and not _split_anew(capacity, groups, -1.0):
            return


def _split_anew(capacity: Floats, groups: Groups, side: float) -> bool:
    """One step of trios: side 1 lifts the weakest, -1 lowers the strongest; True if it did."""
    parallel = groups.shape[1]
    table = _partitions(parallel)
    sums = capacity[groups].sum(axis=1)
    order = np.argsort(sums * side)
    far, others = int(order[0]), order[1:]
    near = others if parallel == 3 else np.unique([*others[-9:], *others[:5]])
    pairs = np.array(list(combinations(near[-TRIO_REACH:], 2)), dtype=np.intp)
    if not len(pairs):
        return False
    cells = np.concatenate(
        [
            np.broadcast_to(groups[far], (len(pairs), parallel)),
            groups[pairs[:, 0]],
            groups[pairs[:, 1]],
        ],
        axis=1,
    )
    made = capacity[cells][:, table].sum(axis=3)
    reach = (made * side).min(axis=2)
    if side < 0:
        reach[made.min(axis=2) < sums.min() * (1 + 1e-12)] = -np.inf
    pair, way = np.unravel_index(int(reach.argmax()), reach.shape)
    if reach[pair, way] <= sums[far] * side + abs(sums[far]) * 1e-12:
        return False
    for g, row in zip((far, *pairs[pair]), cells[pair][table[way]], strict=True):
        groups[g] = row
    return True


@cache
def _picks(count: int, parallel: int) -> Groups:
    """Every way to pick P of a number of places, as rows (N, P)."""
    return np.array(list(combinations(range(count), parallel)), dtype=np.intp)


def even_split(
    capacity: Floats, cells: Groups, parallel: int, half_band: float, nodes: int
) -> tuple[Groups | None, int]:
    """Split cells into groups of P that all lie within a share (half_band) of their mean, by going
    through the ways for the strongest cell that is left, nearest to the mean first; None if there
    is no such split or more than so many nodes are looked at. Also gives the nodes used."""
    order = cells[np.argsort(-capacity[cells], kind="stable")]
    mean = float(capacity[cells].sum()) * parallel / len(cells)
    used = 0

    def below(left: Groups) -> list[Groups] | None:
        nonlocal used
        if not len(left):
            return []
        used += 1
        if used > nodes:
            return None
        mates = 1 + _picks(len(left) - 1, parallel - 1)
        off = np.abs(capacity[left[0]] + capacity[left][mates].sum(axis=1) - mean)
        good = np.flatnonzero(off <= half_band * mean)
        for k in good[np.argsort(off[good])]:
            taken = np.concatenate([[0], mates[k]])
            rest = below(np.delete(left, taken))
            if rest is not None:
                return [left[taken], *rest]
        return None

    found = below(order)
    return (None if found is None else np.array(found, dtype=np.intp)), used


def trim(capacity: Floats, groups: Groups, spare: Groups, room: float) -> None:
    """Bring down, in place, the groups that are more than a share (room) above the weakest: some of
    their cells change places with cells that are left over. The weakest stays as strong. What a
    strong group has above the weakest is never used; as a spare cell it is."""
    left = spare[np.argsort(capacity[spare])]
    sums = capacity[groups].sum(axis=1)
    low = float(sums.min())
    for g in np.argsort(-sums):
        for anew in (_single, _several):
            over = float(capacity[groups[g]].sum())
            if over <= low * (1 + room) or not len(left):
                break
            row, rest = anew(capacity, groups[g], left, low)
            if float(capacity[row].sum()) < over * (1 - 1e-12):
                groups[g] = row
                left = rest[np.argsort(capacity[rest])]


def _single(capacity: Floats, row: Groups, left: Groups, low: float) -> tuple[Groups, Groups]:
    """One cell for one that is left over, so that the group comes nearest above low."""
    total = capacity[row].sum()
    after = total - capacity[row][:, None] + capacity[left][None, :]
    after[after < low * (1 - 1e-12)] = np.inf
    i, j = np.unravel_index(int(after.argmin()), after.shape)
    if not after[i, j] < total:
        return row, left
    new, rest = row.copy(), left.copy()
    new[i], rest[j] = left[j], row[i]
    return new, rest


def _several(capacity: Floats, row: Groups, left: Groups, low: float) -> tuple[Groups, Groups]:
    """The group picked anew from its own cells and some that are left over, weak ones to strong."""
    parallel, most = len(row), 0
    while most < len(left) and math.comb(parallel + most + 1, parallel) <= MOST_PICKS:
        most += 1
    some = np.unique(np.linspace(0, len(left) - 1, most).round().astype(np.intp))
    pool = np.concatenate([row, left[some]])
    picks = _picks(len(pool), parallel)
    after = capacity[pool][picks].sum(axis=1)
    after[after < low * (1 - 1e-12)] = np.inf
    k = int(after.argmin())
    if not np.isfinite(after[k]):
        return row, left
    others = np.setdiff1d(np.arange(len(pool)), picks[k])
    return pool[picks[k]], np.concatenate([np.delete(left, some), pool[others]])
