"""What a running controller shows, and its identification."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import dataclass

from ninebolt.core.setting.objects import Address
from ninebolt.core.setting.ours import (
    BMS_A,
    BMS_STATE,
    BMS_STATES,
    GROUP_V,
    IDENTIFY,
    IDENTIFY_GO,
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


def identify(port: Port, profile: Profile, pause_s: float = 0.2) -> Iterator[Identified]:
    """Start the controller's own identification and follow it. Raises LinkError where it breaks off: with the wheel
    on the ground, a hand on the throttle, or a sensor that is dead; ConflictError where its routine is not known, since
    the same numbers written elsewhere would be something else."""
    if not profile.identify:
        raise ConflictError(
            "How this kind of controller identifies a motor is not known here; nothing was started.",
            got=profile.name,
            todo="Use its own way, wheel free, hand on the disconnect; enter resistance, inductance, KV and the halls "
            "under Motor as measured.",
        )
    port.write(IDENTIFY["start"], IDENTIFY_GO)
    end = time.monotonic() + LONGEST_S
    while time.monotonic() < end:
        step = port.read(IDENTIFY["step"])
        name = STEPS[int(step)] if isinstance(step, int) and 0 <= step < len(STEPS) else str(step)
        if name == "broken off":
            fault = sample(port, profile).values.get("fault", 0)
            raise LinkError(
                "The identification broke off.", got=f"fault code {fault:.0f}", abort=int(fault),
                todo="Wheel free, hand off the throttle, all three halls wired; then start it again.",
            )  # fmt: skip
        if name == "done":
            yield Identified(name, _results(port))
            return
        yield Identified(name, {})
        time.sleep(pause_s)
    raise InputError(
        "The identification does not come to an end.", got=f"{LONGEST_S:.0f} s", todo="Switch off."
    )


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
