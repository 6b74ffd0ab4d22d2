"""A value that can be given is used: each field of each part is read by some bolt in some build.

What is only kept as a record is named here.
"""

from __future__ import annotations

import dataclasses
import math
import re
import typing
from collections.abc import Iterator
from functools import cache
from typing import Any

import pytest

from builds import changed
from ninebolt.core.bolts.assess import assess, inputs_of
from ninebolt.core.build import BOLTS, Build
from ninebolt.core.codec import fields_of
from ninebolt.core.trace import SILENT
from ninebolt.core.value import Value
from ninebolt.errors import FieldError
from ninebolt.library.demo import brakka, moss, pip

RECORDS = SILENT | {
    "FrameChange.done_on",
    "Mark",
    "Build.format_version",
    "Charger.mass_kg",  # stays at home
    "Tyre.mass_kg",  # in for the donor's own, as heavy
    "Brake.mass_kg",
    "Suspension.mass_kg",
    "Road.mass_kg",  # not offered
    "Road.price_money",
    "Prove.launch",  # which start of a log is read, before any bolt looks at it
    "BookEntry.at",  # the run book sorts and adds up by these
    "BookEntry.odometer_m",
    "BookEntry.run_s",
    "BookEntry.energy_wh",
}

MODULES = [{"name": "a", "volts_v": 8, "capacity_ah": 60, "r_ohm": 0.002}] * 2
OTHER = {
    "volts_v": 70,
    "r_ohm": 0.05,
    "capacity_ah": 20,
    "series": 20,
    "join_ohm": 10,
    "level_a": 2,
}
STAND_IN = {"series": 20, "full_v": 84, "capacity_ah": 20, "i_cont_a": 40, "plug_a": 60}
BLOCK = {"form": "prismatic", "length_m": 0.1, "width_m": 0.03, "height_m": 0.12}
PLACED = {"kind": "bms", "bay": 1, "x_m": 0, "y_m": 0, "z_m": 0, "turn": "lwh"}
CELLS = {**PLACED, "kind": "block", "cols": 2, "rows": 2, "layers": 1}
SALVAGE = {
    "name": "hub",
    "kind": "motor",
    "rated_w": 5000,
    "volts_v": 60,
    "amps_a": 90,
    "kv_rpm_v": 40,
}
FRAME = {"name": "cut", "kind": "cut", "bears_load": True, "inspected": False, "place": "cradle"}
LAW = {"region": "Tarn Vey", "checked_on": "2031-04-02", "vehicle_class": "Light moto"}

# Builds that open what the three demo builds leave shut.
PROFILE = {
    "name": "Short", "purpose": "pack", "series": 14, "parallel": 4, "bms_a": 20, "charger_v": 90, "speed_m_s": 99,
}  # fmt: skip
OPENED: list[dict[str, Any]] = [
    {"prove.book": [{"kind": "failure", "what": "cut out"}]},
    {"guard.bms.discharge": "bypassed"},
    {"guard.isolator.kind": "contactor", "guard.isolator.coil_feed": "converter"},
    {"guard.isolator.kind": "breaker"},
    {"guard.bms.altered": True},
    {"guard.charger.stacked": 2},
    {"pack.modules": MODULES, "pack.source": "vehicle_modules"},
    {"pack.other": {**OTHER, "level_a": 2}},
    {"pack.stand_in": STAND_IN},
    {
        "pack.source": "ready_made",
        **{f"pack.cell.{k}": v for k, v in {**BLOCK, "form": "ready_made"}.items()},
    },
    {f"pack.cell.{k}": v for k, v in BLOCK.items()},
    {"pack.placed": [PLACED, CELLS]},
    {"donor.salvage": [SALVAGE]},
    {"donor.frame_changes": [FRAME]},
    {"donor.legal": LAW},
    {"goal.duty": "stop_and_go", "goal.ride_s": 1800, "goal.ride_m": None},
    {"goal.duty": "hill_runs", "goal.runs": 3, "goal.hill_pct": 15, "goal.climb_m": 60},
    {
        "goal.start_on": "2031-04-01",
        "goal.deadline": "2031-04-20",
        "goal.lead_days": 30,
        "goal.work_hours": 40,
        "goal.week_hours": 10,
    },
    {"drive.motor.kind": "hub"},
    {"tune.chosen": [{"name": "line_a", "value": 100}]},
    {
        "prove.gates": [
            {"key": "cell_spread", "value": 0.01, "who": "J", "at": "2031-05-04"},
            {"key": "marks_cold", "passed": True},
        ],
        "prove.quarantine": "fell",
    },
    {"tune.profiles": [PROFILE], "tune.cap_m_s": 10},
    {
        "tune.throttle_kind": "potentiometer",
        "tune.throttle_rest_v": 0.9,
        "tune.throttle_full_v": 4.1,
    },
    {"guard.fuse.presence": "not there", "guard.isolator.kind": "breaker"},
    {
        "pack.sorted_groups": [{"capacity_ah": 50 + i / 100, "r_ohm": 0.001} for i in range(26)],
        "pack.series": 26,
        "pack.source": "salvaged_cells",
    },
    {"donor.upgrades": [{"what": "brakes", "fitted": True}]},
    {
        "drive.controller.condition": "got wet",
        "drive.controller.idle_a": 0.2,
        "drive.controller.bench_run": True,
        "drive.motor.lead_m2": 2e-5,
        "tune.regen_pct": 20,
    },
    {
        "drive.motor.kind": "hub",
        "gear.front_teeth": None,
        "gear.rear_teeth": None,
        "gear.hub": {"flat_m": 0.0098, "dropout_m": 0.006, "metal": "steel", "arms": 1},
    },
]


def leaves(cls: type, seen: frozenset[type] = frozenset()) -> Iterator[str]:
    """'Class.field' of all that holds a value, from a class downward."""
    for name, (_, hint) in fields_of(typing.cast(Any, cls)).items():
        inner = [h for h in (hint, *typing.get_args(hint)) if dataclasses.is_dataclass(h)]
        parts = [h for h in inner if h is not Value and isinstance(h, type)]
        if not parts:
            yield f"{cls.__name__}.{name}"
        for part in parts:
            if part not in seen:
                yield from leaves(part, seen | {part})


def owner(path: str) -> str:
    """'donor.bays.0.length_m' -> 'Bay.length_m'."""
    cls: Any = Build
    *steps, last = re.sub(r"\.(\d+|#)(?=\.|$)", "", path).split(".")
    for step in steps:
        hint = fields_of(cls)[step][1]
        cls = next(h for h in (hint, *typing.get_args(hint)) if dataclasses.is_dataclass(h))
    return f"{cls.__name__}.{last}"


@cache
def read_somewhere() -> frozenset[str]:
    builds = [brakka(), moss(), pip()]
    builds += [changed(b, changes) for changes in OPENED for b in builds[:3]]
    return frozenset(owner(p) for b in builds for bolt in BOLTS for p in inputs_of(b, bolt))


def is_record(field: str) -> bool:
    return bool({field, *field.split(".")} & RECORDS)


@pytest.mark.parametrize("field", sorted(set(leaves(Build))))
def test_field_is_read(field: str) -> None:
    assert is_record(field) is not (field in read_somewhere())


# A typing slip of some powers of ten must neither hang nor break anything.
SLIPS: list[tuple[str, float, str]] = [
    ("pack.cell.diameter_m", 0.0021, "pack.cell_size"),
    ("pack.cell.length_m", 0.002, ""),
    ("pack.cell.tau_s", 1e-4, ""),
    ("pack.start_soc", 0.001, ""),
    ("drive.motor.winding_j_k", 50, ""),
    ("drive.motor.case_air_k_w", 0.005, ""),
    ("drive.motor.lq_henry", 0.05, ""),
]


@pytest.mark.parametrize(("path", "amount", "key"), SLIPS, ids=[p for p, *_ in SLIPS])
def test_a_slip_is_computed_or_named(path: str, amount: float, key: str) -> None:
    a = assess(changed(brakka(), {path: amount}))
    assert all(f.value is None or math.isfinite(f.value) for b in a.bolts for f in b.figures)
    assert not key or key in {f.key for b in a.bolts for f in b.findings}


def test_a_slow_part_faster_than_the_step_is_plain_resistance() -> None:
    """With a time constant of a millisecond the cell's two resistances act as their sum."""
    quick = changed(brakka(), {"pack.cell.tau_s": 0.001})
    r0, r1 = brakka().pack.cell.r0_ohm.or_else(0.0), brakka().pack.cell.r1_ohm.taken
    summed = changed(brakka(), {"pack.cell.r0_ohm": r0 + r1, "pack.cell.r1_ohm": 1e-9})
    times = [assess(b).headline.to_time_s for b in (quick, summed)]
    assert times[0] == pytest.approx(times[1], rel=2e-3)


@pytest.mark.parametrize(
    "path", ["drive.motor.winding_case_k_w", "drive.motor.case_j_k", "pack.cell.diameter_m"]
)
def test_what_cannot_be_meant_is_refused_where_it_stands(path: str) -> None:
    with pytest.raises(FieldError, match=path):
        changed(brakka(), {path: 1e-6})
