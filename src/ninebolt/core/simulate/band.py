"""Bands: how far the headline moves within the tolerances of its inputs, and which guess leads.

Each uncertain input is moved by its half-width, one at a time; the effects add as the root of the
sum of squares. Source: JCGM 100 (GUM), law of propagation for uncorrelated inputs.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from ninebolt.core.simulate.case import RunCase
from ninebolt.core.simulate.run import Stop, reached_s, run
from ninebolt.core.simulate.steady import cruise, envelope, top_speed

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


def quick_figures(
    case: RunCase, to_speed: float, cruise_speed: float, extra_w: float
) -> dict[str, float | None]:
    """The four figures of a band; a coarse envelope is enough for differences."""
    top = top_speed(case)
    shown = envelope(case, max(top.speed_m_s, 3.0), 17)
    reached = None
    if top.speed_m_s > to_speed:
        reached = reached_s(run(case, Stop(speed_m_s=to_speed, seconds=60.0)), to_speed)
    steady = cruise(case, cruise_speed, extra_w)
    return {
        "peak_wheel_w": max(shown.power_w),
        "top_speed_m_s": top.speed_m_s,
        "to_time_s": reached,
        "range_m": steady.range_m if steady else None,
    }


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
