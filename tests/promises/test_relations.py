"""One input is moved, and what follows from it moves the way physics says, on each demo bike.

No number of the program's own is expected here: only ratios that follow from Ohm's, Kirchhoff's and
Newton's laws by hand, and directions.
"""

from __future__ import annotations

from functools import cache
from typing import Any

import pytest

from builds import assess, changed
from ninebolt.core.bolts.assess import Assessment
from ninebolt.core.build import Build
from ninebolt.core.codec import encode
from ninebolt.library.demo import DEMOS

HAIR = 1e-6
UP, DOWN, SAME = "not lower", "not higher", 1.0

# path, factor, and for each figure its factor or its direction
RELATIONS: list[tuple[str, float, dict[str, float | str]]] = [
    (
        "pack.parallel",
        2,
        {
            "pack.capacity": 2.0,
            "pack.energy": 2.0,
            "pack.cont_a": 2.0,
            "pack.peak_a": 2.0,
            "pack.full_v": SAME,
            "pack.c_rate": 0.5,
            "pack.r": DOWN,
            "pack.sag": UP,
            "pack.usable": UP,
            "guard.short": UP,
            "guard.charge_s": UP,
        },
    ),
    (
        "pack.cell.capacity_ah",
        1.5,
        {
            "pack.capacity": 1.5,
            "pack.energy": 1.5,
            "pack.cont_a": SAME,
            "pack.r": SAME,
            "pack.density": 1.5,
            "guard.charge_s": UP,
            "headline.range_m": UP,
            "headline.to_time_s": DOWN,
        },
    ),
    (
        "pack.cell.r0_ohm",
        2,
        {
            "pack.r": UP,
            "pack.sag": DOWN,
            "pack.usable": DOWN,
            "pack.energy": SAME,
            "guard.short": DOWN,
            "headline.peak_wheel_w": DOWN,
            "headline.top_speed_m_s": DOWN,
            "headline.to_time_s": UP,
            "headline.range_m": DOWN,
        },
    ),
    (
        "pack.interconnect_ohm",
        4,
        {
            "pack.r": UP,
            "pack.sag": DOWN,
            "guard.short": DOWN,
            "headline.peak_wheel_w": DOWN,
            "headline.to_time_s": UP,
        },
    ),
    (
        "pack.cell.mass_kg",
        1.2,
        {"pack.mass": UP, "pack.density": DOWN, "donor.bike_mass": UP, "headline.to_time_s": UP},
    ),
    (
        "guard.cable.length_m",
        3,
        {
            "guard.path_ohm": UP,
            "guard.short": SAME,
            "headline.peak_wheel_w": DOWN,
            "headline.to_time_s": UP,
            "pack.r": SAME,
        },
    ),
    (
        "guard.cable.section_m2",
        0.5,
        {"guard.path_ohm": UP, "guard.short": SAME, "guard.cable_c": UP},
    ),
    ("guard.phase_cable.section_m2", 0.5, {"guard.phase_c": UP, "guard.path_ohm": SAME}),
    ("guard.precharge.r_ohm", 2, {"guard.precharge_s": 2.0, "guard.precharge_j": SAME}),
    ("drive.controller.c_bus_farad", 2, {"guard.precharge_s": 2.0, "guard.precharge_j": 2.0}),
    ("guard.charger.i_a", 0.5, {"guard.mains_a": 0.5, "guard.charge_s": UP}),
    ("guard.charger.efficiency", 0.9, {"guard.mains_a": 1 / 0.9, "guard.charge_s": SAME}),
    ("guard.isolation.known_ohm", 2, {"guard.isolation": 2.0}),
    (
        "drive.motor.kv_rpm_v",
        1.1,
        {"drive.no_load": 1.1, "drive.torque": DOWN, "gear.wheel_torque": DOWN},
    ),
    ("drive.motor.pole_pairs", 2, {"drive.erpm": UP, "drive.no_load": SAME}),
    (
        "drive.controller.line_a",
        0.7,
        {
            "guard.load": 0.7,
            "drive.line_peak": DOWN,
            "headline.peak_wheel_w": DOWN,
            "headline.top_speed_m_s": DOWN,
            "headline.to_time_s": UP,
        },
    ),
    (
        "drive.controller.phase_a",
        0.8,
        {"drive.torque": DOWN, "drive.launch": DOWN, "guard.phase_c": DOWN},
    ),
    (
        "donor.mass_kg",
        1.2,
        {
            "donor.bike_mass": UP,
            "goal.need_time": UP,
            "goal.need_hill": UP,
            "headline.to_time_s": UP,
            "headline.range_m": DOWN,
            "pack.mass": SAME,
        },
    ),
    ("goal.rider_kg", 1.3, {"donor.bike_mass": SAME, "goal.need_hill": UP, "pack.energy": SAME}),
    (
        "road.cda_m2",
        1.3,
        {
            "goal.need_top": UP,
            "goal.need_wh": UP,
            "headline.top_speed_m_s": DOWN,
            "headline.range_m": DOWN,
            "drive.no_load": SAME,
        },
    ),
    (
        "road.crr",
        1.5,
        {"goal.need_top": UP, "headline.top_speed_m_s": DOWN, "headline.range_m": DOWN},
    ),
    ("goal.ride_m", 2, {"goal.need_wh": 2.0, "goal.need_top": SAME}),
    ("goal.to_time_s", 1.5, {"goal.need_time": DOWN, "goal.need_hill": SAME}),
    ("goal.hill_pct", 1.3, {"goal.need_hill": UP, "goal.need_top": SAME}),
    ("gear.rear_teeth", 2, {"gear.ratio": 2.0, "gear.speed_1000": 0.5, "gear.wheel_torque": 2.0}),
    ("gear.front_teeth", 2, {"gear.ratio": 0.5, "gear.speed_1000": 2.0}),
    ("gear.efficiency", 0.95, {"gear.ratio": SAME, "headline.peak_wheel_w": DOWN}),
]


def figures(a: Assessment) -> dict[str, float | None]:
    """Every figure and headline value by its name."""
    out = {f"{b.bolt}.{f.key}": f.value for b in a.bolts for f in b.figures}
    if a.headline is not None:
        for name in ("peak_wheel_w", "top_speed_m_s", "to_time_s", "range_m", "mass_kg"):
            out[f"headline.{name}"] = getattr(a.headline, name)
    return out


def times(build: Build, path: str, factor: float) -> Build | None:
    """The build with the number at a path multiplied; None where it is not known there."""
    now: Any = encode(build)
    for step in path.split("."):
        now = now[step]
    if now is None or (isinstance(now, dict) and now["amount"] is None):
        return None
    if isinstance(now, dict):
        return changed(build, {path: {**now, "amount": now["amount"] * factor}})
    return changed(build, {path: round(now * factor)})


@cache
def base(name: str) -> dict[str, float | None]:
    return figures(assess(DEMOS[name]()))


@pytest.mark.parametrize("name", sorted(DEMOS))
@pytest.mark.parametrize(("path", "factor", "expected"), RELATIONS, ids=[r[0] for r in RELATIONS])
def test_what_follows_from_one_input(
    name: str, path: str, factor: float, expected: dict[str, float | str]
) -> None:
    moved = times(DEMOS[name](), path, factor)
    if moved is None:
        assert name != "brakka-96", f"{path} is not known on the bike where all is known"
        return
    before, after = base(name), figures(assess(moved))
    wrong = []
    for key, rule in expected.items():
        a, b = before.get(key), after.get(key)
        if a is None or b is None:
            continue
        room = HAIR * abs(a)
        if rule == UP:
            good = b >= a - room
        elif rule == DOWN:
            good = b <= a + room
        else:
            good = b == pytest.approx(a * float(rule), rel=1e-6)
        if not good:
            wrong.append(f"{key}: {a:g} became {b:g}, expected {rule}")
    assert not wrong, "; ".join(wrong)


def test_every_relation_is_judged_somewhere() -> None:
    """Each figure named above is a figure of some demo bike: no name here is idle."""
    known = {key for name in DEMOS for key, value in base(name).items() if value is not None}
    assert {key for _, _, expected in RELATIONS for key in expected} <= known
