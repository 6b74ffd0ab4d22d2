"""What the display shows of the speed: circumference, ratio, pole pairs, and how far it is off."""

from __future__ import annotations

import math
from typing import Any

import pytest

from rows.conftest import Linked, Outside


def shown(bike: Outside, **params: Any) -> dict[str, Any]:
    got = bike.client.get(f"{bike.url}/settings/display", params=params)
    assert got.status_code == 200, got.text
    return dict(got.json())


def test_ordinary_the_recommended_wheel_is_the_bike_s(bike: Outside) -> None:
    rows = {r["name"]: r for r in bike.body["assessment"]["drawings"]["tune"]["rows"]}
    assert rows["wheel_m"]["recommended"] == pytest.approx(2 * math.pi * bike.radius)
    assert shown(bike, wheel_m=rows["wheel_m"]["recommended"])["share"] == pytest.approx(0)


def test_by_hand_a_tenth_too_large_shows_a_tenth_too_much(bike: Outside) -> None:
    true = 2 * math.pi * bike.radius
    found = shown(bike, wheel_m=1.1 * true)
    assert found["share"] == pytest.approx(0.1) and found["wheel_m"] == pytest.approx(true)
    assert "slower than the display says" in found["sentence"]


def test_dangerous_wrong_pole_pairs_hide_the_speed(bike: Outside) -> None:
    """5 pairs set on a motor of 4: it shows four fifths, so the rider is faster than it says."""
    found = shown(bike, pole_pairs=5)
    assert found["share"] == pytest.approx(-0.2) and "faster than it says" in found["sentence"]


def test_the_controller_s_own_speed_is_off_by_as_much(linked: Linked) -> None:
    """On the bench: with the wheel it came with, the speed it shows against the true one."""
    held = linked.compare({"kind": "controller"}, {"kind": "set"})["rows"]
    first = {r["name"]: r["first"] for r in held}
    found = shown(linked, wheel_m=first["wheel_m"], ratio=first["ratio"])
    linked.put(("tune.chosen", [{"name": n, "value": first[n]} for n in ("wheel_m", "ratio")]))
    linked.written(anyway=True)
    linked.hand(stand=False, throttle=0.6)
    linked.bench("wait", seconds=6)
    link = linked.client.app.state.link  # type: ignore[attr-defined]
    believed, true = link.live().values["speed_m_s"], linked.bench("state")["state"]["speed_m_s"]
    assert believed / true - 1 == pytest.approx(found["share"], abs=0.03)


def test_by_a_measured_speed(bike: Outside) -> None:
    assert shown(bike, shown_m_s=22, true_m_s=20)["share"] == pytest.approx(0.1)


def test_unknown_without_wheel_or_ratio_asks(bike: Outside) -> None:
    bike.put(("drive.motor.pole_pairs", None))
    got = bike.client.get(f"{bike.url}/settings/display", params={"wheel_m": 2.0})
    assert got.status_code == 422 and "not known" in got.json()["message"]


@pytest.mark.parametrize(
    "params", [{"wheel_m": 0}, {"pole_pairs": -1}, {"shown_m_s": 0.5, "true_m_s": 1}]
)
def test_not_there_numbers_that_are_none(bike: Outside, params: dict[str, float]) -> None:
    assert bike.client.get(f"{bike.url}/settings/display", params=params).status_code == 422


def test_dangerous_an_error_that_no_tyre_makes_is_not_put_on_the_tyre(bike: Outside) -> None:
    """10 shown at 40: a circumference of 8 m. 44.7 shown at 27.8 m/s: 100 km/h read as 62 miles."""
    found = shown(bike, wheel_m=2.0, shown_m_s=10, true_m_s=40)
    assert "No tyre makes that good" in found["sentence"]
    assert "km against miles" in shown(bike, shown_m_s=44.7, true_m_s=27.8)["sentence"]
    assert "miles against km" in shown(bike, shown_m_s=17.3, true_m_s=27.8)["sentence"]
