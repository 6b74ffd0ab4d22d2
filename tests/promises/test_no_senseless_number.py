"""Builds that nobody means, and that a slip of a key makes: no sentence holds a number that means nothing."""

from __future__ import annotations

import math
import re
from typing import Any

import pytest

from rows.conftest import Outside

NUMBER = re.compile(r"\{\{([^|}]*)\|(\w+)\}\}")
GARBLED = re.compile(r"\bnan\b|\binf\b|None|-\d+(\.\d+)? times|\de\+\d\d")
EITHER_WAY = {"c", "pct", "m", "deg"}  # what may lie below nothing
# What is a difference, or what a slope does for one.
SIGNED = {"mass_change", "balance", "need_top", "need_hill", "front_move", "rear_move"}
ODD: dict[str, dict[str, Any]] = {
    "an ampere in the phases": {"drive.controller.phase_a": 1.0},
    "no more charge": {"pack.start_soc": 0.001},
    "two cells": {"pack.series": 2, "pack.parallel": 1},
    "two thousand line amps": {"drive.controller.line_a": 2000.0, "pack.parallel": 1},
    "down a wall": {"road.grade_pct": -30.0},
    "up a wall": {"road.grade_pct": 60.0},
    "sprockets of a clock": {"gear.rear_teeth": 9, "gear.front_teeth": 20},
    "a child on it": {"goal.rider_kg": 20.0, "drive.controller.fw_id_a": 300.0},
    "at walking pace": {"tune.cap_m_s": 1.0},
    "a motor that drags": {"drive.motor.drag_nm": 50.0},
}


@pytest.mark.parametrize("build", ["moss-84", "brakka-96", "pip-72"])
@pytest.mark.parametrize("name", ODD)
def test_numbers_mean_something(client: Any, build: str, name: str) -> None:
    bike = Outside(client, build)
    for path, value in ODD[name].items():
        body = {"changes": [{"path": path, "value": value}]}
        got = client.post(f"{bike.url}/changes", json=body)
        assert got.status_code in (200, 422), got.text
    for bolt in client.get(bike.url).json()["assessment"]["bolts"]:
        for f in bolt["findings"]:
            said = f"{f['title']} {f['reason']}"
            assert not GARBLED.search(said), said
            for number, quantity in NUMBER.findall(said):
                x = float(number)
                assert math.isfinite(x) and (x >= 0.0 or quantity in EITHER_WAY), said
        for f in bolt["figures"]:
            x = f["value"]
            signed = f["key"] in SIGNED or f["quantity"] in EITHER_WAY
            assert x is None or (math.isfinite(x) and (x >= 0.0 or signed)), f
