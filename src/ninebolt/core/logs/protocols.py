"""How setups are ridden against each other: what each protocol measures, which way is better, what is held alike."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ninebolt.core.words import q
from ninebolt.errors import InputError

Quantity = Literal["s", "m_s", "m"]


@dataclass(frozen=True, slots=True)
class Measure:
    """What a run's value is. more: whether more of it is better."""

    quantity: Quantity
    more: bool

    def said(self, value: float, sign: str = "") -> str:
        """A value inside a sentence; sign: '+' writes one."""
        if self.quantity == "s":
            return f"{value:{sign}.3g} s"
        return (sign if value > 0 else "") + q(value, self.quantity)


@dataclass(frozen=True, slots=True)
class Protocol:
    """A way of riding a comparison. rule: what it asks for beside what is held alike in all. pulls: whether the motor
    does, so that charge helps."""

    name: str
    quantity: Quantity
    more: bool
    rule: str
    pulls: bool = True


EVERY = (
    Protocol(
        "between marks", "s", False, "Marks measured with a tape, the clock started by the first."
    ),
    Protocol(
        "drag splits",
        "s",
        False,
        "From rest, front wheel on the line; rollout said or not for all alike.",
    ),
    Protocol(
        "top speed, flat, both ways",
        "m_s",
        True,
        "Each way within ten minutes; a trial is the mean of both.",
    ),
    Protocol(
        "top speed, downhill",
        "m_s",
        True,
        "Downhill is its own class: never mixed with flat runs.",
    ),
    Protocol("roll-on", "s", False, "From the same speed held for three seconds, then full twist."),
    Protocol("hill", "s", False, "The same hill, same start, dry."),
    Protocol(
        "coast-down",
        "s",
        True,
        "Chain off or motor free, between the same two speeds, both ways: the longer it rolls, the less holds it.",
        pulls=False,
    ),
    Protocol(
        "range loop",
        "m",
        True,
        "The same loop, riders change bikes halfway, stop at the same volts a cell; a trial is the way ridden until "
        "then.",
    ),
)
PROTOCOLS = tuple(p.name for p in EVERY)
SPEEDS = tuple(p.name for p in EVERY if p.quantity == "m_s")
ALIKE = (
    "Same rider, same gear, same tyre pressure; masses made equal by ballast.",
    "Charge back to the same volts before each block, or the same wait after each run; write volts at start and end.",
    "Motor and controller at the same temperature within 5 K at each start.",
    "Write air, wind and slope with each run; a run that was disturbed is discarded with its reason, not forgotten.",
)
_BY_NAME = {p.name: p for p in EVERY}


def protocol(name: str) -> Protocol:
    """By its name. Raises InputError."""
    found = _BY_NAME.get(name)
    if found is None:
        raise InputError("This is no protocol.", got=name[:40], expected=", ".join(PROTOCOLS))
    return found


def measure(name: str, kept: str = "") -> Measure:
    """What the values of a protocol are. kept: what they were kept as, where they may be older than the protocol is now
    (range loops were once kept by their seconds). Raises InputError."""
    own = protocol(name)
    old = kept == "s" and own.quantity == "m"
    return Measure("s" if old else own.quantity, own.more)


def rules(name: str) -> tuple[str, ...]:
    """What is held alike in a protocol. Raises InputError."""
    return (*ALIKE, protocol(name).rule)
