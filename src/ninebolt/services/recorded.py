"""What the live link showed, as a ride log."""

from __future__ import annotations

import numpy as np

from ninebolt.core.logs.ride import Ride
from ninebolt.errors import InputError
from ninebolt.formats.ride_csv import write_ride
from ninebolt.services.link_shown import LiveSample

COLUMNS = ("speed_m_s", "bus_v", "line_a", "phase_a", "motor_c")


def as_log(samples: list[LiveSample]) -> tuple[str, bytes]:
    """(name, CSV). Raises InputError where nothing was recorded."""
    if len(samples) < 10:
        raise InputError(
            "Nothing was recorded.",
            got=f"{len(samples)} looks",
            todo="Record a ride first: standing, the run, rolling out.",
        )
    t = np.array([s.t_s for s in samples])
    columns = {"t_s": t - t[0]}
    for name in COLUMNS:
        if all(name in s.values for s in samples):
            columns[name] = np.array([s.values[name] for s in samples])
    if all("throttle_pct" in s.values for s in samples):
        columns["throttle"] = np.array([s.values["throttle_pct"] / 100.0 for s in samples])
    return "live.csv", write_ride(Ride("live link", columns))
