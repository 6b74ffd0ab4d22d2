"""The bench's cell tester and charge logger: salvaged cells with scatter, a few tired, leaky or
dead; a charge with one small and one leaking group.

It does not imitate a tester's own drift, a bad contact in its holder, or balancing.
"""

from __future__ import annotations

import random

from ninebolt.core.battery.ocv import TYPICAL, interpolator
from ninebolt.core.match.accept import MeasuredCell


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


def charge_csv(series: int, seed: int) -> bytes:
    """A simulated charge as CSV: group voltages each minute, one group small, one leaking."""
    rng = random.Random(seed)
    small, leaky = rng.sample(range(series), 2)
    curve = interpolator(TYPICAL["nickel_rich"])
    size = [1.0 + rng.gauss(0, 0.004) for _ in range(series)]
    size[small] *= 0.93
    start = [0.12 + rng.gauss(0, 0.002) for _ in range(series)]
    rows = [
        "# simulated by the bench bike",
        "time [s]," + ",".join(f"group {i + 1} [V]" for i in range(series)),
    ]
    for minute in range(0, 181):
        share = 0.82 * minute / 180
        volts = []
        for i in range(series):
            leak = 0.0011 * minute if i == leaky else 0.0
            soc = min(max(start[i] + share / size[i] - leak, 0.0), 1.0)
            volts.append(curve(soc) + 0.012 + rng.gauss(0, 0.0006))
        rows.append(f"{minute * 60}," + ",".join(f"{v:.4f}" for v in volts))
    return ("\n".join(rows) + "\n").encode()
