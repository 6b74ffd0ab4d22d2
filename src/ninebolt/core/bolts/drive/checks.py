"""Drive's findings: ceilings, phase amps, cut-offs, speed, the motor over its label."""

from __future__ import annotations

import math

from ninebolt.core.battery.pack import PackFacts
from ninebolt.core.bike.cells import LVC_HIGH_V
from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.hold import hold_s
from ninebolt.core.bike.opening import performance_of
from ninebolt.core.bike.path import phase_setting_a, used_down_to_v
from ninebolt.core.bike.reach import unused_wh
from ninebolt.core.bike.ride import load_a, pack_facts
from ninebolt.core.bike.running import AIR_C, FAR_OVER_LABEL, OVER_LABEL
from ninebolt.core.bolts.drive.limits import (
    CEILING_SHARE,
    LABEL_SHARE,
    LINE_STOP,
    LVC_LOW_V,
    LVC_SHARE,
    PHASE_SLACK,
    PHASE_STOP,
)
from ninebolt.core.bolts.register import Says, check
from ninebolt.core.drive.constants import amps_peak
from ninebolt.core.finding import BUILD, Change, Fix, Source, q, set_line_amps, setting
from ninebolt.core.simulate.headline import Performance
from ninebolt.core.simulate.steady import top_weakened
from ninebolt.core.simulate.thrust import back_emf_v, free_emf_v, free_rpm, free_weakening_a
from ninebolt.units import KM_H_PER_M_S, RPM_PER_RAD_S

CONTROLLER = ("drive.controller",)


def _rpm(perf: Performance, speed_m_s: float | None = None) -> float:
    """Motor speed at a road speed, else at top speed."""
    speed = perf.top.speed_m_s if speed_m_s is None else speed_m_s
    return speed * perf.case.ratio / perf.case.radius_m * RPM_PER_RAD_S


def _capped(perf: Performance, most_rpm: float) -> tuple[Fix, ...]:
    """A speed cap, in whole km/h, that keeps the motor within its rpm; none where that is no speed."""
    km_h = math.floor(most_rpm / _rpm(perf, 1.0) * KM_H_PER_M_S)
    at = km_h / KM_H_PER_M_S
    return (Fix(f"Speed cap {km_h} km/h", (setting("tune.cap_m_s", at),)),) if km_h else ()


@check(
    "drive.ceiling",
    "the full pack is at or above the controller's ceiling",
    parts=("pack", "drive.controller"),
    source=BUILD,
)
def ceiling(bike: Bike) -> Says | None:
    facts, top = pack_facts(bike), bike.build.drive.controller.v_max_v.amount
    if facts is None or top is None or facts.full_v <= CEILING_SHARE * top:
        return None
    over = facts.full_v > top
    each = facts.full_v / (bike.build.pack.series or 1)
    most = int((top if over else CEILING_SHARE * top) / each)
    return Says(
        "stop" if over else "caution",
        "The full pack is above the controller's ceiling"
        if over
        else "The full pack is close under the controller's ceiling",
        f"{q(facts.full_v, 'v')} full against {q(top, 'v')}: "
        + (
            "the controller is destroyed at the first plug-in."
            if over
            else "regeneration lifts the bus above the pack; its over-voltage cut lets go of the wheel, or "
            "its capacitors fail. Leave room, and keep regeneration off with a full pack."
        ),
        facts.full_v,
        top if over else CEILING_SHARE * top,
        "v",
        fixes=(Fix(f"Go to {most} in series", (Change("pack.series", most),)),) if most else (),
    )


@check("drive.ceiling_open", "the controller's ceiling is unknown", parts=CONTROLLER)
def ceiling_open(bike: Bike) -> Says | None:
    facts, c = pack_facts(bike), bike.build.drive.controller
    if (
        facts is None
        or c.v_max_v.known
        or not (c.name or c.line_max_a.known or c.phase_max_a.known)
    ):
        return None
    return Says(
        "caution",
        "The controller's voltage ceiling is unknown",
        f"The pack is {q(facts.full_v, 'v')} full. A number in its name is often nominal volts, sometimes "
        "a model: read the rating of its capacitors before it is plugged in.",
        0,
        1,
    )


@check(
    "drive.phase",
    "phase amps are above what the motor may see",
    parts=("drive.motor", "drive.controller"),
    source=BUILD,
)
def phase(bike: Bike) -> Says | None:
    c, m = bike.build.drive.controller, bike.build.drive.motor
    amps, most = phase_setting_a(c, m), amps_peak(m.phase_max_a.or_else(math.nan), m.amp_basis)
    if not amps > most * PHASE_SLACK:
        return None
    to = math.floor(most / amps_peak(1.0, c.amp_basis))
    return Says(
        "caution" if amps < PHASE_STOP * most else "stop",
        "Phase amps are above what the motor may see",
        f"{q(amps, 'a')} peak against {q(most, 'a')}: heat, and magnets that lose strength.",
        amps,
        most,
        "a",
        fixes=(Fix(f"Set phase amps to {to:.0f} A", (setting("drive.controller.phase_a", to),)),),
    )


@check("drive.basis", "phase amps of unknown basis", parts=CONTROLLER)
def basis(bike: Bike) -> Says | None:
    c, m = bike.build.drive.controller, bike.build.drive.motor
    amps = phase_setting_a(c, m)
    if c.amp_basis != "unknown" or not math.isfinite(amps):
        return None
    return Says(
        "caution",
        "Are the phase amps peak or RMS?",
        f"Read as peak, {q(amps, 'a')} is what it says; read as RMS the motor sees "
        f"{q(amps * math.sqrt(2), 'a')} and pulls 41 % harder. Ask, or measure.",
        amps,
        amps * math.sqrt(2),
        "a",
        fixes=_basis_fixes("drive.controller.amp_basis"),
    )


def _basis_fixes(path: str) -> tuple[Fix, ...]:
    """Both answers to what amps are."""
    return (
        Fix("They are peak", (Change(path, "peak"),)),
        Fix("They are RMS", (Change(path, "rms"),)),
    )


@check("drive.motor_basis", "the motor's amps are of unknown basis", parts=("drive.motor",))
def motor_basis(bike: Bike) -> Says | None:
    m = bike.build.drive.motor
    rated = m.phase_max_a.or_else(m.phase_cont_a.or_else(math.nan))
    if m.amp_basis != "unknown" or not math.isfinite(rated) or performance_of(bike) is None:
        return None
    return Says(
        "note",
        "Are the motor's amps peak or RMS?",
        f"{q(rated, 'a')} are read as peak, the careful way; were they RMS, it would stand "
        f"{q(rated * math.sqrt(2), 'a')} peak. Its sheet says, or the seller.",
        rated,
        rated * math.sqrt(2),
        "a",
        fixes=_basis_fixes("drive.motor.amp_basis"),
    )


@check(
    "drive.line_rating",
    "line amps are set above the controller's rating",
    parts=CONTROLLER,
    source=BUILD,
)
def line_rating(bike: Bike) -> Says | None:
    c = bike.build.drive.controller
    asked, rating = c.line_a.amount, c.line_max_a.amount
    if asked is None or rating is None or asked <= rating:
        return None
    far = asked > LINE_STOP * rating
    return Says(
        "stop" if far else "caution",
        "Line amps are set above the controller's rating",
        f"{q(asked, 'a')} against {q(rating, 'a')}: "
        + (
            "most firmware holds it to its own limit; one that does not fails short, with the throttle open. "
            "A wrong unit or decimal?"
            if far
            else "reckoned here with the rating."
        ),
        asked,
        LINE_STOP * rating if far else rating,
        "a",
        fixes=(Fix(f"Set {rating:.0f} A", (setting("drive.controller.line_a", rating),)),),
    )


@check(
    "drive.v_min",
    "the controller is off before the pack is empty",
    parts=("drive.controller", "pack"),
    source=BUILD,
)
def v_min(bike: Bike) -> Says | None:
    facts, least = pack_facts(bike), bike.build.drive.controller.v_min_v.amount
    if facts is None or least is None:
        return None
    ends = used_down_to_v(bike.build, facts.empty_v)
    if math.isnan(ends) or least <= ends:
        return None
    return Says(
        "stop" if least > facts.nominal_v else "caution",
        "The controller is off before the pack is empty",
        f"It works from {q(least, 'v')}; the pack is to be used down to {q(ends, 'v')}. It cuts out at "
        "once instead of fading, and what is left in the pack cannot be used.",
        ends,
        least,
        "v",
        fixes=(
            Fix(
                f"Set the cut-off to {least:.1f} V",
                (setting("drive.controller.lvc_v", round(least + 0.05, 1)),),
            ),
        )
        if least <= facts.nominal_v
        else (),
    )


def _to_empty(empty: float) -> Fix:
    return Fix(f"Set {empty:.1f} V", (setting("drive.controller.lvc_v", round(empty, 1)),))


@check(
    "drive.lvc_low",
    "the low-voltage cut-off is below an empty pack",
    parts=CONTROLLER,
    source=BUILD,
)
def lvc_low(bike: Bike) -> Says | None:
    facts, lvc, pack = pack_facts(bike), bike.build.drive.controller.lvc_v.amount, bike.build.pack
    if facts is None or lvc is None or math.isnan(facts.empty_v):
        return None
    nickel = pack.cell.chemistry == "nickel_rich"
    least = LVC_LOW_V * (pack.series or 0) if nickel else LVC_SHARE * facts.empty_v
    least = min(least, LVC_SHARE * facts.empty_v) if nickel else least
    if lvc >= least:
        return None
    return Says(
        "caution",
        "The low-voltage cut-off is below an empty pack",
        f"{q(lvc, 'v')}, {q(lvc / (pack.series or 1), 'v')} a cell, against {q(facts.empty_v, 'v')} "
        "empty: cells are ruined before it acts. Often a setting left from another pack.",
        lvc,
        least,
        "v",
        fixes=(_to_empty(facts.empty_v),),
    )


@check(
    "drive.lvc_high", "the low-voltage cut-off leaves much unused", parts=CONTROLLER, source=BUILD
)
def lvc_high(bike: Bike) -> Says | None:
    facts, lvc, pack = pack_facts(bike), bike.build.drive.controller.lvc_v.amount, bike.build.pack
    if facts is None or lvc is None or math.isnan(facts.empty_v):
        return None
    other = lvc > facts.nominal_v
    high = (
        LVC_HIGH_V * (pack.series or 0) if pack.cell.chemistry == "nickel_rich" else facts.nominal_v
    )
    if lvc <= high and not other:
        return None
    against = f"{q(lvc, 'v')} against {q(facts.nominal_v, 'v')} nominal: "
    if lvc >= facts.full_v:
        title = "The low-voltage cut-off is above the full pack"
        words = (
            f"{q(lvc, 'v')} against {q(facts.full_v, 'v')} full: the controller never lets go of its cut-off, the bike "
            "does not run. A setting left from another pack."
        )
    elif other:
        title = "The low-voltage cut-off is above the pack's nominal"
        words = (
            f"{against}it cuts out long before the pack is empty. A setting left from another pack. "
            f"{_unused(bike, facts, lvc)}"
        )
    else:
        title = "The low-voltage cut-off leaves energy unused"
        words = against + _unused(bike, facts, lvc)
    return Says(
        "stop" if other else "caution",
        title,
        words,
        lvc,
        facts.nominal_v if other else high,
        "v",
        fixes=(_to_empty(facts.empty_v),),
    )


def _unused(bike: Bike, facts: PackFacts, lvc: float) -> str:
    """What a cut-off leaves in the pack, in words."""
    if math.isnan(facts.r_ohm) or math.isnan(facts.capacity_ah):
        return "How much stays in the pack is not known."
    unused, without = unused_wh(bike, facts, lvc)
    return f"{q(unused, 'wh')} of {q(without, 'wh')} stay in the pack at the speed of the ride."


@check("drive.lvc_open", "no low-voltage cut-off is set, or nobody knows", parts=CONTROLLER)
def lvc_open(bike: Bike) -> Says | None:
    facts, lvc = pack_facts(bike), bike.build.drive.controller.lvc_v
    if facts is None or math.isnan(facts.empty_v) or lvc.known or performance_of(bike) is None:
        return None
    return Says(
        "caution",
        "The low-voltage cut-off is not known",
        f"Left at another pack's value it ruins cells or cuts out half full; an empty pack here is "
        f"{q(facts.empty_v, 'v')}.",
        0,
        1,
        fixes=(_to_empty(facts.empty_v),),
    )


@check(
    "drive.weakening",
    "back-EMF at top speed is above what the controller stands",
    parts=("drive.controller", "drive.motor"),
    source=Source("computed", "rpm / KV against the controller's ceiling"),
)
def weakening(bike: Bike) -> Says | None:
    perf, top = performance_of(bike), bike.build.drive.controller.v_max_v.amount
    if perf is None or top is None:
        return None
    emf = back_emf_v(perf.case, perf.top.speed_m_s)
    if emf <= top:
        return None
    cures = back_emf_v(perf.case, top_weakened(perf.case, 0.0)) <= top
    return Says(
        "stop",
        "If the controller lets go at speed, back-EMF destroys it",
        f"At top speed the motor makes {q(emf, 'v')} line to line; the controller and its capacitors "
        f"stand {q(top, 'v')}. "
        + (
            "Less field weakening."
            if cures
            else "Without weakening it does so too: the pack's own volts take it there. Fewer cells in series, or a "
            "controller for more volts."
        ),
        emf,
        top,
        "v",
        fixes=(Fix("Field weakening off", (setting("drive.controller.fw_id_a", 0.0),)),)
        if cures
        else (),
    )


@check(
    "drive.weakening_free",
    "weakening lets the unloaded motor past what the controller stands",
    parts=("pack", "drive.controller", "drive.motor"),
    source=Source("computed", "V ψ / (ψ − Ld id) against the controller's ceiling"),
)
def weakening_free(bike: Bike) -> Says | None:
    """A wheel in the air at full throttle, or a slope: faster than any road at full drag."""
    perf, facts, c = performance_of(bike), pack_facts(bike), bike.build.drive.controller
    top = c.v_max_v.amount
    if perf is None or facts is None or top is None or not c.fw_id_a.taken > 0.0:
        return None
    turns = c.erpm_max_rpm.or_else(math.inf)
    free_a = free_weakening_a(perf.case, facts.full_v, top, turns)
    if c.fw_id_a.taken <= free_a or back_emf_v(perf.case, perf.top.speed_m_s) > top:
        return None  # or on the road already: that is a stop, and said there
    emf, most = free_emf_v(perf.case, facts.full_v, c.fw_id_a.taken, turns), math.floor(free_a)
    far = q(emf, "v") if math.isfinite(emf) else "volts without end"
    return Says(
        "caution",
        "In the air or downhill, weakening takes the motor past the controller's ceiling",
        f"Unloaded and with a full pack it reaches {far} line to line; the controller and its capacitors stand "
        f"{q(top, 'v')}. A trip or the key lets that into them. No full throttle on the stand; up to {q(most, 'a')} of "
        "weakening stays under it.",
        emf if math.isfinite(emf) else None,
        top,
        "v",
        fixes=(
            Fix(
                f"Weakening to {most} A" if most else "Field weakening off",
                (setting("drive.controller.fw_id_a", float(most)),),
            ),
        ),
    )


@check("drive.erpm", "too many electrical rpm for the controller", parts=CONTROLLER, source=BUILD)
def erpm(bike: Bike) -> Says | None:
    perf, most = performance_of(bike), bike.build.drive.controller.erpm_max_rpm.amount
    if perf is None or most is None:
        return None
    turns = _rpm(perf) * (bike.build.drive.motor.pole_pairs or 0)
    if turns <= most:
        return None
    return Says(
        "stop",
        "Too many electrical rpm for the controller",
        f"{q(turns, 'rpm')} at top speed against {q(most, 'rpm')}: it loses the rotor.",
        turns,
        most,
        "rpm",
        fixes=_capped(perf, most / (bike.build.drive.motor.pole_pairs or 1)),
    )


@check("drive.rpm", "the motor turns faster than it may", parts=("drive.motor",), source=BUILD)
def rpm(bike: Bike) -> Says | None:
    perf, most = performance_of(bike), bike.build.drive.motor.rpm_max_rpm.amount
    if perf is None or most is None or _rpm(perf) <= most:
        return None
    return Says(
        "stop",
        "The motor turns faster than it may",
        f"{q(_rpm(perf), 'rpm')} at top speed against {q(most, 'rpm')}.",
        _rpm(perf),
        most,
        "rpm",
        fixes=_capped(perf, most),
    )


@check(
    "drive.rpm_free",
    "the unloaded motor turns faster than it may",
    parts=("drive.motor", "pack"),
    source=Source("computed", "m V / (√3 (ψ − Ld id)), in electrical radians a second"),
)
def rpm_free(bike: Bike) -> Says | None:
    """A wheel in the air, off a jump or on loose ground: no drag holds it to the road's top speed."""
    perf, facts = performance_of(bike), pack_facts(bike)
    c, m = bike.build.drive.controller, bike.build.drive.motor
    most = m.rpm_max_rpm.amount
    if perf is None or facts is None or most is None or _rpm(perf) > most:
        return None  # or on the road already: that is a stop, and said there
    turns = min(
        free_rpm(perf.case, facts.full_v, c.fw_id_a.taken, c.erpm_max_rpm.or_else(math.inf)),
        _rpm(perf, perf.case.cap_m_s),
    )
    if turns <= most:
        return None
    far = q(turns, "rpm") if math.isfinite(turns) else "no rpm that ends it"
    return Says(
        "caution",
        "In the air the motor turns faster than it may",
        f"Unloaded and with a full pack it comes to {far} against {q(most, 'rpm')}: on the stand, off a jump, on "
        "loose ground. Cap the rpm or the speed in Tune, and no full throttle on the stand.",
        turns if math.isfinite(turns) else None,
        most,
        "rpm",
        fixes=_capped(perf, most),
    )


@check(
    "drive.label",
    "much less reaches the road than the motor's label says",
    parts=("drive.motor",),
    source=Source("computed", "envelope"),
)
def label(bike: Bike) -> Says | None:
    perf, sold = performance_of(bike), bike.build.drive.motor.label_w.amount
    have = perf.headline.peak_wheel_w if perf else None
    if perf is None or sold is None or have is None or have >= LABEL_SHARE * sold:
        return None
    return Says(
        "note",
        "The label is not what reaches the ground",
        f"Sold as {q(sold, 'w')}, this build puts {q(have, 'w')} on the road. Over most speeds the choke "
        f"is {perf.headline.choke}.",
        have,
        sold,
        "w",
    )


@check(
    "drive.over_label",
    "the motor is driven above its label",
    parts=("drive.motor",),
    source=Source("computed", "shaft power and winding along the run"),
)
def over_label(bike: Bike) -> Says | None:
    perf, m = performance_of(bike), bike.build.drive.motor
    sold = m.label_w.amount
    if perf is None or sold is None:
        return None
    s, gear = perf.run.series, perf.case.ratio / perf.case.radius_m
    most = max(t * v * gear for t, v in zip(s.torque_nm, s.speed_m_s, strict=True))
    if most <= OVER_LABEL * sold:
        return None
    far, sensed = most > FAR_OVER_LABEL * sold, m.temp_sensor is True
    limit = m.temp_max_c.taken
    when = next((t for t, c in zip(s.t_s, s.winding_c, strict=True) if c >= limit), None)
    heat = (
        "how long the winding stands it is unknown: give the motor's heat paths"
        if perf.case.thermal is None
        else f"the winding reaches {q(limit, 'c')} after {q(when, 's')}"
        if when is not None
        else f"at the end of the run the winding is at {q(s.winding_c[-1], 'c')} of {q(limit, 'c')}"
    )
    held = hold_s(perf.case, AIR_C)
    if held is not None and math.isfinite(held):
        heat += f"; full phase amps from cold are held {q(held, 's')}"
    roll = (
        "Its sensor must roll the amps back in the controller: try that at low power."
        if sensed
        else "Past its label it needs a temperature sensor in the winding and a roll-back in the controller."
    )
    return Says(
        "stop" if far and not sensed else "caution",
        f"The motor gives {most / sold:.1f} times its label",
        f"{q(most, 'w')} at the shaft against {q(sold, 'w')}; {heat}. {roll}",
        most,
        (FAR_OVER_LABEL if far else OVER_LABEL) * sold,
        "w",
        fixes=_within_label(bike, FAR_OVER_LABEL * sold) if far and not sensed else (),
    )


def _within_label(bike: Bike, most_w: float) -> tuple[Fix, ...]:
    """Line amps that bring no more than a power even out of the full pack, losses left out."""
    facts, load = pack_facts(bike), load_a(bike)
    amps = most_w / facts.full_v if facts else 0.0
    return (set_line_amps(amps),) if load is None or amps < load else ()
