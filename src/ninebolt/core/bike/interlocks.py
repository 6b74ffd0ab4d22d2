"""Safety inputs of the controller: what keeps the wheel from turning when it must not."""

from __future__ import annotations

from typing import Literal, cast, get_args

from ninebolt.core.build import Build

# What every bike has one of; others are as it is wired. Common practice, no source.
SAFETY_INPUTS = ("brake cut-off", "side stand", "tip-over")
# From the best to the worst; of an input that is written down twice the worst counts.
InputState = Literal["fitted", "open", "bypassed"]
STATES: tuple[InputState, ...] = get_args(InputState)


def input_states(build: Build) -> dict[str, InputState]:
    """Name, in lower case -> its state: those that every bike has, then what else is written down. Of which nobody
    says anything is open."""
    out: dict[str, InputState] = {}
    for row in build.wire.interlocks:
        name = " ".join(row.name.lower().split()) or "input without a name"
        state = cast(InputState, row.state)
        out[name] = max(out.get(name, STATES[0]), state, key=STATES.index)
    return {n: out.get(n, "open") for n in SAFETY_INPUTS} | out
