"""Tune: within what each parameter may lie, on both sides, and why."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ninebolt.core.bike.back import GRIP_SHARE, charge_limit
from ninebolt.core.bike.cells import LVC_HIGH_V, cell_empty_v
from ninebolt.core.bike.chain import advice
from ninebolt.core.bike.facts import Bike, fact
from ninebolt.core.bike.ride import pack_facts
from ninebolt.core.bolts.tune.limits import (
    BOX_LEAST_C,
    BROKEN_V,
    CRAWL_M_S,
    CRAWL_PCT,
    DEAD_MOST_PCT,
    HARDLY_A,
    MOTOR_BELOW_K,
    OVC_MOST,
    RAMP_DOWN_MOST_S,
    RAMP_MOST_S,
    RAMP_S,
    REGEN_USUAL,
    STALL_LEAST_S,
    STALL_MOST_S,
    STOP_LEAST_C,
)
from ninebolt.core.bolts.tune.written import (
    least_cut_off,
    phase_most,
    safe_weakening,
    written,
)
from ninebolt.core.simulate.regen import most_share

PUSH = "it pushes on after the hand is shut"


@dataclass(frozen=True, slots=True)
class Window:
    """least and most of a parameter, None where there is none; why: what is beyond each."""

    least: float | None
    most: float | None
    why_least: str = ""
    why_most: str = ""


@fact
def windows(bike: Bike) -> dict[str, Window]:
    """By parameter; those without an entry are facts that only agree or not."""
    build, facts, told = bike.build, pack_facts(bike), advice(bike)
    c = build.drive.controller
    out: dict[str, Window] = {}
    if told:
        more = f"more than {told.words} carries"
        out["line_a"] = Window(float(HARDLY_A), float(told.amps), "it hardly moves", more)
    phase = phase_most(bike)
    if phase:
        out["phase_a"] = Window(float(HARDLY_A), phase[0], "it hardly moves", f"above {phase[1]}")
    late = "the drive comes late and goes on after the hand is shut"
    for mode in ("mode_1", "mode_2", "mode_3"):
        out[f"{mode}_ramp_s"] = Window(None, float(RAMP_MOST_S), "", late)
        most = None if mode == "mode_1" else 100.0  # the first is for a first ride
        out[f"{mode}_pct"] = Window(float(CRAWL_PCT), most, "it hardly moves in this mode")
        out[f"{mode}_m_s"] = Window(float(CRAWL_M_S), None, "it hardly moves in this mode")
    out["speed_cap_m_s"] = Window(float(CRAWL_M_S), None, "it hardly moves")
    out["stall_s"] = Window(
        float(STALL_LEAST_S),
        float(STALL_MOST_S),
        "it lets go at a hard start",
        "one phase carries all of it, and its switches with it",
    )
    out["dead_pct"] = Window(0.0, float(DEAD_MOST_PCT), "", "much of the twist does nothing")
    out["motor_stop_c"] = Window(float(STOP_LEAST_C), None, "it stops on a warm day")
    out["controller_c"] = Window(float(BOX_LEAST_C), None, "it takes the power on a warm day")
    out["fw_id_a"] = Window(
        0.0, safe_weakening(bike), "", "back-EMF at speed passes the controller's ceiling"
    )
    out["ramp_s"] = Window(
        _least_ramp(bike),
        float(RAMP_MOST_S),
        "",
        late,
    )
    share, link = regen_share(bike)
    for name in ("regen_pct", "mode_1_regen_pct", "mode_2_regen_pct", "mode_3_regen_pct"):
        out[name] = Window(0.0, 100.0 * share, "", link)
    limit = build.drive.motor.temp_max_c.taken
    out["motor_c"] = Window(
        60.0,
        limit - MOTOR_BELOW_K,
        "it takes the power on a warm day",
        "the winding is at its limit before it acts",
    )
    if facts and not math.isnan(facts.empty_v):
        series = build.pack.series or 0
        low = least_cut_off(bike, facts)[0]
        nickel = build.pack.cell.chemistry in ("nickel_rich", "manganese_blend")
        high = LVC_HIGH_V * series if nickel else facts.nominal_v
        out["lvc_v"] = Window(
            low, high, f"cells at {cell_empty_v(build.pack.cell):.2f} V are ruined, or the BMS opens first",
            "it cuts out with much of the pack unused",
        )  # fmt: skip
        out["lvc_start_v"] = Window(
            low, facts.nominal_v, "it cuts instead of fading", "it fades from half a pack on"
        )
        top = c.v_max_v.or_else(math.inf)
        out["ovc_v"] = Window(
            min(facts.full_v, top), min(OVC_MOST * facts.full_v, top),
            "a full pack lets go of the wheel", "above the controller's ceiling, or far above a full pack",
        )  # fmt: skip
    return out | _throttle(bike)


def _throttle(bike: Bike) -> dict[str, Window]:
    """What was measured at the grip bounds both ends of what the controller takes for rest and full."""
    t, out = bike.build.tune, {"ramp_down_s": Window(0.0, float(RAMP_DOWN_MOST_S), "", PUSH)}
    rest, full = t.throttle_rest_v.amount, t.throttle_full_v.amount
    if rest is not None:
        most = rest + 0.25 * (full - rest) if full is not None else rest + 0.5
        out["throttle_low_v"] = Window(
            rest, most, "it pushes with the hand off", "the first quarter of the twist does nothing"
        )
        out["throttle_fault_low_v"] = Window(
            float(BROKEN_V),
            rest - 0.05,
            "a wire that is off is taken for a hand that is shut",
            "at rest it would be a fault",
        )
    if full is not None:
        least = full - 0.25 * (full - rest) if rest is not None else full - 0.5
        out["throttle_high_v"] = Window(
            least,
            full,
            "all of it is there long before the stop",
            "full twist never gives all of it",
        )
        out["throttle_fault_high_v"] = Window(
            full + 0.05,
            t.throttle_supply_v.taken,
            "at full it would be a fault",
            "a short to the supply is full throttle",
        )
    return out


def _least_ramp(bike: Bike) -> float:
    """None needed, unless the wheel lifts or slips from rest."""
    made = written(bike)
    return float(RAMP_S) if made is not None and made.lunges else 0.0


@fact
def regen_share(bike: Bike) -> tuple[float, str]:
    """Share of the phase amps that braking may use, and what ends it."""
    made, limit = written(bike), charge_limit(bike)
    if made is None or limit is None:
        return 0.0, "what the pack takes back is not known"
    if limit.amps <= 0.0:
        return 0.0, "frozen cells take nothing"
    speeds = np.linspace(1.0, 1.08 * made.top_m_s, 12).tolist()
    return most_share(made.case, limit, GRIP_SHARE, REGEN_USUAL, speeds)
