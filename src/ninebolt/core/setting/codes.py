"""Fault codes of our own controller: what they mean, causes in order, what to measure; and which of them a routine is
expected to give."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Code:
    """blinks: (long, short) flashes of its light; beeps are the same in the same order. during: what people do when
    it is expected and means nothing by itself. measure: places of the meter, by key."""

    number: int
    label: str
    blinks: tuple[int, int]
    causes: tuple[str, ...]
    measure: tuple[str, ...]
    during: tuple[str, ...] = ()


CODES: dict[int, Code] = {
    c.number: c
    for c in (
        Code(0, "none", (0, 0), (), ()),
        Code(
            2,
            "volts too low",
            (1, 2),
            (
                "the pack is empty",
                "one weak group",
                "a plug or joint of high resistance",
                "the cut-off is set for another pack",
            ),
            ("pack_rest", "weakest_load", "plug_drop"),
        ),
        Code(
            3,
            "throttle out of range",
            (1, 3),
            (
                "a throttle wire is off or shorted",
                "its fault limits do not fit its readings",
                "the throttle is not plugged in",
            ),
            ("throttle_rest", "throttle_full"),
            ("identification with the throttle unplugged",),
        ),
        Code(
            4,
            "volts too high",
            (1, 4),
            (
                "motor braking on a full pack",
                "the charger is on",
                "the limit is set for another pack",
            ),
            ("pack_rest",),
        ),
        Code(
            5,
            "hall signal wrong",
            (2, 1),
            ("a hall wire is off", "water in the plug", "a hall is dead"),
            ("hall_1", "hall_2", "hall_3"),
        ),
        Code(
            6,
            "not at rest when it must be",
            (2, 2),
            (
                "the throttle was open at switch-on",
                "the wheel was on the ground or turned",
                "the throttle's rest is learned too low",
            ),
            ("throttle_rest",),
            ("switching on with the twist open",),
        ),
        Code(
            7,
            "motor too hot",
            (2, 3),
            (
                "long at high amps",
                "its cooling is blocked",
                "the brake drags",
                "the sensor is of another kind",
            ),
            ("case_rise", "push"),
        ),
        Code(
            8,
            "phase amps too high",
            (2, 4),
            ("two phases touch", "a wrong rotor angle", "the trip is set under the peak amps"),
            ("phase_ohm", "phase_order"),
        ),
        Code(
            9,
            "stalled",
            (3, 1),
            ("the wheel is held", "the brake is stuck", "the rotor angle is wrong"),
            ("push", "hall_sequence"),
        ),
        Code(
            10,
            "rotor order does not fit",
            (3, 2),
            ("halls in another order", "two phase leads swapped", "pole pairs set wrong"),
            ("hall_sequence", "phase_order"),
            ("the first turn of an identification",),
        ),
    )
}


def decoded(number: int, table: Mapping[int, Code] = CODES) -> Code:
    """A code that nobody described is said to be one."""
    return table.get(number) or Code(number, f"code {number}, not in this controller's table", (0, 0), (
        "look it up in the papers of this controller",
    ), ())  # fmt: skip


def expected(code: Code, doing: str) -> bool:
    """Whether a code belongs to what is being done, and is no fault by itself."""
    return any(doing and doing in d for d in code.during)
