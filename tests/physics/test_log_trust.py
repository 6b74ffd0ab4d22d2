"""How far a log may be believed: coverage of the stated intervals against closed forms, speeds against positions."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from ninebolt.core.logs.places import track_of
from ninebolt.core.logs.ride import Ride, analyse
from ninebolt.core.logs.trust import Wheel, believed, looks_like_speed, with_wheel
from ninebolt.errors import FormatError
from ninebolt.units import RPM_PER_RAD_S
from rides import Truth, by_positions, by_speed

MARKS = {"60 ft": 18.288, "1/8 mile": 201.168, "1/4 mile": 402.336}


def coverage(kind: str, hz: float, seeds: range) -> tuple[dict[str, float], float]:
    """(share of runs whose interval holds the true split, mean half-width of the 60 ft)."""
    inside: dict[str, list[bool]] = {k: [] for k in MARKS}
    wide = []
    for seed in seeds:
        rng = np.random.default_rng(1000 + seed)
        truth = Truth(5.0, rng.uniform(22, 40), rng.uniform(3.5, 8.0))
        ride = (by_positions if kind == "positions" else by_speed)(hz, seed, truth, 34.0)
        for m in analyse(ride).splits:
            if m.split.name in MARKS and m.split.time_s is not None:
                assert m.u95_s is not None
                error = m.split.time_s - truth.time_to(MARKS[m.split.name])
                inside[m.split.name].append(abs(error) <= m.u95_s)
                wide += [m.u95_s] if m.split.name == "60 ft" else []
    return {k: float(np.mean(v)) for k, v in inside.items()}, float(np.mean(wide))


@pytest.mark.parametrize(
    ("kind", "hz", "widest"),
    [("speed", 1, 0.4), ("speed", 5, 0.1), ("speed", 10, 0.06), ("speed", 25, 0.04),
     ("positions", 1, 0.5), ("positions", 5, 0.4), ("positions", 10, 0.4), ("positions", 25, 0.4)],
)  # fmt: skip
def test_the_stated_interval_holds_the_true_split(kind: str, hz: float, widest: float) -> None:
    """Near 95 % of runs of many bikes, for speeds and for positions, at 1 to 25 Hz; and not by being wide."""
    shares, wide = coverage(kind, hz, range(60))
    assert min(shares.values()) >= 0.9, shares
    assert wide < widest


def test_a_slow_roll_on_is_not_read_as_a_late_start() -> None:
    """v = 1.5 s² for two seconds, then even: the start is where it began to move."""
    t = np.arange(0.0, 20.0, 0.04)
    s = np.maximum(t - 4.0, 0.0)
    v = np.where(s < 2.0, 1.5 * s**2, 6.0 + 4.0 * (s - 2.0))
    launch = analyse(Ride("roll", {"t_s": t, "speed_m_s": v})).launches[0]
    assert abs(launch.t0_s - 4.0) <= launch.u95_s + 0.1


def test_at_rest_the_noise_of_positions_is_no_way() -> None:
    """A minute at rest at 25 Hz: neighbours' steps add up to hundreds of metres; the track says it stands."""
    ride = by_positions(25.0, 3, Truth(t0_s=60.0), 70.0)
    c = ride.columns
    still = c["t_s"] < 55.0
    track = track_of(c["t_s"], c["lat_deg"], c["lon_deg"])
    assert float(np.median(track.speed[still])) < 0.3


def both(scale: float) -> Ride:
    truth = Truth()
    ride = by_positions(10.0, 5, truth)
    speed = truth.speed(ride.columns["t_s"]) * scale
    return replace(ride, columns={**ride.columns, "speed_m_s": speed})


def test_speed_and_positions_that_agree_are_believed() -> None:
    seen = believed(both(1.0))
    assert "speed_m_s" in seen.columns and seen.issues == ()


@pytest.mark.parametrize(
    ("scale", "words"),
    [(3.6, "km/h under a title of m/s"), (1 / 3.6, "m/s under a title of km/h"),
     (1 / 0.44704, "mph under a title of m/s"), (1.3, "1.30 times what the positions say")],
)  # fmt: skip
def test_dangerous_a_speed_that_contradicts_the_positions_is_named(
    scale: float, words: str
) -> None:
    """Factors of NIST SP 811. The splits are then those of the positions."""
    seen = believed(both(scale))
    assert words in " ".join(seen.issues) and "not believed" in " ".join(seen.issues)
    top = analyse(seen).top_speed_m_s
    assert top == pytest.approx(Truth().speed(np.array([28.0]))[0], rel=0.03)


def test_dangerous_a_single_sample_of_200_m_s_is_no_top_speed() -> None:
    ride = by_speed(10.0, 2, Truth())
    wild = ride.columns["speed_m_s"].copy()
    wild[150] = 200.0
    seen = believed(replace(ride, columns={**ride.columns, "speed_m_s": wild}))
    assert "1 sample of speed no bike can do, the first 200 m/s" in seen.issues[0]
    assert analyse(seen).top_speed_m_s < 30.0


def test_rpm_becomes_speed_through_wheel_and_ratio() -> None:
    """n = v i / r (definition of the ratio), electrical turns with the pole pairs."""
    truth = Truth()
    t = np.arange(0.0, 25.0, 0.02)
    rpm = truth.speed(t) / 0.3 * 8.0 * RPM_PER_RAD_S
    for name, pairs in (("rpm", 1), ("erpm", 5)):
        ride = Ride("turns", {"t_s": t, name: rpm * pairs})
        seen = with_wheel(ride, Wheel(8.0, 0.3, 5))
        assert seen.columns["speed_m_s"] == pytest.approx(truth.speed(t))
        assert "ratio 8" in seen.issues[0]


def test_unknown_a_wheel_that_is_not_known_is_asked_for() -> None:
    t = np.arange(0.0, 5.0, 0.1)
    with pytest.raises(FormatError, match="wheel that it turned is not known"):
        with_wheel(Ride("turns", {"t_s": t, "rpm": t * 10}), None)
    with pytest.raises(FormatError, match="pole pairs"):
        with_wheel(Ride("turns", {"t_s": t, "erpm": t * 10}), Wheel(8.0, 0.3, None))


def test_a_column_that_goes_with_the_positions_is_seen() -> None:
    ride = by_positions(10.0, 8, Truth())
    t = ride.columns["t_s"]
    rng = np.random.default_rng(1)
    others = {"pressure": rng.normal(1000, 1, len(t)), "w7": Truth().speed(t) * 3.6}
    found = looks_like_speed(ride, others)
    assert found is not None and found[0] == "w7" and found[1] == pytest.approx(3.6, rel=0.05)
    assert looks_like_speed(ride, {"pressure": others["pressure"]}) is None
