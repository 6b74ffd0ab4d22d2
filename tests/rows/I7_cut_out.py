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
