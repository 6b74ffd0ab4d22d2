"""What the fault finder need not ask for: what the connected controller shows, what its parameters say, what the chosen
log holds. Each is offered with where it comes from; a person takes it, or measures."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.prove.places import places
from ninebolt.core.bolts.tune.limits import RAMP_DOWN_MOST_S
from ninebolt.core.build import Build
from ninebolt.core.setting.codes import decoded
from ninebolt.core.setting.ours import BY_NAME
from ninebolt.errors import NineBoltError
from ninebolt.formats.spoken import say
from ninebolt.services import workshop
from ninebolt.services.connection import Connection
from ninebolt.services.groups_now import STILL_A, groups_now
from ninebolt.services.house import House
from ninebolt.services.judged import meant
from ninebolt.services.settings import Source, set_from

FEW = 5  # samples that a mean wants
TWISTED_V = 1.5  # of the throttle's signal, below which nobody twists it
LET_GO_A = 20.0  # line amps from which a sudden end of them is an opening
LET_GO_S = 0.4  # within which they end
TWIST = 50.0  # per cent of twist that is still asked then
SAME = 0.03  # share that a setting may stand off and be the bike's


@dataclass(frozen=True, slots=True)
class KnownReading:
    """A reading that is there already. place, label: of the finder, '' for words alone. value: SI in that quantity,
    None with words alone."""

    place: str
    value: float | None
    source: str
    words: str
    label: str = ""
    quantity: str = "ratio"


def known(
    house: House, link: Connection, build_id: str, settings: bool
) -> tuple[KnownReading, ...]:
    """Readings at hand: what is shown and logged, or, with settings, what the controller's parameters say, which takes
    a second to read. Raises NotFoundError."""
    build = workshop.shown_build(house, build_id)
    at = places(Bike(build))
    if settings:
        found = _set(house, link, build_id, build)
    else:
        live, bms = _shown_live(link), _groups(house, link, build_id)
        found = [*live, *bms, *_logged(house, build_id, build)]
    return tuple(
        o if not o.place else replace(o, label=at[o.place].label, quantity=at[o.place].quantity)
        for o in found
        if not o.place or o.place in at
    )


def _shown_live(link: Connection) -> list[KnownReading]:
    if not link.state().connected:
        return []
    try:
        seen = link.live()
    except NineBoltError:
        return []
    out, who = [], "the controller, now"
    volts, throttle = seen.values.get("bus_v"), seen.values.get("throttle_v")
    if volts is not None and abs(seen.values.get("line_a", 0.0)) <= STILL_A:
        out.append(KnownReading("bus", volts, who, "with nothing drawn"))
    if throttle is not None:
        out.append(KnownReading("throttle_rest", throttle, who, "take it with the hand off"))
        if throttle >= TWISTED_V:
            words = "take it while it is twisted to its stop"
            out.append(KnownReading("throttle_full", throttle, who, words))
    code = decoded(int(seen.values.get("fault", 0.0)), link.there()[1].codes)
    if code.number:
        long, short = code.blinks
        out.append(
            KnownReading(
                "",
                None,
                who,
                f"It gives fault {code.number}, {code.label} ({long} long, {short} short): {'; '.join(code.causes)}.",
            )
        )
    return out


def _groups(house: House, link: Connection, build_id: str) -> list[KnownReading]:
    """What the BMS on the bus shows."""
    try:
        now = groups_now(house, link, build_id)
    except NineBoltError:
        return []
    who = "the BMS, now"
    if not now.still:
        return [KnownReading("", None, who, now.sentence)]
    return [KnownReading("group_spread", now.spread_v, who, now.sentence)]


def _set(house: House, link: Connection, build_id: str, build: Build) -> list[KnownReading]:
    """What the parameters in the controller say, against what Tune would write."""
    if not link.state().connected:
        return []
    _, kind, _ = link.there()
    try:
        here = meant(kind, set_from(house, link, build_id, Source("controller", "", ""), kind))
        want = meant(kind, set_from(house, link, build_id, Source("set", "", ""), kind))
    except NineBoltError:
        return []
    who, out = "the parameters in the controller", []

    def judge(place: str, names: tuple[str, ...], right: bool) -> None:
        words = ", ".join(
            f"{BY_NAME[n].label.lower()} {say(here[n], BY_NAME[n].quantity)}" for n in names
        )
        out.append(KnownReading(place, 1.0 if right else 0.0, who, words))

    def like(name: str) -> bool:
        return abs(here[name] - want[name]) <= SAME * abs(want[name])

    if "lvc_v" in here and "lvc_v" in want:
        judge("lvc_set", ("lvc_v",), like("lvc_v"))
    if "ramp_down_s" in here:
        judge("ramp_down_set", ("ramp_down_s",), here["ramp_down_s"] <= RAMP_DOWN_MOST_S)
    if "creep_pct" in here:
        judge("creep_set", ("creep_pct",), here["creep_pct"] <= 0.0)
    if "regen_pct" in here and "regen_pct" in want:
        judge("regen_set", ("regen_pct",), here["regen_pct"] <= want["regen_pct"] + 0.5)
    wheel = tuple(n for n in ("wheel_m", "ratio", "pole_pairs") if n in here and n in want)
    if len(wheel) == 3:
        judge("wheel_set", wheel, all(map(like, wheel)))
    return out


def _logged(house: House, build_id: str, build: Build) -> list[KnownReading]:
    """Volts with nothing drawn, and amps at which all of them ended at once, in the chosen log."""
    if not build.prove.log_id:
        return []
    try:
        ride = house.ride(build.prove.log_id)
    except NineBoltError:
        return []
    t, volts, amps, twist = (ride.columns.get(k) for k in ("t_s", "bus_v", "line_a", "throttle"))
    out, who = [], "the chosen log"
    if t is None or amps is None:
        return []
    if volts is not None:
        still = (np.abs(amps) <= STILL_A) & np.isfinite(volts)
        if np.count_nonzero(still) >= FEW:
            rest = float(np.median(volts[still]))
            out.append(KnownReading("pack_rest", rest, who, "where nothing is drawn"))
    at = _opened(t, amps, twist)
    if at is not None:
        words = f"all amps end at {t[at]:.1f} s while the twist is open"
        out.append(KnownReading("trip", float(amps[at]), who, words))
    return out


def _opened(t: np.ndarray, amps: np.ndarray, twist: np.ndarray | None) -> int | None:
    """The last sample before all amps end at once with the twist open; None where they never do, or no twist is
    known."""
    if twist is None:
        return None
    open_ = twist * (100.0 if np.max(np.nan_to_num(np.abs(twist))) <= 1.5 else 1.0) >= TWIST
    later = np.minimum(np.searchsorted(t, t + LET_GO_S), len(t) - 1)
    gone = (np.abs(amps[later]) <= STILL_A) & open_[later] & (t[later] - t >= LET_GO_S)
    falls = np.append(amps[1:] < 0.5 * amps[:-1], False)
    found = np.flatnonzero((amps >= LET_GO_A) & open_ & falls & gone)
    return int(found[0]) if len(found) else None
