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


def test_not_there_without_a_standing_start_there_are_no_times_and_it_is_said(
    bike: Outside,
) -> None:
    data = "time [s],speed [km/h]\n" + "".join(f"{i / 10:.1f},50\n" for i in range(200))
    rows = splits(bike, data.encode())
    assert all(r["logged_s"] is None for r in rows.values())
    assert bike.says("prove.no_start") == "note" and not bike.says("prove.agrees")
    top = bike.body["assessment"]["drawings"]["prove"]["top_logged_m_s"]
    assert top == pytest.approx(50 / 3.6)


def test_not_there_a_log_in_which_nothing_moves_is_refused(bike: Outside) -> None:
    data = "time [s],speed [km/h]\n" + "".join(f"{i / 10:.1f},0.3\n" for i in range(200))
    got = bike.client.post(f"{bike.url}/logs", files={"file": ("x.csv", data.encode())})
    assert got.status_code == 422 and "Nothing moves" in got.json()["message"]


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


def test_how_surely_the_wind_is_known_is_in_the_half_width(bike: Outside) -> None:
    """Half a metre a second at least, as a tenth of 5 m/s is; with 40 % of it the corrected time is far less sure."""
    data = ridden(bike, wind_m_s=5.0)
    splits(bike, data)
    halves = []
    for tolerance in (0.1, 0.4):
        bike.put(("prove.wind_m_s", {"amount": 5.0, "origin": "measured", "tolerance": tolerance}))
        row = rows_by_name(bike)["200 m"]
        assert row["fair_u95_s"] > row["u95_s"]
        halves.append(
            row["fair_u95_s"] ** 2 - (row["fair_s"] / row["logged_s"] * row["u95_s"]) ** 2
        )
    assert halves[1] / halves[0] == pytest.approx(16.0, rel=0.25)


def test_unknown_where_the_model_stands_still_in_that_wind_no_time_is_compared(
    bike: Outside,
) -> None:
    data = ridden(bike, grade_pct=0.0)
    splits(bike, data)
    bike.put(("prove.wind_m_s", said(30.0)), ("prove.slope_pct", said(20.0)))
    far = rows_by_name(bike)["200 m"]
    assert far["logged_s"] is not None and far["fair_s"] is None and far["diff"] is None


def with_heights(data: bytes, slope: float, rng: np.random.Generator) -> bytes:
    """The log with heights that go with the way, and the noise of a receiver."""
    head, *rows = data.decode().strip().split("\n")
    out, way, last = [f"{head},altitude [m]"], 0.0, (0.0, 0.0)
    for row in rows:
        t, v = (float(x) for x in row.split(","))
        way += 0.5 * (v + last[1]) * (t - last[0])
        last = (t, v)
        out.append(f"{row},{50.0 + slope / 100.0 * way + rng.normal(0, 0.3):.2f}")
    return ("\n".join(out) + "\n").encode()


def test_dangerous_a_slope_that_nobody_wrote_is_seen_in_the_heights(bike: Outside) -> None:
    rng = np.random.default_rng(2)
    splits(bike, with_heights(ridden(bike, grade_pct=-3.0), -3.0, rng))
    assert bike.says("prove.heights") == "caution" and "downhill" in bike.words("prove.heights")
    fix = bike.findings()["prove.heights"]["fixes"][0]
    bike.put(*((c["path"], c["value"]) for c in fix["changes"]))
    assert bike.body["doc"]["prove"]["slope_pct"]["amount"] == pytest.approx(-3.0, abs=0.5)
    assert bike.says("prove.heights") == "" and bike.says("prove.carried") == "caution"
    bike.put(("prove.slope_pct", said(1.0)))
    assert "1 %" in bike.words("prove.heights") or "{{1" in bike.words("prove.heights")
    splits(bike, with_heights(ridden(bike, grade_pct=0.0), 0.0, rng), "flat.csv")
    assert bike.says("prove.heights") == ""


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


def test_dangerous_the_wind_of_one_log_is_not_taken_off_another(bike: Outside) -> None:
    """What was said of a log goes with it, by import, by choice and by removal; undo brings both back."""
    first = log_id(bike, ridden(bike, grade_pct=0.0), "first.csv")
    bike.put(("prove.wind_m_s", said(-6.0)), ("prove.slope_pct", said(-3.0)))
    splits(bike, log(), "second.csv")
    prove = bike.body["doc"]["prove"]
    assert prove["wind_m_s"] is None and prove["slope_pct"] is None
    assert bike.says("prove.as_ridden") == "note"
    bike.put(("prove.slope_pct", said(-3.0)))
    bike.put(("prove.log_id", first))
    assert bike.body["doc"]["prove"]["slope_pct"] is None
    again = bike.client.post(f"{bike.url}/undo").json()["doc"]["prove"]
    assert again["slope_pct"]["amount"] == -3.0 and again["log_id"] != first


def test_dangerous_a_wish_is_not_met_down_a_hill(bike: Outside) -> None:
    """Measured beside the wish is the time that Splits shows with the slope taken off."""
    splits(bike, ridden(bike, grade_pct=-3.0), "down.csv")
    bike.put(("goal.to_time_s", 7.0), ("prove.slope_pct", said(-3.0)))
    found = bike.client.get(f"{bike.url}/acceptance").json()
    row = next(r for r in found if r["quantity"] == "s")
    fair = rows_by_name(bike)["0–60 km/h"]["fair_s"]
    assert "taken off" in row["what"] and row["measured"] == pytest.approx(fair)


# Roll-on from one speed to another, and between two marks of the way.


def log_id(bike: Outside, data: bytes, name: str) -> str:
    splits(bike, data, name)
    logs = bike.client.get(f"{bike.url}/logs").json()
    return str(next(x["id"] for x in logs if x["name"] == name))


def two_pulls() -> bytes:
    """From rest to 20 m/s at 3 m/s², down to 5, up to 25 at 2, a dip under 30 km/h in between a third pull."""
    v, rows = 0.0, ["time [s],speed [m/s]", *(f"{i / 10:.1f},0" for i in range(20))]
    legs = [
        (3.0, 20.0),
        (-5.0, 5.0),
        (2.0, 25.0),
        (-5.0, 6.0),
        (2.0, 12.0),
        (-2.0, 7.0),
        (2.0, 18.0),
        (-3.0, 0.0),
    ]
    t = 2.0
    for a, to in legs:
        while (v < to) if a > 0 else (v > to):
            v = min(v + a * 0.1, to) if a > 0 else max(v + a * 0.1, to)
            rows.append(f"{t:.1f},{v:.3f}")
            t += 0.1
    return ("\n".join(rows) + "\n").encode()


def roll_on(bike: Outside, log: str, low: float, high: float) -> list[dict[str, Any]]:
    got = bike.client.get(
        f"{bike.url}/logs/{log}/roll-on", params={"low": low / 3.6, "high": high / 3.6}
    )
    assert got.status_code == 200, got.text
    return list(got.json())


def test_each_roll_on_is_the_speed_gained_over_the_acceleration(bike: Outside) -> None:
    """Δv/a: 30 to 60 km/h in 2.78 s at 3 m/s², 4.17 s at 2 m/s²; a dip under 30 starts it anew."""
    found = roll_on(bike, log_id(bike, two_pulls(), "pulls.csv"), 30, 60)
    gained = 30 / 3.6
    assert [round(f["seconds"], 1) for f in found] == [
        round(gained / a, 1) for a in (3.0, 2.0, 2.0)
    ]
    assert all(f["u95_s"] is not None and f["u95_s"] < 0.2 for f in found)


def test_dangerous_a_roll_on_that_never_gets_there_has_no_time(bike: Outside) -> None:
    assert roll_on(bike, log_id(bike, two_pulls(), "pulls.csv"), 60, 130) == []


def test_unknown_over_a_gap_a_roll_on_has_no_half_width(bike: Outside) -> None:
    """Two seconds missing in the first pull: its time stands, how sure it is nobody says."""
    head, *rows = two_pulls().decode().splitlines()
    torn = [r for r in rows if not 5.2 < float(r.split(",")[0]) < 7.2]
    found = roll_on(bike, log_id(bike, "\n".join([head, *torn]).encode(), "torn.csv"), 30, 60)
    assert found[0]["u95_s"] is None and found[1]["u95_s"] is not None


def test_a_roll_on_that_goes_down_or_from_rest_is_refused(bike: Outside) -> None:
    log = log_id(bike, two_pulls(), "pulls.csv")
    for low, high in ((60, 30), (0, 30), (30, 30)):
        got = bike.client.get(f"{bike.url}/logs/{log}/roll-on", params={"low": low, "high": high})
        assert got.status_code == 422 and "roll-on goes" in got.json()["message"]


def there_and_back() -> bytes:
    """East at 10 m/s for 60 s, turned, back, turned, east again at 12.5 m/s; a degree of longitude at the equator is
    111 320 m (WGS 84)."""
    rows, x, t = ["time [s],lat,lon"], 0.0, 0.0
    for _ in range(30):
        rows.append(f"{t:.1f},0.0000000,{x / 111320:.9f}")
        t += 0.1
    for speed, seconds, side in ((10.0, 60, 0), (-10.0, 60, 4), (12.5, 48, 1)):
        for _ in range(seconds * 10):
            x += speed * 0.1
            rows.append(f"{t:.1f},{side / 110574:.9f},{x / 111320:.9f}")
            t += 0.1
    return ("\n".join(rows) + "\n").encode()


def test_between_two_marks_each_pass_in_that_direction(bike: Outside) -> None:
    """200 m apart: 20 s at 10 m/s and 16 s at 12.5 m/s; the way back over the same marks does not count."""
    log = log_id(bike, there_and_back(), "laps.csv")
    got = bike.client.get(f"{bike.url}/logs/{log}/between", params={"start": 23.0, "end": 43.0})
    assert got.status_code == 200, got.text
    assert [f["seconds"] for f in got.json()] == pytest.approx([20.0, 16.0], abs=0.06)


def test_unknown_way_between_marks_is_said(bike: Outside) -> None:
    log = log_id(bike, two_pulls(), "pulls.csv")
    got = bike.client.get(f"{bike.url}/logs/{log}/between", params={"start": 3, "end": 9})
    assert got.status_code == 422 and "no positions" in got.json()["message"]
    same = log_id(bike, there_and_back(), "laps.csv")
    got = bike.client.get(f"{bike.url}/logs/{same}/between", params={"start": 9, "end": 9})
    assert got.status_code == 422 and "one place" in got.json()["message"]
