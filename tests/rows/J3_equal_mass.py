"""Masses made equal: by ballast, or taken off by the model, with the correction shown."""

from __future__ import annotations

import pytest

from rows.conftest import Outside
from rows.J1_test_plan import planned, ride


def test_ordinary_a_heavier_rider_is_taken_off_by_the_model(bike: Outside) -> None:
    """The same bike under two riders: what is predicted for both masses is ridden, and nothing is left."""
    light = bike.head["to_time_s"]
    bike.put(("goal.rider_kg", 20 + bike.body["doc"]["goal"]["rider_kg"]["amount"]))
    heavy = bike.head["to_time_s"]
    bike.put(("goal.rider_kg", bike.body["doc"]["goal"]["rider_kg"]["amount"] - 20))
    made = planned(bike, setups=["A", "B"], protocol="drag splits")
    mass = bike.head["mass_kg"] + bike.body["doc"]["goal"]["rider_kg"]["amount"]
    for d in (0.01, -0.01, 0.0):
        ride(bike, made["id"], setup="A", value=light + d, mass_kg=mass)
        last = ride(bike, made["id"], setup="B", value=heavy + d, mass_kg=mass + 20)
    v = last["verdict"]
    assert v["differences"][0]["told"] and v["differences"][0]["diff"] > 0.3
    assert abs(v["corrected"][0]["diff"]) < 0.15 * v["differences"][0]["diff"]
    assert any(s["what"] == "mass" and "{{20|kg}} heavier" in s["sentence"] for s in v["spoilers"])


@pytest.mark.parametrize(
    ("what", "path", "other", "field", "values"),
    [
        ("wind", "road.wind_m_s", 4.0, "wind_m_s", (0.0, 4.0)),
        ("slope", "road.grade_pct", 2.0, "slope_pct", (0.0, 2.0)),
        ("charge", "pack.start_soc", 0.5, "soc", (1.0, 0.5)),
        # Ideal gas: 101325 / (287.05 x 313.15) = 1.1272; 1.2250 at 15 C (ISO 2533)
        ("air", "road.air_kg_m3", 1.1272, "air_c", (15.0, 40.0)),
    ],
)
def test_wind_slope_charge_and_air_are_taken_off_too(
    bike: Outside, what: str, path: str, other: float, field: str, values: tuple[float, float]
) -> None:
    """The same bike under two conditions: what is predicted for both is ridden, and nothing is left of it."""
    start = {"pack.start_soc": 1.0, "road.air_kg_m3": 1.225}.get(path, 0.0)
    number = {"origin": "measured", "tolerance": None}
    seen = []
    bike.put(("goal.to_speed_m_s", 24.0))  # far enough up that volts and air count
    for x in (start, other):
        bike.put((path, {"amount": x, **number}))
        seen.append(bike.head["to_time_s"])
    bike.put((path, {"amount": start, **number}))
    made = planned(bike, setups=["A", "B"], protocol="drag splits")
    for d in (0.001, -0.001, 0.0):
        for setup, value, under in zip("AB", seen, values, strict=True):
            last = ride(bike, made["id"], setup=setup, value=value + d, **{field: under})
    v = last["verdict"]
    assert v["corrected_for"] == [what]
    assert abs(v["differences"][0]["diff"]) > 0.02
    assert abs(v["corrected"][0]["diff"]) < 0.1 * abs(v["differences"][0]["diff"]) + 0.006


@pytest.mark.parametrize("protocol", ["range loop", "roll-on", "hill", "coast-down"])
def test_dangerous_what_the_planner_has_no_run_of_is_not_corrected(
    bike: Outside, protocol: str
) -> None:
    """A quarter mile's ratio was laid on a range loop."""
    made = planned(bike, setups=["A", "B"], protocol=protocol)
    for x in (1800.0, 1810.0):
        ride(bike, made["id"], setup="A", value=x, mass_kg=150, soc=1.0)
        last = ride(bike, made["id"], setup="B", value=x - 60, mass_kg=170, soc=0.6)
    v = last["verdict"]
    assert v["corrected"] is None and v["corrected_for"] == []
    spoils = {s["what"] for s in v["spoilers"] if s["weight"] == "caution"}
    assert spoils == ({"mass"} if protocol == "coast-down" else {"mass", "charge"})
    assert last["ridden"][1]["expected"] is None


def test_ballast_instead(bike: Outside) -> None:
    made = planned(bike, masses={"12/52": 160, "13/52": 140})["plan"]
    assert made["ballast"] == ["13/52: {{20|kg}} of ballast, tied low and near the middle"]


def test_dangerous_a_mass_nobody_wrote_down_is_not_equal(bike: Outside) -> None:
    made = planned(bike, setups=["A", "B"])
    for x in (8.0, 8.1):
        ride(bike, made["id"], setup="A", value=x, mass_kg=150)
        last = ride(bike, made["id"], setup="B", value=x - 0.5)
    v = last["verdict"]
    assert v["corrected"] is None and any(
        "not written down" in s["sentence"] for s in v["spoilers"] if s["what"] == "mass"
    )


def test_unknown_while_the_build_does_not_compute(bike: Outside) -> None:
    bike.put(("drive.motor.kv_rpm_v", None))
    made = planned(bike, setups=["A", "B"])
    for x in (8.0, 8.1):
        ride(bike, made["id"], setup="A", value=x, mass_kg=150)
        last = ride(bike, made["id"], setup="B", value=x, mass_kg=170)
    assert last["verdict"]["corrected"] is None


@pytest.mark.parametrize("mass", [0, -4, 5000])
def test_not_there_masses_that_are_none(bike: Outside, mass: float) -> None:
    made = planned(bike, setups=["A", "B"])
    ride(bike, made["id"], 422, setup="A", value=8.0, mass_kg=mass)


def test_unknown_mass_of_one_setup_is_said(bike: Outside) -> None:
    """One of two weighed: no ballast was named, as if they were equal."""
    made = planned(bike, setups=["A", "B"], masses={"A": 150.0})["plan"]
    assert made["ballast"] == ["B: not weighed, so nobody knows its ballast"]


@pytest.mark.parametrize("masses", [{"a": 150.0}, {"A": -150.0}, {"A": 0.0}, {"A": 15_000.0}])
def test_dangerous_a_mass_that_is_none(bike: Outside, masses: dict[str, float]) -> None:
    got = planned(bike, 422, setups=["A", "B"], masses=masses)
    assert "no mass of a setup" in got["message"]
