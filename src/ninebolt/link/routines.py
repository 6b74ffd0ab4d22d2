"""What a running controller shows, and its identification."""

from __future__ import annotations

import time
from collections.abc import Generator
from dataclasses import dataclass

from ninebolt.core.setting.objects import Address
from ninebolt.core.setting.ours import (
    BMS_A,
    BMS_STATE,
    BMS_STATES,
    GROUP_V,
    IDENTIFY,
    IDENTIFY_GO,
    IDENTIFY_STOP,
    STEPS,
)
from ninebolt.core.setting.sets import Profile
from ninebolt.errors import ConflictError, InputError, LinkError
from ninebolt.link.port import Port

LONGEST_S = 40.0


@dataclass(frozen=True, slots=True)
class Sample:
    """One look: physical values by name; those that the controller does not have are left out."""

    values: dict[str, float]


@dataclass(frozen=True, slots=True)
class Identified:
    """Where an identification run stands; values when it is done."""

    step: str
    values: dict[str, float]


class BrokenOff(LinkError):
    """The controller ended its routine before it was done: nothing turns any more. abort: its fault code."""


def sample(port: Port, profile: Profile) -> Sample:
    """What cannot be read is left out. Raises LinkError where the device falls silent."""
    out = {}
    for name, place in profile.shows.items():
        try:
            value = port.read(place.at)
        except LinkError as error:
            if error.silent:
                raise
            continue
        if isinstance(value, int | float):
            out[name] = round(value * place.scale + place.offset, 6)
    return Sample(out)


def identify(port: Port, profile: Profile, pause_s: float = 0.2) -> Generator[Identified]:
    """Start the controller's own identification and follow it; to close it is to stop it. Raises
    BrokenOff with the wheel on the ground, a hand on the throttle, a sensor that is dead, or where it was stopped by
    another hand; LinkError where it cannot be followed or stopped; ConflictError where its routine is not known, since
    the same numbers written elsewhere would be something else."""
    if not profile.identify:
        raise ConflictError(
            "How this kind of controller identifies a motor is not known here; nothing was started.",
            got=profile.name,
            todo="Use its own way, wheel free, hand on the disconnect; enter resistance, inductance, KV and the halls "
            "under Motor as measured.",
        )
    port.write(IDENTIFY["start"], IDENTIFY_GO)
    ended = False
    try:
        end = time.monotonic() + LONGEST_S
        while time.monotonic() < end:
            name = _step(port)
            ended = name in ENDED
            if ended and name != "done":
                raise _broken_off(name, sample(port, profile).values.get("fault", 0))
            yield Identified(name, _results(port) if ended else {})
            if ended:
                return
            time.sleep(pause_s)
    finally:
        if not ended:
            stop(port)
    raise InputError(
        "The identification does not come to an end: it was stopped.",
        got=f"{LONGEST_S:.0f} s",
        todo="Switch off.",
    )


def stop(port: Port) -> None:
    """End a routine that runs. Raises LinkError where it cannot be seen to have ended."""
    port.write(IDENTIFY["start"], IDENTIFY_STOP)
    step = _step(port)
    if step not in (STEPS[0], *ENDED):
        raise LinkError("The controller goes on identifying its motor.", got=step)


ENDED = ("done", "broken off", "stopped")


def _step(port: Port) -> str:
    step = port.read(IDENTIFY["step"])
    return STEPS[int(step)] if isinstance(step, int) and 0 <= step < len(STEPS) else str(step)


def _broken_off(step: str, fault: float) -> BrokenOff:
    if step == "stopped":
        return BrokenOff(
            "The identification was stopped.", todo="Start it again when all is clear."
        )
    return BrokenOff(
        "The identification broke off.", got=f"fault code {fault:.0f}", abort=int(fault),
        todo="Wheel free, hand off the throttle, all three halls wired; then start it again.",
    )  # fmt: skip


def _results(port: Port) -> dict[str, float]:
    out = {}
    for name, at in IDENTIFY.items():
        if name not in ("start", "step"):
            value = port.read(at)
            if isinstance(value, int | float):
                out[name] = float(value)
    return out


@dataclass(frozen=True, slots=True)
class Groups:
    """What a BMS shows: volts of each group in order, amps, state in words."""

    volts: tuple[float, ...]
    amps: float
    state: str


def groups(port: Port, series: int) -> Groups:
    """port: of the BMS, not of the controller. Raises LinkError."""

    def number(at: Address) -> float:
        value = port.read(at)
        return float(value) if isinstance(value, int | float) else 0.0

    volts = tuple(number((GROUP_V, i)) * 0.001 for i in range(1, series + 1))
    state = int(number(BMS_STATE))
    words = BMS_STATES[state] if 0 <= state < len(BMS_STATES) else f"state {state}"
    return Groups(volts, number(BMS_A) * 0.1, words)
