"""May the speed of a log be believed? Against the positions beside it, against what a bike can do, and from the
motor's turns where nothing else was logged. What is not believed is said in the ride's issues."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ninebolt.core.limits import Limit
from ninebolt.core.logs.clock import usual_step
from ninebolt.core.logs.geodesy import step_lengths
from ninebolt.core.logs.ride import Floats, Ride, speed_noise
from ninebolt.errors import FormatError
from ninebolt.units import FOOT_M, KM_H_PER_M_S, KNOT_M_S, MILE_M, RPM_PER_RAD_S, S_PER_H

APART = Limit(0.08, "ratio", "speed and positions further apart than this contradict each other")
SECOND_APART = Limit(0.02, "ratio", "two columns of speed further apart than this are both named")
SPIKE_M_S2 = Limit(60.0, "m_s2", "change of speed from one sample to the next that no bike can do")
ALIKE = Limit(
    0.97, "ratio", "correlation with the positions' speed from which a column looks like speed"
)
MOVING_M_S = 3.0
SMOOTHED_S = 1.0  # positions make a speed over this long
LEAST_MOVING_S = 3.0
# Factors by which a wrong unit shows, over m/s.
MISTAKEN = {
    "km/h": KM_H_PER_M_S, "mph": S_PER_H / MILE_M, "kn": 1.0 / KNOT_M_S, "ft/s": 1.0 / FOOT_M,
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Wheel:
    """What turns rpm into road speed. ratio: motor turns to one of the wheel."""

    ratio: float
    radius_m: float
    pole_pairs: int | None


def positions_speed(ride: Ride) -> Floats | None:
    """Speed from the positions (m/s), smoothed over a second; None without positions."""
    if not {"lat_deg", "lon_deg"} <= set(ride.columns):
        return None
    t, lat, lon = (ride.columns[k] for k in ("t_s", "lat_deg", "lon_deg"))
    if len(t) < 3:
        return None
    every = max(1, int(SMOOTHED_S / 20.0 / max(usual_step(t), 1e-6)))  # no receiver is that quick
    at = np.append(np.arange(0, len(t) - 1, every), len(t) - 1)
    seen, along = t[at], np.concatenate(([0.0], np.cumsum(step_lengths(lat[at], lon[at]))))
    half = min(0.5 * SMOOTHED_S, 0.5 * (t[-1] - t[0]))
    ahead, behind = np.minimum(seen + half, t[-1]), np.maximum(seen - half, t[0])
    way = np.interp(ahead, seen, along) - np.interp(behind, seen, along)
    return np.asarray(np.interp(t, seen, way / (ahead - behind)))


def believed(ride: Ride) -> Ride:
    """The ride with a speed that can be believed, and words for what could not."""
    return ride if only_turns(ride) else _against_positions(_without_spikes(ride))


def only_turns(ride: Ride) -> bool:
    """Neither speed nor positions, so that rpm is all there is."""
    return "speed_m_s" not in ride.columns and not {"lat_deg", "lon_deg"} <= set(ride.columns)


def rolled(rpm: Floats, wheel: Wheel) -> Floats:
    """Road speed (m/s) of a motor's mechanical turns, by what is written of wheel and ratio."""
    return np.asarray(rpm / RPM_PER_RAD_S / wheel.ratio * wheel.radius_m)


def with_wheel(ride: Ride, wheel: Wheel | None) -> Ride:
    """The ride; where rpm is all there is, with the speed of the wheel that it turned. Raises FormatError where that is
    not known."""
    turns = next((k for k in ("rpm", "erpm") if k in ride.columns), None)
    if not only_turns(ride) or turns is None:
        return ride
    if wheel is None or (turns == "erpm" and not wheel.pole_pairs):
        raise FormatError(
            "This log holds rpm and no speed; the wheel that it turned is not known.",
            where=ride.name,
            got=turns,
            expected="ratio and rolling radius"
            + (" and pole pairs" if turns == "erpm" else "")
            + " of the build, or a speed column",
            todo="Fill in Gear and Drive, or say which column holds the speed.",
        )
    pairs = wheel.pole_pairs if turns == "erpm" and wheel.pole_pairs else 1
    speed = rolled(ride.columns[turns] / pairs, wheel)
    words = (
        f"speed is from the motor's {turns} through ratio {wheel.ratio:.3g} and radius "
        f"{wheel.radius_m:.3f} m: a wrong one of them, and a spinning wheel, stay in it"
    )
    columns = {**ride.columns, "speed_m_s": np.abs(speed)}
    return _without_spikes(replace(ride, columns=columns, issues=(*ride.issues, words)))


def _without_spikes(ride: Ride) -> Ride:
    """Single samples that stand out from both neighbours by more than a bike can do are drawn over."""
    if "speed_m_s" not in ride.columns or len(ride.columns["t_s"]) < 5:
        return ride
    t, v = ride.columns["t_s"], ride.columns["speed_m_s"]
    ok = np.isfinite(v)
    bad = np.zeros(len(v), dtype=bool)
    room = np.maximum(float(SPIKE_M_S2) * np.diff(t), 2.0 + 8.0 * speed_noise(v[ok]))
    between = 0.5 * (v[:-2] + v[2:])
    off = np.abs(v[1:-1] - between) > room[:-1]
    side = np.abs(v[2:] - v[:-2]) < np.abs(v[1:-1] - between)
    bad[1:-1] = off & side & ok[1:-1]
    lost = int((~ok).sum())
    issues = list(ride.issues)
    if bad.any():
        first = int(np.flatnonzero(bad)[0])
        issues.append(
            f"{int(bad.sum())} sample{'s' if bad.sum() > 1 else ''} of speed no bike can do, the first "
            f"{v[first]:.0f} m/s at {t[first]:.2f} s, left out"
        )
    if lost:
        issues.append(f"{lost} samples without a speed were drawn over")
    keep = ok & ~bad
    if keep.all() or keep.sum() < 3:
        return replace(ride, issues=tuple(issues)) if keep.all() else ride
    mended = np.interp(t, t[keep], v[keep])
    return replace(ride, columns={**ride.columns, "speed_m_s": mended}, issues=tuple(issues))


def _against_positions(ride: Ride) -> Ride:
    place = positions_speed(ride)
    if place is None or "speed_m_s" not in ride.columns:
        return ride
    t, v = ride.columns["t_s"], ride.columns["speed_m_s"]
    moving = (place > MOVING_M_S) & np.isfinite(v)
    if moving.sum() < 5 or usual_step(t) * moving.sum() < LEAST_MOVING_S:
        return ride
    share = float(v[moving].sum() / place[moving].sum())
    if abs(share - 1.0) <= APART:
        return ride
    columns = {k: x for k, x in ride.columns.items() if k != "speed_m_s"}
    return replace(ride, columns=columns, issues=(*ride.issues, _apart(share)))


def _apart(share: float) -> str:
    """In words, with the unit that would explain it."""
    said = f"the speed column reads {share:.2f} times what the positions say"
    for unit, factor in MISTAKEN.items():
        if abs(share / factor - 1.0) < APART:
            return f"{said}: {unit} under a title of m/s, it seems; it is not believed, the positions are used"
        if abs(share * factor - 1.0) < APART:
            return f"{said}: m/s under a title of {unit}, it seems; it is not believed, the positions are used"
    return f"{said}; it is not believed, the positions are used"


def second_speed(speed: Floats, title: str, factor: float, other: Floats) -> str:
    """Words where another column that holds speed parts from the one that is used; '' where both agree or it holds
    nothing. factor: its unit over m/s, 1 where its title says none."""
    ok = np.isfinite(speed) & np.isfinite(other)
    moving = ok & (speed > MOVING_M_S)
    if moving.sum() < 5 or other[moving].sum() <= 0.0:
        return ""
    share = float(other[moving].sum() * factor / speed[moving].sum())
    units = [1.0] if factor != 1.0 else [1.0, *(1.0 / f for f in MISTAKEN.values())]
    if min(abs(share * u - 1.0) for u in units) <= SECOND_APART:
        return ""
    return (
        f"another column holds speed: {title} reads {share:.2f} times the one that is used; one of them is a "
        "display's, or in another unit. The satellite's is the one to use"
    )


def looks_like_speed(ride: Ride, others: dict[str, Floats]) -> tuple[str, float] | None:
    """The column among others that goes with the positions' speed, and how many times the m/s it reads; None where none
    does."""
    place = positions_speed(ride)
    if place is None or len(place) < 8 or float(np.ptp(place)) < MOVING_M_S:
        return None
    best: tuple[float, str, float] | None = None
    for name, values in others.items():
        ok = np.isfinite(values)
        if ok.sum() < 8 or float(np.ptp(values[ok])) <= 0.0:
            continue
        r = float(np.corrcoef(values[ok], place[ok])[0, 1])
        if math.isfinite(r) and r > ALIKE and (best is None or r > best[0]):
            best = (r, name, float(values[ok].sum() / max(place[ok].sum(), 1e-9)))
    return None if best is None else (best[1], best[2])
