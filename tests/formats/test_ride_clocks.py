"""One ride under many clocks: each is read as the same seconds, column-wise and row by row. The stamps are written by
the standard library's own formatter."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from ninebolt.errors import FormatError
from ninebolt.formats.ride_csv import read_ride, sniff_ride

T = np.round(np.arange(0, 20, 0.1), 1)
BEGAN = datetime(2026, 5, 1, 23, 59, 50, tzinfo=UTC)  # it goes over midnight
EPOCH = BEGAN.timestamp()


def stamped(form: str) -> Callable[[float], str]:
    return lambda t: (BEGAN + timedelta(seconds=float(t))).strftime(form)


CLOCKS: dict[str, tuple[str, Callable[[float], str]]] = {
    "seconds": ("time", lambda t: f"{t:.1f}"),
    "seconds since 1970": ("time", lambda t: f"{EPOCH + t:.1f}"),
    "milliseconds since 1970": ("timestamp", lambda t: f"{(EPOCH + t) * 1e3:.0f}"),
    "microseconds since 1970": ("timestamp", lambda t: f"{(EPOCH + t) * 1e6:.0f}"),
    "nanoseconds since 1970": ("timestamp", lambda t: f"{round((EPOCH + t) * 1e3)}000000"),
    "called by its unit": ("millis", lambda t: f"{t * 1e3:.0f}"),
    "a unit in the title": ("time [ms]", lambda t: f"{t * 1e3:.0f}"),
    "time of day": ("time", stamped("%H:%M:%S.%f")),
    "ISO": ("time", lambda t: (BEGAN + timedelta(seconds=float(t))).isoformat("T", "milliseconds")),
    "minutes and seconds": ("time", lambda t: f"{int(t + 50) // 60}:{(t + 50) % 60:04.1f}"),
    "day first": ("date time", stamped("%d.%m.%Y %H:%M:%S.%f")),
    "month first, halves of the day": ("date time", stamped("%m/%d/%Y %I:%M:%S.%f %p")),
    "year first": ("date time", stamped("%Y/%m/%d %H:%M:%S.%f")),
}


def table(title: str, times: list[str], quoted: bool = False) -> bytes:
    rows = [f"{a},{3.6 * min(3 * t, 28):.3f}" for a, t in zip(times, T, strict=True)]
    if quoted:  # a quote takes the reader of single rows
        rows = [f'"{r.split(",")[0]}",{r.split(",")[1]}' for r in rows]
    return "\n".join([f"{title},speed [km/h]", *rows]).encode()


@pytest.mark.parametrize("quoted", [False, True], ids=["columns", "rows"])
@pytest.mark.parametrize("clock", CLOCKS)
def test_a_clock_is_read_as_seconds(clock: str, quoted: bool) -> None:
    title, write = CLOCKS[clock]
    ride = read_ride(table(title, [write(t) for t in T], quoted), "log.csv")
    assert ride.columns["t_s"] == pytest.approx(T, abs=2e-3)
    assert ride.columns["speed_m_s"] == pytest.approx(np.minimum(3 * T, 28), abs=1e-3)


def test_what_was_taken_for_the_unit_is_shown_before_it_is_read() -> None:
    title, write = CLOCKS["milliseconds since 1970"]
    seen = sniff_ride(table(title, [write(t) for t in T]), "log.csv")
    assert next(c.unit for c in seen.mapping if c.name == "t_s") == "ms"


@pytest.mark.parametrize("each", [100, 10])
def test_dangerous_a_bare_number_that_may_be_two_units_is_asked_about(each: int) -> None:
    """Tenths of a second as ms, or as hundredths: a guess would be wrong by ten, in silence."""
    with pytest.raises(FormatError, match="Say the unit of the time column"):
        read_ride(table("time", [str(i * each) for i in range(len(T))]), "log.csv")


def test_unknown_a_date_that_is_none() -> None:
    times = [stamped("%d.%m.%Y %H:%M:%S.%f")(t) for t in T]
    with pytest.raises(FormatError, match=r"line 6.*not a time"):
        read_ride(table("time", [*times[:4], "yesterday at noon", *times[5:]]), "log.csv")


def test_not_there_a_clock_that_is_set_back_is_named() -> None:
    times = [stamped("%d.%m.%Y %H:%M:%S.%f")(t) for t in [*T[:100], *(T[100:] - 6)]]
    with pytest.raises(FormatError, match="backwards"):
        read_ride(table("time", times), "log.csv")


# Titles: a unit in brackets, after an underscore, or as the last word; names in some languages.
TITLES = {
    "Time(s),Speed(km/h)": 3.6,
    "Time (sec),Speed km/h": 3.6,
    'time,"Speed, km/h"': 3.6,
    "Elapsed Time (s),Velocity (m/s)": 1.0,
    "GPS Time,GPS_Speed (km/hr)": 3.6,
    "Session time,speed mph": 2.23694,
    "ts,gps_speed_mph": 2.23694,
    "Zeit [s],Geschwindigkeit [km/h]": 3.6,
    "Temps (s),Vitesse (km/h)": 3.6,
    "time,SOG (kn)": 1.94384,
}


@pytest.mark.parametrize("head", TITLES)
def test_a_title_says_what_its_column_is(head: str) -> None:
    rows = [f"{t:.1f},{TITLES[head] * min(3 * t, 28):.4f}" for t in T]
    ride = read_ride("\n".join([head, *rows]).encode(), "log.csv")
    assert ride.columns["speed_m_s"] == pytest.approx(np.minimum(3 * T, 28), abs=2e-3)
    assert ride.columns["t_s"] == pytest.approx(T) and ride.issues == ()


def test_dangerous_a_last_word_that_is_no_unit_of_it_makes_no_column() -> None:
    """'Motor V' is no temperature, 'speed limit' no speed."""
    head = "time [s],speed [m/s],Motor V,speed limit"
    rows = [f"{t:.1f},{min(3 * t, 28):.3f},80,25" for t in T]
    ride = read_ride("\n".join([head, *rows]).encode(), "log.csv")
    assert "motor_c" not in ride.columns
    assert ride.columns["speed_m_s"].max() == pytest.approx(28, abs=0.01)
