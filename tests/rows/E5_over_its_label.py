"""A motor over its label: how far, for how many seconds, and what it needs before it may."""

from __future__ import annotations

import pytest
from scipy.integrate import solve_ivp

from rows.conftest import Outside

COPPER = 0.00393  # per kelvin, IEC 60028


def test_ordinary_within_its_label(bike: Outside) -> None:
    bike.put(("drive.motor.label_w", 12_000))
    assert bike.says("drive.over_label") == ""


def test_seconds_against_an_adaptive_integrator(bike: Outside) -> None:
    """The two-node equations by SciPy's RK45, at the demo's 230 A through 16 mOhm."""
    motor = bike.body["doc"]["drive"]["motor"]
    v = {k: x["amount"] for k, x in motor.items() if isinstance(x, dict)}
    amps = bike.put(("drive.controller.phase_a", 230)).body["doc"]["drive"]["controller"]
    watts = 1.5 * v["r_phase_ohm"] * amps["phase_a"]["amount"] ** 2
    limit = v.get("temp_max_c", 140.0)  # unknown: the assumption that the form shows

    def heat(_: float, y: list[float]) -> list[float]:
        flow = (y[0] - y[1]) / v["winding_case_k_w"]
        made = watts * (1 + COPPER * (y[0] - 20))
        return [
            (made - flow) / v["winding_j_k"],
            (flow - (y[1] - 25) / v["case_air_k_w"]) / v["case_j_k"],
        ]

    def there(_: float, y: list[float]) -> float:
        return y[0] - limit

    there.terminal = True  # type: ignore[attr-defined]
    for start, key in ((25.0, "hold_cold"), (80.0, "hold_warm")):
        done = solve_ivp(heat, (0, 1800), [start, start], events=there, rtol=1e-8)
        assert bike.figure("drive", key) == pytest.approx(done.t_events[0][0], rel=2e-3)


def test_dangerous_far_over_without_a_sensor_is_a_stop(bike: Outside) -> None:
    """A limit that is typed is no sensor."""
    bike.put(("drive.motor.label_w", 2_500), ("drive.motor.temp_max_c", 150))
    assert bike.says("drive.over_label") == "stop"
    fix = bike.findings()["drive.over_label"]["fixes"][0]["changes"]
    bike.put(*((c["path"], c["value"]) for c in fix))  # 3 x 2500 W out of a full pack at most
    assert fix[0]["value"]["amount"] == int(7500 / 96.6)
    assert bike.says("drive.over_label") != "stop"
    bike.client.post(f"{bike.url}/undo")
    bike.put(("drive.motor.temp_sensor", True))
    assert bike.says("drive.over_label") == "caution" and "held" in bike.words("drive.over_label")


def test_unknown_heat_paths_are_said(bike: Outside) -> None:
    bike.put(("drive.motor.label_w", 5_000), ("drive.motor.winding_case_k_w", None))
    assert "unknown" in bike.words("drive.over_label") and bike.figure("drive", "hold_cold") is None


def test_not_there_no_label_is_said(bike: Outside) -> None:
    assert bike.put(("drive.motor.label_w", None)).says("drive.label_open") == "note"
