"""Logs over one another: volts, line, phase, watts, rpm; time lost; crossover speed; what held the bike and why."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from ninebolt.units import RPM_PER_RAD_S
from rides import Truth
from rows.conftest import Outside
from rows.J6_speed_source import log_of

UNITS = {"t": "time [s]", "v": "speed [m/s]", "bus": "volts [V]", "line": "line [A]", "phase": "phase [A]",
         "rpm": "rpm", "throttle": "throttle"}  # fmt: skip


def imported(bike: Outside, name: str, columns: dict[str, Any]) -> str:
    data = log_of({UNITS[k]: np.asarray(x, dtype=float).tolist() for k, x in columns.items()})
    got = bike.client.post(f"{bike.url}/logs?bolt=prove", files={"file": (name, data)})
    assert got.status_code == 201, got.text
    logs = bike.client.get(f"{bike.url}/logs").json()
    return str(next(x["id"] for x in logs if x["name"] == name))


def ridden(bike: Outside, truth: Truth, **more: Any) -> dict[str, Any]:
    """A full-throttle run with every channel, its ratio the build's."""
    t = np.arange(0.0, 24.0, 0.05)
    v = truth.speed(t)
    ratio = bike.figure("gear", "ratio")
    assert ratio is not None
    made = {"t": t, "v": v, "bus": np.full_like(t, 84.0) - 0.01 * v, "line": 4.0 * v, "phase": 20 + 3 * v,
            "rpm": v / bike.radius * ratio * RPM_PER_RAD_S, "throttle": (t > truth.t0_s) * 1.0}  # fmt: skip
    return {**made, **more}


def over(bike: Outside, *logs: str) -> dict[str, Any]:
    got = bike.client.get(f"{bike.url}/over", params={"logs": list(logs)})
    assert got.status_code == 200, got.text
    return dict(got.json())


def test_ordinary_time_lost_and_the_speed_where_they_cross(bike: Outside) -> None:
    """v' = (V - v)/T: the one pulls harder below the speed where both are alike, in closed form."""
    short, tall = Truth(4.0, 22.0, 8.0), Truth(4.0, 34.0, 6.0)
    a = imported(bike, "short.csv", ridden(bike, short))
    b = imported(bike, "tall.csv", ridden(bike, tall))
    seen = over(bike, a, b)
    found = seen["losses"][0]
    cross = (short.push_m_s2 - tall.push_m_s2) / (1 / short.tau_s - 1 / tall.tau_s)
    assert [c["below"] for c in found["crossings"]] == ["short.csv"]
    assert found["crossings"][0]["speed_m_s"] == pytest.approx(cross, abs=1.5)
    lost = np.interp(201.168, found["distance_m"], found["lost_s"])
    assert lost == pytest.approx(tall.time_to(201.168) - short.time_to(201.168), abs=0.06)
    keys = {c["key"] for c in seen["runs"][0]["channels"]}
    assert {"bus_v", "line_a", "phase_a", "power_w", "rpm", "speed_m_s"} <= keys
    watts = next(c for c in seen["runs"][0]["channels"] if c["key"] == "power_w")["y"]
    assert max(watts) == pytest.approx(84 * 4 * 22.0, rel=0.03)


def held(bike: Outside, log: str) -> dict[str, Any]:
    got = bike.client.get(f"{bike.url}/logs/{log}/held")
    assert got.status_code == 200, got.text
    return dict(got.json())


def test_dangerous_a_lifted_hand_is_no_limit(bike: Outside) -> None:
    """Half throttle looks like a weak bike; it is called what it is, and tells nothing of limits."""
    run = ridden(bike, Truth())
    run["throttle"] = run["throttle"] * np.where(run["t"] > 10.0, 0.5, 1.0)
    seen = held(bike, imported(bike, "lifted.csv", run))
    assert any(p["choke"] == "throttle" for p in seen["logged"])
    assert any("throttle was not full" in w for w in seen["held"]["why"])
    assert all(p["logged"] != "throttle" for p in seen["held"]["parted"])


def test_dangerous_a_limit_that_nobody_wrote_is_seen(bike: Outside) -> None:
    """Line amps level at 60 A, far under what the build has written: it is said, with its amps."""
    run = ridden(bike, Truth())
    run["line"] = np.minimum(run["line"], 60.0)
    seen = held(bike, imported(bike, "level.csv", run))
    assert any("level at 60 A" in w for w in seen["held"]["why"])


def test_dangerous_gearing_that_is_not_as_written(bike: Outside) -> None:
    run = ridden(bike, Truth())
    run["rpm"] = run["rpm"] * 1.1
    said = " ".join(held(bike, imported(bike, "geared.csv", run))["held"]["why"])
    assert "gearing or tyre is not as written" in said


def test_dangerous_more_sag_than_planned(bike: Outside) -> None:
    run = ridden(bike, Truth())
    run["bus"] = 84.0 - 0.3 * run["line"]
    said = " ".join(held(bike, imported(bike, "sag.csv", run))["held"]["why"])
    assert "it sags by 300 mΩ" in said


def test_unknown_what_a_log_does_not_show_is_said(bike: Outside) -> None:
    run = ridden(bike, Truth())
    log = imported(bike, "bare.csv", {"t": run["t"], "v": run["v"]})
    blind = " ".join(held(bike, log)["held"]["blind"])
    assert "no throttle" in blind and "no line amps" in blind and "no pack volts" in blind
    other = imported(bike, "whole.csv", run)
    missing = over(bike, log, other)["missing"]
    assert missing == ["bare.csv: no pack volts, line amps, phase amps, pack power, motor rpm"]


def test_not_there_one_log_is_over_nothing(bike: Outside) -> None:
    log = imported(bike, "one.csv", ridden(bike, Truth()))
    assert bike.client.get(f"{bike.url}/over", params={"logs": [log]}).status_code == 422
    assert bike.client.get(f"{bike.url}/over", params={"logs": [log, "gone"]}).status_code == 404
    assert bike.client.get(f"{bike.url}/logs/gone/trace").status_code == 404
    assert bike.client.get(f"{bike.url}/logs/gone/held").status_code == 404


def test_a_window_loses_no_peak(bike: Outside) -> None:
    """One sample of 400 A among thousands stays, at every zoom; time and distance axis."""
    t = np.arange(0.0, 200.0, 0.01)
    line = np.full_like(t, 50.0)
    line[12_345] = 400.0
    truth = Truth(2.0)
    log = imported(bike, "long.csv", {"t": t, "v": truth.speed(t), "line": line})
    for axis in ("time", "distance"):
        got = bike.client.get(f"{bike.url}/logs/{log}/trace", params={"axis": axis, "points": 100})
        amps = next(c for c in got.json()["channels"] if c["key"] == "line_a")
        assert amps["greatest"] == 400.0 and max(x for x in amps["hi"] if x is not None) == 400.0
        assert len(amps["hi"]) <= 100
    part = {"start": 123.0, "end": 124.0, "points": 50}
    near = bike.client.get(f"{bike.url}/logs/{log}/trace", params=part).json()
    spot = next(c for c in near["channels"] if c["key"] == "line_a")["hi"].index(400.0)
    assert near["x"][spot] == pytest.approx(123.45, abs=0.03)
    assert near["whole"] == [0.0, pytest.approx(199.99)]


def test_dangerous_the_same_run_twice_names_no_winner(bike: Outside) -> None:
    """Noise of a hundredth of a second is no lead, and no speed at which one pulls harder."""
    rng = np.random.default_rng(4)
    runs = []
    for name in ("a.csv", "b.csv"):
        run = ridden(bike, Truth())
        run["v"] = np.maximum(run["v"] + rng.normal(0, 0.05, len(run["t"])), 0.0)
        runs.append(imported(bike, name, run))
    found = over(bike, *runs)["losses"][0]
    assert "neither is ahead" in found["sentence"] and found["crossings"] == []


def joined(bike: Outside, a: str, b: str) -> Any:
    return bike.client.post(f"{bike.url}/logs/{a}/join", params={"other": b})


def test_two_loggers_of_one_ride_come_onto_one_clock(bike: Outside) -> None:
    """A controller that began 7.3 s earlier and logs rpm: its volts join the satellites' speed."""
    run = ridden(bike, Truth(12.0))
    own = run["t"] + 7.3
    gps = imported(bike, "gps.csv", {"t": run["t"], "v": run["v"]})
    ctl = imported(
        bike,
        "ctl.csv",
        {"t": own - own[0], "rpm": np.roll(run["rpm"], 0), "bus": 84.0 - 0.2 * run["v"]},
    )
    shifted = {"t": np.arange(0.0, 31.3, 0.05)}
    shifted["rpm"] = np.interp(shifted["t"] - 7.3, run["t"], run["rpm"])
    shifted["bus"] = 84.0 - 0.2 * np.interp(shifted["t"] - 7.3, run["t"], run["v"])
    late = imported(bike, "late.csv", shifted)
    got = joined(bike, gps, late)
    assert got.status_code == 201, got.text
    name = next(x["name"] for x in bike.client.get(f"{bike.url}/logs").json() if "+" in x["name"])
    log = next(x["id"] for x in bike.client.get(f"{bike.url}/logs").json() if x["name"] == name)
    seen = bike.client.get(f"{bike.url}/logs/{log}/trace", params={"points": 400}).json()
    cols = {c["key"]: np.array(c["hi"], dtype=float) for c in seen["channels"]}
    assert {"speed_m_s", "rpm", "bus_v"} <= cols.keys()
    assert np.nanmax(np.abs(cols["bus_v"] - (84.0 - 0.2 * cols["speed_m_s"]))) < 0.15
    assert ctl != late


def test_dangerous_logs_of_two_rides_are_not_joined(bike: Outside) -> None:
    a = imported(bike, "a.csv", ridden(bike, Truth(4.0, 30.0, 6.0)))
    t = np.arange(0.0, 60.0, 0.05)
    other = {
        "t": t,
        "v": np.maximum(0.0, np.where(t > 5, 8.0 + 7.5 * np.sin(t * 1.3), 0.0)),
        "bus": t * 0 + 80.0,
    }
    b = imported(bike, "b.csv", other)
    got = joined(bike, a, b)
    assert got.status_code == 422 and "not one ride" in got.json()["message"]
    assert joined(bike, a, a).status_code == 422
    assert joined(bike, a, "gone").status_code == 404


def test_frames_of_a_bus_ask_for_their_meaning(bike: Outside) -> None:
    """Without a DBC they are not stored; with it they are a log with its columns."""
    speeds = [round(max(0.0, 0.05 * (k - 200)) * 360) for k in range(700)]
    lines = [
        f"({1.7e9 + 0.02 * k:.6f}) can0 123#{v.to_bytes(2, 'little').hex()}000000000000"
        for k, v in enumerate(speeds)
    ]
    frames = "\n".join(lines).encode()
    files = {"file": ("bus.log", frames)}
    asked = bike.client.post(f"{bike.url}/logs/preview", files=files).json()
    assert asked["kind"] == "candump" and "stands in a DBC" in asked["error"]
    assert bike.client.post(f"{bike.url}/logs", files=files).status_code == 422
    dbc = 'VERSION ""\nBU_: X\nBO_ 291 M: 8 X\n SG_ speed : 0|16@1+ (0.01,0) [0|655] "km/h" X\n'
    got = bike.client.post(f"{bike.url}/logs", files=files, data={"dbc": dbc})
    assert got.status_code == 201, got.text
    assert bike.client.get(f"{bike.url}/logs").json()[0]["name"] == "bus.log"


def test_dangerous_a_gearing_put_right_moves_the_traced_speed_too(bike: Outside) -> None:
    """A log of rpm alone: every view of it turns the wheel that the build has now."""
    run = ridden(bike, Truth())
    log = imported(bike, "turns.csv", {"t": run["t"], "rpm": run["rpm"]})

    def traced() -> float:
        seen = bike.client.get(f"{bike.url}/logs/{log}/trace").json()
        return float(next(c for c in seen["channels"] if c["key"] == "speed_m_s")["greatest"])

    before = traced()
    bike.put(("gear.rear_teeth", 2 * bike.body["doc"]["gear"]["rear_teeth"]))
    assert traced() == pytest.approx(before / 2, rel=1e-6)


def test_dangerous_lines_that_are_no_frames_are_said(bike: Outside) -> None:
    """A few cut lines cost themselves, and the log says so for ever."""
    lines = [f"({1.7e9 + 0.02 * k:.6f}) can0 123#{max(0, k - 200) * 18:04X}" for k in range(700)]
    lines[40] = "(1700000000.8000"
    dbc = 'VERSION ""\nBU_: X\nBO_ 291 M: 8 X\n SG_ speed : 7|16@0+ (0.01,0) [0|655] "km/h" X\n'
    files = {"file": ("bus.log", "\n".join(lines).encode())}
    got = bike.client.post(f"{bike.url}/logs?bolt=prove", files=files, data={"dbc": dbc})
    assert got.status_code == 201, got.text
    said = " ".join(got.json()["assessment"]["drawings"]["prove"]["issues"])
    assert "1 line was no frame" in said and "line 41" in said


def test_how_two_clocks_came_together_stays_with_the_log(bike: Outside) -> None:
    run = ridden(bike, Truth(12.0))
    gps = imported(bike, "gps.csv", {"t": run["t"], "v": run["v"]})
    own = np.arange(0.0, 31.3, 0.05)
    rpm = np.interp(own - 7.3, run["t"], run["rpm"])
    got = joined(bike, gps, imported(bike, "ctl.csv", {"t": own, "rpm": rpm}))
    shown = Outside(bike.client)
    shown.body = bike.client.get(f"{bike.url}?bolt=prove").json()
    said = " ".join(shown.body["assessment"]["drawings"]["prove"]["issues"])
    assert got.status_code == 201 and "set -7.30 s onto gps.csv's clock" in said
