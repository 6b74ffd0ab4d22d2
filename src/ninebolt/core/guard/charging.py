"""Charging at constant current, then constant voltage."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Charge:
    """cc_s, cv_s: time at constant current and at constant voltage. end_soc: charge at the end.
    into_wh: energy at the pack's terminals."""

    cc_s: float
    cv_s: float
    end_soc: float
    into_wh: float

    @property
    def total_s(self) -> float:
        return self.cc_s + self.cv_s


def charge(
    pack_volts: Callable[[float], float],
    r_ohm: float,
    pack_ah: float,
    end_v: float,
    amps: float,
    cut_a: float,
    start_soc: float = 0.0,
    rows: int = 400,
) -> Charge:
    """Stepped over charge: I = min(I0, (Vend - E(s)) / R), ends at full, or where the end voltage holds
    the current down to cut_a.

    pack_volts(soc): open-circuit volts of the whole pack. Kirchhoff's voltage law.
    """
    step = (1.0 - start_soc) / rows
    cc = cv = into = 0.0
    soc = start_soc
    for i in range(rows):
        mid = start_soc + (i + 0.5) * step
        e = pack_volts(mid)
        by_volts = (end_v - e) / r_ohm if r_ohm > 0 else math.inf
        i_a = min(amps, by_volts)
        if by_volts < amps and i_a <= cut_a:
            break
        dt = step * pack_ah * 3600.0 / i_a
        if by_volts >= amps:
            cc += dt
        else:
            cv += dt
        into += (e + i_a * r_ohm) * step * pack_ah
        soc += step
    return Charge(cc, cv, soc, into)


def mains_amps(end_v: float, amps: float, efficiency: float, mains_v: float) -> float:
    """Current from the outlet at full charge power, power factor taken as one (A)."""
    return end_v * amps / efficiency / mains_v
