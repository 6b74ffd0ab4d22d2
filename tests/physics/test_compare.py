"""Telling setups apart, against SciPy's statistics and a published example; honest over many seeds."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
from scipy import stats

from ninebolt.core.logs.compare import (
    beta_share,
    compare,
    gap_seen,
    holm,
    percents,
    summary,
    t_quantile,
    t_tail,
    trials_needed,
    welch,
)
from ninebolt.core.logs.protocols import PROTOCOLS
from ninebolt.core.logs.session import Trial, judge, plan
from ninebolt.errors import InputError

# Published example: the two samples of "A1, A2" in the English encyclopedia's article on Welch's test (example 3),
# whose t, degrees of freedom and p it prints; values from memory, checked against SciPy below.
A1 = [19.8, 20.4, 19.6, 17.8, 18.5, 18.9, 18.3, 18.9, 19.5, 22.0]
A2 = [
    28.2,
    26.6,
    20.1,
    23.3,
    25.2,
    22.1,
    17.7,
    27.6,
    20.6,
    13.7,
    23.2,
    17.5,
    20.6,
    18.0,
    23.9,
    21.6,
    24.3,
    20.4,
    24.0,
    13.2,
]


@pytest.mark.parametrize("df", [1, 2.5, 9, 30.3, 200])
@pytest.mark.parametrize("t", [0.0, 0.3, 1.0, 2.2, 7.0])
def test_student_s_tail(df: float, t: float) -> None:
    assert t_tail(t, df) == pytest.approx(stats.t.sf(t, df), rel=1e-10)
    assert t_tail(-t, df) == pytest.approx(stats.t.sf(-t, df), rel=1e-10)


@pytest.mark.parametrize("df", [1, 3, 9.7, 58])
def test_student_s_quantile(df: float) -> None:
    assert t_quantile(0.975, df) == pytest.approx(stats.t.ppf(0.975, df), rel=1e-9)


@pytest.mark.parametrize(
    ("a", "b", "x"), [(0.5, 0.5, 0.1), (3, 8, 0.9), (50, 0.5, 0.999), (2, 3, 0.4)]
)
def test_incomplete_beta(a: float, b: float, x: float) -> None:
    assert beta_share(a, b, x) == pytest.approx(stats.beta.cdf(x, a, b), rel=1e-10)


def test_welch_s_published_example() -> None:
    found = welch(A1, A2)
    assert found is not None
    t, df, p = found
    theirs = stats.ttest_ind(A2, A1, equal_var=False)
    assert (t, p) == pytest.approx((theirs.statistic, theirs.pvalue), rel=1e-9)
    assert (
        abs(t) == pytest.approx(2.22, abs=0.01)
        and df == pytest.approx(24.5, abs=0.1)
        and p == pytest.approx(0.036, abs=0.001)
    )


def test_the_interval_of_the_difference_is_scipy_s() -> None:
    d = compare([("a", A1), ("b", A2)])[0]
    theirs = stats.ttest_ind(A2, A1, equal_var=False).confidence_interval(0.95)
    assert (d.low, d.high) == pytest.approx((theirs.low, theirs.high), rel=1e-9)


def test_the_mean_s_interval_is_scipy_s() -> None:
    s = summary("a", A1)
    low, high = stats.t.interval(0.95, len(A1) - 1, np.mean(A1), stats.sem(A1))
    assert (s.mean - s.half95, s.mean + s.half95) == pytest.approx((low, high), rel=1e-9)  # type: ignore[operator]


def test_holm_by_hand() -> None:
    """Holm 1979: 0.01, 0.04, 0.03 of three: 3 x 0.01, then 2 x 0.03, then the larger of 0.06 and 0.04."""
    assert holm([0.01, 0.04, 0.03]) == pytest.approx([0.03, 0.06, 0.06])


def test_no_difference_is_claimed_in_one_of_twenty() -> None:
    """Two setups that are the same: told apart in about 5 % of 800 sessions."""
    rng = random.Random(5)
    told = 0
    for _ in range(800):
        rows = [[8.0 + rng.gauss(0, 0.1) for _ in range(5)] for _ in range(2)]
        told += compare([("a", rows[0]), ("b", rows[1])])[0].told
    assert 0.03 < told / 800 < 0.07


def test_the_planned_number_of_trials_sees_the_gap_four_times_of_five() -> None:
    n = trials_needed(0.1, 0.12)
    assert n is not None
    rng = random.Random(7)
    seen = 0
    for _ in range(300):
        a = [8.0 + rng.gauss(0, 0.1) for _ in range(n)]
        b = [7.88 + rng.gauss(0, 0.1) for _ in range(n)]
        seen += compare([("a", a), ("b", b)])[0].told
    assert 0.73 < seen / 300 < 0.88
    assert gap_seen(0.1, n) <= 0.12


def test_four_percentages_of_one_change() -> None:
    """By hand: 10 s to 8 s over a distance from rest: 20 % less time, 25 % more mean speed, 1.25², 1.25³."""
    p = percents(10, 8, "distance")
    assert (p.time, p.mean_speed) == pytest.approx((-0.2, 0.25))
    assert (p.acceleration, p.power) == pytest.approx((1.25**2 - 1, 1.25**3 - 1))
    assert percents(10, 8, "speed").power == pytest.approx(0.25)
    with pytest.raises(InputError):
        percents(0, 8, "distance")


def test_an_order_that_cancels_drift() -> None:
    """Each block turned about: the mean place of every setup is the same, so a steady drift falls on all alike."""
    made = plan(
        ["a", "b", "c"],
        6,
        0.1,
        0.1,
        {"a": 150, "b": 158, "c": 150},
        PROTOCOLS[0],
        random.Random(1).shuffle,
    )
    places = {s: [i for i, x in enumerate(made.order) if x == s] for s in "abc"}
    assert all(len(p) == 6 for p in places.values())
    means = {sum(p) / 6 for p in places.values()}
    assert len(means) == 1
    assert any("{{8|kg}}" in b and b.startswith("a") for b in made.ballast)


def trial(setup: str, value: float, **more: object) -> Trial:
    return Trial(setup, value, **more)  # type: ignore[arg-type]


def test_mass_is_taken_off_by_the_model() -> None:
    """Values that are exactly proportional to mass: corrected, nothing is left of the difference."""
    rows = [trial("a", 8.0 + d, mass_kg=150) for d in (0.01, -0.01, 0.0)]
    rows += [trial("b", (8.0 + d) * 1.1, mass_kg=165) for d in (0.01, -0.01, 0.0)]
    v = judge(rows, [PROTOCOLS[0]], lambda u: 8.0 * (u.mass_kg or 0.0) / 150)
    assert v.differences[0].told and v.corrected is not None
    assert v.corrected[0].diff == pytest.approx(0, abs=1e-9) and not v.corrected[0].told


def test_one_far_off_among_three_or_among_alike_is_shown() -> None:
    """A false start of 25 s among runs of 8 s is far off, however few or alike the others are."""
    assert summary("A", [8.0, 8.05, 25.0]).outliers == (2,)
    assert summary("A", [8.0, 8.0, 8.0, 8.0, 25.0]).outliers == (4,)
    assert summary("A", [8.0, 8.01, 8.1]).outliers == ()
    assert summary("A", [8.0, 25.0]).outliers == ()


def test_outliers_are_shown_and_count() -> None:
    s = summary("a", [8.0, 8.02, 7.99, 8.01, 9.5])
    assert s.outliers == (4,) and s.mean == pytest.approx(
        math.fsum([8.0, 8.02, 7.99, 8.01, 9.5]) / 5
    )
