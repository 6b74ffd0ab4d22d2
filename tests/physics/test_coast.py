"""Coast-downs are found in logs of every rate and noise, and what is no coast-down is not taken for one."""

from __future__ import annotations

import numpy as np
import pytest

from ninebolt.core.logs.coast import find_coasts
from ninebolt.core.logs.ride import Ride


def speed(t: np.ndarray) -> np.ndarray:
    """Up to 20 m/s in 10 s, held for 5, let roll at 0.4 m/s² (40 s to 4 m/s), braked to rest, ridden on."""
    return np.interp(t, [0, 10, 15, 55, 57, 65, 75], [0, 20, 20, 4, 0, 0, 15])


@pytest.mark.parametrize("hz", [1.0, 5.0, 10.0, 25.0, 100.0])
@pytest.mark.parametrize("noise", [0.0, 0.06, 0.3])
def test_one_is_found_where_it_is(hz: float, noise: float) -> None:
    rng = np.random.default_rng(4)
    t = np.arange(0.0, 75.0, 1.0 / hz)
    v = speed(t) + rng.normal(0, noise, len(t))
    found = find_coasts(Ride("x", {"t_s": t, "speed_m_s": v}))
    assert len(found) == 1 and not found[0].seen_shut
    assert t[found[0].first] == pytest.approx(15.0, abs=4.0)
    assert t[found[0].last - 1] == pytest.approx(55.0, abs=4.0)


def test_throttle_and_amps_say_where_it_is_shut() -> None:
    """Slowing under a little throttle is none, and neither is slowing by regeneration."""
    t = np.arange(0.0, 75.0, 0.1)
    rolling = (t > 15) & (t < 55)
    columns = {"t_s": t, "speed_m_s": speed(t)}
    shut = {"throttle": np.where(rolling, 0.0, 0.5), "line_a": np.where(rolling, 0.3, 40.0)}
    found = find_coasts(Ride("x", columns | shut))
    assert len(found) == 1 and found[0].seen_shut
    for key, value in (("throttle", 0.1), ("line_a", 8.0), ("line_a", -8.0)):
        assert find_coasts(Ride("x", columns | {key: np.where(rolling, value, 40.0)})) == ()


@pytest.mark.parametrize("decel", [1.8, 3.0, 6.0])
def test_braking_is_none(decel: float) -> None:
    t = np.arange(0.0, 30.0, 0.1)
    v = np.maximum(25.0 - decel * np.maximum(t - 2.0, 0.0), 0.0)
    assert find_coasts(Ride("x", {"t_s": t, "speed_m_s": v})) == ()


def test_a_short_one_and_a_gap_are_none() -> None:
    t = np.arange(0.0, 20.0, 0.1)
    v = np.where(t < 10, 15.0, np.where(t < 13, 15.0 - 0.5 * (t - 10), 13.5))
    assert find_coasts(Ride("x", {"t_s": t, "speed_m_s": v})) == ()
    assert find_coasts(Ride("x", {"t_s": t[:5], "speed_m_s": v[:5]})) == ()
