"""Small sums about rides: what a time says of power, a claim of range, minutes from amp hours, a speed that can be
stopped from. Each says what it assumed."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ninebolt.core.limits import Limit
from ninebolt.core.words import q
from ninebolt.errors import InputError
from ninebolt.units import GRAVITY_M_S2, S_PER_H

SPIN = Limit(0.05, "ratio", "of the mass, for wheels and rotor that spin up")
DRAG_LOW = Limit(
    0.04, "ratio", "of the kinetic energy, lost to air and rolling: short and slow runs"
)
DRAG_HIGH = Limit(0.25, "ratio", "the same at speed, upright rider")
PEAK_OVER_MEAN = Limit(
    2.0, "ratio", "power at the end over the mean, at even thrust: ½ m v² / t against m a v"
)
LEAST_WH_KM = Limit(
    14.0, "ratio", "Wh/km: a light moto, flat, 30 km/h, no wind; below that nothing rides"
)
USUAL_WH_KM = (
    Limit(22.0, "ratio", "Wh/km, easy road"),
    Limit(60.0, "ratio", "Wh/km, trail or fast road"),
)
MOST_WH_KM = Limit(300.0, "ratio", "Wh/km: flat out all the way on a fast bike; above that nothing")
MOST_G = Limit(
    1.2, "ratio", "times gravity that a tyre on ground gives a motorcycle, prepared strip"
)
RIDDEN_KG = (
    Limit(60.0, "kg", "bike and rider together, least"),
    Limit(450.0, "kg", "the same, most"),
)
REACT_S = Limit(1.0, "s", "until the brakes bite")
BRAKE_M_S2 = Limit(5.0, "m_s2", "dry road, a rider who is not drilled")
LOOSE_M_S2 = Limit(3.0, "m_s2", "gravel, grass, wet")


@dataclass(frozen=True, slots=True)
class PowerGuess:
    """Mean and peak power at the wheel that a time asks for, low and high (W). fits: whether a claim lies within.
    odd: why the numbers themselves cannot be; '' where they can."""

    mean_low_w: float
    mean_high_w: float
    peak_low_w: float
    peak_high_w: float
    fits: bool | None
    odd: str
    sentence: str


def power_from_time(
    mass_kg: float, speed_m_s: float, time_s: float, claimed_w: float | None = None
) -> PowerGuess:
    """½ m v² over the time, wheels and drag added. Raises InputError."""
    for name, x in (("mass_kg", mass_kg), ("speed_m_s", speed_m_s), ("time_s", time_s)):
        if not x > 0:
            raise InputError("Mass, speed and time are above 0.", where=name, got=f"{x:g}")
    kinetic = 0.5 * mass_kg * (1 + SPIN) * speed_m_s**2
    low, high = kinetic * (1 + DRAG_LOW) / time_s, kinetic * (1 + DRAG_HIGH) / time_s
    peak_low, peak_high = low, high * PEAK_OVER_MEAN
    fits = None if claimed_w is None else peak_low <= claimed_w <= peak_high * 1.1
    words = (
        f"{q(speed_m_s, 'm_s')} in {time_s:g} s with {q(mass_kg, 'kg')} asks for {low / 1e3:.1f} to "
        f"{high / 1e3:.1f} kW at the wheel on the mean, {peak_low / 1e3:.1f} to {peak_high / 1e3:.1f} kW at its end."
    )
    if claimed_w is not None:
        if claimed_w < peak_low:
            words += f" {claimed_w / 1e3:.1f} kW cannot do that: a number is not as told, or it went downhill."
        elif not fits:
            words += f" {claimed_w / 1e3:.1f} kW would be quicker: it comes only above that speed, or is a label."
        else:
            words += f" {claimed_w / 1e3:.1f} kW fits."
    odd = _odd(mass_kg, speed_m_s / time_s / GRAVITY_M_S2)
    return PowerGuess(low, high, peak_low, peak_high, fits, odd, f"{words} {odd}".strip())


def _odd(mass_kg: float, g: float) -> str:
    """Why a mass or a mean acceleration (in g) is none of a ridden bike."""
    if g > MOST_G:
        return (
            f"It cannot be: {g:.1f} times gravity on the mean, and no tyre gives more than {float(MOST_G):g}. Look "
            "where the clock began, and in which unit the speed is."
        )
    light, heavy = (float(x) for x in RIDDEN_KG)
    if not light <= mass_kg <= heavy:
        return (
            f"{q(mass_kg, 'kg')} is no bike with its rider ({q(light, 'kg')} to {q(heavy, 'kg')}): a slip of a digit, "
            "or the bike alone."
        )
    return ""


@dataclass(frozen=True, slots=True)
class RangeGuess:
    """Wh/km that a claim of range implies. verdict: impossible, only slow, usual, pessimistic."""

    wh_km: float
    verdict: str
    sentence: str


def range_claim(range_m: float, usable_wh: float) -> RangeGuess:
    """A range that 'should be', against what rides take. Raises InputError."""
    if not (range_m > 0 and usable_wh > 0):
        raise InputError("Range and energy are above 0.", got=f"{range_m:g} m, {usable_wh:g} Wh")
    each = usable_wh / (range_m / 1e3)
    low, high = (float(x) for x in USUAL_WH_KM)
    if each > MOST_WH_KM:
        verdict, why = (
            "impossible",
            f"flat out all the way a fast bike takes {float(MOST_WH_KM):g}: a slip of a digit, or another unit",
        )
    elif each < LEAST_WH_KM:
        verdict, why = (
            "impossible",
            f"nothing with a rider moves on less than {float(LEAST_WH_KM):g}",
        )
    elif each < low:
        verdict, why = (
            "only slow",
            f"only flat, slow and without wind; an easy road takes {low:g} and more",
        )
    elif each <= high:
        verdict, why = "usual", f"between an easy road ({low:g}) and trail or fast road ({high:g})"
    else:
        verdict, why = "pessimistic", f"more than trail or fast road take ({high:g})"
    words = f"{q(range_m, 'm')} from {q(usable_wh, 'wh')} is {q(each, 'wh_km')}: {verdict}, {why}."
    return RangeGuess(each, verdict, words)


def runtime_minutes(first_ah: float, second_ah: float, mean_a: float) -> tuple[float, float]:
    """Minutes of each at a mean current. Raises InputError."""
    if not (first_ah > 0 and second_ah > 0 and mean_a > 0):
        raise InputError(
            "Amp hours and mean amps are above 0.", got=f"{first_ah:g}, {second_ah:g}, {mean_a:g}"
        )
    return first_ah / mean_a * S_PER_H / 60.0, second_ah / mean_a * S_PER_H / 60.0


@dataclass(frozen=True, slots=True)
class Cap:
    """A speed that a test may be ridden at. refused: why no test at all, '' where it may."""

    speed_m_s: float
    stop_m: float
    refused: str
    sentence: str


def road_cap(
    sight_m: float, limit_m_s: float | None, wanted_m_s: float, loose: bool, closed: bool | None
) -> Cap:
    """The speed from which half of what is seen is enough to stop; never over a limit of an open road. Raises
    InputError."""
    if not (sight_m > 0 and wanted_m_s > 0) or (limit_m_s is not None and not limit_m_s > 0):
        raise InputError(
            "Sight, speed wanted and limit are above 0.", got=f"{sight_m:g} m, {wanted_m_s:g} m/s"
        )
    a = float(LOOSE_M_S2 if loose else BRAKE_M_S2)
    half = 0.5 * sight_m
    safe = -a * REACT_S + math.sqrt((a * REACT_S) ** 2 + 2 * a * half)
    legal = math.inf if closed or limit_m_s is None else limit_m_s
    cap = min(safe, legal, wanted_m_s)
    stop = cap * REACT_S + cap**2 / (2 * a)
    refused = ""
    if not closed and limit_m_s is None:
        refused = "An open road without a known limit is no place for a test."
    elif not closed and wanted_m_s > legal:
        over = f"{q(wanted_m_s, 'm_s')} is over the limit of {q(legal, 'm_s')}"
        refused = f"{over}: a closed course, or no test."
    words = refused or (
        f"At most {q(cap, 'm_s')} here: it stops in {q(stop, 'm')} of {q(sight_m, 'm')} seen. "
        "Road law decides, and a second person watches."
    )
    return Cap(0.0 if refused else cap, stop, refused, words)
