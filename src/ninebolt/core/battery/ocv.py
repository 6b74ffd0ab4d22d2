"""Open-circuit voltage against state of charge."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable

Curve = tuple[tuple[float, float], ...]

# Typical shapes, from memory; a measured or published curve can be given instead.
TYPICAL: dict[str, Curve] = {
    "nickel_rich": (
        (0.0, 2.80),
        (0.02, 3.05),
        (0.05, 3.22),
        (0.10, 3.36),
        (0.20, 3.49),
        (0.30, 3.57),
        (0.40, 3.63),
        (0.50, 3.70),
        (0.60, 3.79),
        (0.70, 3.89),
        (0.80, 3.98),
        (0.90, 4.07),
        (1.0, 4.18),
    ),
    "manganese_blend": (
        (0.0, 3.00),
        (0.05, 3.40),
        (0.10, 3.55),
        (0.20, 3.66),
        (0.30, 3.73),
        (0.40, 3.78),
        (0.50, 3.83),
        (0.60, 3.89),
        (0.70, 3.95),
        (0.80, 4.01),
        (0.90, 4.08),
        (1.0, 4.16),
    ),
    "iron_phosphate": (
        (0.0, 2.60),
        (0.03, 2.95),
        (0.06, 3.12),
        (0.10, 3.20),
        (0.20, 3.25),
        (0.30, 3.28),
        (0.40, 3.29),
        (0.60, 3.30),
        (0.70, 3.33),
        (0.90, 3.34),
        (0.97, 3.36),
        (1.0, 3.45),
    ),
    "lead_acid": ((0.0, 1.94), (0.25, 2.01), (0.50, 2.06), (0.75, 2.11), (1.0, 2.15)),
}
FULL_V = {"nickel_rich": 4.20, "manganese_blend": 4.20, "iron_phosphate": 3.65, "lead_acid": 2.40}
NOMINAL_V = {"nickel_rich": 3.6, "manganese_blend": 3.75, "iron_phosphate": 3.2, "lead_acid": 2.0}
EMPTY_V = {"nickel_rich": 2.8, "manganese_blend": 3.0, "iron_phosphate": 2.5, "lead_acid": 1.75}


def curve_for(chemistry: str, given: Curve) -> Curve:
    """The given curve, or the typical one for the chemistry; empty if neither is known."""
    return given or TYPICAL.get(chemistry, ())


def interpolator(points: Curve) -> Callable[[float], float]:
    """volts(soc), linear between the points, held at both ends. At least one point."""
    xs = [p[0] for p in points]
    ys = [p[1] for p in points]
    last = len(xs) - 1

    def volts(soc: float) -> float:
        i = bisect_right(xs, soc)
        if i == 0:
            return ys[0]
        if i > last:
            return ys[last]
        x0 = xs[i - 1]
        return ys[i - 1] + (ys[i] - ys[i - 1]) * (soc - x0) / (xs[i] - x0)

    return volts


def soc_at(points: Curve, volts: float) -> float:
    """State of charge whose open-circuit voltage this is, held to 0…1."""
    for (x0, y0), (x1, y1) in zip(points, points[1:], strict=False):
        if y0 <= volts <= y1 and y1 > y0:
            return x0 + (x1 - x0) * (volts - y0) / (y1 - y0)
    return 0.0 if volts < points[0][1] else 1.0
