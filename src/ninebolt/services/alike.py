"""Making builds alike where a comparison asks for it: rider, ride, conditions, pack energy, controller, mass."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from ninebolt.core.bike.cells import facts_of
from ninebolt.core.bike.mass import moved_kg, rider_kg, total_kg
from ninebolt.core.build import Build
from ninebolt.core.codec import replaced
from ninebolt.core.finding import q
from ninebolt.core.trace import leaf_at
from ninebolt.core.value import Value

SAME = 1e-3
COPIED = {
    "rider": ("goal.rider_kg", "goal.gear_kg"),
    "ride": ("goal.to_speed_m_s", "goal.cruise_m_s", "goal.use", "goal.duty", "goal.ride_m"),
    "conditions": (
        "pack.start_soc", "pack.temp_c", "road.grade_pct", "road.wind_m_s", "road.air_kg_m3",
        "drive.motor.start_c",
    ),
    "controller": ("drive.controller",),
}  # fmt: skip
KEYS = (*COPIED, "energy", "mass")
LABELS = {
    "rider": "Rider and gear",
    "ride": "What is ridden",
    "conditions": "Charge, temperatures, slope, wind",
    "energy": "Energy of the pack",
    "controller": "Controller",
    "mass": "Ridden mass",
}


@dataclass(frozen=True, slots=True)
class Made:
    """What was made equal, in words, one a build that was changed."""

    key: str
    label: str
    words: tuple[str, ...]


def alike(builds: Sequence[Build], keys: Sequence[str]) -> tuple[list[Build], tuple[Made, ...]]:
    """The builds with the asked things made like the first one's. Unknown keys are left out."""
    made, said = list(builds), []
    for key in (k for k in KEYS if k in keys):
        act: Callable[[list[Build]], tuple[list[Build], list[str]]] = {
            "energy": _energy,
            "mass": _mass,
        }.get(key) or _copier(COPIED.get(key, ()))
        made, words = act(made)
        said.append(Made(key, LABELS[key], tuple(words)))
    return made, tuple(said)


def _copier(paths: Sequence[str]) -> Callable[[list[Build]], tuple[list[Build], list[str]]]:
    def act(builds: list[Build]) -> tuple[list[Build], list[str]]:
        out, words = [builds[0]], []
        for b in builds[1:]:
            moved = False
            for path in paths:
                want: Any = leaf_at(builds[0], path)
                if leaf_at(b, path) != want:
                    b, moved = replaced(b, path, want), True
            out.append(b)
            words += [f"{b.name}: as {builds[0].name}"] if moved else []
        return out, words

    return act


def _energy(builds: list[Build]) -> tuple[list[Build], list[str]]:
    """The same watt-hours: as if so many more or fewer cells stood in parallel, with their amps and ohms."""
    first = facts_of(builds[0].pack)
    out, words = [builds[0]], []
    for b in builds[1:]:
        facts = facts_of(b.pack)
        if first is None or facts is None or not first.energy_wh > 0 or not facts.energy_wh > 0:
            out.append(b)
            words.append(f"{b.name}: not known, left as it is")
            continue
        share = first.energy_wh / facts.energy_wh
        if abs(share - 1.0) > SAME:
            b = replaced(b, "pack.sorted_groups", ())
            for name, factor in (("capacity_ah", share), ("r0_ohm", 1 / share), ("r1_ohm", 1 / share),
                                 ("i_cont_a", share), ("i_peak_a", share), ("i_charge_a", share)):  # fmt: skip
                b = _scaled(b, f"pack.cell.{name}", factor)
            count = (b.pack.parallel or 1) * share
            words.append(f"{b.name}: as if {count:.1f} in parallel, {q(first.energy_wh, 'wh')}")
        out.append(b)
    return out, words


def _scaled(build: Build, path: str, factor: float) -> Build:
    old = leaf_at(build, path)
    if not isinstance(old, Value) or old.amount is None:
        return build
    return replaced(build, path, Value(old.amount * factor, old.origin, old.tolerance))


def _mass(builds: list[Build]) -> tuple[list[Build], list[str]]:
    """Ballast on the lighter ones."""
    kg = [total_kg(b) for b in builds]
    most = max((x for x in kg if not math.isnan(x)), default=math.nan)
    out, words = [], []
    for b, x in zip(builds, kg, strict=True):
        if math.isnan(x) or most - x <= SAME * most:
            out.append(b)
            continue
        own = moved_kg(b) + rider_kg(b.goal)
        out.append(replaced(b, "road.total_kg", Value(most, "guess", 0.0)))
        words.append(f"{b.name}: {q(most - (own if math.isnan(x) else x), 'kg')} of ballast")
    return out, words
