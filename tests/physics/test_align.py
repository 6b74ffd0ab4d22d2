"""Two logs on one clock: by how much one was begun later is known by construction; one ride is told from two."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ninebolt.bench.ride import ride
from ninebolt.core.logs.align import aligned, one_ride
from ninebolt.core.logs.ride import Ride
from ninebolt.errors import FormatError
from ninebolt.library.demo import moss

LOGS = ride(moss(), 11, [])


def begun_later(log: Ride, rows: int, lag: float) -> Ride:
    """The same log, begun so many rows later, on a clock that shows so much more."""
    columns = {k: y[rows:] + (lag if k == "t_s" else 0.0) for k, y in log.columns.items()}
    return Ride("later", columns)


@settings(max_examples=60, deadline=None)
@given(rows=st.integers(0, 250), lag=st.floats(-40.0, 40.0), cut_first=st.booleans())
def test_a_log_begun_later_comes_onto_the_clock(rows: int, lag: float, cut_first: bool) -> None:
    """Volts sag as the power comes: a second off, they would accuse the wrong link. A logger that was started late must
    not be drawn to where the two cover each other most."""
    gps, controller = LOGS
    later = begun_later(controller, rows, lag)
    if cut_first:
        gps = begun_later(gps, 35, 0.0)
    joined = aligned(gps, later)
    t, volts = joined.columns["t_s"], joined.columns["bus_v"]
    own = controller.columns
    truth = np.interp(t, own["t_s"], own["bus_v"])
    ok = np.isfinite(volts)
    assert ok.sum() > 100
    late = [
        float(np.mean((np.interp(t[ok] + d, own["t_s"], own["bus_v"]) - volts[ok]) ** 2))
        for d in (-0.2, 0.0, 0.2)
    ]
    assert late[1] == min(late)
    assert float(np.sqrt(np.mean((volts[ok] - truth[ok]) ** 2))) < 0.5


@pytest.mark.parametrize("rows", [0, 20, 40])
@pytest.mark.parametrize("lag", [0.0, 3.7, -2.21])
def test_a_copy_is_known_at_any_clock_and_rounding(lag: float, rows: int) -> None:
    log = LOGS[0]
    other = begun_later(log, rows, lag)
    other.columns["speed_m_s"] = np.round(other.columns["speed_m_s"], 3)
    assert one_ride(log, other) == one_ride(other, log) == "the same"


def test_another_circumference_is_no_other_ride() -> None:
    log, other = LOGS
    scaled = Ride(
        "x", {"t_s": other.columns["t_s"], "speed_m_s": other.columns["speed_m_s"] * 1.06}
    )
    assert one_ride(log, scaled) == "perhaps"


def test_two_bikes_of_one_kind_are_two_rides() -> None:
    assert one_ride(LOGS[0], ride(moss(), 12, [])[0]) == "no"


def test_a_short_log_says_nothing_and_is_not_joined() -> None:
    short = Ride("x", {k: y[:5] for k, y in LOGS[0].columns.items()})
    assert one_ride(LOGS[0], short) == one_ride(short, LOGS[0]) == "no"
    with pytest.raises(FormatError, match="too short"):
        aligned(LOGS[0], short)


def test_what_rides_otherwise_is_not_joined() -> None:
    t = np.arange(0.0, 60.0, 0.1)
    waves = Ride("x", {"t_s": t, "speed_m_s": 10.0 + 5.0 * np.sin(t)})
    with pytest.raises(FormatError, match="not one ride"):
        aligned(LOGS[0], waves)
