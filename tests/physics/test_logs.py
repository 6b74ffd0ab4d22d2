"""Ride-log analysis against rides whose truth is known."""

from __future__ import annotations

import numpy as np
import pytest
from geographiclib.geodesic import Geodesic

from ninebolt.bench.ride import ride
from ninebolt.bench.truth import hidden_truth
from ninebolt.core.bike.case import assemble
from ninebolt.core.logs.geodesy import step_lengths
from ninebolt.core.logs.ride import Ride, analyse, smooth, speed_noise, top_held
from ninebolt.core.simulate.run import Stop, run
from ninebolt.core.vehicle.splits import splits_of
from ninebolt.errors import FormatError
from ninebolt.library.demo import brakka


@pytest.mark.parametrize("latitude", [-70.0, -38.5, 0.0, 51.0])
def test_steps_agree_with_a_geodesy_library(latitude: float) -> None:
    """Within 1 mm per km of GeographicLib's exact geodesic on WGS 84."""
    lat = latitude + np.array([0.0, 0.002, 0.002, -0.003])
    lon = 179.999 + np.array([0.0, 0.003, -0.001, 0.004])
    exact = [
        Geodesic.WGS84.Inverse(lat[i], lon[i], lat[i + 1], lon[i + 1])["s12"] for i in range(3)
    ]
    assert step_lengths(lat, lon) == pytest.approx(exact, rel=1e-6)


def constant(accel: float, hz: float, noise: float, seed: int) -> Ride:
    rng = np.random.default_rng(seed)
    t = np.arange(0, 20, 1 / hz)
    v = np.clip(accel * (t - 3.03), 0, 30) + rng.normal(0, noise, len(t))
    return Ride("made", {"t_s": t, "speed_m_s": np.maximum(v, 0.0)})


def test_uniform_acceleration_splits() -> None:
    """x = a t² / 2 from the true start, which lies between two samples."""
    report = analyse(constant(4.0, 10.0, 0.0, 1))
    at = {m.split.name: m.split.time_s for m in report.splits}
    assert report.launches[0].t0_s == pytest.approx(3.03, abs=0.01)
    assert at["60 ft"] == pytest.approx((2 * 18.288 / 4) ** 0.5, abs=0.02)
    assert at["100 m"] == pytest.approx((2 * 100 / 4) ** 0.5, abs=0.02)
    assert at["0–60 km/h"] == pytest.approx(60 / 3.6 / 4, abs=0.02)


@pytest.mark.parametrize("hz", [5.0, 10.0, 25.0])
def test_stated_uncertainty_covers_the_truth(hz: float) -> None:
    """Over 60 noisy rides the stated 95 % half-width holds the truth nearly always, and is not so
    wide that it says nothing (under a tenth of a second at 10 Hz)."""
    truth, hits, widths = (2 * 100 / 4) ** 0.5, 0, []
    for seed in range(60):
        report = analyse(constant(4.0, hz, 0.08, seed))
        split = next(m for m in report.splits if m.split.name == "100 m")
        assert split.split.time_s is not None and split.u95_s is not None
        hits += abs(split.split.time_s - truth) <= split.u95_s
        widths.append(split.u95_s)
    assert hits >= 54
    assert np.mean(widths) < 1.0 / hz


def test_smoothing_does_not_shift() -> None:
    """A quadratic passes unchanged (Savitzky and Golay 1964: exact up to the fitted degree)."""
    t = np.arange(0, 5, 0.1)
    assert smooth(t, 3 * t**2 - t, 0.7) == pytest.approx(3 * t**2 - t)


def test_noise_is_measured() -> None:
    rng = np.random.default_rng(3)
    t = np.arange(0, 60, 0.1)
    assert speed_noise(10 * np.sin(t / 5) + rng.normal(0, 0.1, 600)) == pytest.approx(0.1, rel=0.15)


def test_bench_ride_is_read_back() -> None:
    """The hidden truth's own splits come out of its noisy GPS log within the stated half-width
    and the logger's period."""
    import random

    build = brakka()
    case = assemble(build).case
    assert case is not None
    s = run(hidden_truth(case, random.Random(11), []), Stop(distance_m=420)).series
    truth = {x.name: x.time_s for x in splits_of(s.t_s, s.distance_m, s.speed_m_s, s.accel_m_s2)}
    gps, controller = ride(build, 11, [])
    for log in (gps, controller):
        for m in analyse(log).splits:
            if m.split.kind == "distance" and m.split.mark < 402:
                # The ramp at the start bends the first metres: one period more than stated.
                assert m.split.time_s == pytest.approx(truth[m.split.name], abs=0.1 + m.u95_s)


def test_pack_resistance_from_volts_on_amps() -> None:
    """Least squares finds the ohms that made the volts."""
    t = np.arange(0, 20, 0.05)
    amps = 200 * np.clip(np.sin(t / 4), 0, 1)
    ride_ = Ride(
        "v on a",
        {
            "t_s": t,
            "speed_m_s": np.clip(4 * (t - 2), 0, 30),
            "line_a": amps,
            "bus_v": 105 - 0.045 * amps,
        },
    )
    assert analyse(ride_).pack_ohm == pytest.approx(0.045, rel=1e-6)


@pytest.mark.parametrize(
    ("columns", "words"),
    [
        ({"t_s": np.arange(3.0), "speed_m_s": np.arange(3.0)}, "too short"),
        ({"t_s": np.arange(30.0)}, "neither a speed nor a position"),
        ({"t_s": np.arange(30.0), "speed_m_s": np.full(30, 0.4)}, "Nothing moves"),
    ],
)
def test_logs_without_an_answer_say_why(columns: dict[str, np.ndarray], words: str) -> None:
    with pytest.raises(FormatError, match=words):
        analyse(Ride("made", columns))


@pytest.mark.parametrize("hz", [1, 5, 10, 25])
@pytest.mark.parametrize("kind", ["rising to the end", "held", "a peak"])
def test_top_speed_s_interval_covers_at_every_rate(hz: int, kind: str) -> None:
    """The best mean over a second of the true speed lies inside the interval in 90 to 100 % of 300 noisy logs, and the
    estimate is not biased by more than 0.02 m/s: the greatest of noisy samples is not believed."""
    rng = np.random.default_rng(4)
    t = np.arange(0.0, 30.0, 1.0 / hz)
    true = 30.0 * (1.0 - np.exp(-t / 5.0))
    if kind == "held":
        true = np.minimum(30.0 * (1.0 - np.exp(-t / 3.0)), 25.0)
    if kind == "a peak":
        true = 30.0 - 1.5 * np.abs(t - 15.0)
    count = max(hz, 3)
    real = float(np.convolve(true, np.ones(count) / count, "valid").max())
    covered, off = 0, 0.0
    for _ in range(300):
        y = true + rng.normal(0.0, 0.06, len(t))
        top, half = top_held(t, y, speed_noise(y))
        covered += abs(top - real) <= half
        off += (top - real) / 300
    assert covered / 300 >= 0.88
    assert abs(off) < 0.02
