"""The bench bike rides: a GPS sees it at 10 Hz, the controller logs at 20 Hz, both with noise."""

from __future__ import annotations

import random
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import numpy as np

from ninebolt.bench.truth import hidden_truth
from ninebolt.core.bike.case import assemble
from ninebolt.core.build import Build
from ninebolt.core.logs.geodesy import WGS84_A_M
from ninebolt.core.logs.ride import Floats, Ride
from ninebolt.core.simulate.run import Run, State, Stop, run
from ninebolt.errors import InputError
from ninebolt.formats.gpx import write_gpx
from ninebolt.formats.ride_csv import write_ride
from ninebolt.units import GRAVITY_M_S2, RPM_PER_RAD_S

GPS_HZ = 10.0
GPS_NOISE_M_S = 0.06
POSITION_NOISE_M = 0.4
CONTROLLER_HZ = 20.0
STANDING_S = 3.0
HELD_S = 2.0
LONGEST_COAST_S = 120.0
HOME = (-38.5, -31.2)  # open sea, where the invented island of Tarn Vey would lie
START = datetime(2031, 5, 4, 9, 30, tzinfo=UTC)


def _columns(done: Run, hz: float, until: float) -> dict[str, Floats]:
    """The run on an even clock: at rest, the run, then rolling out without throttle."""
    s = done.series
    t = np.arange(0.0, until, 1.0 / hz)
    own = t - STANDING_S
    end = s.t_s[-1]
    rolling = own > end
    ebb = np.exp(-np.maximum(own - end, 0.0) / 6.0)

    def at(column: list[float], before: float) -> Floats:
        return np.interp(own, s.t_s, column, left=before)

    return {
        "t_s": t,
        "speed_m_s": at(s.speed_m_s, 0.0) * ebb,
        "distance_m": at(s.distance_m, 0.0),
        "bus_v": np.where(rolling, s.bus_v[0], at(s.bus_v, s.bus_v[0])),
        "line_a": np.where(rolling | (own < 0), 0.4, at(s.line_a, 0.0)),
        "phase_a": np.where(rolling | (own < 0), 0.0, at(s.iq_a, 0.0)),
        "motor_c": at(s.winding_c, s.winding_c[0]),
    }


def ride(build: Build, seed: int, faults: list[str]) -> tuple[Ride, Ride]:
    """(GPS log, controller log) of one standing quarter mile. Raises InputError if the build does
    not compute."""
    made = assemble(build)
    if made.case is None:
        raise InputError(
            "The bench bike needs a build that computes.", got="missing " + ", ".join(made.missing)
        )
    rng = random.Random(seed)
    noise = np.random.default_rng(seed)
    done = run(hidden_truth(made.case, rng, faults), Stop(distance_m=420.0, seconds=60.0))
    until = STANDING_S + done.series.t_s[-1] + 6.0
    return _gps(build, done, until, noise), _controller(build, done, until, noise)


def _gps(build: Build, done: Run, until: float, noise: np.random.Generator) -> Ride:
    c = _columns(done, GPS_HZ, until)
    n = len(c["t_s"])
    speed = np.maximum(c["speed_m_s"] + noise.normal(0.0, GPS_NOISE_M_S, n), 0.0)
    drift = np.cumsum(noise.normal(0.0, POSITION_NOISE_M / 20.0, n))
    north = (c["distance_m"] + drift) / WGS84_A_M
    return Ride(
        f"{build.name} GPS (simulated)",
        {
            "t_s": c["t_s"],
            "lat_deg": HOME[0] + np.degrees(north),
            "lon_deg": np.full(n, HOME[1]),
            "speed_m_s": speed,
        },
    )


def _controller(build: Build, done: Run, until: float, noise: np.random.Generator) -> Ride:
    c = _columns(done, CONTROLLER_HZ, until)
    n = len(c["t_s"])
    spread = {"speed_m_s": 0.03, "bus_v": 0.12, "line_a": 0.8, "phase_a": 2.0, "motor_c": 0.3}
    columns = {"t_s": c["t_s"]}
    columns |= {k: c[k] + noise.normal(0.0, s, n) for k, s in spread.items()}
    columns["speed_m_s"] = np.maximum(columns["speed_m_s"], 0.0)
    turns = done.case.ratio / done.case.radius_m * RPM_PER_RAD_S
    columns["rpm"] = np.maximum(c["speed_m_s"] * turns + noise.normal(0.0, 4.0, n), 0.0)
    columns["throttle"] = (c["phase_a"] > 0.0).astype(np.float64)
    return Ride(f"{build.name} controller (simulated)", columns)


def coast_down(
    build: Build,
    seed: int,
    faults: list[str],
    from_m_s: float,
    wind_m_s: float,
    dragging_n: float = 0.0,
) -> Ride:
    """A controller's log of the bench bike let roll from a speed, throttle shut after two seconds of holding it.
    dragging_n: a brake that drags. Raises InputError if the build does not compute."""
    made = assemble(build)
    if made.case is None:
        raise InputError(
            "The bench bike needs a build that computes.", got="missing " + ", ".join(made.missing)
        )
    truth = hidden_truth(made.case, random.Random(seed), faults)
    noise = np.random.default_rng(seed + (wind_m_s > 0.0))
    body = replace(truth.body, wind_m_s=wind_m_s)
    body = replace(body, crr=body.crr + dragging_n / (body.mass_kg * GRAVITY_M_S2))
    rolling = replace(truth, body=body, throttle=0.0)
    first = State(from_m_s, 0.0, truth.start_soc, 0.0, truth.start_temp_c, truth.start_temp_c)
    s = run(rolling, Stop(seconds=LONGEST_COAST_S), start=first).series
    end = next((t for t, v in zip(s.t_s, s.speed_m_s, strict=True) if v < 1.5), s.t_s[-1])
    t = np.arange(0.0, HELD_S + end, 1.0 / CONTROLLER_HZ)
    own, n = t - HELD_S, len(t)
    shut = own > 0.0
    held = np.where(shut, 0.4, 15.0)
    return Ride(
        f"{build.name} coast-down (simulated)",
        {
            "t_s": t,
            "speed_m_s": np.maximum(
                np.interp(own, s.t_s, s.speed_m_s, left=from_m_s) + noise.normal(0, 0.05, n), 0.0
            ),
            "bus_v": s.bus_v[0] - held * truth.pack_ohm + noise.normal(0, 0.12, n),
            "line_a": held + noise.normal(0, 0.8, n),
            "throttle": np.where(shut, 0.0, 0.3),
        },
    )


def coast_files(
    build: Build, folder: Path, seed: int, faults: list[str], from_m_s: float
) -> list[Path]:
    """Let it roll there and back in one wind and write both logs; returns their paths."""
    wind = random.Random(seed + 1).gauss(0.0, 1.0)
    folder.mkdir(parents=True, exist_ok=True)
    stem = "-".join([build.name.lower().replace(" ", "-"), *faults, f"s{seed}"])
    out = []
    for way, blows in (("there", wind), ("back", -wind)):
        path = folder / f"{stem}-coast-{way}.csv"
        path.write_bytes(write_ride(coast_down(build, seed, faults, from_m_s, blows)))
        out.append(path)
    return out


def ride_files(build: Build, folder: Path, seed: int, faults: list[str]) -> list[Path]:
    """Ride once and write GPS CSV, GPX and controller CSV; returns their paths."""
    gps, controller = ride(build, seed, faults)
    folder.mkdir(parents=True, exist_ok=True)
    stem = "-".join([build.name.lower().replace(" ", "-"), *faults, f"s{seed}"])
    out = []
    for name, data in (
        (f"{stem}-gps.csv", write_ride(gps)),
        (f"{stem}-gps.gpx", write_gpx(gps, START)),
        (f"{stem}-controller.csv", write_ride(controller)),
    ):
        path = folder / name
        path.write_bytes(data)
        out.append(path)
    return out
