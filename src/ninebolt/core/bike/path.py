"""From the cells to the controller: resistance and limits of what is there, settings, loads."""

from __future__ import annotations

import math

from ninebolt.core.build import Build
from ninebolt.core.drive.constants import amps_peak
from ninebolt.core.guard.conductors import continuous_amps, copper_ohm
from ninebolt.core.limits import Limit
from ninebolt.core.parts.drive import Controller, Motor
from ninebolt.core.parts.guard import Cable, Charger, Guard

TERMINAL_C = Limit(
    105.0,
    "c",
    "conductor temperature that lugs, plugs and controller terminals stand (90 to 105 °C)",
)


def charger_v(charger: Charger) -> float:
    """End voltage of the charger, stacked supplies added up; nan if unknown."""
    return charger.out_v.or_else(math.nan) * (charger.stacked or 1)


def coil_load_w(build: Build, *feeds: str) -> float:
    """Holding power of the contactor's coil if it is fed from one of these; else 0."""
    iso = build.guard.isolator
    return iso.coil_w.or_else(0.0) if iso.kind == "contactor" and iso.coil_feed in feeds else 0.0


def converter_load_w(build: Build) -> float:
    """Mean power that the step-down converter gives: the listed loads with their duty, else the one
    number given; and the contactor's coil if it hangs on it."""
    dcdc = build.guard.dcdc
    coil = coil_load_w(build, "converter")
    if dcdc.loads:
        return coil + sum(x.power_w.or_else(0.0) * x.duty.taken for x in dcdc.loads)
    return coil + dcdc.load_w.or_else(0.0)


def aux_load_w(build: Build) -> float:
    """Mean power that the pack gives beside the drive: converter, and a coil on the pack."""
    return converter_load_w(build) + coil_load_w(build, "pack")


def cable_ohm(cable: Cable) -> float:
    """Both conductors at 20 °C; 0 while section or length is unknown."""
    if cable.section_m2.amount is None or cable.length_m.amount is None:
        return 0.0
    return copper_ohm(cable.section_m2.amount, 2.0 * cable.length_m.amount)


def lead_ohm(guard: Guard) -> float:
    """Resistance of one phase lead between controller and motor (ohm); 0 while its section or length is unknown."""
    lead = guard.phase_cable
    m2, length = lead.section_m2.amount, lead.length_m.amount
    if lead.there is False or m2 is None or length is None:
        return 0.0
    return copper_ohm(m2, length)


def cable_limit_c(cable: Cable) -> float:
    """What the conductor may reach: its insulation, but no more than lug, plug and terminals stand."""
    return min(cable.temp_max_c.taken, TERMINAL_C)


def cable_cont_a(cable: Cable) -> float:
    """Current that takes the cable up to its limit; inf if unknown, 0 where the air is as hot."""
    if cable.section_m2.amount is None or cable.there is False:
        return math.inf
    ambient = cable.ambient_c.taken
    rise = cable_limit_c(cable) - ambient
    return continuous_amps(cable.section_m2.amount, rise, ambient) if rise > 0.0 else 0.0


def path_ohm(guard: Guard) -> float:
    """Resistance between the pack's terminals and the controller, of the parts that are there.

    A part that is not there, or of which nobody knows, adds nothing; one that is there adds its own
    or the assumed resistance.
    """
    total = cable_ohm(guard.cable)
    if guard.bms.discharge == "through" and guard.bms.there:
        total += guard.bms.r_ohm.taken
    for part in (guard.fuse, guard.isolator, guard.plug):
        if part.there:
            total += part.r_ohm.taken
    return total


def bms_peak_a(guard: Guard) -> float:
    """Current at which the BMS opens at once; inf when bypassed, not there or unknown."""
    if guard.bms.discharge == "bypassed" or not guard.bms.there:
        return math.inf
    return guard.bms.i_peak_a.or_else(guard.bms.i_cont_a.or_else(math.inf))


def held_limits(guard: Guard) -> tuple[tuple[str, float], ...]:
    """(choke, amps) of what opens where more flows on and on: BMS, fuse, breaker."""
    iso, bms = guard.isolator, guard.bms
    through = bms.discharge == "through" and bms.there
    rows = (
        ("BMS", bms.i_cont_a.amount if through else None),
        ("path", guard.fuse.rated_a.amount if guard.fuse.there else None),
        ("path", iso.i_cont_a.amount if iso.there and iso.kind == "breaker" else None),
    )
    return tuple((choke, amps) for choke, amps in rows if amps is not None)


def plug_peak_a(guard: Guard) -> float:
    """Short-time limit of the plug, where its sheet gives one. What a fuse stands, its curve says: it
    opens, it does not limit."""
    return math.inf if guard.plug.there is False else guard.plug.i_peak_a.or_else(math.inf)


def line_setting_a(controller: Controller) -> float:
    """Line amps in force: the setting, held to the rating."""
    return min(controller.line_a.or_else(math.inf), controller.line_max_a.or_else(math.inf))


def phase_setting_a(controller: Controller, motor: Motor) -> float:
    """Peak phase amps in force: setting or rating of the controller, else the motor's limit."""
    ratings = [v.amount for v in (controller.phase_a, controller.phase_max_a) if v.amount]
    if ratings:
        return amps_peak(min(ratings), controller.amp_basis)
    return amps_peak(motor.phase_max_a.or_else(math.nan), motor.amp_basis)


def floor_v(build: Build, lvc_v: float | None = None) -> float:
    """Voltage the pack is not drawn below: the highest of its own floor, the controller's cut-off (lvc_v: another
    than the build's) and the least that the controller works from; 0 while none is known."""
    c = build.drive.controller
    cut = c.lvc_v.or_else(0.0) if lvc_v is None else lvc_v
    return max(build.pack.floor_v.or_else(0.0), cut, c.v_min_v.or_else(0.0))


def used_down_to_v(build: Build, empty_v: float) -> float:
    """Where a ride ends: at the controller's cut-off, else at the empty pack (V)."""
    lvc = build.drive.controller.lvc_v.amount
    return empty_v if lvc is None else lvc
