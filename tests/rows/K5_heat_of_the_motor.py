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
    row = next(r for r in heat(bike)["rows"] if "ride's speed" in r["what"])
    now = kind(bike, "as it is")
    r = bike.body["doc"]["drive"]["motor"]["r_phase_ohm"]["amount"]
    watts = 1.5 * r * row["phase_a"] ** 2 * (1 + COPPER * (row["winding_c"] - 20))
    assert row["winding_c"] == pytest.approx(
        25 + watts * (now["winding_case_k_w"] + now["case_air_k_w"])
    )


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
    row = next(r for r in heat(bike)["rows"] if r["what"].startswith("climb"))
    assert row["winding_c"] is None  # runs away


def test_unknown_heat_paths_have_no_view(bike: Outside) -> None:
    bike.put(("drive.motor.winding_case_k_w", None))
    assert bike.body["assessment"]["drawings"]["drive"]["heat"] is None


def test_not_there_no_hill_wished_no_row(bike: Outside) -> None:
    bike.put(("goal.hill_pct", None))
    assert not any(r["what"].startswith("climb") for r in heat(bike)["rows"])
