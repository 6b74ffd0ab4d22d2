"""How warm the motor gets, how long it holds, and what cooling buys."""

from __future__ import annotations

from typing import Any

import pytest
from scipy.integrate import solve_ivp

from rows.conftest import Outside

COPPER = 0.00393  # per kelvin, IEC 60028


def heat(bike: Outside) -> dict[str, Any]:
    return dict(bike.body["assessment"]["drawings"]["drive"]["heat"])


def kind(bike: Outside, label: str) -> dict[str, Any]:
    return dict(next(c for c in heat(bike)["cooling"] if c["label"] == label))


def test_ordinary_continuous_amps_settle_at_the_limit(bike: Outside) -> None:
    """The two-node equations by SciPy, ridden for hours at the amps that are said to be for good."""
    now = kind(bike, "as it is")
    m = {
        k: x["amount"] for k, x in bike.body["doc"]["drive"]["motor"].items() if isinstance(x, dict)
    }
    watts = 1.5 * m["r_phase_ohm"] * now["cont_a"] ** 2

    def rates(_: float, y: list[float]) -> list[float]:
        flow = (y[0] - y[1]) / now["winding_case_k_w"]
        made = watts * (1 + COPPER * (y[0] - 20))
        return [
            (made - flow) / m["winding_j_k"],
            (flow - (y[1] - 25) / now["case_air_k_w"]) / m["case_j_k"],
        ]

    done = solve_ivp(rates, (0, 60_000), [25, 25], rtol=1e-9, method="LSODA")
    assert done.y[0][-1] == pytest.approx(heat(bike)["limit_c"], abs=0.5)


def test_steady_cruise_in_closed_form(bike: Outside) -> None:
    bike.put(("gear.tyre.rolling_radius_m", 0.3))
    row = next(r for r in heat(bike)["rows"] if r["key"] == "ride")
    now = kind(bike, "as it is")
    r = bike.body["doc"]["drive"]["motor"]["r_phase_ohm"]["amount"]
    watts = 1.5 * r * row["phase_a"] ** 2 * (1 + COPPER * (row["winding_c"] - 20))
    copper_k = watts * (now["winding_case_k_w"] + now["case_air_k_w"])
    assert row["winding_c"] == pytest.approx(25 + copper_k + iron_w(bike) * now["case_air_k_w"])


def iron_w(bike: Outside) -> float:
    """Drag and iron at the ride's speed, which warm the case, by hand from the document (radius put at 0.3 m)."""
    doc = bike.body["doc"]
    m, gear = doc["drive"]["motor"], doc["gear"]
    ratio = (
        gear["rear_teeth"] / gear["front_teeth"] * ((gear["reduction"] or {}).get("amount") or 1)
    )
    turns = doc["goal"]["cruise_m_s"]["amount"] / 0.3 * ratio
    return float((m["drag_nm"]["amount"] + m["drag_nm_s_rad"]["amount"] * turns) * turns)


def test_dangerous_a_winding_that_burns_on_one_run(bike: Outside) -> None:
    bike.put(("drive.motor.winding_j_k", 60), ("drive.motor.winding_case_k_w", 3))
    assert bike.says("drive.run_heat") == "caution" and "not known" in bike.words("drive.run_heat")
    row = next(r for r in heat(bike)["rows"] if r["key"] == "run")
    assert row["limit_s"] and row["winding_c"] > heat(bike)["limit_c"] - 20
    bike.put(("drive.motor.temp_sensor", False))
    assert bike.says("drive.run_heat") == "stop" and "burns" in bike.words("drive.run_heat")
    bike.put(("drive.motor.temp_sensor", True))
    assert bike.says("drive.run_heat") == "caution" and "lives" in bike.words("drive.run_heat")


def test_dangerous_a_motor_that_does_not_hold_the_ride(bike: Outside) -> None:
    """The sentence says the same seconds as the table."""
    bike.put(("drive.motor.case_air_k_w", 2.5), ("goal.ride_m", 200_000))
    assert bike.says("drive.ride_heat") == "caution"
    row = next(r for r in heat(bike)["rows"] if r["key"] == "ride")
    found = bike.findings()["drive.ride_heat"]
    assert found["measured"] == pytest.approx(row["limit_s"])
    cruise = bike.body["doc"]["goal"]["cruise_m_s"]["amount"]
    assert found["limit"] == pytest.approx(200_000 / cruise)


def test_unknown_heat_paths_are_said(bike: Outside) -> None:
    bike.put(("drive.motor.winding_case_k_w", None))
    assert "heat paths" in bike.words("drive.motor_blank")
    assert bike.says("drive.motor_blank") == "note"
    bike.put(("drive.motor.label_w", None))
    assert bike.says("drive.motor_blank") == "caution"


def test_better_cooling_never_holds_less(bike: Outside) -> None:
    base = kind(bike, "as it is")
    for c in heat(bike)["cooling"]:
        assert c["cont_a"] >= base["cont_a"] - 1e-9 and c["origin"]
    assert kind(bike, "direct liquid at the stator")["cont_a"] > 1.5 * base["cont_a"]


def test_fins_do_little_for_a_burst_and_much_for_good(bike: Outside) -> None:
    base, fins = kind(bike, "as it is"), kind(bike, "fins on the case")
    assert fins["cold_s"] < 1.03 * base["cold_s"] and fins["cont_a"] > 1.1 * base["cont_a"]


def test_dangerous_a_hill_that_it_does_not_hold(bike: Outside) -> None:
    bike.put(("goal.climb_m", 900))
    assert bike.says("drive.hill_heat") == "caution" and "overheats" in bike.words(
        "drive.hill_heat"
    )
    row = next(r for r in heat(bike)["rows"] if r["key"] == "climb")
    assert row["winding_c"] is None  # runs away


def test_unknown_heat_paths_have_no_view(bike: Outside) -> None:
    bike.put(("drive.motor.winding_case_k_w", None))
    assert bike.body["assessment"]["drawings"]["drive"]["heat"] is None


def test_not_there_no_hill_wished_no_row(bike: Outside) -> None:
    bike.put(("goal.hill_pct", None))
    assert not any(r["key"] == "climb" for r in heat(bike)["rows"])
