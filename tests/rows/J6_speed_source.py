"""Which speed to believe: the display's against the satellite's, the error and the circumference that cures it."""

from __future__ import annotations

import json
import math
from typing import Any

import numpy as np
import pytest

from rides import Truth, by_positions
from rows.conftest import Outside
from rows.H10_display import shown


def test_ordinary_display_against_satellite(bike: Outside) -> None:
    found = shown(bike, shown_m_s=25.0, true_m_s=24.0)
    assert (
        found["share"] == pytest.approx(1 / 24) and "more than the true speed" in found["sentence"]
    )


def test_the_circumference_that_makes_it_right(bike: Outside) -> None:
    found = shown(bike, shown_m_s=25.0, true_m_s=24.0, wheel_m=2.0)
    assert found["wheel_m"] == pytest.approx(1.92)


def test_dangerous_a_display_that_shows_less_hides_speed(bike: Outside) -> None:
    assert "faster than it says" in shown(bike, shown_m_s=18.0, true_m_s=20.0)["sentence"]


def test_unknown_at_walking_pace_it_is_not_told(bike: Outside) -> None:
    got = bike.client.get(f"{bike.url}/settings/display", params={"shown_m_s": 1, "true_m_s": 1})
    assert got.status_code == 422 and "Too slow" in got.json()["message"]


def test_not_there_within_half_a_percent_it_is_right(bike: Outside) -> None:
    assert "within half a percent" in shown(bike, shown_m_s=20.05, true_m_s=20.0)["sentence"]


def log_of(columns: dict[str, list[float]]) -> bytes:
    rows = zip(*columns.values(), strict=True)
    body = "\n".join(",".join("" if math.isnan(x) else f"{x:.9g}" for x in r) for r in rows)
    return f"{','.join(columns)}\n{body}\n".encode()


def ride(scale: float, title: str) -> dict[str, list[float]]:
    """Positions and a speed column of this title, its numbers so many times the m/s."""
    truth = Truth()
    c = by_positions(10.0, 4, truth).columns
    speed = truth.speed(c["t_s"]) * scale
    return {"time [s]": c["t_s"].tolist(), "latitude": c["lat_deg"].tolist(),
            "longitude": c["lon_deg"].tolist(), title: speed.tolist()}  # fmt: skip


def preview(bike: Outside, data: bytes, **form: str) -> dict[str, Any]:
    files = {"file": ("ride.csv", data)}
    got = bike.client.post(f"{bike.url}/logs/preview", files=files, data=form)
    assert got.status_code == 200, got.text
    return dict(got.json())


def test_ordinary_speed_and_positions_agree(bike: Outside) -> None:
    seen = preview(bike, log_of(ride(3.6, "speed [km/h]")))
    assert seen["error"] == "" and seen["report"]["issues"] == []
    assert seen["report"]["quality"] in ("good", "fair")


def test_dangerous_a_title_of_m_s_over_km_h_is_not_believed(bike: Outside) -> None:
    """It would have read 390 km/h, and the ride as the quickest of all."""
    seen = preview(bike, log_of(ride(3.6, "speed [m/s]")))
    said = " ".join(seen["report"]["issues"])
    assert "km/h under a title of m/s" in said and "positions are used" in said
    assert seen["report"]["top_speed_m_s"] < 32.0


def test_dangerous_a_speed_under_an_unknown_title_is_asked_about(bike: Outside) -> None:
    """Not passed over for the positions; told which column, and by what factor."""
    data = log_of(ride(3.6, "w7"))
    seen = preview(bike, data)
    assert seen["report"] is None and "w7" in seen["error"] and "km/h, it seems" in seen["error"]
    files = {"file": ("ride.csv", data)}
    assert bike.client.post(f"{bike.url}/logs", files=files).status_code == 422
    told = [{"name": "t_s", "column": "time [s]", "unit": "s"},
            {"name": "speed_m_s", "column": "w7", "unit": "km/h"}]  # fmt: skip
    assert preview(bike, data, mapping=json.dumps(told))["report"]["issues"] == []


def test_unknown_a_unit_that_is_none_is_asked_about(bike: Outside) -> None:
    seen = preview(bike, log_of(ride(3.6, "speed [furlongs]")))
    assert seen["report"] is None and "unit of the speed is not known" in seen["error"]
    plain = preview(bike, log_of(ride(1.0, "speed")))
    assert "no unit" in " ".join(plain["report"]["issues"])


def test_not_there_a_log_of_rpm_alone_takes_the_builds_wheel(bike: Outside) -> None:
    truth = Truth()
    t = np.arange(0.0, 25.0, 0.05)
    ratio = bike.figure("gear", "ratio")
    assert ratio is not None
    rpm = truth.speed(t) / bike.radius * ratio * 60 / (2 * math.pi)
    data = log_of({"time [s]": t.tolist(), "rpm": rpm.tolist()})
    seen = preview(bike, data)
    assert seen["report"]["top_speed_m_s"] == pytest.approx(truth.speed(t).max(), rel=0.01)
    assert "motor's rpm through ratio" in " ".join(seen["report"]["issues"])
    bike.put(("gear.front_teeth", None), ("gear.ratio", None))
    assert "wheel that it turned is not known" in preview(bike, data)["error"]


def test_a_gap_in_one_column_costs_that_column(bike: Outside) -> None:
    """Words and blanks among the volts; the speed and its splits stay, and it is said."""
    truth = Truth()
    t = np.arange(0.0, 25.0, 0.1)
    body = "\n".join(
        f"{a:.2f},{3.6 * b:.3f},{'err' if i % 7 == 3 else '84.1'}"
        for i, (a, b) in enumerate(zip(t, truth.speed(t), strict=True))
    )
    seen = preview(bike, f"time [s],speed [km/h],volts [V]\n{body}\n".encode())
    assert "column volts [V]" in " ".join(seen["report"]["issues"])
    assert seen["report"]["top_speed_m_s"] == pytest.approx(truth.speed(t).max(), rel=0.01)


def test_each_launch_of_a_ride_can_be_read(bike: Outside) -> None:
    """Two starts, the slower first: the fastest is shown until the other is asked for."""
    slow, quick = Truth(3.0, 20.0, 3.0), Truth(3.0, 30.0, 7.0)
    t = np.arange(0.0, 20.0, 0.1)
    stop = np.linspace(1, 0, 30) * slow.speed(t)[-1]
    v = np.concatenate((slow.speed(t), stop, quick.speed(t)))
    time = np.arange(len(v)) * 0.1
    data = log_of({"time [s]": time.tolist(), "speed [m/s]": v.tolist()})
    files = {"file": ("two.csv", data)}
    got = bike.client.post(f"{bike.url}/logs?bolt=prove", files=files)
    assert got.status_code == 201, got.text
    bike.body = got.json()

    def quarter() -> float:
        rows = bike.body["assessment"]["drawings"]["prove"]["rows"]
        return float(next(r["logged_s"] for r in rows if r["name"] == "1/8 mile"))

    assert quarter() == pytest.approx(quick.time_to(201.168), abs=0.05)
    bike.put(("prove.launch", 1))
    assert quarter() == pytest.approx(slow.time_to(201.168), abs=0.05)
    assert len(bike.body["assessment"]["drawings"]["prove"]["launches"]) == 2


def sent(bike: Outside, name: str, head: str, rows: list[str]) -> dict[str, Any]:
    """A log imported as it is, chosen on Prove."""
    data = "\n".join([head, *rows, ""]).encode()
    got = bike.client.post(f"{bike.url}/logs", files={"file": (name, data, "text/csv")})
    assert got.status_code == 201, got.text
    log = next(x for x in bike.client.get(f"{bike.url}/logs").json() if x["name"] == name)
    bike.put(("prove.log_id", log["id"]))
    return dict(bike.body["assessment"]["drawings"]["prove"])


def pulled() -> list[tuple[float, float]]:
    """Five seconds at rest, then 3 m/s² up to 25 m/s."""
    return [(k / 10, min(max(k / 10 - 5.0, 0.0) * 3.0, 25.0)) for k in range(400)]


def test_dangerous_two_columns_of_speed_that_part_are_both_named(bike: Outside) -> None:
    rows = [f"{t:.1f},{v:.2f},{3.6 * 1.1 * v:.2f}" for t, v in pulled()]
    drawn = sent(bike, "two.csv", "time [s],speed [m/s],GPS speed [km/h]", rows)
    assert any("GPS speed [km/h] reads 1.10 times" in x for x in drawn["issues"])
    alike = [f"{t:.1f},{v:.2f},{3.6 * v:.2f},{60 * v:.0f}" for t, v in pulled()]
    head = "time [s],speed [m/s],GPS speed [km/h],wheel speed [rpm]"
    assert not sent(bike, "alike.csv", head, alike)["issues"]


def test_unknown_unit_that_makes_another_bike_is_asked_about(bike: Outside) -> None:
    """km/h under a title without a unit: 90 m/s of a bike that makes 27."""
    drawn = sent(bike, "bare.csv", "time,speed", [f"{t:.1f},{3.6 * v:.2f}" for t, v in pulled()])
    assert any("holds no unit" in x for x in drawn["issues"])
    assert bike.says("prove.unit") == "caution" and "km/h" in bike.words("prove.unit")
    sent(bike, "right.csv", "time,speed", [f"{t:.1f},{v:.2f}" for t, v in pulled()])
    assert bike.says("prove.unit") == ""
