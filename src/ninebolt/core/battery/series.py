"""Unequal groups or modules in one series string: the smallest ends it, the fullest ends the
charge."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class SeriesString:
    """usable_ah: charge between the first full and the first empty group. lost_share: of the mean
    capacity. empty_first, full_first: places in the list."""

    usable_ah: float
    lost_share: float
    empty_first: int
    full_first: int
    spread: float


def string_of(capacity_ah: Sequence[float], soc: Sequence[float]) -> SeriesString:
    """Charge Q_i = C_i s_i rises in all groups alike. Up: the first to reach C_i. Down: the first
    to reach 0. usable = min(C_i (1 - s_i)) + min(C_i s_i). soc: 0…1, of each group, at the same
    time."""
    up = [c * (1.0 - s) for c, s in zip(capacity_ah, soc, strict=True)]
    down = [c * s for c, s in zip(capacity_ah, soc, strict=True)]
    mean = sum(capacity_ah) / len(capacity_ah)
    usable = min(up) + min(down)
    return SeriesString(
        usable,
        1.0 - usable / mean,
        down.index(min(down)),
        up.index(min(up)),
        (max(capacity_ah) - min(capacity_ah)) / mean,
    )
