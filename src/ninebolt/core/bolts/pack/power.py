"""Pack: sag over the charge, and the pack at a power."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.battery.ocv import interpolator
from ninebolt.core.battery.pack import PackFacts, power_at, sag_at
from ninebolt.core.battery.sag import volts_at_power
from ninebolt.core.bike.cells import STRIP_RISE_K, cell_curve
from ninebolt.core.bike.path import floor_v
from ninebolt.core.build import Build
from ninebolt.core.guard.conductors import strip_amps
from ninebolt.core.parts.pack import Pack

SOCS = (1.0, 0.8, 0.6, 0.4, 0.2, 0.1)


@dataclass(frozen=True, slots=True)
class SagRow:
    """At one charge: volts at rest, under the line amps at once and settled, and most power."""

    soc: float
    rest_v: float
    load_v: float
    settled_v: float
    power_w: float


@dataclass(frozen=True, slots=True)
class AtPower:
    """The pack at a power: current, per cell and as C-rate, volts. verdict: ok, warm (over what cells
    give for good), over (their peak), low (under their empty volts), never (no pack gives it) or
    open. unknown: what was not known, and so was not judged."""

    power_w: float
    amps: float | None
    cell_a: float | None
    c_rate: float | None
    volts: float | None
    verdict: str
    unknown: tuple[str, ...]


def sag_rows(build: Build, facts: PackFacts, load_a: float | None) -> tuple[SagRow, ...]:
    """Sag and power over the charge; empty while the resistance is unknown."""
    if math.isnan(facts.r_ohm):
        return ()
    s, volts, floor = (
        build.pack.series or 0,
        interpolator(cell_curve(build.pack.cell)),
        floor_v(build),
    )
    i = load_a or 0.0
    return tuple(
        SagRow(
            soc,
            s * volts(soc),
            sag_at(facts, s * volts(soc), i),
            sag_at(facts, s * volts(soc), i, settled=True),
            power_at(facts, s * volts(soc), floor),
        )
        for soc in SOCS
    )


def at_power(build: Build, facts: PackFacts, power_w: float) -> AtPower:
    """Current, per cell and C-rate, that a power asks at the start charge (C3)."""
    pack = build.pack
    e = (pack.series or 0) * interpolator(cell_curve(pack.cell))(pack.start_soc.taken)
    sags = not math.isnan(facts.r_ohm)
    unknown = (
        *(() if math.isfinite(facts.cont_a) else ("the cells' continuous current",)),
        *(() if math.isfinite(facts.peak_a) else ("their peak current",)),
        *(() if sags else ("their resistance, so the volts do not sag",)),
    )
    v = volts_at_power(e, facts.r_ohm, power_w) if sags else e
    if v is None or v <= 0:
        return AtPower(power_w, None, None, None, None, "never", unknown)
    amps = power_w / v
    if amps > facts.peak_a:
        verdict = "over"
    elif v < facts.empty_v:
        verdict = "low"
    elif amps > facts.cont_a:
        verdict = "warm"
    else:
        verdict = "open" if unknown else "ok"
    each = amps / (pack.parallel or 1)
    return AtPower(power_w, amps, each, amps / facts.capacity_ah, v, verdict, unknown)


def thickness_for(pack: Pack, amps: float) -> float | None:
    """Thickness that the strips need for a current at their width (m); None without a width."""
    s = pack.strips
    if s.width_m.amount is None:
        return None
    each = s.each or (pack.parallel or 1)
    low, high = 1e-5, 0.01
    for _ in range(40):
        mid = math.sqrt(low * high)
        enough = each * strip_amps(s.metal, s.width_m.amount, mid, STRIP_RISE_K) >= amps
        low, high = (low, mid) if enough else (mid, high)
    return high if high < 0.0099 else None
