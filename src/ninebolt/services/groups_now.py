"""The groups of the pack as its BMS shows them on the bus, beside the controller."""

from __future__ import annotations

import time
from dataclasses import dataclass

from ninebolt.core.bolts.donor.limits import SPREAD_V
from ninebolt.core.bolts.pack.groups import volts_say
from ninebolt.core.setting.ours import BMS_PRODUCT, GROUP_V, NODE_BMS, VENDOR, bms_dictionary
from ninebolt.errors import ConflictError, InputError, LinkError
from ninebolt.link.port import Port
from ninebolt.link.routines import groups
from ninebolt.services import workshop
from ninebolt.services.connection import Connection
from ninebolt.services.house import House

QUIET_S = 30.0  # that nobody is asked again
STILL_A = 2.0  # amps up to which nothing is drawn


@dataclass(frozen=True, slots=True)
class GroupsNow:
    """low, high: numbers of the groups, from 1. still: nothing was drawn, so that the spread is the cells' own. sound:
    closed, and not known to lie further apart than a sound pack's."""

    volts: tuple[float, ...]
    low: int
    high: int
    spread_v: float
    amps: float
    still: bool
    sound: bool
    state: str
    sentence: str


def groups_now(house: House, link: Connection, build_id: str) -> GroupsNow:
    """Raises ConflictError where no BMS that is known answers, InputError where the build's series count is unknown or
    is not that of the BMS."""
    pack = workshop.shown_build(house, build_id).pack
    series = pack.series
    if series is None:
        raise InputError(
            "How many groups there are is not known.",
            where="pack.series",
            todo="Say it under Pack.",
        )
    port = link.there()[0].beside(NODE_BMS, bms_dictionary(series))
    if link.quiet.get(NODE_BMS, 0.0) > time.monotonic():
        raise _nobody("no answer just now")
    try:
        who = port.identity()
    except LinkError as error:
        link.quiet[NODE_BMS] = time.monotonic() + QUIET_S  # each try waits for an answer
        raise _nobody(error.what) from error
    if who.kind != (VENDOR, BMS_PRODUCT):
        raise _nobody(f"maker {who.vendor}, product {who.product}")
    try:
        seen = groups(port, series)
    except LinkError as error:
        raise _other(f"fewer: {error.what}", series) from error
    if _has(port, series + 1):
        raise _other("more", series)
    low, high = min(seen.volts), max(seen.volts)
    at, top = seen.volts.index(low) + 1, seen.volts.index(high) + 1
    still = abs(seen.amps) <= STILL_A
    wrong = volts_say(pack, at, low, top, high, still)
    sound = seen.state == "closed" and not wrong and (not still or high - low <= SPREAD_V)
    words = f"Group {at} is lowest, {low:.3f} V, {1000 * (high - low):.0f} mV under group {top}"
    if seen.state != "closed":
        words = f"The BMS is {seen.state}. {words}"
    if wrong:
        words += f" {'at rest' if still else f'at {seen.amps:.0f} A'}. {wrong}"
    elif not still:
        words += f" at {seen.amps:.0f} A: part of it is resistance."
    elif high - low > SPREAD_V:
        words += f" at rest; a sound pack stays within {1000 * float(SPREAD_V):.0f} mV."
    else:
        words += " at rest: as of a sound pack."
    return GroupsNow(seen.volts, at, top, high - low, seen.amps, still, sound, seen.state, words)


def _has(port: Port, group: int) -> bool:
    try:
        port.read_bytes((GROUP_V, group))
    except LinkError:
        return False
    return True


def _other(got: str, series: int) -> InputError:
    return InputError(
        "The BMS has not as many groups as the build.", where="pack.series", got=got,
        expected=f"{series} groups", todo="Is this the pack that the build has?",
    )  # fmt: skip


def _nobody(got: str) -> ConflictError:
    return ConflictError(
        "No BMS that is known here answers on this bus.", got=got,
        todo="Read the groups with the BMS's own app or a meter; they go in under Pack.",
    )  # fmt: skip
