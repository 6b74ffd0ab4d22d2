"""What another fork or shock does to rake, trail and ride height."""

from __future__ import annotations

import math
import re

import numpy as np
import pytest
from scipy.optimize import brentq

from rows.conftest import Outside

BIKE = (
    ("gear.steering", {"rake_deg": 27.0, "offset_m": 0.05, "front_radius_m": 0.34}),
    ("gear.tyre.rolling_radius_m", 0.31),
    ("road.wheelbase_m", 1.40),
    ("gear.fork.longer_m", None),
)


def stood(fork: float, drop: float) -> tuple[float, float, float]:
    """(rake, trail, wheelbase) by turning the moved axles until both wheels touch: a root search, no
    shared code."""
    rake = math.radians(27.0)
    rear = np.array([0.0, 0.31 - drop])
    front = np.array([1.40, 0.34]) + fork * np.array([math.sin(rake), -math.cos(rake)])

    def gap(turn: float) -> float:
        up = math.sin(turn) * (front - rear)[0] + math.cos(turn) * (front - rear)[1]
        return up - (0.34 - 0.31)

    turn = brentq(gap, -0.5, 0.5)
    base = math.cos(turn) * (front - rear)[0] - math.sin(turn) * (front - rear)[1]
    new = rake + turn
    return math.degrees(new), (0.34 * math.sin(new) - 0.05) / math.cos(new), base


def now(bike: Outside) -> dict[str, float]:
    return dict(bike.body["assessment"]["drawings"]["gear"]["chassis"]["standing"]["after"])


@pytest.mark.parametrize(("fork", "shock"), [(0.0, 0.0), (0.03, 0.0), (-0.02, 0.01), (0.03, 0.012)])
def test_ordinary_against_turning_the_frame(bike: Outside, fork: float, shock: float) -> None:
    bike.put(
        *BIKE, ("gear.fork.longer_m", fork), ("gear.shock", {"longer_m": shock, "leverage": 2.5})
    )
    rake, trail, base = stood(fork, 2.5 * shock)
    found = now(bike)
    assert found["rake_deg"] == pytest.approx(rake, abs=1e-6)
    assert found["trail_m"] == pytest.approx(trail, abs=1e-9)
    assert found["wheelbase_m"] == pytest.approx(base, abs=1e-9)


def test_a_matched_shock_brings_the_head_back(bike: Outside) -> None:
    bike.put(*BIKE, ("gear.fork.longer_m", 0.04))
    assert bike.says("gear.stance") == "caution" and "longer shock" in bike.words("gear.stance")
    bike.put(("gear.shock", {"longer_m": 0.014, "leverage": 2.5}))
    assert bike.says("gear.stance") == ""


def test_dangerous_little_trail_shakes_its_head(bike: Outside) -> None:
    bike.put(*BIKE, ("gear.fork.longer_m", -0.17))
    assert now(bike)["trail_m"] < 0.075 and "shakes" in bike.words("gear.stance")


def test_dangerous_hardly_any_trail_is_a_stop(bike: Outside) -> None:
    bike.put(
        *BIKE, ("gear.fork.longer_m", -0.19), ("gear.shock", {"longer_m": 0.07, "leverage": 2.5})
    )
    assert now(bike)["trail_m"] < 0.03 and bike.says("gear.stance") == "stop"


def test_unknown_rake_names_what_is_missing_and_about_how_far_the_head_moves(bike: Outside) -> None:
    bike.put(*BIKE, ("gear.steering.rake_deg", None), ("gear.fork.longer_m", 0.15))
    said = bike.words("gear.stance_open")
    assert "Measure the rake:" in said and "front wheel" not in said
    # Small angles: 150 mm along a fork at 27° lift the head by 150·cos 27° over the wheelbase.
    about = math.degrees(math.atan2(0.15 * math.cos(math.radians(27)), 1.40))
    told = re.search(r"moves by about \{\{([0-9.]+)\|deg", said)
    assert told and float(told[1]) == pytest.approx(about, rel=0.1)


def test_unknown_rake_with_another_fork_is_asked_for(bike: Outside) -> None:
    bike.put(("gear.steering", {}), ("gear.fork.longer_m", 0.03))
    assert bike.says("gear.stance_open") == "caution"


def test_not_there_the_donors_own_fork_moves_nothing(bike: Outside) -> None:
    bike.put(*BIKE)
    at = bike.body["assessment"]["drawings"]["gear"]["chassis"]["standing"]
    assert at["before"] == at["after"] and bike.says("gear.stance_open") == ""
