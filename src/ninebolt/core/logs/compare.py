"""Are two setups told apart? Means with intervals, Welch's test, Holm's correction, how many trials it would take.

Sources: Welch, Biometrika 34 (1947) 28-35; Holm, Scand. J. Statist. 6 (1979) 65-70. Student's distribution by the
regularised incomplete beta function, its continued fraction by Lentz's method.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ninebolt.core.logs.protocols import Measure
from ninebolt.errors import InputError

LEVEL = 0.05
POWER = 0.8
Z_POWER = 0.8416212335729143  # standard normal, 80 %
MOST_TRIALS = 200
OUTLIER = 3.5  # modified z-score of Iglewicz and Hoaglin (1993), shown and not removed
LEAST_SPREAD = 0.001  # of the middle: what a stopwatch reads. Common practice, no source.
THREE_OFF = 0.05  # of the middle, the same
MAD_TO_SD = 1.4826


@dataclass(frozen=True, slots=True)
class Summary:
    """A setup's trials. half95: half the 95 % interval of the mean, None for one
    trial and where all read the same. outliers: places in the list of
    values that stand far from the rest; they count."""

    name: str
    n: int
    mean: float
    sd: float | None
    half95: float | None
    best: float
    outliers: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Difference:
    """Second setup against the first. diff: mean of the second minus the first's; low, high: its 95 % interval; p: as
    corrected where several are compared. share: diff over the first's mean. told: whether they are told apart."""

    first: str
    second: str
    diff: float
    low: float | None
    high: float | None
    t: float | None
    df: float | None
    p: float | None
    share: float
    told: bool
    sentence: str


def summary(name: str, values: Sequence[float], more: bool = False) -> Summary:
    """more: whether more is better. Raises InputError for none, or for one that is no positive number."""
    if not values or not all(math.isfinite(v) and v > 0 for v in values):
        raise InputError(
            "A setup needs trials that are positive numbers.",
            where=name,
            got=repr(list(values))[:80],
        )
    n = len(values)
    mean = math.fsum(values) / n
    if n < 2:
        return Summary(name, n, mean, None, None, values[0], ())
    sd = math.sqrt(math.fsum((v - mean) ** 2 for v in values) / (n - 1))
    half = t_quantile(1 - LEVEL / 2, n - 1) * sd / math.sqrt(n) if sd else None
    return Summary(name, n, mean, sd, half, max(values) if more else min(values), _far(values))


def _far(values: Sequence[float]) -> tuple[int, ...]:
    """Places of values whose modified z-score is above 3.5, values that are all alike taken to spread by LEAST_SPREAD;
    of three only one that is off by more than THREE_OFF as well, of two none: nobody knows which."""
    if len(values) < 3:
        return ()
    middle = _median(values)
    mad = max(_median([abs(v - middle) for v in values]), LEAST_SPREAD * abs(middle))
    least = THREE_OFF * abs(middle) if len(values) == 3 else 0.0
    return tuple(
        i for i, v in enumerate(values) if abs(v - middle) > max(OUTLIER * MAD_TO_SD * mad, least)
    )


def _median(values: Sequence[float]) -> float:
    row = sorted(values)
    k = len(row) // 2
    return row[k] if len(row) % 2 else 0.5 * (row[k - 1] + row[k])


def welch(a: Sequence[float], b: Sequence[float]) -> tuple[float, float, float] | None:
    """(t, degrees of freedom, two-sided p) of b against a; None where a side has fewer than two, or nothing varies."""
    if len(a) < 2 or len(b) < 2:
        return None
    va, vb = (_variance(x) / len(x) for x in (a, b))
    if va + vb == 0.0:
        return None
    t = (math.fsum(b) / len(b) - math.fsum(a) / len(a)) / math.sqrt(va + vb)
    df = (va + vb) ** 2 / (va**2 / (len(a) - 1) + vb**2 / (len(b) - 1))
    return t, df, 2.0 * t_tail(abs(t), df)


def _variance(x: Sequence[float]) -> float:
    mean = math.fsum(x) / len(x)
    return math.fsum((v - mean) ** 2 for v in x) / (len(x) - 1)


TIMES = Measure("s", False)


def compare(
    setups: Sequence[tuple[str, Sequence[float]]], kind: Measure = TIMES
) -> list[Difference]:
    """Every setup against the first, p by Holm where there are several. kind: what the values are. Raises InputError
    for fewer than two."""
    if len(setups) < 2:
        raise InputError("Two setups or more are compared.", got=str(len(setups)))
    rows = [summary(n, v, kind.more) for n, v in setups]
    tests = [welch(setups[0][1], v) for _, v in setups[1:]]
    ps = holm([t[2] if t else 1.0 for t in tests])
    return [
        _difference(rows[0], rows[i + 1], setups[0][1], setups[i + 1][1], tests[i], ps[i], kind)
        for i in range(len(tests))
    ]


def _difference(
    a: Summary, b: Summary, va: Sequence[float], vb: Sequence[float],
    test: tuple[float, float, float] | None, p: float, kind: Measure,
) -> Difference:  # fmt: skip
    diff = b.mean - a.mean
    share = diff / a.mean
    if test is None:
        words = f"{b.name} and {a.name} cannot be told apart yet: {_why_not(a, b, diff, kind)}"
        return Difference(a.name, b.name, diff, None, None, None, None, None, share, False, words)
    t, df, _ = test
    half = t_quantile(1 - LEVEL / 2, df) * (
        diff / t if t else math.sqrt(_variance(va) / len(va) + _variance(vb) / len(vb))
    )
    half = abs(half)
    told = p < LEVEL
    better = "better" if (diff > 0) == kind.more else "worse"
    span = f"{kind.said(abs(diff) - half)} to {kind.said(abs(diff) + half)}"
    how = f"by {kind.said(abs(diff))} ({100 * abs(share):.1f} %), 95 % sure of {span}"
    words = (
        f"{b.name} is {better} than {a.name} {how}; p = {p:.2g}."
        if told
        else f"{b.name} and {a.name} are not told apart: {kind.said(diff, '+')}, anything from "
        f"{kind.said(diff - half, '+')} to {kind.said(diff + half, '+')} is possible; p = {p:.2g}."
    )
    return Difference(a.name, b.name, diff, diff - half, diff + half, t, df, p, share, told, words)


def _why_not(a: Summary, b: Summary, diff: float, kind: Measure) -> str:
    """Why no test can be made of two setups."""
    if min(a.n, b.n) < 2:
        return "each needs two trials or more."
    apart = f"by {kind.said(abs(diff))} each time" if diff else "nowhere"
    return (
        f"they differ {apart}, and no run differs from the others of its setup. They were read too coarsely to show a "
        "spread: read them finer."
    )


def holm(ps: Sequence[float]) -> list[float]:
    """Corrected p-values, in the order given."""
    rank = sorted(range(len(ps)), key=lambda i: ps[i])
    out, least = [0.0] * len(ps), 0.0
    for k, i in enumerate(rank):
        least = max(least, min(1.0, (len(ps) - k) * ps[i]))
        out[i] = least
    return out


def trials_needed(sd: float, gap: float) -> int | None:
    """Trials of each of two setups to see a gap with 80 % power at 5 %; None where it takes more than 200."""
    if sd <= 0 or gap <= 0:
        return 2
    for n in range(2, MOST_TRIALS + 1):
        df = 2 * (n - 1)
        if gap >= (t_quantile(1 - LEVEL / 2, df) + Z_POWER * (1 + 0.25 / df)) * sd * math.sqrt(
            2.0 / n
        ):
            return n
    return None


def gap_seen(sd: float, n: int) -> float:
    """The smallest gap that n trials of each of two setups would show, with 80 % power at 5 %."""
    df = 2 * (n - 1)
    return (t_quantile(1 - LEVEL / 2, df) + Z_POWER * (1 + 0.25 / df)) * sd * math.sqrt(2.0 / n)


# Student's distribution


def t_tail(t: float, df: float) -> float:
    """Chance of more than t."""
    x = df / (df + t * t)
    half = 0.5 * beta_share(0.5 * df, 0.5, x)
    return half if t >= 0 else 1.0 - half


def t_quantile(share: float, df: float) -> float:
    """t under which a share of at least a half lies: Newton's steps, bisected where one leaves the bracket."""
    low, high = 0.0, 1.0
    while t_tail(high, df) > 1.0 - share:
        low, high = high, 2.0 * high
    peak = math.exp(math.lgamma(0.5 * (df + 1.0)) - math.lgamma(0.5 * df)) / math.sqrt(df * math.pi)
    t = 0.5 * (low + high)
    for _ in range(80):
        over = t_tail(t, df) - (1.0 - share)
        low, high = (t, high) if over > 0.0 else (low, t)
        step = t + over / (peak * (1.0 + t * t / df) ** (-0.5 * (df + 1.0)))
        was, t = t, step if low < step < high else 0.5 * (low + high)
        if abs(t - was) <= 1e-14 * t:
            break
    return t


def beta_share(a: float, b: float, x: float) -> float:
    """Regularised incomplete beta function I_x(a, b)."""
    if x <= 0.0 or x >= 1.0:
        return 0.0 if x <= 0.0 else 1.0
    front = math.exp(
        math.lgamma(a + b) - math.lgamma(a) - math.lgamma(b) + a * math.log(x) + b * math.log1p(-x)
    )
    if x > (a + 1.0) / (a + b + 2.0):
        return 1.0 - front * _fraction(b, a, 1.0 - x) / b
    return front * _fraction(a, b, x) / a


def _fraction(a: float, b: float, x: float) -> float:
    tiny = 1e-300
    c, d = 1.0, 1.0 / _not_zero(1.0 - (a + b) * x / (a + 1.0), tiny)
    out = d
    for m in range(1, 400):
        for step in (
            m * (b - m) * x / ((a + 2 * m - 1) * (a + 2 * m)),
            -(a + m) * (a + b + m) * x / ((a + 2 * m) * (a + 2 * m + 1)),
        ):
            d = 1.0 / _not_zero(1.0 + step * d, tiny)
            c = _not_zero(1.0 + step / c, tiny)
            out *= c * d
        if abs(c * d - 1.0) < 1e-15:
            break
    return out


def _not_zero(x: float, tiny: float) -> float:
    return tiny if abs(x) < tiny else x


@dataclass(frozen=True, slots=True)
class FourPercents:
    """One change of a time, said on each base. power: at the same mass, to the same speed (energy over time)."""

    time: float
    mean_speed: float
    acceleration: float
    power: float
    sentence: str


def percents(before_s: float, after_s: float, kind: str) -> FourPercents:
    """kind: distance (time between two marks from rest) or speed (time to a speed). Raises InputError.

    Over a distance from rest at even acceleration: a ~ 1/t², mean speed ~ 1/t, energy/time ~ 1/t³. To a speed: a ~ 1/t,
    power ~ 1/t.
    """
    if kind not in ("distance", "speed") or not (before_s > 0 and after_s > 0):
        raise InputError(
            "Two times above 0 are compared.", got=f"{before_s:g}, {after_s:g}, {kind[:20]}"
        )
    r = before_s / after_s
    time = after_s / before_s - 1.0
    speed = r - 1.0
    accel = (r * r if kind == "distance" else r) - 1.0
    power = (r**3 if kind == "distance" else r) - 1.0
    what = "time" if kind == "distance" else "time to that speed"
    words = (
        f"{100 * abs(time):.1f} % {'less' if time < 0 else 'more'} {what} is {100 * speed:+.1f} % mean speed, "
        f"{100 * accel:+.1f} % acceleration and about {100 * power:+.1f} % power at the same mass: one change."
    )
    return FourPercents(time, speed, accel, power, words)
