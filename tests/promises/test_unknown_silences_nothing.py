"""What is unknown in one place silences no danger in another: a pack of unknown amp hours is no less live."""

from __future__ import annotations

import itertools
import math
import re
from typing import Any

import pytest

from builds import assess, changed
from ninebolt.core.build import Build
from ninebolt.library.demo import DEMOS, brakka

# What the run does not compute without; whoever builds often has one of these open for weeks.
OPEN = (
    "pack.cell.capacity_ah",
    "pack.parallel",
    "pack.cell.r0_ohm",
    "drive.motor.kv_rpm_v",
    "gear.front_teeth",
)
# Dangers that hang on volts, ratings and readings alone, and the change that brings each.
DANGERS: tuple[tuple[str, dict[str, Any]], ...] = (
    ("drive.ceiling", {"drive.controller.v_max_v": 90.0}),
    ("drive.lvc_high", {"drive.controller.lvc_v": 112.0}),
    ("guard.no_fuse", {"guard.fuse.presence": "not there"}),
    ("guard.fuse_dc", {"guard.fuse.dc_v": 58.0}),
    ("guard.isolator_v", {"guard.isolator.dc_v": 48.0}),
    ("guard.plug_v", {"guard.plug.dc_v": 60.0}),
    ("guard.plug_burnt", {"guard.plug.condition": "melted"}),
    ("guard.charger_v", {"guard.charger.out_v": 120.0}),
    ("guard.dcdc_v", {"guard.dcdc.in_max_v": 72.0}),
    ("guard.bms_series", {"guard.bms.series": 20}),
    ("guard.cold", {"guard.charger.coldest_c": -5.0}),
    ("guard.no_precharge", {"guard.precharge.presence": "not there"}),
    ("guard.isolation", {"guard.isolation.loaded_v": 58.0}),
    ("pack.overfull", {"pack.rested_v": 112.0}),
    ("pack.group_dead", {"pack.group_v": [[1, 1.2]]}),
    ("pack.taps", {"pack.tap_v": [[0, 0.0], [1, 3.7], [2, 11.1], [3, 7.4]]}),
    ("gear.no_brake.front", {"gear.front_brake.presence": "not there"}),
    ("gear.tyre", {"gear.tyre.speed_symbol": "B"}),
    ("gear.top_mode", {"gear.tyre.speed_symbol": "B"}),
    ("goal.deadline", {"goal.deadline": "2031-05-01"}),
)


def said(build: Build) -> dict[str, str]:
    return {f.key: f.severity for b in assess(build).bolts for f in b.findings}


@pytest.mark.parametrize(("key", "change"), DANGERS, ids=[k for k, _ in DANGERS])
def test_a_danger_is_said_whatever_else_is_open(key: str, change: dict[str, Any]) -> None:
    whole = said(changed(brakka(), change))
    assert key in whole
    for path in OPEN:
        left = said(changed(brakka(), {**change, path: None}))
        assert left.get(key) == whole[key], path


def test_what_is_judged_at_a_wished_speed_says_so() -> None:
    """A bike that does not compute has no top speed: its brakes are judged at the one that is wished."""
    open_ = assess(changed(brakka(), {"pack.parallel": None, "gear.front_brake.rotor_kg": 0.15}))
    words = {f.key: f"{f.title} {f.reason}" for b in open_.bolts for f in b.findings}
    assert "from the wished speed" in words["gear.brake_heat.front"]
    assert (
        "is not known" in words["goal.time_open"] and "not reached" not in words["goal.time_open"]
    )


def test_a_mass_that_nobody_knows_hides_no_date() -> None:
    late = {"goal.deadline": "2031-05-01", "donor.mass_kg": None}
    assert said(changed(brakka(), late))["goal.deadline"] == "caution"


@pytest.mark.parametrize("name", sorted(DEMOS))
def test_unknown_is_never_a_number(name: str) -> None:
    """No nan and no inf in a sentence, a figure or a term, whichever two of the cell's values are open."""
    for pair in itertools.combinations(
        (*OPEN[:3], "pack.cell.i_cont_a", "pack.cell.i_charge_a"), 2
    ):
        made = assess(changed(DEMOS[name](), dict.fromkeys(pair)))
        for bolt in made.bolts:
            for f in bolt.findings:
                assert not re.search(r"\b(nan|inf)\b", f.title + f.reason), (pair, f.key, f.reason)
                assert not any(x is not None and math.isnan(x) for x in (f.measured, f.limit)), (
                    f.key
                )
            for g in bolt.figures:
                values = [g.value, *(t.value for t in g.terms)]
                assert all(v is None or math.isfinite(v) for v in values), (pair, bolt.bolt, g.key)
