"""Safety inputs of the controller: what keeps the wheel from turning when it must not."""

from __future__ import annotations

from ninebolt.core.build import Build

# What every bike has one of; others are as it is wired. Common practice, no source.
SAFETY_INPUTS = ("brake cut-off", "side stand", "tip-over")
# From the best to the worst; of an input that is written down twice the worst counts.
STATES = ("fitted", "open", "bypassed")


def input_states(build: Build) -> dict[str, str]:
    """Name, in lower case -> its state: those that every bike has, then what else is written down. Of which nobody
    says anything is open."""
    out: dict[str, str] = {}
    for row in build.wire.interlocks:
        name = " ".join(row.name.lower().split()) or "input without a name"
        out[name] = max(out.get(name, STATES[0]), row.state, key=STATES.index)
    return {n: out.get(n, "open") for n in SAFETY_INPUTS} | out
