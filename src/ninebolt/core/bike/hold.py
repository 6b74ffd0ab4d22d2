"""How long this motor holds full phase amps."""

from __future__ import annotations

from ninebolt.core.drive.heat import seconds_until, steady_amps
from ninebolt.core.limits import Limit
from ninebolt.core.simulate.case import RunCase

WARM_C = Limit(80.0, "c", "a motor that has been ridden: winding and case together")


def hold_s(case: RunCase, start_c: float) -> float | None:
    """Seconds at full phase amps until the winding limit (inf: for good); None without heat paths."""
    t = case.thermal
    return None if t is None else until_s(case, start_c, t.temp_max_c)


def until_s(case: RunCase, start_c: float, end_c: float) -> float | None:
    """The same until the winding is at end_c."""
    t, m = case.thermal, case.machine
    if t is None:
        return None
    return seconds_until(
        1.5 * m.r_ohm * case.phase_a**2,
        t.winding_case_k_w,
        t.case_air_k_w,
        t.winding_j_k,
        t.case_j_k,
        start_c,
        end_c,
        t.air_c,
    )


def for_good_a(case: RunCase) -> float | None:
    """Peak phase amps that the winding stands for good; None without heat paths."""
    t = case.thermal
    if t is None:
        return None
    return steady_amps(
        case.machine.r_ohm, t.winding_case_k_w, t.case_air_k_w, t.temp_max_c, t.air_c
    )
