"""Drive: the power chain from cells to tyre, each stage in watts, the least and what is larger than it need be."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.bike.chain import chain
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.ride import bare_performance
from ninebolt.core.drive.constants import amps_peak, kv_dc_bus, torque_nm
from ninebolt.core.limits import Limit
from ninebolt.core.simulate.headline import Performance

OVER_RATED = Limit(
    2.5, "ratio", "a stage over the least one, from where on it is paid for and not used"
)


@dataclass(frozen=True, slots=True)
class Stage:
    """One stage of the chain (W at its input): for good, and for a burst. least: it holds the others back for
    good. over: many times the least. words: what the number is of, or what is missing."""

    label: str
    path: str
    cont_w: float | None
    peak_w: float | None
    least: bool
    over: bool
    words: str


@fact
def stages(bike: Bike) -> tuple[Stage, ...]:
    """Cells, BMS, fuse, isolator, plug, cable, controller, motor; empty while the bike does not compute."""
    perf = bare_performance(bike)
    if perf is None:
        return ()
    volts = min(perf.envelope.bus_v)
    rows: list[tuple[str, str, float | None, float | None, str]] = []
    for link in chain(bike):
        words = "" if link.there is not False else "not there"
        if link.cont_a is None and link.there is not False:
            words = "not known"
        allows = link.allows_a
        rows.append(
            (
                link.label,
                link.path,
                None if allows is None else allows * volts,
                None if link.peak_a is None else link.peak_a * volts,
                words,
            )
        )
    rows.append(_motor(bike, perf))
    known = [r[2] for r in rows if r[2] is not None]
    least = min(known, default=math.inf)
    return tuple(
        Stage(a, b, c, d, c == least, c is not None and c > OVER_RATED * least, w)
        for a, b, c, d, w in rows
    )


def _motor(bike: Bike, perf: Performance) -> tuple[str, str, float | None, float | None, str]:
    """For good by its label, else by continuous amps at base speed; for a burst by full phase amps there."""
    m = bike.build.drive.motor
    base = next(
        (
            v
            for v, c in zip(perf.envelope.speed_m_s, perf.envelope.choke, strict=True)
            if c != perf.envelope.choke[0]
        ),
        perf.top.speed_m_s,
    )
    omega = base * perf.case.ratio / perf.case.radius_m
    kv = kv_dc_bus(m.kv_rpm_v.taken, m.kv_convention)
    cont = m.phase_cont_a.amount
    by_amps = torque_nm(kv, amps_peak(cont, m.amp_basis)) * omega if cont is not None else None
    peak = torque_nm(kv, perf.case.phase_a) * omega
    if m.label_w.amount is not None:
        return "Motor", "drive.motor", m.label_w.amount, peak, "its label"
    return "Motor", "drive.motor", by_amps, peak, "continuous amps" if by_amps else "not known"
