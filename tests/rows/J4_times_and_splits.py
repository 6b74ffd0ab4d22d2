"""Time to speed, distance splits and trap speeds of a logged run, against closed forms."""

from __future__ import annotations

from typing import Any

import pytest

from rows.conftest import Outside

ACCEL = 3.0  # m/s², from rest after two seconds


def log(hz: int = 10, unit: str = "km/h", factor: float = 3.6, seconds: int = 20) -> bytes:
    rows = [f"time [s],speed [{unit}]"]
    for i in range(seconds * hz):
        t = i / hz
        rows.append(f"{t:.3f},{factor * ACCEL * max(0.0, t - 2.0):.4f}")
    return ("\n".join(rows) + "\n").encode()


def splits(bike: Outside, data: bytes, name: str = "run.csv") -> dict[str, dict[str, Any]]:
    got = bike.client.post(f"{bike.url}/logs?bolt=prove", files={"file": (name, data)})
    assert got.status_code == 201, got.text
    return {r["name"]: r for r in got.json()["assessment"]["drawings"]["prove"]["rows"]}


@pytest.mark.parametrize("hz", [5, 10, 25])
def test_ordinary_times_are_those_of_even_acceleration(bike: Outside, hz: int) -> None:
    """v = a t, x = a t²/2: 0-100 km/h in 9.26 s, 100 m in 8.16 s, within the stated half-width and a sample."""
    rows = splits(bike, log(hz))
    for name, real in (
        ("0–100 km/h", 100 / 3.6 / ACCEL),
        ("100 m", (2 * 100 / ACCEL) ** 0.5),
        ("200 m", (2 * 200 / ACCEL) ** 0.5),
    ):
        assert rows[name]["logged_s"] == pytest.approx(real, abs=rows[name]["u95_s"] + 0.6 / hz), (
            name
        )


def test_trap_speed_is_the_speed_at_the_mark(bike: Outside) -> None:
    rows = splits(bike, log(25))
    assert rows["200 m"]["trap_logged_m_s"] == pytest.approx((2 * ACCEL * 200) ** 0.5, rel=0.03)


def test_dangerous_a_unit_that_cannot_be_is_not_believed(bike: Outside) -> None:
    """The header says m/s over km/h: it is said, or refused, never taken in silence."""
    got = bike.client.post(
        f"{bike.url}/logs?bolt=prove", files={"file": ("x.csv", log(10, "m/s", 3.6, 40))}
    )
    if got.status_code == 201:
        words = str(got.json()["assessment"]["bolts"][8]["findings"])
        assert "part" in words or "apart" in words or "prediction" in words
    else:
        assert got.json()["message"]


def test_unknown_mark_is_not_reached_and_has_no_time(bike: Outside) -> None:
    assert splits(bike, log(10, seconds=8))["1/4 mile"]["logged_s"] is None


def test_not_there_no_standing_start(bike: Outside) -> None:
    rows = "time [s],speed [km/h]\n" + "".join(f"{i / 10:.1f},50\n" for i in range(200))
    got = bike.client.post(f"{bike.url}/logs", files={"file": ("x.csv", rows.encode())})
    assert got.status_code == 422 and "standing start" in got.json()["message"]
