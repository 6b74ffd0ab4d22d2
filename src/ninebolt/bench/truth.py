"""The hidden truth of a bench bike: the build's numbers, each a little off, plus a fault if asked.

Randomness comes from a seeded generator that the caller makes, so a ride can be ridden again.
"""

from __future__ import annotations

import dataclasses
import random

from ninebolt.core.simulate.case import LineLimit, RunCase
from ninebolt.errors import InputError

FAULTS = {
    "dragging-brake": "rolling resistance three times as high",
    "tired-pack": "cells with two and a half times their resistance",
    "low-line": "the controller holds 60 % of the line amps it was set to",
    "short-gear": "one tooth less in front than written",
}


def hidden_truth(case: RunCase, rng: random.Random, faults: list[str]) -> RunCase:
    """The bike as it really is. Raises InputError for an unknown fault."""
    for name in faults:
        if name not in FAULTS:
            raise InputError(
                "The bench bike does not know this fault.",
                where="--fault",
                got=name,
                expected=", ".join(FAULTS),
            )

    def near(x: float, spread: float) -> float:
        return x * (1.0 + spread * max(-2.0, min(2.0, rng.gauss(0.0, 0.5))))

    body = dataclasses.replace(
        case.body,
        cda_m2=near(case.body.cda_m2, 0.05),
        crr=near(case.body.crr, 0.08),
        mass_kg=near(case.body.mass_kg, 0.01),
    )
    truth = dataclasses.replace(
        case,
        body=body,
        r0_ohm=near(case.r0_ohm, 0.06),
        efficiency=near(case.efficiency, 0.01),
        path_ohm=near(case.path_ohm, 0.1),
    )
    return _faulty(truth, faults)


def _faulty(case: RunCase, faults: list[str]) -> RunCase:
    if "dragging-brake" in faults:
        case = dataclasses.replace(
            case, body=dataclasses.replace(case.body, crr=3.0 * case.body.crr)
        )
    if "tired-pack" in faults:
        case = dataclasses.replace(case, r0_ohm=2.5 * case.r0_ohm)
    if "low-line" in faults:
        limits = tuple(
            LineLimit(x.choke, 0.6 * x.amps) if x.choke == "line" else x for x in case.limits
        )
        case = dataclasses.replace(case, limits=limits)
    if "short-gear" in faults:
        case = dataclasses.replace(case, ratio=case.ratio * 13.0 / 12.0)
    return case
