"""The bench's cell tester: salvaged cells with scatter, a few tired, leaky or dead ones.

It does not imitate a tester's own drift or a bad contact in its holder.
"""

from __future__ import annotations

import random

from ninebolt.core.match.sort import MeasuredCell


def salvaged_cells(count: int, seed: int) -> list[MeasuredCell]:
    """Cells of a mixed lot, in the order they were pulled."""
    rng = random.Random(seed)
    out = []
    for i in range(1, count + 1):
        age = min(max(rng.gauss(0.16, 0.06), 0.02), 0.6)
        kind = rng.random()
        capacity = 2.5 * (1.0 - age) * (1 + rng.gauss(0, 0.01))
        ohm = 0.045 * (1.0 + 2.2 * age) * (1 + rng.gauss(0, 0.05))
        fade = abs(rng.gauss(0.0004, 0.0002))
        volts = rng.gauss(3.72, 0.04)
        if kind < 0.03:
            fade, volts = fade + 0.012, volts - 0.3
        elif kind < 0.06:
            capacity, ohm = capacity * 0.6, ohm * 2.4
        elif kind < 0.07:
            volts = 1.1
        out.append(MeasuredCell(f"T{i:03d}", round(capacity, 3), round(ohm, 4), fade, volts))
    return out
