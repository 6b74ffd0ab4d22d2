"""What to read where: every gate with its point, its tool and the span that this bike must read."""

from __future__ import annotations

import pytest

from rows.conftest import Outside
from rows.I1_cold_checks import gates


def test_ordinary_each_reading_has_a_span_a_tool_and_causes(bike: Outside) -> None:
    read = [s["gate"] for s in gates(bike).values() if s["gate"]["quantity"]]
    assert len(read) >= 12
    assert all(
        g["tool"] and g["do"] and g["causes"] and (g["low"] is not None or g["high"] is not None)
        for g in read
    )


def test_spans_follow_the_build(bike: Outside) -> None:
    before = gates(bike)["polarity"]["gate"]["high"]
    bike.put(("pack.series", 20))
    assert gates(bike)["polarity"]["gate"]["high"] == pytest.approx(before * 20 / 23)


def test_dangerous_the_caution_stands_at_the_act(bike: Outside) -> None:
    g = gates(bike)
    for key in ("polarity", "drop_out", "small_fuse", "identified", "throttle_full"):
        assert g[key]["gate"]["caution"], key


def test_unknown_span_is_said_as_none(bike: Outside) -> None:
    bike.put(("pack.series", None))
    drawing = bike.client.get(bike.url, params={"bolt": "prove"}).json()["assessment"]["drawings"][
        "prove"
    ]
    assert drawing is None or all(
        s["gate"]["high"] is None for s in drawing["gates"] if s["gate"]["key"] == "polarity"
    )


def test_not_there_the_winding_s_limit_needs_no_heat_paths(bike: Outside) -> None:
    """It does not hang on what a run computes: what the winding stands is a value of the motor's own."""
    bike.put(("drive.motor.winding_j_k", None), ("drive.motor.temp_max_c", 120.0))
    assert gates(bike)["slow_ride"]["gate"]["high"] == 120.0
