"""The build with another set in force – a file's, a reading's, the controller's own: to judge it like the build's."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bolts.tune.limits import CRAWL_M_S, FACT_OFF, NO_AMPS_A, RAMP_MOST_S
from ninebolt.core.bolts.tune.rows import IN_BUILD, recommended
from ninebolt.core.build import Build, ParamChoice
from ninebolt.core.codec import replaced_all
from ninebolt.core.drive.constants import amps_peak
from ninebolt.core.setting.ours import CURVE_POINTS, PARAMS
from ninebolt.core.value import Value

STANDS_M_S = 0.01  # a cap of nothing, for the run: it does not move
TASTE = ("units",)  # no set is wrong for having another


def in_build(build: Build, values: Mapping[str, float]) -> dict[str, Any]:
    """By path, the pieces of the build that hold what a set says of line and phase amps, weakening, cut-off, ramp,
    braking and the speed cap: what its figures are computed with."""
    basis = amps_peak(1.0, build.drive.controller.amp_basis)
    return {
        path: Value(
            _amount(name, values[name]) / (basis if name == "phase_a" else 1.0), "guess", 0.0
        )
        for name, path in IN_BUILD.items()
        if name in values
    }


def _amount(name: str, value: float) -> float:
    least = {"line_a": float(NO_AMPS_A), "phase_a": float(NO_AMPS_A), "speed_cap_m_s": STANDS_M_S}
    return max(value, least.get(name, -math.inf))


def judged_names(build: Build) -> frozenset[str]:
    """The parameters that this build has a say on."""
    return frozenset(r[0] for r in recommended(Bike(build)))


def worn(build: Build, values: Mapping[str, float]) -> Build:
    """values: parameter to its physical value. What is near enough to a fact of the build is taken as that fact."""
    made = {r[0]: r for r in recommended(Bike(build))}
    curve = [values.get(f"curve_{i}_pct") for i in range(1, CURVE_POINTS + 1)]
    points = tuple(
        (i / (CURVE_POINTS - 1), y / 100.0) for i, y in enumerate(curve) if y is not None
    )
    whole = len(points) == CURVE_POINTS
    kept = tuple(
        ParamChoice(p.name, values[p.name])
        for p in PARAMS
        if p.name in values
        and p.name not in TASTE
        and not (whole and p.group == "throttle" and p.name.startswith("curve_"))
        and not _near(made.get(p.name), values[p.name])
    )
    tune = replace(build.tune, chosen=kept, throttle=points if whole else build.tune.throttle)
    return replaced_all(replace(build, tune=tune), in_build(build, values))


def _near(made: tuple[str, float, str, str] | None, value: float) -> bool:
    """A fact that differs by no more than measuring it twice does; a cap that no brake or tyre asks for; taste."""
    if made is None:
        return False
    name, right, why, bound = made
    if name == "speed_cap_m_s":
        return value >= CRAWL_M_S and (value <= right or not why.startswith("brakes and tyres"))
    if name.startswith(
        "mode_"
    ):  # how fast and how soft is the rider's, within what moves and follows the hand
        if name.endswith("_m_s"):
            return value >= CRAWL_M_S
        return name.endswith("_ramp_s") and value <= RAMP_MOST_S
    slack = FACT_OFF.get(name)
    return bound == "" and slack is not None and abs(value - right) <= slack * abs(right)
