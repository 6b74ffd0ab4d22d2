"""Cuts out under load: BMS, cut-off, plug or group, by volts and amps at the event."""

from __future__ import annotations

import pytest

from rows.conftest import Linked, Outside
from rows.I6_no_throttle import hunt, on_the_bench


@pytest.mark.parametrize("fault", ["weak-group", "hot-plug", "bms-trip"])
def test_ordinary_three_causes_of_one_symptom_are_told_apart(linked: Linked, fault: str) -> None:
    _, seen = on_the_bench(linked, fault, "cuts out under load")
    assert seen["found"] and seen["suspects"][0]["key"] == fault


def test_dangerous_a_set_of_another_pack_is_a_suspect(bike: Outside) -> None:
    seen = hunt(bike, "cuts out under load", ("group_spread", 0.01), ("lvc_set", 0.0))
    assert (
        seen["found"]
        and seen["suspects"][0]["key"] == "lvc-high"
        and "this pack's set" in seen["suspects"][0]["repair"]
    )


def test_dangerous_on_the_bench_the_early_bms_really_opens(linked: Linked) -> None:
    linked.written()
    linked.bench("fault", name="bms-trip", on=True)
    linked.put(("tune.chosen", [{"name": "start_mode", "value": 3}]))
    linked.written(anyway=True)
    linked.hand(stand=False, throttle=1.0)
    linked.bench("wait", seconds=20)
    assert linked.bench("state")["state"]["bms"] == 1


def test_unknown_bms_rating_gives_no_limit_for_its_trip(bike: Outside) -> None:
    bike.put(("guard.bms.i_cont_a", None))
    readings = [
        ("group_spread", 0.01),
        ("lvc_set", 1.0),
        ("plug_drop", 0.01),
        ("weakest_load", 4.0),
    ]
    seen = hunt(bike, "cuts out under load", *readings)
    assert (
        not seen["found"] or seen["suspects"][0]["key"] != "bms-trip" or seen["next"]["low"] is None
    )


def test_not_there_all_is_well(bike: Outside) -> None:
    readings = [
        ("group_spread", 0.01),
        ("lvc_set", 1.0),
        ("plug_drop", 0.01),
        ("weakest_load", 4.0),
        ("trip", 140.0),
    ]
    assert not hunt(bike, "cuts out under load", *readings)["found"]


def test_dangerous_heat_and_a_coil_that_is_not_fed_are_suspects(bike: Outside) -> None:
    """BMS, cut-off, heat, connector: and a contactor whose coil sags lets go as well."""
    bike.put(("guard.isolator.kind", "contactor"))
    keys = {s["key"] for s in hunt(bike, "cuts out under load")["suspects"]}
    assert {"bms-trip", "lvc-high", "heat-limit", "hot-plug", "coil-drops"} <= keys
    cool = [("group_spread", 0.01), ("weakest_load", 4.0), ("lvc_set", 1.0), ("plug_drop", 0.01)]
    seen = hunt(bike, "cuts out under load", *cool, ("cool", 0.0))
    assert seen["found"] and seen["suspects"][0]["key"] == "heat-limit"
    fades = hunt(bike, "slow or fades", ("cool", 0.0))  # why it is hot is still asked
    assert not fades["found"] and fades["next"] is not None
    seen = hunt(bike, "cuts out under load", *cool, ("cool", 1.0), ("coil_fed", 0.0))
    assert seen["found"] and seen["suspects"][0]["key"] == "coil-drops"


def test_unknown_rating_is_no_reading_as_it_must_be(bike: Outside) -> None:
    """An opening at 20 A of a BMS of which nobody knows the rating was 'as it must be'."""
    bike.put(("guard.bms.i_cont_a", None))
    before = hunt(bike, "cuts out under load")
    after = hunt(bike, "cuts out under load", ("trip", 20.0))
    assert after["suspects"] == before["suspects"]
    assert "does not say what it must be" in after["said"][0]
    assert any("the BMS's continuous amps" in o for o in after["open"])


def test_unknown_what_cannot_be_read_is_passed_over_and_said(bike: Outside) -> None:
    """Nobody at the roadside has a load bank: the next best is asked, and the end says what was not read."""
    readings: list[tuple[str, float | None]] = []
    for _ in range(30):
        seen = hunt(bike, "cuts out under load", *readings)
        if seen["next"] is None:
            break
        readings.append((seen["next"]["key"], None))
    assert seen["suspects"] == hunt(bike, "cuts out under load")["suspects"]
    assert not seen["found"] and len({k for k, _ in readings}) == len(readings)
    assert any("Amps at which the BMS opened, on a load bank: not read" in o for o in seen["open"])


@pytest.mark.parametrize(
    ("path", "value", "symptom", "gone"),
    [
        ("guard.bms.presence", "not there", "cuts out under load", "bms-trip"),
        ("guard.plug.presence", "not there", "hot plug", "hot-plug"),
        ("guard.isolator.kind", "breaker", "cuts out under load", "coil-drops"),
        ("drive.motor.kind", "hub", "noise or creak", "slack-chain"),
    ],
)
def test_not_there_is_no_suspect(
    bike: Outside, path: str, value: str, symptom: str, gone: str
) -> None:
    bike.put(("guard.isolator.kind", "contactor"), ("drive.motor.kind", "mid_drive"))
    assert gone in {s["key"] for s in hunt(bike, symptom)["suspects"]}
    bike.put((path, value))
    assert gone not in {s["key"] for s in hunt(bike, symptom)["suspects"]}
