"""Brakes against mass and speed: energy, heat of the rotor, and a top mode that stays locked."""

from __future__ import annotations

import math

import pytest

from rows.conftest import NONE, Outside

STEEL = 480.0  # J/kg K, handbook value, from memory


def front(bike: Outside) -> dict[str, float]:
    return dict(bike.body["assessment"]["drawings"]["gear"]["chassis"]["braking"]["ends"][0])


def test_ordinary_energy_of_a_stop_by_hand(bike: Outside) -> None:
    """½ m v² at the headline's top speed, with the rotating parts: 3 to 9 % more than mass alone."""
    kg = sum(a["kg"] for a in bike.body["assessment"]["drawings"]["gear"]["chassis"]["axles"])
    plain = 0.5 * kg * bike.head["top_speed_m_s"] ** 2
    assert 1.03 < (bike.figure("gear", "stop_energy") or 0) / plain < 1.09


def test_heat_of_one_stop_by_hand(bike: Outside) -> None:
    """m c ΔT: nine tenths of the front's share of the stop, less a tenth or so that air and road take."""
    bike.put(("gear.front_brake.rotor_kg", 0.5))
    e = front(bike)
    most = 0.9 * e["share"] * (bike.figure("gear", "stop_energy") or 0) / (0.5 * STEEL)
    assert 0.80 * most < e["one_c"] - 25.0 < 0.97 * most


def test_one_number_fit_speed_is_in_gear_finding_and_tune(bike: Outside) -> None:
    bike.put(("gear.front_brake.rotor_kg", 0.2))
    fit = bike.figure("gear", "fit_speed")
    rows = bike.body["assessment"]["drawings"]["tune"]["rows"]
    cap = next(r for r in rows if r["name"] == "speed_cap_m_s")
    assert cap["recommended"] == pytest.approx(fit)
    assert bike.findings()["gear.top_mode"]["limit"] == pytest.approx(fit)
    assert fit is not None and fit < bike.head["top_speed_m_s"]


def test_dangerous_a_small_rotor_is_a_stop(bike: Outside) -> None:
    bike.put(("gear.front_brake.rotor_kg", 0.12))
    assert bike.says("gear.brake_heat.front") == "stop" and "fade" in bike.words("gear.brake_heat")


def test_dangerous_a_cap_above_it_by_hand_is_named(bike: Outside) -> None:
    bike.put(
        ("gear.front_brake.rotor_kg", 0.2),
        ("tune.chosen", [{"name": "speed_cap_m_s", "value": 30}]),
    )
    assert bike.says("tune.param.speed_cap_m_s") == "caution"


def test_unknown_brakes_lock_the_top_mode(bike: Outside) -> None:
    bike.put(("gear.front_brake", {}), ("gear.rear_brake", {}))
    assert bike.says("gear.brake_energy") == "caution" and bike.says("gear.top_mode") == "caution"
    bike.put(("donor.ratings", {}), ("donor.kind", "gas_roller"))
    assert bike.says("gear.brake_open") == "caution"
    assert (bike.figure("gear", "fit_speed") or 0) == pytest.approx(45 / 3.6)


def test_unknown_brakes_of_a_bike_no_faster_than_its_donor_are_said_too(bike: Outside) -> None:
    bike.put(
        ("gear.front_brake", {}), ("donor.ratings.speed_m_s", 60), ("donor.ratings.gross_kg", 400)
    )
    assert bike.says("gear.brake_energy") == "" and bike.says("gear.brake_open") == "note"
    assert "if they are there" in bike.words("gear.brake_open")
    bike.put(("gear.front_brake.presence", "fitted"))
    assert bike.says("gear.brake_open") == ""


def test_not_there_no_front_brake_is_no_ride(bike: Outside) -> None:
    bike.put(("gear.front_brake", {"presence": "not there"}))
    assert bike.says("gear.no_brake.front") == "stop" and bike.figure("gear", "fit_speed") == 0.0
    bike.put(("gear.front_brake", {"presence": "not there", "rotor_m": NONE}))
    assert bike.says("gear.no_brake.front") == "stop"


def test_an_upgrade_that_is_written_down_counts(bike: Outside) -> None:
    bike.put(("gear.front_brake", {}), ("donor.upgrades", [{"what": "brakes", "fitted": True}]))
    assert bike.says("gear.brake_energy") == "" and bike.says("gear.top_mode") == ""


# A drum: its iron heats inside and cools through the hub; shoes fade at half a disc's heat.


def drum(bike: Outside, inner_m: float, **more: object) -> dict[str, float]:
    part = {"kind": "drum", "presence": "fitted", "rotor_m": inner_m, **more}
    bike.put(("gear.front_brake", part))
    return front(bike)


def test_heat_of_a_drum_by_hand(bike: Outside) -> None:
    """Ring of 7 x 30 mm iron, 7200 kg/m³, 500 J/kg K (handbook values, from memory): m = π (D + t) t w ρ."""
    e = drum(bike, 0.13)
    kg = math.pi * 0.137 * 0.007 * 0.030 * 7200
    most = 0.9 * e["share"] * (bike.figure("gear", "stop_energy") or 0) / (kg * 500)
    assert 0.80 * most < e["one_c"] - 25.0 < 0.97 * most


def test_dangerous_a_small_drum_in_front_fades(bike: Outside) -> None:
    e = drum(bike, 0.09)
    assert bike.says("gear.brake_heat.front") == "stop"
    words = bike.words("gear.brake_heat.front")
    assert "Shoes fade" in words and "Pads" not in words and e["drum"] is True
    assert bike.says("gear.top_mode") == "caution" and "drum" in bike.words("gear.top_mode")
    assert (bike.figure("gear", "fit_speed") or 99) < bike.head["top_speed_m_s"]


def test_a_drum_is_held_to_shoes_and_a_disc_to_pads(bike: Outside) -> None:
    """The same iron, as hot: 250 °C is much for shoes (200) and little for pads (400)."""
    for kilos in (0.25, 0.3, 0.4, 0.5, 0.6, 0.8):
        e = drum(bike, 0.13, rotor_kg=kilos)
        hot = max(e["one_c"], e["many_c"], e["hill_c"])
        said = bike.says("gear.brake_heat.front")
        assert said == ("stop" if hot > 300 else "caution" if hot > 200 else ""), (kilos, hot)


def test_unknown_drum_is_said(bike: Outside) -> None:
    bike.put(("gear.front_brake", {"kind": "drum", "presence": "fitted"}))
    bike.put(("donor.ratings", {}), ("donor.kind", "gas_roller"))
    assert front(bike)["many_c"] is None
    assert (bike.figure("gear", "fit_speed") or 0) == pytest.approx(45 / 3.6)
    assert bike.says("gear.top_mode") == "caution"
