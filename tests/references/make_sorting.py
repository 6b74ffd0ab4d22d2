"""The best weakest group that any assignment of a small lot has, by an integer solver.

Run by ./nb references. SciPy's HiGHS, to a gap of 1e-4.
"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

SHAPES = [(3, 3), (4, 3), (6, 3), (3, 4), (5, 4), (4, 5)]


def integer_optimum(capacities: list[float], series: int, parallel: int) -> float:
    """Strongest possible weakest group by scipy's integer solver (HiGHS): x[c, g] in {0, 1},
    maximise t with t <= sum of each group."""
    cells = sorted(capacities, reverse=True)[: series * parallel]
    n, count = len(cells), len(cells) * series
    one_place = np.zeros((n, count + 1))
    full = np.zeros((series, count + 1))
    least = np.zeros((series, count + 1))
    for c in range(n):
        for g in range(series):
            one_place[c, c * series + g] = 1
            full[g, c * series + g] = 1
            least[g, c * series + g] = cells[c]
    least[:, count] = -1
    goal = np.zeros(count + 1)
    goal[count] = -1
    done = milp(
        goal,
        constraints=[
            LinearConstraint(one_place, 1, 1),
            LinearConstraint(full, parallel, parallel),
            LinearConstraint(least, 0),
        ],
        integrality=np.append(np.ones(count), 0),
        bounds=Bounds(0, np.append(np.ones(count), np.inf)),
        options={"time_limit": 60, "mip_rel_gap": 1e-4},
    )
    assert done.x is not None
    return float(done.x[-1])


def main() -> None:
    out = []
    for series, parallel in SHAPES:
        for seed in (1, 2, 3):
            rng = np.random.default_rng(seed)
            lot = [float(c) for c in rng.normal(2.0, 0.15, series * parallel + 2)]
            best = integer_optimum(lot, series, parallel)
            out.append(
                {"series": series, "parallel": parallel, "seed": seed, "lot": lot, "best_ah": best}
            )
    text = json.dumps(out, indent=0)
    Path(__file__).with_name("sorting.json").write_text(text + "\n")


if __name__ == "__main__":
    main()
