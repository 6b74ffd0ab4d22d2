"""Bands: how far the headline moves within the tolerances of its inputs, and which guess leads.

Each uncertain input is moved by its half-width, one at a time; the effects add as the root of the
sum of squares. Source: JCGM 100 (GUM), law of propagation for uncorrelated inputs.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

KEYS = ("peak_wheel_w", "top_speed_m_s", "to_time_s", "range_m")


@dataclass(frozen=True, slots=True)
class Share:
    """One input's part: its half-width and how far it moves each figure (SI)."""

    path: str
    spread: float
    effect: dict[str, float]
    weight: float


@dataclass(frozen=True, slots=True)
class Band:
    """half: half-width of each figure. shares: inputs, heaviest first."""

    half: dict[str, float]
    shares: tuple[Share, ...]


def band(
    figures: Callable[[str | None, float], dict[str, float | None] | None],
    inputs: dict[str, float],
) -> Band:
    """figures(path, factor) gives the figures with that input scaled (None: as it is).

    inputs: path -> relative half-width.
    """
    base = figures(None, 1.0)
    if base is None:
        return Band({}, ())
    shares = []
    for path, spread in inputs.items():
        moved = figures(path, 1.0 + spread)
        if moved is None:
            continue
        effect = {k: _gap(base[k], moved[k]) for k in KEYS}
        weight = sum((e / abs(base[k] or 1.0)) ** 2 for k, e in effect.items())
        shares.append(Share(path, spread, effect, math.sqrt(weight)))
    half = {k: math.sqrt(sum(s.effect[k] ** 2 for s in shares)) for k in KEYS}
    shares.sort(key=lambda s: -s.weight)
    return Band(half, tuple(shares))


def _gap(a: float | None, b: float | None) -> float:
    return 0.0 if a is None or b is None else abs(b - a)


@dataclass(frozen=True, slots=True)
class Sampled:
    """A figure over many rides with every uncertain input drawn at once: middle, and the bounds that hold 95 %
    of them. shares: of its spread, by input, heaviest first."""

    middle: float
    low: float
    high: float
    shares: tuple[tuple[str, float], ...]


def drawn_factors(
    inputs: dict[str, tuple[float, bool]], count: int, seed: int
) -> dict[str, npt.NDArray[np.float64]]:
    """Factors of each input, count of them. inputs: path -> (relative half-width, a guess).

    A guess is anywhere within its half-width (rectangular); a measured or printed value is normal with the
    half-width as two standard deviations. JCGM 101, propagation of distributions. Never at or below a tenth.
    """
    rng = np.random.default_rng(seed)
    out = {}
    for path, (spread, guess) in sorted(inputs.items()):
        if guess:
            factor = 1.0 + rng.uniform(-spread, spread, count)
        else:
            factor = 1.0 + rng.normal(0.0, spread / 2.0, count)
        out[path] = np.maximum(factor, 0.1)
    return out


def sampled(
    factors: dict[str, npt.NDArray[np.float64]], rows: Sequence[dict[str, float | None]]
) -> dict[str, Sampled]:
    """Bounds and shares of each figure. A share is the squared correlation of input and figure, of the sum of
    all of them; what did not compute is left out."""
    out = {}
    for key in KEYS:
        known = [i for i, r in enumerate(rows) if r.get(key) is not None]
        if len(known) < 30:
            continue
        y = np.array([rows[i][key] for i in known], dtype=np.float64)
        if float(y.std()) <= 1e-12 * max(1.0, abs(float(y.mean()))):
            out[key] = Sampled(float(y.mean()), float(y.min()), float(y.max()), ())
            continue
        squares = {}
        for path, f in factors.items():
            x = f[known]
            if float(x.std()) > 0.0:
                squares[path] = float(np.corrcoef(x, y)[0, 1]) ** 2
        # What chance alone would correlate is taken off, so that inputs without a part show none.
        chance = 1.0 / len(known)
        kept = {p: max(0.0, v - chance) for p, v in squares.items()}
        whole = sum(kept.values()) or 1.0
        shares = sorted(((p, v / whole) for p, v in kept.items() if v > 0.0), key=lambda s: -s[1])
        low, middle, high = (float(v) for v in np.percentile(y, (2.5, 50.0, 97.5)))
        out[key] = Sampled(middle, low, high, tuple(shares))
    return out
