"""Drive's findings about braking by the motor."""

from __future__ import annotations

import math

from ninebolt.core.bike.back import (
    COLD_C,
    FROST_C,
    GRIP_SHARE,
    charge_limit,
    free_braking,
    motor_braking,
)
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.ride import bare_performance, pack_facts
from ninebolt.core.bolts.drive.limits import FULL_SOC
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.finding import REGEN_OFF, Fix, Source, q, setting
from ninebolt.core.simulate.regen import asked_n

BACK = Source("computed", "torque current through machine and pack, rear load under braking")
PARTS = ("drive.controller", "pack", "guard.bms")


def _asked(bike: Bike) -> float:
    return bike.build.tune.regen_pct.taken if bare_performance(bike) else 0.0


@check("drive.regen_open", "the motor brakes and nobody knows what the pack takes", parts=PARTS)
def regen_open(bike: Bike) -> Says | None:
    if not _asked(bike) or charge_limit(bike) is not None:
        return None
    free = free_braking(bike)
    most = max(free.back_a) if free else 0.0
    return Says(
        "caution",
        "What the pack takes back is not known",
        f"Up to {q(most, 'a')} flow into it. Give the charge current of the cells or of the BMS; until then "
        "leave regeneration off.",
        most,
        None,
        "a",
        fixes=(REGEN_OFF,),
    )


@check(
    "drive.regen_past",
    "braking by the motor charges past what the BMS switches, or nobody knows",
    parts=("guard.bms", "drive.controller"),
)
def regen_past(bike: Bike) -> Says | None:
    bms = bike.build.guard.bms
    past = bms.there is not True or bms.discharge == "bypassed" or bms.common_port is False
    if not _asked(bike) or (bms.common_port and not past):
        return None
    why = (
        "There is no BMS that is known of"
        if bms.there is not True
        else "Discharge goes around the BMS, and so does what flows back"
        if bms.discharge == "bypassed"
        else "Its charge port is another than its discharge port"
        if past
        else "Whether charge and discharge go through one port of the BMS is not written down"
    )
    return Says(
        "caution" if past else "note",
        "Nothing of the BMS ends the charge by braking"
        if past
        else "Does the BMS see what braking charges?",
        f"{why}: with two ports a group that is full is pushed on at every descent, and the controller sees the "
        "whole pack alone. Its over-voltage cut below full, and no braking on a full pack; or regeneration off.",
        fixes=(REGEN_OFF,),
    )


@check(
    "drive.regen",
    "braking by the motor pushes more back than the pack may take",
    parts=PARTS,
    source=BACK,
)
def regen(bike: Bike) -> Says | None:
    limit, free = charge_limit(bike), free_braking(bike)
    if limit is None or free is None or max(free.back_a) <= limit.amps:
        return None
    most, frost = max(free.back_a), bike.build.pack.temp_c.taken < FROST_C
    kept = motor_braking(bike)
    share = bike.build.tune.regen_pct.taken * limit.amps / most
    return Says(
        "stop" if frost else "caution",
        "Braking charges frozen cells"
        if frost
        else "Braking pushes back more than the pack may take",
        f"Up to {q(most, 'a')} against {q(limit.amps, 'a')} ({limit.link}"
        + (
            f"; none under {q(FROST_C, 'c')}, half under {q(COLD_C, 'c')}"
            if "cold" in limit.link
            else ""
        )
        + "). The BMS opens, or lithium plates inside the cells. The controller's own limit of regeneration amps "
        f"must be set to that; then {q(max(kept.force_n) if kept else 0.0, 'n')} of braking are left.",
        most,
        limit.amps,
        "a",
        fixes=(
            Fix(f"Regeneration {share:.0f} %", (setting("tune.regen_pct", float(int(share))),)),
        ),
    )


@check(
    "drive.regen_full", "there is no braking by the motor on a full pack", parts=PARTS, source=BACK
)
def regen_full(bike: Bike) -> Says | None:
    facts, pack = pack_facts(bike), bike.build.pack
    if not _asked(bike) or facts is None or pack.start_soc.taken < FULL_SOC:
        return None
    return Says(
        "caution",
        "A full pack takes nothing back",
        f"It starts at {q(facts.full_v, 'v')}: at the top of a hill the lever that braked all week does nothing, or "
        "the over-voltage cut lets go of the wheel. The wheel brakes must do alone; fade it in by volts.",
        pack.start_soc.taken,
        FULL_SOC,
    )


@check(
    "drive.regen_grip", "braking by the motor may slide the rear wheel", parts=PARTS, source=BACK
)
def regen_grip(bike: Bike) -> Says | None:
    free = free_braking(bike)
    if free is None or "rear grip" not in free.held_by:
        return None
    at, perf = free.held_by.index("rear grip"), bare_performance(bike)
    share = bike.build.tune.regen_pct.taken
    asked = asked_n(perf.case, share / 100.0, free.speed_m_s[at]) if perf else math.inf
    fit = float(math.floor(share * GRIP_SHARE * free.force_n[at] / asked))
    return Says(
        "caution",
        "Closing the throttle may slide the rear wheel",
        f"At {q(free.speed_m_s[at], 'm_s')} the motor brakes as hard as the rear tyre holds, "
        f"{q(free.force_n[at], 'n')}, on a dry road with nobody touching a brake.",
        free.force_n[at],
        None,
        "n",
        fixes=(Fix(f"Regeneration {fit:.0f} %", (setting("tune.regen_pct", fit),)),),
    )
