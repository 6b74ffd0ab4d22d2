"""Are two setups comparable? What had to differ, what was chosen to differ, and what could be made equal."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ninebolt.core.bike.facts import Bike
from ninebolt.core.bike.gearing import wheel_radius_m
from ninebolt.core.bike.ride import bare_performance, pack_facts
from ninebolt.core.build import Build
from ninebolt.core.finding import listed
from ninebolt.core.setting.ours import BY_NAME
from ninebolt.services.tunes import settings_of

Kind = Literal["had to", "chosen", "unknown"]
# Parameters that follow from another part: (name) -> what it follows.
FOLLOWS = {
    "lvc_v": "series", "lvc_start_v": "series", "ovc_v": "series", "regen_full_v": "series", "series": "series",
    "capacity_ah": "pack", "pole_pairs": "motor", "sensor": "motor", "temp_sensor": "motor", "motor_c": "motor",
    "motor_stop_c": "motor", "r_phase_ohm": "motor", "l_phase_henry": "motor", "kv_rpm_v": "motor",
    **{f"throttle_{x}_v": "throttle" for x in ("low", "high", "fault_low", "fault_high")},
    "hall_offset_deg": "motor", "direction": "motor", "wheel_m": "wheel",
    **{f"hall_{i}_deg": "motor" for i in range(1, 7)},
}  # fmt: skip
SAME = 2e-3
CAN_BE_EQUAL = ("line_a", "phase_a", "phase_cont_a", "regen_line_a", "fw_id_a", "speed_cap_m_s")


@dataclass(frozen=True, slots=True)
class FairRow:
    """One thing that differs. why: what it follows from, or how it is made equal. None: not known there."""

    label: str
    quantity: str
    first: float | None
    second: float | None
    kind: Kind
    why: str


@dataclass(frozen=True, slots=True)
class Fair:
    """equal: how many settings are alike; rows: what is not, what was chosen first."""

    first: str
    second: str
    equal: int
    rows: tuple[FairRow, ...]
    sentence: str


def fair(a: Build, b: Build) -> Fair:
    """Raises InputError while the parameters of one cannot be derived."""
    first, second = ({r.name: r for r in settings_of(x)} for x in (a, b))
    parts = _parts(a, b)
    rows: list[FairRow] = []
    equal = 0
    for name, row in first.items():
        other = second[name]
        if _same(row.value, other.value):
            equal += 1
            continue
        rows.append(_row(name, row.label, row.quantity, row.value, other.value, parts))
    for label, quantity, x, y, must in _bike(a, b, parts):
        if x is None or y is None:
            if (x is None) != (y is None) or must == "ask":
                words = "not written down: it may be all of the difference"
                rows.append(FairRow(label, quantity, x, y, "unknown", words))
        elif not _same(x, y):
            why = (
                "part of what is compared"
                if must == "part"
                else "make it equal, or take it off by the model"
            )
            rows.append(
                FairRow(label, quantity, x, y, "had to" if must == "part" else "chosen", why)
            )
        else:
            equal += 1
    order = {"chosen": 0, "unknown": 1, "had to": 2}
    rows.sort(key=lambda r: order[r.kind])
    return Fair(a.name, b.name, equal, tuple(rows), _said(rows))


def _same(x: float, y: float) -> bool:
    return abs(x - y) <= SAME * max(abs(x), abs(y), 1e-9)


def _parts(a: Build, b: Build) -> dict[str, bool]:
    """Which parts differ."""
    wheels = (wheel_radius_m(a), wheel_radius_m(b))
    return {
        "throttle": True,  # its sensor's own volts, as they were learned
        "series": a.pack.series != b.pack.series,
        "pack": (a.pack.series, a.pack.parallel, a.pack.cell) != (b.pack.series, b.pack.parallel, b.pack.cell),
        "motor": a.drive.motor != b.drive.motor,
        "wheel": not _same(*wheels) if all(map(math.isfinite, wheels)) else True,
    }  # fmt: skip


def _row(
    name: str, label: str, quantity: str, x: float, y: float, parts: dict[str, bool]
) -> FairRow:
    follows = FOLLOWS.get(name, "")
    if follows and parts[follows]:
        said = {"series": "cells in series", "pack": "the pack", "motor": "the motor",
                "wheel": "the wheel", "throttle": "the throttle's own sensor"}[follows]  # fmt: skip
        return FairRow(label, quantity, x, y, "had to", f"follows from {said}")
    if name in CAN_BE_EQUAL:
        return FairRow(label, quantity, x, y, "chosen", "set both to the lower one for a fair run")
    group = BY_NAME[name].group
    return FairRow(
        label,
        quantity,
        x,
        y,
        "chosen",
        f"same {group} settings on both, or it is part of the result",
    )


def _bike(
    a: Build, b: Build, parts: dict[str, bool]
) -> list[tuple[str, str, float | None, float | None, str]]:
    perf = [bare_performance(Bike(x)) for x in (a, b)]
    mass = [p.case.body.mass_kg if p else None for p in perf]
    full = [p.full_v if (p := pack_facts(Bike(x))) else None for x in (a, b)]
    return [
        ("Mass with rider", "kg", mass[0], mass[1], ""),
        ("Rider", "kg", a.goal.rider_kg.amount, b.goal.rider_kg.amount, "ask"),
        ("Drag area", "m2", a.road.cda_m2.amount, b.road.cda_m2.amount, ""),
        ("Charge at the start", "ratio", a.pack.start_soc.taken, b.pack.start_soc.taken, ""),
        ("Full volts", "v", full[0], full[1], "part" if parts["series"] else ""),
    ]  # fmt: skip


def _said(rows: list[FairRow]) -> str:
    chosen = [r.label.lower() for r in rows if r.kind == "chosen"]
    unknown = [r.label.lower() for r in rows if r.kind == "unknown"]
    if not chosen and not unknown:
        return "Fair: what differs had to."
    words = f"Not the same tune: {listed(chosen, 6)}" if chosen else "Not told yet: "
    if unknown:
        words += ("; not known: " if chosen else "") + ", ".join(unknown)
    return words + "."
