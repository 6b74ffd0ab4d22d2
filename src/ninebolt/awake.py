"""A clock for what happens outside: it goes on while the machine sleeps, and nobody sets it."""

from __future__ import annotations

import time


def seconds() -> float:
    """Seconds since some moment, a sleep of the machine included where the system counts it (Linux: CLOCK_BOOTTIME;
    elsewhere the monotonic clock does, but on macOS)."""
    if hasattr(time, "CLOCK_BOOTTIME"):
        return time.clock_gettime(time.CLOCK_BOOTTIME)
    return time.monotonic()
