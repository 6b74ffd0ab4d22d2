"""Time to speed, distance splits and trap speeds of a logged run, against closed forms."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from rows.conftest import Outside

ACCEL = 3.0  # m/s², from rest after two seconds


def log(hz: int = 10, unit: str = "km/h", factor: float = 3.6, seconds: int = 20) -> bytes:
    rows = [f"time [s],speed [{unit}]"]
    for i in range(seconds * hz):
        t = i / hz
        rows.append(f"{t:.3f},{factor * ACCEL * max(0.0, t - 2.0):.4f}")
    return ("\n".join(rows) + "\n").encode()


def rows_by_name(bike: Outside) -> dict[str, dict[str, Any]]:
    return {r["name"]: r for r in bike.body["assessment"]["drawings"]["prove"]["rows"]}


def splits(bike: Outside, data: bytes, name: str = "run.csv") -> dict[str, dict[str, Any]]:
    got = bike.client.post(f"{bike.url}/logs?bolt=prove", files={"file": (name, data)})
    assert got.status_code == 201, got.text
    bike.body = got.json()
    return rows_by_name(bike)


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


# Wind and slope of the course: taken off by the model, shown, never silent.


def ridden(bike: Outside, **road: float) -> bytes:
    """A log as the bike itself would write it on such a road: the predicted run, at 10 Hz, after two seconds."""
    bike.put(
        *(
            (f"road.{k}", {"amount": v, "origin": "measured", "tolerance": None})
            for k, v in road.items()
        )
    )
    d = bike.body["assessment"]["drawings"]["prove"]
    rows = ["time [s],speed [m/s]", *(f"{i / 10:.1f},0" for i in range(20))]
    last = d["t_s"][-1]
    grid = [i / 10 for i in range(int(10 * last))]
    rows += [f"{t + 2.0:.1f},{np.interp(t, d['t_s'], d['speed_m_s']):.4f}" for t in grid]
    bike.put(
        *((f"road.{k}", {"amount": 0.0, "origin": "measured", "tolerance": None}) for k in road)
    )
    return ("\n".join(rows) + "\n").encode()


def said(value: float) -> dict[str, Any]:
    return {"amount": value, "origin": "measured", "tolerance": None}


@pytest.mark.parametrize(("grade", "wind"), [(2.0, 0.0), (0.0, 5.0), (-2.0, 3.0)])
def test_wind_and_slope_are_taken_off_and_shown(bike: Outside, grade: float, wind: float) -> None:
    """A run made on a slope and in wind comes back to the flat within its own uncertainty."""
    data = ridden(bike, grade_pct=grade, wind_m_s=wind)
    splits(bike, data)
    bike.put(("prove.slope_pct", said(grade)), ("prove.wind_m_s", said(wind)))
    row = rows_by_name(bike)["200 m"]
    assert row["fair_s"] != pytest.approx(row["logged_s"], rel=1e-3)
    assert row["fair_s"] == pytest.approx(row["predicted_s"], abs=row["u95_s"] + 0.02)
    assert row["diff"] == pytest.approx(row["fair_s"] / row["predicted_s"] - 1.0)
    assert bike.says("prove.as_ridden") == ""


def test_dangerous_a_run_down_a_hill_is_no_proof(bike: Outside) -> None:
    data = ridden(bike, grade_pct=-3.0)
    splits(bike, data)
    assert bike.says("prove.carried") == ""  # nobody has said so yet
    bike.put(("prove.slope_pct", said(-3.0)))
    assert bike.says("prove.carried") == "caution"
    assert "both ways" in bike.words("prove.carried")
    bike.put(("prove.slope_pct", said(3.0)))  # uphill it was better than it looks
    assert bike.says("prove.carried") == ""


def test_unknown_wind_and_slope_are_said_with_what_they_cost(bike: Outside) -> None:
    splits(bike, ridden(bike, grade_pct=0.0))
    assert bike.says("prove.as_ridden") == "note"
    words = bike.words("prove.as_ridden")
    assert "1 m/s from ahead costs this bike" in words and "1 % uphill" in words
    assert all(r["fair_s"] is None for r in rows_by_name(bike).values())
    bike.put(("prove.wind_m_s", said(0.0)))
    assert "slope" in bike.words("prove.as_ridden") and "wind the log" not in bike.words(
        "prove.as_ridden"
    )


def test_without_a_log_nothing_is_said_of_its_weather(bike: Outside) -> None:
    bike.put(("prove.log_id", ""))
    assert bike.says("prove.as_ridden") == bike.says("prove.carried") == ""
