"""What the bike weighs: donor, ledger, fitted parts, rider."""

from __future__ import annotations

import math

from ninebolt.core.build import Build
from ninebolt.core.parts.goal import Goal


def moved_kg(build: Build) -> float:
    """Bike without rider: donor, less what came off, plus what went on, pack included."""
    total = build.donor.mass_kg.or_else(math.nan)
    for item in build.donor.items:
        sign = 1.0 if item.action == "added" else -1.0
        total += sign * item.mass_kg.or_else(0.0)
    return total + fitted_kg(build) + build.donor.correction_kg.or_else(0.0)


def fitted_parts(build: Build) -> tuple[tuple[str, str, float], ...]:
    """(path, label, kg) of parts whose mass the build knows: they join the ledger by themselves."""
    out = [("pack", "Pack", pack_kg(build))]
    g, d = build.guard, build.drive
    for path, label, thing in (
        ("drive.motor", "Motor", d.motor),
        ("drive.controller", "Controller", d.controller),
        ("guard.bms", "BMS", g.bms),
        ("guard.fuse", "Fuse", g.fuse),
        ("guard.isolator", "Isolator", g.isolator),
        ("guard.plug", "Main plug", g.plug),
        ("guard.cable", "Battery cable", g.cable),
        ("guard.phase_cable", "Phase leads", g.phase_cable),
        ("guard.precharge", "Precharge", g.precharge),
        ("guard.dcdc", "Step-down converter", g.dcdc),
        ("gear", "Sprockets and chain", build.gear),
    ):
        out.append((path, label, thing.mass_kg.or_else(0.0)))
    return tuple(row for row in out if row[2] > 0.0)


def fitted_unweighed(build: Build) -> tuple[tuple[str, str, bool], ...]:
    """(path, words, heavy) of parts that are described and whose mass nobody gave: they count as nothing.
    Empty where the total on the road is given."""
    if build.road.total_kg.known:
        return ()
    d, g, pack = build.drive, build.guard, build.pack
    counted = pack.series is not None and pack.parallel is not None
    rows = (
        ("pack.cell", "the pack", True, counted and pack.cell.capacity_ah.known, pack.cell.mass_kg),
        ("drive.motor", "the motor", True, d.motor.kv_rpm_v.known, d.motor.mass_kg),
        (
            "drive.controller",
            "the controller",
            True,
            d.controller.line_a.known,
            d.controller.mass_kg,
        ),
        ("guard.bms", "the BMS", False, g.bms.there is True, g.bms.mass_kg),
        ("guard.isolator", "the isolator", False, g.isolator.there is True, g.isolator.mass_kg),
        ("guard.dcdc", "the converter", False, g.dcdc.there is True, g.dcdc.mass_kg),
    )
    return tuple(
        (path, words, heavy)
        for path, words, heavy, there, kg in rows
        if there and not kg.known and not kg.absent
    )


def fitted_kg(build: Build) -> float:
    return sum(row[2] for row in fitted_parts(build))


def pack_kg(build: Build) -> float:
    """Cells and case (kg); 0 while the cells are unknown."""
    p = build.pack
    if p.series is None or p.parallel is None or p.cell.mass_kg.amount is None:
        return 0.0
    bodies = p.series * p.parallel / (p.cell.body_series * p.cell.body_parallel)
    return bodies * p.cell.mass_kg.amount + p.case_kg.taken


def rider_kg(goal: Goal) -> float:
    return goal.rider_kg.taken + goal.gear_kg.taken


def total_kg(build: Build) -> float:
    given = build.road.total_kg.amount
    return given if given is not None else moved_kg(build) + rider_kg(build.goal)
